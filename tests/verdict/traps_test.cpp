// Traps of the work in which the obvious conclusion is wrong and the circuit, or the reasoning, knows better. Those of
// a single reading (T1 to T6, T8, T12, T16, T22) are beside the judgements.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "circuit/operating_point.h"
#include "proving/judge.h"
#include "support/maps.h"
#include "verdict/gate.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

using testing::HasSubstr;

const Map& map()
{
    return test::pt9();
}

Display shown(Condition condition, const std::string& red, const std::string& black,
              Meter::Mode mode = Meter::Mode::Volts)
{
    condition.meter = Meter{map().nodeIndex(red), map().nodeIndex(black), 10e6, mode};
    return *displayOf(map(), condition);
}

Condition in(const std::string& state)
{
    Condition c;
    c.state = map().stateIndex(state);
    return c;
}

Fault added(const std::string& element, double r)
{
    return {Fault::Kind::AddedResistance, map().elementIndex(element), -1, -1, r};
}

double chanceOf(const Reasoner& reasoner, const std::string& id)
{
    const std::vector<double> p = reasoner.belief().probabilities();
    for (std::size_t i = 0; i < p.size(); ++i) {
        if (reasoner.suspects()[i].id == id) return p[i];
    }
    ADD_FAILURE() << "no suspect " << id;
    return 0;
}

Assessment afterReading(test::Bench& bench, const Step& step, double value)
{
    bench.battery(12.5, step.state);
    bench.take(step, value);
    return bench.assessed();
}

TEST(Traps, T7AFewOhmsThatAreRightAndAFigureThatIsNotTheParts)
{
    // "1.4 kΩ where the sensor has 3: it is bad." Mated, the module's own resistances lie beside it.
    Condition mated = in("key-off"), apart = in("key-off");
    apart.unplugged = {map().connectorIndex("J1")};
    const double beside = shown(mated, "J1-13.a", "J1-11.a", Meter::Mode::Ohms).value;
    const double alone = shown(apart, "J1-13.a", "J1-11.a", Meter::Mode::Ohms).value;
    EXPECT_LT(beside, 0.7 * alone);
    const int red = map().nodeIndex("J1-13.a"), black = map().nodeIndex("J1-11.a");
    test::Bench bench(map());
    const Step step = resistanceStep(map(), red, black, mated.state, {}, -1);
    EXPECT_THAT(step.expectation, HasSubstr(formatQuantity(ohms(beside)))) << "the step expects what is right here";
    const Judgement j = bench.take(step, beside);
    EXPECT_TRUE(test::hasTrap(j, "T7"));
    EXPECT_THAT(j.doesNotProve.front(), HasSubstr("carries current"));
}

TEST(Traps, T9ThroughFromEndToEndAndYetChafed)
{
    // "Continuity is good, the wire is good." A wire that rubs through on the frame has the same continuity.
    Condition sound = in("key-off");
    sound.unplugged = {map().connectorIndex("J2"), map().connectorIndex("X9")};
    Condition chafed = sound;
    chafed.faults = {{Fault::Kind::ShortBetween, -1, map().nodeIndex("J2-8.a"), map().batteryMinus(), 5}};
    const auto along = [&](const Condition& c) { return shown(c, "X9-4.b", "J2-8.a", Meter::Mode::Ohms); };
    const auto toGround = [&](const Condition& c) { return shown(c, "J2-8.a", "B1.-", Meter::Mode::Ohms); };
    EXPECT_NEAR(along(sound).value, along(chafed).value, 0.01);
    EXPECT_TRUE(toGround(sound).overLimit);
    EXPECT_NEAR(toGround(chafed).value, 5, 0.5);
}

TEST(Traps, T10NothingAcrossTheLinesIsRightAtRest)
{
    // "0 V between the lines: the bus is dead." At rest that is right; the sum tells a held line.
    const std::string high = "J1-21.a", low = "J1-22.a";
    ASSERT_EQ(map().terminal(map().terminalIndex("J1-21")).role, Role::DifferentialBus);
    const Condition sound = in("key-on");
    Condition held = sound;
    held.faults = {{Fault::Kind::ShortBetween, -1, map().nodeIndex(low), map().batteryMinus(), 3}};
    const auto level = [&](const Condition& c, const std::string& line) { return shown(c, line, "B1.-").value; };
    EXPECT_LT(std::abs(shown(sound, high, low).value), 0.2);
    EXPECT_LT(std::abs(shown(held, high, low).value), 0.5) << "across the lines the fault hardly shows";
    EXPECT_GT(level(sound, high) + level(sound, low), level(held, high) + level(held, low) + 2);
}

TEST(Traps, T11TheClickProvesTheCoilOnly)
{
    // "The relay clicks, the relay is good."
    Condition burnt = in("key-on");
    burnt.faults = {added("K1", 2)};
    const Condition sound = in("key-on");
    EXPECT_NEAR(shown(burnt, "K1.86", "K1.85").value, shown(sound, "K1.86", "K1.85").value, 0.3) << "it clicks";
    EXPECT_GT(shown(burnt, "K1.30", "K1.87").value, shown(sound, "K1.30", "K1.87").value + 0.3) << "and loses volts";
    // In the reasoning, too: a coil that is fed right takes nothing from the contact.
    Reasoner reasoner(map(), {}, true);
    const double contact = chanceOf(reasoner, "K1 bad contact"), coil = chanceOf(reasoner, "K1 coil bad");
    test::Bench bench(map());
    const int state = map().stateIndex("key-on");
    const Step step = pointStep(map(), map().nodeIndex("K1.86"), map().nodeIndex("K1.85"), state, {}, -1);
    reasoner.observe(afterReading(bench, step, shown(sound, "K1.86", "K1.85").value), {});
    EXPECT_GT(chanceOf(reasoner, "K1 bad contact") / contact, 2 * chanceOf(reasoner, "K1 coil bad") / coil);
}

TEST(Traps, T13WhatIsOffToProtectItselfIsNoEvidence)
{
    // "Nothing at the valve: the driver is dead."
    const int state = map().stateIndex("tiller-commanded");
    const Step step = pointStep(map(), map().nodeIndex("TD.control"), map().batteryMinus(), state, {}, -1);
    EXPECT_THAT(step.cautions, testing::Contains(HasSubstr("until the key is cycled")));
    test::Bench bench(map());
    Reasoner reasoner(map(), {}, true);
    const double before = chanceOf(reasoner, "D-J2-19 dead");
    bench.battery(12.5, "tiller-commanded");
    Condition off = in("tiller-commanded");
    off.latchedOff = {map().elementIndex("D-J2-19")};
    bench.take(step, shown(off, "TD.control", "B1.-").value);
    Evidence evidence = bench.evidence();
    reasoner.observe(assess(map(), evidence), {});
    const double naive = chanceOf(reasoner, "D-J2-19 dead");
    EXPECT_GT(naive, 5 * before) << "taken for a reading of now it would look so";
    evidence.readings.back().inShutDown = true;
    reasoner.observe(assess(map(), evidence), {});
    EXPECT_LT(chanceOf(reasoner, "D-J2-19 dead"), 2 * before);
}

TEST(Traps, T15NoVerdictWithoutWhatItExcludes)
{
    // "It fits, so it is that." One reading that fits one fault is no verdict, and the next best fault is named.
    Reasoner reasoner(map(), {}, true);
    Condition faulty = in("key-on");
    faulty.faults = {added("X4-7", 4)};
    const int state = faulty.state;
    test::Bench bench(map());
    const Step step = pointStep(map(), map().nodeIndex("X4-7.b"), map().batteryMinus(), state, {}, -1);
    reasoner.observe(afterReading(bench, step, shown(faulty, "X4-7.b", "B1.-").value), {});
    reasoner.refine();
    const Reasoning r = reasoner.reason({});
    EXPECT_EQ(r.conclusion.kind, Conclusion::Kind::Open);
    EXPECT_GT(r.groups.size(), 1U);
    Gate gate = gateOf(map(), bench.assessed(), {bench.now(), "key-on"});
    weigh(r, map().module, gate);
    EXPECT_NE(gate.outcome, Outcome::MayBeCondemned);
    EXPECT_FALSE(gate.alternative.empty());
}

TEST(Traps, T17MoreThanTheLampCanPassComesFromBehind)
{
    // "The fuse is out, so it is dead." A second battery feeds the branch from behind.
    const Fault fed{Fault::Kind::ShortBetween, -1, map().nodeIndex("B2.+"), map().nodeIndex("J2-24.a"), 8};
    Condition out = in("key-off");
    out.removed = {map().elementIndex("F15"), map().elementIndex("F17"), map().elementIndex("F8")};
    EXPECT_LT(shown(out, "J2-24.a", "B1.-").value, 0.5);
    out.faults = {fed};
    const double seen = shown(out, "J2-24.a", "B1.-").value;
    EXPECT_GT(seen, 1);
    Reasoner reasoner(map(), {}, true);
    test::Bench bench(map());
    Step step = pointStep(map(), map().nodeIndex("J2-24.a"), map().batteryMinus(), out.state, {}, -1);
    step.removed = {"F15", "F17", "F8"};
    const double before = chanceOf(reasoner, "J2-24 from B2");
    reasoner.observe(afterReading(bench, step, seen), {});
    EXPECT_GT(chanceOf(reasoner, "J2-24 from B2"), 20 * before);
    EXPECT_LT(chanceOf(reasoner, "F17 blown or bad contact"), before + 0.01);
}

TEST(Traps, T18APulsedTerminalShowsItsMean)
{
    // "Five volts where twelve should be: bad feed." At 40 % of the time that is right.
    Condition pulsed = in("key-on");
    pulsed.commands[map().elementIndex("D-J2-17")] = 0.4;
    Condition on = pulsed;
    on.commands[map().elementIndex("D-J2-17")] = 1.0;
    const double mean = shown(pulsed, "J2-17.a", "B1.-").value, full = shown(on, "J2-17.a", "B1.-").value;
    EXPECT_NEAR(mean, 0.4 * full, 0.05 * full);
    for (std::size_t i = 0; i < map().elements.size(); ++i) {
        const Element& e = map().elements[i];
        if (e.value("duty", 100.0) >= 100.0 || e.states.empty()) continue;
        const int state = e.states.front();
        test::Bench bench(map());
        const Step step = pointStep(map(), e.nodes[1], map().batteryMinus(), state, {}, -1);
        const auto healthy = healthyReading(map(), readingOf(step, map(), volts(0), {}, 0));
        if (!healthy) continue;
        EXPECT_EQ(bench.take(step, *healthy).word, "As a sound circuit") << e.id;
    }
}

TEST(Traps, T19TheKnownWeakPartStandsFirst)
{
    // "Begin with the easiest." What is known to be weak is likelier before anything was read, all else the same.
    Map weak = map();
    const int terminal = weak.terminalIndex("X4-7");
    weak.elements[static_cast<std::size_t>(weak.terminal(terminal).contact)].weakness = 10;
    const auto prior = [&](const Map& m) {
        for (const Suspect& s : suspectsOf(m, true)) {
            if (s.id == "X4-7 added resistance") return s.prior;
        }
        return 0.0;
    };
    EXPECT_GT(prior(weak), 5 * prior(map()));
}

TEST(Traps, T20BothConductorsInTheJawsCancel)
{
    // "The clamp shows nothing: no current flows."
    const auto point = operatingPoint(map(), in("idle-warm"));
    const int valve = map().elementIndex("FMV");
    EXPECT_GT(std::abs(point->currentThrough(valve)), 0.5);
    EXPECT_NEAR(point->currentThrough({{valve, false}, {valve, true}}), 0, 1e-12);
    EXPECT_NEAR(point->currentThrough({{valve, true}}), -point->currentThrough(valve), 1e-12) << "and the sign";
}

TEST(Traps, W27AClampTellsAnOpenWindingFromAFedOne)
{
    // "12 V at the valve's feed: it works." Feed present and no current is an open winding or an open control side.
    Reasoner reasoner(map(), {}, true);
    const int state = map().stateIndex("tiller-commanded");
    const int terminal = map().terminalIndex("J2-19");
    Condition faulty = in("tiller-commanded");
    const auto sound = operatingPoint(map(), faulty);
    const double flows = std::abs(sound->currentThrough(map().terminal(terminal).contact));
    ASSERT_GT(flows, 0.5);
    const Step step = pointStep(map(), map().nodeIndex("J2-19.a"), map().batteryMinus(), state, {}, terminal);
    const auto chanceWith = [&](double current) {
        test::Bench bench(map());
        bench.battery(12.5, "tiller-commanded");
        bench.take(step, shown(faulty, "J2-19.a", "B1.-").value, current);
        reasoner.forget(true);
        reasoner.observe(bench.assessed(), {});
        return chanceOf(reasoner, "TDV open");
    };
    EXPECT_GT(chanceWith(0.0), 20 * chanceWith(flows));
}

TEST(Traps, T21SoundAtThisCurrentOnly)
{
    // "It passed under load." It passed at the current that was tried, which is said with it.
    test::Bench bench(map());
    const Step step = loadStep(map(), {}, map().terminalIndex("J2-1"), map().stateIndex("key-on"));
    bench.battery(12.5);
    bench.take(openStep(map(), {}, map().terminalIndex("J2-1"), map().stateIndex("key-on")), 12.48);
    EXPECT_TRUE(test::hasTrap(bench.take(step, 12.35), "T21"));
}

}  // namespace
}  // namespace ilvek
