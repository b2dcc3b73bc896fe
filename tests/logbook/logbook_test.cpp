// The list of jobs: what it says of each, what a search finds, and that it follows the files.
#include "logbook/logbook.h"

#include <gmock/gmock.h>

#include "base/file.h"
#include "job/journal.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using testing::HasSubstr;

class LogbookTest : public ::testing::Test {
protected:
    Journal job(const std::string& name, const std::string& title, std::int64_t at_ms)
    {
        auto journal = Journal::create(folder_ / (name + ".ilvek"), test::smallMapText());
        EXPECT_TRUE(journal);
        EXPECT_TRUE(journal->append(JobDetails{title, "Q. Harrow", "SN-77", "", ""}, at_ms));
        return std::move(*journal);
    }
    Logbook open()
    {
        auto book = Logbook::open(folder_ / "logbook.index");
        EXPECT_TRUE(book);
        return std::move(*book);
    }
    std::vector<std::string> titles(const Logbook& book, const std::string& words = "")
    {
        std::vector<std::string> out;
        for (const LoggedJob& one : book.find(words))
            out.push_back(one.title);
        return out;
    }
    test::TemporaryFolder folder_;
};

TEST(LogbookState, SaysWhichJobWaitsForItsPart)
{
    const test::TemporaryFolder folder;
    const RepairChoices ways{{{"new part", {"F1"}, 1, 90, 48, 0, ""}, {"clean", {"F1"}, 1, 0, 0, 0, ""}}, 80, 0};
    {
        auto journal = Journal::create(folder / "waits.ilvek", test::smallMap().document);
        ASSERT_TRUE(journal);
        ASSERT_TRUE(journal->append(ways, 1000));
        ASSERT_TRUE(journal->append(Decided{"new part", "", ""}, 2000));
    }
    auto book = Logbook::open(folder / "index");
    ASSERT_TRUE(book);
    ASSERT_TRUE(book->bringUpToDate(folder.path()));
    ASSERT_EQ(book->find("").size(), 1U);
    EXPECT_TRUE(book->find("")[0].waits);
    EXPECT_EQ(book->find("decided").size(), 1U) << "what was decided is found";
    {
        auto journal = Journal::open(folder / "waits.ilvek");
        ASSERT_TRUE(journal);
        ASSERT_TRUE(journal->append(Repair{0, {"F1"}, "new part in"}, 3000));
    }
    ASSERT_TRUE(book->bringUpToDate(folder.path()));
    EXPECT_FALSE(book->find("")[0].waits);
}

TEST_F(LogbookTest, TellsWhatAJobIsKnownBy)
{
    {
        auto journal = job("a", "Hoist dead", 1000);
        Complaint complaint;
        complaint.text = "does not lift";
        ASSERT_TRUE(journal.append(complaint, 2000));
        ASSERT_TRUE(journal.append(Debt{"wire cut", "M-1"}, 3000));
    }
    Logbook book = open();
    EXPECT_EQ(*book.bringUpToDate(folder_.path()), 1);
    const auto all = book.find("");
    ASSERT_EQ(all.size(), 1U);
    EXPECT_EQ(all[0].title, "Hoist dead");
    EXPECT_EQ(all[0].complaint, "does not lift");
    EXPECT_EQ(all[0].last_ms, 3000);
    EXPECT_EQ(all[0].entries, 3);
    EXPECT_TRUE(all[0].owes);
    EXPECT_TRUE(all[0].closed.empty());
    EXPECT_EQ(*book.bringUpToDate(folder_.path()), 0) << "nothing changed";
    // Closed, with the debt made good, and a withdrawn complaint.
    {
        auto journal = Journal::open(folder_ / "a.ilvek");
        ASSERT_TRUE(journal);
        ASSERT_TRUE(journal->append(DebtCleared{3, "soldered"}, 4000));
        ASSERT_TRUE(journal->append(JobClosed{JobClosed::Verdict::Repaired, "", "wire mended", "", {}}, 5000));
        ASSERT_TRUE(journal->append(Undo{2}, 6000));
    }
    EXPECT_EQ(*book.bringUpToDate(folder_.path()), 1);
    EXPECT_EQ(book.find("")[0].closed, "found and repaired");
    EXPECT_FALSE(book.find("")[0].owes);
    EXPECT_EQ(book.find("")[0].complaint, "");
    EXPECT_TRUE(book.find("lift").empty()) << "what was withdrawn is not found";
    EXPECT_EQ(book.find("mended").size(), 1U);
}

TEST_F(LogbookTest, FindsByTheBeginningsOfWordsAnywhere)
{
    job("a", "Hoist dead", 1000);
    job("b", "Hoist weak", 3000);
    job("c", "Lamps flicker", 2000);
    Logbook book = open();
    EXPECT_EQ(*book.bringUpToDate(folder_.path()), 3);
    EXPECT_EQ(titles(book), (std::vector<std::string>{"Hoist weak", "Lamps flicker", "Hoist dead"}));
    EXPECT_EQ(titles(book, "hoi"), (std::vector<std::string>{"Hoist weak", "Hoist dead"}));
    EXPECT_EQ(titles(book, "HOIST de"), (std::vector<std::string>{"Hoist dead"}));
    EXPECT_EQ(titles(book, "harrow sn-77").size(), 3U) << "customer and serial";
    EXPECT_TRUE(titles(book, "crane").empty());
    for (const char* odd : {"\"", "AND", "NEAR(", "*", "a\"b", "-", "()", "hoist AND NOT"})
        (void)book.find(odd);  // whatever is typed is a search, or finds nothing
    EXPECT_EQ(titles(book, "\"hoist\"").size(), 2U);
}

TEST_F(LogbookTest, FollowsTheFiles)
{
    job("a", "Hoist dead", 1000);
    job("b", "Hoist weak", 2000);
    Logbook book = open();
    ASSERT_TRUE(book.bringUpToDate(folder_.path()));
    std::filesystem::remove(folder_ / "a.ilvek");
    ASSERT_TRUE(writeFile((folder_ / "c.ilvek").string(), "no job at all"));
    EXPECT_EQ(*book.bringUpToDate(folder_.path()), 1);
    const auto all = book.find("");
    ASSERT_EQ(all.size(), 2U);
    EXPECT_EQ(all[0].title, "Hoist weak");
    EXPECT_THAT(all[1].trouble, HasSubstr("c.ilvek")) << "named, and not left out";
    // Another window on the same index sees the same.
    const Logbook second = open();
    EXPECT_EQ(second.find("hoist").size(), 1U);
}

TEST_F(LogbookTest, ADamagedIndexIsMadeAnew)
{
    job("a", "Hoist dead", 1000);
    ASSERT_TRUE(writeFile((folder_ / "logbook.index").string(), std::string(5000, 'x')));
    Logbook book = open();
    EXPECT_EQ(*book.bringUpToDate(folder_.path()), 1);
    EXPECT_EQ(titles(book).size(), 1U);
    EXPECT_FALSE(Logbook::open("/nowhere/at/all/index"));
}

}  // namespace
}  // namespace ilvek
