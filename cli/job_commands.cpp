#include <fmt/format.h>

#include "base/file.h"
#include "commands.h"
#include "opened_job.h"

namespace ilvek::cli {

int jobJudge(const std::string& file, bool json)
{
    const auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    if (json) return fmt::print("{}", judgementsJson(opened->input())), Ok;
    const auto& readings = opened->assessment.evidence.readings;
    for (std::size_t i = 0; i < readings.size(); ++i) {
        const Judgement& j = opened->assessment.judgements[i];
        fmt::print("{:>4}  {:<6} {:<22} {:>9}  {}{}\n      {}\n", readings[i].id, readings[i].terminal,
                   testName(readings[i].test), figureOf(readings[i]), j.word,
                   opened->assessment.stale[i] ? " (stale)" : "", j.arithmetic);
        for (const Trap& trap : j.traps)
            fmt::print("      {}: {}\n", trap.id, trap.line);
    }
    return Ok;
}

int jobGate(const std::string& file, bool json)
{
    auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    weighGate(*opened);
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
