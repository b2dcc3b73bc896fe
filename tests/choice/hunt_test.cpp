// Tests of their own that a likely fault calls for: the lamp in place of the fuse, the wire on its own.
#include "choice/hunt.h"

#include <gtest/gtest.h>

#include "circuit/operating_point.h"
#include "proving/judge.h"
#include "support/maps.h"

namespace ilvek {
namespace {

double reads(const Map& map, Condition setup, const Candidate& c, const std::vector<Fault>& faults)
{
    setup.faults = faults;
    setup.meter = Meter{c.red, c.black};
    return displayOf(map, setup)->value;
}

TEST(ShortHunt, TheLampGoesOutWhenTheShortIsUnplugged)
{
    const Map& map = test::pt9();
    // J2-1's wire is chafed between X4 and the module: X4 apart takes it off the fuse, J2 apart does not.
    const std::vector<Fault> chafed{{Fault::Kind::ShortBetween, -1, map.nodeIndex("J2-1.a"), map.batteryMinus(), 0.1}};
    const auto hunt = huntFor(map, chafed);
    ASSERT_FALSE(hunt.empty());
    const int f15 = map.elementIndex("F15");
    double mated = -1, x4 = -1, j2 = -1;
    for (const Candidate& c : hunt) {
        ASSERT_EQ(c.kind, Candidate::Kind::LampForFuse);
        ASSERT_EQ(c.part, f15);
        ASSERT_EQ(c.setup.removed.count(f15), 1U);
        const double v = reads(map, c.setup, c, chafed);
        if (c.setup.unplugged.empty()) mated = v;
        if (c.setup.unplugged == std::set<int>{map.connectorIndex("X4")}) x4 = v;
        if (c.setup.unplugged == std::set<int>{map.connectorIndex("J2")}) j2 = v;
    }
    EXPECT_LT(std::abs(mated), 1) << "bright: all of the battery is across the lamp";
    EXPECT_LT(std::abs(j2), 1) << "still bright: the short is before J2";
    EXPECT_GT(x4, 8) << "out";
}

TEST(ShortHunt, SaysWhatToUnplugAndWhatNotToDo)
{
    const Map& map = test::pt9();
    const auto hunt = shortHunt(map, map.elementIndex("F15"), map.stateIndex("key-on"));
    ASSERT_GT(hunt.size(), 2U);
    const Step step = stepFor(map, {}, hunt[1]);
    EXPECT_EQ(step.removed, std::vector<std::string>{"F15"});
    EXPECT_EQ(step.unplugged.size(), 1U);
    EXPECT_NE(step.title.find("in place of F15"), std::string::npos);
    std::string cautions;
    for (const std::string& c : step.cautions)
        cautions += c + "\n";
    EXPECT_NE(cautions.find("Never a larger fuse"), std::string::npos);
    EXPECT_NE(cautions.find("winch sled battery"), std::string::npos) << "the second battery is disconnected first";
}

TEST(IsolatedWire, IsTriedOnlyWhereBothEndsComeFree)
{
    const Map& map = test::pt9();
    int free = 0, bound = 0;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        if (map.elements[i].kind != ElementKind::Wire) continue;
        const auto c = isolatedWire(map, static_cast<int>(i));
        ++(c ? free : bound);
        if (!c) continue;
        // With its ends free nothing but the lead, the lamp and the meter is on it.
        for (const int node : map.elements[i].nodes) {
            for (const Terminal& t : map.terminals) {
                if (t.a == node || t.b == node) {
                    EXPECT_TRUE(c->setup.unplugged.contains(t.connector)) << map.elements[i].id;
                }
            }
        }
        EXPECT_EQ(c->setup.jumpers.size(), 1U);
        EXPECT_GT(c->setup.jumpers[0].rating_A, 0) << "fused";
    }
    EXPECT_GT(free, 10);
    EXPECT_GT(bound, 10) << "splices and studs do not come free";
}

TEST(IsolatedWire, OneStrandShowsUnderTheLampAndNotToAnOhmmeter)
{
    const Map& map = test::pt9();
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const auto c = isolatedWire(map, static_cast<int>(i));
        if (!c) continue;
        const std::vector<Fault> strand{{Fault::Kind::AddedResistance, static_cast<int>(i), -1, -1, 1.5}};
        EXPECT_GT(reads(map, c->setup, *c, {}), 11.5) << map.elements[i].id;
        EXPECT_LT(reads(map, c->setup, *c, strand), 11.0) << map.elements[i].id;
        const Step step = stepFor(map, {}, *c);
        ASSERT_EQ(step.jumpers.size(), 1U);
        // The step leads to the very same set-up.
        const auto again = conditionOf(map, step);
        ASSERT_TRUE(again);
        EXPECT_EQ(*again, c->setup) << step.title;
        return;
    }
    FAIL() << "no wire to try";
}

}  // namespace
}  // namespace ilvek
