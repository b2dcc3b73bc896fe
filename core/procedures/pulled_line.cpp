#include "procedures/pulled_line.h"

#include <algorithm>
#include <cmath>

#include "machine/paths.h"
#include "procedures/module_feeds.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

constexpr double bridgeFuse_A = 2;

}  // namespace

std::vector<std::pair<std::string, std::string>> PulledLine::of() const
{
    return {{"terminal", flow_.map().terminal(terminal_).id},
            {"part", nameOf(flow_.map(), part_)},
            {"module", flow_.map().module}};
}

std::vector<std::pair<std::string, std::string>> PulledLine::with(const Seen& seen) const
{
    auto out = of();
    out.emplace_back("figure", seen.figure());
    return out;
}

std::optional<double> PulledLine::stated_V(const Step& open) const
{
    if (flow_.map().terminal(terminal_).assumed) return std::nullopt;
    return healthyVolts(flow_.map(), open);
}

bool PulledLine::isLevel(double v, const Step& open) const
{
    const auto stated = stated_V(open);
    return v >= (stated ? trade::openShare * *stated : trade::pulledUpFrom_V);
}

bool PulledLine::isNone(double v, const Step& open) const
{
    const auto stated = stated_V(open);
    return v <= (stated ? trade::closedShare * *stated : trade::notPulledUpBelow_V);
}

// The part's own end, and all of its way to battery minus.
std::vector<std::string> PulledLine::groundPlaces() const
{
    const Map& map = flow_.map();
    std::vector<std::string> out{map.element(part_).id};
    for (const PathStep& step : conductorPath(map, ground_, map.batteryMinus()).value_or(Path{}))
        out.push_back(map.element(step.element).id);
    return out;
}

void PulledLine::held(const Seen& low, const Step& open)
{
    flow_.fails({kind_ + ".low", with(low)});
    const Map& map = flow_.map();
    Step step = open;
    step.commands.clear();
    step.removed = {map.element(part_).id};
    // Low with a connector before it apart says as much: the part is not what holds it.
    const Seen apart = flow_.reading("unplugged", {"line.unplugged", of()}, step, [&](const Reading& r) {
        const bool here = isVoltageTest(r.test) && (r.red == step.red || r.black == step.red) && r.unpinned.empty() &&
                          r.jumpers.empty() && r.load.empty();
        const bool isOut = std::find(r.removed.begin(), r.removed.end(), step.removed.front()) != r.removed.end();
        const bool before =
            !r.unplugged.empty() && !isApart(map, r, terminal_) && isNone(std::abs(r.value.value), open);
        return here && (isOut || before);
    });
    if (!apart) return;
    if (isLevel(apart.volts(), open)) {
        flow_.says({"line.unplugged.comes", with(apart)});
        // What pulls down through ohms is also low where the pin's own contact is bad: no reading out here parts them.
        if (pullsByOhms())
            return flow_.end(Ending::Kind::Open, {kind_ + ".end.stays-closed", with(apart)},
                             {map.element(part_).id, map.terminal(terminal_).id}, Grade::ByElimination);
        return flow_.end(Ending::Kind::Found, {kind_ + ".end.stays-closed", with(apart)}, {map.element(part_).id});
    }
    flow_.says({"line.unplugged.stays", with(apart)});
    Step free = step;
    free.unpinned = {map.terminal(terminal_).id};
    free.red = map.node(map.terminal(terminal_).b);
    const Seen pin = flow_.reading("free", {"line.free", of()}, free, [&](const Reading& r) {
        return isVoltageTest(r.test) && (r.red == free.red || r.black == free.red) && r.unpinned == free.unpinned;
    });
    if (!pin) return;
    if (isLevel(pin.volts(), open)) {
        flow_.says({"line.free.comes", with(pin)});
        return flow_.end(Ending::Kind::Found, {"line.end.harness", with(pin)}, wayOf(map, terminal_, signal_));
    }
    flow_.says({"line.free.stays", with(pin)});
    // A module that gets nothing pulls nothing up; and a contact of its own plug reads so too.
    if (moduleFeeds(flow_) == Feeds::Stand)
        flow_.end(Ending::Kind::Open, {"line.end.module", with(pin)}, {map.terminal(terminal_).id},
                  Grade::ByElimination);
}

bool PulledLine::pullsByOhms() const
{
    return flow_.map().element(part_).kind == ElementKind::Thermistor;
}

// A wire that touches a supply stays up too, and a fused lead may pull a weak one down. True: it is fed, or not read
// yet.
bool PulledLine::isFed(const Step& closed)
{
    const Map& map = flow_.map();
    Step step = closed;
    step.removed = {map.element(part_).id}, step.unpinned = {map.terminal(terminal_).id};
    step.black = map.node(map.batteryMinus());
    const Seen seen = flow_.reading("fed", {"line.fed", of()}, step);
    if (!seen) return true;
    if (seen.volts() < trade::notPulledUpBelow_V) {
        flow_.says({"line.fed.not", with(seen)});
        return false;
    }
    flow_.says({"line.fed.yes", with(seen)});
    flow_.end(Ending::Kind::Found, {"line.end.fed", with(seen)}, wayOf(map, terminal_, signal_));
    return true;
}

// More than the line is pulled up to, and nothing feeds its wire: it comes out of the module, as of a sensor supply
// that touches another. A pull-up that nobody stated may go to another supply than was assumed.
bool PulledLine::isLifted(const Seen& high, const Step& closed) const
{
    Step step = closed;
    step.removed = {flow_.map().element(part_).id};
    const auto pulledTo = healthyVolts(flow_.map(), step);
    return pulledTo && high.volts() > trade::lifted * *pulledTo;
}

void PulledLine::raised(const Seen& open, const Seen& high, const Step& closed)
{
    const bool little = high.volts() < trade::openShare * open.volts();
    flow_.fails({kind_ + (little ? ".high.little" : ".high"), with(high)});
    const Map& map = flow_.map();
    if (pullsByOhms() && isFed(closed)) return;
    if (pullsByOhms() && isLifted(high, closed))
        return flow_.end(Ending::Kind::Elsewhere, {"line.end.lifted", with(high)});
    Step step = closed;
    step.jumpers = {{map.node(signal_), map.node(ground_), bridgeFuse_A}};
    const Seen bridged = flow_.reading("bridged", {"line.bridge", of()}, step);
    if (!bridged) return;
    if (bridged.volts() <= trade::closedShare * std::max(trade::pulledUpFrom_V, high.volts())) {
        flow_.says({"line.bridge.falls", with(bridged)});
        return flow_.end(Ending::Kind::Found, {kind_ + ".end.never-closes", with(bridged)}, {map.element(part_).id});
    }
    flow_.says({"line.bridge.stays", with(bridged)});
    Step plug = closed;
    plug.red = map.node(signal_);
    const Seen at = flow_.reading("at-part", {"line.at-part", of()}, plug);
    if (!at) return;
    const bool arrives = at.volts() >= trade::openShare * high.volts();
    flow_.says({arrives ? "line.at-part.there" : "line.at-part.away", with(at)});
    flow_.end(Ending::Kind::Found, {arrives ? "line.end.ground" : "line.end.wire", with(at)},
              arrives ? groundPlaces() : wayOf(map, terminal_, signal_));
}

}  // namespace ilvek
