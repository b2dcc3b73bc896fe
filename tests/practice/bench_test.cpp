// A practice run is a job like any other: what it says at its end is what its file says when it is opened again.
#include "practice/bench.h"

#include <gtest/gtest.h>

#include "job/hand_over.h"
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

}  // namespace
}  // namespace ilvek
