#include "report/report.h"
#include "base/text.h"

#include <gmock/gmock.h>

#include <nlohmann/json.hpp>

#include "job/hand_over.h"
#include "practice/demo_job.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using testing::HasSubstr;
using testing::Not;

struct Whole {
    Job job;
    Assessment assessment;
    Gate gate;
    ReportInput input() const { return {job, assessment, gate, 1'700'000'000'000}; }
};

Whole wholeOf(const std::string& mapText, const std::vector<Event>& events)
{
    auto job = foldJob({mapText, events});
    EXPECT_TRUE(job);
    Whole w{std::move(*job), {}, {}};
    w.assessment = assess(w.job.map, w.job.evidence);
    w.gate = gateOf(w.job.map, w.assessment, {1'700'000'000'000, "key-on"});
    return w;
}

// The small machine with a failed supply and a hostile user.
Whole hostile()
{
    test::Bench bench(test::smallMap());
    const Map& map = test::smallMap();
    const int supply = map.terminalIndex("M-1"), on = map.stateIndex("key-on");
    bench.battery(12.0);
    bench.take(openStep(map, {}, supply, on), 11.99);
    bench.take(loadStep(map, {}, supply, on), 6.0);
    std::vector<Event> events;
    for (Reading r : bench.evidence().readings) {
        r.instrument.name = "<b>meter</b>";
        events.push_back({r.id, r.time_ms, r});
    }
    events.push_back({10, 10, JobDetails{"<script>alert(1)</script>", "A & B", "\"x\"", "", ""}});
    events.push_back({11, 11, Complaint{"=HYPERLINK(\"x\")", "", {"<img src=x>"}, {}}});
    return wholeOf(test::smallMapText(), events);
}

TEST(Report, EscapesWhatUsersTyped)
{
    const Whole w = hostile();
    const std::string html = reportHtml(w.input());
    EXPECT_THAT(html, Not(HasSubstr("<script>alert")));
    EXPECT_THAT(html, HasSubstr("&lt;script&gt;alert(1)&lt;/script&gt;"));
    EXPECT_THAT(html, Not(HasSubstr("<img src=x>")));
    EXPECT_THAT(html, Not(HasSubstr("<b>meter</b>")));
    EXPECT_THAT(html, HasSubstr("A &amp; B"));
}

TEST(Report, HoldsVerdictGateReadingsStaircaseAndCautions)
{
    const std::string html = reportHtml(hostile().input());
    EXPECT_THAT(html, HasSubstr("No. One supply fails before the module."));
    EXPECT_THAT(html, HasSubstr("Returns loaded"));
    EXPECT_THAT(html, HasSubstr("Fails under load"));
    EXPECT_THAT(html, HasSubstr("Does not prove:"));
    EXPECT_THAT(html, HasSubstr("<svg"));
    EXPECT_THAT(html, HasSubstr("Restraint-system"));
}

TEST(Report, NeutralisesACellThatASpreadsheetWouldRun)
{
    EXPECT_EQ(csvCell("=1+1"), "\"'=1+1\"");
    EXPECT_EQ(csvCell("+x"), "\"'+x\"");
    EXPECT_EQ(csvCell("-x"), "\"'-x\"");
    EXPECT_EQ(csvCell("@x"), "\"'@x\"");
    EXPECT_EQ(csvCell("\tx"), "\"'\tx\"");
    EXPECT_EQ(csvCell("say \"hi\""), "\"say \"\"hi\"\"\"");
    EXPECT_EQ(csvCell("plain"), "\"plain\"");
}

TEST(Report, TheCsvHasOneRowAReading)
{
    const Whole w = hostile();
    const std::string csv = readingsCsv(w.input());
    EXPECT_EQ(std::count(csv.begin(), csv.end(), '\n'), 1 + static_cast<long>(w.assessment.judgements.size()));
    EXPECT_THAT(csv, HasSubstr("fails-loaded"));
}

TEST(Report, JsonIsWellFormedAndStable)
{
    const Whole w = hostile();
    const auto gate = nlohmann::json::parse(gateJson(w.input()));
    EXPECT_EQ(gate["outcome"], "not proven");
    EXPECT_EQ(gate["lines"][1]["line"], "supplies");
    EXPECT_EQ(gate["lines"][1]["state"], "failed");
    const auto judged = nlohmann::json::parse(judgementsJson(w.input()));
    ASSERT_EQ(judged["readings"].size(), 3U);
    EXPECT_EQ(judged["readings"][2]["verdict"], "fails-loaded");
    EXPECT_EQ(judged["readings"][2]["terminal"], "M-1");
}

TEST(Report, WithdrawnReadingsAreLeftOut)
{
    std::vector<Event> events{
        {1, 1, readingOf(batteryStep(test::smallMap(), "key-on"), test::smallMap(), volts(12.4), {}, 0)},
        {2, 2, Undo{1}}};
    const Whole w = wholeOf(test::smallMapText(), events);
    EXPECT_THAT(readingsCsv(w.input()), Not(HasSubstr("battery,")));
}

TEST(Demo, TheShippedJobIsWhatTheMachineAnswers)
{
    const auto events = practice::demoEvents(test::pt9());
    ASSERT_TRUE(events) << events.error().message();
    EXPECT_EQ(writeHandOver({test::pt9().document, *events}), test::sourceText("data/demo/reduced-power.json"));
    const auto answers = practice::demoAnswers(test::pt9());
    ASSERT_TRUE(answers);
    EXPECT_THAT(test::sourceText("docs/demo-answers.md"), HasSubstr(*answers));
}

TEST(Demo, ADozenReadingsAreTakenAndNothingIsBlamedYet)
{
    const auto events = practice::demoEvents(test::pt9());
    const Whole w = wholeOf(test::pt9().document, *events);
    EXPECT_GE(w.assessment.judgements.size(), 12U);
    EXPECT_EQ(w.gate.outcome, Outcome::NotProven);
    for (const Judgement& j : w.assessment.judgements)
        EXPECT_FALSE(isFailure(j.verdict)) << j.word << " " << j.arithmetic;
    EXPECT_EQ(proofOf(w.job.map, w.assessment, w.job.map.terminalIndex("J1-7")).state, ProofState::ProvenLoaded);
}

TEST(Report, ShowsARecordingWithItsPictureAndFigures)
{
    TraceSeen t;
    t.recording = "in<jectors>.csv", t.verdict = "Cylinder 3: weak", t.figures = {{"Current at the end", "0.71 A"}};
    t.element = "INJ3", t.supply_V = 13.2;
    t.unit = "A", t.from_s = 0, t.to_s = 0.24, t.least = {0, 0, -0.1, 0}, t.most = {0.1, 0.9, 0.8, 0.1};
    const Whole w = wholeOf(test::smallMapText(), {{1, 1'700'000'000'000, t}});
    const std::string html = reportHtml(w.input());
    EXPECT_THAT(html, HasSubstr("<h2>Recordings</h2>"));
    EXPECT_THAT(html, HasSubstr("in&lt;jectors&gt;.csv"));
    EXPECT_THAT(html, HasSubstr("Cylinder 3: weak"));
    EXPECT_THAT(html, HasSubstr("0.71 A"));
    EXPECT_THAT(html, HasSubstr("<polygon"));
    EXPECT_THAT(html, HasSubstr("supply 13.20 V"));
    t.most.pop_back();
    EXPECT_TRUE(traceSvg(t).empty());
    EXPECT_TRUE(traceSvg({}).empty());
}

}  // namespace
}  // namespace ilvek
