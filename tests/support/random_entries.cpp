#include "support/random_entries.h"

#include <bit>
#include <cmath>
#include <limits>

#include "bench_map/pin_sheet.h"

namespace ilvek::test {

namespace {

bool chance(std::mt19937& random, unsigned percent)
{
    return random() % 100 < percent;
}

std::vector<std::string> randomTexts(std::mt19937& random)
{
    std::vector<std::string> out;
    for (auto n = random() % 4; n > 0; --n)
        out.push_back(randomText(random));
    return out;
}

// Mostly a text that says something, so that most entries are ones that people make.
std::string someText(std::mt19937& random)
{
    return chance(random, 85) ? "x" + randomText(random) : randomText(random);
}

std::optional<double> maybeFigure(std::mt19937& random)
{
    return chance(random, 50) ? std::optional(randomFigure(random)) : std::nullopt;
}

Instrument randomInstrument(std::mt19937& random)
{
    Instrument i;
    if (chance(random, 60)) return i;
    i.name = someText(random);
    i.inputResistance_ohm = randomFigure(random);
    i.accuracy = randomFigure(random);
    i.resolution_V = randomFigure(random);
    i.clampScale_mVPerA = randomFigure(random);
    return i;
}

Reading randomReading(std::mt19937& random)
{
    Reading r;
    r.test = static_cast<TestKind>(random() % (static_cast<unsigned>(TestKind::Reported) + 1));
    r.terminal = randomText(random);
    r.red = someText(random), r.black = someText(random), r.state = someText(random);
    r.unplugged = randomTexts(random), r.removed = randomTexts(random);
    if (chance(random, 40)) r.load = someText(random), r.loadFrom = someText(random), r.loadTo = someText(random);
    for (auto n = random() % 3; n > 0; --n)
        r.jumpers.push_back({someText(random), someText(random), randomFigure(random)});
    r.unpinned = randomTexts(random);
    for (auto n = random() % 3; n > 0; --n)
        r.commands.push_back({someText(random), static_cast<double>(random() % 101) / 100});
    for (auto n = random() % 3; n > 0; --n)
        r.warmed.push_back({someText(random), static_cast<double>(random() % 1000) / 3 - 90});
    if (chance(random, 20)) r.conductor = someText(random);
    if (chance(random, 20)) r.testLeads_ohm = static_cast<double>(random() % 1000) / 30;
    if (chance(random, 20)) r.touched = someText(random);
    r.measuredCurrent_A = maybeFigure(random);
    r.inShutDown = chance(random, 20);
    r.instrument = randomInstrument(random);
    r.value = {randomFigure(random), unitAsked(r.test), chance(random, 10),
               chance(random, 50) ? randomFigure(random) : 0};
    if (chance(random, 20)) r.most = randomFigure(random);
    if (r.test == TestKind::Reported) r.value.unit = Unit::Volt;
    if (r.test == TestKind::Shown) r.shows = static_cast<Shown>(random() % kindsOfShown), r.value = {};
    if (r.test == TestKind::Look) r.found = static_cast<Found>(random() % kindsOfFound), r.value = {};
    r.battery_V = maybeFigure(random), r.batteryAge_s = maybeFigure(random);
    return r;
}

TraceSeen randomTrace(std::mt19937& random)
{
    TraceSeen t;
    t.recording = someText(random), t.verdict = someText(random);
    for (auto n = random() % 4; n > 0; --n)
        t.figures.push_back({someText(random), someText(random)});
    t.element = randomText(random), t.drive = randomText(random), t.state = randomText(random);
    t.current_A = maybeFigure(random), t.supply_V = maybeFigure(random);
    t.currentSigma_A = randomFigure(random);
    t.lead = randomText(random), t.off_V = maybeFigure(random), t.on_V = maybeFigure(random);
    t.unit = randomText(random);
    t.from_s = randomFigure(random), t.to_s = randomFigure(random);
    for (auto n = random() % 20; n > 0; --n)
        t.least.push_back(randomFigure(random)), t.most.push_back(randomFigure(random));
    return t;
}

}  // namespace

std::string randomText(std::mt19937& random)
{
    static const char* const samples[] = {"",         " ",          "\n\t ",        "J2-1",        "groomer",
                                          "ölig",     "雪上車",     "🔧🔋",           "עברית",       "a\u202Eb",
                                          "=1+1",     "\"quoted\"", "<b>&amp;</b>", "back\\slash", "x\ny\rz",
                                          "\xFF\xFE", "caf\xE9",    "\xED\xA0\x80", "e\u0301"};
    std::string out = samples[random() % std::size(samples)];
    if (chance(random, 10)) out += std::string(1, '\0') + "after";
    if (chance(random, 10)) {
        for (auto n = random() % 60; n > 0; --n)
            out += static_cast<char>(random());
    }
    if (random() % 500 == 0) out += std::string(100'000, 'l');
    return out;
}

double randomFigure(std::mt19937& random)
{
    const double usual =
        std::ldexp(static_cast<double>(random() % 100'000) / 1000.0, static_cast<int>(random() % 8) - 2);
    switch (random() % 8) {
        case 0:
            return -usual;
        case 1:
            return 0;
        case 2:
            return std::ldexp(usual, static_cast<int>(random() % 600) - 300);
        case 3: {
            const auto any = std::bit_cast<double>((std::uint64_t{random()} << 32U) | random());
            return chance(random, 70) && !std::isfinite(any) ? usual : any;
        }
        case 4:
            return chance(random, 10) ? std::numeric_limits<double>::quiet_NaN() : usual;
        default:
            return usual;
    }
}

namespace {

EventBody anyEntry(std::mt19937& random)
{
    switch (random() % 20) {
        case 0:
            return JobDetails{randomText(random), randomText(random), randomText(random), randomText(random),
                              randomText(random)};
        case 1:
            return Complaint{randomText(random), randomText(random), randomTexts(random), randomTexts(random),
                             randomTexts(random)};
        case 2: {
            CodesRead codes;
            for (auto n = random() % 4; n > 0; --n)
                codes.codes.push_back({someText(random), randomText(random), randomText(random)});
            return codes;
        }
        case 3:
            return Note{someText(random)};
        case 4:
            return Undo{static_cast<std::int64_t>(random() % 200)};
        case 5:
            return StateChange{someText(random)};
        case 6:
            return Repair{0, randomTexts(random), someText(random)};
        case 7:
            return Assumption{someText(random), randomText(random)};
        case 8:
            return CheckMade{someText(random), randomText(random)};
        case 9:
            return WayOfWorkingChange{WayOfWorking{chance(random, 50), chance(random, 50), randomText(random),
                                                   chance(random, 50), randomText(random)}};
        case 10:
            return MapCorrection{someText(random), someText(random)};
        case 11:
            return InstrumentChange{randomInstrument(random)};
        case 12:
            return randomTrace(random);
        case 13: {
            FunctionsSeen seen;
            static_cast<SetUp&>(seen) = randomReading(random);
            seen.works = randomTexts(random), seen.fails = randomTexts(random);
            return seen;
        }
        case 14:
            return ProcedureFollowed{randomText(random), randomText(random)};
        case 15: {
            ChartStep step;
            static_cast<SetUp&>(step) = randomReading(random);
            step.id = randomText(random), step.words = randomText(random), step.then = randomText(random);
            step.below = 11.5;
            return ChartEntered{randomText(random), {step}};
        }
        default:
            return randomReading(random);
    }
}

}  // namespace

namespace {

class Renaming {
public:
    Renaming(const Map& map, std::mt19937& random) : map_(map), random_(random) {}

    template <class Body>
    void operator()(Body&)
    {
    }
    void operator()(Reading& r)
    {
        terminal(r.terminal);
        setUp(r);
    }
    void operator()(ChartEntered& b)
    {
        for (ChartStep& s : b.steps)
            setUp(s);
    }
    void operator()(FunctionsSeen& b)
    {
        setUp(b);
        b.works.clear(), b.fails.clear();
        if (!map_.functions.empty()) b.works = {one(map_.functions).id};
    }
    void setUp(SetUp& r)
    {
        node(r.red), node(r.black), state(r.state);
        for (std::string& c : r.unplugged)
            c = one(map_.connectors).id;
        for (std::string& t : r.unpinned)
            t = one(map_.terminals).id;
        for (std::string& e : r.removed)
            e = one(map_.elements).id;
        if (!r.load.empty()) r.load = one(loadCatalogue(map_.systemVoltage_V)).id, node(r.loadFrom), node(r.loadTo);
        for (FusedLead& lead : r.jumpers)
            node(lead.from), node(lead.to);
        for (Command& c : r.commands)
            c.element = one(map_.elements).id;
        for (PartAt& p : r.warmed)
            p.element = one(map_.elements).id;
        if (!r.conductor.empty()) r.conductor = one(map_.elements).id;
    }
    void operator()(StateChange& b) { state(b.state); }
    void operator()(Assumption& b) { b.terminal = one(map_.terminals).id; }
    void operator()(Repair& b)
    {
        for (std::string& e : b.elements)
            e = one(map_.elements).id;
    }
    void operator()(MapCorrection& b)
    {
        const Terminal& t = one(map_.terminals);
        PinRow row;
        row.connector = map_.connectors[static_cast<std::size_t>(t.connector)].id;
        row.cavity = t.number;
        row.colour = "red";
        b = {t.id, writePinRow(row)};
    }

private:
    template <class List>
    typename List::value_type one(const List& list)
    {
        return list[random_() % list.size()];
    }
    void node(std::string& name) { name = one(map_.nodes); }
    void state(std::string& name) { name = one(map_.states).id; }
    void terminal(std::string& name)
    {
        if (!name.empty()) name = one(map_.terminals).id;
    }

    const Map& map_;
    std::mt19937& random_;
};

}  // namespace

EventBody randomEntry(std::mt19937& random, const Map* names)
{
    EventBody body = anyEntry(random);
    if (names) std::visit(Renaming(*names, random), body);
    return body;
}

std::string randomTyping(std::mt19937& random)
{
    static const char* const figures[] = {"12.3",
                                          "-0.02",
                                          "1241",
                                          "4k7",
                                          "1e308",
                                          "-1e-320",
                                          "0",
                                          "11,84",
                                          "OL",
                                          "999999999999999999999",
                                          "1.00000000000000000000000000000000001",
                                          "23.8M",
                                          "∞",
                                          "NaN",
                                          "12.3.4",
                                          "",
                                          " ",
                                          "2",
                                          "damaged"};
    static const char* const units[] = {"",   " V", " mV", " A",  " Ω",  " ohm",
                                        " k", " %", " Hz", " µV", " kV", " parsec"};
    static const char* const currents[] = {" @ 1.4 A", " @ -1.4 A", " @ 15000", " @ 14 mV",
                                           " @ OL",    " @",        " @ 1e300", " @ x"};
    std::string out = std::string(figures[random() % std::size(figures)]) + units[random() % std::size(units)];
    if (chance(random, 30)) out = std::to_string(static_cast<double>(random() % 20000) / 1000) + units[random() % 2];
    if (chance(random, 30)) out += currents[random() % std::size(currents)];
    if (chance(random, 10)) out += " tripped";
    if (chance(random, 5)) out += randomText(random);
    return out;
}

}  // namespace ilvek::test
