// A fuse that a fault has blown stays open: one cause, two findings.
#include "suspects/blown_by.h"

#include <fmt/format.h>
#include <gmock/gmock.h>

#include <algorithm>

#include "circuit/blown_fuses.h"
#include "circuit/operating_point.h"
#include "support/maps.h"
#include "support/weighed.h"
#include "suspects/severity.h"

namespace ilvek {
namespace {

using test::OneJob;
using test::weighed;

const Map& planter()
{
    static const Map map = test::mapOfRows(
        "pin;signal;kind;goes over;to\n"
        "1;battery +;supply, always;F1 20 A;\n"
        "2;key supply;supply, with key;X3-1 > S5 > F7 15 A;\n"
        "3;battery -;ground;X3-2 > G1;\n"
        "4;left clutch;low side;X4-1;coil 18 Ω, other wire X4-3 > S5\n"
        "5;right clutch;low side;X4-2;coil 18 Ω, other wire S5\n"
        "6;lamp;high side;X5-1;lamp 21 W, ground G2\n",
        24);
    return map;
}

const Map& glowPlug()
{
    static const Map map = test::mapOfRows(
        "pin;circuit;role;route;far end\n"
        "1;plus;supply, always;F1 3 A;\n"
        "2;minus;ground;G1;\n"
        "3;glow;drives coil of K1;;coil of K1, other end G1\n"
        ";glow plug;consumer;F3 20 A > K1;heater 1.1 Ω\n",
        12);
    return map;
}

void readBlownFuse(OneJob& job)
{
    job.take("plus > minus; key on", "25.2 V");
    job.take("F7 in > minus; key on", "25.1 V");
    job.take("F7 out > minus; key on", "0.0 V");
}

// The severities of a suspect that have a fuse blown, without it.
std::vector<std::vector<Fault>> blownOf(const Suspect& s)
{
    std::vector<std::vector<Fault>> out;
    for (std::vector<Fault> faults : s.severities) {
        if (ownFaults(faults) == faults.size()) continue;
        faults.resize(ownFaults(faults));
        out.push_back(std::move(faults));
    }
    return out;
}

const Suspect& named(const std::vector<Suspect>& suspects, const std::string& id)
{
    const auto at = std::ranges::find_if(suspects, [&](const Suspect& s) { return s.id == id; });
    EXPECT_NE(at, suspects.end()) << id;
    return at == suspects.end() ? suspects.front() : *at;
}

void expectAsOneByOne(const Map& map)
{
    auto suspects = suspectsOf(map, true);
    const auto bare = suspects;
    blowFuses(map, suspects);
    for (std::size_t i = 0; i < suspects.size(); ++i) {
        if (isOfTheMap(suspects[i])) continue;
        std::vector<std::vector<Fault>> expected;
        for (const std::vector<Fault>& faults : bare[i].severities) {
            const auto with = withBlownFuses(map, faults);
            if (with.size() > faults.size()) expected.push_back(with);
        }
        const std::vector<std::vector<Fault>> found(
            suspects[i].severities.begin() + static_cast<std::ptrdiff_t>(bare[i].severities.size()),
            suspects[i].severities.end());
        EXPECT_EQ(found, expected) << suspects[i].id;
    }
}

TEST(BlownBy, IsFoundAsByTryingEveryFaultInEveryState)
{
    expectAsOneByOne(planter());
    expectAsOneByOne(test::hauler());
}

TEST(BlownBy, AHardShortBehindAFuseBlowsItAndASlightOneDoesNot)
{
    auto suspects = suspectsOf(planter(), true);
    blowFuses(planter(), suspects);
    const auto blown = blownOf(named(suspects, planter().node(planter().nodeIndex("F7.out")) + " to ground"));
    ASSERT_FALSE(blown.empty());
    for (const auto& faults : blown)
        EXPECT_LT(faults.front().resistance_ohm, 25.0 / 15);
}

TEST(BlownBy, OnlyADriveThatIsToldOnBlowsTheFuseOfItsOwnWire)
{
    const Fault shorted{Fault::Kind::ShortBetween, -1, planter().nodeIndex("X5-1.b"), planter().batteryMinus(), 0.05};
    ASSERT_GE(shorted.nodeA, 0);
    Condition keyOn;
    keyOn.state = planter().stateIndex("key-on");
    keyOn.faults = {shorted};
    EXPECT_TRUE(operatingPoint(planter(), keyOn)->blownFuses().empty());
    EXPECT_GT(withBlownFuses(planter(), {shorted}).size(), 1U);
}

TEST(BlownBy, WhatIsUnpluggedDoesNotMakeABlownFuseWhole)
{
    OneJob job(planter());
    readBlownFuse(job);
    job.take("2 > 3; key on; apart X4", "0.0 V");
    job.take("2 > 3; key on; apart C1", "0.0 V");
    const auto reasoner = weighed(job);
    const auto p = reasoner->belief().probabilities();
    double behindX4 = 0, fuse = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
        const Suspect& s = reasoner->suspects()[i];
        if (s.id.starts_with("X4-3") && s.kind == SuspectKind::ShortToGround) behindX4 += p[i];
        if (s.id.starts_with("F7 ")) fuse += p[i];
    }
    EXPECT_GT(behindX4, 0.02) << "unplugging it does not bring the level back: the fuse is blown";
    EXPECT_LT(fuse, 0.6);
}

TEST(BlownBy, AFuseThatIsOpenOnItsOwnIsNotTheFault)
{
    OneJob job(planter());
    readBlownFuse(job);
    job.take("F7 in > F7 out; key off; pulled F7", "OL");
    const auto reasoner = weighed(job);
    const Reasoning r = reasoner->reason({});
    EXPECT_EQ(r.conclusion.kind, Conclusion::Kind::Open) << r.conclusion.words;
    const auto p = reasoner->belief().probabilities();
    double shorts = 0;
    for (std::size_t i = 0; i < p.size(); ++i)
        shorts += reasoner->suspects()[i].kind == SuspectKind::ShortToGround ? p[i] : 0;
    EXPECT_GT(shorts, 0.3) << "what blew it is to be looked for";
}

TEST(BlownBy, WithAWholeFusePutInTheLevelComesBackWhenTheShortIsUnplugged)
{
    OneJob job(planter());
    readBlownFuse(job);
    job.take("2 > 3; key on; apart X4", "25.0 V");
    const auto reasoner = weighed(job);
    const auto ranked = reasoner->belief().ranked(1, reasoner->suspects().size());
    ASSERT_FALSE(ranked.empty());
    const Suspect& first = reasoner->suspects()[static_cast<std::size_t>(ranked.front())];
    EXPECT_EQ(first.kind, SuspectKind::ShortToGround) << first.words;
}

TEST(BlownBy, TheSameSeverityWithAndWithout)
{
    auto suspects = suspectsOf(planter(), true);
    blowFuses(planter(), suspects);
    for (const Suspect& s : suspects) {
        const auto blown = blownOf(s);
        if (blown.empty()) {
            EXPECT_EQ(withOrWithoutBlown(s, 0), std::nullopt) << s.id;
            continue;
        }
        const double last = static_cast<double>(s.severities.size()) - 1;
        const double whole = withOrWithoutBlown(s, last).value();
        EXPECT_EQ(faultsAt(s, whole), blown.back()) << s.id;
        EXPECT_EQ(withOrWithoutBlown(s, whole), last) << s.id;
    }
}

TEST(BlownBy, AFuseThatIsWholeOnItsOwnMayStillSitBadlyInItsHolder)
{
    const Map& map = glowPlug();
    OneJob job(map);
    job.take("plus > minus; key on", "12.6 V");
    job.take("F3 in > minus; commanded 3", "12.4 V");
    job.take("F3 out > minus; commanded 3", "0.4 V");
    job.take("F3 in > F3 out; key off; pulled F3", "0.1 Ω");
    const auto reasoner = weighed(job);
    const auto ranked = reasoner->belief().ranked(1, reasoner->suspects().size());
    ASSERT_FALSE(ranked.empty());
    EXPECT_THAT(reasoner->suspects()[static_cast<std::size_t>(ranked.front())].words,
                testing::HasSubstr("fuse F3: blown or bad contact"));
}

TEST(BlownBy, AWrongFigureThatWouldBlowAFuseIsNotTheOne)
{
    const Map& map = glowPlug();
    auto suspects = suspectsOf(map, true);
    blowFuses(map, suspects);
    int figures = 0;
    for (const Suspect& s : suspects) {
        if (s.kind != SuspectKind::FigureWrong) continue;
        ++figures;
        for (const auto& faults : s.severities)
            EXPECT_EQ(withBlownFuses(map, faults), faults) << s.words;
    }
    EXPECT_GT(figures, 0);
}

// A whole fuse that is put in holds until the drive is told on.
TEST(BlownBy, ANewFuseBetweenTwoReadingsSpeaksNeitherForAnotherFaultNorForASlip)
{
    const Map map = test::mapOfRows(
        "pin;name;role;route;part\n"
        "1;battery feed;supply, always;F4 15 A;\n"
        "2;earth;ground;G1;\n"
        "3;ramp up;high side;X2-1;pump relay K5 coil, ground G2\n"
        "4;ramp down;high side;X2-2;down valve 24 W, ground G2\n",
        12);
    OneJob job(map);
    job.take("plus > minus; key on", "12.6 V");
    job.take("F4 in > minus; key on", "12.6 V");
    job.take("F4 out > minus; key on", "0.0 V");
    job.take("1 > 2; key on", "0.0 V");
    job.take("1 > 2; key on", "12.5 V");
    job.take("1 > 2; commanded 3", "12.4 V");
    job.take("1 > 2; commanded 4", "0.0 V");
    job.take("1 > 2; key on", "0.0 V");
    const auto reasoner = weighed(job);
    const Reasoning r = reasoner->reason({});
    const auto p = reasoner->belief().probabilities();
    double shorts = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
        const Suspect& s = reasoner->suspects()[i];
        const bool isThere = s.id.find("X2-2") != std::string::npos || s.id.find("load 4") != std::string::npos ||
                             s.place.find("down valve") != std::string::npos || s.id.starts_with("4.");
        if (isThere) shorts += p[i];
    }
    std::string ranked;
    for (const SuspectGroup& g : r.groups)
        ranked += fmt::format("{} {:.3f}; ", g.words, g.probability);
    EXPECT_GT(shorts, 0.45) << ranked;
    EXPECT_TRUE(r.slips.empty());
}

}  // namespace
}  // namespace ilvek
