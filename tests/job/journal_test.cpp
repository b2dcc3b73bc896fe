#include "job/journal.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <gmock/gmock.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <csignal>
#include <fstream>

#include "base/file.h"
#include "bench_map/pin_sheet.h"
#include "job/hand_over.h"
#include "job/job.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using test::TemporaryFolder;
using testing::HasSubstr;

Journal made(const std::filesystem::path& path)
{
    auto journal = Journal::create(path, test::smallMapText());
    EXPECT_TRUE(journal) << (journal ? "" : journal.error().message());
    return std::move(*journal);
}

TEST(Journal, GivesBackWhatWasEntered)
{
    const TemporaryFolder folder;
    Reading reading = readingOf(batteryStep(test::smallMap(), "key-on"), test::smallMap(),
                                *parseQuantity("12.40", Unit::Volt), {}, 5);
    reading.load = "lamp-21w";
    reading.loadFrom = "B.+";
    reading.loadTo = "M-2.a";
    reading.measuredCurrent_A = 1.5;
    reading.battery_V = 12.41;
    reading.batteryAge_s = 3.5;
    reading.unplugged = {"M", "X"};
    {
        Journal journal = made(folder / "a.ilvek");
        ASSERT_TRUE(journal.append(Complaint{"does not lift", "hot", {"lights"}, {"joystick"}}, 1000));
        ASSERT_TRUE(journal.append(reading, 2000));
        ASSERT_TRUE(journal.append(CodesRead{{{"41-3", "low", "below 9 V"}}}, 3000));
        ASSERT_TRUE(journal.append(Repair{0, {"X-1"}, "new terminal"}, 4000));
        ASSERT_TRUE(journal.append(WayOfWorkingChange{WayOfWorking{true, true, "motor"}}, 5000));
    }
    const auto journal = Journal::open(folder / "a.ilvek");
    ASSERT_TRUE(journal) << journal.error().message();
    ASSERT_EQ(journal->events().size(), 5U);
    EXPECT_EQ(std::get<Complaint>(journal->events()[0].body),
              (Complaint{"does not lift", "hot", {"lights"}, {"joystick"}}));
    Reading back = std::get<Reading>(journal->events()[1].body);
    back.time_ms = reading.time_ms;
    EXPECT_EQ(back, reading);
    EXPECT_EQ(journal->events()[1].time_ms, 2000);
    EXPECT_EQ(std::get<CodesRead>(journal->events()[2].body).codes[0].condition, "below 9 V");
    EXPECT_EQ(std::get<WayOfWorkingChange>(journal->events()[4].body).working.load, "motor");
    EXPECT_EQ(journal->mapDocument(), test::smallMapText());
}

TEST(Journal, IsAppendOnlyEvenForOthers)
{
    const TemporaryFolder folder;
    {
        Journal journal = made(folder / "a.ilvek");
        ASSERT_TRUE(journal.append(Note{"first"}, 1));
    }
    SQLite::Database database((folder / "a.ilvek").string(), SQLite::OPEN_READWRITE);
    EXPECT_THROW(database.exec("UPDATE event SET body = '{}'"), SQLite::Exception);
    EXPECT_THROW(database.exec("DELETE FROM event"), SQLite::Exception);
}

TEST(Journal, ASecondIlvekOnTheSameJobIsToldSo)
{
    const TemporaryFolder folder;
    const Journal first = made(folder / "a.ilvek");
    const auto second = Journal::open(folder / "a.ilvek");
    ASSERT_FALSE(second);
    EXPECT_THAT(second.error().message(), HasSubstr("open in another Ilvek"));
    EXPECT_TRUE(Journal::open(folder / "a.ilvek", Access::ReadOnly)) << "reading along is allowed";
}

TEST(Journal, NamesForeignAndDamagedFilesAndLeavesThemAlone)
{
    const TemporaryFolder folder;
    std::ofstream(folder / "text.ilvek")
        << "this is a shopping list, long enough to be looked at as a database header .....................";
    std::ofstream(folder / "empty.ilvek");
    SQLite::Database((folder / "other.ilvek").string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE)
        .exec("CREATE TABLE x(y)");
    for (const char* name : {"text.ilvek", "empty.ilvek", "other.ilvek"}) {
        const auto before = readFile(folder / name).value_or("?");
        const auto journal = Journal::open(folder / name);
        ASSERT_FALSE(journal) << name;
        EXPECT_THAT(journal.error().message(), HasSubstr("not a job file of Ilvek")) << name;
        EXPECT_EQ(readFile(folder / name).value_or("!"), before) << name;
        EXPECT_EQ(test::filesIn(folder.path()).size(), 3U) << "nothing appears beside it";
    }
    EXPECT_THAT(Journal::open(folder / "none").error().message(), HasSubstr("there is no such file"));
    EXPECT_THAT(Journal::open(folder.path()).error().message(), HasSubstr("not an ordinary file"));
}

TEST(Journal, SaysWhenThePlaceCannotBeWritten)
{
    EXPECT_THAT(Journal::create("/proc/none/a.ilvek", "{}").error().message(), HasSubstr("cannot be written"));
    const TemporaryFolder folder;
    {
        made(folder / "a.ilvek");
    }
    EXPECT_THAT(Journal::create(folder / "a.ilvek", "{}").error().message(), HasSubstr("exists already"));
}

// A limit on the size of files stands in for a full disk; in a child, since it cannot be lifted again.
TEST(Journal, AFullDiskLosesNothingAndIsSaid)
{
    const TemporaryFolder folder;
    {
        made(folder / "a.ilvek");
    }
    const pid_t child = ::fork();
    if (child == 0) {
        std::signal(SIGXFSZ, SIG_IGN);
        auto journal = Journal::open(folder / "a.ilvek");
        if (!journal) _exit(10);
        const rlimit limit{200'000, 200'000};
        ::setrlimit(RLIMIT_FSIZE, &limit);
        int taken = 0;
        for (; taken < 2000; ++taken) {
            if (!journal->append(Note{std::string(1000, 'x')}, taken)) break;
        }
        const bool kept = static_cast<int>(journal->events().size()) == taken;
        _exit(taken > 10 && taken < 2000 && kept ? 0 : 11);
    }
    int status = 0;
    ::waitpid(child, &status, 0);
    ASSERT_TRUE(WIFEXITED(status));
    EXPECT_EQ(WEXITSTATUS(status), 0);
    const auto journal = Journal::open(folder / "a.ilvek");
    ASSERT_TRUE(journal) << journal.error().message();
    EXPECT_GT(journal->events().size(), 10U);
}

// A writer is killed between and within entries; whatever it had reported as taken must be there.
TEST(Journal, AKilledWriterHasEveryEntryThatItReported)
{
    const TemporaryFolder folder;
    {
        made(folder / "a.ilvek");
    }
    for (int round = 0; round < 12; ++round) {
        int report[2];
        ASSERT_EQ(::pipe(report), 0);
        const pid_t child = ::fork();
        if (child == 0) {
            auto journal = Journal::open(folder / "a.ilvek");
            if (!journal) _exit(1);
            for (;;) {
                const auto event = journal->append(Note{"x"}, 1);
                if (!event) _exit(2);
                if (::write(report[1], &event->id, sizeof event->id) < 0) _exit(3);
            }
        }
        ::close(report[1]);
        std::int64_t last = 0, id = 0;
        for (int n = 0; n < 5 + round * 3 && ::read(report[0], &id, sizeof id) == sizeof id; ++n)
            last = id;
        ::kill(child, SIGKILL);
        ::waitpid(child, nullptr, 0);
        while (::read(report[0], &id, sizeof id) == sizeof id)
            last = id;
        ::close(report[0]);
        const auto journal = Journal::open(folder / "a.ilvek");
        ASSERT_TRUE(journal) << journal.error().message();
        ASSERT_FALSE(journal->events().empty());
        EXPECT_GE(journal->events().back().id, last);
        for (std::size_t i = 0; i < journal->events().size(); ++i)
            ASSERT_EQ(journal->events()[i].id, static_cast<std::int64_t>(i) + 1) << "no gap";
    }
}

TEST(HandOver, CarriesTheWholeJobAndItsMap)
{
    const TemporaryFolder folder;
    {
        Journal journal = made(folder / "a.ilvek");
        ASSERT_TRUE(journal.append(Note{"ümläut \"quoted\" <tag>"}, 1'700'000'000'123));
        ASSERT_TRUE(
            journal.append(readingOf(batteryStep(test::smallMap(), "key-on"), test::smallMap(), volts(12.4), {}, 0),
                           1'700'000'001'000));
        ASSERT_TRUE(exportJob(journal, folder / "a.json"));
    }
    const auto journal = importJob(folder / "a.json", folder / "b.ilvek");
    ASSERT_TRUE(journal) << journal.error().front().message();
    EXPECT_EQ(std::get<Note>(journal->events()[0].body).text, "ümläut \"quoted\" <tag>");
    EXPECT_EQ(journal->events()[0].time_ms, 1'700'000'000'123);
    EXPECT_TRUE(readMap(journal->mapDocument(), "x"));
}

TEST(HandOver, RefusesFaultyFilesAndLeavesNothingBehind)
{
    const TemporaryFolder folder;
    const std::string good = writeHandOver({test::smallMapText(), {{1, 1'700'000'000'000, Note{"x"}}}});
    const auto refused = [&](std::string text, const std::string& from, const std::string& to,
                             const std::string& says) {
        const auto at = text.find(from);
        ASSERT_NE(at, std::string::npos) << from;
        text.replace(at, from.size(), to);
        ASSERT_TRUE(writeFile(folder / "x.json", text));
        const auto journal = importJob(folder / "x.json", folder / "x.ilvek");
        ASSERT_FALSE(journal) << says;
        EXPECT_THAT(journal.error().front().message(), HasSubstr(says));
        EXPECT_FALSE(std::filesystem::exists(folder / "x.ilvek"));
    };
    refused(good, "ilvek-job", "else", "not a hand-over file");
    refused(good, "\"note\"", "\"poem\"", "“poem” is no kind of entry");
    refused(good, "2023-11-14", "2023-13-14", "there is no such date");
    refused(good, "\"x\"", "7", "a text in quotes is expected");
    refused(good, "10 A", "10 parsec", "no unit");
    for (std::size_t length = 0; length < good.size() - 2; length += 211)
        EXPECT_FALSE(readHandOver(good.substr(0, length), "x"));
    EXPECT_FALSE(readHandOver(std::string(5000, '['), "x"));
    EXPECT_FALSE(readHandOver("\xFF", "x"));
}

TEST(Job, AnUndoWithdrawsTheLastEntryAndKeepsBoth)
{
    std::vector<Event> events{
        {1, 1, Note{"a"}},
        {2, 2, StateChange{"key-on"}},
        {3, 3, readingOf(batteryStep(test::smallMap(), "key-on"), test::smallMap(), volts(12.4), {}, 0)}};
    EXPECT_EQ(lastEntry(events), 3);
    events.push_back({4, 4, Undo{3}});
    EXPECT_EQ(lastEntry(events), 2);
    events.push_back({5, 5, Undo{2}});
    const auto job = foldJob({test::smallMapText(), events});
    ASSERT_TRUE(job);
    EXPECT_TRUE(job->evidence.readings.empty());
    EXPECT_EQ(job->state, "key-off") << "back to the first state";
    EXPECT_EQ(job->notes.size(), 1U);
    EXPECT_EQ(lastEntry({{1, 1, Undo{9}}}), std::nullopt);
}

TEST(Job, ACorrectionOfTheMapMakesItsTerminalStaleAndCanBeWithdrawn)
{
    PinRow row;
    row.connector = "M";
    row.cavity = 1;
    row.asFound = "empty";
    std::vector<Event> events{{1, 1, MapCorrection{"M-1", writePinRow(row)}}};
    auto job = foldJob({test::smallMapText(), events});
    ASSERT_TRUE(job);
    EXPECT_EQ(job->map.terminal(job->map.terminalIndex("M-1")).asFound, AsFound::Empty);
    EXPECT_EQ(job->corrections.size(), 1U);
    events.push_back({2, 2, Undo{1}});
    job = foldJob({test::smallMapText(), events});
    EXPECT_EQ(job->map.terminal(job->map.terminalIndex("M-1")).asFound, AsFound::AsDrawn);
    events = {{1, 1, MapCorrection{"M-1", "nonsense"}}};
    job = foldJob({test::smallMapText(), events});
    ASSERT_TRUE(job);
    EXPECT_EQ(job->problems.size(), 1U) << "named, not applied by half";
}

TEST(Job, T14TwoChangesAtOnceLeaveTheCauseOpenInTheRecord)
{
    // The naive record credits both; a single change needs no remark.
    const auto job = foldJob(
        {test::smallMapText(),
         {{1, 1, Repair{0, {"F1"}, "fuse renewed"}}, {2, 2, Repair{0, {"F1", "W1"}, "fuse and wire renewed"}}}});
    ASSERT_TRUE(job);
    ASSERT_EQ(job->repairs.size(), 2U);
    EXPECT_EQ(job->repairs[0].text, "fuse renewed");
    EXPECT_THAT(job->repairs[1].text, HasSubstr("which of them mended it stays open"));
}

TEST(Time, IsWrittenAndReadBack)
{
    EXPECT_EQ(writeTime(1'700'000'000'123), "2023-11-14T22:13:20.123Z");
    EXPECT_EQ(*readTime("2023-11-14T22:13:20.123Z"), 1'700'000'000'123);
    EXPECT_EQ(*readTime(writeTime(0)), 0);
    for (const char* wrong :
         {"", "2023-11-14", "2023-02-30T00:00:00.000Z", "2023-11-14T25:00:00.000Z", "2023-11-14T22:13:20.123+1"})
        EXPECT_FALSE(readTime(wrong)) << wrong;
}

}  // namespace
}  // namespace ilvek
