// What a splice is fed from may stand in a row of its own.
#include "bench_map/splice_rows.h"

#include <gmock/gmock.h>

#include "bench_map/pin_sheet.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;
using testing::HasSubstr;

constexpr const char* head =
    "pin,signal,type,route,part\n"
    "J1,12 V in,\"supply, with key\",F3 10 A > K2,\n"
    "J2,GND,ground,G1,\n"
    "J8,clutch,low side,X6-1,\"clutch coil 3.5 Ω, other wire S3\"\n";

void expectFedByF5(const std::string& row)
{
    const Map map = test::mapOfRows(head + row, 12);
    EXPECT_EQ(map.terminalIndex("S3"), -1) << "a splice is no terminal of the module";
    EXPECT_EQ(map.moduleTerminals().size(), 3U);
    ASSERT_GE(map.elementIndex("F5"), 0) << row;
    OneJob job(map);
    job.take("plus > minus; key on", "12.6 V");
    EXPECT_NE(job.take("J8 > minus; key on; pulled F5", "0.0 V").word, "Too low") << row;
    EXPECT_EQ(job.take("J8 > minus; key on", "12.5 V").word, "Within limits") << row;
}

TEST(SpliceRows, LeadOnBehindThePartThatHangsOnTheSplice)
{
    expectFedByF5("S3,clutch feed,feed,F5 15 A > K2,\n");
    expectFedByF5(",S3,splice,F5 15 A > K2,\n");
    expectFedByF5(",S3,feed,F5 15 A > K2,\n");
    expectFedByF5(",S3,splice,,F5 15 A > K2\n");
    expectFedByF5(",feed of the valves,splice,S3,F5 15 A > K2\n");
    expectFedByF5(",feed of the valves,splice,S3 > F5 15 A > K2,\n");
}

TEST(SpliceRows, OneMayLeadToAnother)
{
    expectFedByF5("S4,feed 2,feed,F5 15 A > K2,\nS3,clutch feed,feed,S4,\n");
    expectFedByF5("S3,clutch feed,feed,S4,\nS4,feed 2,feed,F5 15 A > K2,\n");
}

TEST(SpliceRows, OneWithoutAWayOnIsRefusedWithWhatToWrite)
{
    const auto sheet = readPinSheet(std::string(head) + ",S3,splice,,\n", "sheet");
    ASSERT_TRUE(sheet);
    ASSERT_EQ(sheet->problems.size(), 1U);
    EXPECT_THAT(sheet->problems.front().message(), HasSubstr("F5 30 A > K2"));
}

TEST(SpliceRows, ACavityOfAConnectorThatIsCalledSStaysATerminal)
{
    const Map map =
        test::mapOfRows("pin,signal,type,route\nS1,main,\"supply, always\",F3 10 A\nS2,minus,ground,G1\n", 12);
    EXPECT_EQ(map.moduleTerminals().size(), 2U);
}

TEST(PinSheet, AColumnOfWaysIsTheRouteWhereAnotherHasTheCavities)
{
    const auto sheet = readPinSheet(
        "Pin;Name;What;Way;Goes to\n1;battery feed;supply, always;F4 15 A;\n2;earth;ground;G1;\n", "sheet");
    ASSERT_TRUE(sheet);
    ASSERT_EQ(sheet->rows.size(), 2U);
    EXPECT_EQ(sheet->rows.front().route, "F4 15 A");
    EXPECT_EQ(sheet->rows.front().id(), "1");
}

TEST(SpliceRows, OneThatNoRowLeadsToIsLeftOutAndThatIsSaid)
{
    const auto sheet = readPinSheet(std::string(head) + ",S7,splice,F5 15 A > K2,\n", "sheet");
    ASSERT_TRUE(sheet);
    EXPECT_TRUE(sheet->problems.empty());
    ASSERT_FALSE(sheet->remarks.empty());
    EXPECT_THAT(sheet->remarks.back().message(), HasSubstr("no row leads to S7"));
    const auto led = readPinSheet(std::string(head) + ",S3,splice,F5 15 A > K2,\n", "sheet");
    ASSERT_TRUE(led);
    for (const Error& remark : led->remarks)
        EXPECT_THAT(remark.message(), testing::Not(HasSubstr("no row leads to")));
}

}  // namespace
}  // namespace ilvek
