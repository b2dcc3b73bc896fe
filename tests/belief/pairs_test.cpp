// Two faults at once, where no single one explains the readings.
#include <gtest/gtest.h>

#include <cmath>

#include "belief/trial.h"
#include "practice/bench.h"
#include "practice/hidden_faults.h"
#include "support/complete.h"
#include "support/maps.h"
#include "suspects/severity.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

Fault added(const Map& map, const std::string& element, double resistance_ohm)
{
    return {Fault::Kind::AddedResistance, map.elementIndex(element), -1, -1, resistance_ohm};
}

Fault toGround(const Map& map, const std::string& node, double resistance_ohm)
{
    return {Fault::Kind::ShortBetween, -1, map.nodeIndex(node), map.batteryMinus(), resistance_ohm};
}

// Follows the first suggestion on the PT-9 with a noisy meter and what its owner would tell.
practice::Run found(Reasoner& reasoner, const std::vector<Fault>& faults, std::uint32_t seed)
{
    practice::Imperfection noisy;
    noisy.none = false;
    noisy.seed = seed;
    practice::SimulatedMachine machine(reasoner.map(), faults, {}, noisy);
    return practice::follow(reasoner, machine, {practice::reportOf(reasoner.map(), faults)}, {}, 40);
}

bool isNamed(const Reasoner& reasoner, const practice::Run& run, const std::string& words)
{
    return std::any_of(run.last.groups.front().members.begin(), run.last.groups.front().members.end(), [&](int m) {
        return reasoner.suspects()[static_cast<std::size_t>(m)].id.find(words) != std::string::npos;
    });
}

// Every two suspects of the small machine, at all severities of both.
std::vector<Suspect> everyPair(const std::vector<Suspect>& suspects)
{
    std::vector<Suspect> pairs;
    for (std::size_t a = 1; a < suspects.size(); ++a) {
        for (std::size_t b = a + 1; b < suspects.size(); ++b) {
            if (isOfTheMap(suspects[a]) || isOfTheMap(suspects[b])) continue;
            Suspect pair = suspects[a];
            pair.id = suspects[a].id + " + " + suspects[b].id;
            pair.prior = suspects[a].prior * suspects[b].prior;
            pair.graded = false;
            pair.severities.clear();
            for (const auto& x : suspects[a].severities) {
                for (const auto& y : suspects[b].severities) {
                    pair.severities.push_back(x);
                    pair.severities.back().insert(pair.severities.back().end(), y.begin(), y.end());
                }
            }
            pairs.push_back(std::move(pair));
        }
    }
    return pairs;
}

// What is weighed of a machine: every conductor of the module and of the sensor against battery minus.
class Weighed {
public:
    explicit Weighed(const std::vector<Fault>& faults) : suspects_(suspectsOf(map, true)), belief_(suspects_)
    {
        practice::SimulatedMachine machine(map, faults);
        test::Bench bench(map);
        bench.battery(machine.read(batteryStep(map, "key-on"))->value);
        for (const char* place : {"M-1.a", "M-2.a", "M-3.a", "M-4.a", "M-5.a", "X-1.a", "SEN.supply", "SEN.return"}) {
            const Step step =
                pointStep(map, map.nodeIndex(place), map.batteryMinus(), map.stateIndex("key-on"), {}, -1);
            bench.take(step, machine.read(step)->value);
        }
        observations_ = observationsOf(map, bench.assessed(), {});
        for (const Wanted& w : wantedBy(map, observations_)) {
            auto prediction = predict(map, suspects_, w.setup, w.probes);
            if (prediction) table_.add(std::move(*prediction));
        }
        for (const Observation& o : observations_)
            belief_.take(table_, o);
    }

    Search search() const { return {map, suspects_, suspects_.size(), belief_, table_, observations_}; }
    double bestLogLikelihood(const std::vector<Suspect>& suspects) const
    {
        const Trial trial(search(), suspects, wantedBy(map, observations_));
        double best = -1e300;
        for (std::size_t i = 0; i < suspects.size(); ++i)
            best = std::max(best, trial.logLikelihood(i));
        return best;
    }
    const std::vector<Suspect>& suspects() const { return suspects_; }
    const Belief& belief() const { return belief_; }

    const Map& map = test::smallMap();

private:
    std::vector<Suspect> suspects_;
    PredictionTable table_;
    std::vector<Observation> observations_;
    Belief belief_;
};

TEST(Pairs, ExplainAsMuchAsTheBestOfEveryTwo)
{
    const Map& map = test::smallMap();
    const std::pair<Fault, Fault> hidden[] = {{added(map, "X-1", 1.3), toGround(map, "M-3.a", 12)},
                                              {added(map, "G", 0.4), added(map, "W6", 400)},
                                              {added(map, "W3", 0.7), added(map, "W5", 700)}};
    for (const auto& [one, other] : hidden) {
        const Weighed weighed({one, other});
        ASSERT_GT(weighed.belief().worstMisfit(), 5) << "a single fault would explain it";
        const std::vector<Suspect> pairs = explainingPairs(weighed.search());
        ASSERT_FALSE(pairs.empty());
        // The severities of ours lie between those of the table: never worse, and not by less than a reading's sigma.
        EXPECT_GT(weighed.bestLogLikelihood(pairs), weighed.bestLogLikelihood(everyPair(weighed.suspects())) - 0.5)
            << pairs.front().id;
    }
}

TEST(Pairs, SayHowBadEachOfTheTwoIs)
{
    const Map& map = test::smallMap();
    const Weighed weighed({added(map, "X-1", 1.3), toGround(map, "M-3.a", 12)});
    const std::vector<Suspect> pairs = explainingPairs(weighed.search());
    ASSERT_FALSE(pairs.empty());
    const std::string words = wordsAt(pairs.front(), static_cast<double>(pairs.front().severities.size() / 2));
    EXPECT_NE(words.find(" added"), std::string::npos) << words;
    EXPECT_NE(words.find(". And "), std::string::npos) << words;
    for (const Suspect& s : weighed.suspects()) {
        if (s.severities.size() == 1) {
            EXPECT_EQ(severityWords(s, 0), "") << s.id << ": its own words say it";
        }
    }
}

TEST(Pairs, AreNoneWhereOneFaultExplainsAll)
{
    EXPECT_TRUE(explainingPairs(Weighed({added(test::smallMap(), "X-1", 1.3)}).search()).empty());
}

// A line on the ground and a bad contact of a sensor's line: the supply of the pedal on the ground reads nearly alike,
// and a sensor that reads high is as good as the contact until that is read on both sides.
TEST(Pairs, ThatReadNearlyAlikeAreToldApartBeforeAVerdict)
{
    const Map& map = test::pt9();
    const auto whole = test::complete(map);
    Reasoner& reasoner = *whole;
    const auto run = found(reasoner, {toGround(map, "X4-4.a", 0.205), added(map, "X9-1", 11326)}, 1004);
    EXPECT_EQ(run.last.conclusion.kind, Conclusion::Kind::Outside);
    ASSERT_FALSE(run.last.groups.empty());
    EXPECT_TRUE(isNamed(reasoner, run, "X4-4.a to ground")) << run.last.groups.front().words;
    EXPECT_TRUE(isNamed(reasoner, run, "X9-1 added resistance")) << run.last.groups.front().words;

    // Two feeds that the module needs alike: no reading tells whose contact is bad, at whatever resistance that is
    // likeliest. All of them are named, and the module with them.
    const auto feeds = found(reasoner, {toGround(map, "J2-26.a", 5.44), added(map, "J1-4", 9448)}, 1032);
    ASSERT_FALSE(feeds.last.groups.empty());
    EXPECT_TRUE(isNamed(reasoner, feeds, "J1-4 added resistance")) << feeds.last.groups.front().words;
    EXPECT_NE(feeds.last.conclusion.kind, Conclusion::Kind::Inside);
    for (const char* place : {"J1-3", "J1-4", "J1-5"})
        EXPECT_NE(feeds.last.conclusion.words.find(place), std::string::npos) << feeds.last.conclusion.words;
}

}  // namespace
}  // namespace ilvek
