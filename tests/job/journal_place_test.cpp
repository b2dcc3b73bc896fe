// The file of a job in life: copied, moved, renamed, replaced, deleted, cut, opened twice, odd names, places that
// cannot be written to.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <sqlite3.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <csignal>
#include <fstream>
#include <functional>

#include "base/file.h"
#include "job/file_kind.h"
#include "job/hand_over.h"
#include "job/job.h"
#include "job/journal.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using test::TemporaryFolder;
using testing::HasSubstr;

Journal madeWith(const std::filesystem::path& path, int notes)
{
    auto journal = Journal::create(path, test::smallMapText());
    EXPECT_TRUE(journal) << (journal ? "" : journal.error().message());
    for (int i = 0; i < notes; ++i)
        EXPECT_TRUE(journal->append(Note{"note"}, i));
    return std::move(*journal);
}

TEST(JobFile, IsTheWholeJobWhileItIsOpenAndLeavesNothingBesideIt)
{
    const TemporaryFolder folder;
    Journal journal = madeWith(folder / "a.ilvek", 0);
    for (int n = 1; n <= 39; ++n) {
        ASSERT_TRUE(journal.append(Note{"x"}, n));
        std::filesystem::copy_file(folder / "a.ilvek", folder / "copy.ilvek",
                                   std::filesystem::copy_options::overwrite_existing);
        const auto copy = Journal::open(folder / "copy.ilvek", Access::ReadOnly);
        ASSERT_TRUE(copy) << copy.error().message();
        ASSERT_EQ(copy->events().size(), static_cast<std::size_t>(n));
    }
    EXPECT_EQ(test::filesIn(folder.path()).size(), 2U);
}

// What happens to the file while it is open, and what has to be said.
struct Mishap {
    const char* name;
    std::function<void(const std::filesystem::path&)> happen;
    const char* said;
};

TEST(JobFile, WhatHappensToItIsNoticedBeforeTheNextEntryIsTaken)
{
    const Mishap mishaps[] = {
        {"moved", [](const auto& p) { std::filesystem::rename(p, p.string() + ".elsewhere"); }, "moved or renamed, to"},
        {"deleted", [](const auto& p) { std::filesystem::remove(p); }, "deleted"},
        {"replaced",
         [](const auto& p) {
             std::ofstream(p.string() + ".new") << "another file";
             std::filesystem::rename(p.string() + ".new", p);
         },
         "replaced"},
        {"cut", [](const auto& p) { std::filesystem::resize_file(p, 4096); }, "cut short"},
        {"written over",
         [](const auto& p) {
             madeWith(p.string() + ".other", 9);
             std::ofstream(p, std::ios::binary | std::ios::in | std::ios::out) << *readFile(p.string() + ".other");
         },
         "another program"}};
    for (const Mishap& mishap : mishaps) {
        const TemporaryFolder folder;
        Journal journal = madeWith(folder / "a.ilvek", 4);
        mishap.happen(folder / "a.ilvek");
        const auto taken = journal.append(Note{"after"}, 9);
        ASSERT_FALSE(taken) << mishap.name;
        EXPECT_THAT(taken.error().message(), HasSubstr(mishap.said)) << mishap.name;
        EXPECT_THAT(taken.error().message(), HasSubstr("save the job elsewhere")) << mishap.name;
        EXPECT_EQ(journal.events().size(), 4U);
        const auto saved = Journal::create(folder / "saved.ilvek", journal.content());
        ASSERT_TRUE(saved) << saved.error().message();
        EXPECT_EQ(saved->events().size(), 4U) << mishap.name;
    }
}

TEST(JobFile, IsHeldByWhateverNameItIsReached)
{
    const TemporaryFolder folder;
    const Journal journal = madeWith(folder / "a.ilvek", 1);
    std::filesystem::create_symlink(folder / "a.ilvek", folder / "link.ilvek");
    std::filesystem::create_hard_link(folder / "a.ilvek", folder / "hard.ilvek");
    for (const char* name : {"a.ilvek", "link.ilvek", "hard.ilvek"}) {
        const auto second = Journal::open(folder / name);
        ASSERT_FALSE(second) << name;
        EXPECT_THAT(second.error().message(), HasSubstr("open in another Ilvek")) << name;
    }
}

TEST(JobFile, PathsAreTakenAsTheyAre)
{
    const TemporaryFolder folder;
    for (const char* name :
         {"jobA.ilvek", "job%41.ilvek", "truck #12.ilvek", "what?mode=ro.ilvek", "file:x.ilvek", "ä ö.ilvek"}) {
        Journal journal = madeWith(folder / name, 0);
        ASSERT_TRUE(journal.append(Note{name}, 1));
    }
    for (const char* name :
         {"jobA.ilvek", "job%41.ilvek", "truck #12.ilvek", "what?mode=ro.ilvek", "file:x.ilvek", "ä ö.ilvek"}) {
        for (const Access access : {Access::ReadOnly, Access::ReadWrite}) {
            const auto journal = Journal::open(folder / name, access);
            ASSERT_TRUE(journal) << name << ": " << journal.error().message();
            EXPECT_EQ(std::get<Note>(journal->events()[0].body).text, name);
        }
    }
}

// In a child that is nobody: the tests may run as root, whom no folder keeps out.
int asNobody(const std::function<int()>& work)
{
    const pid_t child = ::fork();
    if (child == 0) {
        if (::geteuid() == 0 && (::setgid(65534) != 0 || ::setuid(65534) != 0)) _exit(99);
        _exit(work());
    }
    int status = 0;
    ::waitpid(child, &status, 0);
    return WIFEXITED(status) ? WEXITSTATUS(status) : 100;
}

TEST(JobFile, IsReadInAPlaceThatCannotBeWrittenTo)
{
    const TemporaryFolder folder;
    std::filesystem::create_directory(folder / "shut");
    {
        madeWith(folder / "shut" / "a.ilvek", 24);
    }
    ::chmod(folder.path().c_str(), 0755);
    ::chmod((folder / "shut").c_str(), 0555);
    const int result = asNobody([&] {
        const auto write = Journal::open(folder / "shut" / "a.ilvek");
        if (write) return 1;
        const auto read = Journal::open(folder / "shut" / "a.ilvek", Access::ReadOnly);
        if (!read) return 2;
        return read->events().size() == 24 ? 0 : 3;
    });
    ::chmod((folder / "shut").c_str(), 0755);
    EXPECT_EQ(result, 0);
}

// What an interrupted program of the first version left: entries beside the file.
TEST(JobFile, EntriesThatStandBesideItAreReadWhereNothingCanBeWritten)
{
    const TemporaryFolder folder;
    std::filesystem::create_directory(folder / "shut");
    const auto path = folder / "shut" / "a.ilvek";
    {
        madeWith(path, 5);
    }
    const pid_t child = ::fork();
    if (child == 0) {
        sqlite3* raw = nullptr;
        sqlite3_open(path.c_str(), &raw);
        sqlite3_exec(raw, "PRAGMA journal_mode=WAL; PRAGMA wal_autocheckpoint=0;", nullptr, nullptr, nullptr);
        for (int i = 6; i <= 24; ++i)
            sqlite3_exec(raw,
                         fmt::format("INSERT INTO event(id,time,kind,body) VALUES({}, '2026-01-01T00:00:00.000Z', "
                                     "'note', '{{\"text\":\"x\"}}')",
                                     i)
                             .c_str(),
                         nullptr, nullptr, nullptr);
        _exit(0);  // without closing
    }
    ::waitpid(child, nullptr, 0);
    ASSERT_TRUE(std::filesystem::exists(path.string() + "-wal"));
    ::chmod(folder.path().c_str(), 0755);
    for (const auto& file : test::filesIn(folder / "shut"))
        ::chmod(file.c_str(), 0444);
    ::chmod((folder / "shut").c_str(), 0555);
    const int result = asNobody([&] {
        const auto read = Journal::open(path, Access::ReadOnly);
        return !read ? 2 : read->events().size() == 24 ? 0 : 3;
    });
    ::chmod((folder / "shut").c_str(), 0755);
    EXPECT_EQ(result, 0);
    // Once it can be written to, all becomes one file again.
    for (const auto& file : test::filesIn(folder / "shut"))
        ::chmod(file.c_str(), 0644);
    {
        const auto journal = Journal::open(path);
        ASSERT_TRUE(journal) << journal.error().message();
        EXPECT_EQ(journal->events().size(), 24U);
    }
    EXPECT_EQ(test::filesIn(folder / "shut").size(), 1U);
}

TEST(JobFile, AFailedCreationLeavesNothingBehind)
{
    const TemporaryFolder folder;
    const pid_t child = ::fork();
    if (child == 0) {
        surviveFailedWrites();
        const rlimit limit{20'000, 20'000};  // less than a job file
        ::setrlimit(RLIMIT_FSIZE, &limit);
        const auto journal = Journal::create(
            folder / "a.ilvek", JobContent{test::smallMapText(), {{1, 1, Note{std::string(50'000, 'x')}}}});
        _exit(journal ? 1 : 0);
    }
    int status = 0;
    ::waitpid(child, &status, 0);
    ASSERT_TRUE(WIFEXITED(status)) << "the limit does not end the program";
    EXPECT_EQ(WEXITSTATUS(status), 0);
    EXPECT_TRUE(test::filesIn(folder.path()).empty());
}

// Killed at any moment while a job is imported: either the whole job is there or nothing is.
TEST(JobFile, AKilledImportLeavesTheWholeJobOrNothing)
{
    const TemporaryFolder folder;
    JobContent content{test::smallMapText(), {}};
    for (int i = 1; i <= 400; ++i)
        content.events.push_back({i, i, Note{std::string(500, 'x')}});
    ASSERT_TRUE(writeFile(folder / "a.json", writeHandOver(content)));
    std::filesystem::create_directory(folder / "jobs");
    int whole = 0;
    constexpr int rounds = 60;
    for (int round = 0; round <= rounds; ++round) {
        const auto job = folder / "jobs" / "a.ilvek";
        const pid_t child = ::fork();
        if (child == 0) _exit(importJob(folder / "a.json", job) ? 0 : 1);
        ::usleep(static_cast<useconds_t>(round * 1200));
        // However slow the machine is, the last one comes to its end.
        if (round < rounds) ::kill(child, SIGKILL);
        ::waitpid(child, nullptr, 0);
        const auto left = test::filesIn(folder / "jobs");
        if (left.empty()) continue;
        ASSERT_EQ(left.size(), 1U) << "round " << round;
        ASSERT_EQ(left[0].filename(), "a.ilvek");
        const auto journal = Journal::open(job);
        ASSERT_TRUE(journal) << journal.error().message();
        ASSERT_EQ(journal->events().size(), 400U);
        ++whole;
        std::filesystem::remove(job);
    }
    EXPECT_GT(whole, 0) << "the last round comes to its end";
}

TEST(HandOver, UndoStillPointsAtItsEntryWhereNumbersHaveGaps)
{
    const TemporaryFolder folder;
    const JobContent content{test::smallMapText(), {{3, 1, Note{"kept"}}, {7, 2, Note{"withdrawn"}}, {9, 3, Undo{7}}}};
    ASSERT_TRUE(writeFile(folder / "a.json", writeHandOver(content)));
    auto journal = importJob(folder / "a.json", folder / "a.ilvek");
    ASSERT_TRUE(journal) << journal.error().front().message();
    ASSERT_TRUE(journal->append(Note{"after"}, 4));
    const auto job = foldJob(journal->content());
    ASSERT_TRUE(job);
    ASSERT_EQ(job->notes.size(), 2U);
    EXPECT_EQ(job->notes[0].text, "kept");
    EXPECT_EQ(job->notes[1].text, "after");
    EXPECT_EQ(journal->events().back().id, 10);
}

TEST(HandOver, IsNotWrittenOverTheJobItself)
{
    const TemporaryFolder folder;
    const Journal journal = madeWith(folder / "a.ilvek", 3);
    EXPECT_FALSE(exportJob(journal, folder / "a.ilvek"));
    const Journal other = madeWith(folder / "b.ilvek", 3);
    EXPECT_FALSE(exportJob(journal, folder / "b.ilvek")) << "nor over another job";
    EXPECT_TRUE(exportJob(journal, folder / "c.json"));
    EXPECT_TRUE(exportJob(journal, folder / "c.json")) << "an earlier one may be written anew";
}

TEST(FileKind, IsTakenFromWhatIsInTheFile)
{
    const TemporaryFolder folder;
    {
        madeWith(folder / "job", 1);
    }
    ASSERT_TRUE(writeFile(folder / "hand.txt", writeHandOver({test::smallMapText(), {}})));
    ASSERT_TRUE(writeFile(folder / "map.txt", test::smallMapText()));
    ASSERT_TRUE(writeFile(folder / "other.json", "{\"a\": 1}"));
    ASSERT_TRUE(writeFile(folder / "empty", ""));
    const std::filesystem::path data = ILVEK_SOURCE_DIR "/data";
    EXPECT_EQ(fileKindOf(folder / "job"), FileKind::Job);
    EXPECT_EQ(fileKindOf(folder / "hand.txt"), FileKind::HandOver);
    EXPECT_EQ(fileKindOf(folder / "map.txt"), FileKind::Map);
    EXPECT_EQ(fileKindOf(data / "sheets/hauler-24v.csv"), FileKind::PinSheet);
    EXPECT_EQ(fileKindOf(data / "traces/tiller-down.csv"), FileKind::Recording);
    EXPECT_EQ(fileKindOf(data / "maps/pt-9.json"), FileKind::Map);
    EXPECT_EQ(fileKindOf(data / "demo/reduced-power.json"), FileKind::HandOver);
    for (const char* none : {"other.json", "empty", "missing", "."})
        EXPECT_EQ(fileKindOf(folder / none), FileKind::None) << none;
}

}  // namespace
}  // namespace ilvek
