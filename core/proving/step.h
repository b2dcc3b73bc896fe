// The next thing to do: where the leads go, in which state, with what connected, what should be read and why.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "circuit/substitute_load.h"
#include "machine/map.h"
#include "proving/proof.h"

namespace ilvek {

struct Step : SetUp {
    TestKind test = TestKind::Battery;
    int terminal = -1;
    std::string title;                      // "Load J2-1"
    std::vector<std::string> instructions;  // set-up, red lead, black lead
    std::string expectation;                // what should be read, with its source
    std::string why;                        // and what the outcomes would mean
    std::vector<std::string> cautions;
    std::vector<std::string> alsoUnplugged;  // T16: what else goes dead with the connectors apart
    double effort_s = 60;
};

// Single steps, complete with words. REQUIRES: terminal of the right group.
Step batteryStep(const Map& map, const std::string& state);
Step openStep(const Map& map, const WayOfWorking& working, int terminal, int state);
// `loaded`: with a lamp on it, where a little stands that may feed nothing.
Step absentStep(const Map& map, const WayOfWorking& working, int terminal, int state, bool loaded = false);
Step loadStep(const Map& map, const WayOfWorking& working, int terminal, int state);
// The set-up and the places of loadStep and returnStep without their words.
Step loadSetUp(const Map& map, const WayOfWorking& working, int terminal, int state);
Step returnSetUp(const Map& map, const WayOfWorking& working, int terminal, int state);
Step swapStep(const Map& map, const WayOfWorking& working, int terminal, int state);
// REQUIRES: a supply or a return; under the same load as loadStep or returnStep puts on it.
Step walkStep(const Map& map, const WayOfWorking& working, int terminal, int state, int node);
Step fuseStep(const Map& map, int terminal, int fuse, bool farSide, int state);
Step returnStep(const Map& map, const WayOfWorking& working, int terminal, int state);
Step tableStep(const Map& map, int terminal, const Requirement& requirement);

// Any place against any other, with the connectors named apart (references released from a consumer, a wire freed from
// the module). `terminal` is the one it is read for, or -1.
Step pointStep(const Map& map, int red, int black, int state, const std::vector<int>& unplugged, int terminal);

// An ohmmeter between two places of a dead circuit.
Step resistanceStep(const Map& map, int red, int black, int state, const std::vector<int>& unplugged, int terminal,
                    const std::vector<int>& removed = {});

// Into a connector, by eye: is the terminal there, is it the drawn wire, is it sound (W5, W6, W13).
Step lookStep(const Map& map, int terminal, int state);

// A lamp in place of a fuse, with connectors and parts of its branch unplugged: it limits the current of a short and
// shows it (W22).
Step lampForFuseStep(const Map& map, int fuse, const SubstituteLoad& lamp, int state, const std::vector<int>& unplugged,
                     const std::vector<int>& parts = {});

// What frees a wire at both ends, and what it is tried with (W25).
struct IsolatedWire {
    int state = 0;
    std::vector<int> unplugged;  // connectors
    std::vector<int> parts;      // elements unplugged at their own plugs
    SubstituteLoad lamp;
    double fuse_A = 5;
};
Step isolatedWireStep(const Map& map, int wire, const IsolatedWire& way);

// What a sound circuit reads in the step, in words; empty where nothing holds the place.
std::string expectedWords(const Map& map, const Step& step);

// The load for a circuit: the largest that stays within the circuit's own current and eight tenths of its smallest
// fuse, and at least a quarter of that current. nullptr when the terminal must never be loaded (W11).
const SubstituteLoad* recommendedLoad(const Map& map, const std::vector<SubstituteLoad>& loads, int terminal);
// What is wrong with this load on this terminal; empty when nothing is. A load that `forbids` is never used there: the
// terminal must not be loaded at all, or its fuse would go.
struct LoadWarning {
    bool forbids = false;
    std::string words;
};
std::vector<LoadWarning> loadWarnings(const Map& map, const SubstituteLoad& load, int terminal);

// The reading that this step gives.
Reading readingOf(const Step& step, const Map& map, const Quantity& value, const Instrument& instrument,
                  std::int64_t time_ms);

}  // namespace ilvek
