// The procedures of a job on the command line: which there are, how far one is, and what is told for its stages.
#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "base/file.h"
#include "commands.h"
#include "open_job/chart_text.h"
#include "open_job/procedure_step.h"
#include "open_job/setup_line.h"
#include "open_job/taking.h"
#include "opened_job.h"
#include "procedures/in_words.h"

namespace ilvek::cli {

namespace {

using nlohmann::json;

json factJson(const Fact& fact)
{
    json of = json::object();
    for (const auto& [name, value] : fact.of)
        of[name] = value;
    return {{"fact", fact.id}, {"of", of}, {"words", sentence(fact)}};
}

json procedureJson(const Map& map, const Procedure& p)
{
    json out{{"procedure", p.id}, {"subject", p.subject}, {"title", procedureTitle(map, p)}, {"begun", p.isBegun()}};
    if (p.calledBy) out["called_by"] = factJson(*p.calledBy);
    for (const Fact& caution : p.cautions)
        out["cautions"].push_back(sentence(caution));
    out["stages"] = json::array();
    for (const Stage& s : p.stages) {
        json stage{{"id", s.id}, {"title", sentence(s.title)}, {"state", stageWord(s.state)}, {"entries", s.entries}};
        for (const Fact& fact : s.says)
            stage["says"].push_back(factJson(fact));
        if (const auto step = s.asked ? stepOf(map, *s.asked) : std::nullopt) stage["at"] = setUpLine(map, *step);
        if (s.asked && !s.asked->statement.empty()) stage["statement"] = s.asked->statement;
        out["stages"].push_back(std::move(stage));
    }
    if (p.ending) {
        out["ending"] = factJson(p.ending->fact);
        out["ending"]["grade"] = gradeWords(p.ending->grade);
        out["ending"]["places"] = p.ending->places;
    }
    return out;
}

void printAsked(const OpenJob& open, std::int64_t now_ms, const Asked& asked)
{
    const Map& map = open.job.map;
    switch (asked.kind) {
        case Asked::Kind::Reading:
            if (const auto step = stepOf(map, asked)) {
                const auto first = batteryFirst(map, open.assessment, {now_ms, open.job.state}, *step);
                if (first) fmt::print("      first the battery of the minute: {}\n", setUpLine(map, *first));
                fmt::print("      read at: {}\n", setUpLine(map, *step));
            }
            break;
        case Asked::Kind::Statement:
            fmt::print("      tell: {}\n", asked.statement);
            break;
        case Asked::Kind::Functions:
            fmt::print("      try the functions at: {}\n", setUpLine(map, asked.step));
            break;
        case Asked::Kind::States:
            fmt::print("      states: {}\n", fmt::join(asked.states, ", then "));
            break;
    }
}

void printProcedure(const OpenJob& open, std::int64_t now_ms, const Procedure& p)
{
    const Map& map = open.job.map;
    fmt::print("{}\n  {}\n", procedureTitle(map, p), procedurePurpose(p));
    for (const Fact& caution : p.cautions)
        fmt::print("  Caution: {}\n", sentence(caution));
    for (const Stage& s : p.stages) {
        fmt::print("  {:<10} {}\n", stageWord(s.state), sentence(s.title));
        for (const Fact& fact : s.says)
            fmt::print("             {}\n", sentence(fact));
        if (s.state == Stage::State::Next && s.asked) printAsked(open, now_ms, *s.asked);
    }
    if (p.ending) fmt::print("  End, {}: {}\n", gradeWords(p.ending->grade), sentence(p.ending->fact));
}

}  // namespace

int jobProcedures(const std::string& file, const std::string& id, const std::string& subject, bool asJson)
{
    const auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    const Map& map = opened->open.job.map;
    std::vector<Procedure> shown;
    if (id.empty()) {
        shown = proceduresOf(opened->open, opened->now_ms);
    } else if (auto one = procedureOf(opened->open, id, subject, opened->now_ms)) {
        shown.push_back(std::move(*one));
    } else {
        return print({{id + (subject.empty() ? "" : " " + subject), "there is no such procedure on this machine"}}),
               BadInput;
    }
    if (asJson) {
        json out = json::array();
        for (const Procedure& p : shown)
            out.push_back(procedureJson(map, p));
        return fmt::print("{}\n", out.dump(1, ' ', false, json::error_handler_t::replace)), Ok;
    }
    if (!id.empty()) return printProcedure(opened->open, opened->now_ms, shown.front()), Ok;
    for (const Procedure& p : shown) {
        const std::string state = p.ending      ? sentence(p.ending->fact)
                                  : p.isBegun() ? "begun"
                                  : p.calledBy  ? sentence(*p.calledBy)
                                                : "";
        fmt::print("{:<14}{:<16} {}{}{}\n", p.id, p.subject, procedureTitle(map, p), state.empty() ? "" : ": ", state);
    }
    return Ok;
}

int jobTell(const std::string& file, const std::string& statement, const std::string& found)
{
    return appendTo(file, [&](const OpenJob&) -> Entries {
        return std::vector<EventBody>{CheckMade{statement, found}};
    });
}

int jobChart(const std::string& file, const std::string& chart)
{
    return appendTo(file, [&](const OpenJob& open) -> Entries {
        if (chart == "-") return std::vector<EventBody>{ChartEntered{}};
        const auto text = readFile(chart);
        if (!text) return tl::unexpected(text.error());
        auto steps = parseChart(open.job.map, *text, open.job.state);
        if (!steps) return tl::unexpected(steps.error());
        return std::vector<EventBody>{ChartEntered{chart.substr(chart.find_last_of('/') + 1), std::move(*steps)}};
    });
}

int jobTried(const std::string& file, const std::string& setUp, const std::vector<std::string>& works,
             const std::vector<std::string>& fails)
{
    return appendTo(file, [&](const OpenJob& open) -> Entries {
        const auto placed = parseSetUp(open.job.map, setUp, open.job.state);
        if (!placed) return tl::unexpected(placed.error());
        auto seen = functionsTried(open, *placed, works, fails);
        if (!seen) return tl::unexpected(seen.error());
        return std::vector<EventBody>{std::move(*seen)};
    });
}

}  // namespace ilvek::cli
