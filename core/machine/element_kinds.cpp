#include "machine/element_kinds.h"

namespace ilvek {

namespace {

using K = ElementKind;

ValueSpec must(std::string_view key, Unit unit, double low, double high)
{
    return {key, unit, true, low, high};
}

ValueSpec may(std::string_view key, Unit unit, double low, double high)
{
    return {key, unit, false, low, high};
}

ValueSpec resistance(double low, double high)
{
    return must("resistance", Unit::Ohm, low, high);
}

// Drivers: on-resistance; limit of a drive that holds its current; current at which it shuts itself down; share of the
// period that it is on.
std::vector<ValueSpec> driverValues()
{
    return {resistance(1e-3, 100), may("limit", Unit::Ampere, 1e-3, 200), may("shut_down", Unit::Ampere, 1e-3, 500),
            may("duty", Unit::Percent, 1, 100)};
}

// Bounds are what parts on machines up to 60 V can have; outside them a figure is a slip of the keyboard.
std::vector<ElementKindSpec> makeSpecs()
{
    return {
        {K::Battery,
         "battery",
         {"plus", "minus"},
         {must("emf", Unit::Volt, 1, 60), resistance(1e-4, 1), may("charge_resistance", Unit::Ohm, 1e-4, 5)}},
        {K::Alternator,
         "alternator",
         {"plus", "minus"},
         {must("emf", Unit::Volt, 1, 60), resistance(1e-3, 10), must("limit", Unit::Ampere, 1, 500)},
         false,
         false,
         true},
        {K::Wire,
         "wire",
         {"a", "b"},
         {must("length", Unit::Metre, 0.005, 200), must("section", Unit::SquareMillimetre, 0.05, 300),
          may("temperature", Unit::Celsius, -60, 300)},
         true},
        {K::Fuse,
         "fuse",
         {"in", "out"},
         {must("rating", Unit::Ampere, 0.1, 1000), may("resistance", Unit::Ohm, 1e-5, 5),
          may("opens_at", Unit::Percent, 100, 1000)},
         true},
        {K::Joint, "joint", {"a", "b"}, {resistance(0, 1)}, true},
        {K::Contact, "contact", {"a", "b"}, {resistance(0, 1)}, true},
        {K::Switch, "switch", {"a", "b"}, {resistance(0, 10)}, true, false, true},
        {K::Relay,
         "relay",
         {"30", "87", "86", "85"},
         {must("coil", Unit::Ohm, 1, 5000), must("contact", Unit::Ohm, 1e-4, 1), must("pick_up", Unit::Volt, 0.5, 60),
          must("drop_out", Unit::Volt, 0.1, 60)},
         true},
        {K::Resistor, "resistor", {"a", "b"}, {resistance(1e-3, 1e8)}, false, true},
        {K::Winding,
         "winding",
         {"a", "b"},
         {resistance(1e-2, 1e5), may("inductance", Unit::Henry, 1e-6, 100),
          may("temperature", Unit::Celsius, -60, 300)},
         false,
         true,
         true},
        {K::Motor,
         "motor",
         {"plus", "minus"},
         {must("voltage", Unit::Volt, 1, 60), must("current", Unit::Ampere, 0.01, 1000)},
         false,
         true},
        {K::Lamp,
         "lamp",
         {"a", "b"},
         {must("voltage", Unit::Volt, 1, 60), must("power", Unit::Watt, 0.1, 1000)},
         false,
         true},
        {K::Diode, "diode", {"anode", "cathode"}, {must("voltage", Unit::Volt, 0.1, 3)}, false, true},
        {K::Sensor,
         "sensor",
         {"supply", "signal", "return"},
         {resistance(50, 1e6), must("output", Unit::Percent, 0, 100), may("output_resistance", Unit::Ohm, 0, 1e5)},
         false,
         true},
        {K::Thermistor,
         "thermistor",
         {"a", "b"},
         {may("resistance_25", Unit::Ohm, 10, 1e6), may("beta", Unit::Kelvin, -2000, 8000),
          must("temperature", Unit::Celsius, -60, 300)},
         false,
         true},
        {K::Hall,
         "hall",
         {"supply", "signal", "return"},
         {must("current", Unit::Ampere, 1e-4, 0.2), resistance(1, 1e4)},
         false,
         true,
         true},
        {K::SupplyPort,
         "supply port",
         {"supply", "return"},
         {must("current", Unit::Ampere, 1e-5, 200), must("brown_out", Unit::Volt, 0.5, 40)},
         false,
         true},
        {K::Regulator,
         "regulator",
         {"supply", "output", "return"},
         {must("voltage", Unit::Volt, 1, 30), resistance(1e-3, 100), must("limit", Unit::Ampere, 1e-3, 10),
          must("dropout", Unit::Volt, 0.1, 10)}},
        {K::PullUp, "pull-up", {"supply", "input"}, {resistance(100, 1e7)}},
        {K::Input, "input", {"input", "return"}, {resistance(100, 1e8)}},
        {K::LowSideDriver, "low-side driver", {"output", "return"}, driverValues(), false, false, true},
        {K::HighSideDriver, "high-side driver", {"supply", "output"}, driverValues(), false, false, true},
        {K::BusPort, "bus port", {"high", "low", "supply", "return"}, {resistance(1e3, 1e6)}},
    };
}

const std::vector<ElementKindSpec>& specs()
{
    static const std::vector<ElementKindSpec> all = makeSpecs();
    return all;
}

}  // namespace

const ElementKindSpec& specOf(ElementKind kind)
{
    return specs()[static_cast<std::size_t>(kind)];
}

const ElementKindSpec* specNamed(std::string_view name)
{
    for (const ElementKindSpec& spec : specs()) {
        if (spec.name == name) return &spec;
    }
    return nullptr;
}

}  // namespace ilvek
