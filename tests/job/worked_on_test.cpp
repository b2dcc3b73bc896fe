// What was replaced before: its place is likelier, and what names no place is said to weigh nothing.
#include "job/worked_on.h"

#include <gmock/gmock.h>

#include "support/maps.h"
#include "support/one_job.h"
#include "suspects/suspects.h"

namespace ilvek {
namespace {

using testing::ElementsAre;

double priorOf(const Map& map, int element)
{
    double sum = 0;
    for (const Suspect& s : suspectsOf(map, true)) {
        if (s.element == element) sum += s.prior;
    }
    return sum;
}

TEST(WorkedOn, MakesTheNamedPlaceLikelier)
{
    Map map = test::hauler();
    const int relay = map.elementIndex("K7");
    ASSERT_GE(relay, 0);
    const double before = priorOf(map, relay);
    EXPECT_TRUE(raiseWorkedOn(map, {"relay k7, by another shop"}).empty());
    EXPECT_GT(priorOf(map, relay), 2 * before);
    EXPECT_LT(priorOf(map, relay), workedOnFactor * before + 1e-9);
    EXPECT_EQ(map.document, test::hauler().document) << "the drawing is the same";
    EXPECT_EQ(map.weighedBeside.size(), 1U);
}

TEST(WorkedOn, NamesAreWholeWordsAndTheRestIsSaid)
{
    Map map = test::hauler();
    const auto weakness = [&](const char* terminal) {
        return map.element(map.terminal(map.terminalIndex(terminal)).contact).weakness;
    };
    EXPECT_THAT(raiseWorkedOn(map, {"crimped A1", "the big one", "new oil"}), ElementsAre("the big one", "new oil"));
    EXPECT_EQ(weakness("A1"), workedOnFactor);
    for (const char* other : {"A10", "A11", "A12", "A2"})
        EXPECT_EQ(weakness(other), 1) << other;
    // Named twice it is raised once.
    Map again = test::hauler();
    (void)raiseWorkedOn(again, {"A1 looked at", "A1 crimped"});
    EXPECT_EQ(again.element(again.terminal(again.terminalIndex("A1")).contact).weakness, workedOnFactor);
}

TEST(WorkedOn, FollowsTheComplaintAsItStands)
{
    test::OneJob job(test::hauler());
    const auto weakness = [&] {
        const Map& map = job.open().job.map;
        return map.element(map.elementIndex("K7")).weakness;
    };
    Complaint complaint;
    complaint.text = "dead", complaint.replaced = {"K7", "some wires"};
    job.enter(complaint);
    EXPECT_EQ(weakness(), workedOnFactor);
    EXPECT_THAT(job.open().job.notWeighed, ElementsAre("some wires"));
    job.enter(Note{"another entry"});
    EXPECT_EQ(weakness(), workedOnFactor) << "not once more with each entry";
    complaint.replaced.clear();
    job.enter(complaint);
    EXPECT_EQ(weakness(), 1);
    EXPECT_TRUE(job.open().job.notWeighed.empty());
}

}  // namespace
}  // namespace ilvek
