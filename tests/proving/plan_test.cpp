#include "proving/plan.h"

#include <fmt/format.h>
#include <gmock/gmock.h>

#include <map>

#include "practice/demo_job.h"
#include "practice/simulated_machine.h"
#include "support/maps.h"
#include "suspects/suspects.h"
#include "verdict/gate.h"

namespace ilvek {
namespace {

using test::Bench;
using testing::HasSubstr;

// Follows the plan on a machine with a fault until it has nothing to say or the fault is located.
struct Hunt {
    int readings = 0;
    std::string located;
    Gate gate;
    Assessment assessment;
};

Hunt follow(const std::string& startTerminal, std::vector<Fault> faults, int most = 60)
{
    const Map& map = test::pt9();
    practice::SimulatedMachine machine(map, std::move(faults));
    Bench bench(map);
    Hunt hunt;
    const int terminal = map.terminalIndex(startTerminal);
    for (; hunt.readings < most; ++hunt.readings) {
        const Assessment a = bench.assessed();
        const auto step = nextStepFor(map, a, terminal, {bench.now(), "key-on"});
        if (!step) break;
        const auto value = machine.read(*step);
        if (!value) break;
        bench.take(*step, value->value);
    }
    hunt.assessment = bench.assessed();
    hunt.gate = gateOf(map, hunt.assessment, {bench.now(), "key-on"});
    const Walk walk = walkOf(map, bench.evidence(), terminal);
    if (walk.located && walk.isSingleElement) hunt.located = walk.located->words;
    return hunt;
}

int element(const char* id)
{
    return test::pt9().elementIndex(id);
}

TEST(Plan, LeadsFromAnOpenReadingToTheCorrodedTerminal)
{
    const Hunt hunt = follow("J2-1", practice::demoFaults(test::pt9()));
    EXPECT_THAT(hunt.located, HasSubstr("lost at X4-7, from one side to the other"));
    EXPECT_LE(hunt.readings, 12);
    EXPECT_EQ(hunt.gate.outcome, Outcome::Cleared);
}

TEST(Plan, FindsAResistanceInEveryReachablePartOfTheFeed)
{
    // More than half an ohm before the relay's coil would let the relay chatter, which is another story.
    for (const char* part : {"F15", "K1", "F1", "X4-7"}) {
        const Hunt hunt = follow("J2-1", {{Fault::Kind::AddedResistance, element(part), -1, -1, 0.5}});
        EXPECT_THAT(hunt.located, HasSubstr(part)) << part;
    }
}

TEST(Plan, FindsALooseStudThatLooksLikeALowFeed)
{
    // At the ring of G3: the feed of J2-1 is sound, its return is not.
    const Map& map = test::pt9();
    practice::SimulatedMachine machine(map, {{Fault::Kind::AddedResistance, element("G3"), -1, -1, 1.5}});
    Bench bench(map);
    const int on = map.stateIndex("key-on"), terminal = map.terminalIndex("J2-1");
    const auto take = [&](const Step& step) { return bench.take(step, machine.read(step)->value); };
    take(batteryStep(map, "key-on"));
    take(openStep(map, {}, terminal, on));
    EXPECT_EQ(take(loadStep(map, {}, terminal, on)).verdict, Verdict::FailsLoaded);
    EXPECT_EQ(take(swapStep(map, {}, terminal, on)).finding, Finding::ReturnBad);
    const Hunt hunt = follow("J2-1", {{Fault::Kind::AddedResistance, element("G3"), -1, -1, 1.5}});
    EXPECT_THAT(hunt.located, HasSubstr("lost at G3"));
}

TEST(Plan, WalksAReturnUnderTheLoadThatFoundItBad)
{
    const std::pair<const char*, const char*> bad[] = {
        {"J2-3", "G3"}, {"J1-9", "X4-15"}, {"J1-9", "G2"}, {"J1-7", "G1"}};
    for (const auto& [terminal, part] : bad) {
        const Hunt hunt = follow(terminal, {{Fault::Kind::AddedResistance, element(part), -1, -1, 1.5}});
        EXPECT_THAT(hunt.located, HasSubstr(part)) << terminal;
        EXPECT_EQ(hunt.gate.outcome, Outcome::Cleared);
        EXPECT_LE(hunt.readings, 6);
    }
    EXPECT_THAT(follow("J2-3", {{Fault::Kind::Open, element("G3")}}).located, HasSubstr("G3")) << "wholly off";
}

TEST(Plan, ABlownFuseIsFoundOnItsTwoSides)
{
    const Hunt hunt = follow("J2-1", {{Fault::Kind::Open, element("F15")}});
    EXPECT_EQ(hunt.gate.outcome, Outcome::Cleared);
    EXPECT_THAT(hunt.gate.located, HasSubstr("behind F15"));
}

// W15: what feeds the coil, what switches it, and the contact itself, one after the other.
TEST(Plan, AnAbsentSupplyIsFollowedFromItsFuseThroughTheRelayToTheCoil)
{
    const Hunt contact = follow("J1-1", {{Fault::Kind::Open, element("K1")}});
    EXPECT_THAT(contact.gate.located, HasSubstr("across the coil of K1"));
    EXPECT_THAT(contact.gate.located, HasSubstr("does not close"));
    EXPECT_EQ(contact.gate.outcome, Outcome::Cleared);
    EXPECT_LE(contact.readings, 6);

    const Hunt control = follow("J1-1", {{Fault::Kind::Open, element("W20")}});
    EXPECT_THAT(control.gate.located, HasSubstr("the two ends of one conductor"));
    EXPECT_THAT(control.gate.located, HasSubstr("J1-5"));
    EXPECT_EQ(control.gate.outcome, Outcome::Cleared);

    // Not driven by the module: nothing is located, and nothing held against the module before its needs are proven.
    const Hunt driver = follow("J1-1", {{Fault::Kind::Open, element("D-J1-5")}});
    EXPECT_EQ(driver.gate.located, "");
    EXPECT_EQ(proofOf(test::pt9(), driver.assessment, test::pt9().terminalIndex("J1-1")).state,
              ProofState::ProvenLoaded)
        << "with a lead in place of the module";
    EXPECT_EQ(driver.gate.outcome, Outcome::NotProven);
}

// What hangs on one dead relay is read for one terminal and counts for all.
TEST(Plan, AsksForEveryPlaceOfADeadFeedOnce)
{
    const Map& map = test::pt9();
    practice::SimulatedMachine machine(map, {{Fault::Kind::Open, element("D-J1-5")}});
    Bench bench(map);
    std::map<std::string, int> asked;
    for (const char* terminal : {"J1-1", "J1-2", "J2-1", "J2-2"}) {
        for (int most = 0; most < 30; ++most) {
            const auto step = nextStepFor(map, bench.assessed(), map.terminalIndex(terminal), {bench.now(), "key-on"});
            if (!step) break;
            bench.take(*step, machine.read(*step)->value);
            if (step->test == TestKind::FuseCheck || step->test == TestKind::Point) ++asked[step->red + step->black];
        }
    }
    EXPECT_GE(asked.size(), 6U);
    for (const auto& [place, times] : asked)
        EXPECT_EQ(times, 1) << place;
}

TEST(Plan, ASoundSupplyIsProvenAndNothingIsLocated)
{
    const Hunt hunt = follow("J2-1", {});
    EXPECT_EQ(hunt.located, "");
    EXPECT_LE(hunt.readings, 8);
}

// The job's plan, followed on a machine with these faults to its end: how often one step was asked for, at most.
struct Followed {
    int readings = 0, mostOften = 0;
    bool ended = false;
    Assessment assessment;
};

Followed followJob(const std::vector<Fault>& faults)
{
    const Map& map = test::pt9();
    practice::SimulatedMachine machine(map, faults);
    Bench bench(map);
    Followed out;
    std::map<std::string, int> asked;
    std::string state = "key-off";
    for (; out.readings < 250; ++out.readings) {
        const auto step = nextStep(map, bench.assessed(), {bench.now(), state});
        if (!step) {
            out.ended = true;
            break;
        }
        state = step->state;
        bench.take(*step, machine.read(*step)->value);
        if (step->test == TestKind::Battery) continue;
        const std::string what = fmt::format("{} {} {} {}", step->title, step->terminal, step->red, step->state);
        out.mostOften = std::max(out.mostOften, ++asked[what]);
    }
    out.assessment = bench.assessed();
    return out;
}

TEST(Plan, ReadsEveryTerminalOfASoundMachineAndLeavesOpenOnlyWhereSourcesDisagree)
{
    const Map& map = test::pt9();
    const Followed all = followJob({});
    EXPECT_TRUE(all.ended);
    std::vector<std::string> open;
    for (const int t : provingOrder(map, {})) {
        if (!proofOf(map, all.assessment, t).missing.empty()) open.push_back(map.terminal(t).id);
    }
    EXPECT_THAT(open, testing::ElementsAre("J2-26"));
    EXPECT_FALSE(cheapestOpen(map, all.assessment, {})) << "no reading settles what sources disagree about";
}

TEST(Plan, NeverAsksForTheSameOverAndOver)
{
    const auto suspects = suspectsOf(test::pt9(), true);
    std::vector<std::vector<Fault>> machines;
    for (std::size_t i = 0; i < suspects.size(); i += 220)
        machines.push_back(suspects[i].severities.back());
    // Live when it must be dead, and a supply that back-feeds.
    const Map& map = test::pt9();
    machines.push_back({{Fault::Kind::ShortBetween, -1, map.nodeIndex("J1-6.a"), map.batteryPlus(), 0.1}});
    machines.push_back({{Fault::Kind::StuckClosed, element("K1")}});
    for (std::size_t i = 0; i < machines.size(); ++i) {
        const Followed all = followJob(machines[i]);
        EXPECT_TRUE(all.ended) << i;
        EXPECT_LE(all.mostOften, 2) << i;
    }
}

TEST(Plan, AsksForTheBatteryBeforeAReadingThatIsComparedWithIt)
{
    Bench bench(test::smallMap());
    const auto step = nextStep(test::smallMap(), bench.assessed(), {bench.now(), "key-on"});
    ASSERT_TRUE(step);
    EXPECT_EQ(step->test, TestKind::Battery);
    bench.battery(12.0);
    const auto then = nextStep(test::smallMap(), bench.assessed(), {bench.now(), "key-on"});
    ASSERT_TRUE(then);
    EXPECT_EQ(then->test, TestKind::ReturnDrop) << "returns first";
}

TEST(Plan, SignalFirstPutsTheInputsBeforeTheSupplies)
{
    const Map& map = test::smallMap();
    WayOfWorking working;
    const auto roleAt = [&](std::size_t i) { return *map.terminal(provingOrder(map, working)[i]).role; };
    EXPECT_EQ(roleAt(1), Role::SwitchedFeed);
    working.signalFirst = true;
    EXPECT_EQ(roleAt(1), Role::AnalogueInput);
}

TEST(Plan, EmptyCavitiesAreNotOnTheSchedule)
{
    for (const int terminal : provingOrder(test::pt9(), {})) {
        EXPECT_NE(test::pt9().terminal(terminal).id, "J1-26");
        EXPECT_NE(test::pt9().terminal(terminal).id, "J2-28") << "found empty on this variant";
    }
    EXPECT_EQ(provingOrder(test::pt9(), {}).size(), 52U);
}

TEST(Steps, CarryTheirCautionsAndWhatUnpluggingTakesAway)
{
    const Map& map = test::pt9();
    const Step step = loadStep(map, {}, map.terminalIndex("J2-1"), map.stateIndex("key-on"));
    EXPECT_THAT(step.cautions, testing::Contains(HasSubstr("never into the module")));
    EXPECT_THAT(step.cautions, testing::Contains(HasSubstr("spreads it")));
    EXPECT_EQ(step.alsoUnplugged.size(), 27U);
    const Step cranking = openStep(map, {}, map.terminalIndex("J1-4"), map.stateIndex("cranking"));
    EXPECT_THAT(cranking.cautions, testing::Contains(HasSubstr("Rotating parts")));
}

// T16: with J1 apart the main relay loses its control, so its own supplies are read mated.
TEST(Steps, T16ASupplyThatUnpluggingWouldKillIsReadMated)
{
    const Map& map = test::pt9();
    const int on = map.stateIndex("key-on");
    EXPECT_TRUE(openStep(map, {}, map.terminalIndex("J1-1"), on).unplugged.empty());
    EXPECT_EQ(openStep(map, {}, map.terminalIndex("J1-3"), on).unplugged, std::vector<std::string>{"J1"});
    EXPECT_EQ(openStep(map, {}, map.terminalIndex("J2-1"), on).unplugged, std::vector<std::string>{"J2"});
}

TEST(Steps, NeverPutALoadIntoAModulePortOrASignal)
{
    const Map& map = test::pt9();
    Bench bench(map);
    for (const int terminal : provingOrder(map, {})) {
        const auto step = nextStepFor(map, bench.assessed(), terminal, {bench.now(), "key-on"});
        ASSERT_TRUE(step) << map.terminal(terminal).id;
        if (step->load.empty()) continue;
        const Group group = groupOf(*map.terminal(terminal).role);
        EXPECT_TRUE(group == Group::Supplies || group == Group::Returns) << map.terminal(terminal).id;
        EXPECT_EQ(step->loadFrom.find(".b"), std::string::npos) << "loads go to the harness side";
    }
}

TEST(Proof, GoesFromUntouchedToProven)
{
    const Map& map = test::smallMap();
    Bench bench(map);
    const int supply = map.terminalIndex("M-1"), on = map.stateIndex("key-on"), off = map.stateIndex("key-off");
    const auto state = [&] { return proofOf(map, bench.assessed(), supply).state; };
    EXPECT_EQ(state(), ProofState::Untouched);
    bench.battery(12.0);
    bench.take(openStep(map, {}, supply, on), 11.99);
    EXPECT_EQ(state(), ProofState::OpenOnly);
    bench.take(loadStep(map, {}, supply, on), 11.88);
    EXPECT_EQ(state(), ProofState::PartlyLoaded) << "that it is dead with the key off is still missing";
    bench.take(absentStep(map, {}, supply, off), 0.01);
    EXPECT_EQ(state(), ProofState::ProvenLoaded);
}

TEST(Proof, T12AnAssumptionIsNotAProof)
{
    const Map& map = test::smallMap();
    Bench bench(map);
    bench.evidence().assumed.emplace_back("M-2", "same stud as another");
    EXPECT_EQ(proofOf(map, bench.assessed(), map.terminalIndex("M-2")).state, ProofState::Assumed);
    bench.battery(12.0);
    bench.take(returnStep(map, {}, map.terminalIndex("M-2"), map.stateIndex("key-on")), 0.02);
    EXPECT_EQ(proofOf(map, bench.assessed(), map.terminalIndex("M-2")).state, ProofState::ProvenLoaded);
}

// T22: after the repair the old failure is history, and so is the old pass; the same test is owed again.
TEST(Proof, T22ARepairMakesTheReadingsBeforeItStale)
{
    const Map& map = test::smallMap();
    Bench bench(map);
    const int supply = map.terminalIndex("M-1"), on = map.stateIndex("key-on");
    bench.battery(12.0);
    bench.take(openStep(map, {}, supply, on), 11.99);
    bench.take(loadStep(map, {}, supply, on), 6.0);
    EXPECT_EQ(proofOf(map, bench.assessed(), supply).state, ProofState::FailedLoaded);
    bench.repaired("X-1");
    EXPECT_EQ(proofOf(map, bench.assessed(), supply).state, ProofState::Stale);
    const auto step = nextStepFor(map, bench.assessed(), supply, {bench.now(), "key-on"});
    ASSERT_TRUE(step);
    bench.battery(12.0);
    bench.take(openStep(map, {}, supply, on), 11.99);
    bench.take(loadStep(map, {}, supply, on), 11.88);
    EXPECT_EQ(proofOf(map, bench.assessed(), supply).state, ProofState::PartlyLoaded);
}

// The judgements taken over must be those that judging anew would give, reading by reading.
TEST(Proof, WhatIsTakenOverEqualsWhatIsJudgedAnew)
{
    const Map& map = test::smallMap();
    Bench bench(map);
    Assessment kept = bench.assessed();
    const int supply = map.terminalIndex("M-1"), on = map.stateIndex("key-on");
    const auto compare = [&] {
        kept = assess(map, bench.evidence(), &kept);
        const Assessment fresh = bench.assessed();
        ASSERT_EQ(kept.judgements.size(), fresh.judgements.size());
        for (std::size_t i = 0; i < fresh.judgements.size(); ++i) {
            EXPECT_EQ(kept.judgements[i].word, fresh.judgements[i].word) << i;
            EXPECT_EQ(kept.judgements[i].arithmetic, fresh.judgements[i].arithmetic) << i;
            EXPECT_EQ(kept.stale[i], fresh.stale[i]) << i;
        }
    };
    bench.take(openStep(map, {}, supply, on), 11.99);  // no battery yet
    compare();
    bench.battery(12.0);  // of the same minute: the reading before it is judged now
    compare();
    EXPECT_EQ(kept.judgements[0].verdict, Verdict::OpenOnly);
    bench.take(loadStep(map, {}, supply, on), 6.0);
    compare();
    bench.repaired("X-1");
    compare();
    bench.evidence().readings.pop_back();  // an undo
    compare();
}

TEST(Proof, ARepairElsewhereLeavesAReadingAlone)
{
    const Map& map = test::pt9();
    Bench bench(map);
    bench.battery(12.5);
    bench.take(returnStep(map, {}, map.terminalIndex("J1-7"), map.stateIndex("key-on")), 0.028);
    bench.repaired("X4-7");
    EXPECT_EQ(proofOf(map, bench.assessed(), map.terminalIndex("J1-7")).state, ProofState::ProvenLoaded);
}

TEST(Ledger, ASupplyShowsWhatItGaveNotThatItWasDead)
{
    const Map& map = test::pt9();
    const int terminal = map.terminalIndex("J1-1"), on = map.stateIndex("key-on"), off = map.stateIndex("key-off");
    Bench bench(map);
    bench.take(absentStep(map, {}, terminal, off), 0.0);
    EXPECT_EQ(proofOf(map, bench.assessed(), terminal).figure, "0 V") << "all there is so far";
    bench.battery(12.5);
    bench.take(openStep(map, {}, terminal, on), 12.49);
    bench.take(absentStep(map, {}, terminal, off), 0.0);
    EXPECT_EQ(proofOf(map, bench.assessed(), terminal).figure, "12.49 V");
}

}  // namespace
}  // namespace ilvek
