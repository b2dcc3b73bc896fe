// The tables of sentences, and the code that asks for them: what a compiler would see if the words stood in the code.
#include "wording/words.h"

#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <iterator>
#include <map>
#include <regex>
#include <set>

#include "proving/reading.h"
#include "proving/traps.h"
#include "wording/tables.h"

namespace ilvek {
namespace {

// All but the procedures', whose parts have names.
std::map<std::string, std::string> worded()
{
    std::map<std::string, std::string> all;
    for (const auto* table :
         {&judgementWords(), &stepWords(), &suspectWords(), &verdictWords(), &paperWords(), &repairWords()}) {
        for (const Words& w : *table)
            EXPECT_TRUE(all.emplace(w.id, w.words).second) << w.id << " stands twice";
    }
    return all;
}

// Of every call in a file of core/: the id, and how many parts it gives.
struct Asked {
    std::string file, id;
    std::size_t parts = 0;
};

// How many arguments stand between here and the bracket that closes.
std::size_t argumentsFrom(const std::string& code, std::size_t at)
{
    int depth = 0;
    std::size_t commas = 0;
    for (bool text = false; at < code.size() && (text || depth > 0 || code[at] != ')'); ++at) {
        const char c = code[at];
        if (text && c == '\\') {
            ++at;
            continue;
        }
        if (c == '"') text = !text;
        if (text) continue;
        depth += c == '(' || c == '[' || c == '{' ? 1 : c == ')' || c == ']' || c == '}' ? -1 : 0;
        commas += depth == 0 && c == ',' ? 1 : 0;
    }
    return commas;
}

// Of core/, without the tables themselves.
std::map<std::string, std::string> codeByFile()
{
    std::map<std::string, std::string> all;
    for (const auto& entry : std::filesystem::recursive_directory_iterator(ILVEK_SOURCE_DIR "/core")) {
        if (entry.path().extension() != ".cpp" || entry.path().parent_path().filename() == "wording") continue;
        std::ifstream file(entry.path());
        all.emplace(entry.path().string(), std::string(std::istreambuf_iterator<char>(file), {}));
    }
    return all;
}

std::string allCode()
{
    std::string all;
    for (const auto& [file, code] : codeByFile())
        all += code;
    return all;
}

std::vector<Asked> askedFor()
{
    std::vector<Asked> all;
    static const std::regex call("inWords\\(\\s*\"([^\"]+)\"");
    for (const auto& [file, code] : codeByFile()) {
        for (std::sregex_iterator at(code.begin(), code.end(), call), end; at != end; ++at) {
            const auto behind = static_cast<std::size_t>(at->position() + at->length());
            all.push_back({file, (*at)[1], argumentsFrom(code, behind)});
        }
    }
    return all;
}

// {} and {:.0f} count on; {0} and {1} name the part.
std::size_t placesIn(const std::string& words)
{
    std::size_t running = 0, named = 0;
    static const std::regex place("\\{([0-9]*)[^}]*\\}");
    for (std::sregex_iterator at(words.begin(), words.end(), place), end; at != end; ++at) {
        const std::string number = (*at)[1];
        if (number.empty())
            ++running;
        else
            named = std::max<std::size_t>(named, std::stoul(number) + 1);
    }
    return std::max(running, named);
}

TEST(Words, StandOnceAndSaySomething)
{
    for (const auto& [id, words] : worded()) {
        EXPECT_FALSE(words.empty()) << id;
        EXPECT_EQ(std::count(words.begin(), words.end(), '{'), std::count(words.begin(), words.end(), '}')) << id;
        EXPECT_LE(words.size(), 260U) << id << ": nobody hears that to its end";
    }
}

TEST(Words, EveryOneThatTheCodeAsksForIsThereWithItsPlaces)
{
    const auto words = worded();
    const std::vector<Asked> asked = askedFor();
    ASSERT_GT(asked.size(), 500U);
    for (const Asked& a : asked) {
        const auto at = words.find(a.id);
        ASSERT_NE(at, words.end()) << a.file << " asks for " << a.id;
        EXPECT_EQ(placesIn(at->second), a.parts) << a.file << ": " << a.id << ": " << at->second;
    }
}

TEST(Words, NoneIsAskedForByNobody)
{
    const std::string code = allCode();
    // Made of a name of what they are of: each of them is asked for below.
    static const std::regex composed("(trap|test|found|shown|look)\\..*");
    for (const auto& [id, text] : worded()) {
        if (std::regex_match(id, composed)) continue;
        EXPECT_NE(code.find('"' + id + '"'), std::string::npos) << id << " is asked for by nobody";
    }
    for (int i = 0; i < 22; ++i)
        EXPECT_FALSE(testName(static_cast<TestKind>(i)).empty()) << i;
    for (std::size_t i = 0; i < kindsOfShown; ++i)
        EXPECT_FALSE(shownWords(static_cast<Shown>(i)).empty()) << i;
    for (std::size_t i = 0; i < kindsOfFound; ++i)
        EXPECT_TRUE(hasWords(fmt::format("look.{}.seen", foundId(static_cast<Found>(i))))) << i;
    for (int i = 1; i <= 22; ++i)
        EXPECT_NE(trapName(fmt::format("T{}", i)), fmt::format("T{}", i));
}

// A sentence that stands in the code of what judges and reasons can be read, bettered and translated by nobody. Errors
// about what was typed stand where they are found.
TEST(Words, NoSentenceStandsInTheCode)
{
    static const std::regex sentence("\"[^\"\\n]*[A-Za-z]{2,} [a-z]{2,} [a-z]{2,} [a-z]{2,}[^\"\\n]*\"");
    for (const char* folder : {"proving", "suspects", "belief", "choice", "verdict", "papers", "repair"}) {
        for (const auto& entry :
             std::filesystem::recursive_directory_iterator(std::string(ILVEK_SOURCE_DIR "/core/") + folder)) {
            if (entry.path().extension() != ".cpp") continue;
            std::ifstream file(entry.path());
            std::string line;
            while (std::getline(file, line)) {
                const std::string code = line.substr(0, line.find("//"));
                const bool isError = code.find("fail(") != std::string::npos;
                EXPECT_FALSE(!isError && std::regex_search(code, sentence)) << entry.path().filename() << ": " << line;
            }
        }
    }
}

TEST(Words, PutThePartsIn)
{
    EXPECT_EQ(inWords("dangers.rated-more-never-larger", "The lead", "10 A", "7.5 A", "F5"),
              "The lead is rated 10 A, more than the 7.5 A of F5: never a larger one.");
}

}  // namespace
}  // namespace ilvek
