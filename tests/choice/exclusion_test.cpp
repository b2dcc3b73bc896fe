// The reading that would exclude a suspect: taken on a machine with another fault it does, on one with this fault not.
#include "choice/exclusion.h"

#include <gtest/gtest.h>

#include <cmath>

#include "circuit/operating_point.h"
#include "practice/simulated_machine.h"
#include "support/maps.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

class Excluding : public testing::Test {
protected:
    Excluding() : map(test::smallMap()), reasoner(map, WayOfWorking{}, true)
    {
        while (reasoner.buildNext()) {
        }
        reasoner.observe({}, {});
        reasoner.refine();
    }

    // What the exclusion's test reads on a machine with these faults, as it stands in the exclusion's bounds.
    double readOn(const Exclusion& e, const std::vector<Fault>& faults) const
    {
        practice::SimulatedMachine machine(map, faults);
        const auto read = machine.read(e.step, 0);
        EXPECT_TRUE(read) << e.step.title;
        if (!read) return 0;
        if (!e.ohms) return read->value;
        return read->overLimit ? 7.8 : decadesOf(read->value);
    }

    const Map& map;
    Reasoner reasoner;
};

TEST_F(Excluding, WhatIsThereIsNotExcludedAtAnyOfItsSeverities)
{
    const Reasoning r = reasoner.reason({});
    int looked = 0;
    for (std::size_t g = 0; g < r.exclusions.size(); ++g) {
        if (!r.exclusions[g] || r.exclusions[g]->look) continue;
        const Exclusion& e = *r.exclusions[g];
        EXPECT_GT(e.chance, 0.0);
        EXPECT_LE(e.chance, 1.0 + 1e-9);
        EXPECT_GT(e.minutes, 0.0);
        EXPECT_NE(e.words.find(e.step.title), std::string::npos);
        for (const int m : r.groups[g].members) {
            const Suspect& s = reasoner.suspects()[static_cast<std::size_t>(m)];
            if (isOfTheMap(s)) continue;
            for (const auto& faults : s.severities) {
                const double v = readOn(e, faults);
                EXPECT_TRUE(v >= e.low - 1e-3 && v <= e.high + 1e-3)
                    << s.id << " itself would be excluded: " << e.words << " reads " << v;
                ++looked;
            }
        }
    }
    EXPECT_GT(looked, 3);
}

TEST_F(Excluding, ChanceIsHowOftenOtherFaultsAreSeen)
{
    // Of a likely fault: count over all other suspects, by how likely each is.
    const Reasoning r = reasoner.reason({});
    const auto p = reasoner.belief().probabilities();
    int compared = 0;
    for (std::size_t g = 0; g < r.exclusions.size(); ++g) {
        if (!r.exclusions[g] || r.exclusions[g]->look || r.groups[g].probability < 0.02) continue;
        const Exclusion& e = *r.exclusions[g];
        double surely = 0, perhaps = 0, all = 0;
        for (std::size_t i = 0; i < reasoner.suspects().size(); ++i) {
            const Suspect& s = reasoner.suspects()[i];
            const auto& members = r.groups[g].members;
            if (std::find(members.begin(), members.end(), static_cast<int>(i)) != members.end() || isOfTheMap(s))
                continue;
            for (const auto& faults : s.severities) {
                const double v = readOn(e, faults), share = p[i] / static_cast<double>(s.severities.size());
                all += share;
                // The display has a last digit.
                surely += v < e.low - 0.01 || v > e.high + 0.01 ? share : 0;
                perhaps += v < e.low + 0.01 || v > e.high - 0.01 ? share : 0;
            }
        }
        EXPECT_GT(e.chance, surely / all - 0.25) << e.words;
        EXPECT_LT(e.chance, perhaps / all + 0.25) << e.words;
        ++compared;
    }
    EXPECT_GT(compared, 0);
}

}  // namespace
}  // namespace ilvek
