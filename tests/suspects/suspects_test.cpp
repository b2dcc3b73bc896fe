// Suspects that a technician would name are on the list, and what they do to the circuit finds them again.
#include "suspects/suspects.h"

#include <gmock/gmock.h>

#include <algorithm>
#include <cmath>

#include "belief/belief.h"
#include "prediction/predictions.h"
#include "support/maps.h"
#include "suspects/severity.h"

namespace ilvek {
namespace {

// The names of the suspects whose id ends so.
std::vector<int> ending(const std::vector<Suspect>& suspects, const std::string& with)
{
    std::vector<int> out;
    for (std::size_t i = 0; i < suspects.size(); ++i) {
        if (suspects[i].id.ends_with(with)) out.push_back(static_cast<int>(i));
    }
    return out;
}

// Levels and currents of every terminal in several states, and ohms between neighbours with the key off.
PredictionTable tableOf(const Map& map, const std::vector<Suspect>& suspects)
{
    PredictionTable table;
    for (std::size_t state = 0; state < map.states.size(); state += map.isOfSheet() ? 1U : 3U) {
        Condition setup;
        setup.state = static_cast<int>(state);
        std::vector<Probe> probes;
        for (const int t : map.moduleTerminals()) {
            const Terminal& at = map.terminal(t);
            if (at.a < 0) continue;
            probes.push_back({at.a, map.batteryMinus()});
            if (at.contact >= 0) probes.push_back({-1, -1, 10e6, at.contact});
        }
        for (const Element& e : map.elements) {
            if (e.kind == ElementKind::BusPort && state == 0)
                probes.push_back({e.nodes[0], e.nodes[1], 10e6, -1, true});
        }
        if (auto prediction = predict(map, suspects, setup, probes)) table.add(std::move(*prediction));
    }
    return table;
}

// All that the table has of it at a severity that shows, read to the last digit: how well it explains that, beside
// whatever explains it best.
double explained(const Map& map, const std::vector<Suspect>& suspects, int suspect)
{
    const PredictionTable table = tableOf(map, suspects);
    const auto first = firstCases(suspects);
    const int begin = first[static_cast<std::size_t>(suspect)], end = first[static_cast<std::size_t>(suspect) + 1];
    const auto at = static_cast<std::size_t>(end - begin > 3 ? end - 1 : begin + (end - begin) / 2);
    Belief belief(suspects);
    std::int64_t id = 0;
    for (const auto& block : table.all()) {
        for (const Column& column : block->columns) {
            if (std::isnan(column.value[at]) || std::isnan(column.value[0])) continue;
            if (std::abs(column.value[at] - column.value[0]) < 0.02F || id >= 12) continue;
            Observation o;
            o.id = ++id;
            o.setup = block->setup;
            o.probe = column.probe;
            o.value = static_cast<double>(column.value[at]);
            o.sigma = 0.01;
            belief.take(table, o);
        }
    }
    EXPECT_GT(id, 0) << suspects[static_cast<std::size_t>(suspect)].id << " changes nothing that can be read";
    const std::vector<double> p = belief.probabilities();
    double most = 0;
    for (std::size_t i = 0; i < p.size(); ++i)
        most = std::max(most, p[i] / suspects[i].prior);
    const auto i = static_cast<std::size_t>(suspect);
    return p[i] / suspects[i].prior / most;
}

// Two parts alike of which the page gives one wrong figure: both follow it, also between two severities.
TEST(Severity, BetweenTwoAllPartsOfOneCauseFollow)
{
    Suspect page;
    page.severities = {
        {Fault{Fault::Kind::OutOfValue, 3, -1, -1, 0, 0.4}, Fault{Fault::Kind::OutOfValue, 5, -1, -1, 0, 0.4}},
        {Fault{Fault::Kind::OutOfValue, 3, -1, -1, 0, 0.9}, Fault{Fault::Kind::OutOfValue, 5, -1, -1, 0, 0.9}}};
    const auto faults = faultsAt(page, 0.5);
    ASSERT_EQ(faults.size(), 2U);
    EXPECT_NEAR(faults[0].factor, 0.6, 1e-9);
    EXPECT_NEAR(faults[1].factor, 0.6, 1e-9);
    EXPECT_EQ(faults[1].element, 5);
}

class ListedSuspects : public testing::TestWithParam<std::pair<const Map& (*)(), const char*>> {};

TEST_P(ListedSuspects, AreFoundByWhatTheyDo)
{
    const auto& [map, id] = GetParam();
    const auto suspects = suspectsOf(map(), true);
    const auto all = ending(suspects, id);
    ASSERT_FALSE(all.empty()) << id;
    EXPECT_GT(explained(map(), suspects, all.front()), 0.1);
}

INSTANTIATE_TEST_SUITE_P(All, ListedSuspects,
                         testing::Values(std::pair{&test::pt9, " coil shorted"},
                                         std::pair{&test::pt9, " shorted inside"},
                                         std::pair{&test::pt9, " draws too much"},
                                         std::pair{&test::pt9, " joins its two lines"}, std::pair{&test::pt9, " wet"},
                                         std::pair{&test::pt9, " weak"}, std::pair{&test::hauler, " weak"},
                                         std::pair{&test::hauler, " silent"}, std::pair{&test::hauler, " coil shorted"},
                                         std::pair{&test::washer, "load B3 figure"}));

TEST(Suspects, ThinnedOutKeepTheSlightestAndTheWorst)
{
    const auto all = suspectsOf(test::pt9(), true);
    auto few = all;
    thinOut(few, 4000);
    std::size_t cases = 0;
    for (std::size_t i = 0; i < all.size(); ++i) {
        const auto& before = all[i].severities;
        const auto& after = few[i].severities;
        EXPECT_EQ(after.front(), before.front()) << all[i].id;
        EXPECT_EQ(after.back(), before.back()) << all[i].id;
        EXPECT_TRUE(all[i].graded || after == before) << all[i].id;
        cases += after.size();
    }
    EXPECT_LT(cases, 4800U);
    auto same = all;
    thinOut(same, 100000);
    EXPECT_EQ(same.front().severities.size(), all.front().severities.size());
    EXPECT_EQ(firstCases(same), firstCases(all));
}

TEST(Suspects, OfADrawThatNobodyStatedNoneIsTooMuch)
{
    EXPECT_TRUE(ending(suspectsOf(test::hauler(), true), " draws too much").empty());
}

TEST(Suspects, AFigureThatIsWrongIsNoFaultAndSaysSo)
{
    const auto suspects = suspectsOf(test::washer(), true);
    const Suspect& s = suspects[static_cast<std::size_t>(ending(suspects, "load B3 figure").front())];
    EXPECT_FALSE(isFault(s));
    EXPECT_TRUE(isOfTheMap(s));
    EXPECT_THAT(s.words, testing::HasSubstr("the map's figure is not that of this part"));
}

// Two valves that a page tells alike read alike, and not as it says: it is the page.
TEST(Suspects, AFigureOfSeveralPartsIsWrongForAllOfThemBeforeItIsForOne)
{
    const Map map = test::mapOfRows(
        "pin;circuit;role;far end\n"
        "1;power;supply, with key;\n"
        "2;ground;return;\n"
        "7;clamp;drive, low side;solenoid 7-8 Ω, other wire F4 15 A\n"
        "8;shake;drive, low side;solenoid 7-8 Ω, other wire F4\n"
        "9;horn;drive, low side;solenoid 3-4 Ω, other wire F4\n");
    const auto suspects = suspectsOf(map, true);
    const auto priorOf = [&](const std::string& id) {
        const auto at = std::find_if(suspects.begin(), suspects.end(), [&](const Suspect& s) { return s.id == id; });
        EXPECT_NE(at, suspects.end()) << id;
        return at == suspects.end() ? 0 : at->prior;
    };
    EXPECT_DOUBLE_EQ(priorOf("load 7 and load 8 figure"), priorOf("load 9 figure"));
    EXPECT_LT(priorOf("load 7 figure"), 0.5 * priorOf("load 9 figure"));
    double sum = 0;
    for (const Suspect& s : suspects)
        sum += s.prior;
    EXPECT_NEAR(sum, 1, 1e-9);
    const Suspect& both = suspects[static_cast<std::size_t>(ending(suspects, "load 7 and load 8 figure").front())];
    EXPECT_THAT(both.words, testing::HasSubstr("clamp and shake: the map's figure is not that of these parts"));
    for (const auto& faults : both.severities)
        EXPECT_EQ(faults.size(), 2U);
}

TEST(Suspects, TheSideOfAllDrivesMayBeWrongOnTheSheetAtOnce)
{
    const Map map = test::mapOfRows(
        "pin;circuit;role;far end\n"
        "1;power;supply, with key;\n"
        "2;ground;return;\n"
        "5;knotter;drive, low side;solenoid 8-10 Ω, other wire F3 10 A\n"
        "6;twine;drive, low side;solenoid 8-10 Ω, other wire F3\n");
    const auto suspects = suspectsOf(map, true);
    const Suspect& s = suspects[static_cast<std::size_t>(ending(suspects, "5 and 6 map").front())];
    EXPECT_TRUE(isOfTheMap(s));
    for (const char* node : {"5.a", "5.b", "6.a", "6.b"})
        EXPECT_TRUE(leavesOpen(s, map.nodeIndex(node))) << node;
    EXPECT_FALSE(leavesOpen(s, map.nodeIndex("1.a")));
    EXPECT_FALSE(leavesOpen(s, -1));
    EXPECT_FALSE(leavesOpen(suspects.front(), map.nodeIndex("5.a")));
    for (const Suspect& drawn : suspectsOf(test::pt9(), true))
        EXPECT_TRUE(drawn.also.empty()) << drawn.id << ", and no sheet tells it";
}

}  // namespace
}  // namespace ilvek
