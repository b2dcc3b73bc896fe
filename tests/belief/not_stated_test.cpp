// What nobody stated decides nothing: on machines of a sheet whose true figures are not those assumed.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "circuit/operating_point.h"
#include "support/maps.h"
#include "support/one_job.h"
#include "support/random_sheet.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

using test::OneJob;

// The machine in the bay: every assumed figure off by a factor of its own, log-normal.
std::vector<Fault> trueFigures(const Map& map, std::mt19937& random, double sigma)
{
    std::normal_distribution<double> normal;
    std::vector<Fault> out;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (!e.assumed || e.kind == ElementKind::Battery || e.kind == ElementKind::Relay) continue;
        if (e.kind == ElementKind::Regulator) continue;
        out.push_back({Fault::Kind::OutOfValue, static_cast<int>(i), -1, -1, 0, std::exp(sigma * normal(random))});
    }
    return out;
}

// A technician reads every supply open and under the lamp, and its return.
void readSupplies(OneJob& job, const std::vector<Fault>& machine)
{
    const Map& map = job.map();
    const auto take = [&](const std::string& line) {
        const ilvek::SetUp setUp = test::setUpAt(map, line);
        auto condition = *conditionOf(map, setUp);
        condition.faults = machine;
        const auto point = operatingPoint(map, condition);
        ASSERT_TRUE(point);
        const int red = map.nodeIndex(setUp.red), black = map.nodeIndex(setUp.black);
        if (!point->isFloating(red)) job.take(setUp, fmt::format("{:.2f} V", point->voltage(red, black)));
    };
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (!terminal.role || !isSupply(*terminal.role) || terminal.role == Role::RelayFedSupply) continue;
        const char* state = terminal.role == Role::PermanentFeed ? "key off" : "key on";
        const std::string c = map.connectors[static_cast<std::size_t>(terminal.connector)].id;
        const std::string own = map.terminal(terminal.ownReturn).id;
        take(fmt::format("plus > minus; {}", state));
        take(fmt::format("{} > minus; {}; apart {}", terminal.id, state, c));
        take(fmt::format("{} > {}; {}; apart {}; load 21 W lamp", terminal.id, own, state, c));
        take(fmt::format("{} > minus; {}; apart {}; load 21 W lamp at {} > {}", terminal.id, state, c, terminal.id,
                         own));
    }
}

bool accuses(const Reasoning& r, const Reasoner& reasoner)
{
    using Kind = Conclusion::Kind;
    if (r.conclusion.kind == Kind::Outside || r.conclusion.kind == Kind::Inside || r.conclusion.kind == Kind::Either)
        return true;
    return std::any_of(r.groups.begin(), r.groups.end(), [&](const SuspectGroup& g) {
        return !g.members.empty() && g.members.size() <= 8 && g.probability >= 0.9 &&
               isFault(reasoner.suspects()[static_cast<std::size_t>(g.members.front())]);
    });
}

TEST(NotStated, AHealthyMachineIsNotAccusedThoughItsFiguresAreNotThoseAssumed)
{
    std::mt19937 random(2026);
    int accused = 0, failed = 0, doubted = 0, runs = 0;
    for (const double sigma : {0.3, 0.6}) {
        for (int n = 0; n < 10; ++n, ++runs) {
            const Map map = test::randomSheetMap(random);
            OneJob job(map);
            readSupplies(job, trueFigures(map, random, sigma));
            Reasoner reasoner(map, {}, true);
            while (reasoner.buildNext()) {
            }
            reasoner.observe(job.open().assessment, {});
            reasoner.refine();
            const Reasoning r = reasoner.reason({});
            accused += accuses(r, reasoner);
            doubted += r.doubtful.empty() ? 0 : 1;
            for (const Judgement& j : job.open().assessment.judgements) {
                failed += isFailure(j.verdict) ? 1 : 0;
                EXPECT_FALSE(isFailure(j.verdict)) << "sigma " << sigma << ", " << j.word << ": " << j.arithmetic;
            }
        }
    }
    EXPECT_EQ(accused, 0) << "of " << runs;
    EXPECT_LE(doubted, 1) << "of " << runs;
    EXPECT_EQ(failed, 0) << "readings of sound machines";
}

TEST(NotStated, SomethingThatIsOnNoMapKeepsItsShare)
{
    const auto suspects = suspectsOf(test::hauler(), true);
    EXPECT_EQ(suspects.back().kind, SuspectKind::NotOnMap);
    EXPECT_NEAR(suspects.back().prior, 0.12, 0.02);
    EXPECT_LT(suspectsOf(test::pt9(), true).back().prior, 0.01) << "a map drawn for the machine";
    double sum = 0;
    for (const Suspect& s : suspects)
        sum += s.prior;
    EXPECT_NEAR(sum, 1, 1e-9);
}

TEST(NotStated, ALevelOfAnAssumedSensorIsNotJudged)
{
    OneJob job(test::hauler());
    job.take("plus > minus", "25.1 V");
    for (const char* figure : {"0.4 V", "1.9 V", "4.6 V"}) {
        const Judgement& j = job.take("A11 > minus; pulled load A12", figure);
        EXPECT_FALSE(isFailure(j.verdict)) << figure << ": " << j.word;
    }
}

}  // namespace
}  // namespace ilvek
