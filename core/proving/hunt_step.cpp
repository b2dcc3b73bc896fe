// Steps that hunt a fault down by parting the circuit: the lamp in place of a fuse (W22) and the isolated wire (W25).
#include <fmt/format.h>

#include "base/text.h"
#include "proving/step.h"
#include "wording/words.h"

namespace ilvek {

namespace {

std::string partName(const Map& map, int element)
{
    const Element& e = map.element(element);
    return e.name.empty() ? e.id : e.name;
}

}  // namespace

Step lampForFuseStep(const Map& map, int fuse, const SubstituteLoad& lamp, int state, const std::vector<int>& unplugged,
                     const std::vector<int>& parts)
{
    const Element& e = map.element(fuse);
    Step step = pointStep(map, e.nodes[1], map.batteryMinus(), state, unplugged, -1);
    step.removed = {e.id};
    std::vector<std::string> names;
    for (const int part : parts) {
        step.removed.push_back(map.element(part).id);
        names.push_back(partName(map, part));
    }
    step.load = lamp.id;
    step.loadFrom = map.node(e.nodes[0]);
    step.loadTo = map.node(e.nodes[1]);
    step.title = inWords("hunt-step.in-place-of", lamp.name, e.id);
    if (!step.unplugged.empty()) step.title += fmt::format(", {} apart", listed(step.unplugged));
    if (!names.empty()) step.title += fmt::format(", {} unplugged", listed(names));
    step.instructions[0] += inWords("hunt-step.out-place", e.id, lamp.name);
    if (!names.empty()) step.instructions[0] += "; " + listed(names) + " unplugged";
    step.expectation = expectedWords(map, step);
    step.why = inWords("hunt-step.lamp-limits-current-shows");
    step.cautions.push_back(inWords("hunt-step.never-larger-fuse-never"));
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        if (map.elements[i].kind == ElementKind::Battery && static_cast<int>(i) != map.battery)
            step.cautions.push_back(inWords("hunt-step.disconnect-first-may-feed", partName(map, static_cast<int>(i))));
    }
    return step;
}

Step isolatedWireStep(const Map& map, int wire, const IsolatedWire& way)
{
    const Element& e = map.element(wire);
    const int fed = e.nodes[0], read = e.nodes[1];
    Step step = pointStep(map, read, map.batteryMinus(), way.state, way.unplugged, -1);
    for (const int part : way.parts)
        step.removed.push_back(map.element(part).id);
    step.load = way.lamp.id;
    step.loadFrom = map.node(read);
    step.loadTo = map.node(map.batteryMinus());
    step.jumpers = {{map.node(map.batteryPlus()), map.node(fed), way.fuse_A}};
    const auto end = [&](int node) {
        const std::string words = map.nodeWords(node);
        return words.substr(0, words.find(','));
    };
    step.title = inWords("hunt-step.wire-own", end(fed), end(read), way.lamp.name);
    std::string free = step.unplugged.empty() ? "" : "connector " + listed(step.unplugged) + " apart";
    for (const int part : way.parts)
        free += (free.empty() ? "" : ", ") + partName(map, part) + " unplugged";
    step.instructions = {inWords("hunt-step.prove-both-ends-go", map.state(way.state).name, free),
                         inWords("hunt-step.lead-fuse-battery-plus", formatQuantity(amperes(way.fuse_A)), end(fed),
                                 way.lamp.name, end(read)),
                         inWords("hunt-step.red-lead-black-lead", end(read))};
    step.expectation = expectedWords(map, step);
    step.why = inWords("hunt-step.only-current-shows-wire");
    step.cautions = {inWords("hunt-step.never-into-module-both"), inWords("hunt-step.fused-lead-lamp-gets"),
                     inWords("hunt-step.probe-pushed-into-female")};
    step.effort_s = 180;
    return step;
}

}  // namespace ilvek
