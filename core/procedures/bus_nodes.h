// What hangs on the lines of a bus and can be taken off by one action each (W23). Internal to procedures.
#pragma once

#include <string>
#include <vector>

#include "procedures/flow.h"

namespace ilvek {

// A unit at its own plug, or a connector with all that lies behind it.
struct BusNode {
    std::string connector, part, name;
    double effort_s = 0;
};

class BusNodes {
public:
    // `lines`: the module's terminals. `awake`: a reading of a level with all plugged in. `map` must outlive this.
    BusNodes(const Map& map, std::vector<int> lines, Step awake)
        : map_(map), lines_(std::move(lines)), awake_(std::move(awake))
    {
    }

    // Those that were tried already come first, whatever their order was.
    std::vector<BusNode> cheapestFirst(const Flow& flow, const Step& step, Unit unit) const;
    static void takeOff(const BusNode& node, Step& step);
    // With this node off the lines, and beside it nothing but what is off in the step: more would not say which.
    Seen without(const Flow& flow, const BusNode& node, const Step& step, Unit unit) const;
    // The unit, and the stub that goes with it.
    std::vector<std::string> placesOf(const BusNode& node) const;
    // The lines themselves.
    std::vector<std::string> wayPlaces() const;

private:
    int node(int terminal) const { return map_.terminal(terminal).a; }
    std::set<int> onLines() const;
    BusNode unitOf(const Element& e) const;
    std::set<int> off(const SetUp& setUp) const;

    const Map& map_;
    std::vector<int> lines_;
    Step awake_;
};

}  // namespace ilvek
