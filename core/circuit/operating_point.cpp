#include "circuit/operating_point.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <string>

#include "base/expects.h"
#include "base/stop.h"
#include "circuit/solution.h"

namespace ilvek {

namespace {

// An ohmmeter of 60 MΩ.
constexpr double mostOhms = 60e6;
// Test leads of an ohmmeter show zero volts on a dead circuit; more than this is a live one.
constexpr double deadBelow_V = 0.01;
constexpr double diodeOverLimit_V = 2.4;

// Floating: not reachable from battery minus through anything that conducts.
std::vector<bool> floatingNodes(const Network& network)
{
    const auto count = static_cast<std::size_t>(network.equations()) + 1;  // the reference stands at 0
    std::vector<std::vector<int>> next(count);
    for (const Device& d : network.devices()) {
        for (std::size_t k = 1; d.on && k < d.nodeCount; ++k) {
            const int a = d.nodes[0] + 1, b = d.nodes[k] + 1;
            next[static_cast<std::size_t>(a)].push_back(b);
            next[static_cast<std::size_t>(b)].push_back(a);
        }
    }
    std::vector<bool> floating(count, true);
    std::vector<int> stack{0};
    floating[0] = false;
    while (!stack.empty()) {
        const int node = stack.back();
        stack.pop_back();
        for (const int to : next[static_cast<std::size_t>(node)]) {
            if (!floating[static_cast<std::size_t>(to)]) continue;
            floating[static_cast<std::size_t>(to)] = false;
            stack.push_back(to);
        }
    }
    return floating;
}

}  // namespace

Result<OperatingPoint> solvedPoint(const Map& map, const Condition& condition)
{
    OperatingPoint point;
    point.potentials_.assign(map.nodes.size(), 0.0);
    point.currents_.assign(map.elements.size(), 0.0);
    point.powers_.assign(map.elements.size(), 0.0);
    point.closed_.assign(map.elements.size(), false);
    for (const Phase& phase : phasesOf(map, condition)) {
        const auto s = solve(map, condition, phase);
        if (!s) return tl::unexpected(s.error());
        const law::Voltages v(s->v);
        for (std::size_t i = 0; i < map.nodes.size(); ++i)
            point.potentials_[i] += phase.share * v[s->network.equationOf(static_cast<int>(i))];
        for (const Device& d : s->network.devices()) {
            if (d.element < 0) continue;
            const auto e = static_cast<std::size_t>(d.element);
            if (&d == &s->network.deviceOf(d.element)) point.currents_[e] += phase.share * currentOf(d, v);
            point.powers_[e] += phase.share * powerOf(d, v);
        }
        for (std::size_t i = 0; i < map.elements.size(); ++i)
            point.closed_[i] = point.closed_[i] || s->network.isClosed(static_cast<int>(i));
        if (const Device* load = s->network.loadDevice()) point.loadCurrent_ += phase.share * currentOf(*load, v);
        const auto join = [](std::vector<int>& all, const std::vector<int>& more) {
            for (const int e : more) {
                if (std::find(all.begin(), all.end(), e) == all.end()) all.push_back(e);
            }
        };
        join(point.blown_, s->network.blownFuses());
        join(point.shutDown_, s->network.shutDown());
        point.chatters_ = point.chatters_ || s->chatters;
        point.jumperBlew_ = point.jumperBlew_ || s->network.jumperBlew();
        const auto floating = floatingNodes(s->network);
        point.floating_.resize(map.nodes.size(), true);
        for (std::size_t i = 0; i < map.nodes.size(); ++i) {
            const auto at = static_cast<std::size_t>(s->network.equationOf(static_cast<int>(i)) + 1);
            point.floating_[i] = point.floating_[i] && floating[at];
        }
    }
    return point;
}

double OperatingPoint::voltage(int red, int black) const
{
    return potential(red) - potential(black);
}

double OperatingPoint::potential(int node) const
{
    return potentials_[static_cast<std::size_t>(node)];
}

double OperatingPoint::currentThrough(int element) const
{
    return currents_[static_cast<std::size_t>(element)];
}

double OperatingPoint::currentThrough(const std::vector<InJaws>& bundle) const
{
    double sum = 0;
    for (const InJaws& conductor : bundle)
        sum += (conductor.backwards ? -1.0 : 1.0) * currentThrough(conductor.element);
    return sum;
}

double OperatingPoint::power(int element) const
{
    return powers_[static_cast<std::size_t>(element)];
}

bool OperatingPoint::isClosed(int element) const
{
    return closed_[static_cast<std::size_t>(element)];
}

bool OperatingPoint::isFloating(int node) const
{
    return floating_[static_cast<std::size_t>(node)];
}

Result<Display> displayOf(const Map& map, const Condition& condition)
{
    EXPECTS(condition.meter);
    const Meter& meter = *condition.meter;
    Condition without = condition;
    without.meter.reset();
    const auto bare = operatingPoint(map, without);
    if (!bare) return tl::unexpected(bare.error());
    const auto point = operatingPoint(map, condition);
    if (!point) return tl::unexpected(point.error());
    Display display;
    display.point = *point;
    display.floating = bare->isFloating(meter.red) || bare->isFloating(meter.black);
    display.value = point->voltage(meter.red, meter.black);
    if (meter.mode == Meter::Mode::Volts) return display;
    display.live = std::abs(bare->voltage(meter.red, meter.black)) > deadBelow_V;
    // Floating parts may still be joined to each other; the ohmmeter sees that.
    display.floating = false;
    if (meter.mode == Meter::Mode::Diode) {
        display.overLimit = display.value > diodeOverLimit_V;
        return display;
    }
    // R = U / I with I = (E − U) / R_test.
    const double current = (ohmsTest_V - display.value) / ohmsTest_ohm;
    display.overLimit = current <= 0 || display.value / current > mostOhms;
    if (!display.overLimit) display.value /= current;
    return display;
}

namespace {

// One entry of a journal asks for the same few conditions again and again: for the judgement, the walk, the step and
// the picture. The last solutions are kept per thread; a map is known by its document, which holds all of it.
struct Kept {
    std::size_t document = 0;
    std::size_t length = 0;
    Condition condition;
    OperatingPoint point;
};

constexpr std::size_t mostKept = 12;

}  // namespace

Result<OperatingPoint> operatingPoint(const Map& map, const Condition& condition)
{
    stopPoint();
    thread_local std::vector<Kept> kept;
    const std::size_t document = std::hash<std::string>{}(map.document);
    for (const Kept& k : kept) {
        if (k.document == document && k.length == map.document.size() && k.condition == condition) return k.point;
    }
    auto point = solvedPoint(map, condition);
    if (!point) return point;
    if (kept.size() >= mostKept) kept.erase(kept.begin());
    kept.push_back({document, map.document.size(), condition, *point});
    return point;
}

double ohmmeterShows_ohm(double open_V, double source_ohm)
{
    EXPECTS(open_V < ohmsTest_V);
    return (ohmsTest_V * source_ohm + open_V * ohmsTest_ohm) / (ohmsTest_V - open_V);
}

}  // namespace ilvek
