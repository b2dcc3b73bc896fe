#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include <chrono>
#include <filesystem>

#include "base/file.h"
#include "commands.h"
#include "job/machine_file.h"
#include "job/salvage.h"
#include "machine/map_reader.h"
#include "open_job/setup_line.h"
#include "open_job/taking.h"
#include "opened_job.h"
#include "proving/traps.h"

namespace ilvek::cli {

namespace {

std::string checkJson(const JobContent& content, const std::string& damage, bool mapReads)
{
    using nlohmann::json;
    json aside = json::array();
    for (const SetAside& entry : content.setAside)
        aside.push_back({{"entry", entry.id}, {"kind", entry.kind}, {"reason", entry.reason}});
    return json{{"entries", content.events.size()}, {"set_aside", aside}, {"damage", damage}, {"map_reads", mapReads}}
               .dump(1, ' ', false, json::error_handler_t::replace) +
           "\n";
}

}  // namespace

namespace {

void printJudgement(const OpenJob& open, std::size_t i)
{
    const Reading& r = open.assessment.evidence.readings[i];
    const Judgement& j = open.assessment.judgements[i];
    fmt::print("{:>4}  {:<6} {:<22} {:>9}  {}{}\n      {}\n", r.id, r.terminal, testName(r.test), figureOf(r), j.word,
               open.assessment.stale[i] ? " (stale)" : "", j.arithmetic);
    for (const Trap& trap : j.traps)
        fmt::print("      {}: {}\n", trapName(trap.id), trap.line);
    const auto list = [](const char* label, const std::vector<std::string>& lines) {
        for (const std::string& line : lines)
            fmt::print("      {}: {}\n", label, line);
    };
    list("Proves", j.proves);
    list("Does not prove", j.doesNotProve);
}

}  // namespace

int jobJudge(const std::string& file, bool json)
{
    const auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    if (json) return fmt::print("{}", judgementsJson(opened->input())), Ok;
    for (std::size_t i = 0; i < opened->open.assessment.judgements.size(); ++i)
        printJudgement(opened->open, i);
    return Ok;
}

int jobAddReading(const std::string& file, const std::string& figure, const std::string& line)
{
    auto journal = Journal::open(file);
    if (!journal) return print({journal.error()}), BadInput;
    auto open = OpenJob::of(journal->content());
    if (!open) return print(open.error()), BadInput;
    const auto setUp = parseSetUp(open->job.map, line, open->job.state);
    if (!setUp) return print({setUp.error()}), BadInput;
    const std::int64_t now_ms = clock_ms();
    auto reading = readingAnywhere(*open, *setUp, figure, now_ms);
    if (!reading) return print({reading.error()}), BadInput;
    const auto taken = journal->append(entriesOf(*open, std::move(*reading)), now_ms);
    if (!taken) return print({taken.error()}), CannotWrite;
    const auto after = OpenJob::of(journal->content(), &*open);
    if (!after) return print(after.error()), BadInput;
    printJudgement(*after, after->assessment.judgements.size() - 1);
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

int jobReport(const std::string& file, const std::string& out, const std::string& format, const std::string& reader)
{
    auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    // The suspects' veto belongs to the gate wherever it is shown.
    if (format != "csv" && reader != "schedule") weighGate(*opened);
    if (const auto allowed = checkOutput(out, {file}); !allowed) return print({allowed.error()}), CannotWrite;
    const ReportInput input = opened->input();
    const auto written = writeFile(out, format == "csv"        ? readingsCsv(input)
                                        : reader == "customer" ? customerHtml(input)
                                        : reader == "schedule" ? scheduleHtml(input.job.map, input.assessment)
                                                               : reportHtml(input));
    if (!written) return print({written.error()}), CannotWrite;
    return Ok;
}

int jobKeepMachine(const std::string& file, const std::string& out)
{
    const auto journal = Journal::open(file, Access::ReadOnly);
    if (!journal) return print(Problems{journal.error()}), BadInput;
    // What was found by earlier jobs stays theirs.
    const auto before = std::filesystem::exists(out) ? readMachineFile(out) : Result<Machine, Problems>(Machine{});
    if (!before) return print(before.error()), BadInput;
    if (!before->document.empty() && !isSameDrawing(before->document, journal->mapDocument()))
        return print(Problems{{out, "holds another machine, or another drawing of it; choose another name"}}), BadInput;
    const Machine machine = machineOf(*journal, &*before);
    auto written = checkOutput(out, {file});
    if (written) written = writeFile(out, writeMachine(machine));
    if (!written) return print(Problems{written.error()}), CannotWrite;
    fmt::print("{}: as drawn, and {} as found\n", machineTitle(machine.document), machine.found.size());
    return Ok;
}

int jobOnMachine(const std::string& file, const std::string& out)
{
    const auto machine = readMachineFile(file);
    if (!machine) return print(machine.error()), BadInput;
    const auto now = std::chrono::system_clock::now().time_since_epoch();
    const auto journal = newJobOn(*machine, out, std::chrono::duration_cast<std::chrono::milliseconds>(now).count());
    if (!journal) return print(Problems{journal.error()}), CannotWrite;
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
    std::error_code code;
    if (std::filesystem::exists(out, code)) return print({{out, "a file of this name exists already"}}), BadInput;
    const auto content = readHandOverFile(handOver);
    if (!content) return print(content.error()), BadInput;
    const auto journal = Journal::create(out, *content);
    if (!journal) return print({journal.error()}), CannotWrite;
    fmt::print("{} entries taken over.\n", journal->events().size());
    return Ok;
}

int jobCheck(const std::string& file, bool json)
{
    const auto journal = Journal::open(file, Access::ReadOnly);
    if (!journal) return print({journal.error()}), BadInput;
    const JobContent& content = journal->content();
    const bool damaged = !journal->damage().empty();
    const auto map = readMap(content.mapDocument, "the map of the job");
    if (json) {
        fmt::print("{}", checkJson(content, journal->damage(), map.has_value()));
    } else {
        fmt::print("{}: {} entries can be read.\n", file, content.events.size());
        if (damaged) fmt::print("The file itself: {}.\n", journal->damage());
        for (const SetAside& entry : content.setAside)
            fmt::print("{}\n", setAsideWords(entry));
        if (!map) print(map.error());
        if (damaged) fmt::print("“ilvek-cli job rescue” writes what can be read as a new job.\n");
    }
    return damaged || !content.setAside.empty() || !map ? BadInput : Ok;
}

int jobRescue(const std::string& file, const std::string& out, const std::string& mapFile)
{
    if (const auto allowed = checkOutput(out, {file}); !allowed) return print({allowed.error()}), CannotWrite;
    JobContent content = salvageFile(file).content;
    if (auto journal = Journal::open(file, Access::ReadOnly)) content = journal->content();
    if (!mapFile.empty()) {
        const auto opened = openEither(mapFile);
        const auto map = opened ? Result<Map, Problems>(opened->open.job.map) : readMapFile(mapFile);
        if (!map) return print(map.error()), BadInput;
        content.mapDocument = map->document;
    }
    if (content.events.empty() && content.setAside.empty())
        return print({{file, "no entry of a job can be found in it"}}), BadInput;
    if (content.mapDocument.empty())
        return print({{file, fmt::format("{} entries were found, but no map; name another copy of it with --map",
                                         content.events.size())}}),
               BadInput;
    const std::size_t entries = content.events.size(), aside = content.setAside.size();
    const auto made = Journal::create(out, std::move(content));
    if (!made) return print({made.error()}), CannotWrite;
    fmt::print("{}: {} entries taken over", out, entries);
    if (aside > 0) fmt::print(", {} that cannot be read kept beside them", aside);
    fmt::print(".\n{} was left as it is.\n", file);
    return Ok;
}

}  // namespace ilvek::cli
