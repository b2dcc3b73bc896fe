#include "proving/lamp.h"

#include <algorithm>
#include <cmath>

namespace ilvek {

std::optional<LampPlace> lampOf(const Map& map, const SetUp& setUp)
{
    if (!setUp.load.empty()) {
        const auto load = findLoad(map.systemVoltage_V, setUp.load);
        const int from = map.nodeIndex(setUp.loadFrom), to = map.nodeIndex(setUp.loadTo);
        if (!load || load->kind != LoadKind::Lamp || from < 0 || to < 0) return std::nullopt;
        return LampPlace{from, to, load->ratedVoltage_V};
    }
    const int red = map.nodeIndex(setUp.red), black = map.nodeIndex(setUp.black);
    for (const Element& e : map.elements) {
        if (e.kind != ElementKind::Lamp) continue;
        const bool leadsOnIt = (e.nodes[0] == red && e.nodes[1] == black) || (e.nodes[0] == black && e.nodes[1] == red);
        if (leadsOnIt || e.id == setUp.conductor) return LampPlace{e.nodes[0], e.nodes[1], e.value("voltage")};
    }
    return std::nullopt;
}

Shown lampAt(double volts, double rated_V)
{
    const double share = std::abs(volts) / rated_V;
    if (share < (lamp::darkBelow + lamp::dimFrom) / 2) return Shown::Dark;
    return share < (lamp::brightFrom + lamp::dimBelow) / 2 ? Shown::Dim : Shown::Bright;
}

}  // namespace ilvek
