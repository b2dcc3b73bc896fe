#include "machine/wire_words.h"

#include <fmt/format.h>

#include <algorithm>

namespace ilvek {

std::string partedEndOf(const Map& map, int node)
{
    const std::string& name = map.node(node);
    const auto dot = name.rfind(".end");
    if (dot == std::string::npos || map.terminalIndex(name.substr(0, dot)) < 0) return "";
    const auto wires = std::count_if(map.elements.begin(), map.elements.end(), [&](const Element& e) {
        return e.kind == ElementKind::Wire && (e.nodes[0] == node || e.nodes[1] == node);
    });
    return wires > 1 ? name.substr(0, dot) : "";
}

std::string cavityWords(const std::string& id)
{
    const auto at = id.find("-?");
    return at == std::string::npos ? id : fmt::format("{} (wire of {})", id.substr(0, at), id.substr(at + 2));
}

}  // namespace ilvek
