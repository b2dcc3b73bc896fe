#include "machine/map_check.h"

#include <fmt/format.h>

#include "machine/paths.h"

namespace ilvek {

namespace {

std::vector<int> endsPerNode(const Map& map)
{
    std::vector<int> ends(map.nodes.size(), 0);
    for (const Element& element : map.elements) {
        for (const int node : element.nodes)
            ++ends[static_cast<std::size_t>(node)];
    }
    return ends;
}

bool isCavityNode(const Map& map, int node)
{
    for (const Terminal& terminal : map.terminals) {
        if (terminal.a == node || terminal.b == node) return true;
    }
    return false;
}

void checkNodes(const Map& map, const std::string& file, Problems& problems)
{
    const std::vector<int> ends = endsPerNode(map);
    for (const Element& element : map.elements) {
        if (element.kind == ElementKind::Contact) continue;
        for (const int node : element.nodes) {
            if (ends[static_cast<std::size_t>(node)] > 1 || isCavityNode(map, node)) continue;
            problems.push_back({fmt::format("{}: element {}", file, element.id),
                                fmt::format("its node {} leads nowhere else (dangling node)", map.node(node))});
        }
        if (element.nodes.size() > 1 && element.nodes[0] == element.nodes[1])
            problems.push_back({fmt::format("{}: element {}", file, element.id), "both of its ends are the same node"});
    }
    for (const Splice& splice : map.splices) {
        if (ends[static_cast<std::size_t>(splice.node)] < 2)
            problems.push_back({fmt::format("{}: splice {}", file, splice.id), "fewer than two conductors meet in it"});
    }
}

void checkTerminal(const Map& map, const Terminal& terminal, const std::vector<int>& ends, const std::string& file,
                   Problems& problems)
{
    const std::string item = fmt::format("{}: cavity {}", file, terminal.id);
    const bool ofModule = map.connectors[static_cast<std::size_t>(terminal.connector)].ofModule;
    if (terminal.a < 0 || terminal.asFound == AsFound::Empty) return;
    if (ends[static_cast<std::size_t>(terminal.a)] < 2)
        problems.push_back({item, "no conductor reaches its wire side"});
    if (ends[static_cast<std::size_t>(terminal.b)] < 2)
        problems.push_back(
            {item, ofModule ? "nothing inside the module is connected to it" : "no conductor leaves its far side"});
    if (!ofModule || !terminal.role) return;
    const int index = map.terminalIndex(terminal.id);
    if (isSupply(*terminal.role)) {
        if (!supplyPath(map, index)) problems.push_back({item, "there is no path from battery plus to this supply"});
        if (terminal.neededIn.empty())
            problems.push_back({item, "it is not said in which state this supply is needed (needed_in)"});
        if (!terminal.current_A) problems.push_back({item, "the current the module draws here is missing (current)"});
    }
    if (*terminal.role == Role::Return && !returnPath(map, index))
        problems.push_back({item, "there is no path from this return to battery minus"});
}

}  // namespace

void checkMap(Map& map, const std::string& fileName, Problems& problems)
{
    checkNodes(map, fileName, problems);
    const std::vector<int> ends = endsPerNode(map);
    for (const Terminal& terminal : map.terminals)
        checkTerminal(map, terminal, ends, fileName, problems);
    if (map.states.empty()) problems.push_back({fileName, "no operating state is listed"});
    if (map.moduleTerminals().empty()) problems.push_back({fileName, "no connector belongs to the module"});
}

}  // namespace ilvek
