#include "belief/in_doubt.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "quantity/quantity.h"
#include "suspects/suspects.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// Nearer to the map's figure is not worth a word; of what cannot be read easily, a wire's milliohms, only much more is.
constexpr double worthSaying = 1.5, farOff = 4;

// Two digits are enough of what a fit found.
double rounded(double x)
{
    if (x <= 0) return x;
    const double digit = std::pow(10.0, std::floor(std::log10(x)) - 1);
    return std::round(x / digit) * digit;
}

std::string figures(double is, double was, Unit unit)
{
    return inWords("in-doubt.about-not", formatQuantity({rounded(is), unit}), formatQuantity({rounded(was), unit}));
}

// The terminal whose own feed or part it is, or -1.
int terminalAt(const Map& map, int element)
{
    const std::string& id = map.element(element).id;
    for (std::size_t t = 0; t < map.terminals.size(); ++t) {
        for (const char* of : {"port ", "load ", "driver "}) {
            if (id == of + map.terminals[t].id) return static_cast<int>(t);
        }
    }
    return -1;
}

// Of what differs from state to state.
std::string inState(const Map& map, int state)
{
    return state < 0 ? "" : inWords("in-doubt.in-state", lowered(map.states[static_cast<std::size_t>(state)].name));
}

}  // namespace

std::string assumedWords(const Map& map, int element, double factor)
{
    const Element& e = map.element(element);
    const std::string place = partWords(map, element);
    switch (e.kind) {
        case ElementKind::SupplyPort: {
            const double was = e.value("current");
            return fmt::format("{} draws {}", place, figures(was * factor, was, Unit::Ampere));
        }
        case ElementKind::Motor: {
            // The factor is that of its resistance.
            const double was = e.value("current");
            return fmt::format("{} takes {}", place, figures(was / factor, was, Unit::Ampere));
        }
        case ElementKind::Lamp: {
            const double was = e.value("power");
            return fmt::format("{} takes {}", place, figures(was / factor, was, Unit::Watt));
        }
        case ElementKind::Battery:
            return inWords("in-doubt.stands-at", place, figures(e.value("emf") * factor, e.value("emf"), Unit::Volt));
        case ElementKind::Regulator: {
            const double was = e.value("voltage");
            return inWords("in-doubt.stands-at", place, figures(was * factor, was, Unit::Volt));
        }
        case ElementKind::Sensor:
            return inWords("in-doubt.stands-elsewhere-assumed", place);
        case ElementKind::Thermistor:
            return inWords("in-doubt.is-than-assumed", place, factor > 1 ? "colder" : "warmer");
        case ElementKind::Wire:
        case ElementKind::Contact:
        case ElementKind::Joint:
        case ElementKind::Fuse:
        case ElementKind::Switch:
        case ElementKind::Relay: {
            const double was = map.soundResistance_ohm(e);
            return fmt::format("{} has {}", place, figures(was * factor, was, Unit::Ohm));
        }
        default: {
            const double was = e.value("resistance");
            if (was > 0) return fmt::format("{} has {}", place, figures(was * factor, was, Unit::Ohm));
            return inWords("in-doubt.times-assumed", place, factor);
        }
    }
}

std::string settledBy(const Map& map, int element)
{
    const Element& e = map.element(element);
    const int terminal = terminalAt(map, element);
    const bool load = specOf(e.kind).isLoad && e.kind != ElementKind::SupplyPort;
    if (terminal >= 0 &&
        (e.kind == ElementKind::SupplyPort || e.kind == ElementKind::Motor || e.kind == ElementKind::Lamp))
        return inWords("in-doubt.a-clamp-on") + map.terminal(terminal).id;
    if (e.kind == ElementKind::Winding || e.kind == ElementKind::Resistor)
        return inWords("in-doubt.ohmmeter-unplugged", partWords(map, element));
    if (e.kind == ElementKind::Thermistor) return inWords("in-doubt.its-temperature");
    return load && terminal >= 0 ? inWords("in-doubt.a-clamp-on") + map.terminal(terminal).id : "";
}

std::string fitsIf(const Map& map, const Fit& fit, std::size_t most)
{
    std::vector<std::string> words;
    for (const auto& [element, factor, state] : fit.assumed) {
        const double off = std::max(factor, 1 / factor);
        if (words.size() < most && off >= (settledBy(map, element).empty() ? farOff : worthSaying))
            words.push_back(assumedWords(map, element, factor) + inState(map, state));
    }
    return words.empty() ? "" : inWords("in-doubt.fits-if") + listed(words);
}

std::string inDoubtWords(const Map& map, const Fit& fit)
{
    for (const auto& [element, factor, state] : fit.assumed) {
        if (std::max(factor, 1 / factor) < worthSaying) break;
        const std::string by = settledBy(map, element);
        if (!by.empty())
            return inWords("in-doubt.figure-doubt-perhaps-would",
                           assumedWords(map, element, factor) + inState(map, state), by);
    }
    return "";
}

}  // namespace ilvek
