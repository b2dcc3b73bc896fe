#include "base/text.h"

#include <gtest/gtest.h>

namespace ilvek {
namespace {

TEST(Text, TrimsWhiteSpaceAndNoBreakSpace)
{
    EXPECT_EQ(trimmed(" \t a b \r\n"), "a b");
    EXPECT_EQ(trimmed("\xC2\xA0x\xC2\xA0"), "x");
    EXPECT_EQ(trimmed("   "), "");
}

TEST(Text, ListsForPeople)
{
    EXPECT_EQ(listed({}), "");
    EXPECT_EQ(listed({"a"}), "a");
    EXPECT_EQ(listed({"a", "b"}), "a and b");
    EXPECT_EQ(listed({"a", "b", "c"}), "a, b and c");
}

TEST(Text, TellsUtf8FromOtherBytes)
{
    EXPECT_TRUE(isUtf8("plain"));
    EXPECT_TRUE(isUtf8("Ω · 24 °C − 𝄞"));
    EXPECT_FALSE(isUtf8("\xFF\xFE"));
    EXPECT_FALSE(isUtf8("\xC0\xAF")) << "overlong";
    EXPECT_FALSE(isUtf8("\xED\xA0\x80")) << "surrogate";
    EXPECT_FALSE(isUtf8("\xF4\x90\x80\x80")) << "beyond the last code point";
    EXPECT_FALSE(isUtf8("caf\xE9")) << "Latin-1";
    EXPECT_FALSE(isUtf8("\xE2\x82")) << "cut short";
}

}  // namespace
}  // namespace ilvek
