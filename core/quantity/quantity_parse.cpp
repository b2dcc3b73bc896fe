// Reading figures as people type them. The text is cut into sign, digits, an optional prefix standing for the decimal
// sign (4k7), and the unit with its prefix.
#include <fast_float/fast_float.h>
#include <array>
#include <cmath>

#include "base/text.h"
#include "quantity/quantity.h"

namespace ilvek {

namespace {

struct UnitWord {
    std::string_view word;  // lower case
    Unit unit;
    double factor;
};

// Words that are a unit as a whole, compared in lower case; prefixes are tried on the symbols below only.
constexpr std::array unitWords{UnitWord{"volt", Unit::Volt, 1},
                               UnitWord{"volts", Unit::Volt, 1},
                               UnitWord{"vdc", Unit::Volt, 1},
                               UnitWord{"amp", Unit::Ampere, 1},
                               UnitWord{"amps", Unit::Ampere, 1},
                               UnitWord{"ampere", Unit::Ampere, 1},
                               UnitWord{"amperes", Unit::Ampere, 1},
                               UnitWord{"adc", Unit::Ampere, 1},
                               UnitWord{"watt", Unit::Watt, 1},
                               UnitWord{"watts", Unit::Watt, 1},
                               UnitWord{"percent", Unit::Percent, 1},
                               UnitWord{"per cent", Unit::Percent, 1},
                               UnitWord{"hertz", Unit::Hertz, 1},
                               UnitWord{"°c", Unit::Celsius, 1},
                               UnitWord{"c", Unit::Celsius, 1},
                               UnitWord{"degc", Unit::Celsius, 1},
                               UnitWord{"mm²", Unit::SquareMillimetre, 1},
                               UnitWord{"mm2", Unit::SquareMillimetre, 1},
                               UnitWord{"mv/a", Unit::MilliVoltPerAmpere, 1},
                               UnitWord{"min", Unit::Second, 60},
                               UnitWord{"cm", Unit::Metre, 0.01},
                               UnitWord{"mm", Unit::Metre, 0.001}};

struct UnitSymbol {
    std::string_view symbol;
    Unit unit;
};

// Ohm has two code points (U+03A9, U+2126) and several spellings.
constexpr std::array unitSymbols{
    UnitSymbol{"V", Unit::Volt},   UnitSymbol{"v", Unit::Volt},    UnitSymbol{"A", Unit::Ampere},
    UnitSymbol{"a", Unit::Ampere}, UnitSymbol{"Ω", Unit::Ohm},     UnitSymbol{"\xE2\x84\xA6", Unit::Ohm},
    UnitSymbol{"ohms", Unit::Ohm}, UnitSymbol{"ohm", Unit::Ohm},   UnitSymbol{"Ohm", Unit::Ohm},
    UnitSymbol{"Ohms", Unit::Ohm}, UnitSymbol{"R", Unit::Ohm},     UnitSymbol{"W", Unit::Watt},
    UnitSymbol{"w", Unit::Watt},   UnitSymbol{"%", Unit::Percent}, UnitSymbol{"Hz", Unit::Hertz},
    UnitSymbol{"hz", Unit::Hertz}, UnitSymbol{"s", Unit::Second},  UnitSymbol{"m", Unit::Metre},
    UnitSymbol{"K", Unit::Kelvin}, UnitSymbol{"H", Unit::Henry}};

struct Prefix {
    std::string_view text;
    double factor;
};

constexpr std::array prefixes{Prefix{"µ", 1e-6}, Prefix{"\xCE\xBC", 1e-6}, Prefix{"u", 1e-6},
                              Prefix{"n", 1e-9}, Prefix{"m", 1e-3},        Prefix{"k", 1e3},
                              Prefix{"K", 1e3},  Prefix{"M", 1e6},         Prefix{"G", 1e9}};

struct Suffix {
    Unit unit = Unit::None;  // None: only a prefix (or nothing) was written
    double factor = 1.0;
};

std::optional<Suffix> readSuffix(std::string_view text, Unit expected)
{
    if (text.empty()) return Suffix{};
    const std::string low = lowered(text);
    for (const UnitWord& word : unitWords) {
        if (word.word == low) return Suffix{word.unit, word.factor};
    }
    for (const UnitSymbol& symbol : unitSymbols) {
        const bool milli = symbol.symbol == "m" && expected != Unit::Metre;
        const bool kilo = symbol.symbol == "K" && expected != Unit::Kelvin;
        if (symbol.symbol == text && !milli && !kilo) return Suffix{symbol.unit, 1.0};
    }
    for (const Prefix& prefix : prefixes) {
        if (!text.starts_with(prefix.text)) continue;
        const std::string_view rest = trimmed(text.substr(prefix.text.size()));
        if (rest.empty()) return Suffix{Unit::None, prefix.factor};
        for (const UnitSymbol& symbol : unitSymbols) {
            if (symbol.symbol == rest && symbol.unit != Unit::Percent) return Suffix{symbol.unit, prefix.factor};
        }
    }
    return std::nullopt;
}

// The figure at the front of the text, as digits with a point, and what follows it.
struct Figure {
    std::string digits;
    std::string_view rest;
    int decimals = 0;
    int separators = 0;
};

Figure cutFigure(std::string_view text)
{
    Figure figure;
    std::size_t at = 0;
    if (text.starts_with("\xE2\x88\x92"))
        figure.digits = "-", at = 3;  // U+2212, the minus sign of print
    else if (text.starts_with("-"))
        figure.digits = "-", at = 1;
    else if (text.starts_with("+"))
        at = 1;
    for (; at < text.size(); ++at) {
        const char c = text[at];
        if (c == '.' || c == ',') {
            figure.digits += '.';
            ++figure.separators;
        } else if (c >= '0' && c <= '9') {
            figure.digits += c;
            if (figure.separators > 0) ++figure.decimals;
        } else {
            break;
        }
    }
    figure.rest = text.substr(at);
    return figure;
}

bool isDigit(char c)
{
    return c >= '0' && c <= '9';
}

// 4k7, 2R2, 1M5: a prefix or R between digits stands for the decimal sign. SOURCE: IEC 60062.
bool takeInfix(Figure& figure, double& factor)
{
    if (figure.separators > 0 || figure.rest.size() < 2 || !isDigit(figure.rest[1])) return false;
    switch (figure.rest[0]) {
        case 'R':
            factor = 1.0;
            break;
        case 'k':
        case 'K':
            factor = 1e3;
            break;
        case 'M':
            factor = 1e6;
            break;
        case 'm':
            factor = 1e-3;
            break;
        default:
            return false;
    }
    const Figure after = cutFigure(figure.rest.substr(1));
    if (after.separators > 0) return false;
    figure.digits += '.' + after.digits;
    figure.decimals = static_cast<int>(after.digits.size());
    figure.rest = after.rest;
    figure.separators = 1;
    return true;
}

// An exponent, as in 1.2e-3; "e" alone or followed by anything else is left where it is.
void takeExponent(Figure& figure)
{
    if (figure.rest.size() < 2 || (figure.rest[0] != 'e' && figure.rest[0] != 'E')) return;
    std::size_t at = figure.rest[1] == '-' || figure.rest[1] == '+' ? 2 : 1;
    const std::size_t first = at;
    while (at < figure.rest.size() && isDigit(figure.rest[at]))
        ++at;
    if (at == first) return;
    figure.digits += figure.rest.substr(0, at);
    figure.rest.remove_prefix(at);
}

bool isOverLimit(std::string_view text)
{
    const std::string low = lowered(text);
    for (const std::string_view word : {"ol", "o.l", "o.l.", "0l", "0.l", "ofl", "over limit", "overload", "∞"}) {
        if (low == word) return true;
        if (low.size() > word.size() + 1 && low.starts_with(word) && low[word.size()] == ' ') {
            return readSuffix(trimmed(text.substr(word.size())), Unit::Ohm).has_value();
        }
    }
    return false;
}

std::string wrongUnit(Unit written, Unit expected)
{
    return "this is in " + std::string(unitName(written)) + ", but " + std::string(unitName(expected)) +
           " are asked for";
}

Result<Quantity> withUnit(std::string_view typed, double figure, double resolution, Suffix suffix, Unit expected,
                          std::optional<double> clampScale)
{
    const Unit unit = suffix.unit == Unit::None ? expected : suffix.unit;
    // Divided where the factor is below one: 300 mV is 0.3 V to the last bit.
    const auto scaled = [&](double x) {
        return suffix.factor < 1 ? x / std::round(1 / suffix.factor) : x * suffix.factor;
    };
    double value = scaled(figure);
    double step = scaled(resolution);
    if (expected == Unit::Ampere && unit == Unit::Volt && clampScale && *clampScale > 0) {
        // I = U / s, with s the clamp's scale in mV per A
        value = value * 1000.0 / *clampScale;
        step = step * 1000.0 / *clampScale;
        return Quantity{value, Unit::Ampere, false, step};
    }
    if (expected != Unit::None && unit != expected) return fail(std::string(typed), wrongUnit(unit, expected));
    if (!std::isfinite(value)) return fail(std::string(typed), "the figure is too large to be meant");
    return Quantity{value, unit, false, step};
}

Result<Quantity> parse(std::string_view typed, Unit expected, std::optional<double> clampScale, bool unitRequired)
{
    const std::string_view text = trimmed(typed);
    const std::string item(typed);
    if (text.empty()) return fail(item, "no figure was typed");
    if (text.size() > 64) return fail(item.substr(0, 64) + " …", "this is too long for a figure");
    if (!isUtf8(text)) return fail("the figure", "the text is not valid UTF-8");
    if (isOverLimit(text)) return Quantity{0.0, expected, true, 0.0};

    Figure figure = cutFigure(text);
    if (figure.separators > 1) return fail(item, "there is more than one decimal sign");
    double infix = 1.0;
    const bool hadInfix = takeInfix(figure, infix);
    if (!hadInfix) takeExponent(figure);
    const std::string_view unitText = trimmed(figure.rest);

    double value = 0.0;
    const char* end = figure.digits.data() + figure.digits.size();
    const auto read = fast_float::from_chars(figure.digits.data(), end, value);
    if (read.ec != std::errc() || read.ptr != end) return fail(item, "this is not a figure");
    const auto suffix = readSuffix(unitText, expected);
    if (!suffix) return fail(item, "“" + std::string(unitText) + "” is no unit that is known here");
    if (unitRequired && suffix->unit == Unit::None && expected != Unit::None)
        return fail(item, "the unit is missing; " + std::string(unitName(expected)) + " are asked for");
    const double resolution = std::pow(10.0, -figure.decimals) * infix;
    return withUnit(typed, value * infix, resolution, *suffix, expected, clampScale);
}

}  // namespace

Result<Quantity> parseQuantity(std::string_view text, Unit expected, std::optional<double> clampScale_mVPerA)
{
    return parse(text, expected, clampScale_mVPerA, false);
}

Result<Quantity> parseQuantityWithUnit(std::string_view text, Unit expected)
{
    auto quantity = parse(text, expected, std::nullopt, true);
    if (quantity && quantity->overLimit) return fail(std::string(text), "a figure is needed here, not OL");
    return quantity;
}

}  // namespace ilvek
