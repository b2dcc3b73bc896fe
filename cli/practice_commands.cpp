#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "base/text.h"
#include "commands.h"
#include "machine/map_reader.h"
#include "practice/bench.h"
#include "practice/practice_case.h"

namespace ilvek::cli {

namespace {

using nlohmann::json;
using namespace practice;

struct OpenedCase {
    Map map;
    PracticeCase practice;
};

int refuse(const Problems& problems)
{
    for (const Error& problem : problems)
        fmt::print(stderr, "{}\n", problem.message());
    return BadInput;
}

Result<OpenedCase, Problems> openCase(const std::string& mapFile, const std::string& caseFile)
{
    auto map = readMapFile(mapFile);
    if (!map) return tl::unexpected(map.error());
    auto practice = readCase(*map, caseFile);
    if (!practice) return tl::unexpected(practice.error());
    return OpenedCase{std::move(*map), std::move(*practice)};
}

std::string verdictWords(const Run& run)
{
    switch (run.last.conclusion.kind) {
        case Conclusion::Kind::Outside:
            return "outside the module: " + run.last.conclusion.words;
        case Conclusion::Kind::Inside:
            return "inside the module: " + run.last.conclusion.words;
        case Conclusion::Kind::Either:
            return "module or what is plugged to it: " + run.last.conclusion.words;
        case Conclusion::Kind::MapWrong:
            return run.last.conclusion.words;
        case Conclusion::Kind::NotOnMap:
            return "nothing that is on the map is at fault";
        case Conclusion::Kind::Nothing:
            return "no fault is present now";
        case Conclusion::Kind::Open:
            break;
    }
    std::vector<std::string> left;
    for (std::size_t g = 0; g < run.last.groups.size() && g < 3; ++g)
        left.push_back(fmt::format("{} ({:.0f} %)", run.last.groups[g].words, 100 * run.last.groups[g].probability));
    return "no verdict; left are " + listed(left);
}

}  // namespace

int practiceList(const std::string& mapFile, const std::string& folder, bool asJson)
{
    const auto map = readMapFile(mapFile);
    if (!map) return refuse(map.error());
    const auto cases = readCases(*map, folder);
    if (!cases) return refuse(cases.error());
    json out = json::array();
    for (const PracticeCase& c : *cases) {
        if (asJson)
            out.push_back({{"id", c.id}, {"title", c.title}, {"complaint", c.complaint}});
        else
            fmt::print("{:<30} {}\n{:<30} {}\n", c.id, c.title, "", c.complaint);
    }
    if (asJson) fmt::print("{}\n", out.dump(1));
    return Ok;
}

int practiceProbe(const Prediction& wanted, const std::string& caseFile, double seconds)
{
    const auto opened = openCase(wanted.map, caseFile);
    if (!opened) return refuse(opened.error());
    const Map& map = opened->map;
    Step step;
    step.test = TestKind::Point;
    step.title = wanted.red;
    step.red = wanted.red;
    step.black = wanted.black.empty() ? map.node(map.batteryMinus()) : wanted.black;
    step.state = wanted.state.empty() ? map.state(0).id : wanted.state;
    step.unplugged = wanted.unplugged;
    for (const std::string& id : step.unplugged) {
        if (map.connectorIndex(id) < 0) return refuse({{id, "there is no such connector on this map"}});
    }
    step.load = wanted.load;
    step.loadFrom = wanted.loadFrom.empty() ? step.red : wanted.loadFrom;
    step.loadTo = wanted.loadTo.empty() ? step.black : wanted.loadTo;
    SimulatedMachine machine(map, opened->practice.faults, opened->practice.timing);
    const auto value = machine.read(step, seconds);
    if (!value) return refuse({value.error()});
    if (wanted.json)
        fmt::print("{}\n", json{{"value", value->value}, {"unit", "V"}, {"over_limit", value->overLimit}}.dump());
    else
        fmt::print("{}\n", formatQuantity(*value));
    return Ok;
}

int practiceLook(const std::string& mapFile, const std::string& caseFile, const std::string& terminal)
{
    const auto opened = openCase(mapFile, caseFile);
    if (!opened) return refuse(opened.error());
    const int at = opened->map.terminalIndex(terminal);
    if (at < 0) return refuse({{terminal, "there is no such terminal on this map"}});
    SimulatedMachine machine(opened->map, opened->practice.faults, opened->practice.timing);
    fmt::print("{}\n", foundWords(machine.look(learnersMap(opened->map, opened->practice), at)));
    return Ok;
}

int practiceSolve(const std::string& mapFile, const std::string& caseFile, bool asJson)
{
    const auto opened = openCase(mapFile, caseFile);
    if (!opened) return refuse(opened.error());
    const Map learners = learnersMap(opened->map, opened->practice);
    Reasoner reasoner(learners, {}, true);
    while (reasoner.buildNext()) {
    }
    SimulatedMachine machine(opened->map, opened->practice.faults, opened->practice.timing);
    const Run run = follow(reasoner, machine, {opened->practice.reports}, {}, 60);
    bool right = false;
    // Where the module's own terminal cannot be told from what plugs into it, both stand as one verdict.
    const bool inside = run.last.conclusion.kind == Conclusion::Kind::Inside ||
                        (opened->practice.moduleBad && run.last.conclusion.kind == Conclusion::Kind::Either);
    for (const std::string& place : placesOf(reasoner, run))
        right = right || isRight(opened->practice, place, inside);
    right = right || (inside && opened->practice.moduleBad);
    if (asJson) {
        json readings = json::array();
        for (const Reading& r : run.open.job.evidence.readings)
            readings.push_back({{"red", r.red},
                                {"black", r.black},
                                {"state", r.state},
                                {"unplugged", r.unplugged},
                                {"load", r.load},
                                {"value", figureOf(r)}});
        fmt::print("{}\n", json{{"case", opened->practice.id},
                                {"verdict", verdictWords(run)},
                                {"right", right},
                                {"tests", run.tests},
                                {"minutes", run.minutes},
                                {"readings", readings}}
                               .dump(1));
    } else {
        for (const Reading& r : run.open.job.evidence.readings)
            fmt::print("  {:<18} {:<26} {:<26} {}\n", r.state, r.red, r.black, figureOf(r));
        fmt::print("{} ({:.0f} %), {} tests, {:.0f} minutes: {}\n", verdictWords(run),
                   100 * run.last.conclusion.probability, run.tests, run.minutes, right ? "right" : "wrong");
    }
    return right ? Ok : Negative;
}

int practiceVerdict(const std::string& mapFile, const std::string& caseFile, const std::string& place)
{
    const auto opened = openCase(mapFile, caseFile);
    if (!opened) return refuse(opened.error());
    const bool right = isRight(opened->practice, place, place == opened->map.module);
    fmt::print("{}. {}\n", right ? "Right" : "Wrong", opened->practice.proof);
    return right ? Ok : Negative;
}

}  // namespace ilvek::cli
