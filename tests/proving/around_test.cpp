// What is said of a reading whatever its test, where the naive conclusion is wrong.
#include "circuit/operating_point.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::hasTrap;
using test::OneJob;

std::string driveOf(const Map& map, Role role)
{
    for (const int t : map.moduleTerminals()) {
        if (map.terminal(t).role == role) return map.terminal(t).id;
    }
    return "";
}

// Naive: it reads nothing, so it is on. Against the supply it is off.
TEST(Around, AgainstTheSupplyTheMeaningOfASwitchedTerminalTurns)
{
    OneJob job(test::hauler());
    const std::string drive = driveOf(job.map(), Role::LowSideDrive);
    EXPECT_TRUE(hasTrap(job.take("battery plus > " + drive + "; key on", "0.1 V"), "T4"));
    EXPECT_FALSE(hasTrap(job.take(drive + " > battery minus; key on", "24.8 V"), "T4"));
}

// Naive: nothing flows. Both conductors of the load were in the jaws.
TEST(Around, FeedAndReturnInTheJawsCancel)
{
    OneJob job(test::pt9());
    const Map& map = job.map();
    // Any wire in which some amperes flow at idle.
    std::string conductor;
    Condition condition;
    condition.state = map.stateIndex("idle-warm");
    const auto point = operatingPoint(map, condition);
    ASSERT_TRUE(point);
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const double current = std::abs(point->currentThrough(static_cast<int>(i)));
        if (map.elements[i].kind == ElementKind::Wire && current > 1 && current < 10) conductor = map.elements[i].id;
    }
    ASSERT_FALSE(conductor.empty());
    const auto& none = job.take("idling, warm; clamp " + conductor, "0.02 A");
    const bool flows = std::any_of(none.traps.begin(), none.traps.end(),
                                   [](const Trap& t) { return t.line.find("cancel") != std::string::npos; });
    EXPECT_TRUE(flows);
    // The arrow the other way round.
    const auto& read = job.take("idling, warm; clamp " + conductor, "3 A");
    const bool positive = std::none_of(read.traps.begin(), read.traps.end(), [](const Trap& t) {
        return t.line.find("against the way") != std::string::npos;
    });
    const auto& back = job.take("idling, warm; clamp " + conductor, "-3 A");
    const bool negative = std::none_of(back.traps.begin(), back.traps.end(), [](const Trap& t) {
        return t.line.find("against the way") != std::string::npos;
    });
    EXPECT_NE(positive, negative) << "one of the two ways is the counted one";
}

// Naive: the wire is good. It may touch the frame all the same.
TEST(Around, ContinuityTellsNothingOfAShort)
{
    OneJob job(test::hauler());
    const Map& map = job.map();
    std::string wire;
    for (const Element& e : map.elements) {
        if (wire.empty() && e.kind == ElementKind::Wire &&
            map.nodeWords(e.nodes[0]).find("wire side") != std::string::npos)
            wire = e.id;
    }
    ASSERT_FALSE(wire.empty());
    const Element& e = map.element(map.elementIndex(wire));
    ilvek::SetUp between;
    between.red = map.node(e.nodes[0]), between.black = map.node(e.nodes[1]), between.state = map.states.front().id;
    EXPECT_TRUE(hasTrap(job.take(between, "0.3 ohm"), "T9"));
    EXPECT_FALSE(hasTrap(job.take(between, "OL"), "T9"));
}

// Naive: the loom carries its load. The lamp was burnt out, and nothing flowed.
TEST(Around, ALampThatTookNothingMayBeBurntOut)
{
    OneJob job(test::hauler());
    const Map& map = job.map();
    const std::string supply = driveOf(map, Role::PermanentFeed);
    ASSERT_FALSE(supply.empty());
    const auto burns = [](const Judgement& j) {
        return std::any_of(j.doesNotProve.begin(), j.doesNotProve.end(),
                           [](const std::string& s) { return s.find("See it burn") != std::string::npos; });
    };
    const Connector& c = map.connectors[static_cast<std::size_t>(map.terminal(map.terminalIndex(supply)).connector)];
    const std::string open = supply + " > battery minus; key off; apart " + c.id;
    job.take("battery plus > battery minus; key off", "25.2 V");
    job.take(open, "25.15 V");
    EXPECT_TRUE(burns(job.take(open + "; load 21 W lamp", "25.15 V")));
    EXPECT_FALSE(burns(job.take(open + "; load 21 W lamp", "24.9 V"))) << "it took a quarter of a volt";
}

// Naive: the part mended it. It was fitted and coded with no test between.
TEST(Around, TwoRepairsWithNoTestBetweenLeaveTheCauseOpen)
{
    OneJob job(test::hauler());
    job.take("battery plus > battery minus; key on", "25.0 V");
    job.enter(Repair{0, {}, "receiver replaced"});
    EXPECT_EQ(job.open().job.repairs.back().text.find("Several"), std::string::npos);
    job.enter(Repair{0, {}, "receiver coded"});
    EXPECT_NE(job.open().job.repairs.back().text.find("Several changes at once"), std::string::npos);
    job.take("battery plus > battery minus; key on", "25.0 V");
    job.enter(Repair{0, {}, "fuse replaced"});
    EXPECT_EQ(job.open().job.repairs.back().text.find("Several"), std::string::npos);
}

// Naive: no volts between the lines, so the bus is dead. At rest there are none.
TEST(Around, AcrossABusPairNothingIsRightAndADoubledResistanceIsNoFault)
{
    OneJob job(test::pt9());
    EXPECT_TRUE(hasTrap(job.take("J1-21 > J1-22; key on", "0.02 V"), "T10"));
    EXPECT_FALSE(hasTrap(job.take("J1-21 > J1-22; key on", "1.9 V"), "T10"));
    EXPECT_FALSE(hasTrap(job.take("J1-21 > J1-22; key off", "60 ohm"), "T10"));
    const std::string connector = [&] {
        for (const Connector& c : job.map().connectors) {
            if (!c.ofModule) return c.id;
        }
        return std::string();
    }();
    EXPECT_TRUE(hasTrap(job.take("J1-21 > J1-22; key off; apart " + connector, "121 ohm"), "T10"));
    EXPECT_FALSE(hasTrap(job.take("J1-21 > J1-22; key off; apart " + connector, "1.2 ohm"), "T10"));
}

// Naive: it talks, so this module does.
TEST(Around, ALevelOfABusProvesNoNode)
{
    OneJob job(test::pt9());
    EXPECT_TRUE(hasTrap(job.take("J1-21 > battery minus; key on", "2.6 V"), "T11"));
    EXPECT_FALSE(hasTrap(job.take("J1-21 > battery minus; key on", "0.1 V"), "T11"));
}

// Naive: half of the volts, so it is weak. It is driven half of the time.
TEST(Around, OfWhatIsPulsedAVoltmeterShowsTheMean)
{
    OneJob job(test::pt9());
    const Element& driver = job.map().element(job.map().elementIndex("D-J2-15"));
    ASSERT_FALSE(driver.states.empty());
    const std::string state = job.map().state(driver.states.front()).name;
    EXPECT_TRUE(hasTrap(job.take("J2-15 > battery minus; " + state, "8.1 V"), "T18"));
    EXPECT_FALSE(hasTrap(job.take("J2-15 > battery minus; " + state, "0.2..13.8 V"), "T18"));
    EXPECT_FALSE(hasTrap(job.take("J2-15 > battery minus; key off", "0.0 V"), "T18"));
}

}  // namespace
}  // namespace ilvek
