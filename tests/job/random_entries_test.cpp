// What is taken can be read: thousands of entries with anything in them, written, read again, handed over and taken
// back.
#include "support/random_entries.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "base/file.h"
#include "base/text.h"
#include "job/hand_over.h"
#include "job/job.h"
#include "support/maps.h"

namespace ilvek {
namespace {

constexpr int jobs = 30, triesInEach = 100;

std::string asWritten(const Event& event)
{
    return std::to_string(event.id) + " " + writeTime(event.time_ms) + " " + std::string(eventKind(event.body)) + " " +
           writeBody(event.body);
}

void expectSame(const std::vector<Event>& was, const std::vector<Event>& is, const char* when)
{
    ASSERT_EQ(was.size(), is.size()) << when;
    for (std::size_t i = 0; i < was.size(); ++i)
        ASSERT_EQ(asWritten(was[i]), asWritten(is[i])) << when;
}

TEST(RandomEntries, WhatIsTakenIsReadExportedAndImportedAsItIs)
{
    std::mt19937 random(2026);
    int taken = 0, refused = 0;
    for (int job = 0; job < jobs; ++job) {
        const test::TemporaryFolder folder;
        std::vector<Event> shown;
        const bool odd = job % 3 == 0;  // names that are on no map
        {
            auto journal = Journal::create(folder / "a.ilvek", test::smallMapText());
            ASSERT_TRUE(journal);
            for (int n = 0; n < triesInEach; ++n) {
                const auto time = static_cast<std::int64_t>(random()) * (random() % 3 == 0 ? -1 : 500);
                const auto event = journal->append(test::randomEntry(random, odd ? nullptr : &test::smallMap()), time);
                if (!event) {
                    ++refused;
                    EXPECT_FALSE(event.error().reason.empty());
                    EXPECT_TRUE(event.error().item.empty())
                        << "said of the entry, not of the file: " << event.error().message();
                    continue;
                }
                ++taken;
                shown.push_back(*event);
            }
            expectSame(shown, journal->events(), "in memory");
            const auto exported = exportJob(*journal, folder / "a.json");
            ASSERT_TRUE(exported) << exported.error().message();
        }
        const auto journal = Journal::open(folder / "a.ilvek");
        ASSERT_TRUE(journal) << journal.error().message();
        EXPECT_TRUE(journal->content().setAside.empty());
        expectSame(shown, journal->events(), "read again");
        const auto imported = importJob(folder / "a.json", folder / "b.ilvek");
        if (odd) {
            ASSERT_FALSE(imported) << "what it names is on no map";
            EXPECT_THAT(imported.error().front().message(), testing::HasSubstr("entry"));
        } else {
            ASSERT_TRUE(imported) << imported.error().front().message();
            expectSame(shown, imported->events(), "handed over and taken back");
        }
        EXPECT_TRUE(foldJob(journal->content()));
    }
    EXPECT_GT(taken, jobs * triesInEach / 2);
    EXPECT_GT(refused, 0) << "what cannot be kept is refused at once";
}

TEST(RandomEntries, OddFiguresAreKeptAndNotRefused)
{
    const test::TemporaryFolder folder;
    auto journal = Journal::create(folder / "a.ilvek", test::smallMapText());
    ASSERT_TRUE(journal);
    Reading reading;
    reading.red = "B.+", reading.black = "B.-", reading.state = "key-on";
    reading.value = volts(1241);
    ASSERT_TRUE(journal->append(reading, 1)) << "a slip of the decimal sign";
    reading.battery_V = 1241;
    reading.measuredCurrent_A = 15000;
    ASSERT_TRUE(journal->append(reading, 2));
    reading.measuredCurrent_A = -1.4;  // amperes have a direction
    reading.batteryAge_s = -0.001;     // the clock was set back
    const auto taken = journal->append(reading, 3);
    ASSERT_TRUE(taken) << taken.error().message();
    EXPECT_FALSE(std::get<Reading>(taken->body).batteryAge_s) << "how old it is is not known";
    EXPECT_EQ(std::get<Reading>(taken->body).measuredCurrent_A, -1.4);
}

TEST(RandomEntries, ARecordingWithOddFiguresIsKept)
{
    const test::TemporaryFolder folder;
    auto journal = Journal::create(folder / "a.ilvek", test::smallMapText());
    ASSERT_TRUE(journal);
    TraceSeen t;
    t.recording = "r.csv", t.verdict = "seen";
    t.supply_V = -12.4;  // leads exchanged
    t.from_s = 2e9, t.to_s = 3e9;
    t.unit = "V";
    t.least = {-3e7, std::nan(""), 1}, t.most = {3e7, std::nan(""), 2};
    const auto taken = journal->append(t, 1);
    ASSERT_TRUE(taken) << taken.error().message();
    EXPECT_TRUE(std::isnan(std::get<TraceSeen>(taken->body).least[1])) << "a gap stays one";
    EXPECT_EQ(std::get<TraceSeen>(taken->body).supply_V, -12.4);
    t.current_A = std::nan("");
    const auto second = journal->append(t, 2);
    ASSERT_TRUE(second) << second.error().message();
    EXPECT_FALSE(std::get<TraceSeen>(second->body).current_A) << "what is no figure is none";
}

TEST(CsvCells, WhatASpreadsheetWouldRunIsNeutralised)
{
    for (const char* runs :
         {"=1+1", "+1", "-1", "@x", "\tx", "\rx", " =1+1", "\n=1+1", "\r\n @x", "\xC2\xA0=1", "\xEF\xBB\xBF=1",
          "\xEF\xBC\x9D"
          "1"}) {
        EXPECT_TRUE(runsInSpreadsheet(runs)) << runs;
        EXPECT_EQ(csvCell(runs), std::string("\"'") + runs + "\"");
    }
    for (const char* harmless : {"", " ", "x=1", "12.4", "J2-1", "a\n=b"})
        EXPECT_EQ(csvCell(harmless), std::string("\"") + harmless + "\"");
}

}  // namespace
}  // namespace ilvek
