#include "proving/reading.h"

#include <array>

#include "base/text.h"

namespace ilvek {

namespace {

struct TestWords {
    std::string_view id;
    std::string_view name;
};

constexpr std::array<TestWords, 14> words{TestWords{"battery", "battery of the minute"},
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
                                          TestWords{"look", "look at the terminal"}};

constexpr std::array<TestWords, kindsOfFound> finds{
    TestWords{"as-drawn", "as drawn"}, TestWords{"damaged", "damaged or loose"},
    TestWords{"other-wire", "another wire"}, TestWords{"empty", "empty cavity"}};

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
    if (test == TestKind::Look) return Unit::None;
    return test == TestKind::Resistance || test == TestKind::PartResistance ? Unit::Ohm : Unit::Volt;
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

std::string figureOf(const Reading& reading)
{
    return reading.found ? std::string(foundWords(*reading.found)) : formatQuantity(reading.value);
}

}  // namespace ilvek
