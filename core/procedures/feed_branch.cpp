#include "procedures/feed_branch.h"

#include <algorithm>
#include <cmath>

#include "circuit/operating_point.h"

namespace ilvek {

namespace {

constexpr double pullRelay_s = 30;
constexpr double unstatedFactor = 4;
constexpr double liveShare = 0.5;  // of the system's voltage

}  // namespace

bool FeedBranch::isAtFuse(const std::string& node) const
{
    return node == map_.node(element_.nodes[0]) || node == map_.node(element_.nodes[1]);
}

bool FeedBranch::isLive(int state) const
{
    Condition condition;
    condition.state = state;
    condition.removed = {fuse_};
    return isLive(condition);
}

bool FeedBranch::isLive(Condition condition) const
{
    condition.load.reset();
    const auto point = operatingPoint(map_, condition);
    return point && point->potential(element_.nodes[0]) > liveShare * map_.systemVoltage_V;
}

Parts FeedBranch::reach(const Parts& out) const
{
    std::set<int> nodes{element_.nodes[1]};
    Parts parts;
    for (bool grown = true; grown;) {
        grown = false;
        for (std::size_t i = 0; i < map_.elements.size(); ++i) {
            const int part = static_cast<int>(i);
            const Element& e = map_.elements[i];
            if (part == fuse_ || out.contains(part) || parts.contains(part)) continue;
            if (e.kind == ElementKind::Battery || e.kind == ElementKind::Alternator) continue;
            const bool touches = std::any_of(e.nodes.begin(), e.nodes.end(), [&](int n) { return nodes.contains(n); });
            if (!touches) continue;
            parts.insert(part);
            grown = true;
            if (!specOf(e.kind).conducts) continue;
            for (const std::size_t end : {std::size_t{0}, std::size_t{1}}) {
                if (e.nodes[end] != map_.batteryMinus() && e.nodes[end] != map_.batteryPlus())
                    nodes.insert(e.nodes[end]);
            }
        }
    }
    return parts;
}

Parts FeedBranch::outOf(const SetUp& s) const
{
    Parts out;
    const auto condition = conditionOf(map_, s);
    if (!condition) return out;
    out = condition->removed;
    for (const int connector : condition->unplugged)
        addContacts(connector, out);
    for (const int t : condition->unpinned)
        out.insert(map_.terminal(t).contact);
    out.erase(fuse_);
    out.erase(-1);
    return out;
}

void FeedBranch::addContacts(int connector, Parts& out) const
{
    for (const int t : map_.connectors[static_cast<std::size_t>(connector)].terminals) {
        if (t >= 0 && map_.terminal(t).contact >= 0) out.insert(map_.terminal(t).contact);
    }
}

double FeedBranch::soundShare(const SetUp& r, double rated_V, int atGround) const
{
    auto condition = conditionOf(map_, r);
    if (!condition || !condition->load) return 0;
    if (atGround >= 0) {
        Fault touches;
        touches.kind = Fault::Kind::ShortBetween;
        touches.nodeA = atGround, touches.nodeB = map_.batteryMinus();
        touches.resistance_ohm = 0.01;
        condition->faults.push_back(touches);
    }
    for (const int part : reach(outOf(r))) {
        const Element& e = map_.element(part);
        const bool draws = e.kind == ElementKind::SupplyPort;
        if (!e.assumed || (!specOf(e.kind).isLoad && !draws)) continue;
        Fault heavier;
        heavier.kind = Fault::Kind::OutOfValue;
        heavier.element = part;
        heavier.factor = draws ? unstatedFactor : 1 / unstatedFactor;
        condition->faults.push_back(heavier);
    }
    // With the other sources of the map and without them: they may be disconnected by now.
    double share = 0;
    for (const bool alone : {false, true}) {
        for (std::size_t i = 0; alone && i < map_.elements.size(); ++i) {
            if (map_.elements[i].kind == ElementKind::Battery && static_cast<int>(i) != map_.battery)
                condition->removed.insert(static_cast<int>(i));
        }
        const auto point = operatingPoint(map_, *condition);
        if (point)
            share = std::max(share, std::abs(point->voltage(condition->load->from, condition->load->to)) / rated_V);
    }
    return share;
}

std::vector<FeedBranch::Release> FeedBranch::releases() const
{
    std::vector<Release> all;
    for (std::size_t c = 0; c < map_.connectors.size(); ++c) {
        Release r;
        r.connector = static_cast<int>(c);
        addContacts(r.connector, r.out);
        r.effort_s = map_.connectors[c].reach_s + map_.connectors[c].unplug_s;
        all.push_back(std::move(r));
    }
    for (std::size_t i = 0; i < map_.elements.size(); ++i) {
        const Element& e = map_.elements[i];
        const bool plug = (specOf(e.kind).isLoad || e.kind == ElementKind::Relay || e.kind == ElementKind::Fuse) &&
                          e.reach_s && e.place != "inside the module";
        if (plug && static_cast<int>(i) != fuse_)
            all.push_back({-1, static_cast<int>(i), {static_cast<int>(i)}, *e.reach_s + pullRelay_s});
    }
    return all;
}

}  // namespace ilvek
