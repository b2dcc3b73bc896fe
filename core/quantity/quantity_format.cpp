#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

#include "quantity/quantity.h"

namespace ilvek {

namespace {

struct Names {
    std::string_view symbol;
    std::string_view name;
};

constexpr std::array<Names, 14> names{Names{"", "plain figures"},
                                      Names{"V", "volts"},
                                      Names{"A", "amperes"},
                                      Names{"Ω", "ohms"},
                                      Names{"W", "watts"},
                                      Names{"%", "per cent"},
                                      Names{"Hz", "hertz"},
                                      Names{"°C", "degrees Celsius"},
                                      Names{"s", "seconds"},
                                      Names{"m", "metres"},
                                      Names{"mm²", "square millimetres"},
                                      Names{"mV/A", "millivolts per ampere"},
                                      Names{"K", "kelvins"},
                                      Names{"H", "henries"}};

struct Scale {
    double factor;
    std::string_view prefix;
};

bool takesPrefix(Unit unit)
{
    return unit == Unit::Volt || unit == Unit::Ampere || unit == Unit::Ohm || unit == Unit::Watt ||
           unit == Unit::Hertz || unit == Unit::Second || unit == Unit::Henry;
}

// Ohms are written down to 0.01 Ω before milliohms are used: "0.42 Ω" is what people write.
Scale scaleFor(double magnitude, Unit unit)
{
    if (!takesPrefix(unit) || magnitude == 0.0) return {1.0, ""};
    const double milliBelow = unit == Unit::Ohm ? 0.0995 : 0.9995;
    if (magnitude >= 999.5e6) return {1e9, "G"};
    if (magnitude >= 999.5e3) return {1e6, "M"};
    if (magnitude >= 999.5) return {1e3, "k"};
    if (magnitude >= milliBelow) return {1.0, ""};
    if (magnitude >= 0.9995e-3 || unit == Unit::Ohm || unit == Unit::Volt) return {1e-3, "m"};
    if (magnitude >= 0.9995e-6) return {1e-6, "µ"};
    return {1e-9, "n"};
}

// Decimals for a computed figure: volts like a meter (12.41 V, 360 mV), all else three significant digits, trailing
// zeros left out.
int decimalsFor(double scaled, Unit unit, std::string_view prefix)
{
    const double magnitude = std::abs(scaled);
    if (unit == Unit::Volt && prefix.empty()) return magnitude >= 99.95 ? 1 : 2;
    if (prefix == "m" && unit != Unit::Ohm) return magnitude >= 9.95 ? 0 : 1;
    if (magnitude >= 99.5) return 0;
    if (magnitude >= 9.95) return 1;
    return 2;
}

std::string withoutMinusZero(std::string text)
{
    if (text.starts_with('-') && text.find_first_not_of("-0.") == std::string::npos) text.erase(0, 1);
    if (text.starts_with('-')) text.replace(0, 1, "−");
    return text;
}

}  // namespace

std::string_view unitSymbol(Unit unit)
{
    return names[static_cast<std::size_t>(unit)].symbol;
}

std::string_view unitName(Unit unit)
{
    return names[static_cast<std::size_t>(unit)].name;
}

std::string formatQuantity(const Quantity& quantity)
{
    if (quantity.overLimit) return "OL";
    const Scale scale = scaleFor(std::abs(quantity.value), quantity.unit);
    const double scaled = quantity.value / scale.factor;
    int decimals = decimalsFor(scaled, quantity.unit, scale.prefix);
    if (quantity.resolution > 0.0) {
        decimals = std::clamp(static_cast<int>(std::lround(-std::log10(quantity.resolution / scale.factor))), 0, 6);
    }
    if (quantity.value == 0.0 && quantity.resolution == 0.0) decimals = 0;
    const bool trims = quantity.resolution == 0.0 && quantity.unit != Unit::Volt;
    std::string figure = fmt::format("{:.{}f}", scaled, decimals);
    if (trims && figure.find('.') != std::string::npos) {
        figure.erase(figure.find_last_not_of('0') + 1);
        if (figure.back() == '.') figure.pop_back();
    }
    std::string text = withoutMinusZero(figure);
    const std::string unit = std::string(scale.prefix) + std::string(unitSymbol(quantity.unit));
    return unit.empty() ? text : text + " " + unit;
}

std::string exactQuantity(const Quantity& quantity)
{
    if (quantity.overLimit) return "OL";
    const std::string unit(unitSymbol(quantity.unit));
    return unit.empty() ? fmt::format("{}", quantity.value) : fmt::format("{} {}", quantity.value, unit);
}

std::string formatShare(double share)
{
    const double percent = share * 100.0;
    return fmt::format("{:.{}f} %", percent, std::abs(percent) < 9.95 ? 1 : 0);
}

}  // namespace ilvek
