// Event bodies as JSON, field by field.
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <nlohmann/json.hpp>

#include "job/event.h"
#include "quantity/fields.h"

namespace ilvek {

namespace {

using nlohmann::json;

// What was read is kept however odd it looks; whether it can be meant is a question for the judgement. Only what is no
// figure at all cannot be kept.
constexpr double anyFigure = 1e300;
constexpr std::array<const char*, 3> todayIds{"not-tried", "seen", "absent"};

json bodyOf(const JobDetails& b)
{
    return {{"title", b.title},
            {"customer", b.customer},
            {"serial", b.serial},
            {"hours", b.hours},
            {"technician", b.technician}};
}

json bodyOf(const Complaint& b)
{
    json out{{"text", b.text},
             {"when", b.when},
             {"still_works", b.stillWorks},
             {"replaced", b.replaced},
             {"fails", b.fails}};
    if (!b.weak.empty()) out["weak"] = b.weak;
    if (!b.comesAndGoes.empty()) out["comes_and_goes"] = b.comesAndGoes;
    if (b.today != Complaint::Today::NotTried) out["today"] = todayIds[static_cast<std::size_t>(b.today)];
    return out;
}

json bodyOf(const CodesRead& b)
{
    json codes = json::array();
    for (const Code& code : b.codes)
        codes.push_back({{"code", code.code}, {"text", code.text}, {"condition", code.condition}});
    return {{"codes", codes}};
}

json instrumentJson(const Instrument& i)
{
    json out{{"name", i.name},
             {"input_resistance", exactQuantity(ohms(i.inputResistance_ohm))},
             {"accuracy", exactQuantity({i.accuracy * 100, Unit::Percent})},
             {"resolution", exactQuantity(volts(i.resolution_V))}};
    if (i.clampScale_mVPerA > 0) out["clamp_scale"] = exactQuantity({i.clampScale_mVPerA, Unit::MilliVoltPerAmpere});
    return out;
}

// What was done to the machine, without the lists that are empty.
void addSetUp(const SetUp& r, json& out)
{
    const auto list = [&](const char* key, const std::vector<std::string>& names) {
        if (!names.empty()) out[key] = names;
    };
    list("unpinned", r.unpinned), list("removed", r.removed);
    if (!r.load.empty()) out["load"] = {{"id", r.load}, {"from", r.loadFrom}, {"to", r.loadTo}};
    for (const FusedLead& lead : r.jumpers)
        out["jumpers"].push_back({{"from", lead.from}, {"to", lead.to}, {"fuse", exactQuantity(amperes(lead.fuse_A))}});
    for (const Command& c : r.commands)
        out["commands"].push_back({{"element", c.element}, {"on", exactQuantity({100 * c.share, Unit::Percent})}});
    for (const PartAt& p : r.warmed)
        out["warmed"].push_back({{"element", p.element}, {"to", exactQuantity({p.celsius, Unit::Celsius})}});
    if (!r.conductor.empty()) out["conductor"] = r.conductor;
    if (r.testLeads_ohm) out["test_leads"] = exactQuantity(ohms(*r.testLeads_ohm));
    if (!r.touched.empty()) out["touched"] = r.touched;
    if (r.inShutDown) out["shut_down"] = true;
}

json bodyOf(const Reading& r)
{
    json out{{"test", testId(r.test)}, {"terminal", r.terminal}, {"red", r.red},
             {"black", r.black},       {"state", r.state},       {"unplugged", r.unplugged}};
    if (r.found)
        out["found"] = foundId(*r.found);
    else if (r.shows)
        out["shows"] = shownId(*r.shows);
    else
        out["value"] = exactQuantity(r.value);
    if (r.most) out["most"] = exactQuantity({*r.most, r.value.unit});
    if (r.value.resolution > 0 && std::isfinite(r.value.resolution)) out["resolution"] = r.value.resolution;
    addSetUp(r, out);
    if (r.measuredCurrent_A) out["current"] = exactQuantity(amperes(*r.measuredCurrent_A));
    if (r.battery_V) out["battery"] = exactQuantity(volts(*r.battery_V));
    if (r.batteryAge_s && *r.batteryAge_s >= 0) out["battery_age"] = exactQuantity({*r.batteryAge_s, Unit::Second});
    out["instrument"] = instrumentJson(r.instrument);
    return out;
}

json bodyOf(const InstrumentChange& b)
{
    return instrumentJson(b.instrument);
}

json bodyOf(const Note& b)
{
    return {{"text", b.text}};
}

json bodyOf(const Undo& b)
{
    return {{"event", b.event}};
}

json bodyOf(const StateChange& b)
{
    return {{"state", b.state}};
}

json bodyOf(const Repair& b)
{
    return {{"elements", b.elements}, {"what", b.what}};
}

json bodyOf(const Debt& b)
{
    return {{"what", b.what}, {"place", b.place}};
}

json bodyOf(const DebtCleared& b)
{
    return {{"debt", b.debt}, {"how", b.how}};
}

json bodyOf(const JobClosed& b)
{
    return {{"verdict", verdictId(b.verdict)},
            {"grade", b.grade},
            {"reasons", b.reasons},
            {"gate", b.gate},
            {"left", b.left}};
}

json bodyOf(const CauseAnswered& b)
{
    return {{"question", b.question}, {"answer", b.answer}, {"left_open", b.leftOpen}};
}

json bodyOf(const RepairChoices& b)
{
    json choices = json::array();
    for (const RepairChoice& c : b.choices)
        choices.push_back({{"name", c.name},
                           {"mends", c.mends},
                           {"labour_h", c.labour_h},
                           {"part", c.part},
                           {"wait_h", c.wait_h},
                           {"returns", c.returns},
                           {"lasts", c.lasts}});
    return {{"choices", choices}, {"hour", b.hour}, {"waiting_hour", b.waitingHour}};
}

json bodyOf(const Decided& b)
{
    return {{"choice", b.choice}, {"reasons", b.reasons}, {"table", b.table}};
}

json bodyOf(const WorkTried& b)
{
    return {{"what", b.what}, {"values", b.values}, {"held", b.held}};
}

json bodyOf(const Photo& b)
{
    json out{{"name", b.name}, {"words", b.words}, {"base64", b.base64}};
    if (b.of > 0) out["of"] = b.of;
    return out;
}

json bodyOf(const OwnCases& b)
{
    json cases = json::array();
    for (const OwnCase& c : b.cases)
        cases.push_back({{"kind", c.kind}, {"failed", c.failed}, {"expected", c.expected}});
    return {{"cases", cases}, {"jobs", b.jobs}};
}

json bodyOf(const Assumption& b)
{
    return {{"terminal", b.terminal}, {"reason", b.reason}};
}

json bodyOf(const CheckMade& b)
{
    return {{"check", b.check}, {"found", b.found}};
}

json bodyOf(const WayOfWorkingChange& b)
{
    json out{{"mated", b.working.mated}, {"signal_first", b.working.signalFirst}, {"load", b.working.load}};
    if (b.working.strictBattery) out["strict_battery"] = true;
    if (!b.working.shortBy.empty()) out["short_by"] = b.working.shortBy;
    return out;
}

json bodyOf(const FunctionsSeen& b)
{
    json out{{"red", b.red},     {"black", b.black}, {"state", b.state}, {"unplugged", b.unplugged},
             {"works", b.works}, {"fails", b.fails}};
    addSetUp(b, out);
    return out;
}

json bodyOf(const ProcedureFollowed& b)
{
    return {{"procedure", b.procedure}, {"subject", b.subject}};
}

json bodyOf(const ChartEntered& b)
{
    json steps = json::array();
    for (const ChartStep& s : b.steps) {
        json step{{"id", s.id},       {"words", s.words}, {"unit", s.unit},          {"red", s.red},
                  {"black", s.black}, {"state", s.state}, {"unplugged", s.unplugged}};
        addSetUp(s, step);
        if (s.below && std::isfinite(*s.below)) step["below"] = exactQuantity({*s.below, Unit::None});
        if (s.above && std::isfinite(*s.above)) step["above"] = exactQuantity({*s.above, Unit::None});
        step["then"] = s.then, step["otherwise"] = s.otherwise;
        steps.push_back(std::move(step));
    }
    return {{"name", b.name}, {"steps", steps}};
}

json bodyOf(const MapCorrection& b)
{
    return {{"terminal", b.terminal}, {"row", b.row}};
}

json bodyOf(const TraceSeen& b)
{
    json figures = json::array();
    for (const auto& [name, words] : b.figures)
        figures.push_back({{"name", name}, {"words", words}});
    json out{{"recording", b.recording}, {"verdict", b.verdict}, {"figures", figures}};
    const auto text = [&](const char* key, const std::string& value) {
        if (!value.empty()) out[key] = value;
    };
    const auto quantity = [&](const char* key, const std::optional<double>& value, Unit unit) {
        if (value && std::isfinite(*value)) out[key] = exactQuantity({*value, unit});
    };
    text("element", b.element), text("drive", b.drive), text("state", b.state), text("lead", b.lead);
    quantity("current", b.current_A, Unit::Ampere);
    if (b.current_A) quantity("current_sigma", b.currentSigma_A, Unit::Ampere);
    quantity("supply", b.supply_V, Unit::Volt);
    quantity("off", b.off_V, Unit::Volt), quantity("on", b.on_V, Unit::Volt);
    text("terminal", b.terminal);
    for (const TraceSeen::Touched& t : b.touched)
        out["touched"].push_back({{"place", t.place}, {"touches", t.touches}, {"events", t.events}});
    if (!b.least.empty())
        out["picture"] = {{"unit", b.unit},
                          {"from_s", b.from_s},
                          {"to_s", b.to_s},
                          {"least", b.least},
                          {"most", b.most}};  // a gap: null
    return out;
}

double valueOr(const std::optional<Quantity>& quantity, double otherwise)
{
    return quantity ? quantity->value : otherwise;
}

Instrument readInstrument(Fields& f)
{
    Instrument instrument;
    instrument.name = f.text("name", Need::Required);
    instrument.inputResistance_ohm =
        valueOr(f.quantity("input_resistance", Unit::Ohm, 1e3, 1e12, Need::Required), 10e6);
    instrument.accuracy = valueOr(f.quantity("accuracy", Unit::Percent, 0, 50, Need::Required), 0.5) / 100;
    instrument.resolution_V = valueOr(f.quantity("resolution", Unit::Volt, 0, 100, Need::Required), 0.01);
    instrument.clampScale_mVPerA =
        valueOr(f.quantity("clamp_scale", Unit::MilliVoltPerAmpere, 0.01, 1e4, Need::Optional), 0);
    return instrument;
}

// A list of objects, each read by `one`.
template <class One>
void readEach(Fields& f, const char* key, const std::string& item, Problems& problems, const One& one)
{
    for (std::size_t n = 0; const json* object : f.objects(key, Need::Optional)) {
        Fields each(*object, fmt::format("{}, {} {}", item, key, ++n), problems);
        if (!each.isObject()) continue;
        one(each);
        each.reportUnknown();
    }
}

void readSetUp(Fields& f, const std::string& item, Problems& problems, SetUp& s)
{
    s.state = f.text("state", Need::Required);
    s.unplugged = f.texts("unplugged", Need::Optional);
    s.unpinned = f.texts("unpinned", Need::Optional);
    s.removed = f.texts("removed", Need::Optional);
    if (const json* load = f.object("load", Need::Optional)) {
        Fields l(*load, item + ", load", problems);
        s.load = l.text("id", Need::Required);
        s.loadFrom = l.text("from", Need::Required);
        s.loadTo = l.text("to", Need::Required);
        l.reportUnknown();
    }
    const auto figure = [](Fields& of, const char* key, Unit unit, double low, double high) {
        return valueOr(of.quantity(key, unit, low, high, Need::Required), 0);
    };
    readEach(f, "jumpers", item, problems, [&](Fields& lead) {
        std::string from = lead.text("from", Need::Required), to = lead.text("to", Need::Required);
        s.jumpers.push_back({std::move(from), std::move(to), figure(lead, "fuse", Unit::Ampere, 0, 1e3)});
    });
    readEach(f, "commands", item, problems, [&](Fields& c) {
        std::string element = c.text("element", Need::Required);
        s.commands.push_back({std::move(element), figure(c, "on", Unit::Percent, 0, 100) / 100});
    });
    readEach(f, "warmed", item, problems, [&](Fields& p) {
        std::string element = p.text("element", Need::Required);
        s.warmed.push_back({std::move(element), figure(p, "to", Unit::Celsius, -100, 1000)});
    });
    s.conductor = f.text("conductor", Need::Optional);
    if (const auto leads = f.quantity("test_leads", Unit::Ohm, 0, 100, Need::Optional)) s.testLeads_ohm = leads->value;
    s.touched = f.text("touched", Need::Optional);
    s.inShutDown = f.flag("shut_down");
}

// What was seen instead of a figure, or the figure.
void readFigure(Fields& f, Reading& r)
{
    if (r.test == TestKind::Look) {
        r.found = foundFromId(f.text("found", Need::Required));
        if (!r.found) f.problem("found", "is none of as-drawn, damaged, other-wire, empty");
    } else if (r.test == TestKind::Shown) {
        r.shows = shownFromId(f.text("shows", Need::Required));
        if (!r.shows) f.problem("shows", "is none of bright, dim, dark, tripped, holds, moves, stuck-high, stuck-low");
    } else if (const auto value = parseQuantity(f.text("value", Need::Required), unitAsked(r.test))) {
        r.value = *value;
    } else {
        f.problem("value", value.error().message());
    }
    r.value.resolution = 0;
    if (const json* step = f.object("resolution", Need::Optional)) {
        if (step->is_number() && step->get<double>() >= 0)
            r.value.resolution = step->get<double>();
        else
            f.problem("resolution", "a number is expected");
    }
}

Reading readReading(Fields& f, const std::string& item, Problems& problems)
{
    Reading r;
    const std::string test = f.text("test", Need::Required);
    const auto kind = testFromId(test);
    if (!kind) f.problem("test", "“" + test + "” is no test that is known here");
    r.test = kind.value_or(TestKind::Level);
    r.terminal = f.text("terminal", Need::Optional);
    // An eye, a lamp and a clamp need no leads.
    const bool needsLeads = r.test != TestKind::Look && r.test != TestKind::Shown && r.test != TestKind::Current &&
                            r.test != TestKind::Reported;
    r.red = f.text("red", r.test == TestKind::Look || needsLeads ? Need::Required : Need::Optional);
    r.black = f.text("black", needsLeads ? Need::Required : Need::Optional);
    readFigure(f, r);
    readSetUp(f, item, problems, r);
    const auto figure = [&](const char* key, Unit unit) -> std::optional<double> {
        const auto q = f.quantity(key, unit, -anyFigure, anyFigure, Need::Optional);
        return q ? std::optional(q->value) : std::nullopt;
    };
    r.most = figure("most", r.value.unit);
    r.measuredCurrent_A = figure("current", Unit::Ampere);
    r.battery_V = figure("battery", Unit::Volt);
    r.batteryAge_s = figure("battery_age", Unit::Second);
    if (r.batteryAge_s && *r.batteryAge_s < 0) r.batteryAge_s.reset();  // a clock was set back: not known
    if (const json* instrument = f.object("instrument", Need::Optional)) {
        Fields i(*instrument, item + ", instrument", problems);
        r.instrument = readInstrument(i);
        i.reportUnknown();
    }
    return r;
}

FunctionsSeen readFunctions(Fields& f, const std::string& item, Problems& problems)
{
    FunctionsSeen b;
    b.red = f.text("red", Need::Optional), b.black = f.text("black", Need::Optional);
    readSetUp(f, item, problems, b);
    b.works = f.texts("works", Need::Optional), b.fails = f.texts("fails", Need::Optional);
    return b;
}

ChartEntered readChart(Fields& f, const std::string& item, Problems& problems)
{
    ChartEntered out;
    out.name = f.text("name", Need::Optional);
    for (const json* object : f.objects("steps", Need::Required)) {
        Fields c(*object, item + ", a step", problems);
        ChartStep s;
        s.id = c.text("id", Need::Optional), s.words = c.text("words", Need::Optional);
        s.unit = c.text("unit", Need::Optional);
        s.red = c.text("red", Need::Optional), s.black = c.text("black", Need::Optional);
        readSetUp(c, item + ", a step", problems, s);
        const auto limit = [&](const char* key) -> std::optional<double> {
            const auto q = c.quantity(key, Unit::None, -anyFigure, anyFigure, Need::Optional);
            return q ? std::optional(q->value) : std::nullopt;
        };
        s.below = limit("below"), s.above = limit("above");
        s.then = c.text("then", Need::Optional), s.otherwise = c.text("otherwise", Need::Optional);
        c.reportUnknown();
        out.steps.push_back(std::move(s));
    }
    return out;
}

CodesRead readCodes(Fields& f, const std::string& item, Problems& problems)
{
    CodesRead out;
    for (const json* object : f.objects("codes", Need::Required)) {
        Fields c(*object, item + ", a code", problems);
        out.codes.push_back(
            {c.text("code", Need::Required), c.text("text", Need::Optional), c.text("condition", Need::Optional)});
        c.reportUnknown();
    }
    return out;
}

TraceSeen readTrace(Fields& f, const std::string& item, Problems& problems)
{
    TraceSeen t;
    t.recording = f.text("recording", Need::Required), t.verdict = f.text("verdict", Need::Required);
    for (const json* object : f.objects("figures", Need::Required)) {
        Fields one(*object, item + ", a figure", problems);
        t.figures.push_back({one.text("name", Need::Required), one.text("words", Need::Required)});
        one.reportUnknown();
    }
    t.element = f.text("element", Need::Optional), t.drive = f.text("drive", Need::Optional);
    t.state = f.text("state", Need::Optional), t.lead = f.text("lead", Need::Optional);
    const auto quantity = [&](const char* key, Unit unit) -> std::optional<double> {
        const auto q = f.quantity(key, unit, -anyFigure, anyFigure, Need::Optional);
        return q ? std::optional(q->value) : std::nullopt;
    };
    t.current_A = quantity("current", Unit::Ampere), t.supply_V = quantity("supply", Unit::Volt);
    t.currentSigma_A = quantity("current_sigma", Unit::Ampere).value_or(0);
    t.off_V = quantity("off", Unit::Volt), t.on_V = quantity("on", Unit::Volt);
    t.terminal = f.text("terminal", Need::Optional);
    for (const json* object : f.objects("touched", Need::Optional)) {
        Fields one(*object, item + ", touched", problems);
        constexpr double mostTouches = 1e6;
        TraceSeen::Touched touched{one.text("place", Need::Optional),
                                   static_cast<int>(one.number("touches", 0, mostTouches, Need::Required)),
                                   static_cast<int>(one.number("events", 0, mostTouches, Need::Required))};
        if (touched.events > touched.touches) one.problem("events", "are more than touches");
        one.reportUnknown();
        t.touched.push_back(std::move(touched));
    }
    if (const json* picture = f.object("picture", Need::Optional)) {
        Fields p(*picture, item + ", picture", problems);
        t.unit = p.text("unit", Need::Optional);
        t.from_s = p.number("from_s", -anyFigure, anyFigure, Need::Required);
        t.to_s = p.number("to_s", -anyFigure, anyFigure, Need::Required);
        t.least = p.numbersOrGaps("least"), t.most = p.numbersOrGaps("most");
        if (t.least.size() != t.most.size()) p.problem("most", "has another length than \"least\"");
        p.reportUnknown();
    }
    return t;
}

Complaint readComplaint(Fields& f, const std::string& item, Problems& problems)
{
    const auto texts = [&](const char* key) { return f.texts(key, Need::Optional); };
    Complaint b{f.text("text", Need::Optional), f.text("when", Need::Optional), texts("still_works"),
                texts("replaced")};
    b.fails = texts("fails"), b.weak = texts("weak"), b.comesAndGoes = texts("comes_and_goes");
    const std::string today = f.text("today", Need::Optional);
    const auto* at = std::find(todayIds.begin(), todayIds.end(), today);
    if (at != todayIds.end())
        b.today = static_cast<Complaint::Today>(at - todayIds.begin());
    else if (!today.empty())
        problems.push_back({item, "“" + today + "” is not one of not-tried, seen, absent"});
    return b;
}

RepairChoices readChoices(Fields& f, const std::string& item, Problems& problems)
{
    constexpr double mostMoney = 1e12, mostHours = 1e6;
    RepairChoices out;
    for (const json* object : f.objects("choices", Need::Required)) {
        Fields c(*object, item + ", a choice", problems);
        RepairChoice choice;
        choice.name = c.text("name", Need::Required), choice.mends = c.texts("mends", Need::Optional);
        choice.labour_h = c.number("labour_h", 0, mostHours, Need::Required);
        choice.part = c.number("part", 0, mostMoney, Need::Required);
        choice.wait_h = c.number("wait_h", 0, mostHours, Need::Required);
        choice.returns = c.number("returns", 0, 1, Need::Required);
        choice.lasts = c.text("lasts", Need::Optional);
        c.reportUnknown();
        out.choices.push_back(std::move(choice));
    }
    out.hour = f.number("hour", 0, mostMoney, Need::Required);
    out.waitingHour = f.number("waiting_hour", 0, mostMoney, Need::Required);
    return out;
}

OwnCases readOwnCases(Fields& f, const std::string& item, Problems& problems)
{
    constexpr int mostJobs = 100'000'000;
    OwnCases out;
    for (const json* object : f.objects("cases", Need::Required)) {
        Fields c(*object, item + ", a kind", problems);
        out.cases.push_back({c.text("kind", Need::Required), c.whole("failed", 0, mostJobs, Need::Required),
                             c.number("expected", 0, mostJobs, Need::Required)});
        c.reportUnknown();
    }
    out.jobs = f.whole("jobs", 0, mostJobs, Need::Required);
    return out;
}

EventBody bodyFrom(std::string_view kind, Fields& f, const std::string& item, Problems& problems)
{
    const auto text = [&](const char* key) { return f.text(key, Need::Optional); };
    if (kind == "job")
        return JobDetails{text("title"), text("customer"), text("serial"), text("hours"), text("technician")};
    if (kind == "complaint") return readComplaint(f, item, problems);
    if (kind == "codes") return readCodes(f, item, problems);
    if (kind == "reading") return readReading(f, item, problems);
    if (kind == "note") return Note{f.text("text", Need::Required)};
    if (kind == "undo") return Undo{f.whole("event", 1, 2'000'000'000, Need::Required)};
    if (kind == "state") return StateChange{f.text("state", Need::Required)};
    if (kind == "repair") return Repair{0, f.texts("elements", Need::Optional), f.text("what", Need::Required)};
    if (kind == "assumption") return Assumption{f.text("terminal", Need::Required), text("reason")};
    if (kind == "check") return CheckMade{f.text("check", Need::Required), text("found")};
    if (kind == "school")
        return WayOfWorkingChange{WayOfWorking{f.flag("mated"), f.flag("signal_first"), text("load"),
                                               f.flag("strict_battery"), text("short_by")}};
    if (kind == "map-correction")
        return MapCorrection{f.text("terminal", Need::Required), f.text("row", Need::Required)};
    if (kind == "instrument") return InstrumentChange{readInstrument(f)};
    if (kind == "trace") return readTrace(f, item, problems);
    if (kind == "functions") return readFunctions(f, item, problems);
    if (kind == "chart") return readChart(f, item, problems);
    if (kind == "debt") return Debt{f.text("what", Need::Required), text("place")};
    if (kind == "debt-cleared") return DebtCleared{f.whole("debt", 1, 2'000'000'000, Need::Required), text("how")};
    if (kind == "closed") {
        const std::string verdict = f.text("verdict", Need::Required);
        const auto known = closingFromId(verdict);
        if (!known) problems.push_back({item, "“" + verdict + "” is no end of a job that is known here"});
        return JobClosed{known.value_or(JobClosed::Verdict::NotFound), text("grade"), text("reasons"), text("gate"),
                         f.texts("left", Need::Optional)};
    }
    if (kind == "cause") return CauseAnswered{f.text("question", Need::Required), text("answer"), f.flag("left_open")};
    if (kind == "choices") return readChoices(f, item, problems);
    if (kind == "decided") return Decided{f.text("choice", Need::Required), text("reasons"), text("table")};
    if (kind == "tried") return WorkTried{f.text("what", Need::Required), text("values"), f.flag("held")};
    if (kind == "photo") {
        Photo photo{f.text("name", Need::Required), text("words"), f.text("base64", Need::Required)};
        photo.of = f.whole("of", 0, 2'000'000'000, Need::Optional);
        return photo;
    }
    if (kind == "own-cases") return readOwnCases(f, item, problems);
    if (kind == "procedure") return ProcedureFollowed{text("procedure"), text("subject")};
    problems.push_back({item, "“" + std::string(kind) + "” is no kind of entry that is known here"});
    return Note{};
}

}  // namespace

std::string writeBody(const EventBody& body)
{
    // Text that is not UTF-8 is mended rather than refused: an entry is never lost over a letter.
    return std::visit([](const auto& b) { return bodyOf(b); }, body)
        .dump(-1, ' ', false, json::error_handler_t::replace);
}

Result<EventBody> readBody(std::string_view kind, std::string_view text, const std::string& item)
{
    const auto object = parseJson(text, item);
    if (!object) return tl::unexpected(object.error());
    Problems problems;
    Fields fields(*object, item, problems);
    EventBody body = bodyFrom(kind, fields, item, problems);
    fields.reportUnknown();
    if (!problems.empty()) return tl::unexpected(problems.front());
    return body;
}

}  // namespace ilvek
