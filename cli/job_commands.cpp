#include <fmt/format.h>

#include <chrono>

#include "base/file.h"
#include "commands.h"
#include "job/hand_over.h"
#include "job/job.h"
#include "reasoning/gate.h"
#include "report/report.h"

namespace ilvek::cli {

namespace {

struct Opened {
    Job job;
    Assessment assessment;
    Gate gate;
    std::int64_t now_ms = 0;
    ReportInput input() const { return {job, assessment, gate, now_ms}; }
};

void print(const Problems& problems)
{
    for (const Error& problem : problems)
        fmt::print(stderr, "{}\n", problem.message());
}

// A job file, or a hand-over file by its first byte.
Result<HandOver, Problems> readEither(const std::string& file)
{
    const auto text = readFile(file);
    if (!text) return tl::unexpected(Problems{text.error()});
    if (text->find_first_not_of(" \t\r\n\xEF\xBB\xBF") != std::string::npos &&
        (*text)[text->find_first_not_of(" \t\r\n\xEF\xBB\xBF")] == '{')
        return readHandOver(*text, file);
    const auto journal = Journal::open(file, Access::ReadOnly);
    if (!journal) return tl::unexpected(Problems{journal.error()});
    return HandOver{journal->mapDocument(), journal->events()};
}

Result<Opened, Problems> openEither(const std::string& file)
{
    auto content = readEither(file);
    if (!content) return tl::unexpected(content.error());
    auto job = foldJob(content->mapDocument, content->events);
    if (!job) return tl::unexpected(job.error());
    Opened opened;
    opened.job = std::move(*job);
    opened.assessment = assess(opened.job.map, opened.job.evidence);
    opened.now_ms =
        std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::system_clock::now().time_since_epoch())
            .count();
    opened.gate = gateOf(opened.job.map, opened.assessment, {opened.now_ms, opened.job.state});
    return opened;
}

}  // namespace

int jobJudge(const std::string& file, bool json)
{
    const auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    if (json) return fmt::print("{}", judgementsJson(opened->input())), Ok;
    const auto& readings = opened->assessment.evidence.readings;
    for (std::size_t i = 0; i < readings.size(); ++i) {
        const Judgement& j = opened->assessment.judgements[i];
        fmt::print("{:>4}  {:<6} {:<22} {:>9}  {}{}\n      {}\n", readings[i].id, readings[i].terminal,
                   testName(readings[i].test), formatQuantity(readings[i].value), j.word,
                   opened->assessment.stale[i] ? " (stale)" : "", j.arithmetic);
        for (const Trap& trap : j.traps)
            fmt::print("      {}: {}\n", trap.id, trap.line);
    }
    return Ok;
}

int jobGate(const std::string& file, bool json)
{
    const auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    const Gate& gate = opened->gate;
    if (json) {
        fmt::print("{}", gateJson(opened->input()));
    } else {
        fmt::print("{}\n", gate.sentence);
        if (!gate.located.empty()) fmt::print("Located so far: {}\n", gate.located);
        for (const GateLine& line : gate.lines) {
            const char* state = line.state == LineState::Earned   ? "earned "
                                : line.state == LineState::Failed ? "FAILED "
                                                                  : "missing";
            fmt::print(
                "  {}  {:<24} {}\n", state, line.title,
                line.total > 0 ? fmt::format("{} of {}  {}", line.earned, line.total, line.detail) : line.detail);
        }
        if (gate.next) fmt::print("Next: {}\n", gate.next->title);
        if (!gate.cheapest.empty()) fmt::print("Cheapest open: {}\n", gate.cheapest);
    }
    return gate.outcome == Outcome::MayBeCondemned ? Ok : Negative;
}

int jobReport(const std::string& file, const std::string& out, const std::string& format)
{
    const auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    const auto written = writeFile(out, format == "csv" ? readingsCsv(opened->input()) : reportHtml(opened->input()));
    if (!written) return print({written.error()}), CannotWrite;
    return Ok;
}

int jobExport(const std::string& file, const std::string& out)
{
    const auto journal = Journal::open(file, Access::ReadOnly);
    if (!journal) return print({journal.error()}), BadInput;
    if (const auto written = exportJob(*journal, out); !written) return print({written.error()}), CannotWrite;
    return Ok;
}

int jobImport(const std::string& handOver, const std::string& out)
{
    const auto journal = importJob(handOver, out);
    if (!journal) return print(journal.error()), BadInput;
    fmt::print("{} entries taken over.\n", journal->events().size());
    return Ok;
}

}  // namespace ilvek::cli
