// What hangs on a fuse, as the parts of its branch, and what a lamp in the fuse's place is passed by them when they are
// sound. Internal to procedures.
#pragma once

#include <set>
#include <vector>

#include "circuit/condition.h"
#include "machine/map.h"
#include "proving/setup.h"

namespace ilvek {

using Parts = std::set<int>;  // elements of the map

class FeedBranch {
public:
    // `map` must outlive this.
    FeedBranch(const Map& map, int fuse) : map_(map), fuse_(fuse), element_(map.element(fuse)) {}

    bool isAtFuse(const std::string& node) const;
    // Whether anything comes to the fuse in this state, or as the machine stands: what is unplugged may have dropped a
    // relay before it (T16).
    bool isLive(int state) const;
    bool isLive(Condition condition) const;
    // What the fuse still feeds with these parts taken out of the way, loads at its ends among it.
    Parts reach(const Parts& out) const;
    // The parts that a set-up takes out of the way: contacts of what is apart, parts pulled or unplugged.
    Parts outOf(const SetUp& setUp) const;
    // Of a lamp's rated volts what a sound branch may put across it in the set-up: loads that nobody stated may be four
    // times what is assumed, other sources of the map may be disconnected. With a node at ground: the same of that.
    double soundShare(const SetUp& setUp, double rated_V, int atGround = -1) const;

    // What can be taken out of the way, by one action each.
    struct Release {
        int connector = -1, part = -1;
        Parts out;
        double effort_s = 0;
    };
    std::vector<Release> releases() const;

private:
    void addContacts(int connector, Parts& out) const;

    const Map& map_;
    int fuse_;
    const Element& element_;
};

}  // namespace ilvek
