// What is hidden for the measure of the suggestions: it must be fair, or the figures say nothing.
#include "practice/hidden_faults.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <map>

#include "circuit/operating_point.h"
#include "support/complete.h"
#include "support/maps.h"

namespace ilvek {
namespace {

TEST(HiddenFaults, AreDrawnByTheirPriorsAndTheSameForTheSameSeed)
{
    const auto reasoner = test::complete(test::smallMap());
    practice::HiddenFaults hidden(*reasoner, 7), again(*reasoner, 7);
    std::map<int, int> drawn;
    constexpr int draws = 3000;
    for (int n = 0; n < draws; ++n) {
        const practice::Hidden fault = hidden.single(false), same = again.single(false);
        ASSERT_EQ(fault.suspects.size(), 1U);
        EXPECT_EQ(fault.suspects, same.suspects);
        EXPECT_EQ(fault.faults, same.faults);
        EXPECT_TRUE(fault.reports.dead.empty() && fault.reports.codes.empty()) << "nothing is told";
        const Suspect& s = reasoner->suspects()[static_cast<std::size_t>(fault.suspects.front())];
        EXPECT_FALSE(isOfTheMap(s)) << s.id;
        EXPECT_EQ(fault.insideModule, s.insideModule) << s.id;
        ++drawn[fault.suspects.front()];
    }
    // Likelier ones are hidden more often: what they were drawn for each part of their priors differs little among the
    // commonest, but for those severities that nothing sees.
    std::vector<std::pair<int, int>> byCount;
    for (const auto& [suspect, count] : drawn)
        byCount.emplace_back(count, suspect);
    std::sort(byCount.rbegin(), byCount.rend());
    ASSERT_GT(byCount.size(), 10U);
    const auto priorOf = [&](int s) { return reasoner->suspects()[static_cast<std::size_t>(s)].prior; };
    EXPECT_GT(priorOf(byCount.front().second), 3 * priorOf(byCount.back().second));
}

TEST(HiddenFaults, ArePlacedWhereSomeReadingSeesThem)
{
    const auto reasoner = test::complete(test::smallMap());
    const Map& map = reasoner->map();
    practice::HiddenFaults hidden(*reasoner, 11);
    for (int n = 0; n < 60; ++n) {
        const practice::Hidden fault = hidden.pair(false);
        ASSERT_EQ(fault.suspects.size(), 2U);
        EXPECT_NE(fault.suspects[0], fault.suspects[1]);
        bool seen = false;
        for (const auto& block : reasoner->table().all()) {
            Condition condition = block->setup;
            condition.faults = fault.faults;
            const auto point = operatingPoint(map, condition);
            if (!point || point->chatters()) {
                seen = true;
                continue;
            }
            for (const Column& c : block->columns) {
                if (c.probe.ohms) {
                    seen = true;  // a dead circuit is measured otherwise
                    continue;
                }
                const double is = c.probe.element >= 0 ? point->currentThrough(c.probe.element)
                                                       : point->voltage(c.probe.red, c.probe.black);
                seen = seen || std::abs(is - static_cast<double>(c.value[0])) > 0.02;
            }
        }
        EXPECT_TRUE(seen) << n;
    }
}

TEST(Report, SaysWhatTheCircuitWithTheFaultDoesNotDoAndStores)
{
    const Map& map = test::pt9();
    const Reports sound = practice::reportOf(map, {});
    EXPECT_TRUE(sound.dead.empty());
    EXPECT_TRUE(sound.codes.empty());
    EXPECT_GT(sound.works.size(), 10U);
    const Reports fuse = practice::reportOf(map, {{Fault::Kind::Open, map.elementIndex("F4")}});
    EXPECT_EQ(fuse.dead.size() + fuse.works.size(), sound.works.size()) << "each function works or fails";
    const auto fails = [&](const char* id) {
        return std::find(fuse.dead.begin(), fuse.dead.end(), id) != fuse.dead.end();
    };
    EXPECT_TRUE(fails("full-power")) << "without its memory feed the module wakes nothing";
    EXPECT_FALSE(fuse.codes.empty());
}

TEST(OtherWiring, IsInTurnAWireElsewhereTwoExchangedAndACavityThatIsEmpty)
{
    const Map& map = test::pt9();
    for (std::uint32_t n = 0; n < 12; ++n) {
        const practice::OtherWiring other = practice::otherWiring(map, n);
        EXPECT_FALSE(other.wires.empty()) << n;
        EXPECT_NE(other.machine.document, map.document) << "kept solutions must tell the two apart";
        std::size_t changed = 0;
        int empty = 0;
        for (std::size_t e = 0; e < map.elements.size(); ++e)
            changed += map.elements[e].nodes == other.machine.elements[e].nodes ? 0U : 1U;
        for (std::size_t t = 0; t < map.terminals.size(); ++t)
            empty += map.terminals[t].asFound == other.machine.terminals[t].asFound ? 0 : 1;
        EXPECT_EQ(changed, other.wires.size()) << n;
        EXPECT_LE(empty, 1);
        EXPECT_EQ(other.terminals.size(), empty == 1 ? 1U : 2U) << n;
        // The same number is the same machine.
        EXPECT_EQ(practice::otherWiring(map, n).terminals, other.terminals) << n;
    }
}

}  // namespace
}  // namespace ilvek
