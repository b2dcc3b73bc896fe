#include "proving/lamp.h"

#include <gtest/gtest.h>

#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

TEST(Lamp, ShowsItsVoltsToTheEye)
{
    EXPECT_EQ(lampAt(12.4, 12), Shown::Bright);
    EXPECT_EQ(lampAt(-12.4, 12), Shown::Bright) << "either way round";
    EXPECT_EQ(lampAt(6.5, 12), Shown::Dim);
    EXPECT_EQ(lampAt(0.3, 12), Shown::Dark);
    for (double volts = 0; volts < 14; volts += 0.1) {
        const auto now = static_cast<int>(lampAt(volts, 12)), next = static_cast<int>(lampAt(volts + 0.1, 12));
        EXPECT_GE(now, next) << "never darker with more volts: " << volts;
    }
}

TEST(Lamp, IsTheSubstituteLoadOrTheLampOfTheMapUnderTheLeads)
{
    const Map& map = test::hauler();
    const auto load = lampOf(map, test::setUpAt(map, "A3 > minus; apart A; load 21 W lamp at A3 > A6"));
    ASSERT_TRUE(load);
    EXPECT_EQ(load->from, map.nodeIndex("A3.a"));
    EXPECT_EQ(load->to, map.nodeIndex("A6.a"));
    EXPECT_EQ(load->rated_V, 24);
    EXPECT_FALSE(lampOf(map, test::setUpAt(map, "A3 > A6; apart A; load 22 Ω resistor, 25 W"))) << "it gives no light";
    EXPECT_FALSE(lampOf(map, test::setUpAt(map, "A3 > A6")));
    const Map& machine = test::pt9();
    for (const Element& e : machine.elements) {
        if (e.kind != ElementKind::Lamp) continue;
        ilvek::SetUp on;
        on.red = machine.node(e.nodes[0]), on.black = machine.node(e.nodes[1]), on.state = "key-on";
        EXPECT_TRUE(lampOf(machine, on)) << e.id;
    }
}

}  // namespace
}  // namespace ilvek
