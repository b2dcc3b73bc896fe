#include "practice/simulated_machine.h"

#include <cmath>

#include "circuit/operating_point.h"

namespace ilvek::practice {

Quantity asDisplayed(double volts_V)
{
    const double magnitude = std::abs(volts_V);
    const double perVolt = magnitude < 0.6 ? 1e4 : magnitude < 6.0 ? 1e3 : magnitude < 60.0 ? 100 : 10;
    return {std::round(volts_V * perVolt) / perVolt, Unit::Volt, false, 1.0 / perVolt};
}

Result<Quantity> SimulatedMachine::read(const Step& step) const
{
    if (unitAsked(step.test) != Unit::Volt) return fail(step.title, "the simulated meter reads volts only");
    Condition condition;
    condition.state = map_.stateIndex(step.state);
    const int red = map_.nodeIndex(step.red), black = map_.nodeIndex(step.black);
    if (condition.state < 0 || red < 0 || black < 0)
        return fail(step.title, "the step names a place that the map does not have");
    for (const std::string& id : step.unplugged)
        condition.unplugged.insert(map_.connectorIndex(id));
    const auto loads = loadCatalogue(map_.systemVoltage_V);
    if (const SubstituteLoad* load = findLoad(loads, step.load))
        condition.load = AppliedLoad{*load, map_.nodeIndex(step.loadFrom), map_.nodeIndex(step.loadTo)};
    condition.meter = Meter{red, black, 10e6};
    condition.faults = faults_;
    const auto point = operatingPoint(map_, condition);
    if (!point) return tl::unexpected(point.error());
    return asDisplayed(point->voltage(red, black));
}

}  // namespace ilvek::practice
