#include "verdict/gate.h"
#include "verdict/reasoner.h"

#include <gmock/gmock.h>

#include <functional>
#include <random>

#include "practice/simulated_machine.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using test::Bench;
using testing::HasSubstr;

// Everything the small machine can be asked, read on a sound one; each entry is one reading or statement.
std::vector<std::function<void(Bench&)>> everything()
{
    static const Map& map = test::smallMap();
    const int on = map.stateIndex("key-on"), off = map.stateIndex("key-off");
    const auto read = [on, off](const char* id, int kind) {
        return [=](Bench& bench) {
            const int terminal = map.terminalIndex(id);
            bench.battery(12.0);
            Step step;
            double value = 0;
            switch (kind) {
                case 0:
                    step = returnStep(map, {}, terminal, on), value = 0.02;
                    break;
                case 1:
                    bench.take(openStep(map, {}, terminal, on), 11.99);
                    step = loadStep(map, {}, terminal, on), value = 11.88;
                    break;
                case 2:
                    step = absentStep(map, {}, terminal, off), value = 0.0;
                    break;
                case 3:
                    step = tableStep(map, terminal, {TestKind::Reference, on, ""}), value = 5.0;
                    break;
                case 4:
                    step = tableStep(map, terminal, {TestKind::Reference, on, ""}), value = 0.001;
                    break;
                default:
                    step = tableStep(map, terminal, {TestKind::Level, on, ""}), value = 2.2;
            }
            bench.take(step, value);
        };
    };
    std::vector<std::function<void(Bench&)>> all{read("M-2", 0), read("M-1", 1), read("M-1", 2),
                                                 read("M-3", 3), read("M-4", 4), read("M-5", 5)};
    for (const GateCheck& check : gateChecks()) {
        if (check.id == "network") continue;  // this machine has none
        all.push_back([id = check.id](Bench& bench) {
            bench.evidence().checks.push_back({id, "done and seen", 1 << 20});
        });
    }
    return all;
}

Gate gateAfter(Bench& bench)
{
    return gateOf(test::smallMap(), bench.assessed(), {bench.now(), "key-on"});
}

TEST(Gate, LetsTheModuleBeCondemnedOnlyWhenEverythingIsEarned)
{
    Bench bench(test::smallMap());
    for (const auto& entry : everything())
        entry(bench);
    const Gate gate = gateAfter(bench);
    EXPECT_EQ(gate.outcome, Outcome::MayBeCondemned) << gate.sentence;
    EXPECT_EQ(gate.grade, "by elimination");
    EXPECT_FALSE(gate.alternative.empty()) << "the best remaining alternative is always shown";
}

// Whatever is proven: while an entry is not weighed by the suspects the module is not free to be condemned.
TEST(Gate, WaitsUntilTheSuspectsHaveWeighedEveryEntry)
{
    Bench bench(test::smallMap());
    for (const auto& entry : everything())
        entry(bench);
    const Reasoning older;
    const auto with = [&](const Suspicion& suspicion) {
        return gateOf(test::smallMap(), bench.assessed(), {bench.now(), "key-on"}, suspicion);
    };
    for (const Suspicion& pending : {Suspicion{nullptr, false}, Suspicion{&older, false}}) {
        const Gate gate = with(pending);
        EXPECT_EQ(gate.outcome, Outcome::NotProven);
        EXPECT_NE(gate.sentence.find("weighed"), std::string::npos) << gate.sentence;
        EXPECT_TRUE(gate.grade.empty());
    }
    EXPECT_EQ(with({&older, true}).outcome, Outcome::MayBeCondemned);
}

TEST(Gate, AnySingleThingMissingForbidsIt)
{
    const auto all = everything();
    for (std::size_t missing = 0; missing < all.size(); ++missing) {
        Bench bench(test::smallMap());
        for (std::size_t i = 0; i < all.size(); ++i) {
            if (i != missing) all[i](bench);
        }
        const Gate gate = gateAfter(bench);
        EXPECT_EQ(gate.outcome, Outcome::NotProven) << "without entry " << missing << ": " << gate.sentence;
    }
}

TEST(Gate, NeverCondemnsOnAnyOfFourHundredIncompleteRecords)
{
    const auto all = everything();
    std::mt19937 random(20);
    for (int n = 0; n < 400; ++n) {
        Bench bench(test::smallMap());
        const unsigned chosen = std::uniform_int_distribution<unsigned>(0, (1U << all.size()) - 2)(random);
        for (std::size_t i = 0; i < all.size(); ++i) {
            if (chosen >> i & 1U) all[i](bench);
        }
        EXPECT_NE(gateAfter(bench).outcome, Outcome::MayBeCondemned) << chosen;
    }
}

TEST(Gate, OpenCircuitReadingsNeverEarnASupply)
{
    Bench bench(test::smallMap());
    auto all = everything();
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (i != 1) all[i](bench);
    }
    bench.battery(12.0);
    bench.take(
        openStep(test::smallMap(), {}, test::smallMap().terminalIndex("M-1"), test::smallMap().stateIndex("key-on")),
        12.0);
    EXPECT_EQ(gateAfter(bench).outcome, Outcome::NotProven);
}

TEST(Gate, AnAssumptionIsCountedApartAndForbidsIt)
{
    Bench bench(test::smallMap());
    auto all = everything();
    for (std::size_t i = 1; i < all.size(); ++i)
        all[i](bench);
    bench.evidence().assumed.emplace_back("M-2", "it looked good");
    const Gate gate = gateAfter(bench);
    EXPECT_EQ(gate.outcome, Outcome::NotProven);
    EXPECT_EQ(gate.lines[0].assumed, 1);
    EXPECT_THAT(gate.lines[0].detail, HasSubstr("only assumed"));
}

TEST(Gate, ARepairReopensWhatItTouched)
{
    Bench bench(test::smallMap());
    for (const auto& entry : everything())
        entry(bench);
    bench.repaired("W2");
    EXPECT_EQ(gateAfter(bench).outcome, Outcome::NotProven);
}

TEST(Gate, AFailureSaysNoAndNamesTheReading)
{
    Bench bench(test::smallMap());
    const Map& map = test::smallMap();
    const int supply = map.terminalIndex("M-1"), on = map.stateIndex("key-on");
    bench.battery(12.0);
    bench.take(openStep(map, {}, supply, on), 11.99);
    bench.take(loadStep(map, {}, supply, on), 6.0);
    const Gate gate = gateAfter(bench);
    EXPECT_EQ(gate.sentence, "No. One supply fails before the module.");
    EXPECT_EQ(gate.lines[1].state, LineState::Failed);
    EXPECT_THAT(gate.lines[1].readings, testing::ElementsAre(bench.lastId()));
    ASSERT_TRUE(gate.next);
    EXPECT_EQ(gate.next->test, TestKind::GroundSwap) << "the hunt goes on before anything else";
}

TEST(Gate, NamesTheCheapestOpenThing)
{
    Bench bench(test::smallMap());
    EXPECT_EQ(gateAfter(bench).cheapest.substr(0, 4), "M-3,") << "mated, in this state, without a load";
    for (const auto& entry : everything())
        entry(bench);
    EXPECT_EQ(gateAfter(bench).cheapest, "");
}

TEST(Gate, ACircuitThatIsNotToBeProbedIsNeverOnThePlanAndNeverEarned)
{
    std::string text = test::smallMapText();
    const std::string from = "\"circuit\":\"level input\"";
    ASSERT_NE(text.find(from), std::string::npos);
    text.replace(text.find(from), from.size(), from + ",\"hazard\":\"restraint system\"");
    const auto map = readMap(text, "x");
    ASSERT_TRUE(map);
    Bench bench(*map);
    const int terminal = map->terminalIndex("M-5");
    EXPECT_FALSE(nextStepFor(*map, bench.assessed(), terminal, {bench.now(), "key-on"}));
    const Gate gate = gateOf(*map, bench.assessed(), {bench.now(), "key-on"});
    EXPECT_EQ(gate.lines[3].earned, 0);
    EXPECT_EQ(gate.outcome, Outcome::NotProven);
}

TEST(Gate, AnEmptyStatementEarnsNothing)
{
    Bench bench(test::smallMap());
    bench.evidence().checks.push_back({"codes", "  ", 1 << 20});
    for (const GateLine& line : gateAfter(bench).lines)
        EXPECT_NE(line.state, LineState::Earned) << line.id;
}

TEST(Gate, AStatementThatSaysNothingEarnsNoLine)
{
    for (const char* said : {"", "  ", "none", "x", "ok", "-", "ab c"})
        EXPECT_FALSE(saysSomething(said)) << said;
    EXPECT_TRUE(saysSomething("none remain after clearing"));
}

TEST(Gate, AMachineWithoutANetworkIsNotAskedForOne)
{
    const auto asks = [](const Map& map) {
        const Gate gate = gateOf(map, assess(map, {}), {0, "key-on"});
        return std::any_of(gate.lines.begin(), gate.lines.end(), [](const GateLine& l) { return l.id == "network"; });
    };
    EXPECT_FALSE(asks(test::smallMap()));
    EXPECT_TRUE(asks(test::pt9()));
}

TEST(Gate, WhatWasToldBeforeARepairIsToldAnew)
{
    Bench bench(test::smallMap());
    for (const auto& entry : everything())
        entry(bench);
    for (Statement& s : bench.evidence().checks)
        s.id = 1;
    bench.evidence().repairs.push_back({2, {"X-1"}, "terminal mended"});
    const Gate gate = gateAfter(bench);
    for (const GateLine& line : gate.lines) {
        if (line.id != "codes") continue;
        EXPECT_EQ(line.state, LineState::Missing);
        EXPECT_THAT(line.detail, testing::HasSubstr("Tell it anew"));
    }
}

}  // namespace
}  // namespace ilvek
