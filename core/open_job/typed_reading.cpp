#include "open_job/typed_reading.h"

#include <algorithm>
#include <array>

#include "base/text.h"

namespace ilvek {

namespace {

struct ShownWord {
    std::string_view word;
    Shown shown;
};

constexpr std::array shownTyped{ShownWord{"bright", Shown::Bright},     ShownWord{"lamp bright", Shown::Bright},
                                ShownWord{"lit", Shown::Bright},        ShownWord{"dim", Shown::Dim},
                                ShownWord{"lamp dim", Shown::Dim},      ShownWord{"dark", Shown::Dark},
                                ShownWord{"lamp dark", Shown::Dark},    ShownWord{"tripped", Shown::Tripped},
                                ShownWord{"trips", Shown::Tripped},     ShownWord{"breaker tripped", Shown::Tripped},
                                ShownWord{"holds", Shown::Holds},       ShownWord{"breaker holds", Shown::Holds},
                                ShownWord{"moves", Shown::Moves},       ShownWord{"stuck high", Shown::StuckHigh},
                                ShownWord{"stuck low", Shown::StuckLow}};

// Takes `word` and what separates it off the front; false where the text does not begin with it.
bool takeFront(std::string_view& text, std::string_view word)
{
    if (text.size() < word.size() || lowered(text.substr(0, word.size())) != word) return false;
    const bool isWord = word.back() >= 'a' && word.back() <= 'z';
    if (isWord && text.size() > word.size() && text[word.size()] != ' ') return false;
    text = trimmed(text.substr(word.size()));
    return true;
}

bool takeBack(std::string_view& text, std::string_view word)
{
    if (text.size() <= word.size() || lowered(text.substr(text.size() - word.size())) != word ||
        text[text.size() - word.size() - 1] != ' ')
        return false;
    text = trimmed(text.substr(0, text.size() - word.size()));
    return true;
}

FigureKind kindOfUnit(Unit unit, FigureKind asked)
{
    switch (unit) {
        case Unit::Volt:
            return unitOfKind(asked) == Unit::Volt ? asked : FigureKind::Volts;
        case Unit::Ohm:
            return FigureKind::Ohms;
        case Unit::Ampere:
            return FigureKind::Amperes;
        case Unit::Percent:
            return FigureKind::Percent;
        case Unit::Hertz:
            return FigureKind::Hertz;
        case Unit::Second:
            return FigureKind::Seconds;
        default:
            return asked;
    }
}

// A figure in whatever unit stands with it, else in the one that is asked for.
Result<Quantity> anyFigure(std::string_view text, Unit asked, std::optional<double> clampScale)
{
    auto as = parseQuantity(text, asked, clampScale);
    if (as || asked == Unit::None) return as;
    const auto other = parseQuantity(text, Unit::None);
    if (!other || other->unit == Unit::None) return as;  // the first error names what is wrong
    return other;
}

}  // namespace

Unit unitOfKind(FigureKind kind)
{
    switch (kind) {
        case FigureKind::Ohms:
            return Unit::Ohm;
        case FigureKind::Amperes:
            return Unit::Ampere;
        case FigureKind::Percent:
            return Unit::Percent;
        case FigureKind::Hertz:
            return Unit::Hertz;
        case FigureKind::Seconds:
            return Unit::Second;
        case FigureKind::Shown:
        case FigureKind::Reported:
            return Unit::None;
        default:
            return Unit::Volt;
    }
}

FigureKind kindAsked(TestKind test)
{
    switch (test) {
        case TestKind::Alternating:
            return FigureKind::AlternatingVolts;
        case TestKind::Junction:
            return FigureKind::DiodeVolts;
        case TestKind::Shown:
            return FigureKind::Shown;
        case TestKind::Reported:
            return FigureKind::Reported;
        default:
            return kindOfUnit(unitAsked(test), FigureKind::Volts);
    }
}

namespace {

// Where lowest and highest part, "11.8..12.4", "11.8 to 12.4", "11.8–12.4" or "11.8-12.4": from and behind the sign.
std::pair<std::size_t, std::size_t> rangeSign(std::string_view text)
{
    for (const std::string_view sign : {"...", "..", "…", " to ", "–"}) {
        if (const auto at = text.find(sign); at != std::string_view::npos && at > 0) return {at, at + sign.size()};
    }
    // A minus between two figures; one in front of a figure is its own.
    const auto isDigit = [](char c) { return c >= '0' && c <= '9'; };
    for (std::size_t at = 1; at + 1 < text.size(); ++at) {
        if (text[at] == '-' && isDigit(text[at - 1]) && isDigit(text[at + 1])) return {at, at + 1};
    }
    return {std::string_view::npos, 0};
}

}  // namespace

Result<TypedReading> parseReading(std::string_view text, FigureKind asked, double clampScale_mVPerA)
{
    const std::string item(text);
    TypedReading typed;
    std::string_view rest = trimmed(text);
    const std::string whole = lowered(rest);
    for (const ShownWord& w : shownTyped) {
        if (whole != w.word) continue;
        typed.kind = FigureKind::Shown;
        typed.shows = w.shown;
        return typed;
    }
    typed.inShutDown = takeBack(rest, "tripped");
    const auto scale = clampScale_mVPerA > 0 ? std::optional(clampScale_mVPerA) : std::nullopt;
    if (const auto at = rest.find('@'); at != std::string_view::npos) {
        const auto current = parseQuantity(rest.substr(at + 1), Unit::Ampere, scale);
        if (!current) return tl::unexpected(current.error());
        if (current->overLimit) return fail(item, "OL is no current; choose a larger range");
        typed.current_A = current->value;
        rest = trimmed(rest.substr(0, at));
    }
    typed.kind = asked == FigureKind::Shown ? FigureKind::Volts : asked;
    bool fixed = true;
    if (takeFront(rest, "~") || takeBack(rest, "ac"))
        typed.kind = FigureKind::AlternatingVolts;
    else if (takeFront(rest, "diode"))
        typed.kind = FigureKind::DiodeVolts;
    else if (takeFront(rest, "module"))
        typed.kind = FigureKind::Reported;
    else
        fixed = false;
    if (rest.find('%') != std::string_view::npos) takeBack(rest, "duty");
    std::string_view first = rest, second;
    if (const auto [from, behind] = rangeSign(rest); from != std::string_view::npos) {
        first = trimmed(rest.substr(0, from));
        second = trimmed(rest.substr(behind));
    }
    // "11.8..12.4 V": the unit stands once.
    const Unit unit = unitOfKind(typed.kind);
    auto high = second.empty() ? Result<Quantity>(Quantity{}) : anyFigure(second, unit, scale);
    if (!high) return tl::unexpected(high.error());
    auto value = fixed ? parseQuantity(first, unit) : anyFigure(first, second.empty() ? unit : high->unit, scale);
    if (!value) return tl::unexpected(value.error());
    if (!fixed) typed.kind = kindOfUnit(value->unit, typed.kind);
    if (!second.empty()) {
        if (value->overLimit || high->overLimit || high->unit != value->unit)
            return fail(item, "lowest and highest are two figures of one unit, as 11.8..12.4 V");
        if (high->value < value->value) std::swap(*high, *value);
        typed.most = high->value;
    }
    typed.value = *value;
    if (typed.kind == FigureKind::Amperes && unitOfKind(asked) != Unit::Ampere && typed.current_A)
        return fail(item, "amperes have no second current beside them");
    return typed;
}

}  // namespace ilvek
