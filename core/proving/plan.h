// What to do next, from the map and the readings: the schedule of a job (W4) and its order.
#pragma once

#include <optional>
#include <vector>

#include "proving/step.h"
#include "proving/walk.h"

namespace ilvek {

// The moment the plan is asked for.
struct Moment {
    std::int64_t now_ms = 0;
    std::string state;  // state the machine stands in; "" when unknown
};

// Module terminals in proving order: returns, supplies (permanent, switched, relay-fed), references, inputs, drives,
// networks; working signal first the inputs come before all but the returns. Empty cavities left out.
std::vector<int> provingOrder(const Map& map, const WayOfWorking& working);

// The next useful step for one terminal; nullopt when it is proven or located, when its circuit is not
// to be probed (hazard), or when nothing can be done.
std::optional<Step> nextStepFor(const Map& map, const Assessment& assessment, int terminal, const Moment& moment);

// The next step of the job: an unfinished hunt first, then the proving order. What was read twice in a row and decided
// nothing, or once against sources that disagree, is passed over: it stays open. nullopt while a located fault waits to
// be mended, and when all is read.
std::optional<Step> nextStep(const Map& map, const Assessment& assessment, const Moment& moment);

// The battery of the minute, where the step is held against it and it was not read; its words say what comes then.
// nullopt: the step itself.
std::optional<Step> batteryFirst(const Map& map, const Assessment& assessment, const Moment& moment, const Step& step);

// The open requirement of the job that takes the least time: reach, load and change of state counted; not one that
// failed, nor one that was read against sources that disagree.
struct CheapestOpen {
    int terminal = -1;
    Requirement requirement;
    double effort_s = 0;
};
std::optional<CheapestOpen> cheapestOpen(const Map& map, const Assessment& assessment, const Moment& moment);

// Where the fault of a failing terminal is, once a single part, a blown fuse or a relay is shown directly, as one
// sentence; nothing more is read there until it is mended.
std::optional<std::string> locatedFault(const Map& map, const Assessment& assessment, int terminal);

}  // namespace ilvek
