#include "practice/story.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <filesystem>

#include "base/file.h"
#include "support/maps.h"

namespace ilvek::practice {
namespace {

class Stories : public testing::TestWithParam<std::string> {};

std::vector<std::string> storyFiles()
{
    std::vector<std::string> files;
    for (const auto& entry : std::filesystem::directory_iterator(std::string(ILVEK_SOURCE_DIR) + "/data/stories")) {
        if (entry.path().extension() == ".json") files.push_back(entry.path().stem().string());
    }
    std::sort(files.begin(), files.end());
    return files;
}

TEST_P(Stories, EndsAsTold)
{
    const auto story = readStory(std::string(ILVEK_SOURCE_DIR) + "/data/stories/" + GetParam() + ".json");
    ASSERT_TRUE(story) << story.error().front().message();
    const StoryRun played = run(*story);
    for (const Error& failure : played.failures)
        ADD_FAILURE() << failure.message();
    EXPECT_EQ(played.entries, static_cast<int>(story->steps.size()));
    EXPECT_GT(played.facts, 0);
}

INSTANTIATE_TEST_SUITE_P(All, Stories, testing::ValuesIn(storyFiles()), [](const auto& story) {
    std::string name = story.param;
    std::replace(name.begin(), name.end(), '-', '_');
    return name;
});

TEST(StoryFile, EveryStoryHasItsSoundTwin)
{
    const auto files = storyFiles();
    EXPECT_GE(files.size(), 10U);
    for (const std::string& file : files) {
        if (file.ends_with("-sound")) continue;
        EXPECT_THAT(files, testing::Contains(file + "-sound"));
    }
}

TEST(StoryFile, WhatIsNotAsToldIsNamedWithItsEntry)
{
    const std::string folder = std::string(ILVEK_SOURCE_DIR) + "/data/stories/";
    std::string text = *readFile(folder + "crane-slew.json");
    const auto at = text.find("\"verdict\": \"low\"");
    ASSERT_NE(at, std::string::npos);
    text.replace(at, std::string("\"verdict\": \"low\"").size(), "\"verdict\": \"good\"");
    const test::TemporaryFolder scratch;
    ASSERT_TRUE(writeFile(scratch / "told-wrong.json", text));
    std::filesystem::copy(folder + "crane-slew.csv", (scratch / "crane-slew.csv"));
    const auto story = readStory(scratch / "told-wrong.json");
    ASSERT_TRUE(story) << story.error().front().message();
    const StoryRun played = run(*story);
    ASSERT_EQ(played.failures.size(), 1U);
    EXPECT_THAT(played.failures[0].item, testing::HasSubstr("entry 3"));
    EXPECT_THAT(played.failures[0].reason, testing::HasSubstr("not “good”"));
}

TEST(StoryFile, AStoryThatCannotBeReadIsRefusedWithThePlace)
{
    const test::TemporaryFolder scratch;
    ASSERT_TRUE(writeFile(scratch / "s.json",
                          R"({"format": "ilvek-story", "version": 1, "title": "t", "machine": "m", "module": "M",
                              "system_voltage": "12 V", "sheet": "none.csv", "entries": [{"reed": "12 V"}]})"));
    const auto story = readStory(scratch / "s.json");
    ASSERT_FALSE(story);
    std::string all;
    for (const Error& problem : story.error())
        all += problem.message() + "\n";
    EXPECT_THAT(all, testing::HasSubstr("none.csv"));
    EXPECT_THAT(all, testing::HasSubstr("entry 1"));
    EXPECT_THAT(all, testing::HasSubstr("reed"));
}

}  // namespace
}  // namespace ilvek::practice
