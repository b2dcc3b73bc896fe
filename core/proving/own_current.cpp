#include "proving/own_current.h"

#include <algorithm>
#include <cmath>

#include "proving/judge.h"

namespace ilvek {

namespace {

// Whether the clamp sits on the terminal's own wire or contact.
bool isOn(const Map& map, const Terminal& t, const std::string& conductor)
{
    const int element = map.elementIndex(conductor);
    if (element < 0) return false;
    const Element& e = map.element(element);
    const bool touches = std::find(e.nodes.begin(), e.nodes.end(), t.a) != e.nodes.end();
    return element == t.contact || (touches && e.kind == ElementKind::Wire);
}

}  // namespace

std::optional<double> measuredCurrent_A(const Map& map, const Evidence& evidence, int terminal)
{
    const Terminal& t = map.terminal(terminal);
    for (auto r = evidence.readings.rbegin(); r != evidence.readings.rend(); ++r) {
        const bool undisturbed =
            r->load.empty() && !r->inShutDown && r->unplugged.empty() && r->removed.empty() && r->jumpers.empty();
        if (!undisturbed || isStale(map, evidence, *r)) continue;
        constexpr double least_A = 0.02;  // less is a circuit that does not work
        const auto worth = [](double ampere) {
            return std::abs(ampere) >= least_A ? std::optional(std::abs(ampere)) : std::nullopt;
        };
        if (r->value.unit == Unit::Ampere && isOn(map, t, r->conductor)) return worth(r->value.value);
        if (r->terminal == t.id && r->measuredCurrent_A) return worth(*r->measuredCurrent_A);
    }
    return std::nullopt;
}

}  // namespace ilvek
