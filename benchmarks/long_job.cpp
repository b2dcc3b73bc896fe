// How the work grows with the readings of a job: opening it, a reading, the suspects, the report, memory. Prints a
// table. ilvek-long-job [MAP] [readings …]
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cstdlib>
#include <filesystem>
#include <fstream>

#include "job/job.h"
#include "job/journal.h"
#include "machine/map_reader.h"
#include "papers/common_cause.h"
#include "practice/long_job.h"
#include "report/report.h"
#include "verdict/gate.h"
#include "verdict/reasoner.h"

namespace {

using namespace ilvek;
using Clock = std::chrono::steady_clock;

double since_ms(Clock::time_point begin)
{
    return std::chrono::duration<double, std::milli>(Clock::now() - begin).count();
}

long peakMegabytes()
{
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);) {
        if (line.starts_with("VmHWM:")) return std::stol(line.substr(6)) / 1024;
    }
    return 0;
}

double median(std::vector<double> x)
{
    std::sort(x.begin(), x.end());
    return x[x.size() / 2];
}

void measure(const Map& map, int readings)
{
    const auto folder = std::filesystem::temp_directory_path() / "ilvek-long-job";
    std::filesystem::create_directories(folder);
    const auto path = folder / "a.ilvek";
    std::filesystem::remove(path);
    JobContent content = practice::longJob(map, readings);
    const Event again = content.events.back();
    (void)Journal::create(path, std::move(content));
    auto begin = Clock::now();
    auto journal = Journal::open(path);
    if (!journal) return;
    const double opened = since_ms(begin);
    auto job = foldJob(journal->content());
    Assessment assessment = assess(job->map, job->evidence);
    const Moment moment{again.time_ms, job->state};
    Gate gate = gateOf(job->map, assessment, moment);
    const double whole = since_ms(begin);
    std::vector<double> each;
    for (int n = 0; n < 15; ++n) {
        begin = Clock::now();
        (void)journal->append(again.body, again.time_ms + n);
        const double appended = since_ms(begin);
        auto next = foldJob(journal->content(), &*job);
        const double folded = since_ms(begin);
        assessment = assess(next->map, next->evidence, &assessment);
        job = std::move(next);
        const double assessed = since_ms(begin);
        gate = gateOf(job->map, assessment, moment);
        each.push_back(since_ms(begin));
        if (n == 14)
            fmt::print(stderr, "append {:.1f}, fold {:.1f}, assess {:.1f}, gate {:.1f} ms\n", appended,
                       folded - appended, assessed - folded, each.back() - assessed);
    }
    begin = Clock::now();
    const std::string html = reportHtml({job.value(), assessment, gate, moment.now_ms});
    const double report = since_ms(begin);
    Reasoner reasoner(job->map, job->evidence.working, false);
    while (reasoner.buildNext()) {
    }
    begin = Clock::now();
    reasoner.observe(assessment, {});
    const double observed = since_ms(begin);
    reasoner.refine();
    const double refined = since_ms(begin) - observed;
    (void)reasoner.reason({});
    const double all = since_ms(begin);
    (void)journal->append(again.body, again.time_ms + 99);
    job = foldJob(journal->content(), &*job);
    assessment = assess(job->map, job->evidence, &assessment);
    begin = Clock::now();
    reasoner.observe(assessment, {});
    (void)reasoner.reason({});
    const double further = since_ms(begin);
    reasoner.refine();
    (void)reasoner.reason({});
    const double weighed = since_ms(begin);
    fmt::print(
        "| {} | {:.0f} | {:.0f} | {:.1f} | {:.0f} | {:.0f} | {:.0f} | {:.0f} | {:.0f} | {:.0f} | {:.1f} | {} |\n",
        readings, opened, whole, median(each), observed, refined, all, further, weighed, report,
        static_cast<double>(html.size()) / 1e6, peakMegabytes());
    std::fflush(stdout);
}

}  // namespace

int main(int count, char** arguments)
{
    const auto map = readMapFile(count > 1 ? arguments[1] : ILVEK_SOURCE_DIR "/data/maps/pt-9.json");
    if (!map) return 2;
    fmt::print(
        "| readings | file, ms | opened, ms | a reading, ms | suspects of all: taken | refined | in all, ms | after "
        "one more, ms | weighed in full, ms | report, ms | MB | peak MB |\n"
        "|---|---|---|---|---|---|---|---|---|---|---|---|\n");
    std::vector<int> sizes;
    for (int i = 2; i < count; ++i)
        sizes.push_back(std::atoi(arguments[i]));
    for (const int n : sizes.empty() ? std::vector<int>{30, 300, 1000, 3000} : sizes)
        measure(*map, n);
    return 0;
}
