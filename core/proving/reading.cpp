#include "proving/reading.h"

#include <algorithm>
#include <array>

#include "base/text.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// By kind.
constexpr std::array<std::string_view, 22> tests{
    "battery",         "return-drop", "open-supply", "absent-supply", "loaded-supply", "ground-swap",
    "segment-walk",    "fuse-check",  "reference",   "level",         "resistance",    "point",
    "part-resistance", "look",        "current",     "alternating",   "duty",          "frequency",
    "duration",        "junction",    "shown",       "reported"};

constexpr std::array<std::string_view, kindsOfFound> finds{"as-drawn", "damaged", "other-wire", "empty"};

constexpr std::array<std::string_view, kindsOfShown> shows{"bright", "dim",   "dark",       "tripped",
                                                           "holds",  "moves", "stuck-high", "stuck-low"};

}  // namespace

std::string_view testName(TestKind test)
{
    return inWords(fmt::format("test.{}", testId(test)));
}

std::string_view testId(TestKind test)
{
    return tests[static_cast<std::size_t>(test)];
}

std::optional<TestKind> testFromId(std::string_view id)
{
    for (std::size_t i = 0; i < tests.size(); ++i) {
        if (tests[i] == id) return static_cast<TestKind>(i);
    }
    return std::nullopt;
}

Unit unitAsked(TestKind test)
{
    switch (test) {
        case TestKind::Look:
        case TestKind::Shown:
        case TestKind::Reported:
            return Unit::None;
        case TestKind::Resistance:
        case TestKind::PartResistance:
            return Unit::Ohm;
        case TestKind::Current:
            return Unit::Ampere;
        case TestKind::Duty:
            return Unit::Percent;
        case TestKind::Frequency:
            return Unit::Hertz;
        case TestKind::Duration:
            return Unit::Second;
        default:
            return Unit::Volt;
    }
}

bool isVoltageTest(TestKind test)
{
    return unitAsked(test) == Unit::Volt && test != TestKind::Alternating && test != TestKind::Junction;
}

std::string_view shownWords(Shown shown)
{
    return inWords(fmt::format("shown.{}", shownId(shown)));
}

std::string_view shownId(Shown shown)
{
    return shows[static_cast<std::size_t>(shown)];
}

std::optional<Shown> shownFromId(std::string_view id)
{
    for (std::size_t i = 0; i < shows.size(); ++i) {
        if (shows[i] == id) return static_cast<Shown>(i);
    }
    return std::nullopt;
}

std::string_view foundWords(Found found)
{
    return inWords(fmt::format("found.{}", foundId(found)));
}

std::string_view foundId(Found found)
{
    return finds[static_cast<std::size_t>(found)];
}

std::optional<Found> foundFromId(std::string_view id)
{
    for (std::size_t i = 0; i < finds.size(); ++i) {
        if (finds[i] == id) return static_cast<Found>(i);
    }
    return std::nullopt;
}

std::optional<Found> parseFound(std::string_view text)
{
    const std::string typed = lowered(trimmed(text));
    std::optional<Found> only;
    for (std::size_t i = 0; i < finds.size() && !typed.empty(); ++i) {
        if (typed != std::to_string(i + 1) && !foundWords(static_cast<Found>(i)).starts_with(typed)) continue;
        if (only) return std::nullopt;
        only = static_cast<Found>(i);
    }
    return only;
}

std::optional<Condition> conditionOf(const Map& map, const SetUp& setUp, TestKind test)
{
    auto condition = conditionOf(map, setUp);
    if (condition && unitAsked(test) == Unit::Ohm) condition->alone = partAlone(map, setUp);
    return condition;
}

std::optional<Condition> conditionOf(const Map& map, const Reading& reading)
{
    return conditionOf(map, reading, reading.test);
}

double partOhms(const Reading& reading)
{
    constexpr double leadsCountBelow_ohm = 10;
    const double read = reading.value.value;
    return read < leadsCountBelow_ohm ? std::max(0.0, read - reading.testLeads_ohm.value_or(0)) : read;
}

std::string figureOf(const Reading& reading)
{
    if (reading.found) return std::string(foundWords(*reading.found));
    if (reading.shows) return std::string(shownWords(*reading.shows));
    if (!reading.most) return formatQuantity(reading.value);
    Quantity most = reading.value;
    most.value = *reading.most;
    return formatQuantity(reading.value) + " to " + formatQuantity(most);
}

}  // namespace ilvek
