// What one reading means, computed from where the leads stood and what was connected.
#pragma once

#include <string>
#include <vector>

#include "circuit/condition.h"
#include "machine/map.h"
#include "proving/reading.h"

namespace ilvek {

enum class Verdict {
    Good,         // proven under load, or right where no load is asked for
    OpenOnly,     // right, but no current was asked: proves little
    Low,          // out of limits
    High,         // out of limits
    FailsLoaded,  // cannot carry its current
    NotDecided,   // the reading does not allow a verdict (stale battery, load too small, no expected value)
    NoEvidence,   // the reading proves nothing as taken (a drop without a current)
    Conflict,     // cannot be together with another reading; to be read again
    Noted         // a reading that carries no verdict of its own (battery, a point on a walk that is sound)
};

// What a reading found out about the circuit, where a following step depends on it.
enum class Finding { None, SupplyAbsent, FeedBad, ReturnBad, BothSidesBad, StepFound, FuseBlown, SourcesDisagree };

struct Trap {
    std::string id;  // "T1" …
    std::string line;
    bool operator==(const Trap&) const = default;
};

struct Judgement {
    Verdict verdict = Verdict::NotDecided;
    Finding finding = Finding::None;
    std::string word;        // two to four words for arm's length
    std::string limits;      // what it was judged against, with the source
    std::string arithmetic;  // one line
    std::vector<std::string> proves;
    std::vector<std::string> doesNotProve;
    std::vector<Trap> traps;
    double current_A = 0;                      // that flowed during the reading
    std::optional<double> loopResistance_ohm;  // where it could be computed
    bool moved = false;                        // shows that the level at the terminal moves as it must
};

// REQUIRES: `reading` may or may not be among `evidence.readings`; only earlier ones and battery readings of the same
// minute are used beside it.
Judgement judge(const Map& map, const Evidence& evidence, const Reading& reading);

// Current that flowed at the terminal while reading, A: measured, by the law of the substitute load at the voltage
// across it, or the healthy circuit's own in that state when the module was the load. 0 when nothing could flow.
double currentDuring(const Map& map, const Evidence& evidence, const Reading& reading);

// What the healthy circuit would read at the leads in the set-up, V; nullopt when a place is unknown or floating.
std::optional<double> healthyVolts(const Map& map, const SetUp& setUp);
// The same of a reading; nullopt too where its test is no voltage test.
std::optional<double> healthyReading(const Map& map, const Reading& reading);

// Whether a repair or a change of the map came after the reading, and before the entry `before`, and touches what it
// read.
bool isStale(const Map& map, const Evidence& evidence, const Reading& reading, std::int64_t before = INT64_MAX);

// Whether something was mended after the entry.
bool isBeforeRepair(const Evidence& evidence, std::int64_t entry);

// The battery reading that a reading may be compared with: of the same minute in the same state, first of all with the
// same drives on; nullptr if none.
const Reading* batteryReadingOfTheMinute(const Map& map, const Evidence& evidence, const Reading& reading);
// Its voltage.
std::optional<double> batteryOfTheMinute(const Map& map, const Evidence& evidence, const Reading& reading);

bool isFailure(Verdict verdict);
std::string_view verdictId(Verdict verdict);
std::string_view findingId(Finding finding);  // "feed-bad"; empty for none

}  // namespace ilvek
