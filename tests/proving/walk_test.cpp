#include "proving/walk.h"

#include <gmock/gmock.h>

#include <stdexcept>

#include "proving/judge.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using test::Bench;

class Walking : public testing::Test {
protected:
    const Map& map = test::smallMap();
    Bench bench{map};
    int supply = map.terminalIndex("M-1");
    int on = map.stateIndex("key-on");

    void fails()
    {
        bench.battery(12.0);
        bench.take(openStep(map, {}, supply, on), 11.99);
        bench.take(loadStep(map, {}, supply, on), 6.0);
    }
    void at(const char* node, double volts) { bench.take(walkStep(map, {}, supply, on, map.nodeIndex(node)), volts); }
    Walk walk() { return walkOf(map, bench.evidence(), supply); }
    const WalkPoint& point(const Walk& w, const char* node)
    {
        for (const WalkPoint& p : w.points) {
            if (p.node == map.nodeIndex(node)) return p;
        }
        throw std::runtime_error(node);
    }
};

TEST_F(Walking, UnrollsTheLoopFromPlusToMinus)
{
    const Walk w = walk();
    ASSERT_GE(w.points.size(), 8U);
    EXPECT_EQ(w.points.front().node, map.batteryPlus());
    EXPECT_EQ(w.points.back().node, map.batteryMinus());
    EXPECT_FALSE(point(w, "X-1.a").onReturn);
    EXPECT_TRUE(point(w, "G.ring").onReturn);
    EXPECT_TRUE(point(w, "X-1.a").reachable);
}

TEST_F(Walking, OpenAndLoadedReadingsStandApart)
{
    fails();
    const Walk w = walk();
    EXPECT_DOUBLE_EQ(*point(w, "M-1.a").open_V, 11.99);
    EXPECT_DOUBLE_EQ(*point(w, "M-1.a").toReturn_V, 6.0);
    EXPECT_FALSE(point(w, "M-1.a").loaded_V) << "no potential before the swap";
    EXPECT_DOUBLE_EQ(*point(w, "B.+").loaded_V, 12.0);
}

// Against the own return a low figure may be the return's fault: no step is named before the swap tells.
TEST_F(Walking, BlamesNoSideBeforeTheGroundSwap)
{
    fails();
    EXPECT_FALSE(walk().located);
    EXPECT_DOUBLE_EQ(*point(walk(), "M-1.a").toReturn_V, 6.0);
    bench.take(swapStep(map, {}, supply, on), 11.9);
    const Walk w = walk();
    ASSERT_TRUE(w.located);
    EXPECT_TRUE(w.points[static_cast<std::size_t>(w.located->from)].onReturn) << "the return loses it";
}

TEST_F(Walking, NarrowsTheStepReadingByReading)
{
    fails();
    bench.take(swapStep(map, {}, supply, on), 6.05);
    EXPECT_DOUBLE_EQ(*point(walk(), "M-1.a").loaded_V, 6.05);
    EXPECT_FALSE(walk().isSingleElement);
    at("X-1.a", 11.95);
    Walk w = walk();
    ASSERT_TRUE(w.located);
    EXPECT_EQ(w.points[static_cast<std::size_t>(w.located->from)].node, map.nodeIndex("X-1.a"));
    EXPECT_FALSE(w.isSingleElement);
    at("X-1.b", 6.1);
    w = walk();
    EXPECT_TRUE(w.isSingleElement);
    EXPECT_THAT(w.located->words, testing::HasSubstr("lost at X-1"));
    EXPECT_THAT(w.sentence, testing::HasSubstr("Ω"));
}

TEST_F(Walking, AsksNextForAPointThatCutsTheSuspicion)
{
    fails();
    const Walk before = walk();
    const int next = nextWalkPoint(map, before);
    ASSERT_GE(next, 0);
    EXPECT_TRUE(before.points[static_cast<std::size_t>(next)].reachable);
    // However the point reads, what remains is smaller; so the walk ends.
    int readings = 0;
    for (; readings < 10; ++readings) {
        const Walk w = walk();
        const int p = nextWalkPoint(map, w);
        if (p < 0) break;
        const WalkPoint& here = w.points[static_cast<std::size_t>(p)];
        bench.take(walkStep(map, {}, supply, on, here.node), here.node == map.nodeIndex("X-1.b") ? 6.1 : 11.95);
    }
    EXPECT_LT(readings, 6);
    EXPECT_TRUE(walk().isSingleElement);
}

// Ten metres of thin wire lose a volt by right; only what goes beyond is a step.
TEST(WalkOnALongWire, DoesNotBlameSoundWireForItsLength)
{
    std::string text = test::smallMapText();
    const std::string from = "\"nodes\":[\"X-1.b\",\"M-1.a\"],\"length\":\"1 m\",\"section\":\"1.724 mm²\"";
    ASSERT_NE(text.find(from), std::string::npos);
    text.replace(text.find(from), from.size(),
                 "\"nodes\":[\"X-1.b\",\"M-1.a\"],\"length\":\"30 m\",\"section\":\"1 mm²\"");
    const auto map = readMap(text, "long");
    ASSERT_TRUE(map);
    Bench bench(*map);
    const int supply = map->terminalIndex("M-1"), on = map->stateIndex("key-on");
    bench.battery(12.0);
    bench.take(openStep(*map, {}, supply, on), 11.99);
    const Step load = loadStep(*map, {}, supply, on);
    const auto healthy = healthyReading(*map, readingOf(load, *map, volts(0), {}, 0));
    ASSERT_TRUE(healthy);
    ASSERT_LT(*healthy, 11.6) << "the wire itself loses volts";
    bench.take(load, *healthy);
    const auto before =
        healthyReading(*map, readingOf(walkStep(*map, {}, supply, on, map->nodeIndex("X-1.b")), *map, volts(0), {}, 0));
    bench.take(walkStep(*map, {}, supply, on, map->nodeIndex("X-1.b")), *before);
    EXPECT_FALSE(walkOf(*map, bench.evidence(), supply).located);
    bench.take(walkStep(*map, {}, supply, on, map->nodeIndex("X-1.b")), *before - 2);
    EXPECT_TRUE(walkOf(*map, bench.evidence(), supply).located);
}

TEST(Circuits, OfReferencesAndDrivesAreUnrolledForShowing)
{
    const Map& map = test::pt9();
    const auto labels = [&](const char* id) {
        std::vector<std::string> out;
        for (const WalkPoint& p : circuitOf(map, {}, map.terminalIndex(id)).points)
            out.push_back(p.label);
        return out;
    };
    EXPECT_THAT(labels("J2-19"), testing::AllOf(testing::Contains("F15"), testing::Contains("X4-7"),
                                                testing::Contains("TDV"), testing::Contains("X9-7")));
    EXPECT_THAT(labels("J1-10"), testing::Contains("J1-11"));
    EXPECT_THAT(labels("J1-5"), testing::Contains("K1")) << "through the relay's coil";
    EXPECT_TRUE(labels("J1-26").empty());
}

}  // namespace
}  // namespace ilvek
