#include "proving/assumed_feed.h"

#include <algorithm>
#include <cmath>

#include "machine/paths.h"
#include "proving/judge.h"

namespace ilvek {

namespace {

// The far side of the key switch; −1 where it is closed in the state, or there is none.
int keyedNode(const Map& map, int state)
{
    const int on = map.stateIndex("key-on"), off = map.stateIndex("key-off");
    if (on < 0 || off < 0) return -1;
    const auto key = std::ranges::find_if(map.elements, [&](const Element& e) {
        return e.kind == ElementKind::Switch && e.isIn(on) && !e.isIn(off) && !e.isIn(state);
    });
    return key == map.elements.end() ? -1 : key->nodes[1];
}

// A supply with the key comes over it.
bool isToldToBeKeyed(const Map& map, int fuse)
{
    return std::ranges::any_of(map.moduleTerminals(), [&](int t) {
        if (map.terminal(t).role != Role::SwitchedFeed) return false;
        const auto loop = loopOf(map, t);
        return loop && std::ranges::any_of(loop->feed, [&](const PathStep& step) { return step.element == fuse; });
    });
}

}  // namespace

bool mayBeFedAlways(const Map& map, const Reading& reading)
{
    constexpr double within = 0.1, lifted = 0.3;  // of the system voltage
    if (!map.isOfSheet() || !isVoltageTest(reading.test)) return false;
    const int keyed = keyedNode(map, map.stateIndex(reading.state));
    if (keyed < 0) return false;
    const auto otherwise = healthyReading(map, reading);
    if (!otherwise || reading.value.value - *otherwise < lifted * map.systemVoltage_V) return false;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& fuse = map.elements[i];
        const int f = static_cast<int>(i);
        if (fuse.kind != ElementKind::Fuse || fuse.nodes[0] != keyed || isToldToBeKeyed(map, f)) continue;
        Reading fed = reading;
        fed.removed.push_back(fuse.id);  // the rest of what the key feeds is not fed with it
        fed.jumpers.push_back({map.node(map.batteryPlus()), map.node(fuse.nodes[1]), {}});
        const auto stands = healthyReading(map, fed);
        if (!stands) continue;
        const double off = std::abs(reading.value.value - *stands);
        if (off < within * map.systemVoltage_V && off < 0.5 * std::abs(*stands - *otherwise)) return true;
    }
    return false;
}

}  // namespace ilvek
