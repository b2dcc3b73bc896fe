// Suspects, belief and the next test, on a small machine whose figures can be followed by hand.
#include "verdict/reasoner.h"

#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <functional>
#include <numeric>

#include "belief/likelihood.h"
#include "circuit/operating_point.h"
#include "papers/common_cause.h"
#include "practice/bench.h"
#include "practice/practice_case.h"
#include "support/complete.h"
#include "support/maps.h"
#include "verdict/gate.h"

namespace ilvek {
namespace {

TEST(Suspects, AreAllThereIsAndAddUpToOne)
{
    const auto suspects = suspectsOf(test::smallMap(), true);
    double sum = 0, module = 0;
    for (const Suspect& s : suspects) {
        sum += s.prior;
        module += s.insideModule ? s.prior : 0;
        EXPECT_FALSE(s.severities.empty()) << s.id;
        EXPECT_FALSE(s.words.empty()) << s.id;
    }
    EXPECT_NEAR(sum, 1.0, 1e-9);
    EXPECT_LT(module, 0.3) << "modules fail seldom, wires and terminals often";
    EXPECT_EQ(suspects.front().kind, SuspectKind::Nothing);
}

TEST(Suspects, AWeakPlaceOnTheMapIsLikelier)
{
    const auto weak = test::smallMapWithFuse(R"("weakness":10)");
    ASSERT_TRUE(weak) << weak.error().front().message();
    const auto prior = [](const Map& map) {
        for (const Suspect& s : suspectsOf(map, true)) {
            if (s.element == map.elementIndex("F1") && s.kind == SuspectKind::Resistance) return s.prior;
        }
        return 0.0;
    };
    EXPECT_GT(prior(*weak), 5 * prior(test::smallMap()));
}

TEST(Predictions, AToleranceOfTheMapCountsBeforeThatOfTheKind)
{
    const auto said = test::smallMapWithFuse(R"("tolerance":"80 %")");
    ASSERT_TRUE(said) << said.error().front().message();
    const auto spread = [](const Map& map) {
        const int part = map.elementIndex("F1");
        Condition setup;
        setup.state = map.stateIndex("key-on");
        std::vector<Suspect> none(1);
        none.front().severities = {{}};
        // Over the fuse itself, with what the module draws.
        const Element& e = map.element(part);
        const auto prediction = predict(map, none, setup, {Probe{e.nodes[0], e.nodes[1]}});
        EXPECT_TRUE(prediction);
        for (const auto& [element, moved] : prediction->columns.front().parts) {
            if (element == part) return std::abs(static_cast<double>(moved));
        }
        return 0.0;
    };
    EXPECT_DOUBLE_EQ(toleranceOf(*said, said->elementIndex("F1")), 0.8);
    EXPECT_GT(spread(*said), 2 * spread(test::smallMap()));
}

TEST(Suspects, ExchangedWiresReadAsTheOtherTerminalDoes)
{
    const Map& map = test::smallMap();
    const auto suspects = suspectsOf(map, true);
    const auto exchanged = std::find_if(suspects.begin(), suspects.end(),
                                        [](const Suspect& s) { return s.id == "M-3 and M-4 exchanged"; });
    ASSERT_NE(exchanged, suspects.end());
    EXPECT_TRUE(isOfTheMap(*exchanged));
    Condition apart;
    apart.state = map.stateIndex("key-on");
    apart.unplugged = {map.connectorIndex("M")};
    const auto sound = operatingPoint(map, apart);
    apart.faults = exchanged->severities.front();
    const auto swapped = operatingPoint(map, apart);
    ASSERT_TRUE(sound && swapped);
    const int minus = map.batteryMinus();
    // What the sensor's supply wire shows is found at the other cavity, and the other way round.
    EXPECT_NEAR(swapped->voltage(map.nodeIndex("M-3.a"), minus), sound->voltage(map.nodeIndex("M-4.a"), minus), 1e-3);
    EXPECT_NEAR(swapped->voltage(map.nodeIndex("M-4.a"), minus), sound->voltage(map.nodeIndex("M-3.a"), minus), 1e-3);
}

TEST(Predictions, AreWhatTheCircuitWithTheFaultReads)
{
    // The table against each case solved alone, from cold, with the meter in the circuit.
    const Map& map = test::smallMap();
    const auto suspects = suspectsOf(map, true);
    const auto first = firstCases(suspects);
    Condition setup;
    setup.state = map.stateIndex("key-on");
    const Probe probe{map.nodeIndex("M-1.a"), map.nodeIndex("M-2.a")};
    const auto prediction = predict(map, suspects, setup, {probe});
    ASSERT_TRUE(prediction);
    for (std::size_t i = 0; i < suspects.size(); ++i) {
        for (std::size_t k = 0; k < suspects[i].severities.size(); ++k) {
            Condition faulty = setup;
            faulty.faults = suspects[i].severities[k];
            faulty.meter = Meter{probe.red, probe.black};
            const auto point = operatingPoint(map, faulty);
            ASSERT_TRUE(point);
            if (point->chatters()) continue;
            // Where there is no wire a lead finds nothing.
            const Suspect& s = suspects[i];
            const bool nothing = s.kind == SuspectKind::EmptyCavity && (s.node == probe.red || s.node == probe.black);
            const double alone = nothing ? 0 : point->voltage(probe.red, probe.black);
            // A millivolt is the last digit of the display. A module whose ground was exchanged for a signal floats on
            // the meter's own current, and its laws bend with it.
            const bool floats = suspects[i].kind == SuspectKind::Exchanged;
            const double moved = std::abs(alone - static_cast<double>(prediction->columns[0].value[0]));
            EXPECT_NEAR(prediction->columns[0].value[static_cast<std::size_t>(first[i]) + k], alone,
                        1e-3 + (floats ? 0.03 * moved : 0.0))
                << suspects[i].id << " severity " << k;
        }
    }
}

TEST(NextTest, WhatTheLikeliestCannotHaveGivenIsReadOnceMoreAndNotTwice)
{
    const auto reasoner = test::complete(test::smallMap());
    const Map& map = reasoner->map();
    Assessment a;
    const auto take = [&](const Step& step, double value) {
        Reading r = readingOf(step, map, volts(value), {}, 1'700'000'000'000);
        r.id = static_cast<std::int64_t>(a.evidence.readings.size()) + 1;
        a.evidence.readings.push_back(std::move(r));
        a = assess(map, std::move(a.evidence));
    };
    Standing standing;
    standing.state = map.stateIndex("key-on");
    const auto next = [&] {
        reasoner->observe(a, {});
        reasoner->refine();
        return reasoner->reason(standing);
    };
    take(batteryStep(map, "key-on"), 12.5);
    // No fault of this map gives twenty volts behind a fuse.
    const int place = map.element(map.elementIndex("F1")).nodes[1];
    take(pointStep(map, place, map.batteryMinus(), standing.state, {}, -1), 20);
    Reasoning r = next();
    ASSERT_FALSE(r.tests.empty());
    ASSERT_TRUE(r.tests.front().again) << r.steps.front().title;
    EXPECT_EQ(r.steps.front().red, map.node(place));
    EXPECT_NE(r.steps.front().why.find("Once more"), std::string::npos);
    EXPECT_EQ(r.conclusion.kind, Conclusion::Kind::Open);
    take(r.steps.front(), 12.4);
    r = next();
    for (const RankedTest& test : r.tests)
        EXPECT_FALSE(test.again) << "twice is enough";
}

TEST(NextTest, NeverPutsALoadWhereItMustNot)
{
    const Map& map = test::pt9();
    for (const Candidate& c : candidatesOf(map, {})) {
        if (!c.setup.load) continue;
        const Terminal& t = map.terminal(c.terminal);
        EXPECT_TRUE(isSupply(*t.role) || t.role == Role::Return) << t.id;
        EXPECT_TRUE(c.setup.unplugged.contains(t.connector)) << t.id << ": the module is still on it";
    }
}

TEST(NextTest, ACircuitThatIsNotToBeProbedIsNeverSuggested)
{
    std::string text = test::smallMapText();
    const std::string cavity = R"("cavity":5,)";
    text.replace(text.find(cavity), cavity.size(), cavity + R"("hazard":"restraint system",)");
    const auto map = readMap(text, "hazard");
    ASSERT_TRUE(map) << map.error().front().message();
    const int forbidden = map->nodeIndex("M-5.a");
    for (const Candidate& c : candidatesOf(*map, {}))
        EXPECT_TRUE(c.red != forbidden && c.black != forbidden);
}

TEST(NextTest, GivesItsReasonAndItsMinutes)
{
    const auto reasoner = test::complete(test::smallMap());
    reasoner->observe({}, {});
    const Reasoning r = reasoner->reason({});
    ASSERT_EQ(r.tests.size(), 3U);
    EXPECT_GE(r.tests[0].worth, r.tests[1].worth);
    EXPECT_GT(r.tests[0].bits, 0);
    EXPECT_NE(r.tests[0].reason.find("min"), std::string::npos);
    EXPECT_EQ(r.steps.size(), 3U);
}

TEST(CommonCause, TheFuseExplainsAllThatIsDead)
{
    const Map& map = test::pt9();
    Reasoner reasoner(map, {}, true);
    const Reports reports =
        reportsOf(map, {"the fan speeds up", "the engine runs"}, {"the tiller lifts", "the blade tilts left"}, {});
    ASSERT_EQ(reports.dead.size(), 2U);
    ASSERT_EQ(reports.works.size(), 2U);
    const auto causes = commonCauses(reasoner, reports, 8);
    ASSERT_FALSE(causes.empty());
    const CommonCause& best = causes.front();
    EXPECT_EQ(best.explains.size(), 2U) << reasoner.suspects()[static_cast<std::size_t>(best.suspect)].words;
    EXPECT_TRUE(best.contradicts.empty());
    const bool f17 = std::any_of(causes.begin(), causes.end(), [&](const CommonCause& c) {
        return reasoner.suspects()[static_cast<std::size_t>(c.suspect)].place == "fuse F17" && c.explains.size() == 2;
    });
    EXPECT_TRUE(f17);
}

TEST(ReasonedGate, OutsideSuspectsForbidACondemnation)
{
    Reasoning r;
    r.suspects.push_back({0, 0.9, 0, 0, "x", {{1, "J2-1", 1, 1, 0.1, 0, true, false, false}}, {}});
    r.groups.push_back({{1}, 0.93, true, false, "driver dead"});
    r.groups.push_back({{2}, 0.07, false, false, "J2-16: added resistance"});
    r.outsideProbability = 0.07;
    Gate gate;
    gate.outcome = Outcome::MayBeCondemned;
    weigh(r, "DCU-54", gate);
    EXPECT_EQ(gate.outcome, Outcome::NotProven);
    r.outsideProbability = 0.001;
    gate.outcome = Outcome::MayBeCondemned;
    weigh(r, "DCU-54", gate);
    EXPECT_EQ(gate.outcome, Outcome::MayBeCondemned);
}

TEST(ReasonedGate, WhatIsLikelierASlipLocatesNothing)
{
    Reasoning r;
    r.suspects.push_back({0, 0.6, 0, 0, "nothing", {{1, "J2-1", 1, 1, 0.1, 0, true, false, false}}, {}});
    r.notOnMap = 0.3;
    r.doubtful = r.slips = {1};
    Gate gate;
    gate.located = "Feed or return of J2-1.";
    weigh(r, "DCU-54", gate);
    EXPECT_EQ(gate.located, "");
    EXPECT_NE(gate.sentence.find("read it again"), std::string::npos);
    // Where the reading fits a fault as well it stands.
    r.doubtful.clear();
    r.slips.clear();
    gate.located = "Feed or return of J2-1.";
    weigh(r, "DCU-54", gate);
    EXPECT_EQ(gate.located, "Feed or return of J2-1.");
}

// It failed, was read again in the same set-up, and was right.
TEST(ReasonedGate, WhatWasRightWhenReadAgainLocatesNothing)
{
    Reasoning r;
    r.suspects.push_back({0, 0.2, 0, 0, "nothing", {{1, "J2-1", 1, 1, 0.1, 0, true, false, false}}, {}});
    r.slips = {1};
    Gate gate;
    gate.located = "Feed or return of J2-1.";
    weigh(r, "DCU-54", gate);
    EXPECT_EQ(gate.located, "");
    EXPECT_NE(gate.sentence.find("right when it was read again"), std::string::npos);
    // Of several only the one that the place is told by.
    r.slips = {1, 4};
    gate.located = "Something feeds J2-1 when it must be dead.";
    gate.locatedBy = 3;
    weigh(r, "DCU-54", gate);
    EXPECT_NE(gate.located, "");
    gate.locatedBy = 4;
    weigh(r, "DCU-54", gate);
    EXPECT_EQ(gate.located, "");
}

TEST(ReasonedGate, ALocatedFaultClearsTheModuleAndNamesTheAlternative)
{
    Reasoning r;
    r.suspects.push_back({0, 0.97, 0, 0, "x", {{1, "J2-1", 1, 1, 0.1, 0, true, false, false}}, {}});
    r.groups.push_back({{1}, 0.97, false, false, "X4-7: added resistance"});
    r.groups.push_back({{2}, 0.03, false, false, "fuse F15"});
    r.conclusion = {Conclusion::Kind::Outside, 0.97, "X4-7: added resistance"};
    Gate gate;
    weigh(r, "DCU-54", gate);
    EXPECT_EQ(gate.outcome, Outcome::Cleared);
    EXPECT_EQ(gate.grade, "on likelihood");
    EXPECT_NE(gate.alternative.find("F15"), std::string::npos) << "T15: the best alternative is always named";
}

// Every line earned but the levels that a bad module gives.
std::vector<GateLine> allButWhatItGives()
{
    std::vector<GateLine> lines;
    for (const char* id : {"returns", "supplies", "references", "inputs", "shut-down"}) {
        GateLine line;
        line.id = id;
        line.state = LineState::Earned;
        line.total = line.earned = 4;
        lines.push_back(line);
    }
    lines[2].state = LineState::Failed;
    lines[2].earned = 2, lines[2].failed = 2;
    return lines;
}

TEST(ReasonedGate, WhatABadModuleGivesDoesNotForbidACondemnationButEverythingElseDoes)
{
    Reasoning r;
    r.suspects.push_back({0, 0.99, 0, 0, "x", {{1, "J1-10", 0, 0, 0.1, 0, true, false, false}}, {}});
    r.groups.push_back({{1}, 0.999, true, false, "regulator dead"});
    r.conclusion = {Conclusion::Kind::Inside, 0.999, "regulator dead"};
    r.outsideProbability = 0.001;
    const auto outcome = [&](const std::function<void(std::vector<GateLine>&)>& change) {
        Gate gate;
        gate.lines = allButWhatItGives();
        change(gate.lines);
        weigh(r, "DCU-54", gate);
        return gate.outcome;
    };
    EXPECT_EQ(outcome([](auto&) {}), Outcome::MayBeCondemned);
    EXPECT_EQ(outcome([](auto& l) { l[1].state = LineState::Failed, l[1].earned = 3, l[1].failed = 1; }),
              Outcome::NotProven)
        << "a supply fails";
    EXPECT_EQ(outcome([](auto& l) { l[2].earned = 1; }), Outcome::NotProven) << "a reference not read";
    EXPECT_EQ(outcome([](auto& l) { l[3].state = LineState::Missing, l[3].earned = 3; }), Outcome::NotProven);
    EXPECT_EQ(outcome([](auto& l) { l[4].state = LineState::Missing; }), Outcome::NotProven) << "no statement";
    r.outsideProbability = 0.03;
    EXPECT_EQ(outcome([](auto&) {}), Outcome::NotProven) << "something outside is likely enough";
    r.outsideProbability = 0.001;
    r.conclusion.kind = Conclusion::Kind::Open;
    EXPECT_EQ(outcome([](auto&) {}), Outcome::NotProven) << "not concluded";
}

TEST(ReasonedGate, PaperAloneDecidesNothing)
{
    Reasoning r;
    r.suspects.push_back({0, 0.97, 0, 0, "x", {{0, "tiller fails", 0, 0, 0.1, 0, false, false, false}}, {}});
    r.groups.push_back({{1}, 0.97, false, false, "X4-7"});
    r.conclusion = {Conclusion::Kind::Outside, 0.97, "X4-7"};
    Gate gate;
    weigh(r, "DCU-54", gate);
    EXPECT_EQ(gate.outcome, Outcome::NotProven);
}

TEST(NextTest, TellsNothingBySmallDifferencesAndMuchByFaultsTooUnlikelyToName)
{
    const auto reasoner = test::complete(test::smallMap());
    const Map& map = reasoner->map();
    reasoner->observe({}, {});
    const Belief& belief = reasoner->belief();
    std::vector<Candidate> measured;  // a look has no figure to be faint
    std::copy_if(reasoner->candidates().begin(), reasoner->candidates().end(), std::back_inserter(measured),
                 [](const Candidate& c) { return c.kind != Candidate::Kind::Look; });
    const auto bitsAt = [&](const PredictionTable& table, const std::vector<SuspectGroup>& groups) {
        std::vector<double> bits;
        for (const RankedTest& t :
             rankTests(map, reasoner->suspects(), belief, groups, table, measured, {}, {}, measured.size()))
            bits.push_back(t.bits);
        return bits.empty() ? 0.0 : *std::max_element(bits.begin(), bits.end());
    };
    const auto groups = groupsOf(reasoner->suspects(), belief, reasoner->table(), reasoner->candidates());
    const double all = bitsAt(reasoner->table(), groups);
    // Nobody named: each suspect is still to be found, and told apart from every other.
    EXPECT_GE(bitsAt(reasoner->table(), {}), all - 1e-9);
    // Every reading brought to within a tenth of a sigma of the sound one.
    PredictionTable faint;
    for (const auto& block : reasoner->table().all()) {
        Prediction p = *block;
        for (Column& c : p.columns) {
            for (float& v : c.value)
                v = c.value[0] + std::clamp(v - c.value[0], -0.001F, 0.001F);
        }
        faint.add(std::move(p));
    }
    EXPECT_LT(bitsAt(faint, groups), 0.2 * all);  // what is left: the map may be wrong where it is read
    EXPECT_GT(all, 0.2);
}

// What still explains all keeps a verdict back: a test of it is asked for though it hardly has any belief.
TEST(NextTest, WhatStandsInTheWayIsWorthATestHoweverUnlikelyItIs)
{
    const auto reasoner = test::complete(test::smallMap());
    const Map& map = reasoner->map();
    reasoner->observe({}, {});
    const Belief& belief = reasoner->belief();
    const auto groups = groupsOf(reasoner->suspects(), belief, reasoner->table(), reasoner->candidates());
    const std::vector<double> p = belief.probabilities();
    int least = 1;
    for (std::size_t i = 1; i < p.size(); ++i) {
        const bool isShort = reasoner->suspects()[i].kind == SuspectKind::ShortToGround;
        if (isShort && p[i] < p[static_cast<std::size_t>(least)]) least = static_cast<int>(i);
    }
    ASSERT_LT(p[static_cast<std::size_t>(least)], 0.02);
    // By candidate.
    const auto bits = [&](const Aims& aims) {
        std::map<int, double> out;
        for (const RankedTest& t : rankTests(map, reasoner->suspects(), belief, groups, reasoner->table(),
                                             reasoner->candidates(), {}, {}, reasoner->candidates().size(), aims))
            out[t.candidate] = t.bits;
        return out;
    };
    Aims aims;
    aims.inTheWay = {least};
    const auto as = bits({}), raised = bits(aims);
    EXPECT_TRUE(std::any_of(raised.begin(), raised.end(), [&](const auto& test) {
        const auto before = as.find(test.first);
        return before == as.end() || test.second > 1.2 * before->second;
    }));
    // Where they have belief enough nothing is raised.
    aims.inTheWay.clear();
    for (std::size_t i = 1; i < p.size(); ++i)
        aims.inTheWay.push_back(static_cast<int>(i));
    EXPECT_EQ(bits(aims), as);
}

TEST(NextTest, NothingToldFindsTheFaultInTheEnd)
{
    const auto reasoner = test::complete(test::smallMap());
    Fault fault;
    fault.kind = Fault::Kind::Open;
    fault.element = reasoner->map().elementIndex("W5");
    practice::SimulatedMachine machine(reasoner->map(), {fault});
    const auto run = practice::follow(*reasoner, machine, {{}, false}, {}, 60);
    EXPECT_EQ(run.last.conclusion.kind, Conclusion::Kind::Outside);
    EXPECT_LT(run.tests, 30);
    const auto places = practice::placesOf(*reasoner, run);
    EXPECT_TRUE(std::find(places.begin(), places.end(), "W5") != places.end()) << run.last.conclusion.words;
}

// In two halves, which run beside each other.
class PracticeCases : public testing::TestWithParam<int> {};
INSTANTIATE_TEST_SUITE_P(Half, PracticeCases, testing::Values(0, 1));

TEST_P(PracticeCases, EachIsSolvedByFollowingTheFirstSuggestion)
{
    const Map& map = test::pt9();
    const auto cases = practice::readCases(map, std::string(ILVEK_SOURCE_DIR) + "/data/practice");
    ASSERT_TRUE(cases) << cases.error().front().message();
    ASSERT_EQ(cases->size(), 14U);
    const auto reasoner = test::complete(map);
    for (std::size_t n = static_cast<std::size_t>(GetParam()); n < cases->size(); n += 2) {
        const practice::PracticeCase& c = (*cases)[n];
        if (!c.asDrawn.empty()) continue;  // its learner has another map; below
        practice::SimulatedMachine machine(map, c.faults, c.timing);
        const auto run = practice::follow(*reasoner, machine, {c.reports}, {}, 60);
        const auto places = practice::placesOf(*reasoner, run);
        using Kind = Conclusion::Kind;
        const Kind kind = run.last.conclusion.kind;
        if (c.moduleBad) {
            // Where the module's own terminal cannot be told from what plugs into it, both stand as one verdict.
            EXPECT_TRUE(kind == Kind::Inside || kind == Kind::Either) << c.id << ": " << run.last.conclusion.words;
            continue;
        }
        EXPECT_EQ(kind, Kind::Outside) << c.id << " after " << run.tests << " tests: " << run.last.conclusion.words;
        const bool right = std::any_of(places.begin(), places.end(),
                                       [&](const std::string& p) { return practice::isRight(c, p, false); });
        EXPECT_TRUE(right) << c.id << ": " << run.last.conclusion.words;
    }
}

TEST(PracticeCase, AWireThatIsNotThereIsFoundByLookingAndTheMapIsBlamed)
{
    const Map& map = test::pt9();
    const auto c = practice::readCase(map, std::string(ILVEK_SOURCE_DIR) + "/data/practice/map-error-j2-28.json");
    ASSERT_TRUE(c);
    const Map learners = practice::learnersMap(map, *c);
    EXPECT_NE(learners.terminal(learners.terminalIndex("J2-28")).asFound, AsFound::Empty);
    EXPECT_EQ(map.terminal(map.terminalIndex("J2-28")).asFound, AsFound::Empty);
    const auto reasoner = test::complete(learners);
    practice::SimulatedMachine machine(map, c->faults, c->timing);
    const auto run = practice::follow(*reasoner, machine, {c->reports}, {}, 60);
    EXPECT_EQ(run.last.conclusion.kind, Conclusion::Kind::MapWrong) << run.last.conclusion.words;
    const auto places = practice::placesOf(*reasoner, run);
    EXPECT_TRUE(std::find(places.begin(), places.end(), "J2-28") != places.end());
    const auto& readings = run.open.job.evidence.readings;
    EXPECT_TRUE(std::any_of(readings.begin(), readings.end(),
                            [](const Reading& r) { return r.found == Found::Empty && r.terminal == "J2-28"; }));
}

TEST(PracticeCase, AFaultyFileNamesThePlaceAndTheReason)
{
    const test::TemporaryFolder folder;
    const std::string file = (folder / "bad.json").string();
    std::ofstream(file) << R"({"format":"ilvek-practice","version":1,"title":"t","complaint":"c","proof":"p",
        "fails":["no such"],"hidden":[{"kind":"added resistance","element":"NOPE","resistance":"4 Ω"},{"kind":"rust"}]})";
    const auto c = practice::readCase(test::pt9(), file);
    ASSERT_FALSE(c);
    std::string all;
    for (const Error& e : c.error())
        all += e.message() + "\n";
    for (const char* word : {"no such", "NOPE", "rust", "hidden fault 1", "bad.json"})
        EXPECT_NE(all.find(word), std::string::npos) << word << " in\n" << all;
}

}  // namespace
}  // namespace ilvek
