// The shape of the tree: data flows one way, and the core knows no screen.
#include <gtest/gtest.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <regex>
#include <string>
#include <vector>

namespace {

// Each folder of core/ may use those before it in this list, never those behind.
const std::vector<std::string> order{"base",     "quantity",   "wording",    "machine", "bench_map", "circuit",
                                     "proving",  "suspects",   "prediction", "belief",  "choice",    "procedures",
                                     "verdict",  "trace",      "job",        "papers",  "repair",    "logbook",
                                     "open_job", "experience", "shop",       "report"};

struct Include {
    std::string file, folder, target;
};

std::vector<Include> includesUnder(const std::filesystem::path& root)
{
    std::vector<Include> out;
    const std::regex quoted("^\\s*#include\\s*[<\"]([^>\"]+)[>\"]");
    for (const auto& entry : std::filesystem::recursive_directory_iterator(root)) {
        const auto ending = entry.path().extension();
        if (ending != ".h" && ending != ".cpp") continue;
        std::ifstream in(entry.path());
        for (std::string line; std::getline(in, line);) {
            std::smatch match;
            if (std::regex_search(line, match, quoted))
                out.push_back(
                    {entry.path().string(), std::filesystem::relative(entry.path(), root).begin()->string(), match[1]});
        }
    }
    return out;
}

TEST(Layout, IncludesInTheCorePointOneWay)
{
    const std::filesystem::path core = std::string(ILVEK_SOURCE_DIR) + "/core";
    const auto includes = includesUnder(core);
    ASSERT_GT(includes.size(), 100U);
    for (const Include& include : includes) {
        const std::string target = include.target.substr(0, include.target.find('/'));
        const auto to = std::find(order.begin(), order.end(), target);
        const auto from = std::find(order.begin(), order.end(), include.folder);
        ASSERT_NE(from, order.end()) << include.folder << " is not in the list of folders";
        if (to != order.end()) {
            EXPECT_LE(to, from) << include.file << " includes " << include.target;
        }
    }
}

// Recordings: what a file holds, what is seen in any signal, what each kind of thing looks like, the study of a whole.
TEST(Layout, TheRoomsOfRecordingsPointOneWay)
{
    const std::vector<std::string> rooms{"formats", "signal", "subjects", "study"};
    const auto includes = includesUnder(std::string(ILVEK_SOURCE_DIR) + "/core/trace");
    ASSERT_GT(includes.size(), 50U);
    for (const Include& include : includes) {
        const std::filesystem::path target(include.target);
        if (*target.begin() != "trace") continue;
        const auto to = std::find(rooms.begin(), rooms.end(), std::next(target.begin())->string());
        const auto from = std::find(rooms.begin(), rooms.end(), include.folder);
        ASSERT_NE(to, rooms.end()) << include.file << " includes " << include.target;
        ASSERT_NE(from, rooms.end()) << include.file << " stands in no room";
        EXPECT_LE(to, from) << include.file << " includes " << include.target;
    }
}

TEST(Layout, TheCoreAndThePracticeMachineKnowNoScreen)
{
    for (const char* folder : {"core", "practice", "cli"}) {
        for (const Include& include : includesUnder(std::string(ILVEK_SOURCE_DIR) + "/" + folder)) {
            EXPECT_FALSE(std::regex_match(include.target, std::regex("Q[A-Z].*|Qt.*")))
                << include.file << " includes " << include.target;
            EXPECT_NE(include.target.substr(0, include.target.find('/')), "app") << include.file;
        }
    }
}

// Models know no widget, widgets no screen, a screen no other one, and nothing but main knows the window.
TEST(Layout, IncludesInTheWindowPointOneWay)
{
    const std::filesystem::path app = std::string(ILVEK_SOURCE_DIR) + "/app";
    const auto includes = includesUnder(app);
    ASSERT_GT(includes.size(), 100U);
    for (const Include& include : includes) {
        const std::string to = include.target.substr(0, include.target.find('/'));
        const auto where = std::filesystem::relative(include.file, app);
        const bool ofWindow = where == "main.cpp" || where == "main_window.cpp";
        const std::string own = where.parent_path().string() + "/";
        const bool otherScreen = to == "screens" && include.target != "screens/window_screen.h" &&
                                 include.target.substr(0, own.size()) != own;
        const bool upwards = (include.folder == "models" && (to == "widgets" || to == "screens")) ||
                             (include.folder == "widgets" && to == "screens") ||
                             (include.folder == "screens" && otherScreen) ||
                             (!ofWindow && include.target == "main_window.h");
        EXPECT_FALSE(upwards) << where << " includes " << include.target;
    }
}

TEST(Layout, HeavyHeadersStayOutOfOurHeaders)
{
    for (const char* folder : {"core", "app", "cli", "practice"}) {
        for (const Include& include : includesUnder(std::string(ILVEK_SOURCE_DIR) + "/" + folder)) {
            if (!include.file.ends_with(".h")) continue;
            for (const char* heavy : {"nlohmann/json.hpp", "CLI/CLI.hpp", "spdlog/spdlog.h", "SQLiteCpp/SQLiteCpp.h"})
                EXPECT_NE(include.target, heavy) << include.file;
        }
    }
}

}  // namespace
