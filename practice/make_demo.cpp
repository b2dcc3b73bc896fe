// Writes the demonstration job and the table of answers: ilvek-make-demo MAP JOB.json ANSWERS.md
#include <cstdio>

#include "base/file.h"
#include "job/hand_over.h"
#include "machine/map_reader.h"
#include "practice/demo_job.h"

int main(int count, char** arguments)
{
    using namespace ilvek;
    if (count != 4) {
        std::fprintf(stderr, "usage: ilvek-make-demo MAP JOB.json ANSWERS.md\n");
        return 2;
    }
    const auto map = readMapFile(arguments[1]);
    if (!map) {
        for (const Error& problem : map.error())
            std::fprintf(stderr, "%s\n", problem.message().c_str());
        return 1;
    }
    const auto events = practice::demoEvents(*map);
    const auto answers = practice::demoAnswers(*map);
    if (!events || !answers) {
        std::fprintf(stderr, "%s\n", (events ? answers.error() : events.error()).message().c_str());
        return 1;
    }
    const std::string page =
        "# What the demonstration machine answers\n\nThe hidden fault is about 4 Ω at X4-7. Key on; figures from the "
        "map's own "
        "arithmetic.\n\n| Step | Figure |\n|---|---|\n" +
        *answers;
    const auto job = writeFile(arguments[2], writeHandOver({map->document, *events}));
    const auto text = writeFile(arguments[3], page);
    return job && text ? 0 : 1;
}
