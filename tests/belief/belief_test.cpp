// The belief: what readings make of suspects.
#include <gtest/gtest.h>

#include <cmath>
#include <numeric>

#include "belief/likelihood.h"
#include "circuit/operating_point.h"
#include "practice/bench.h"
#include "practice/hidden_faults.h"
#include "support/complete.h"
#include "support/maps.h"
#include "suspects/severity.h"

namespace ilvek {
namespace {

int suspectNamed(const std::vector<Suspect>& suspects, const std::string& id)
{
    const auto is = [&](const Suspect& s) { return s.id == id; };
    const auto found = std::find_if(suspects.begin(), suspects.end(), is);
    EXPECT_NE(found, suspects.end()) << "no suspect " << id;
    return found == suspects.end() ? 0 : static_cast<int>(found - suspects.begin());
}

double probability(const Reasoner& reasoner, const std::string& id)
{
    return reasoner.belief().probabilities()[static_cast<std::size_t>(suspectNamed(reasoner.suspects(), id))];
}

TEST(Belief, ReadingsOnBothSidesNameThePart)
{
    const auto reasoner = test::complete(test::smallMap());
    const Map& map = reasoner->map();
    practice::SimulatedMachine machine(map, {{Fault::Kind::AddedResistance, map.elementIndex("X-1"), -1, -1, 3}});
    const auto run = practice::follow(*reasoner, machine, {}, {}, 30);
    EXPECT_EQ(run.last.conclusion.kind, Conclusion::Kind::Outside);
    ASSERT_FALSE(run.last.groups.empty());
    const auto places = practice::placesOf(*reasoner, run);
    EXPECT_NE(std::find(places.begin(), places.end(), "X-1"), places.end());
    EXPECT_GT(probability(*reasoner, "X-1 added resistance"), 0.5);
    EXPECT_NEAR(run.last.suspects.front().probability, probability(*reasoner, "X-1 added resistance"), 1e-9);
}

TEST(Belief, ASoundMachineGivesNoVerdictAgainstAnyPart)
{
    const auto reasoner = test::complete(test::smallMap());
    practice::SimulatedMachine machine(reasoner->map(), {});
    const auto run = practice::follow(*reasoner, machine, {}, {}, 40);
    EXPECT_NE(run.last.conclusion.kind, Conclusion::Kind::Inside);
    EXPECT_NE(run.last.conclusion.kind, Conclusion::Kind::Outside);
}

TEST(Belief, TenReadingsOfOnePlaceAreNotTenWitnesses)
{
    // The same slightly low sensor read again and again stays what it is: a part within its tolerance.
    const auto reasoner = test::complete(test::smallMap());
    const Map& map = reasoner->map();
    Observation o;
    o.setup.state = map.stateIndex("key-on");
    o.probe = {map.nodeIndex("M-5.a"), map.nodeIndex("M-4.a")};
    const auto healthy = operatingPoint(map, o.setup);
    const Column* column = reasoner->table().find(o.setup, o.probe);
    ASSERT_TRUE(column);
    o.value = healthy->voltage(o.probe.red, o.probe.black) - 1.5 * static_cast<double>(column->tolerance);
    o.sigma = 0.004;
    Belief belief(reasoner->suspects());
    double after1 = 0;
    for (int n = 1; n <= 10; ++n) {
        o.id = n;
        ASSERT_TRUE(belief.take(reasoner->table(), o));
        if (n == 1) after1 = belief.probabilities()[0];
    }
    EXPECT_GT(belief.probabilities()[0], 0.5 * after1);
}

TEST(Belief, WhatHangsOnTheBatteryIsExpectedWhereItsPostsStandAlsoBesideTheAlternator)
{
    // The battery's own voltage has fallen by half a volt; beside the running alternator the posts show a tenth.
    const Map& map = test::pt9();
    std::vector<Suspect> none(1);
    none.front().severities = {{}};
    for (const char* state : {"key-on", "idle-warm", "running-loaded"}) {
        Condition setup;
        setup.state = map.stateIndex(state);
        std::vector<Probe> probes{batteryProbeOf(map)};
        for (const char* place : {"K4.30", "F17.out", "X7-5.b"})
            probes.push_back({map.nodeIndex(place), map.batteryMinus()});
        const auto prediction = predict(map, none, setup, probes);
        ASSERT_TRUE(prediction);
        Condition drained = setup;
        drained.batteryEmf_V = map.element(map.battery).value("emf") - 0.5;
        const auto is = operatingPoint(map, drained);
        ASSERT_TRUE(is);
        for (std::size_t p = 1; p < probes.size(); ++p)
            EXPECT_NEAR(shiftedTo(prediction->columns[p], 0, prediction->columns[0], is->potential(map.batteryPlus())),
                        is->potential(probes[p].red), 0.006)
                << state << " at " << map.node(probes[p].red);
    }
}

// The pump's winding is short of turns: somewhere between two severities of it the fuse blows, and nothing that is
// interpolated over that is right. A short at its terminal blows the fuse too, and would be named alone.
TEST(Belief, AFuseThatBlowsBetweenTwoSeveritiesDoesNotHideThePart)
{
    Reasoner reasoner(test::pt9(), WayOfWorking{}, true);
    const Map& map = reasoner.map();
    practice::SimulatedMachine machine(map, {{Fault::Kind::OutOfValue, map.elementIndex("M2"), -1, -1, 0, 0.235}});
    test::Bench bench(map);
    const int off = map.stateIndex("key-off"), cranking = map.stateIndex("cranking"), minus = map.batteryMinus();
    const auto take = [&](const Step& step) { bench.take(step, machine.read(step)->value); };
    bench.battery(machine.read(batteryStep(map, "key-off"))->value, "key-off");
    take(resistanceStep(map, map.nodeIndex("K2.87"), minus, off, {}, -1));
    bench.battery(machine.read(batteryStep(map, "cranking"))->value, "cranking");
    for (const char* place : {"K2.87", "K2.30", "F16.out", "M2.plus", "M2.minus"}) {
        take(pointStep(map, map.nodeIndex(place), minus, cranking, {}, -1));
        ASSERT_TRUE(reasoner.observe(bench.assessed(), {}));
        ASSERT_TRUE(reasoner.refine());
        EXPECT_GT(probability(reasoner, "M2 resistance too low"), 0.2) << place;
    }
    EXPECT_GT(probability(reasoner, "M2.plus to ground"), 0.05) << "nor is that excluded";
    const auto severity = reasoner.belief().severity(suspectNamed(reasoner.suspects(), "M2 resistance too low"));
    // With the fuse blown how much worse it is no reading tells.
    const auto& suspect =
        reasoner.suspects()[static_cast<std::size_t>(suspectNamed(reasoner.suspects(), "M2 resistance too low"))];
    EXPECT_GT(std::min(severity, withOrWithoutBlown(suspect, severity).value_or(severity)), 2);
}

TEST(Belief, OhmsOnALiveCircuitSayNothing)
{
    const Map& map = test::smallMap();
    const auto suspects = suspectsOf(map, true);
    Observation o;
    o.setup.state = map.stateIndex("key-on");
    o.probe = {map.nodeIndex("M-1.a"), map.batteryMinus()};
    o.probe.ohms = true;
    o.value = decadesOf(1e9), o.sigma = 0.05;
    auto prediction = predict(map, suspects, o.setup, {o.probe});
    ASSERT_TRUE(prediction);
    ASSERT_TRUE(std::isnan(prediction->columns.front().value[0])) << "12 V stand there";
    PredictionTable table;
    table.add(std::move(*prediction));
    Belief belief(suspects);
    const auto before = belief.probabilities();
    EXPECT_FALSE(belief.take(table, o));
    EXPECT_EQ(belief.probabilities(), before);
    EXPECT_TRUE(belief.taken().empty());
}

// A wire of a pedal's signal at a hundred and fifty kilohms, between two severities that are weighed, and a track that
// stands higher than the book says. The first reading leaves both open; the second shows the track, which the first
// one shares: what it was off by for want of a finer severity must not be held against the wire.
TEST(Belief, AWireBetweenItsSeveritiesIsNotRuledOutByTwoReadingsThatShareAPart)
{
    const Map& map = test::pt9();
    Reasoner reasoner(map, WayOfWorking{}, true);
    const Fault wire{Fault::Kind::AddedResistance, map.elementIndex("W78"), -1, -1, 147604};
    const Reports told = practice::reportOf(map, {wire});
    test::Bench bench(map);
    const auto take = [&](const char* red, const char* black, double battery_V, double value_V) {
        bench.battery(battery_V);
        bench.take(pointStep(map, map.nodeIndex(red), map.nodeIndex(black), map.stateIndex("key-on"), {}, -1), value_V);
        ASSERT_TRUE(reasoner.observe(bench.assessed(), told));
        ASSERT_TRUE(reasoner.refine());
    };
    take("J1-14.a", "J1-11.a", 12.71, 0.4635);
    take("PED1.supply", "B1.-", 12.70, 4.989);
    take("PED1.signal", "B1.-", 12.69, 0.782);
    EXPECT_GT(probability(reasoner, "W78 added resistance"), 0.05);
    EXPECT_GT(probability(reasoner, "X4-1 added resistance"), 0.05);
    // Only a reading between the two tells them apart.
    take("X4-1.b", "B1.-", 12.68, 0.782);
    EXPECT_GT(probability(reasoner, "W78 added resistance"), 0.9);
}

// A bench on the PT-9 that reads with the key on, and a reasoner that weighs each reading in full.
class Read {
public:
    explicit Read(const Reports& told) : reasoner_(test::pt9(), WayOfWorking{}, true), bench_(map()), told_(told) {}

    const Map& map() const { return reasoner_.map(); }
    void take(const char* red, const char* black, double battery_V, double value_V, std::vector<int> apart = {})
    {
        bench_.battery(battery_V);
        bench_.take(
            pointStep(map(), map().nodeIndex(red), map().nodeIndex(black), map().stateIndex("key-on"), apart, -1),
            value_V);
        ASSERT_TRUE(reasoner_.observe(bench_.assessed(), told_));
        ASSERT_TRUE(reasoner_.refine());
    }
    double chanceOf(const std::string& id) const { return probability(reasoner_, id); }
    double z(const std::string& id, std::size_t observation) const
    {
        return reasoner_.belief().against(suspectNamed(reasoner_.suspects(), id), observation).z;
    }
    std::size_t taken() const { return reasoner_.belief().taken().size(); }

private:
    Reasoner reasoner_;
    test::Bench bench_;
    Reports told_;
};

// A pin of the module that is open but for a megohm, beside the meter's ten: just beside a severity of the table, and
// what was computed about it stood for that alone at the next reading. A short of the wire was named instead.
TEST(Belief, ASeverityOfTheTableStandsForThoseAboutItToo)
{
    const Fault pin{Fault::Kind::AddedResistance, test::pt9().elementIndex("J1-17"), -1, -1, 1.3126e6};
    Read read(practice::reportOf(test::pt9(), {pin}));
    read.take("J1-17.a", "J1-9.a", 12.39, 4.424);
    read.take("SEAT.a", "B1.-", 12.38, 4.426);
    read.take("J1-17.a", "J1-9.a", 12.37, 4.433, {read.map().connectorIndex("X4")});
    EXPECT_GT(read.chanceOf("J1-17 added resistance"), 0.9);
}

// Three parts in a row between two places that were read: only priors tell them apart. One of them had been computed
// with the last reading and the others not, and was left alone at 99.8 %.
TEST(Belief, PartsInARowReadAlikeWhicheverWasComputed)
{
    Read read({});
    read.take("J1-14.a", "J1-11.a", 12.33, 0.5298);
    read.take("J1-10.a", "J1-11.a", 12.31, 4.988);
    read.take("PED1.supply", "B1.-", 12.30, 4.987);
    read.take("PED1.signal", "B1.-", 12.29, 0.778);
    EXPECT_GT(read.chanceOf("X4-1 added resistance"), 0.5);
    EXPECT_GT(read.chanceOf("W77 added resistance"), 0.05);
    EXPECT_GT(read.chanceOf("W78 added resistance"), 0.05);
}

// The air mass sensor stands three per cent low, within its tolerance; its output was shorted in the first readings.
// What they are off by is nothing of the sensor's: read on its own it had been four sigmas off.
TEST(Belief, AShortedSensorTellsNothingOfItsOwnOutput)
{
    Read read({});
    read.take("J1-24.a", "J1-7.a", 12.22, 0.0065);
    read.take("MAF.signal", "B1.-", 12.20, 0.0124);
    read.take("X7-12.b", "B1.-", 12.25, 0.955, {read.map().connectorIndex("X7")});
    EXPECT_LT(std::abs(read.z("X7-12.a to ground", read.taken() - 1)), 1.5);
    EXPECT_GT(read.chanceOf("X7-12.a to ground"), 0.2);
    EXPECT_GT(read.chanceOf("J1-24.a to ground"), 0.2);
}

// A second battery has a voltage of its own, which nobody has told the map.
TEST(Belief, ASecondBatteryMayStandElsewhereThanTheBookSays)
{
    const Map& map = test::pt9();
    EXPECT_EQ(toleranceOf(map, map.battery), 0);
    EXPECT_GT(toleranceOf(map, map.elementIndex("B2")), 0.01);
    Reasoner reasoner(map, WayOfWorking{}, true);
    test::Bench bench(map);
    for (const auto& [state, battery_V] :
         {std::pair{"key-on", 12.5}, {"running-loaded", 13.58}, {"idle-warm", 13.74}}) {
        bench.battery(battery_V, state);
        bench.take(pointStep(map, map.nodeIndex("F30.out"), map.batteryMinus(), map.stateIndex(state), {}, -1), 12.45);
    }
    reasoner.observe(bench.assessed(), {});
    const double before = reasoner.suspects().front().prior;
    EXPECT_GT(reasoner.belief().probabilities().front(), 0.8 * before);
    EXPECT_LT(probability(reasoner, "F30.in to supply"), 0.01);
}

// A conductor that is fed from that battery stands where it does: three per cent higher than the book says.
TEST(Belief, AFeedFromAnotherBatteryMayStandWhereThatBatteryDoes)
{
    const Map& map = test::pt9();
    Reasoner reasoner(map, WayOfWorking{}, true);
    const int terminal = map.nodeIndex("J2-15.a");
    practice::SimulatedMachine machine(map, {{Fault::Kind::ShortBetween, -1, map.nodeIndex("B2.+"), terminal, 0.4},
                                             {Fault::Kind::OutOfValue, map.elementIndex("B2"), -1, -1, 0, 1.03}});
    test::Bench bench(map);
    for (const auto& [state, place] :
         {std::pair{"key-off", "J2-15.a"}, {"key-off", "F17.out"}, {"key-on", "J2-15.a"}}) {
        bench.battery(machine.read(batteryStep(map, state))->value, state);
        const Step step = pointStep(map, map.nodeIndex(place), map.batteryMinus(), map.stateIndex(state), {}, -1);
        bench.take(step, machine.read(step)->value);
        ASSERT_TRUE(reasoner.observe(bench.assessed(), {}));
        ASSERT_TRUE(reasoner.refine());
    }
    // Two places are short to supply all the same; the rest is for other readings.
    EXPECT_GT(probability(reasoner, "J2-15 from B2"), 0.2);
    const auto& belief = reasoner.belief();
    for (std::size_t o = 0; o < belief.taken().size(); ++o)
        EXPECT_LT(std::abs(belief.against(suspectNamed(reasoner.suspects(), "J2-15 from B2"), o).z), 2)
            << belief.taken()[o].words;
}

// What was computed of a suspect at some severities of those that it is weighed with, for all that was taken.
class Computed {
public:
    Computed(const Map& map, const Belief& belief, int suspect, std::vector<std::size_t> severities)
        : severities_(std::move(severities))
    {
        std::vector<Suspect> list(1);
        list.front().severities = {{}};
        list.push_back(belief.dense(suspect, severities_));
        const auto wanted = wantedBy(map, belief.taken());
        for (const auto& w : wanted) {
            auto prediction = predict(map, list, w.setup, w.probes, false);
            EXPECT_TRUE(prediction);
            if (prediction) table_.add(std::move(*prediction));
        }
        for (const Observation& o : belief.taken()) {
            Condition bare;
            bare.state = o.setup.state;
            exact_.push_back(
                {{table_.find(o.setup, o.probe)}, o.battery_V ? table_.find(bare, o.batteryProbe) : nullptr, 1});
        }
    }

    void refine(Belief& belief, int suspect) const { belief.refine(suspect, severities_, exact_); }

private:
    std::vector<std::size_t> severities_;
    PredictionTable table_;
    std::vector<Exact> exact_;
};

TEST(Belief, WhatCouldBeOfWeightComputedIsAsGoodAsEverySeverityComputed)
{
    const auto reasoner = test::complete(test::smallMap());
    const Map& map = reasoner->map();
    int compared = 0;
    std::size_t few = 0, all = 0;
    for (const double resistance_ohm : {1.1, 27.0, 5200.0}) {
        practice::SimulatedMachine machine(
            map, {{Fault::Kind::AddedResistance, map.elementIndex("X-1"), -1, -1, resistance_ohm}});
        test::Bench bench(map);
        bench.battery(machine.read(batteryStep(map, "key-on"))->value);
        for (const char* place : {"M-5.a", "M-3.a", "M-2.a", "F1.out"}) {
            const Step step =
                pointStep(map, map.nodeIndex(place), map.batteryMinus(), map.stateIndex("key-on"), {}, -1);
            bench.take(step, machine.read(step)->value);
        }
        ASSERT_TRUE(reasoner->observe(bench.assessed(), {}));
        for (const int s : reasoner->belief().couldBe(2e-3, 40)) {
            Belief windowed = reasoner->belief(), whole = windowed;
            const auto window = windowed.worthComputing(s);
            std::vector<std::size_t> every(whole.weighed(s));
            std::iota(every.begin(), every.end(), 0U);
            Computed(map, windowed, s, window).refine(windowed, s);
            Computed(map, whole, s, every).refine(whole, s);
            const auto i = static_cast<std::size_t>(s);
            EXPECT_NEAR(std::log(windowed.probabilities()[i]), std::log(whole.probabilities()[i]), 0.02)
                << reasoner->suspects()[i].id << " beside " << resistance_ohm << " ohm";
            few += window.size(), all += every.size();
            ++compared;
        }
    }
    EXPECT_GT(compared, 5);
    EXPECT_LT(few, all);
}

}  // namespace
}  // namespace ilvek
