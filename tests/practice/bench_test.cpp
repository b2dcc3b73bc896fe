// A practice run is a job like any other: what it says at its end is what its file says when it is opened again.
#include "practice/bench.h"

#include <gtest/gtest.h>

#include <map>
#include <set>

#include "job/hand_over.h"
#include "machine/paths.h"
#include "support/complete.h"
#include "support/maps.h"

namespace ilvek {
namespace {

void expectSaidAgain(const practice::Run& run)
{
    const test::TemporaryFolder folder;
    const auto file = folder / "run.json";
    ASSERT_TRUE(exportContent(run.content, file, {}));
    const auto content = readHandOverFile(file);
    ASSERT_TRUE(content);
    const auto open = OpenJob::of(*content);
    ASSERT_TRUE(open);
    const Reasoning reasoning = weighedInFull(*open)->reason(open->standing());
    const Gate gate = open->gate(run.now_ms(), &reasoning), atItsEnd = run.open.gate(run.now_ms(), &run.last);
    EXPECT_EQ(gate.sentence, atItsEnd.sentence);
    EXPECT_EQ(gate.located, atItsEnd.located);
    EXPECT_EQ(reasoning.conclusion.words, run.last.conclusion.words);
    ASSERT_FALSE(reasoning.groups.empty());
    EXPECT_EQ(reasoning.groups.front().words, run.last.groups.front().words);
    EXPECT_NEAR(reasoning.groups.front().probability, run.last.groups.front().probability, 0.02);
}

class PracticeRun : public testing::TestWithParam<const char*> {};

TEST_P(PracticeRun, SaysAtItsEndWhatItsFileSays)
{
    const Map& map = test::hauler();
    const auto reasoner = test::complete(map);
    const std::string part = GetParam();
    std::vector<Fault> faults;
    if (!part.empty()) faults.push_back({Fault::Kind::AddedResistance, map.elementIndex(part), -1, -1, 4.0});
    ASSERT_TRUE(part.empty() || faults.front().element >= 0);
    practice::SimulatedMachine machine(map, faults);
    const practice::Run run = practice::follow(*reasoner, machine, {{}, !part.empty()}, {}, 25);
    EXPECT_GT(run.tests, 2);
    expectSaidAgain(run);
}

INSTANTIATE_TEST_SUITE_P(Hidden, PracticeRun, testing::Values("", "F1", "strap GP1"), [](const auto& part) {
    return std::string(part.param).empty()                   ? "Nothing"
           : std::string(part.param).substr(0, 5) == "strap" ? "Ground"
                                                             : "Fuse";
});

// On a sheet without figures a thermistor's level says nothing in one state, and no more in the others.
TEST(PracticeBench, ALevelThatSaidNothingIsNotAskedForInEveryState)
{
    const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "1;power;supply, with key;X1-3 > F1 10 A;\n"
        "2;ground;return;G1;\n"
        "3;memory;supply, always;F2 5 A;\n"
        "4;coolant;thermistor input;X2-6;thermistor\n"
        "5;fan;drive, low side;;solenoid 24 Ω, other wire F3 10 A\n"
        "6;pump;drive, low side;;solenoid 24 Ω, other wire F3 10 A\n",
        12);
    Fault warm;
    warm.kind = Fault::Kind::OutOfValue, warm.factor = 1.9;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        if (map.elements[i].kind == ElementKind::Thermistor) warm.element = static_cast<int>(i);
    }
    ASSERT_GE(warm.element, 0);
    practice::SimulatedMachine machine(map, {warm});
    Reasoner reasoner(map, {}, true);
    const practice::Run run = practice::follow(reasoner, machine, {}, {}, 25);
    // With the key off, and with its plug apart, another level must stand there.
    std::map<std::string, std::set<std::string>> states;  // by place on the thermistor's wire
    for (const Reading& r : run.open.job.evidence.readings) {
        const bool isAlike = isVoltageTest(r.test) && r.unplugged.empty() && r.state != "key-off";
        if (isAlike && terminalOnWire(map, map.nodeIndex(r.red)) == map.terminalIndex("4"))
            states[r.red].insert(r.state);
    }
    for (const auto& [place, seen] : states)
        EXPECT_LE(seen.size(), 1U) << place << ": " << testing::PrintToString(seen);
}

}  // namespace
}  // namespace ilvek
