// Thermistors, two tracks and a bus of one wire, with figures as they are typed; each beside its sound twin.
#include "support/maps.h"
#include "support/typed_procedure.h"

namespace ilvek {
namespace {

using test::storyMap;
using test::TypedProcedure;

TEST(Thermistor, ALevelThatItsWarmthMakesAndThatFollowsIsSound)
{
    TypedProcedure job(storyMap("roller-sensor"), "thermistor", "11");
    job.next("level", "2.9 V");
    job.next("warmth", "20 °C");
    EXPECT_TRUE(job.says("thermistor.warmth.right"));
    job.next("warmer", "1.7 V");
    EXPECT_EQ(job.ending(), "thermistor.end.sound");
    // One that stands still although it was warmed is not found faulty: perhaps it was not warmed.
    TypedProcedure still(storyMap("roller-sensor"), "thermistor", "11");
    still.next("level", "2.9 V");
    still.next("warmth", "none");
    still.next("warmer", "2.9 V");
    EXPECT_EQ(still.now().ending->kind, Ending::Kind::Open);
}

TEST(Thermistor, PlatinumRisesWithItsWarmth)
{
    const Map map = test::mapOfRows(test::sourceText("tests/bench_map/lists/milking-unit.csv"), 24, "MU");
    TypedProcedure job(map, "thermistor", "8");
    job.next("level", "1.65 V");
    job.next("warmth", "20 °C");
    EXPECT_TRUE(job.says("thermistor.warmth.right"));
    job.next("warmer", "1.85 V");
    EXPECT_TRUE(job.says("thermistor.warmer.rises"));
    EXPECT_EQ(job.ending(), "thermistor.end.sound");
    TypedProcedure falls(map, "thermistor", "8");
    falls.next("level", "1.65 V");
    falls.next("warmth", "20 °C");
    falls.next("warmer", "1.45 V");
    EXPECT_TRUE(falls.says("thermistor.warmer.falls"));
    EXPECT_EQ(falls.now().ending->kind, Ending::Kind::Open);
}

// 2.5 kΩ at 25 °C behind whatever pull-up: near freezing it may stand near the top, and is whole.
TEST(Thermistor, AColdOneNearTheTopIsNotAccused)
{
    TypedProcedure job(storyMap("roller-sensor"), "thermistor", "11");
    job.next("level", "4.85 V");
    job.next("warmth", "-25 °C");
    job.next("ohms", "24 kΩ");
    EXPECT_NE(job.now().ending->kind, Ending::Kind::Found) << job.ending();
    // The same level on a summer day with its ohms right: the wire.
    TypedProcedure open(storyMap("roller-sensor"), "thermistor", "11");
    open.next("level", "4.99 V");
    open.next("warmth", "20 °C");
    EXPECT_TRUE(open.says("thermistor.warmth.off"));
    open.next("ohms", "3.1 kΩ");
    open.next("fed", "0.02 V");
    open.next("bridged", "4.98 V");
    open.next("at-part", "0.01 V");
    EXPECT_EQ(open.ending(), "line.end.wire");
    EXPECT_EQ(open.now().ending->kind, Ending::Kind::Found);
}

TEST(Thermistor, OpenAndShortedInsideAreToldByItsOwnOhms)
{
    TypedProcedure open(storyMap("roller-sensor"), "thermistor", "11");
    open.next("level", "4.99 V");
    open.next("warmth", "none");
    open.next("ohms", "OL");
    EXPECT_EQ(open.ending(), "thermistor.end.open");
    TypedProcedure shorted(storyMap("roller-sensor"), "thermistor", "11");
    shorted.next("level", "0.01 V");
    shorted.next("warmth", "20 °C");
    shorted.next("ohms", "1.2 Ω");
    EXPECT_EQ(shorted.ending(), "thermistor.end.shorted");
    // Low with its ohms right: held down elsewhere.
    TypedProcedure wire(storyMap("roller-sensor"), "thermistor", "11");
    wire.next("level", "0.01 V");
    wire.next("warmth", "20 °C");
    wire.next("ohms", "3.0 kΩ");
    wire.next("ground", "0.01 V");
    wire.next("unplugged", "0.01 V");
    wire.next("free", "4.99 V");
    EXPECT_EQ(wire.ending(), "line.end.harness");
}

// With the sensor supply on another one the pull-up goes to that: neither the part nor its plug made 27 V of 5 V.
TEST(Thermistor, MoreThanTheModulePullsUpToIsNotThePart)
{
    TypedProcedure job(storyMap("roller-sensor"), "thermistor", "11");
    job.next("level", "9.1 V");
    job.next("warmth", "none");
    job.next("ohms", "2.2 kΩ");
    job.next("fed", "0.01 V");
    EXPECT_EQ(job.ending(), "line.end.lifted");
    EXPECT_EQ(job.now().ending->kind, Ending::Kind::Elsewhere);
    // In the range of its pull-up it is an open contact, as before.
    TypedProcedure contact(storyMap("roller-sensor"), "thermistor", "11");
    contact.next("level", "4.98 V");
    contact.next("warmth", "none");
    contact.next("ohms", "2.2 kΩ");
    contact.next("fed", "0.01 V");
    contact.next("bridged", "0.01 V");
    EXPECT_EQ(contact.ending(), "thermistor.end.never-closes");
}

TEST(Thermistor, APersonsWordForItsWarmthIsNoProofAgainstIt)
{
    TypedProcedure job(storyMap("roller-sensor"), "thermistor", "11");
    job.next("level", "0.3 V");
    job.next("warmth", "-20 °C");
    EXPECT_TRUE(job.says("thermistor.warmth.off"));
    job.next("ohms", "200 Ω");
    EXPECT_EQ(job.ending(), "thermistor.end.ohms");
    EXPECT_EQ(job.now().ending->kind, Ending::Kind::Open);
}

const char* const pedal =
    "cavity;circuit;role;route;far end\n1;supply;supply, with key;F1 10 A;\n2;ground;return;G1;\n"
    "3;pedal supply;reference;;pedal sensor\n4;pedal 1;analogue input;;pedal sensor\n"
    "5;pedal 2;analogue input;;pedal sensor\n6;sensor ground;sensor return;;pedal sensor\n";

TEST(TwoTracks, KeepTheirRatioOrTheirSum)
{
    const Map map = test::mapOfRows(pedal);
    const auto follow = [&](const char* a, const char* b, const char* movedA, const char* movedB) {
        TypedProcedure job(map, "sensor", "4");
        job.next("supply", "5.0 V");
        job.next("signal", a);
        job.next("track", b);
        job.next("moved", movedA);
        job.next("track-moved", movedB);
        return job;
    };
    EXPECT_TRUE(follow("0.8 V", "0.4 V", "4.0 V", "2.0 V").says("sensor.track.holds")) << "half of it";
    EXPECT_TRUE(follow("0.8 V", "4.2 V", "4.0 V", "1.0 V").says("sensor.track.holds")) << "against each other";
    const TypedProcedure parts = follow("0.8 V", "0.4 V", "4.0 V", "0.9 V");
    EXPECT_EQ(parts.ending(), "sensor.end.tracks");
    EXPECT_EQ(parts.now().ending->kind, Ending::Kind::Open) << "which of the two is not shown";
}

// Pressure and temperature in one housing are no two tracks.
TEST(TwoTracks, AreOnlyThoseThatAreCalledSo)
{
    std::string rows = pedal;
    rows.replace(rows.find("pedal 1"), 7, "oil pressure");
    rows.replace(rows.find("pedal 2"), 7, "fuel pressure");
    TypedProcedure job(test::mapOfRows(rows), "sensor", "4");
    job.next("supply", "5.0 V");
    job.next("signal", "0.8 V");
    EXPECT_NE(job.now().next()->id, "track");
}

const char* const oneWire =
    "cavity;circuit;role;route;far end\n1;supply;supply, with key;F1 10 A;\n2;ground;return;G1;\n"
    "3;data;single-wire bus;X2-1;\n;wiper unit;bus node;;\n;rain unit;bus node;;\n";

TEST(SingleWire, MovesOrRestsNearItsSupply)
{
    const Map map = test::mapOfRows(oneWire);
    EXPECT_GE(map.elementIndex("wiper unit"), 0) << "a node on a line of its own is on the map";
    TypedProcedure moves(map, "single-wire", "3");
    moves.job.take("battery plus > battery minus; key on", "12.5 V");
    moves.next("level", "0.9..11.9 V");
    moves.next("answers", "yes");
    EXPECT_EQ(moves.ending(), "single-wire.end.sound");
    TypedProcedure silent(map, "single-wire", "3");
    silent.job.take("battery plus > battery minus; key on", "12.5 V");
    silent.next("level", "0.9..11.9 V");
    silent.next("answers", "no");
    EXPECT_EQ(silent.ending(), "single-wire.end.silent") << "that others talk proves nothing of this one";
    TypedProcedure mean(map, "single-wire", "3");
    mean.job.take("battery plus > battery minus; key on", "12.5 V");
    mean.next("level", "6.4 V");
    EXPECT_EQ(mean.ending(), "single-wire.end.mean");
}

TEST(SingleWire, HeldDownIsReleasedNodeByNode)
{
    const Map map = test::mapOfRows(oneWire);
    TypedProcedure node(map, "single-wire", "3");
    node.job.take("battery plus > battery minus; key on", "12.5 V");
    node.next("level", "0.3 V");
    const std::string first = node.now().next()->id,
                      second = first == "release wiper unit" ? "release rain unit" : "release wiper unit";
    node.next(first, "0.3 V");
    node.next(second, "11.8 V");
    EXPECT_EQ(node.ending(), "single-wire.end.node");
    EXPECT_EQ(node.now().ending->places.front(), second.substr(8));
    // Held by none of them: what the free pin shows decides, and no module is found by it.
    TypedProcedure pin(map, "single-wire", "3");
    pin.job.take("battery plus > battery minus; key on", "12.5 V");
    pin.next("level", "0.3 V");
    for (int i = 0; i < 10 && pin.now().next() && pin.now().next()->id != "free"; ++i)
        pin.next(pin.now().next()->id, "0.3 V");
    pin.next("free", "11.8 V");
    EXPECT_EQ(pin.ending(), "single-wire.end.harness");
}

// A node takes its termination along: that the ohms double shows no fault of it (T10).
TEST(Bus, ANodeThatOnlyTakesItsTerminationAlongIsNotTheShort)
{
    TypedProcedure job(storyMap("log-loader"), "network", "7");
    job.next("ohms", "36 Ω");
    const std::string first = job.now().next()->id;
    ASSERT_EQ(first.substr(0, 8), "release ");
    job.next(first, "52 Ω");
    EXPECT_EQ(job.ending(), "none") << "36 Ω without 120 Ω are 52 Ω";
    TypedProcedure shorted(storyMap("log-loader"), "network", "7");
    shorted.next("ohms", "2.1 Ω");
    shorted.next(first, "119 Ω");
    EXPECT_EQ(shorted.ending(), "network.end.node");
}

// Right asleep, and awake at these levels.
TypedProcedure awake(const char* high, const char* low)
{
    TypedProcedure job(storyMap("log-loader"), "network", "7");
    job.next("ohms", "60 Ω");
    job.next("ground 7", "OL");
    job.next("ground 8", "OL");
    job.next("level 7", high);
    job.next("level 8", low);
    return job;
}

// The termination ties the lines together: without it the sound one comes back, and the shorted one does not.
TEST(Bus, AUnitThatOnlyJoinsTheLinesIsNotTheShort)
{
    TypedProcedure joined = awake("0.17 V", "0.13 V");
    const std::string first = joined.now().next()->id;
    joined.next(first, "2.5 V");
    EXPECT_EQ(joined.now().next()->id.substr(0, 13), "release both ");
    joined.next(joined.now().next()->id, "0.10 V");
    EXPECT_TRUE(joined.says("network.release.joined"));
    EXPECT_NE(joined.ending(), "network.end.node");
    TypedProcedure held = awake("0.17 V", "0.13 V");
    held.next(first, "2.5 V");
    held.next(held.now().next()->id, "2.3 V");
    EXPECT_EQ(held.ending(), "network.end.node");
}

TEST(Bus, ASupplyOnBothLinesMayBeTheModulesOwnGround)
{
    const Procedure high = awake("14.2 V", "14.1 V").now();
    ASSERT_TRUE(high.next());
    EXPECT_EQ(high.next()->id, "feeds") << "its returns before a unit is accused";
}

}  // namespace
}  // namespace ilvek
