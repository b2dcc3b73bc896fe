// Recordings on the command line.
#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include <charconv>

#include "base/file.h"
#include "commands.h"
#include "machine/map_reader.h"
#include "opened_job.h"
#include "practice/demo_traces.h"
#include "trace/formats/csv_reader.h"
#include "trace/formats/npy_file.h"
#include "trace/study/seen.h"
#include "trace/study/study.h"

namespace ilvek::cli {

namespace {

using nlohmann::json;

constexpr std::size_t mostShown = 20;  // events

int faulty(const Error& error)
{
    fmt::print(stderr, "{}\n", error.message());
    return BadInput;
}

int cannotWrite(const Error& error)
{
    fmt::print(stderr, "{}\n", error.message());
    return CannotWrite;
}

std::optional<double> parseFigure(const std::string& text)
{
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    return error == std::errc{} && end == text.data() + text.size() ? std::optional(value) : std::nullopt;
}

Result<Channel*> channelOf(Recording& r, const std::string& name)
{
    const int at = name.empty() ? 0 : channelNamed(r, name);
    if (at < 0) return fail(name, "there is no such channel in " + r.name);
    return &r.channels[static_cast<std::size_t>(at)];
}

// "10", "-10", "control=10".
Result<void> attenuate(Recording& r, const std::string& text, const std::string& main)
{
    const auto equals = text.find('=');
    const bool named = equals != std::string::npos;
    const auto factor = parseFigure(named ? text.substr(equals + 1) : text);
    if (!factor || *factor == 0)
        return fail("--attenuation", "“" + text + "” is no attenuation; 10 and control=10 are");
    auto channel = channelOf(r, named ? text.substr(0, equals) : main);
    if (!channel) return tl::unexpected(channel.error());
    (*channel)->scale.attenuation = std::abs(*factor);
    (*channel)->scale.inverted = *factor < 0;
    return {};
}

// "2" as it was recorded, or "0-0.1" in seconds.
Result<double> zeroOf(const Channel& c, double interval_s, const std::string& text)
{
    if (const auto figure = parseFigure(text)) return *figure;
    const auto dash = text.find('-', 1);
    const auto from = dash == std::string::npos ? std::nullopt : parseFigure(text.substr(0, dash)),
               to = dash == std::string::npos ? std::nullopt : parseFigure(text.substr(dash + 1));
    if (!from || !to) return fail("--zero", "“" + text + "” is neither a figure nor a stretch; 2 and 0-0.1 are");
    return levelBetween(c, interval_s, *from, *to);
}

// Reads it and puts the scales of clamp and leads on its channels.
Result<Recording> opened(const TraceWishes& w)
{
    auto r = readRecording(w.file);
    if (!r) return r;
    if (w.interval_s > 0) r->interval_s = w.interval_s;
    for (const std::string& text : w.attenuations) {
        if (auto done = attenuate(*r, text, w.main); !done) return tl::unexpected(done.error());
    }
    auto main = channelOf(*r, w.main);
    if (!main) return tl::unexpected(main.error());
    if (w.clamp_mVPerA != 0) {
        (*main)->scale.inverted = (*main)->scale.inverted != (w.clamp_mVPerA < 0);
        (*main)->scale.clamp_mVPerA = std::abs(w.clamp_mVPerA);
    }
    if (!w.zero.empty()) {
        const auto zero = zeroOf(**main, r->interval_s, w.zero);
        if (!zero) return tl::unexpected(zero.error());
        (*main)->scale.zero = *zero;
    }
    for (Channel& c : r->channels)
        applyScale(c);
    return r;
}

template <class T>
std::optional<T> above(T value, T nothing)
{
    return value > nothing ? std::optional(value) : std::nullopt;
}

Result<void> takeComparison(const TraceWishes& w, StudyWishes& out)
{
    if (!w.element.empty() && w.map.empty()) return fail("--element", "a part needs --map as well");
    if (!w.map.empty() && !w.element.empty()) {
        auto map = readMapFile(w.map);
        if (!map) return tl::unexpected(map.error().front());
        if (!out.system_V) out.system_V = map->systemVoltage_V;
        out.part = ExpectedPart{std::make_shared<const Map>(std::move(*map)), w.element, {w.temperature_C, w.state}};
    }
    if (!w.knownGood.empty()) {
        const auto text = readFile(w.knownGood);
        if (!text) return tl::unexpected(text.error());
        auto kept = readReference(*text, w.knownGood);
        if (!kept) return tl::unexpected(kept.error().front());
        out.kept = std::move(*kept);
    }
    return {};
}

// "1-10-9-4", or "1342" where no number has two digits.
Result<std::vector<int>> firingOrder(const std::string& text)
{
    constexpr const char* digits = "0123456789";
    const bool separated = text.find_first_not_of(digits) != std::string::npos;
    std::vector<int> out;
    for (std::size_t at = text.find_first_of(digits); at != std::string::npos;) {
        std::size_t end = separated ? text.find_first_not_of(digits, at) : at + 1;
        end = std::min(end, text.size());
        const std::string number = text.substr(at, end - at);
        if (number.size() > 2 || number == "0" || number == "00")
            return fail("--order", "“" + number + "” is no cylinder; 1-3-4-2 is an order");
        out.push_back(std::stoi(number));
        at = text.find_first_of(digits, end);
    }
    return out;
}

Result<StudyWishes> wishesOf(const TraceWishes& w)
{
    StudyWishes out;
    if (const RecordedKind* kind = kindNamed(w.kind)) out.kind = kind->kind;
    out.main = w.main, out.beside = w.beside, out.sync = w.sync, out.feed = w.feed;
    out.system_V = above(w.system_V, 0.0);
    out.supply_V = above(w.supply_V, 0.0), out.resistance_ohm = above(w.resistance_ohm, 0.0),
    out.allowed = above(w.allowed, 0.0);
    out.bars = above(w.bars, 0), out.teeth = above(w.teeth, 0), out.missing = above(w.missing, -1);
    out.drivenLow = w.drivenLow, out.traffic = w.traffic;
    if (!w.order.empty()) {
        auto order = firingOrder(w.order);
        if (!order) return tl::unexpected(order.error());
        out.order.cylinders = std::move(*order);
    }
    out.order.known = w.known;
    const auto& all = out.order.cylinders;
    if (std::find(all.begin(), all.end(), w.known) == all.end())
        return fail("--known", "this cylinder is not in the firing order");
    if (auto taken = takeComparison(w, out); !taken) return tl::unexpected(taken.error());
    return out;
}

struct Studied {
    Recording recording;
    Study study;
};

Result<Studied> studied(const TraceWishes& w)
{
    auto r = opened(w);
    if (!r) return tl::unexpected(r.error());
    const auto wishes = wishesOf(w);
    if (!wishes) return tl::unexpected(wishes.error());
    auto s = study(*r, *wishes);
    if (!s) return tl::unexpected(s.error());
    return Studied{std::move(*r), std::move(*s)};
}

// How a table of text is read, with its first rows.
void showGuess(const std::string& file)
{
    const auto guess = guessCsv(file);
    if (!guess) return;
    const std::string separator = guess->separator == '\t'  ? "tab"
                                  : guess->separator == ' ' ? "space"
                                                            : std::string(1, guess->separator);
    fmt::print("Read as {} text, separated by “{}”, decimal “{}”, figures from line {} on.\n", guess->encoding,
               separator, guess->decimal, guess->headLines + 1);
    for (std::size_t c = 0; c < guess->columns.size(); ++c) {
        const auto& column = guess->columns[c];
        const char* use = column.use == CsvGuess::Use::Time    ? "time"
                          : column.use == CsvGuess::Use::Value ? "channel"
                                                               : "left out";
        fmt::print("  column {}: {}, {}, unit {}", c + 1, column.name, use,
                   column.unitText.empty() ? "not said" : column.unitText);
        for (std::size_t i = 0; i < std::min<std::size_t>(3, guess->firstRows.size()); ++i)
            fmt::print("{} {}", i == 0 ? ":" : ",", c < guess->firstRows[i].size() ? guess->firstRows[i][c] : "");
        fmt::print("\n");
    }
}

json asJson(const TraceMeasure& m)
{
    json j{{"id", m.id}, {"name", m.name}, {"unit", unitSymbol(m.unit)}};
    if (m.value)
        j["value"] = *m.value, j["sigma"] = m.sigma;
    else
        j["not_measurable"] = m.why;
    if (!std::isnan(m.at_s)) j["at_s"] = m.at_s;
    return j;
}

json asJson(const TraceFinding& f)
{
    return {{"cylinder", f.cylinder}, {"feature", f.feature},       {"verdict", words(f.verdict)},
            {"ratio", f.ratio},       {"tolerances", f.tolerances}, {"words", f.words}};
}

json asJson(const TraceEvent& e)
{
    return {{"at_s", e.at_s}, {"length_s", e.length_s}, {"tolerances", e.tolerances}, {"words", e.words}};
}

template <class Rows>
json listOf(const Rows& rows)
{
    json out = json::array();
    for (const auto& row : rows)
        out.push_back(asJson(row));
    return out;
}

void show(const std::vector<TraceMeasure>& measures)
{
    for (const TraceMeasure& m : measures)
        fmt::print("  {:<36} {}\n", m.name, m.words());
}

}  // namespace

int traceInfo(const TraceWishes& w)
{
    const auto r = opened(w);
    if (!r) return faulty(r.error());
    json channels = json::array();
    if (!w.json)
        fmt::print("{}: {} samples, {} apart, {} long, from {}\n", r->name, r->size(),
                   formatQuantity({r->interval_s, Unit::Second}), formatQuantity({r->length_s(), Unit::Second}),
                   formatQuantity({r->start_s, Unit::Second}));
    for (const Channel& c : r->channels) {
        const auto all = c.samples.read(0, c.samples.size());
        const auto [low, high] = std::minmax_element(all.begin(), all.end());
        if (w.json)
            channels.push_back({{"name", c.name},
                                {"unit", unitSymbol(c.unit())},
                                {"least", *low},
                                {"most", *high},
                                {"sixteen_bit", c.samples.isSteps()}});
        else
            fmt::print("  {:<20} {:>12} to {:>12}\n", c.name, formatQuantity({*low, c.unit()}),
                       formatQuantity({*high, c.unit()}));
    }
    if (w.json)
        fmt::print("{}\n", json{{"name", r->name},
                                {"samples", r->size()},
                                {"interval_s", r->interval_s},
                                {"start_s", r->start_s},
                                {"channels", channels},
                                {"notes", r->notes}}
                               .dump(1));
    if (!w.json) showGuess(w.file);
    for (const std::string& note : r->notes) {
        if (!w.json) fmt::print("Note: {}\n", note);
    }
    return Ok;
}

int traceMeasure(const TraceWishes& w)
{
    const auto all = studied(w);
    if (!all) return faulty(all.error());
    const Study& s = all->study;
    if (w.json) {
        json pulses = json::array();
        for (const Pulse& p : s.pulses.pulses)
            pulses.push_back(
                {{"on_s", p.on_s}, {"off_s", p.off_s}, {"holds", p.holds}, {"measures", listOf(p.measures)}});
        fmt::print("{}\n", json{{"kind", kindOf(s.kind).id},
                                {"verdict", s.verdict},
                                {"odd", s.told.odd},
                                {"noise_A", s.pulses.noise_A},
                                {"zero_A", s.pulses.zero_A},
                                {"measures", listOf(s.told.measures)},
                                {"events", listOf(s.told.events)},
                                {"pulses", pulses}}
                               .dump(1));
        return Ok;
    }
    fmt::print("{}\n", kindOf(s.kind).name);
    for (std::size_t i = 0; i < s.pulses.pulses.size(); ++i) {
        const Pulse& p = s.pulses.pulses[i];
        fmt::print("Pulse {}: {} to {}{}\n", i + 1, formatQuantity({p.on_s, Unit::Second}),
                   formatQuantity({p.off_s, Unit::Second}), p.holds ? ", limited and held" : "");
        show(p.measures);
    }
    show(s.told.measures);
    for (std::size_t i = 0; i < std::min(mostShown, s.told.events.size()); ++i)
        fmt::print("  at {:<10} {}\n", formatQuantity({s.told.events[i].at_s, Unit::Second}), s.told.events[i].words);
    if (s.told.events.size() > mostShown)
        fmt::print("  and {} more; --json lists all\n", s.told.events.size() - mostShown);
    fmt::print("{}\n", s.verdict);
    return Ok;
}

int traceCompare(const TraceWishes& w)
{
    const auto all = studied(w);
    if (!all) return faulty(all.error());
    const Study& s = all->study;
    if (!s.cylinders && s.compared.empty()) {
        const std::string why = !s.notCompared.empty() ? s.notCompared : s.notCylinders;
        return faulty({w.file, why.empty()
                                   ? "nothing to compare with: name a synchronising channel, a part of a map, a kept "
                                     "recording or the resistance expected"
                                   : why});
    }
    std::vector<TraceFinding> findings = s.cylinders ? s.cylinders->findings : std::vector<TraceFinding>{};
    json compared = json::array();
    for (const Compared& c : s.compared) {
        findings.insert(findings.end(), c.result.findings.begin(), c.result.findings.end());
        compared.push_back({{"with", c.reference.name},
                            {"source", c.reference.source},
                            {"fault", words(c.result.fault)},
                            {"supply_ratio", c.result.supplyRatio},
                            {"findings", listOf(c.result.findings)}});
    }
    if (w.json) {
        fmt::print(
            "{}\n",
            json{{"verdict", s.verdict}, {"odd", s.told.odd}, {"findings", listOf(findings)}, {"compared", compared}}
                .dump(1));
    } else {
        for (const TraceFinding& f : findings)
            fmt::print("  {} {:<14} {:<12} {:>6.2f} times  {}\n",
                       f.cylinder == 0 ? std::string("all       ") : fmt::format("cylinder {}", f.cylinder), f.feature,
                       words(f.verdict), f.ratio, f.words);
        fmt::print("{}\n", s.verdict);
    }
    return s.told.odd ? Negative : Ok;
}

int traceKeep(const TraceWishes& w, const std::string& out)
{
    if (const auto allowed = checkOutput(out, {w.file}); !allowed) return cannotWrite(allowed.error());
    const auto all = studied(w);
    if (!all) return faulty(all.error());
    const Study& s = all->study;
    if (s.kind != Recorded::Windings || s.pulses.pulses.empty())
        return faulty({w.file, "only pulses of a winding can be kept to compare with"});
    WindingReference conditions;
    conditions.of = w.element.empty() ? "any" : w.element;
    conditions.name = w.element.empty() ? "winding" : w.element;
    conditions.state = w.state, conditions.temperature_C = w.temperature_C;
    conditions.source = fmt::format("kept from {}, {:.0f} °C{}", all->recording.name, w.temperature_C,
                                    w.state.empty() ? "" : ", " + w.state);
    const auto kept = keptFrom(all->recording, all->recording.channels[static_cast<std::size_t>(s.main)], s.pulses,
                               s.supply_V, conditions);
    if (!kept) return faulty(kept.error());
    const auto written = writeFile(out, writeReference(*kept));
    return written ? static_cast<int>(Ok) : cannotWrite(written.error());
}

int jobRecording(const std::string& job, TraceWishes w, const std::string& terminal, const std::string& lead)
{
    return appendTo(job, [&](const OpenJob& open) -> Entries {
        const Map& map = open.job.map;
        if (!terminal.empty() && map.terminalIndex(terminal) < 0)
            return fail(terminal, "the module has no terminal of this name");
        const std::string part = std::exchange(w.element, "");
        if (!part.empty() && map.elementIndex(part) < 0) return fail(part, "the machine has no such part");
        if (w.system_V == 0) w.system_V = map.systemVoltage_V;
        const auto recording = opened(w);
        if (!recording) return tl::unexpected(recording.error());
        auto wishes = wishesOf(w);
        if (!wishes) return tl::unexpected(wishes.error());
        if (!part.empty())
            wishes->part = ExpectedPart{std::make_shared<const Map>(map), part, {w.temperature_C, w.state}};
        const auto s = study(*recording, *wishes);
        if (!s) return tl::unexpected(s.error());
        const Pyramid main(recording->channels[static_cast<std::size_t>(s->main)].samples);
        TraceSeen whole = seenOf(*recording, *s, main, 0, recording->length_s());
        whole.terminal = terminal;
        const std::string state = w.state.empty() ? open.job.state : w.state;
        const LeadAt at = lead == "module" ? LeadAt::Module : lead == "part" ? LeadAt::Part : LeadAt::NotSaid;
        if (!part.empty() && !s->cylinders) addEvidence(map, *s, part, state, at, whole);
        std::vector<EventBody> out{whole};
        if (s->cylinders) {
            for (TraceSeen& t : seenOfCylinders(map, *s, state, whole))
                out.emplace_back(std::move(t));
        }
        fmt::print("{}\n", s->verdict);
        return out;
    });
}

int traceConvert(const TraceWishes& w, const std::string& out)
{
    if (const auto allowed = checkOutput(out, {w.file}); !allowed) return cannotWrite(allowed.error());
    const auto r = opened(w);
    if (!r) return faulty(r.error());
    const auto written = out.ends_with(".npy") ? writeNpy(out, *r) : writeCsv(out, *r);
    return written ? static_cast<int>(Ok) : cannotWrite(written.error());
}

int traceMake(const std::string& name, const std::string& out, double noise, unsigned seed)
{
    const practice::DemoTrace* demo = practice::demoTraceNamed(name);
    if (!demo || out.empty()) {
        for (const practice::DemoTrace& d : practice::demoTraces())
            fmt::print("  {:<26} {}\n", d.id, d.words);
        return name.empty() ? static_cast<int>(Ok)
                            : faulty({name, demo ? "say which file to write" : "there is no recording of this name"});
    }
    if (const auto allowed = checkOutput(out, {}); !allowed) return cannotWrite(allowed.error());
    Recording made = demo->make(noise < 0 ? demo->noise : noise, seed);
    made.name = name;
    const auto written = out.ends_with(".npy") ? writeNpy(out, made) : writeCsv(out, made);
    return written ? static_cast<int>(Ok) : cannotWrite(written.error());
}

}  // namespace ilvek::cli
