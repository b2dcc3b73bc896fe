// Two faults beside each other, and what tempts to name one too early: a complaint that a third place explains,
// readings that only seem to differ, a battery that drained over a long job.
#include <gtest/gtest.h>

#include <algorithm>

#include "practice/bench.h"
#include "support/complete.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using practice::Told;
using Kind = Conclusion::Kind;

Fault added(const Map& map, const char* element, double ohms)
{
    Fault f;
    f.element = map.elementIndex(element);
    f.resistance_ohm = ohms;
    return f;
}

Fault shorted(int a, int b, double ohms)
{
    Fault f;
    f.kind = Fault::Kind::ShortBetween;
    f.nodeA = a;
    f.nodeB = b;
    f.resistance_ohm = ohms;
    return f;
}

bool names(const Reasoner& reasoner, const practice::Run& run, const char* place)
{
    const auto places = practice::placesOf(reasoner, run);
    return std::find(places.begin(), places.end(), place) != places.end();
}

// The complaint and the codes of both together are those of one relay's wire, and that is what a complaint alone names.
TEST(TwoFaults, WhatAComplaintAloneNamesIsNoVerdict)
{
    const Map& map = test::pt9();
    const auto reasoner = test::complete(map);
    practice::SimulatedMachine machine(
        map, {shorted(map.nodeIndex("X4-2.a"), map.batteryMinus(), 3), added(map, "X4-7", 3)});
    const Told told{{{"engine-runs", "full-power", "tiller-down", "tiller-up", "blade-left", "fan", "beacon",
                      "charging", "display", "tiller-height", "coolant-gauge", "oil-gauge"},
                     {},
                     {"D-102", "D-110", "D-112", "D-120", "D-125", "D-126", "D-127", "D-128", "D-136", "D-140"}}};
    const auto run = practice::follow(*reasoner, machine, told, {}, 40);
    EXPECT_EQ(run.last.conclusion.kind, Kind::Outside);
    EXPECT_TRUE(names(*reasoner, run, "X4-7") && names(*reasoner, run, "X4-2.a")) << run.last.conclusion.words;
}

// What is shorted by an unknown resistance makes each place of its wire read much the same: where the table only
// interpolates, another such reading is no news.
TEST(TwoFaults, ReadingsThatOnlySeemToDifferAreNotAskedFor)
{
    const Map& map = test::pt9();
    const auto reasoner = test::complete(map);
    practice::SimulatedMachine machine(
        map, {shorted(map.nodeIndex("PED2.supply"), map.batteryPlus(), 40), added(map, "W78", 5e5)});
    const Told told{{{"engine-runs", "full-power", "display", "tiller-height", "coolant-gauge", "oil-gauge"},
                     {},
                     {"D-111", "D-123", "D-124"}}};
    const auto run = practice::follow(*reasoner, machine, told, {}, 40);
    EXPECT_EQ(run.last.conclusion.kind, Kind::Outside);
    EXPECT_TRUE(names(*reasoner, run, "PED2.supply")) << run.last.conclusion.words;
    EXPECT_LE(run.tests, 12);
}

// A sound machine that somebody complains of: as long as all reads as it should, nobody is found.
TEST(Verdict, IsNeverMadeByAComplaint)
{
    for (const Map* map : {&test::smallMap(), &test::hauler()}) {
        const auto reasoner = test::complete(*map);
        for (const Function& function : map->functions) {
            practice::SimulatedMachine sound(*map, {});
            const auto run = practice::follow(*reasoner, sound, {{{function.id}, {}, {}}}, {}, 12);
            EXPECT_TRUE(run.last.conclusion.kind == Kind::Open || run.last.conclusion.kind == Kind::Nothing)
                << map->title() << ", " << function.id << ": " << run.last.conclusion.words;
        }
    }
}

TEST(Battery, ThatDrainedOverALongJobIsNoSecondFault)
{
    const Map& map = test::pt9();
    const auto reasoner = test::complete(map);
    Evidence evidence;
    const auto read = [&](const char* state, double v, double minutes) {
        Reading r = readingOf(batteryStep(map, state), map, volts(v), {}, static_cast<std::int64_t>(minutes * 60000));
        r.id = static_cast<std::int64_t>(evidence.readings.size()) + 1;
        r.value.resolution = 0.01;
        evidence.readings.push_back(r);
    };
    // Of a battery that nothing charges.
    read("key-off", 12.46, 0);
    read("running-loaded", 11.95, 110);
    read("idle-warm", 12.01, 112);
    reasoner->observe(assess(map, evidence), {});
    reasoner->refine();
    const auto p = reasoner->belief().probabilities();
    double charging = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
        const std::string& id = reasoner->suspects()[i].id;
        charging += id.starts_with("ALT ") || id == "W1 added resistance" ? p[i] : 0;
    }
    EXPECT_GT(charging, 0.8) << "one of the alternator's own";
    EXPECT_LT(reasoner->belief().worstMisfit(), 2.5) << "and nothing is left for a second";
}

}  // namespace
}  // namespace ilvek
