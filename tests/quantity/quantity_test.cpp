#include "quantity/quantity.h"

#include <gtest/gtest.h>

namespace ilvek {
namespace {

struct Typed {
    const char* text;
    Unit asked;
    double value;
};

class WhatPeopleType : public testing::TestWithParam<Typed> {};

TEST_P(WhatPeopleType, IsUnderstood)
{
    const auto read = parseQuantity(GetParam().text, GetParam().asked);
    ASSERT_TRUE(read) << read.error().message();
    EXPECT_DOUBLE_EQ(read->value, GetParam().value);
    EXPECT_EQ(read->unit, GetParam().asked);
    EXPECT_FALSE(read->overLimit);
}

INSTANTIATE_TEST_SUITE_P(Figures, WhatPeopleType,
                         testing::Values(Typed{"11.84", Unit::Volt, 11.84}, Typed{"11,84", Unit::Volt, 11.84},
                                         Typed{"11.84V", Unit::Volt, 11.84}, Typed{" 11.84 v ", Unit::Volt, 11.84},
                                         Typed{"-0.02", Unit::Volt, -0.02}, Typed{"−0,02", Unit::Volt, -0.02},
                                         Typed{"+5", Unit::Volt, 5}, Typed{".5", Unit::Volt, 0.5},
                                         Typed{"18m", Unit::Volt, 0.018}, Typed{"18 mV", Unit::Volt, 0.018},
                                         Typed{"4k7", Unit::Ohm, 4700}, Typed{"2R2", Unit::Ohm, 2.2},
                                         Typed{"1M5", Unit::Ohm, 1.5e6}, Typed{"23.8M", Unit::Ohm, 23.8e6},
                                         Typed{"0.4 ohm", Unit::Ohm, 0.4}, Typed{"0.4 Ohms", Unit::Ohm, 0.4},
                                         Typed{"120 Ω", Unit::Ohm, 120}, Typed{"10k\xE2\x84\xA6", Unit::Ohm, 1e4},
                                         Typed{"140 mA", Unit::Ampere, 0.14}, Typed{"3 amps", Unit::Ampere, 3},
                                         Typed{"62 %", Unit::Percent, 62}, Typed{"62 percent", Unit::Percent, 62},
                                         Typed{"250 Hz", Unit::Hertz, 250}, Typed{"1.2kHz", Unit::Hertz, 1200},
                                         Typed{"20 °C", Unit::Celsius, 20}, Typed{"2.4 m", Unit::Metre, 2.4},
                                         Typed{"2.5 mm²", Unit::SquareMillimetre, 2.5},
                                         Typed{"1e-3", Unit::Volt, 0.001}, Typed{"11.84 VDC", Unit::Volt, 11.84},
                                         Typed{"90 s", Unit::Second, 90}, Typed{"35 µA", Unit::Ampere, 35e-6}));

TEST(Quantity, OverLimitIsNotZero)
{
    for (const char* text : {"OL", "ol", "O.L", "0L", "OL MΩ"}) {
        const auto read = parseQuantity(text, Unit::Ohm);
        ASSERT_TRUE(read) << text;
        EXPECT_TRUE(read->overLimit) << text;
    }
    EXPECT_EQ(formatQuantity({0, Unit::Ohm, true}), "OL");
}

TEST(Quantity, TurnsTheOutputOfAClampIntoItsCurrent)
{
    // 14 mV at 10 mV per ampere is 1.4 A.
    const auto read = parseQuantity("14 mV", Unit::Ampere, 10.0);
    ASSERT_TRUE(read);
    EXPECT_DOUBLE_EQ(read->value, 1.4);
    EXPECT_EQ(read->unit, Unit::Ampere);
    EXPECT_FALSE(parseQuantity("14 mV", Unit::Ampere)) << "without a scale volts are no current";
}

struct Refused {
    const char* text;
    Unit asked;
    const char* reason;
};

class WhatCannotBeMeant : public testing::TestWithParam<Refused> {};

TEST_P(WhatCannotBeMeant, IsRefusedAndKept)
{
    const auto read = parseQuantity(GetParam().text, GetParam().asked);
    ASSERT_FALSE(read);
    EXPECT_EQ(read.error().item, GetParam().text);
    EXPECT_NE(read.error().reason.find(GetParam().reason), std::string::npos) << read.error().reason;
}

INSTANTIATE_TEST_SUITE_P(
    Texts, WhatCannotBeMeant,
    testing::Values(Refused{"", Unit::Volt, "no figure"}, Refused{"volts", Unit::Volt, "not a figure"},
                    Refused{"12.3.4", Unit::Volt, "more than one decimal sign"},
                    Refused{"1,234.5", Unit::Volt, "more than one decimal sign"},
                    Refused{"5 A", Unit::Volt, "volts are asked for"}, Refused{"5 ohm", Unit::Volt, "this is in ohms"},
                    Refused{"5 parsec", Unit::Volt, "no unit"}, Refused{"--5", Unit::Volt, "not a figure"},
                    Refused{"1e999", Unit::Volt, ""}, Refused{"12 V V", Unit::Volt, "no unit"}));

TEST(Quantity, AFileMustNameItsUnit)
{
    EXPECT_FALSE(parseQuantityWithUnit("12", Unit::Volt));
    EXPECT_FALSE(parseQuantityWithUnit("OL", Unit::Ohm));
    EXPECT_DOUBLE_EQ(parseQuantityWithUnit("2.2 kΩ", Unit::Ohm)->value, 2200);
}

TEST(Quantity, IsWrittenWithSensibleDigits)
{
    EXPECT_EQ(formatQuantity(volts(12.414)), "12.41 V");
    EXPECT_EQ(formatQuantity(volts(0.3601)), "360 mV");
    EXPECT_EQ(formatQuantity(volts(-0.0184)), "−18 mV");
    EXPECT_EQ(formatQuantity(volts(0.9999)), "1.00 V");
    EXPECT_EQ(formatQuantity(volts(0)), "0 V");
    EXPECT_EQ(formatQuantity(amperes(6)), "6 A");
    EXPECT_EQ(formatQuantity(amperes(4.664)), "4.66 A");
    EXPECT_EQ(formatQuantity(amperes(0.14)), "140 mA");
    EXPECT_EQ(formatQuantity(ohms(4700)), "4.7 kΩ");
    EXPECT_EQ(formatQuantity(ohms(3.21)), "3.21 Ω");
    EXPECT_EQ(formatQuantity(ohms(0.42)), "0.42 Ω");
    EXPECT_EQ(formatQuantity(ohms(0.032)), "32 mΩ");
    EXPECT_EQ(formatQuantity(ohms(526000)), "526 kΩ");
    EXPECT_EQ(formatQuantity({62, Unit::Percent}), "62 %");
}

TEST(Quantity, KeepsTheDigitsItWasReadWith)
{
    EXPECT_EQ(formatQuantity(*parseQuantity("7.90", Unit::Volt)), "7.90 V");
    EXPECT_EQ(formatQuantity(*parseQuantity("12.5", Unit::Volt)), "12.5 V");
    EXPECT_EQ(formatQuantity(*parseQuantity("18.3m", Unit::Volt)), "18.3 mV");
}

TEST(Quantity, ReadsBackWhatItWroteForAFile)
{
    for (const double value : {0.0283, 12.51, 1e-9, 23.8e6, 1.0 / 3.0}) {
        const Quantity written{value, Unit::Ohm};
        const auto read = parseQuantityWithUnit(exactQuantity(written), Unit::Ohm);
        ASSERT_TRUE(read) << exactQuantity(written);
        EXPECT_EQ(read->value, value);
    }
}

TEST(Quantity, SurvivesAnyBytes)
{
    unsigned state = 7;
    for (int n = 0; n < 20000; ++n) {
        std::string text;
        for (int i = 0; i < 1 + n % 12; ++i) {
            state = state * 1664525U + 1013904223U;
            const unsigned pick = state >> 24;
            text += pick < 120 ? "0123456789.,-kMmV%ROLe "[pick % 23] : static_cast<char>(pick);
        }
        const auto read = parseQuantity(text, Unit::Volt);
        if (!read) {
            EXPECT_FALSE(read.error().reason.empty());
        }
    }
}

}  // namespace
}  // namespace ilvek
