#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "base/file.h"
#include "bench_map/sheet_map.h"
#include "commands.h"
#include "machine/map_reader.h"
#include "machine/paths.h"
#include "machine/schedule_gaps.h"

namespace ilvek::cli {

namespace {

using nlohmann::json;

void print(const Problems& problems)
{
    for (const Error& problem : problems)
        fmt::print(stderr, "{}\n", problem.message());
}

json asJson(const Problems& problems)
{
    json out = json::array();
    for (const Error& problem : problems)
        out.push_back({{"item", problem.item}, {"reason", problem.reason}});
    return out;
}

json stepsJson(const Map& map, const Path& path)
{
    json out = json::array();
    for (const PathStep& step : path) {
        const Element& e = map.element(step.element);
        out.push_back({{"element", e.id},
                       {"kind", specOf(e.kind).name},
                       {"from", map.node(step.from)},
                       {"to", map.node(step.to)},
                       {"resistance_ohm", map.soundResistance_ohm(e)}});
    }
    return out;
}

void printPath(const Map& map, const Path& path)
{
    for (const PathStep& step : path) {
        const Element& e = map.element(step.element);
        const std::string name = e.name.empty() ? std::string(specOf(e.kind).name) : e.name;
        fmt::print("  {:<10} {:<26} {:>9}   to {}\n", e.id, name, formatQuantity(ohms(map.soundResistance_ohm(e))),
                   map.nodeWords(step.to));
    }
}

}  // namespace

int mapCheck(const std::string& file, bool asJsonText)
{
    const auto map = readMapFile(file);
    if (!map) {
        if (asJsonText)
            fmt::print("{}\n", json{{"ok", false}, {"problems", asJson(map.error())}}.dump(1));
        else
            print(map.error());
        return BadInput;
    }
    const auto gaps = scheduleGaps(*map);
    if (asJsonText) {
        fmt::print("{}\n", json{{"ok", true},
                                {"machine", map->title()},
                                {"module", map->module},
                                {"elements", map->elements.size()},
                                {"nodes", map->nodes.size()},
                                {"terminals", map->moduleTerminals().size()},
                                {"schedule_gaps", gaps}}
                               .dump(1));
        return Ok;
    }
    fmt::print("{}: sound. {} elements, {} nodes, {} terminals at the {}.\n", map->title(), map->elements.size(),
               map->nodes.size(), map->moduleTerminals().size(), map->module);
    for (const std::string& gap : gaps)
        fmt::print("Schedule: {}\n", gap);
    return Ok;
}

int mapPath(const std::string& file, const std::string& terminalId, bool asJsonText)
{
    const auto map = readMapFile(file);
    if (!map) return print(map.error()), BadInput;
    const int terminal = map->terminalIndex(terminalId);
    if (terminal < 0) {
        fmt::print(stderr, "{}: there is no such cavity on this map\n", terminalId);
        return BadInput;
    }
    auto loop = loopOf(*map, terminal);
    if (!loop) {
        // Neither supply nor return: by way of what hangs on it.
        const auto circuit = shownCircuit(*map, terminal);
        if (!circuit) {
            fmt::print(stderr, "{}: the map shows no circuit for it\n", terminalId);
            return Negative;
        }
        const bool fed = circuit->back().to == map->terminal(terminal).a;
        const int back = map->terminal(terminal).ownReturn;
        loop = fed ? Loop{*circuit, {}, terminal, back} : Loop{{}, *circuit, terminal, back};
        if (!asJsonText) {
            fmt::print("{}\n", map->nodeWords(circuit->front().from));
            printPath(*map, *circuit);
            return Ok;
        }
    }
    if (asJsonText) {
        fmt::print("{}\n", json{{"terminal", terminalId},
                                {"feed", stepsJson(*map, loop->feed)},
                                {"return", stepsJson(*map, loop->back)},
                                {"own_return", loop->ownReturn >= 0 ? json(map->terminal(loop->ownReturn).id) : json()}}
                               .dump(1));
        return Ok;
    }
    fmt::print("battery plus\n");
    printPath(*map, loop->feed);
    fmt::print("{}\n", map->module);
    printPath(*map, loop->back);
    fmt::print("battery minus\n");
    return Ok;
}

int mapFromSheetFile(const std::string& sheetFile, const std::string& out, double systemVoltage_V,
                     const std::string& module)
{
    if (const auto allowed = checkOutput(out, {sheetFile}); !allowed) return print({allowed.error()}), CannotWrite;
    const auto text = readFile(sheetFile);
    if (!text) return print({text.error()}), BadInput;
    const auto sheet = readPinSheet(*text, sheetFile);
    if (!sheet) return print({sheet.error()}), BadInput;
    print(sheet->problems);
    print(sheet->remarks);
    if (!sheet->problems.empty()) return BadInput;
    NewMachine machine;
    machine.module = module;
    machine.systemVoltage_V = systemVoltage_V;
    const auto document = mapFromSheet(sheet->rows, machine);
    if (!document) return print(document.error()), BadInput;
    const auto map = readMap(*document, sheetFile);
    if (!map) return print(map.error()), BadInput;
    if (const auto written = writeFile(out, *document); !written) return print({written.error()}), CannotWrite;
    for (const std::string& gap : scheduleGaps(*map))
        fmt::print("Schedule: {}\n", gap);
    fmt::print("{} rows became a map of {} elements.\n", sheet->rows.size(), map->elements.size());
    return Ok;
}

int sheetTemplate()
{
    fmt::print("{}", pinSheetTemplate());
    return Ok;
}

}  // namespace ilvek::cli
