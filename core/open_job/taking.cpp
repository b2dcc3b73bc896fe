#include "open_job/taking.h"

#include <fmt/format.h>

#include "base/expects.h"
#include "base/text.h"
#include "open_job/places.h"
#include "open_job/setup_line.h"
#include "proving/dangers.h"
#include "proving/walk.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

void addBattery(const OpenJob& open, std::int64_t now_ms, Reading& r)
{
    if (r.test == TestKind::Battery) return;
    const auto battery = open.batteryNow(now_ms);
    if (!battery || battery->reading->state != r.state) return;
    r.battery_V = battery->volts;
    r.batteryAge_s = battery->age_s;
}

// The leads' own ohms as they were told when the instruments were proven (W7).
void addLeads(const OpenJob& open, Reading& r)
{
    const Evidence& e = open.job.evidence;
    if (r.testLeads_ohm || unitAsked(r.test) != Unit::Ohm) return;
    for (auto it = e.checks.rbegin(); it != e.checks.rend(); ++it) {
        if (it->line != "instruments lead-ohms" || it->id < e.instrumentSince) continue;
        const auto figure = parseQuantity(it->found, Unit::Ohm);
        if (figure && !figure->overLimit && figure->value >= 0 && figure->value <= trade::leadsAtMost_ohm)
            r.testLeads_ohm = figure->value;
        return;
    }
}

void setFigure(const TypedReading& typed, Reading& r)
{
    r.value = typed.value;
    r.most = typed.most;
    r.shows = typed.shows;
    r.measuredCurrent_A = typed.current_A;
    r.inShutDown = r.inShutDown || typed.inShutDown;
}

std::string askedWords(Unit unit)
{
    return std::string(unit == Unit::None ? "what was seen" : unitName(unit));
}

// What the kind of figure needs of the set-up.
Result<void> isPlaced(const SetUp& s, FigureKind kind, const std::string& typed)
{
    switch (kind) {
        case FigureKind::Amperes:
            if (s.conductor.empty())
                return fail(typed, "amperes are of a conductor: say which one the clamp sits on, as “clamp A2”");
            return {};
        case FigureKind::Shown:
        case FigureKind::Reported:
            return {};
        default:
            if (s.red.empty() || s.black.empty()) return fail(typed, "say where the leads stand, as “A2 > A7”");
            return {};
    }
}

}  // namespace

Result<Reading> readingAtStep(const OpenJob& open, const Step& step, std::string_view typed, std::int64_t now_ms)
{
    const Map& map = open.job.map;
    Reading r = readingOf(step, map, {}, open.job.evidence.instrument, now_ms);
    if (step.test == TestKind::Look) {
        r.found = parseFound(typed);
        if (!r.found)
            return fail("", "A look finds 1 as drawn, 2 damaged or loose, 3 another wire, or 4 an empty cavity.");
        return r;
    }
    const FigureKind asked = kindAsked(step.test);
    const auto figure = parseReading(typed, asked, open.job.evidence.instrument.clampScale_mVPerA);
    if (!figure) return tl::unexpected(figure.error());
    if (figure->kind != asked) {
        if (figure->kind != FigureKind::Shown || step.load.empty())
            return fail(std::string(typed),
                        fmt::format("this is in {}, but {} are asked for here", askedWords(figure->value.unit),
                                    askedWords(unitAsked(step.test))));
        r.test = TestKind::Shown;
    }
    setFigure(*figure, r);
    addBattery(open, now_ms, r);
    addLeads(open, r);
    return r;
}

Result<Reading> readingAnywhere(const OpenJob& open, const SetUp& setUp, std::string_view typed, std::int64_t now_ms)
{
    const Map& map = open.job.map;
    if (const auto unknown = unknownName(map, setUp)) return fail(*unknown, "is not on the map of this job");
    // Where no test asks for volts, over limit is ohms: no voltage of a machine is.
    const FigureKind asked = !setUp.conductor.empty()          ? FigureKind::Amperes
                             : lowered(trimmed(typed)) == "ol" ? FigureKind::Ohms
                                                               : FigureKind::Volts;
    const auto figure = parseReading(typed, asked, open.job.evidence.instrument.clampScale_mVPerA);
    if (!figure) return tl::unexpected(figure.error());
    if (auto placed = isPlaced(setUp, figure->kind, std::string(typed)); !placed) return tl::unexpected(placed.error());
    const PlacedTest placed = placedTest(map, setUp, figure->kind, figure->current_A.has_value());
    Reading r;
    static_cast<SetUp&>(r) = setUp;
    r.time_ms = now_ms;
    r.test = placed.test;
    r.terminal = placed.terminal;
    r.instrument = open.job.evidence.instrument;
    setFigure(*figure, r);
    addBattery(open, now_ms, r);
    addLeads(open, r);
    return r;
}

Step stepAnywhere(const Map& map, const SetUp& setUp)
{
    EXPECTS(!unknownName(map, setUp));
    Step step;
    static_cast<SetUp&>(step) = setUp;
    const FigureKind kind = setUp.conductor.empty() ? FigureKind::Volts : FigureKind::Amperes;
    const PlacedTest placed = placedTest(map, setUp, kind, false);
    step.test = placed.test;
    step.terminal = map.terminalIndex(placed.terminal);
    const int red = map.nodeIndex(setUp.red), black = map.nodeIndex(setUp.black);
    step.title = kind == FigureKind::Amperes ? "Clamp on " + setUp.conductor
                 : red >= 0 && black >= 0    ? fmt::format("Read {} to {}", placeName(map, red), placeName(map, black))
                                             : std::string("Read anywhere");
    SetUp done = setUp;
    done.red.clear(), done.black.clear();
    step.instructions = {setUpLine(map, done)};
    if (red >= 0) step.instructions.push_back("Red lead on " + map.nodeWords(red));
    if (black >= 0) step.instructions.push_back("Black lead on " + map.nodeWords(black));
    if (kind == FigureKind::Volts) step.expectation = expectedWords(map, step);
    step.why = "Any figure with its unit: volts when none is written.";
    const OperatingState& state = map.state(map.stateIndex(setUp.state));
    step.cautions = dangersOf(map, setUp);
    if (!state.caution.empty()) step.cautions.push_back(state.caution);
    if (step.terminal >= 0 && !map.terminal(step.terminal).hazard.empty())
        step.cautions.insert(step.cautions.begin(), map.terminal(step.terminal).hazard);
    return step;
}

Result<FunctionsSeen> functionsTried(const OpenJob& open, const SetUp& setUp, const std::vector<std::string>& works,
                                     const std::vector<std::string>& fails)
{
    FunctionsSeen seen;
    static_cast<SetUp&>(seen) = setUp;
    const auto take = [&](const std::vector<std::string>& names, std::vector<std::string>& into) -> Result<void> {
        for (const std::string& name : names) {
            const auto& all = open.job.map.functions;
            const std::string typed = lowered(trimmed(name));
            auto at = std::find_if(all.begin(), all.end(),
                                   [&](const Function& f) { return f.id == name || lowered(f.name) == typed; });
            const auto begins = [&](const Function& f) { return lowered(f.name).rfind(typed, 0) == 0; };
            // How its name begins is enough, where only one does.
            if (at == all.end() && !typed.empty() && std::count_if(all.begin(), all.end(), begins) == 1)
                at = std::find_if(all.begin(), all.end(), begins);
            if (at == all.end()) {
                std::vector<std::string> known;
                for (const Function& f : all)
                    known.push_back(f.name);
                return fail(name, known.empty() ? "the map has no functions" : "is none of " + listed(known));
            }
            into.push_back(at->id);
        }
        return {};
    };
    if (auto taken = take(works, seen.works); !taken) return tl::unexpected(taken.error());
    if (auto taken = take(fails, seen.fails); !taken) return tl::unexpected(taken.error());
    if (seen.works.empty() && seen.fails.empty()) return fail("functions", "say at least one that works or fails");
    return seen;
}

std::vector<EventBody> entriesOf(const OpenJob& open, Reading reading)
{
    std::vector<EventBody> entries;
    if (reading.state != open.job.state) entries.push_back(StateChange{reading.state});
    entries.push_back(std::move(reading));
    return entries;
}

}  // namespace ilvek
