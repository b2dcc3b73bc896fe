// A wire that ends elsewhere than the map shows: no part has failed, and no single fault reads like it.
#include <gtest/gtest.h>

#include <cmath>

#include "belief/further.h"
#include "circuit/fault_sweep.h"
#include "circuit/operating_point.h"
#include "machine/paths.h"
#include "practice/bench.h"
#include "practice/hidden_faults.h"
#include "support/maps.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

// The machine on which the wire of `here` ends at the conductor of `there`.
Map wiredOtherwise(const Map& map, const std::string& here, const std::string& there)
{
    Map machine = map;
    const WireEnd wire = onlyWireAt(map, map.terminal(map.terminalIndex(here)).a);
    EXPECT_GE(wire.element, 0);
    machine.elements[static_cast<std::size_t>(wire.element)].nodes[1 - wire.end] =
        map.terminal(map.terminalIndex(there)).a;
    machine.document += "\n" + here + " ends at " + there;
    return machine;
}

TEST(OtherEnds, AreOfEveryTerminalToEveryOtherButNotWhereTheMapHasThem)
{
    const Map& map = test::smallMap();
    const auto suspects = suspectsOf(map, true);
    const auto ends = otherEndsOf(map, suspects);
    ASSERT_FALSE(ends.empty());
    double sum = 0, wrong = 0;
    for (const Suspect& s : ends) {
        sum += s.prior;
        EXPECT_TRUE(isOfTheMap(s)) << s.id;
        EXPECT_NE(s.node, s.node2) << s.id;
        ASSERT_EQ(s.severities.size(), 1U) << s.id;
        const Element& wire = map.element(s.severities.front().front().element);
        EXPECT_TRUE(wire.nodes[0] != s.node2 && wire.nodes[1] != s.node2) << s.id << " is drawn so";
    }
    for (const Suspect& s : suspects)
        wrong += s.kind == SuspectKind::MapWrong ? s.prior : 0;
    EXPECT_LT(sum, wrong) << "one way of several in which a map can be wrong";
}

TEST(OtherEnds, ReadAsTheMachineThatIsWiredSo)
{
    const Map& map = test::smallMap();
    int compared = 0;
    for (const Suspect& s : otherEndsOf(map, suspectsOf(map, true))) {
        const std::string here = s.id.substr(0, s.id.find(' ')), there = s.id.substr(s.id.rfind(' ') + 1);
        Condition as, drawn;
        as.state = drawn.state = map.stateIndex("key-on");
        as.faults = s.severities.front();
        const auto faulty = operatingPoint(map, as), machine = operatingPoint(wiredOtherwise(map, here, there), drawn);
        ASSERT_TRUE(faulty && machine) << s.id;
        if (faulty->chatters() || machine->chatters()) continue;
        for (const int terminal : map.moduleTerminals()) {
            const int node = map.terminal(terminal).a;
            // The other wire of the machine has its own length; ours is a short one.
            EXPECT_NEAR(faulty->potential(node), machine->potential(node), 0.05)
                << s.id << " at " << map.terminal(terminal).id;
            ++compared;
        }
    }
    EXPECT_GT(compared, 20);
}

// The module pulls the main relay in, and what that feeds would keep the module awake: but it never wakes.
TEST(OtherEnds, AModuleThatWouldFeedItselfStaysAsleep)
{
    const Map& map = test::pt9();
    Condition condition;
    condition.state = map.stateIndex("key-on");
    auto sweep = FaultSweep::of(map, condition);
    ASSERT_TRUE(sweep);
    const int fed = map.nodeIndex("J1-1.a");
    ASSERT_TRUE(sweep->apply({}));
    EXPECT_GT(sweep->voltage(fed, map.batteryMinus(), INFINITY), 12);
    int asleep = 0;
    for (const Suspect& s : otherEndsOf(map, suspectsOf(map, true))) {
        if (!s.id.starts_with("J1-3 ") && !s.id.starts_with("J1-4 ")) continue;
        ASSERT_TRUE(sweep->apply(s.severities.front())) << s.id;
        Condition faulty = condition;
        faulty.faults = s.severities.front();
        const auto cold = operatingPoint(map, faulty);
        ASSERT_TRUE(cold) << s.id;
        if (cold->chatters()) continue;
        const double is = sweep->voltage(fed, map.batteryMinus(), INFINITY);
        EXPECT_NEAR(is, cold->potential(fed), 1e-3) << s.id;
        asleep += is < 0.5 ? 1 : 0;
        if (s.id == "J1-3 ends at J1-1") {
            EXPECT_LT(is, 0.5);
        }
        if (s.id == "J1-3 ends at J1-4") {
            EXPECT_GT(is, 12) << "the key feeds it, whatever the relay does";
        }
    }
    EXPECT_GT(asleep, 30);
}

TEST(OtherEnds, TheOneIsNamedWhereReadingsShowIt)
{
    const Map& map = test::smallMap();
    Reasoner reasoner(map, WayOfWorking{}, true);
    while (reasoner.buildNext()) {
    }
    using Ends = std::pair<const char*, const char*>;
    for (const auto& [here, there] : {Ends{"M-5", "M-4"}, Ends{"M-4", "M-5"}, Ends{"M-3", "M-5"}}) {
        const Map machine = wiredOtherwise(map, here, there);
        practice::SimulatedMachine simulated(machine, {});
        const auto run = practice::follow(reasoner, simulated, {}, {}, 30);
        ASSERT_FALSE(run.last.groups.empty());
        const auto places = practice::placesOf(reasoner, run);
        EXPECT_NE(std::find(places.begin(), places.end(), std::string(here) + " ends at " + there), places.end())
            << here << ": " << run.last.groups.front().words;
        EXPECT_EQ(run.last.conclusion.kind, Conclusion::Kind::MapWrong) << here << ": no part has failed";
    }
}

// A supply of the module that hangs on the battery's terminal is live where the map has it switched. So would a wire be
// that touches another one in a connector between: that is named by what has not been asked yet, not by what it is.
TEST(OtherEnds, AreNotTakenForAShortOfTwoConductorsElsewhere)
{
    const Map& map = test::pt9();
    const Map machine = wiredOtherwise(map, "J2-2", "J1-12");
    Reasoner reasoner(map, WayOfWorking{}, true);
    while (reasoner.buildNext()) {
    }
    practice::Imperfection noisy;
    noisy.none = false;
    noisy.seed = 1004;
    practice::SimulatedMachine simulated(machine, {}, {}, noisy);
    const auto run = practice::follow(reasoner, simulated, {practice::reportOf(map, {}, &machine)}, {}, 40);
    ASSERT_FALSE(run.last.groups.empty());
    EXPECT_EQ(run.last.conclusion.kind, Conclusion::Kind::MapWrong) << run.last.groups.front().words;
    const auto places = practice::placesOf(reasoner, run);
    EXPECT_NE(std::find(places.begin(), places.end(), "J2-2 ends at J1-12"), places.end())
        << run.last.groups.front().words;
}

}  // namespace
}  // namespace ilvek
