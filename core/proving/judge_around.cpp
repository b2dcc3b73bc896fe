// What is said of a reading whatever its test: instruments that were not proven (W7), what the lead places turn (T4), a
// clamp that cancels or stands backwards (T20), another source (T17), continuity that tells only half (T9).
#include <algorithm>
#include <cmath>

#include "circuit/operating_point.h"
#include "proving/judge_context.h"
#include "proving/lamp.h"

namespace ilvek {

namespace {

// Of the lamp's rated current: what it passes at any voltage of the machine, and a clamp's error.
constexpr double moreThanLamp = 1.4;
constexpr double cancels_A = 0.1, worthCancelling_A = 0.5;
constexpr double lowOhms = 2.0;
constexpr double noDrop_V = 0.03;

bool isTold(const JudgeContext& c, const std::string& stage)
{
    return std::any_of(c.evidence.checks.begin(), c.evidence.checks.end(), [&](const Statement& s) {
        return s.line == "instruments " + stage && s.id > c.evidence.instrumentSince && s.id < c.idLimit();
    });
}

bool wasLampSeenToBurn(const JudgeContext& c)
{
    return std::any_of(c.evidence.readings.begin(), c.evidence.readings.end(), [&](const Reading& r) {
        return r.id < c.idLimit() && r.id > c.evidence.instrumentSince && !r.load.empty() &&
               (r.shows == Shown::Bright || r.shows == Shown::Dim);
    });
}

void lampProven(const JudgeContext& c, Judgement& j)
{
    const bool isDark = c.reading.shows == Shown::Dark && !c.reading.load.empty();
    if (!isDark || wasLampSeenToBurn(c)) return;
    j.doesNotProve.push_back("Anything before the lamp was seen to burn: hold it to the battery first.");
}

// With a lamp as load that is burnt out no current flows, and the loaded reading is the open one.
void loadFlowed(const JudgeContext& c, Judgement& j)
{
    if (j.verdict != Verdict::Good || c.reading.test != TestKind::LoadedSupply || !lampOf(c.map, c.reading)) return;
    if (c.reading.measuredCurrent_A || wasLampSeenToBurn(c)) return;
    const Reading* open =
        c.latest([&](const Reading& r) { return r.terminal == c.reading.terminal && r.test == TestKind::OpenSupply; });
    if (open && std::abs(open->value.value) - std::abs(c.reading.value.value) < noDrop_V)
        j.doesNotProve.push_back("That the lamp drew its current: it took nothing off the open reading. See it burn.");
}

void clampTold(const JudgeContext& c, Judgement& j)
{
    if (c.reading.test != TestKind::Current) return;
    if (!isTold(c, "clamp"))
        j.doesNotProve.push_back("The last tenths: nobody told what the clamp shows around nothing.");
    const int element = c.map.elementIndex(c.reading.conductor);
    const auto condition = conditionOf(c.map, c.reading);
    const auto point = condition && element >= 0 ? operatingPoint(c.map, *condition) : fail("", "");
    if (!point || c.reading.value.overLimit) return;
    const double read = c.reading.value.value, sound = point->currentThrough(element);
    if (std::abs(read) < cancels_A && std::abs(sound) > worthCancelling_A)
        j.traps.push_back(
            {"T20", "Feed and return of one load together in the jaws cancel to nothing: one conductor alone."});
    if (read * sound < 0 && std::abs(read) > cancels_A && std::abs(sound) > cancels_A)
        j.traps.push_back(
            {"T20",
             "It flows against the way that it is counted: turn the arrow round, or something feeds from behind."});
}

// More than the lamp can pass: another source feeds what it hangs on.
void anotherSource(const JudgeContext& c, Judgement& j)
{
    if (!c.reading.measuredCurrent_A && c.reading.test != TestKind::Current) return;
    if (c.reading.load.empty()) return;
    const auto loads = loadCatalogue(c.map.systemVoltage_V);
    const SubstituteLoad* load = findLoad(loads, c.reading.load);
    const double read = std::abs(c.reading.measuredCurrent_A.value_or(c.reading.value.value));
    if (!load || load->kind != LoadKind::Lamp || read <= moreThanLamp * load->ratedCurrent_A) return;
    // In a fuse's place all that flows there flows through the lamp.
    const bool inFuse = std::any_of(c.map.elements.begin(), c.map.elements.end(), [&](const Element& e) {
        return e.kind == ElementKind::Fuse && c.map.node(e.nodes[0]) == c.reading.loadFrom &&
               c.map.node(e.nodes[1]) == c.reading.loadTo;
    });
    if (inFuse)
        j.traps.push_back({"T17", fmt::format("{} flows where the lamp passes {}: another source feeds the branch. "
                                              "Disconnect second batteries and chargers first.",
                                              amps(read), amps(load->ratedCurrent_A))});
}

// A switched terminal read against the supply: low means off.
void turned(const JudgeContext& c, Judgement& j)
{
    if (c.terminal < 0 || !c.self().role || groupOf(*c.self().role) != Group::Drives) return;
    const std::string& plus = c.map.node(c.map.batteryPlus());
    if (!isVoltageTest(c.reading.test) || (c.reading.black != plus && c.reading.red != plus)) return;
    j.traps.push_back(
        {"T4", "Read against battery plus: nothing means at the supply, the full voltage means at ground."});
}

void continuity(const JudgeContext& c, Judgement& j)
{
    if (unitAsked(c.reading.test) != Unit::Ohm || c.reading.value.overLimit) return;
    const std::string& minus = c.map.node(c.map.batteryMinus());
    const bool ends = c.reading.red != minus && c.reading.black != minus;
    if (ends && partOhms(c.reading) < lowOhms && partAlone(c.map, c.reading) < 0)
        j.traps.push_back({"T9", "End to end it is whole. A short to ground or to its neighbour is read by itself."});
}

}  // namespace

void sayAround(const JudgeContext& c, Judgement& j)
{
    lampProven(c, j);
    loadFlowed(c, j);
    clampTold(c, j);
    anotherSource(c, j);
    turned(c, j);
    continuity(c, j);
}

}  // namespace ilvek
