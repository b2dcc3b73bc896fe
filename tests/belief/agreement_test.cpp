// Judge, gate and suspects rest on the same predictions and may not contradict each other: over random machines as
// technicians describe them, sound and with a fault.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>

#include "circuit/operating_point.h"
#include "support/maps.h"
#include "support/random_sheet.h"
#include "support/weighed.h"

namespace ilvek {
namespace {

using test::OneJob;
using test::weighed;

constexpr int machines = 12;

// What the machine reads in a set-up, with its faults; nullopt where nothing holds the place.
std::optional<double> truth(const Map& map, const SetUp& setUp, const std::vector<Fault>& faults)
{
    auto condition = conditionOf(map, setUp);
    if (!condition) return std::nullopt;
    condition->faults = faults;
    const int red = map.nodeIndex(setUp.red), black = map.nodeIndex(setUp.black);
    condition->meter = Meter{red, black};
    const auto point = operatingPoint(map, *condition);
    if (!point || point->isFloating(red) || point->isFloating(black)) return std::nullopt;
    return point->voltage(red, black);
}

std::string shown(double v)
{
    return fmt::format("{:.2f} V", v);
}

// The connector of a terminal apart; a supply that this would kill is read with everything mated.
std::string apart(const Map& map, int terminal, const char* state)
{
    const std::string id = map.connectors[static_cast<std::size_t>(map.terminal(terminal).connector)].id;
    const SetUp with =
        test::setUpAt(map, fmt::format("{} > minus; {}; apart {}", map.terminal(terminal).id, state, id));
    const auto v = truth(map, with, {});
    return v && *v > 0.5 * map.systemVoltage_V ? "; apart " + id : "";
}

// Everything that is usually read of a module's supplies and returns, with a battery reading before each.
void readAll(OneJob& job, const std::vector<Fault>& faults)
{
    const Map& map = job.map();
    const auto take = [&](const std::string& line) {
        const SetUp setUp = test::setUpAt(map, line);
        if (const auto v = truth(map, setUp, faults)) job.take(setUp, shown(*v));
    };
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (!terminal.role || !isSupply(*terminal.role) || terminal.ownReturn < 0) continue;
        const char* state = terminal.role == Role::PermanentFeed ? "key off" : "key on";
        const std::string own = map.terminal(terminal.ownReturn).id, as = apart(map, t, state);
        take(fmt::format("plus > minus; {}", state));
        take(fmt::format("{} > minus; {}{}", terminal.id, state, as));
        if (as.empty()) continue;
        take(fmt::format("{} > {}; {}{}; load 21 W lamp", terminal.id, own, state, as));
        take(fmt::format("{} > minus; {}{}; load 21 W lamp at {} > {}", terminal.id, state, as, terminal.id, own));
    }
}

void expectCleanTexts(const OneJob& job, const Reasoning& r)
{
    std::vector<std::string> texts{r.conclusion.words, job.gate().sentence, job.gate().located};
    for (const Judgement& j : job.open().assessment.judgements) {
        texts.insert(texts.end(), {j.word, j.arithmetic, j.limits});
        texts.insert(texts.end(), j.proves.begin(), j.proves.end());
        texts.insert(texts.end(), j.doesNotProve.begin(), j.doesNotProve.end());
    }
    for (const SuspectGroup& g : r.groups)
        texts.push_back(g.words);
    for (const std::string& text : texts) {
        for (const char* bad : {" nan", " inf", "e-0", "0000000", "99999999", ".a ", ".a,", ".b ", ".out", ".ring"})
            EXPECT_THAT(text, testing::Not(testing::HasSubstr(bad)));
    }
}

TEST(Agreement, ASoundMachineReadSoundIsNeitherFailedNorAccusedNorDoubted)
{
    std::mt19937 random(18);
    for (int n = 0; n < machines; ++n) {
        const Map map = test::randomSheetMap(random);
        OneJob job(map);
        readAll(job, {});
        ASSERT_FALSE(job.open().assessment.judgements.empty());
        for (std::size_t i = 0; i < job.open().assessment.judgements.size(); ++i)
            EXPECT_FALSE(isFailure(job.open().assessment.judgements[i].verdict))
                << map.document.size() << " machine " << n << ": " << job.open().assessment.judgements[i].arithmetic;
        const auto reasoner = weighed(job, true);
        const Reasoning r = reasoner->reason({});
        EXPECT_TRUE(r.doubtful.empty()) << "machine " << n;
        EXPECT_NE(r.conclusion.kind, Conclusion::Kind::Outside) << r.conclusion.words;
        EXPECT_NE(r.conclusion.kind, Conclusion::Kind::Inside) << r.conclusion.words;
        EXPECT_EQ(job.gate().located, "");
        EXPECT_NE(job.gate().outcome, Outcome::MayBeCondemned);
        expectCleanTexts(job, r);
    }
}

TEST(Agreement, AReadingAsOfASoundMachineMakesNoFaultLikelierThanNothing)
{
    std::mt19937 random(5);
    for (int n = 0; n < machines; ++n) {
        const Map map = test::randomSheetMap(random);
        OneJob job(map);
        readAll(job, {});
        Reasoner reasoner(map, {}, true);
        while (reasoner.buildNext()) {
        }
        const auto against = [&] {
            std::vector<double> p = reasoner.belief().probabilities();
            for (std::size_t i = 1; i < p.size(); ++i)
                p[i] /= p[0];
            return p;
        };
        reasoner.observe({}, {});
        const auto before = against();
        reasoner.observe(job.open().assessment, {});
        const auto after = against();
        // The figures have two decimals: what they are off by may speak for a fault a little.
        for (std::size_t i = 1; i < before.size() && i < after.size(); ++i)
            EXPECT_LT(after[i], 1.6 * before[i]) << "machine " << n << ": " << reasoner.suspects()[i].words;
    }
}

TEST(Agreement, WhatTheGateLocatesIsAmongTheLikeliestSuspects)
{
    std::mt19937 random(77);
    int located = 0;
    for (int n = 0; n < machines; ++n) {
        const Map map = test::randomSheetMap(random);
        std::vector<int> wires;
        for (std::size_t i = 0; i < map.elements.size(); ++i) {
            if (map.elements[i].kind == ElementKind::Fuse) wires.push_back(static_cast<int>(i));
        }
        const int fuse = wires[random() % wires.size()];
        const std::vector<Fault> faults{{Fault::Kind::AddedResistance, fuse, -1, -1, 0.4 * map.systemVoltage_V}};
        OneJob job(map);
        readAll(job, faults);
        const auto reasoner = weighed(job, true);
        const Reasoning r = reasoner->reason({});
        const bool failed =
            std::any_of(job.open().assessment.judgements.begin(), job.open().assessment.judgements.end(),
                        [](const Judgement& j) { return j.verdict == Verdict::FailsLoaded; });
        if (!failed) continue;  // of a drive, or of a supply that is read with all mated
        ++located;
        ASSERT_FALSE(r.groups.empty());
        // Where the readings leave two as likely, either may stand first.
        const bool among = std::any_of(r.suspects.begin(), r.suspects.end(), [&](const RankedSuspect& x) {
            return reasoner->suspects()[static_cast<std::size_t>(x.suspect)].element == fuse &&
                   x.probability >= 0.5 * r.suspects.front().probability;
        });
        EXPECT_TRUE(among) << "machine " << n << ": " << map.element(fuse).id << " is not among “"
                           << r.groups.front().words << "”";
        EXPECT_TRUE(r.doubtful.empty());
        EXPECT_NE(job.gate().located, "");
        EXPECT_EQ(job.open().gate(job.now(), &r).outcome == Outcome::MayBeCondemned, false);
        expectCleanTexts(job, r);
    }
    EXPECT_GT(located, machines / 3);
}

TEST(Agreement, OneConductorHasOneResistance)
{
    const Map& map = test::hauler();
    for (const double ohm : {0.5, 6.0, 40.0, 450e3}) {
        const std::vector<Fault> faults{{Fault::Kind::AddedResistance, map.elementIndex("F1"), -1, -1, ohm}};
        OneJob job(map);
        const auto read = [&](const std::string& line) {
            const ilvek::SetUp setUp = test::setUpAt(map, line);
            return job.take(setUp, shown(*truth(map, setUp, faults)));
        };
        read("plus > minus; key off");
        read("A3 > A6; key off; apart A");
        const Judgement loaded = read("A3 > A6; key off; apart A; load 21 W lamp");
        read("F1 in > minus; key off; apart A; load 21 W lamp at A3 > A6");
        const Judgement walked = read("F1 out > minus; key off; apart A; load 21 W lamp at A3 > A6");
        ASSERT_TRUE(loaded.loopResistance_ohm);
        EXPECT_NEAR(*loaded.loopResistance_ohm, ohm, 0.15 * ohm + 0.25) << loaded.arithmetic;
        if (ohm < 1e3) continue;
        const std::string figure = "about " + formatQuantity(ohms(std::round(*loaded.loopResistance_ohm / 1e4) * 1e4));
        EXPECT_THAT(loaded.arithmetic, testing::HasSubstr(figure));
        EXPECT_THAT(walked.arithmetic, testing::HasSubstr(figure));
        EXPECT_NE(walked.word, "No current, no step");
    }
}

TEST(Agreement, TheOrderOfEntriesAndAnUndoChangeNothing)
{
    const Map& map = test::hauler();
    const std::pair<const char*, const char*> entries[] = {
        {"A3 > minus; key off; apart A", "25.05 V"},
        {"A3 > A6; key off; apart A; load 21 W lamp", "21.4 V"},
        {"F1 out > minus; key off; apart A; load 21 W lamp at A3 > A6", "24.9 V"},
        {"A6 > minus; key off; apart A; load 21 W lamp at A3 > A6", "0.02 V"}};
    const auto belief = [&](const std::vector<std::size_t>& order, bool withUndo) {
        OneJob job(map);
        job.take("plus > minus; key off", "25.1 V", 5);
        for (const std::size_t i : order)
            job.take(entries[i].first, entries[i].second, 5);
        if (withUndo) {
            job.take("A3 > A6; key off; apart A; load 21 W lamp", "3.2 V", 5);
            job.enter(Undo{job.open().revision});
        }
        return weighed(job, true)->belief().probabilities();
    };
    const auto first = belief({0, 1, 2, 3}, false), turned = belief({3, 1, 0, 2}, false);
    const auto undone = belief({0, 1, 2, 3}, true);
    ASSERT_EQ(turned.size(), first.size());
    ASSERT_EQ(undone.size(), first.size());
    for (std::size_t i = 0; i < first.size(); ++i) {
        // Severities are weighed reading after reading on a grid: the last per cent of a belief hangs on the order.
        EXPECT_NEAR(turned[i], first[i], 0.02) << i;
        EXPECT_NEAR(undone[i], first[i], 1e-9) << i;
    }
}

}  // namespace
}  // namespace ilvek
