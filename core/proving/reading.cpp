#include "proving/reading.h"

#include <algorithm>
#include <array>

#include "base/text.h"

namespace ilvek {

namespace {

struct TestWords {
    std::string_view id;
    std::string_view name;
};

constexpr std::array<TestWords, 22> words{TestWords{"battery", "battery of the minute"},
                                          TestWords{"return-drop", "return under load"},
                                          TestWords{"open-supply", "supply, open-circuit"},
                                          TestWords{"absent-supply", "supply must be absent"},
                                          TestWords{"loaded-supply", "supply under load"},
                                          TestWords{"ground-swap", "ground swap"},
                                          TestWords{"segment-walk", "segment walk"},
                                          TestWords{"fuse-check", "fuse, both sides"},
                                          TestWords{"reference", "reference voltage"},
                                          TestWords{"level", "level"},
                                          TestWords{"resistance", "resistance"},
                                          TestWords{"point", "reading at a point"},
                                          TestWords{"part-resistance", "resistance between points"},
                                          TestWords{"look", "look at the terminal"},
                                          TestWords{"current", "current in a conductor"},
                                          TestWords{"alternating", "alternating volts"},
                                          TestWords{"duty", "share of time"},
                                          TestWords{"frequency", "frequency"},
                                          TestWords{"duration", "duration"},
                                          TestWords{"junction", "diode mode"},
                                          TestWords{"shown", "lamp, breaker or signal"},
                                          TestWords{"reported", "as the module reports it"}};

constexpr std::array<TestWords, kindsOfFound> finds{
    TestWords{"as-drawn", "as drawn"}, TestWords{"damaged", "damaged or loose"},
    TestWords{"other-wire", "another wire"}, TestWords{"empty", "empty cavity"}};

constexpr std::array<TestWords, kindsOfShown> shows{
    TestWords{"bright", "lamp bright"},      TestWords{"dim", "lamp dim"},        TestWords{"dark", "lamp dark"},
    TestWords{"tripped", "breaker tripped"}, TestWords{"holds", "breaker holds"}, TestWords{"moves", "moves"},
    TestWords{"stuck-high", "stuck high"},   TestWords{"stuck-low", "stuck low"}};

}  // namespace

std::string_view testName(TestKind test)
{
    return words[static_cast<std::size_t>(test)].name;
}

std::string_view testId(TestKind test)
{
    return words[static_cast<std::size_t>(test)].id;
}

std::optional<TestKind> testFromId(std::string_view id)
{
    for (std::size_t i = 0; i < words.size(); ++i) {
        if (words[i].id == id) return static_cast<TestKind>(i);
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
    return shows[static_cast<std::size_t>(shown)].name;
}

std::string_view shownId(Shown shown)
{
    return shows[static_cast<std::size_t>(shown)].id;
}

std::optional<Shown> shownFromId(std::string_view id)
{
    for (std::size_t i = 0; i < shows.size(); ++i) {
        if (shows[i].id == id) return static_cast<Shown>(i);
    }
    return std::nullopt;
}

std::string_view foundWords(Found found)
{
    return finds[static_cast<std::size_t>(found)].name;
}

std::string_view foundId(Found found)
{
    return finds[static_cast<std::size_t>(found)].id;
}

std::optional<Found> foundFromId(std::string_view id)
{
    for (std::size_t i = 0; i < finds.size(); ++i) {
        if (finds[i].id == id) return static_cast<Found>(i);
    }
    return std::nullopt;
}

std::optional<Found> parseFound(std::string_view text)
{
    const std::string typed = lowered(trimmed(text));
    std::optional<Found> only;
    for (std::size_t i = 0; i < finds.size() && !typed.empty(); ++i) {
        if (typed != std::to_string(i + 1) && !finds[i].name.starts_with(typed)) continue;
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
