// The module's own supplies and returns as a stage of a procedure: what it does not get it cannot give. Internal to
// procedures.
#pragma once

#include "procedures/flow.h"

namespace ilvek {

enum class Feeds { Stand, Open, Fail };

// Adds the stage "feeds": their proof so far, and where one is open what to read next. One that fails ends it.
Feeds moduleFeeds(Flow& flow);
// The same of its returns alone: with its own ground lifted, all that a module gives stands high.
Feeds moduleReturns(Flow& flow);

}  // namespace ilvek
