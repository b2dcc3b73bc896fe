// Each kind of entry as text and back, and what becomes of faulty ones.
#include "job/event.h"

#include <gmock/gmock.h>

#include <nlohmann/json.hpp>

#include "job/hand_over.h"
#include "job/job.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using nlohmann::json;

std::vector<EventBody> oneOfEach()
{
    Reading reading = readingOf(loadStep(test::smallMap(), {}, test::smallMap().terminalIndex("M-1"), 1),
                                test::smallMap(), *parseQuantity("7.90", Unit::Volt), {}, 0);
    reading.battery_V = 12.4;
    reading.batteryAge_s = 12;
    Instrument instrument;
    instrument.name = "bench meter";
    instrument.inputResistance_ohm = 1e6;
    instrument.clampScale_mVPerA = 10;
    TraceSeen trace;
    trace.recording = "r.csv", trace.verdict = "weak", trace.figures = {{"Peak current", "1 A ± 10 mA"}};
    trace.element = "INJ3", trace.drive = "D3", trace.state = "idling", trace.lead = "J2-13.a";
    trace.current_A = 0.71, trace.currentSigma_A = 0.01, trace.supply_V = 13.2, trace.off_V = 13.1, trace.on_V = 0.1;
    trace.unit = "A", trace.to_s = 0.24, trace.least = {0, -0.5}, trace.most = {0.25, 1};
    trace.terminal = "M-1", trace.touched = {{"hinge", 3, 2}, {"", 4, 0}};
    FunctionsSeen functions;
    functions.state = "key-on", functions.jumpers = {{"BAT.+", "M-1.a", 10}};
    functions.works = {"lifts"}, functions.fails = {"lowers"};
    ChartStep step;
    step.id = "1", step.words = "feed", step.state = "key-on", step.red = "M-1.a", step.below = 11.5, step.then = "2";
    return {JobDetails{"t", "c", "s", "h", "w"},
            Complaint{"text", "when", {"a", "b"}, {"c"}, {"d"}, {"e"}, {"f"}, Complaint::Today::Absent},
            CodesRead{{{"1", "2", "3"}}},
            reading,
            Note{"n"},
            Undo{4},
            StateChange{"key-on"},
            Repair{0, {"W1", "X-1"}, "mended"},
            Assumption{"M-2", "because"},
            CheckMade{"codes", "none"},
            WayOfWorkingChange{{true, false, "motor", true, "breaker"}},
            MapCorrection{"M-1", "{}"},
            InstrumentChange{instrument},
            trace,
            functions,
            ProcedureFollowed{"relay", "K2"},
            ChartEntered{"bulletin 4", {step}},
            Debt{"wire cut", "J2-1"},
            DebtCleared{18, "soldered"},
            JobClosed{JobClosed::Verdict::Repaired, "shown directly", "strand mended", "Not the module.", {"codes"}},
            CauseAnswered{"ohms J2-1", "6.2 Ω", false},
            RepairChoices{{{"mend", {"J2-1"}, 0.5, 3, 1, 0.1, "long"}}, 90, 20},
            Decided{"mend", "cheapest", "mend: 48"},
            WorkTried{"an hour uphill", "13.9 V", true},
            Photo{"a.jpg", "the plug", "QUJD", 4},
            OwnCases{{{"contact", 9, 5.2}, {"module", 0, 0.4}}, 12}};
}

TEST(Event, EveryKindIsWrittenAndReadBackTheSame)
{
    const auto all = oneOfEach();
    ASSERT_EQ(all.size(), std::variant_size_v<EventBody>) << "a kind has no example here";
    for (const EventBody& body : all) {
        const std::string text = writeBody(body);
        const auto back = readBody(eventKind(body), text, "entry");
        ASSERT_TRUE(back) << eventKind(body) << ": " << back.error().message();
        EXPECT_EQ(back->index(), body.index());
        EXPECT_EQ(writeBody(*back), text) << eventKind(body);
    }
}

TEST(Event, EveryKindHasWordsForTheJournal)
{
    std::int64_t id = 0;
    for (const EventBody& body : oneOfEach()) {
        const Event event{++id, 0, body};
        EXPECT_FALSE(entryWords(event).empty()) << eventKind(body);
    }
}

TEST(Event, AnyValueOfAnotherTypeIsNamedOrTaken)
{
    for (const EventBody& body : oneOfEach()) {
        const json original = json::parse(writeBody(body));
        for (const auto& [key, value] : original.items()) {
            for (const json& other :
                 {json(nullptr), json(-1), json("∞"), json::array({1}), json::object({{"x", 1}}), json(1e300)}) {
                json changed = original;
                changed[key] = other;
                const auto back = readBody(eventKind(body), changed.dump(), "entry 7");
                if (!back) {
                    EXPECT_THAT(back.error().message(), testing::HasSubstr("entry 7")) << changed.dump();
                }
            }
        }
        json extra = original;
        extra["surprise"] = 1;
        EXPECT_FALSE(readBody(eventKind(body), extra.dump(), "entry")) << eventKind(body);
    }
}

TEST(Event, OverLimitStaysOverLimit)
{
    Reading reading;
    reading.test = TestKind::Resistance;
    reading.red = "a";
    reading.black = "b";
    reading.state = "key-off";
    reading.value = {0, Unit::Ohm, true};
    const auto back = readBody("reading", writeBody(reading), "entry");
    ASSERT_TRUE(back);
    EXPECT_TRUE(std::get<Reading>(*back).value.overLimit);
}

TEST(Event, TextThatIsNoUtf8IsMendedNotLost)
{
    const auto back = readBody("note", writeBody(Note{"caf\xE9"}), "entry");
    ASSERT_TRUE(back);
    EXPECT_THAT(std::get<Note>(*back).text, testing::StartsWith("caf"));
}

TEST(HandOver, SurvivesAnyValueReplaced)
{
    const json original = json::parse(writeHandOver(
        {test::smallMapText(), {{1, 1'700'000'000'000, oneOfEach()[3]}, {2, 1'700'000'000'500, Note{"x"}}}}));
    json flat = original;
    flat.erase("map");
    flat = flat.flatten();
    for (const auto& [pointer, value] : flat.items()) {
        for (const json& other :
             {json(nullptr), json(-1), json(""), json::array(), json::object(), json(true), json(1e18)}) {
            json changed = original;
            changed[json::json_pointer(pointer)] = other;
            const auto read = readHandOver(changed.dump(), "x");
            if (!read) {
                EXPECT_FALSE(read.error().empty()) << pointer;
                continue;
            }
            EXPECT_TRUE(foldJob(*read)) << pointer;
        }
    }
}

TEST(HandOver, EntriesMustRise)
{
    const std::string text =
        writeHandOver({test::smallMapText(), {{2, 1'700'000'000'000, Note{"b"}}, {1, 1'700'000'000'000, Note{"a"}}}});
    const auto read = readHandOver(text, "x");
    ASSERT_FALSE(read);
    EXPECT_THAT(read.error().front().message(), testing::HasSubstr("must be larger"));
}

}  // namespace
}  // namespace ilvek
