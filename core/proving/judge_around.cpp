// What is said of a reading whatever its test: instruments that were not proven (W7), what the lead places turn (T4), a
// clamp that cancels or stands backwards (T20), another source (T17), continuity that tells only half (T9).
#include <algorithm>
#include <cmath>

#include "circuit/operating_point.h"
#include "proving/judge_context.h"
#include "proving/lamp.h"
#include "proving/unstated.h"
#include "proving/wire_ends.h"
#include "quantity/trade.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// Of the lamp's rated current: what it passes at any voltage of the machine, and a clamp's error.
constexpr double moreThanLamp = 1.4;
constexpr double cancels_A = 0.1, worthCancelling_A = 0.5;
constexpr double lowOhms = 2.0;
constexpr double noDrop_V = 0.03;
constexpr double acrossPair_V = 0.3;
constexpr double aboutOne = 0.15;  // of one termination

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
    j.doesNotProve.push_back(inWords("around.anything-before-lamp-seen"));
}

// With a lamp as load that is burnt out no current flows, and the loaded reading is the open one.
void loadFlowed(const JudgeContext& c, Judgement& j)
{
    if (j.verdict != Verdict::Good || c.reading.test != TestKind::LoadedSupply || !lampOf(c.map, c.reading)) return;
    if (c.reading.measuredCurrent_A || wasLampSeenToBurn(c)) return;
    const Reading* open =
        c.latest([&](const Reading& r) { return r.terminal == c.reading.terminal && r.test == TestKind::OpenSupply; });
    if (open && std::abs(open->value.value) - std::abs(c.reading.value.value) < noDrop_V)
        j.doesNotProve.push_back(inWords("around.lamp-drew-current-took"));
}

void clampTold(const JudgeContext& c, Judgement& j)
{
    if (c.reading.test != TestKind::Current) return;
    if (!isTold(c, "clamp")) j.doesNotProve.push_back(inWords("around.last-tenths-nobody-told"));
    const int element = c.map.elementIndex(c.reading.conductor);
    const auto condition = conditionOf(c.map, c.reading);
    const auto point = condition && element >= 0 ? operatingPoint(c.map, *condition) : fail("", "");
    if (!point || c.reading.value.overLimit) return;
    const double read = c.reading.value.value, sound = point->currentThrough(element);
    if (std::abs(read) < cancels_A && std::abs(sound) > worthCancelling_A)
        j.traps.push_back({"T20", inWords("around.feed-return-one-load")});
    if (read * sound < 0 && std::abs(read) > cancels_A && std::abs(sound) > cancels_A)
        j.traps.push_back({"T20", inWords("around.flows-against-way-counted")});
}

// More than the lamp can pass: another source feeds what it hangs on.
void anotherSource(const JudgeContext& c, Judgement& j)
{
    if (!c.reading.measuredCurrent_A && c.reading.test != TestKind::Current) return;
    if (c.reading.load.empty()) return;
    const auto load = findLoad(c.map.systemVoltage_V, c.reading.load);
    const double read = std::abs(c.reading.measuredCurrent_A.value_or(c.reading.value.value));
    if (!load || load->kind != LoadKind::Lamp || read <= moreThanLamp * load->ratedCurrent_A) return;
    // In a fuse's place all that flows there flows through the lamp.
    const bool inFuse = std::any_of(c.map.elements.begin(), c.map.elements.end(), [&](const Element& e) {
        return e.kind == ElementKind::Fuse && c.map.node(e.nodes[0]) == c.reading.loadFrom &&
               c.map.node(e.nodes[1]) == c.reading.loadTo;
    });
    if (inFuse)
        j.traps.push_back({"T17", inWords("around.flows-where-lamp-passes", amps(read), amps(load->ratedCurrent_A))});
}

// A switched terminal read against the supply: low means off.
void turned(const JudgeContext& c, Judgement& j)
{
    if (c.terminal < 0 || !c.self().role || groupOf(*c.self().role) != Group::Drives) return;
    const std::string& plus = c.map.node(c.map.batteryPlus());
    if (!isVoltageTest(c.reading.test) || (c.reading.black != plus && c.reading.red != plus)) return;
    j.traps.push_back({"T4", inWords("around.read-against-battery-plus")});
}

void continuity(const JudgeContext& c, Judgement& j)
{
    if (unitAsked(c.reading.test) != Unit::Ohm || c.reading.value.overLimit) return;
    const std::string& minus = c.map.node(c.map.batteryMinus());
    const bool ends = c.reading.red != minus && c.reading.black != minus;
    if (ends && partOhms(c.reading) < lowOhms && partAlone(c.map, c.reading) < 0)
        j.traps.push_back({"T9", inWords("around.end-end-whole-short")});
}

// Another place of the same signal's wire read just so.
void wireBetween(const JudgeContext& c, Judgement& j)
{
    WireEnds ends = WireEnds::NotCompared;
    const Reading* other = c.latest([&](const Reading& r) {
        ends = wireEndsOf(c.map, c.reading, r);
        return ends != WireEnds::NotCompared;
    });
    if (!other || (ends != WireEnds::Differ && ends != WireEnds::Alike)) return;
    const std::string there = c.map.nodeWords(c.map.nodeIndex(other->red));
    const std::string said = inWords(ends == WireEnds::Differ ? "around.ends-differ" : "around.ends-alike",
                                     volts2(c.reading.value.value), volts2(other->value.value), there);
    j.proves.push_back(said);
}

}  // namespace

bool isBusLine(const JudgeContext& c, const std::string& node)
{
    return isLineOfPair(c.map, c.map.nodeIndex(node));
}

// The two lines of a bus: what is right looks wrong across them, and what talks on them may be another (T10, T11).
void busLines(const JudgeContext& c, Judgement& j)
{
    const Reading& r = c.reading;
    const bool pair = isBusLine(c, r.red) && isBusLine(c, r.black);
    if (pair && isVoltageTest(r.test) && std::abs(r.value.value) < acrossPair_V)
        j.traps.push_back({"T10", inWords("around.across-pair-next-nothing")});
    if (pair && unitAsked(r.test) == Unit::Ohm && !r.value.overLimit && (!r.unplugged.empty() || !r.removed.empty()) &&
        std::abs(partOhms(r) / trade::termination_ohm - 1) < aboutOne)
        j.traps.push_back({"T10", inWords("around.one-termination-left-unit")});
    if (!pair && isBusLine(c, r.red) && isVoltageTest(r.test) && j.verdict == Verdict::Good)
        j.traps.push_back({"T11", inWords("around.level-traffic-shows-some")});
}

// A single figure in volts of what is pulsed (T18).
void pulsed(const JudgeContext& c, Judgement& j)
{
    const Reading& r = c.reading;
    // Of lowest and highest each is judged by itself.
    const bool isRange = std::any_of(c.evidence.readings.begin(), c.evidence.readings.end(),
                                     [&](const Reading& all) { return all.id == r.id && all.most; });
    if (c.terminal < 0 || !isVoltageTest(r.test) || isRange || r.shows || r.value.overLimit) return;
    const Terminal& t = c.self();
    const int state = stateOf(c.map, r);
    const bool turns = t.moves.size() == 1 && t.moves.front() == state;
    const double share = drivenShare(c.map, c.terminal, r);
    const bool driven =
        t.role == Role::DutyDrive && ((share > 0.01 && share < 0.99) || isPulsedByUnknownShare(c.map, c.terminal, r));
    if (!turns && !driven) return;
    j.traps.push_back({"T18", inWords("around.pulsed-voltmeter-shows-mean")});
}

void sayAround(const JudgeContext& c, Judgement& j)
{
    lampProven(c, j);
    loadFlowed(c, j);
    clampTold(c, j);
    anotherSource(c, j);
    turned(c, j);
    continuity(c, j);
    busLines(c, j);
    pulsed(c, j);
    wireBetween(c, j);
}

}  // namespace ilvek
