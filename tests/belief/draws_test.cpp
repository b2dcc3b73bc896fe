// What a module draws: otherwise in each state of the machine, hardly anything beside what its drives take, and what of
// it a clamp or a meter shows where the feed is weak.
#include <gmock/gmock.h>

#include "belief/fit.h"
#include "belief/in_doubt.h"
#include "support/maps.h"
#include "support/weighed.h"
#include "wording/words.h"

namespace ilvek {
namespace {

using test::OneJob;
using test::weighed;
using testing::HasSubstr;

const Map& dredge()
{
    static const Map map = test::storyMap("dredge-engine");
    return map;
}

std::vector<Unknown> of(const Map& map, const std::vector<int>& states, const std::string& element)
{
    std::vector<Unknown> out;
    for (const Unknown& u : unknownsOf(map, states))
        if (map.element(u.element).id == element) out.push_back(u);
    return out;
}

TEST(Draws, OfAModuleThatOnlyASheetTellsAreUnknownInEachState)
{
    const int on = dredge().stateIndex("key-on"), running = dredge().stateIndex("running");
    const auto port = of(dredge(), {on, running}, "port 1");
    ASSERT_EQ(port.size(), 3U) << "in all, and in each";
    EXPECT_EQ(port[0].state, -1);
    EXPECT_EQ(port[1].state, on);
    EXPECT_EQ(port[2].state, running);
    EXPECT_EQ(of(dredge(), {on, running}, "strap G1").size(), 1U) << "a wire is the same in every state";
    for (const Unknown& u : unknownsOf(test::pt9(), {0, 1}))
        EXPECT_EQ(u.state, -1) << "a drawn map says what is drawn in which state";
}

TEST(Draws, WhatOneReadingSharesWithAnotherOfItsStateItDoesNotShareWithOneOfTheNext)
{
    const int port = dredge().elementIndex("port 1");
    const auto suspects = suspectsOf(dredge(), true);
    for (const char* state : {"key-on", "running"}) {
        Condition setup;
        setup.state = dredge().stateIndex(state);
        const Probe probe{dredge().nodeIndex("3.a"), dredge().batteryMinus()};
        const auto table = predict(dredge(), suspects, setup, {probe});
        ASSERT_TRUE(table);
        const auto moves = [&](int part) {
            const auto& parts = table->columns.front().parts;
            return std::any_of(parts.begin(), parts.end(), [&](const auto& p) { return p.first == part; });
        };
        EXPECT_TRUE(moves(port)) << state;
        for (std::size_t s = 0; s < dredge().states.size(); ++s) {
            const int own = static_cast<int>(s);
            EXPECT_EQ(moves(partInState(dredge(), port, own)), own == setup.state) << state << ", " << s;
        }
    }
}

TEST(Draws, ThatDifferAreSaidWithTheirState)
{
    Fit fit;
    fit.assumed = {{dredge().elementIndex("port 1"), 0.25, dredge().stateIndex("running")}};
    EXPECT_THAT(fitsIf(dredge(), fit, 2), HasSubstr("(running)"));
    EXPECT_THAT(inDoubtWords(dredge(), fit), HasSubstr("(running)"));
    fit.assumed.front().state = -1;
    EXPECT_EQ(fitsIf(dredge(), fit, 2).find('('), std::string::npos);
}

// The lamps take all that the clamp shows: the contact of the return had been blamed for it at 55 %.
TEST(Draws, AFeedOfDrivesNeedsNoneOfItsOwn)
{
    const Map map = test::mapOfRows(
        "pin;name;type;route;load\n"
        "A1;B+ lights;supply always;F1 30 A;\n"
        "A2;B+ logic;supply always;F2 5 A;\n"
        "A3;minus;ground;G1;\n"
        "B1;work lamp left;high side;X1-1;lamp 70 W, ground G2\n"
        "B2;work lamp right;high side;X1-2;lamp 70 W, ground G2\n"
        "B4;switch work;switch input;X2-1;switch, ground G1\n",
        24);
    EXPECT_LT(map.element(map.elementIndex("port A1")).value("current"), 4.0) << "not all that its fuse is made for";
    OneJob job(map);
    job.take("plus > minus; key off", "25.4 V");
    job.take("A1 > A3; key off", "25.4 V");
    job.take("plus > minus; commanded B1, B2", "25.1 V");
    job.take("A1 > minus; commanded B1, B2", "24.9 V");
    job.take("F1 in > minus; commanded B1, B2", "25.1 V");
    job.take("F1 out > minus; commanded B1, B2", "25.0 V");
    job.take("A3 > minus; commanded B1, B2", "0.01 V");
    job.take("clamp F1; commanded B1, B2", "5.6 A");
    const auto r = weighed(job)->reason({});
    ASSERT_FALSE(r.groups.empty());
    for (const auto& group : r.groups) {
        const bool isFault = group.words.find("No fault") == std::string::npos &&
                             group.words.find("not on this map") == std::string::npos;
        EXPECT_TRUE(!isFault || group.probability < 0.25) << group.words;
    }
}

}  // namespace
}  // namespace ilvek
