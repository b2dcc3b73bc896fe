// Damaged job files: every entry that is whole is there, none is silently wrong, what cannot be read is kept and named.
#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <random>

#include "base/file.h"
#include "job/hand_over.h"
#include "job/job.h"
#include "job/salvage.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using test::TemporaryFolder;
using testing::HasSubstr;

std::string noteText(std::int64_t id)
{
    return fmt::format("note {} {}", id, std::string(static_cast<std::size_t>(id % 7) * 900, 'n'));
}

void makeJob(const std::filesystem::path& path, int notes)
{
    auto journal = Journal::create(path, test::smallMapText());
    ASSERT_TRUE(journal) << journal.error().message();
    for (int i = 1; i <= notes; ++i)
        ASSERT_TRUE(journal->append(Note{noteText(i)}, 1'700'000'000'000 + i));
}

// How many entries are there; fails where one is not as it was written.
std::size_t soundEntries(const JobContent& content, int written)
{
    for (const Event& event : content.events) {
        EXPECT_GE(event.id, 1);
        EXPECT_LE(event.id, written);
        const auto* note = std::get_if<Note>(&event.body);
        if (!note || note->text != noteText(event.id) || event.time_ms != 1'700'000'000'000 + event.id)
            ADD_FAILURE() << "entry " << event.id << " is not what was written";
    }
    return content.events.size();
}

void insertRaw(const std::filesystem::path& path, const std::string& values)
{
    SQLite::Database(path.string(), SQLite::OPEN_READWRITE)
        .exec("INSERT INTO event(id, time, kind, body, seal) VALUES(" + values + ")");
}

TEST(DamagedJob, AnEntryThatCannotBeReadIsSetAsideAndTheJobGoesOn)
{
    const TemporaryFolder folder;
    makeJob(folder / "a.ilvek", 3);
    insertRaw(folder / "a.ilvek", R"(4, '2026-01-01T00:00:00.000Z', 'reading', '{"test":"battery"}', '')");
    auto journal = Journal::open(folder / "a.ilvek");
    ASSERT_TRUE(journal) << journal.error().message();
    EXPECT_EQ(soundEntries(journal->content(), 3), 3U);
    ASSERT_EQ(journal->content().setAside.size(), 1U);
    EXPECT_EQ(journal->content().setAside[0].id, 4);
    EXPECT_EQ(journal->content().setAside[0].body, R"({"test":"battery"})") << "kept as it is";
    EXPECT_THAT(journal->content().setAside[0].reason, HasSubstr("red"));
    const auto next = journal->append(Note{"goes on"}, 5);
    ASSERT_TRUE(next) << next.error().message();
    EXPECT_EQ(next->id, 5) << "its number is not given away";
    const auto job = foldJob(journal->content());
    ASSERT_TRUE(job);
    EXPECT_EQ(job->setAside.size(), 1U);
}

TEST(DamagedJob, WhatIsSetAsideGoesThroughHandOverAndBackAsItIs)
{
    const TemporaryFolder folder;
    makeJob(folder / "a.ilvek", 2);
    insertRaw(folder / "a.ilvek", R"(3, 'yesterday', 'poem', 'roses "are" red', '')");
    {
        const auto journal = Journal::open(folder / "a.ilvek");
        ASSERT_TRUE(journal);
        ASSERT_TRUE(exportJob(*journal, folder / "a.json"));
    }
    const auto back = importJob(folder / "a.json", folder / "b.ilvek");
    ASSERT_TRUE(back) << back.error().front().message();
    const auto again = Journal::open(folder / "b.ilvek", Access::ReadOnly);
    ASSERT_TRUE(again);
    ASSERT_EQ(again->content().setAside.size(), 1U);
    EXPECT_EQ(again->content().setAside[0].kind, "poem");
    EXPECT_EQ(again->content().setAside[0].body, "roses \"are\" red");
}

TEST(DamagedJob, AnEntryChangedBehindItsBackIsNoticed)
{
    const TemporaryFolder folder;
    makeJob(folder / "a.ilvek", 5);
    std::string bytes = *readFile(folder / "a.ilvek");
    const auto at = bytes.find("note 4 ");
    ASSERT_NE(at, std::string::npos);
    bytes[at + 5] = '9';  // still good JSON
    ASSERT_TRUE(writeFile(folder / "a.ilvek", bytes));
    const auto journal = Journal::open(folder / "a.ilvek");
    ASSERT_TRUE(journal) << journal.error().message();
    EXPECT_EQ(soundEntries(journal->content(), 5), 4U);
    ASSERT_EQ(journal->content().setAside.size(), 1U);
    EXPECT_THAT(setAsideWords(journal->content().setAside[0]), HasSubstr("no longer as it was written"));
}

TEST(DamagedJob, TheMapIsTakenFromItsSecondCopy)
{
    const TemporaryFolder folder;
    makeJob(folder / "a.ilvek", 2);
    std::string bytes = *readFile(folder / "a.ilvek");
    const auto at = bytes.find("ilvek-map");
    bytes.replace(at, 9, "ilvek-gap");
    ASSERT_TRUE(writeFile(folder / "a.ilvek", bytes));
    const auto journal = Journal::open(folder / "a.ilvek");
    ASSERT_TRUE(journal) << journal.error().message();
    EXPECT_EQ(journal->mapDocument(), test::smallMapText());
    EXPECT_TRUE(exportJob(*journal, folder / "a.json"));
}

// One flipped bit anywhere: nothing is silently wrong, and all but the entry that it hit is there.
TEST(DamagedJob, OneFlippedBitCostsAtMostTheEntryThatItHits)
{
    const TemporaryFolder folder;
    constexpr int notes = 60, tries = 400;
    makeJob(folder / "a.ilvek", notes);
    const std::string whole = *readFile(folder / "a.ilvek");
    std::mt19937 random(11);
    int opened = 0;
    for (int n = 0; n < tries; ++n) {
        std::string damaged = whole;
        const std::size_t at = random() % damaged.size();
        damaged[at] = static_cast<char>(damaged[at] ^ (1 << (random() % 8)));
        ASSERT_TRUE(writeFile(folder / "b.ilvek", damaged));
        const auto journal = Journal::open(folder / "b.ilvek");
        if (!journal) {
            ADD_FAILURE() << "byte " << at << ": " << journal.error().message();
            continue;
        }
        ++opened;
        EXPECT_GE(soundEntries(journal->content(), notes), notes - 1U) << "byte " << at;
        EXPECT_EQ(journal->mapDocument(), test::smallMapText()) << "byte " << at;
    }
    EXPECT_EQ(opened, tries);
}

TEST(DamagedJob, AFileCutShortGivesWhatIsStillInIt)
{
    const TemporaryFolder folder;
    makeJob(folder / "a.ilvek", 200);
    const std::string whole = *readFile(folder / "a.ilvek");
    std::size_t before = 0;
    for (const double share : {0.25, 0.5, 0.75, 0.95}) {
        ASSERT_TRUE(writeFile(folder / "b.ilvek",
                              whole.substr(0, static_cast<std::size_t>(share * static_cast<double>(whole.size())))));
        auto journal = Journal::open(folder / "b.ilvek");
        ASSERT_TRUE(journal) << share << ": " << journal.error().message();
        const std::size_t there = soundEntries(journal->content(), 200);
        EXPECT_GE(there, before) << share;
        before = there;
        EXPECT_THAT(journal->readOnlyBecause(), HasSubstr("damaged"));
        EXPECT_FALSE(journal->append(Note{"x"}, 1)) << "a damaged file is not written into";
        EXPECT_EQ(readFile(folder / "b.ilvek")->size(),
                  static_cast<std::size_t>(share * static_cast<double>(whole.size())));
    }
    EXPECT_GT(before, 150U);
    ASSERT_TRUE(writeFile(folder / "b.ilvek", whole.substr(0, 100)));
    const auto journal = Journal::open(folder / "b.ilvek");
    ASSERT_FALSE(journal);
    EXPECT_FALSE(journal.error().reason.empty());
}

// Many wrong bytes: whatever opens holds only what was written.
TEST(DamagedJob, NothingIsEverSilentlyWrong)
{
    const TemporaryFolder folder;
    constexpr int notes = 40;
    makeJob(folder / "a.ilvek", notes);
    const std::string whole = *readFile(folder / "a.ilvek");
    std::mt19937 random(5);
    std::size_t entries = 0;
    for (int n = 0; n < 150; ++n) {
        std::string damaged = whole;
        for (int k = 0; k < 8; ++k)
            damaged[random() % damaged.size()] = static_cast<char>(random());
        ASSERT_TRUE(writeFile(folder / "b.ilvek", damaged));
        const auto journal = Journal::open(folder / "b.ilvek", Access::ReadOnly);
        if (journal)
            entries += soundEntries(journal->content(), notes);
        else
            EXPECT_FALSE(journal.error().reason.empty());
    }
    EXPECT_GT(entries, 150U * notes * 6 / 10) << "most entries are whole and were found";
}

TEST(DamagedJob, AJobOfTheFirstVersionIsReadUpgradedAndGoesOn)
{
    const TemporaryFolder folder;
    {
        SQLite::Database old((folder / "a.ilvek").string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        old.exec(
            "PRAGMA application_id=1229739595; PRAGMA user_version=1;"
            "CREATE TABLE job(key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;"
            "CREATE TABLE event(id INTEGER PRIMARY KEY, time TEXT NOT NULL, kind TEXT NOT NULL, body TEXT NOT NULL);"
            "CREATE TRIGGER event_is_never_changed BEFORE UPDATE ON event BEGIN SELECT RAISE(ABORT, 'no'); END;"
            "INSERT INTO event VALUES(1, '2026-01-01T00:00:00.000Z', 'note', '{\"text\":\"old\"}');");
        old.exec("PRAGMA journal_mode=WAL");
        SQLite::Statement map(old, "INSERT INTO job VALUES('map', ?)");
        map.bind(1, test::smallMapText());
        map.exec();
    }
    {
        auto journal = Journal::open(folder / "a.ilvek", Access::ReadOnly);
        ASSERT_TRUE(journal) << journal.error().message();
        EXPECT_EQ(journal->events().size(), 1U);
    }
    {
        auto journal = Journal::open(folder / "a.ilvek");
        ASSERT_TRUE(journal) << journal.error().message();
        ASSERT_TRUE(journal->append(Note{"new"}, 1));
    }
    const auto journal = Journal::open(folder / "a.ilvek");
    ASSERT_TRUE(journal) << journal.error().message();
    ASSERT_EQ(journal->events().size(), 2U);
    EXPECT_EQ(std::get<Note>(journal->events()[0].body).text, "old");
    EXPECT_EQ(test::filesIn(folder.path()).size(), 1U) << "one file at rest";
}

}  // namespace
}  // namespace ilvek
