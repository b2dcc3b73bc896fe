#include "proving/reading.h"

#include <array>

namespace ilvek {

namespace {

struct TestWords {
    std::string_view id;
    std::string_view name;
};

constexpr std::array<TestWords, 13> words{TestWords{"battery", "battery of the minute"},
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
                                          TestWords{"part-resistance", "resistance between points"}};

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
    return test == TestKind::Resistance || test == TestKind::PartResistance ? Unit::Ohm : Unit::Volt;
}

}  // namespace ilvek
