// The table of sentences.
#include "wording/tables.h"

#include <gtest/gtest.h>

#include <set>

#include "procedures/in_words.h"

namespace ilvek {
namespace {

TEST(ProcedureWords, EachStandsOnceAndItsBracesPair)
{
    std::set<std::string_view> ids;
    for (const Words& w : procedureWords()) {
        EXPECT_TRUE(ids.insert(w.id).second) << w.id << " stands twice";
        EXPECT_FALSE(w.words.empty()) << w.id;
        EXPECT_EQ(std::count(w.words.begin(), w.words.end(), '{'), std::count(w.words.begin(), w.words.end(), '}'))
            << w.id;
    }
    for (const ProcedureKind& kind : procedureKinds()) {
        EXPECT_TRUE(ids.contains("title." + std::string(kind.id))) << kind.id;
        EXPECT_TRUE(ids.contains("purpose." + std::string(kind.id))) << kind.id;
    }
}

TEST(ProcedureWords, PutNamesAndFiguresIn)
{
    EXPECT_EQ(sentence({"relay.end.sound", {{"relay", "K2"}}}), "K2 is fed, driven, and carries its load.");
    EXPECT_FALSE(isWorded({"relay.end.sound", {}})) << "a name is missing";
    EXPECT_FALSE(isWorded({"no such fact", {}}));
}

// A person under a machine hears it once: no sentence goes on for more than a few lines, and none holds what only the
// program calls so.
TEST(ProcedureWords, AreShort)
{
    for (const Words& w : procedureWords()) {
        EXPECT_LE(w.words.size(), 200U) << w.id;
        for (const char* bad : {".a ", ".b ", ".end", "nullopt", "T1", "W1"})
            EXPECT_EQ(w.words.find(bad), std::string_view::npos) << w.id << ": " << bad;
    }
}

}  // namespace
}  // namespace ilvek
