#include "open_job/typed_reading.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace ilvek {
namespace {

TypedReading typed(const char* text, FigureKind asked = FigureKind::Volts, double clamp = 0)
{
    const auto reading = parseReading(text, asked, clamp);
    EXPECT_TRUE(reading) << text << ": " << (reading ? "" : reading.error().message());
    return reading.value_or(TypedReading{});
}

std::string refusal(const char* text, FigureKind asked = FigureKind::Volts)
{
    const auto reading = parseReading(text, asked, 0);
    EXPECT_FALSE(reading) << text;
    return reading ? "" : reading.error().message();
}

TEST(TypedReading, AFigureWithoutUnitIsOfWhatIsAsked)
{
    EXPECT_EQ(typed("12.41").kind, FigureKind::Volts);
    EXPECT_DOUBLE_EQ(typed("12,41").value.value, 12.41);
    EXPECT_EQ(typed("0.4", FigureKind::Ohms).kind, FigureKind::Ohms);
    EXPECT_EQ(typed("2.1", FigureKind::Amperes).value.unit, Unit::Ampere);
}

TEST(TypedReading, AUnitSaysWhatItIs)
{
    EXPECT_EQ(typed("0.4 ohm").kind, FigureKind::Ohms);
    EXPECT_EQ(typed("4k7 ohm").value.value, 4700);
    EXPECT_EQ(typed("2.4 A").kind, FigureKind::Amperes);
    EXPECT_EQ(typed("35 %").kind, FigureKind::Percent);
    EXPECT_EQ(typed("120 Hz").kind, FigureKind::Hertz);
    EXPECT_EQ(typed("2.1 ms").kind, FigureKind::Seconds);
    EXPECT_EQ(typed("140 mV").value.value, 0.14) << "to the last bit";
    EXPECT_EQ(typed("12.4 V", FigureKind::Amperes).kind, FigureKind::Volts);
    EXPECT_EQ(typed("~ 0.8 V").kind, FigureKind::AlternatingVolts);
    EXPECT_EQ(typed("0.8 V ac").kind, FigureKind::AlternatingVolts);
    EXPECT_EQ(typed("diode 0.55").kind, FigureKind::DiodeVolts);
    EXPECT_TRUE(typed("diode OL").value.overLimit);
    EXPECT_EQ(typed("module 10.9 V").kind, FigureKind::Reported);
    EXPECT_EQ(typed("module 87 %").value.unit, Unit::Percent);
}

TEST(TypedReading, LowestAndHighestShareTheUnit)
{
    const TypedReading r = typed("11.8..12.4 V");
    EXPECT_EQ(r.value.value, 11.8);
    EXPECT_EQ(r.most, 12.4);
    EXPECT_EQ(typed("12.4..11.8").value.value, 11.8) << "in either order";
    EXPECT_EQ(typed("0.3..7.2 ohm").kind, FigureKind::Ohms);
    EXPECT_THAT(refusal("11.8..OL"), testing::HasSubstr("one unit"));
}

TEST(TypedReading, LowestAndHighestGoByAnySignBetweenThem)
{
    for (const char* text : {"11.8..12.4 V", "11.8 to 12.4 V", "11.8–12.4 V", "11.8-12.4 V", "11,8-12,4"}) {
        EXPECT_DOUBLE_EQ(typed(text).value.value, 11.8) << text;
        EXPECT_DOUBLE_EQ(typed(text).most.value_or(0), 12.4) << text;
    }
    EXPECT_FALSE(typed("-0.3 V").most) << "a sign is no range";
    EXPECT_DOUBLE_EQ(typed("-0.3 V").value.value, -0.3);
    EXPECT_EQ(typed("50 % duty").kind, FigureKind::Percent);
}

TEST(TypedReading, WhatIsSeenHasNoFigure)
{
    EXPECT_EQ(typed("dark").shows, Shown::Dark);
    EXPECT_EQ(typed("Lamp bright").shows, Shown::Bright);
    EXPECT_EQ(typed("tripped").shows, Shown::Tripped);
    EXPECT_EQ(typed("stuck high").shows, Shown::StuckHigh);
    EXPECT_EQ(typed("moves").kind, FigureKind::Shown);
}

TEST(TypedReading, ACurrentMayStandBesideIt)
{
    EXPECT_EQ(typed("12.34 @ 1.2 A").current_A, 1.2);
    EXPECT_EQ(typed("12.34 @ 140 mV", FigureKind::Volts, 100).current_A, 1.4) << "of a clamp of 100 mV/A";
    EXPECT_EQ(typed("240 mV", FigureKind::Amperes, 100).value.value, 2.4);
    EXPECT_TRUE(typed("0.02 tripped").inShutDown);
    EXPECT_FALSE(typed("0.02 tripped").shows);
}

TEST(TypedReading, WhatCannotBeMeantIsRefusedWithTheReason)
{
    EXPECT_THAT(refusal(""), testing::HasSubstr("no figure"));
    EXPECT_THAT(refusal("12.4 parsec"), testing::HasSubstr("no unit"));
    EXPECT_THAT(refusal("12.4 @ OL"), testing::HasSubstr("OL is no current"));
    EXPECT_FALSE(refusal("bluish").empty());
    EXPECT_FALSE(refusal("~ 3 ohm").empty()) << "alternating ohms there are none";
}

}  // namespace
}  // namespace ilvek
