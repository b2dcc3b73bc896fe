#include "suspects/sights.h"

#include <algorithm>

#include "machine/paths.h"

namespace ilvek {

namespace {

// Chance that a look finds: as drawn, damaged, another wire, empty. Old dirt and faded colours are on sound machines
// too; a joint that went bad shows in about half of the cases, a wire broken at its crimp seldom.
constexpr std::array<double, kindsOfFound> soundSight{0.924, 0.05, 0.025, 0.001};
constexpr std::array<double, kindsOfFound> badContactSight{0.422, 0.55, 0.026, 0.002};
constexpr std::array<double, kindsOfFound> badWireSight{0.822, 0.15, 0.026, 0.002};
constexpr std::array<double, kindsOfFound> shortedSight{0.774, 0.2, 0.025, 0.001};
constexpr std::array<double, kindsOfFound> touchingSight{0.504, 0.47, 0.025, 0.001};
constexpr std::array<double, kindsOfFound> exchangedSight{0.054, 0.02, 0.925, 0.001};
// The wire may also join the other one on its way.
constexpr std::array<double, kindsOfFound> joinedSight{0.354, 0.02, 0.625, 0.001};
constexpr std::array<double, kindsOfFound> emptySight{0.015, 0.005, 0.01, 0.97};
constexpr std::array<double, kindsOfFound> otherMapSight{0.2, 0.02, 0.68, 0.1};

// Two wires of one colour may be exchanged without anybody seeing it.
bool coloursDiffer(const Map& map, const Suspect& s)
{
    std::vector<std::string> words;
    for (const Terminal& t : map.terminals) {
        if (t.a == s.node || t.a == s.node2) words.push_back(t.colour.words());
    }
    return words.size() > 1 && words.front() != words.back();
}

const std::array<double, kindsOfFound>* sightAt(const Map& map, const Suspect& s, const Terminal& t)
{
    const auto is = [&](int node) { return node >= 0 && (node == t.a || node == t.b); };
    switch (s.kind) {
        case SuspectKind::Resistance: {
            if (t.contact == s.element) return &badContactSight;
            const Element& e = map.element(s.element);
            const bool wire = e.kind == ElementKind::Wire && (is(e.nodes[0]) || is(e.nodes[1]));
            return wire ? &badWireSight : nullptr;
        }
        case SuspectKind::ShortToGround:
        case SuspectKind::ShortToSupply:
        case SuspectKind::BackFeed:
            return is(s.node) ? &shortedSight : nullptr;
        case SuspectKind::ShortToNeighbour:
            return is(s.node) || is(s.node2) ? &touchingSight : nullptr;
        case SuspectKind::Exchanged: {
            const bool here = t.a == s.node || t.a == s.node2;
            return here && coloursDiffer(map, s) ? &exchangedSight : nullptr;
        }
        case SuspectKind::EndsElsewhere: {
            if (t.a == s.node2) return &joinedSight;
            const Element& e = map.element(s.severities.front().front().element);
            const bool other = t.a != s.node && (t.a == e.nodes[0] || t.a == e.nodes[1]);
            return other && onlyWireAt(map, t.a).element >= 0 ? &emptySight : nullptr;
        }
        case SuspectKind::EmptyCavity:
            return t.a == s.node ? &emptySight : nullptr;
        case SuspectKind::MapWrong:
            return t.a == s.node ? &otherMapSight : nullptr;
        default:
            return nullptr;
    }
}

}  // namespace

std::vector<Sight> sightsOf(const Map& map, const Suspect& s)
{
    std::vector<Sight> sights;
    for (std::size_t i = 0; i < map.terminals.size(); ++i) {
        const Terminal& t = map.terminals[i];
        if (t.a < 0) continue;
        if (const auto* chance = sightAt(map, s, t)) sights.push_back({static_cast<int>(i), *chance});
    }
    return sights;
}

bool showsAt(const Suspect& s, int terminal)
{
    return std::any_of(s.sights.begin(), s.sights.end(), [&](const Sight& x) { return x.terminal == terminal; });
}

double chanceOfFinding(const Suspect& s, int terminal, Found found)
{
    const auto at =
        std::find_if(s.sights.begin(), s.sights.end(), [&](const Sight& x) { return x.terminal == terminal; });
    return (at == s.sights.end() ? soundSight : at->chance)[static_cast<std::size_t>(found)];
}

}  // namespace ilvek
