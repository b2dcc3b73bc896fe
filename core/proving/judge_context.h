// What every test's judgement starts from. Internal to proving.
#pragma once

#include <fmt/format.h>

#include <cmath>
#include <optional>
#include <string>
#include <vector>

#include "machine/map.h"
#include "proving/judge.h"

namespace ilvek {

// How a value stands against the expected values of its kind.
struct AgainstLimits {
    enum class Outcome { None, Inside, Low, High, SourcesDisagree } outcome = Outcome::None;
    std::string words;     // "at most 0.15 V below battery (VD-31)"
    bool atLimit = false;  // beyond it, by less than the meter tells
};

struct JudgeContext {
    const Map& map;
    const Evidence& evidence;
    const Reading& reading;
    int terminal = -1;
    int state = -1;  // that the machine really stood in, see stateOf()
    // The potential of the subject against where the black lead belongs, V, after leads on exchanged places are put
    // right.
    double value_V = 0;
    bool leadsReversed = false;
    bool blackOnBatteryMinus = false;
    bool blackOnOwnReturn = false;
    // Of the minute, as it would have stood in this reading's own set-up: what is apart or loaded draws otherwise than
    // when the battery was read. Where nobody stated those draws the difference is known by itself only.
    std::optional<double> battery_V;
    double batteryBlur_V = 0;
    std::optional<double> batteryRead_V;  // as it was typed

    JudgeContext(const Map& m, const Evidence& e, const Reading& r);

    const Terminal& self() const { return map.terminal(terminal); }
    // Own current of the circuit at full work, A; 0 when the map does not say.
    double ownCurrent_A() const;
    // Nobody stated that current: it may decide nothing, neither that the circuit fails nor that it is proven.
    bool isOwnAssumed() const;
    AgainstLimits against(Measure measure, bool loaded, double value) const;
    // Its last digit and the share of its scale.
    double meterMayBeOff_V() const;
    // The tightest upper bound of a kind over all sources: of this state, or of any state when this one has none.
    std::optional<double> upperLimit(Measure measure, bool loaded) const;
    // Whether what was done to the machine is the same: nothing bridged, pulled or commanded in one and not in the
    // other.
    bool isSameWay(const Reading& other) const
    {
        return other.jumpers == reading.jumpers && other.removed == reading.removed &&
               other.unpinned == reading.unpinned && other.commands == reading.commands;
    }
    // Latest earlier reading of the same terminal that satisfies the predicate and is not stale.
    template <class Predicate>
    const Reading* latest(const Predicate& predicate) const
    {
        for (auto it = evidence.readings.rbegin(); it != evidence.readings.rend(); ++it) {
            if (it->id != reading.id && it->id < idLimit() && predicate(*it) && !isStale(map, evidence, *it, idLimit()))
                return &*it;
        }
        return nullptr;
    }
    std::int64_t idLimit() const { return reading.id == 0 ? INT64_MAX : reading.id; }
};

std::string volts2(double value_V);  // "12.41 V", "18 mV"
std::string amps(double value_A);
std::string ohmsText(double value_ohm);

// What is said of any reading beside its own test's say.
void sayAround(const JudgeContext& c, Judgement& j);

// One per test.
Judgement judgeBattery(const JudgeContext& c);
Judgement judgeReturnDrop(const JudgeContext& c);
Judgement judgeOpenSupply(const JudgeContext& c);
Judgement judgeAbsentSupply(const JudgeContext& c);
Judgement judgeLoadedSupply(const JudgeContext& c);
Judgement judgeGroundSwap(const JudgeContext& c);
Judgement judgeSegmentWalk(const JudgeContext& c);
Judgement judgeFuseCheck(const JudgeContext& c);
Judgement judgeReference(const JudgeContext& c);
Judgement judgePoint(const JudgeContext& c);
Judgement judgePartResistance(const JudgeContext& c);
Judgement judgeLook(const JudgeContext& c);
Judgement judgeCurrent(const JudgeContext& c);
Judgement judgeShown(const JudgeContext& c);
Judgement judgeReported(const JudgeContext& c);
Judgement judgeJunction(const JudgeContext& c);
Judgement judgeKept(const JudgeContext& c);
Judgement judgeAgainstTable(const JudgeContext& c);
// A level of which nothing is known but that it must move. REQUIRES: a terminal whose map says so.
Judgement judgeMoves(const JudgeContext& c);
// Whether this reading, or it beside an earlier one, shows that the level moves.
bool showsMovement(const JudgeContext& c);

}  // namespace ilvek
