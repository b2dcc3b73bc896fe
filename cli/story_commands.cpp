#include <fmt/format.h>

#include <filesystem>

#include "commands.h"
#include "job/journal.h"
#include "opened_job.h"
#include "practice/story.h"

namespace ilvek::cli {

int storyRun(const std::vector<std::string>& files, bool verbose, const std::string& keepIn)
{
    bool asTold = true;
    for (const std::string& file : files) {
        const auto story = practice::readStory(file);
        if (!story) {
            for (const Error& problem : story.error())
                fmt::print(stderr, "{}\n", problem.message());
            return BadInput;
        }
        const practice::StoryRun run = practice::run(*story);
        fmt::print("{}: {}, {} entries, {} facts asked\n", run.failures.empty() ? "as told " : "NOT SO  ", story->title,
                   run.entries, run.facts);
        for (const std::string& line : verbose ? run.lines : std::vector<std::string>{})
            fmt::print("    {}\n", line);
        for (const Error& failure : run.failures)
            fmt::print("  {}\n", failure.message());
        if (!keepIn.empty()) {
            const auto to = std::filesystem::path(keepIn) / std::filesystem::path(file).stem().concat(".ilvek");
            const auto kept = Journal::create(to, run.content);
            if (!kept) return print({kept.error()}), CannotWrite;
        }
        asTold = asTold && run.failures.empty();
    }
    return asTold ? Ok : Negative;
}

}  // namespace ilvek::cli
