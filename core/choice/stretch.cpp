#include "choice/stretch.h"
#include "wording/words.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <optional>
#include <set>

namespace ilvek {

namespace {

constexpr double most = 0.9;
constexpr std::size_t fewest = 3;

struct Lying {
    std::set<int> elements;
    std::set<std::string> places;
    double probability = 0;
};

// The places of the fewest groups that hold most of the belief; nullopt: something else is among them.
std::optional<Lying> lyingIn(const std::vector<Suspect>& suspects, const std::vector<SuspectGroup>& groups)
{
    Lying out;
    for (const SuspectGroup& g : groups) {
        if (out.probability >= most) break;
        if (g.members.empty()) return std::nullopt;
        for (const int m : g.members) {
            const Suspect& s = suspects[static_cast<std::size_t>(m)];
            const bool inSeries = s.kind == SuspectKind::Resistance && s.element >= 0 && s.sentences.empty();
            if (!inSeries) return std::nullopt;
            out.elements.insert(s.element);
            out.places.insert(s.place);
        }
        out.probability += g.probability;
    }
    return out.probability >= most && out.places.size() >= fewest ? std::optional(std::move(out)) : std::nullopt;
}

using Ends = std::pair<int, int>;

// The piece that begins with one of the parts, taken out of them; nullopt: it branches, or closes on itself.
std::optional<Ends> takePiece(const Map& map, std::set<int>& elements)
{
    std::set<int> piece{*elements.begin()};
    std::map<int, int> touched;
    std::vector<int> open{*elements.begin()};
    elements.erase(elements.begin());
    while (!open.empty()) {
        const std::vector<int> nodes(map.element(open.back()).nodes.begin(),
                                     map.element(open.back()).nodes.begin() + 2);
        open.pop_back();
        for (const int node : nodes) {
            ++touched[node];
            for (auto next = elements.begin(); next != elements.end();) {
                const Element& e = map.element(*next);
                const bool joins = e.nodes[0] == node || e.nodes[1] == node;
                if (!joins) {
                    ++next;
                    continue;
                }
                open.push_back(*next);
                piece.insert(*next);
                next = elements.erase(next);
            }
        }
    }
    std::vector<int> ends;
    for (const auto& [node, times] : touched) {
        if (times > 2) return std::nullopt;
        if (times == 1) ends.push_back(node);
    }
    return ends.size() == 2 ? std::optional(Ends{ends[0], ends[1]}) : std::nullopt;
}

// "F3" for either side of it.
std::string bareName(const Map& map, int node)
{
    const std::string words = map.nodeWords(node);
    return words.substr(0, words.find(','));
}

// From the battery's plus on, and on to its minus.
std::string betweenWords(const Map& map, Ends ends, bool first)
{
    const auto isFuse = [&](int node) {
        return std::any_of(map.elements.begin(), map.elements.end(), [&](const Element& e) {
            return e.kind == ElementKind::Fuse && std::find(e.nodes.begin(), e.nodes.end(), node) != e.nodes.end();
        });
    };
    if (ends.first == map.batteryMinus() || ends.second == map.batteryPlus() || isFuse(ends.second))
        std::swap(ends.first, ends.second);
    const std::string from = bareName(map, ends.first), to = bareName(map, ends.second);
    return first ? inWords("stretch.between", from, to) : inWords("stretch.or-between", from, to);
}

// Sound parts that lie between two of these are part of the piece.
void fillGaps(const Map& map, std::set<int>& elements)
{
    std::set<int> nodes;
    for (const int e : elements)
        nodes.insert({map.element(e).nodes[0], map.element(e).nodes[1]});
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        const bool between = specOf(e.kind).conducts && e.nodes.size() > 1 && nodes.contains(e.nodes[0]) &&
                             nodes.contains(e.nodes[1]) && e.place != "inside the module";
        if (between) elements.insert(static_cast<int>(i));
    }
}

}  // namespace

std::string stretchOf(const Map& map, const std::vector<Suspect>& suspects, const std::vector<SuspectGroup>& groups)
{
    auto lying = lyingIn(suspects, groups);
    if (!lying) return "";
    fillGaps(map, lying->elements);
    std::string words;
    for (int pieces = 0; !lying->elements.empty(); ++pieces) {
        const auto ends = takePiece(map, lying->elements);
        if (!ends || pieces == 2) return "";
        words += betweenWords(map, *ends, words.empty());
    }
    return inWords("stretch.added-resistance-one-places", words, lying->places.size(), 100 * lying->probability);
}

}  // namespace ilvek
