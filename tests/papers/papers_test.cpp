// Before the first probe: what is told, what functions share, what codes can mean; on machines of several kinds.
#include <gmock/gmock.h>

#include "papers/codes_on_paper.h"
#include "papers/common_cause.h"
#include "papers/shared_branches.h"
#include "papers/told.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;
using testing::Contains;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;
using testing::Not;

int functionOf(const Map& map, const std::string& name)
{
    for (std::size_t i = 0; i < map.functions.size(); ++i) {
        if (map.functions[i].name == name) return static_cast<int>(i);
    }
    ADD_FAILURE() << "no function " << name;
    return 0;
}

const Branch* branchWith(const std::vector<Branch>& branches, const std::string& part)
{
    for (const Branch& b : branches) {
        if (std::find(b.parts.begin(), b.parts.end(), part) != b.parts.end()) return &b;
    }
    return nullptr;
}

// Two pumps on one fuse, two lamps on another, all behind one return.
Map pumpsAndLamps()
{
    return test::mapOfRows(
        "cavity;circuit;role;route;far end\n"
        "1;feed A;supply, always;F1 20 A\n2;feed B;supply, always;F2 20 A\n3;ground;return;G1\n4;key;supply, with "
        "key;F3 5 A\n"
        "10;left pump;drive, low side;;solenoid 6 Ω at plug W1, other wire F5 10 A\n"
        "11;right pump;drive, low side;;solenoid 6 Ω at plug W2, other wire F5 10 A\n"
        "12;front lamp;drive, low side;;lamp 21 W at plug W3, other wire F6 10 A\n"
        "13;rear lamp;drive, low side;;lamp 21 W at plug W4, other wire F6 10 A\n"
        "14;oil pressure;switch input;;switch open at rest, returns G1\n"
        ";C7;code;;14 low;;\n;C8;code;;14 high;;\n");
}

TEST(Told, AFunctionIsToldOnceAndAnew)
{
    const Map map = pumpsAndLamps();
    Complaint c;
    c.fails = {"left pump works", "the horn"};
    const int left = functionOf(map, "left pump works");
    EXPECT_EQ(toldOf(map, c)[static_cast<std::size_t>(left)], Does::Fails);
    c = withTold(map, c, left, Does::ComesAndGoes);
    EXPECT_EQ(toldOf(map, c)[static_cast<std::size_t>(left)], Does::ComesAndGoes);
    EXPECT_THAT(c.fails, ElementsAre("the horn")) << "what the map does not know stays as it was told";
    c = withTold(map, c, left, Does::NotTried);
    EXPECT_EQ(toldOf(map, c)[static_cast<std::size_t>(left)], Does::NotTried);
    EXPECT_THAT(c.comesAndGoes, IsEmpty());
}

TEST(Told, WhatCannotBeWeighedSaysSo)
{
    OneJob job(pumpsAndLamps());
    Complaint c;
    c.text = "pumps dead", c.when = "over bumps", c.fails = {"the horn"}, c.comesAndGoes = {"left pump works"};
    c.weak = {"right pump works"}, c.replaced = {"the seat"};
    job.enter(c);
    job.enter(CodesRead{{{"C7", "", ""}, {"C99", "", ""}}});
    const auto left = notWeighed(job.open().job);
    for (const char* said : {"the horn", "over bumps", "comes and goes", "the seat", "C99"})
        EXPECT_THAT(left, Contains(HasSubstr(said)));
    EXPECT_THAT(left, Not(Contains(HasSubstr("C7"))));
    EXPECT_THAT(left, Not(Contains(HasSubstr("right pump"))));
    // On paper all three speak; beside readings of now only what is always so.
    EXPECT_EQ(paperReports(job.open().job).dead.size(), 2U);
    EXPECT_THAT(job.open().reports().dead, IsEmpty());
    EXPECT_EQ(job.open().reports().weak.size(), 1U);
    EXPECT_TRUE(job.open().hasComplaint());
}

TEST(SharedBranches, TheFuseOfBothPumpsIsWhatTheyShare)
{
    const Map map = pumpsAndLamps();
    const auto branches = sharedBranches(map);
    const int left = functionOf(map, "left pump works"), right = functionOf(map, "right pump works");
    const int front = functionOf(map, "front lamp works");
    const Branch* fuse = branchWith(branches, "fuse F5");
    ASSERT_TRUE(fuse);
    EXPECT_THAT(fuse->functions, testing::UnorderedElementsAre(left, right));
    const int best = explaining(branches, {{left, right}, {front}}).branch;
    ASSERT_GE(best, 0);
    EXPECT_EQ(&branches[static_cast<std::size_t>(best)], fuse);
    // One pump alone is not explained by what both need.
    const int one = explaining(branches, {{left}, {right}}).branch;
    ASSERT_GE(one, 0);
    EXPECT_THAT(branches[static_cast<std::size_t>(one)].functions, ElementsAre(left));
    EXPECT_EQ(explaining(branches, {{}, {front}}).branch, -1);
    EXPECT_EQ(explainedWords(explaining(branches, {{left, right}, {front}}), 2), "explains 2 of 2, nothing against it");
}

// A contact that carries too little starves what draws most: the rest behind it still works.
TEST(SharedBranches, WhatStarvesIsNotClearedByWhatDrawsLittle)
{
    const Map& map = test::pt9();
    const OnPaper told{{functionOf(map, "full drive power"), functionOf(map, "the tiller lifts")},
                       {functionOf(map, "the engine runs"), functionOf(map, "the blade tilts left")}};
    const auto branches = sharedBranches(map);
    const Branch* x4 = branchWith(branches, "X4-7");
    ASSERT_TRUE(x4);
    const Explained cutOrStarved = explainedBy(*x4, told);
    EXPECT_EQ(cutOrStarved.explains, 2);
    EXPECT_TRUE(cutOrStarved.starved) << "cut, it would take the engine along";
    EXPECT_LE(cutOrStarved.against, 1);
    const Explained best = explaining(branches, told);
    ASSERT_GE(best.branch, 0);
    EXPECT_EQ(&branches[static_cast<std::size_t>(best.branch)], x4);
}

// Half of the lamps and a code: the lamp's own wire explains the one, the second feed both.
TEST(SharedBranches, ACodeCountsAsAFunctionDoes)
{
    const Map& map = test::storyMap("sweeper-lamps");
    OneJob job(map);
    Complaint c;
    c.fails = {"left lamps"}, c.stillWorks = {"right lamps"};
    job.enter(c);
    job.enter(CodesRead{{{"C14", "", ""}}});
    const auto branches = sharedBranches(map, storedCodes(job.open().job));
    const OnPaper told = onPaper(job.open().job);
    EXPECT_EQ(told.fails.size(), 2U);
    const Explained best = explaining(branches, told);
    ASSERT_GE(best.branch, 0);
    EXPECT_THAT(branches[static_cast<std::size_t>(best.branch)].parts, Contains("fuse F2"));
    EXPECT_EQ(explainedWords(best, 2), "explains 2 of 2, one of them only if it feeds that, nothing against it");
}

TEST(SharedBranches, ParentsStandBeforeTheirChildrenAndHoldThem)
{
    for (const Map* map : {&test::hauler(), &test::washer(), &test::storyMap("sweeper-lamps")}) {
        const auto branches = sharedBranches(*map);
        ASSERT_FALSE(branches.empty());
        for (std::size_t i = 0; i < branches.size(); ++i) {
            const int parent = branches[i].parent;
            ASSERT_LT(parent, static_cast<int>(i));
            if (parent < 0) continue;
            const auto& all = branches[static_cast<std::size_t>(parent)].functions;
            for (const int f : branches[i].functions)
                EXPECT_THAT(all, Contains(f));
        }
    }
}

// A slow reference: the part is opened in the circuit by hand and each function is asked.
TEST(SharedBranches, OpeningOnePartByHandStopsTheSame)
{
    const Map map = pumpsAndLamps();
    const auto branches = sharedBranches(map);
    for (const char* id : {"F1", "F5", "F6"}) {
        const int element = map.elementIndex(id);
        const Branch* branch = branchWith(branches, "fuse " + std::string(id));
        for (std::size_t f = 0; f < map.functions.size(); ++f) {
            const Function& function = map.functions[f];
            Condition sound, cut;
            sound.state = cut.state = function.state;
            cut.faults = {Fault{Fault::Kind::Open, element}};
            const auto before = operatingPoint(map, sound), after = operatingPoint(map, cut);
            ASSERT_TRUE(before && after);
            bool stops = false;
            for (const int e : function.currents)
                stops = stops || std::abs(after->currentThrough(e)) < 0.7 * std::abs(before->currentThrough(e));
            for (const int p : function.ports)
                stops = stops || after->voltage(map.element(p).nodes[0], map.element(p).nodes[1]) <
                                     map.element(p).value("brown_out");
            const bool said = branch && std::find(branch->functions.begin(), branch->functions.end(),
                                                  static_cast<int>(f)) != branch->functions.end();
            // A starved module drives nothing, which hangs on more than this current.
            if (!function.currents.empty() && id == std::string("F1")) continue;
            EXPECT_EQ(said, stops) << id << ", " << function.name;
        }
    }
}

TEST(CodesOnPaper, AShortCanSetLowAndAnOpenIsNotAccused)
{
    const Map map = pumpsAndLamps();
    const auto papers = codesOnPaper(map, {"c7", "C99"});
    ASSERT_EQ(papers.size(), 2U);
    EXPECT_TRUE(papers[0].known);
    EXPECT_THAT(papers[0].setBy, HasSubstr("14 below"));
    EXPECT_FALSE(papers[0].can.empty());
    for (const std::string& words : papers[0].can)
        EXPECT_THAT(words, Not(HasSubstr("solenoid")));
    // The switch's wire opened lets the pull-up stand: that cannot set it. How the module holds the line nobody stated.
    EXPECT_THAT(papers[0].cannot, IsEmpty());
    EXPECT_THAT(papers[0].unlikely, Contains(HasSubstr("the wire from 14")));
    EXPECT_FALSE(papers[1].known);
    EXPECT_THAT(papers[1].can, IsEmpty());
    // A line that rests high is high on a sound machine.
    const auto resting = codesOnPaper(map, {"C8"});
    EXPECT_TRUE(resting[0].always);
    EXPECT_THAT(resting[0].can, IsEmpty());
    EXPECT_THAT(resting[0].unlikely, IsEmpty());
}

// On the PT-9 every figure is stated: there a code rules things out for good.
TEST(CodesOnPaper, OnAKnownMachineACodeRulesOut)
{
    const Map& map = test::pt9();
    ASSERT_FALSE(map.codes.empty());
    std::vector<std::string> all;
    for (const CodeCondition& c : map.codes)
        all.push_back(c.code);
    bool rulesOut = false;
    for (const CodeOnPaper& c : codesOnPaper(map, {all.front()})) {
        EXPECT_FALSE(c.can.empty()) << c.code;
        rulesOut = rulesOut || !c.cannot.empty();
    }
    EXPECT_TRUE(rulesOut);
}

// That nothing flows is a condition of the circuit; that something is implausible is none, and says so.
TEST(CodesOnPaper, NoActivityOfADriveAndWhatNoCircuitShows)
{
    for (const Map* drawn : {&test::pt9(), &test::hauler()}) {
        const bool groomer = drawn == &test::pt9();
        const std::string drive = groomer ? "J2-19" : "B1", input = groomer ? "J1-13" : "A11";
        OneJob job(*drawn);
        job.enter(CodesRead{{{"N-1", "valve, no current", ""}, {"N-2", "signal implausible", ""}}});
        const std::pair<std::string, std::pair<std::string, std::string>> told[] = {{"N-1", {drive, "no activity"}},
                                                                                    {"N-2", {input, "implausible"}}};
        for (const auto& [code, what] : told) {
            const auto row = codeRow(*drawn, code, what.first, what.second, "as read");
            ASSERT_TRUE(row) << row.error().message();
            job.enter(MapCorrection{code, *row});
        }
        ASSERT_TRUE(job.open().job.problems.empty()) << job.open().job.problems.front().message();
        const Map& map = job.open().job.map;
        const auto papers = codesOnPaper(map, storedCodes(job.open().job));
        ASSERT_EQ(papers.size(), 2U);
        EXPECT_TRUE(papers[0].known);
        EXPECT_THAT(papers[0].setBy, HasSubstr("no current in"));
        EXPECT_FALSE(papers[0].always) << "a sound drive carries its current";
        EXPECT_THAT(papers[0].can, Contains(HasSubstr(drive)));
        EXPECT_TRUE(papers[1].kept);
        EXPECT_THAT(papers[1].can, IsEmpty());
        EXPECT_THAT(notWeighed(job.open().job), Contains(HasSubstr("N-2")));
        EXPECT_THAT(notWeighed(job.open().job), Not(Contains(HasSubstr("N-1"))));
        EXPECT_EQ(job.open().reports().codes.size(), 1U);
    }
}

TEST(TypedFunctions, GrowTheMapAndSpeakAtOnce)
{
    for (const Map* drawn : {&test::pt9(), &test::hauler()}) {
        const Map& map = *drawn;
        OneJob job(map);
        const bool groomer = drawn == &test::pt9();
        const std::string supply = groomer ? "J1-1" : "A1", drive = groomer ? "J2-19" : "B1";
        const auto row = functionRow(map, "siren sounds", {supply, drive});
        ASSERT_TRUE(row) << row.error().message();
        job.enter(MapCorrection{"siren sounds", *row});
        ASSERT_TRUE(job.open().job.problems.empty()) << job.open().job.problems.front().message();
        const Map& grown = job.open().job.map;
        const Function& f = grown.functions[static_cast<std::size_t>(functionOf(grown, "siren sounds"))];
        EXPECT_EQ(f.ports.size(), 1U);
        EXPECT_EQ(f.currents.size(), 1U);
        EXPECT_TRUE(job.open().job.evidence.repairs.empty()) << "nothing was mended, no reading is stale by it";
        Complaint c;
        c.fails = {"siren sounds"};
        job.enter(c);
        EXPECT_EQ(job.open().reports().dead.size(), 1U);
        EXPECT_FALSE(functionRow(grown, "Siren sounds", {supply})) << "it is there already";
        EXPECT_FALSE(functionRow(map, "siren", {"Q99"}));
        EXPECT_FALSE(functionRow(map, "siren", {}));
    }
}

TEST(TypedCodes, AreAskedForAndThenKnown)
{
    for (const Map* drawn : {&test::pt9(), &test::hauler()}) {
        OneJob job(*drawn);
        std::string input;
        for (const int t : drawn->moduleTerminals()) {
            if (drawn->terminal(t).role == Role::AnalogueInput) input = drawn->terminal(t).id;
        }
        ASSERT_FALSE(input.empty());
        job.enter(CodesRead{{{"X-77", "sensor low", ""}}});
        EXPECT_THAT(notWeighed(job.open().job), Contains(HasSubstr("X-77")));
        const auto row = codeRow(*drawn, "X-77", input, "low", "sensor low");
        ASSERT_TRUE(row);
        job.enter(MapCorrection{"X-77", *row});
        ASSERT_TRUE(job.open().job.problems.empty()) << job.open().job.problems.front().message();
        EXPECT_THAT(notWeighed(job.open().job), Not(Contains(HasSubstr("X-77"))));
        EXPECT_EQ(job.open().reports().codes.size(), 1U);
        EXPECT_FALSE(codeRow(*drawn, "X-77", input, "odd", ""));
        EXPECT_FALSE(codeRow(*drawn, "X-77", "Q99", "low", ""));
    }
}

}  // namespace
}  // namespace ilvek
