#include "choice/groups.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <numeric>

#include "base/parallel.h"
#include "base/stop.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// One suspect that the readings have made so much less likely than another, by what each was before, is none beside it.
constexpr double toldApartAt = 0.02;
constexpr double worthNaming = 1e-4;
constexpr std::size_t mostNamed = 120;
// Two predictions nearer than this many sigma are one to any meter.
constexpr double tellsApart = 3.0;
// Least sigma of any reading: display, tip and battery drift together.
constexpr double leastSigma_V = 0.012;
// Severities of one suspect that are still open; and the groups that are worth comparing at all of theirs.
constexpr double nearlyAsLikely = 0.1, worthJoining = 1e-3;
constexpr std::size_t mostPlaces = 4;  // named one by one

struct Signature {
    std::vector<float> value, uncertainty;
};

// What suspects at one severity each read in every test of the table: [hypothesis][test]. A test is passed for all of
// them at once, in the order of their cases, since its column is what has to be fetched.
std::vector<Signature> signaturesOf(const Belief& belief, const std::vector<Belief::Hypothesis>& all,
                                    const std::vector<const Column*>& columns)
{
    constexpr std::size_t atOnce = 64;  // tests
    std::vector<Signature> out(all.size(), {std::vector<float>(columns.size()), std::vector<float>(columns.size())});
    std::vector<std::size_t> byCase(all.size());
    std::iota(byCase.begin(), byCase.end(), 0);
    std::sort(byCase.begin(), byCase.end(), [&](std::size_t a, std::size_t b) { return all[a].low < all[b].low; });
    std::atomic<std::size_t> next = 0;
    onSeveralCores(8, [&] {
        for (std::size_t first = next.fetch_add(atOnce); first < columns.size(); first = next.fetch_add(atOnce)) {
            stopPoint();
            for (std::size_t c = first; c < std::min(first + atOnce, columns.size()); ++c) {
                for (const std::size_t k : byCase) {
                    double uncertainty = 0;
                    out[k].value[c] = static_cast<float>(belief.valueAt(*columns[c], all[k], nullptr, &uncertainty));
                    out[k].uncertainty[c] = static_cast<float>(uncertainty);
                }
            }
        }
    });
    return out;
}

bool areOne(const Signature& a, const Signature& b, const std::vector<const Column*>& columns)
{
    for (std::size_t i = 0; i < columns.size(); ++i) {
        const auto x = static_cast<double>(a.value[i]), y = static_cast<double>(b.value[i]);
        if (std::isnan(x) || std::isnan(y)) continue;
        const double meter = columns[i]->probe.ohms ? ohmsSigmaAt(x) : std::hypot(leastSigma_V, 0.004 * x);
        const double sigma = meter + 0.3 * static_cast<double>(columns[i]->tolerance) +
                             static_cast<double>(std::max(a.uncertainty[i], b.uncertainty[i]));
        if (std::abs(x - y) > tellsApart * sigma) return false;
    }
    return true;
}

// With a wrong figure of the sheet beside it, or without: it is one fault.
bool isSameBesides(const Suspect& a, const Suspect& b)
{
    return a.words == b.words && a.besides != b.besides;
}

// A line chafed at a node of the network or held down inside that node: it is that node's end that is looked at.
bool sameLineHeld(const Suspect& a, const Suspect& b)
{
    const auto holds = [](const Suspect& s) {
        return s.kind == SuspectKind::BusHeld || s.kind == SuspectKind::ShortToGround;
    };
    return holds(a) && holds(b) && a.severities.front().front().nodeA == b.severities.front().front().nodeA;
}

std::vector<const Column*> columnsOf(const PredictionTable& table, const std::vector<Candidate>& candidates)
{
    std::vector<const Column*> columns;
    for (const Candidate& c : candidates) {
        if (c.kind == Candidate::Kind::Look) continue;
        if (const Column* column = table.find(c.setup, probeOf(c))) columns.push_back(column);
    }
    return columns;
}

std::vector<std::string> placesOf(const std::vector<Suspect>& suspects, const SuspectGroup& g)
{
    std::vector<std::string> places;
    for (const int m : g.members) {
        const std::string& place = suspects[static_cast<std::size_t>(m)].place;
        if (std::find(places.begin(), places.end(), place) == places.end()) places.push_back(place);
    }
    return places;
}

std::string wordsOf(const std::vector<Suspect>& suspects, const SuspectGroup& g)
{
    const Suspect& first = suspects[static_cast<std::size_t>(g.members.front())];
    if (first.kind == SuspectKind::Nothing && g.members.size() > 1) return inWords("groups.fault-test-map-shows");
    const std::vector<std::string> places = placesOf(suspects, g);
    if (places.size() == 1) return first.words;
    if (places.size() == 2) return fmt::format("{}, or {}", first.words, places[1]);
    return inWords("groups.other-places-beside", first.words, places.size() - 1);
}

void describe(const std::vector<Suspect>& suspects, SuspectGroup& g)
{
    const auto inside = [&](int m) { return suspects[static_cast<std::size_t>(m)].insideModule; };
    g.insideModule = std::all_of(g.members.begin(), g.members.end(), inside);
    g.partlyInside = !g.insideModule && std::any_of(g.members.begin(), g.members.end(), inside);
    g.words = wordsOf(suspects, g);
}

void sortByProbability(std::vector<SuspectGroup>& groups)
{
    std::stable_sort(groups.begin(), groups.end(),
                     [](const SuspectGroup& a, const SuspectGroup& b) { return a.probability > b.probability; });
}

// What was read has told them apart already, whatever the tests of the map would.
bool isToldApart(const std::vector<Suspect>& suspects, const std::vector<double>& p, int leader, int other)
{
    const auto gained = [&](int i) {
        const auto at = static_cast<std::size_t>(i);
        return suspects[at].prior > 0 ? p[at] / suspects[at].prior : 0;
    };
    return gained(other) < toldApartAt * gained(leader);
}

// What the leader of a group may read: at every severity that is nearly as likely as its likeliest one.
std::vector<Signature> mayRead(const Belief& belief, const std::vector<Belief::Hypothesis>& all, int leader,
                               const std::vector<const Column*>& columns)
{
    double most = 0;
    for (const auto& h : all)
        most = h.suspect == leader ? std::max(most, h.weight) : most;
    std::vector<Belief::Hypothesis> open;
    for (const auto& h : all) {
        if (h.suspect == leader && h.weight >= nearlyAsLikely * most) open.push_back(h);
    }
    return signaturesOf(belief, open, columns);
}

}  // namespace

std::vector<SuspectGroup> groupsOf(const std::vector<Suspect>& suspects, const Belief& belief,
                                   const PredictionTable& table, const std::vector<Candidate>& candidates)
{
    const std::vector<double> p = belief.probabilities();
    std::vector<int> order(p.size());
    std::iota(order.begin(), order.end(), 0);
    std::sort(order.begin(), order.end(),
              [&](int a, int b) { return p[static_cast<std::size_t>(a)] > p[static_cast<std::size_t>(b)]; });
    while (!order.empty() && (order.size() > mostNamed || p[static_cast<std::size_t>(order.back())] < worthNaming))
        order.pop_back();
    const std::vector<const Column*> columns = columnsOf(table, candidates);
    std::vector<Belief::Hypothesis> likeliest;
    for (const int s : order)
        likeliest.push_back(belief.likeliest(s));
    const std::vector<Signature> signatures = signaturesOf(belief, likeliest, columns);
    std::vector<SuspectGroup> groups;
    std::vector<Signature> leaders;
    double named = 0;
    for (std::size_t k = 0; k < order.size(); ++k) {
        const int s = order[k];
        const auto i = static_cast<std::size_t>(s);
        named += p[i];
        const Signature& mine = signatures[k];
        std::size_t g = 0;
        // A wrong map is no fault of a part: it stays on its own.
        const auto isAlone = [](const Suspect& x) {
            return x.kind == SuspectKind::MapWrong || x.kind == SuspectKind::NotOnMap ||
                   x.kind == SuspectKind::FigureWrong;
        };
        const bool alone = isAlone(suspects[i]) || s == 0;
        const auto joins = [&](std::size_t at) {
            const Suspect& leader = suspects[static_cast<std::size_t>(groups[at].members.front())];
            if (alone || isAlone(leader)) return false;
            if (isSameBesides(suspects[i], leader)) return true;
            if (isToldApart(suspects, p, groups[at].members.front(), s)) return false;
            // Whatever ails one part, the part is mended.
            const bool samePart = suspects[i].element >= 0 && leader.element == suspects[i].element;
            return samePart || sameLineHeld(suspects[i], leader) || areOne(leaders[at], mine, columns);
        };
        while (g < groups.size() && !joins(g))
            ++g;
        if (g == groups.size()) {
            groups.push_back({});
            leaders.push_back(mine);
        }
        groups[g].members.push_back(s);
        groups[g].probability += p[i];
    }
    for (SuspectGroup& g : groups)
        describe(suspects, g);
    sortByProbability(groups);
    if (1 - named > worthNaming) groups.push_back({{}, 1 - named, false, false, inWords("groups.anything-else")});
    return groups;
}

std::string everyPlaceOf(const std::vector<Suspect>& suspects, const SuspectGroup& group)
{
    if (group.members.empty()) return group.words;
    const Suspect& first = suspects[static_cast<std::size_t>(group.members.front())];
    std::vector<std::string> places = placesOf(suspects, group);
    if (first.kind == SuspectKind::Nothing || places.size() < 3) return group.words;
    const std::size_t left = places.size() > mostPlaces ? places.size() - mostPlaces : 0;
    places.resize(places.size() - left);
    const std::string last = left > 0 ? fmt::format("{} more", left) : places.back();
    if (left == 0) places.pop_back();
    return inWords("groups.or-or", first.words, fmt::join(places.begin() + 1, places.end(), ", "), last);
}

std::vector<SuspectGroup> joinedAtAnySeverity(std::vector<SuspectGroup> groups, const std::vector<Suspect>& suspects,
                                              const Belief& belief, const PredictionTable& table,
                                              const std::vector<Candidate>& candidates)
{
    const std::vector<const Column*> columns = columnsOf(table, candidates);
    const auto hypotheses = belief.hypotheses();
    const std::vector<double> p = belief.probabilities();
    std::vector<std::vector<Signature>> readings;
    for (std::size_t g = 0; g < groups.size(); ++g) {
        SuspectGroup& group = groups[g];
        const int leader = group.members.empty() ? 0 : group.members.front();
        readings.emplace_back();
        if (!isFault(suspects[static_cast<std::size_t>(leader)]) || group.probability < worthJoining) continue;
        readings.back() = mayRead(belief, hypotheses, leader, columns);
        const auto reads = [&](const std::vector<Signature>& other) {
            return std::any_of(other.begin(), other.end(), [&](const Signature& a) {
                return std::any_of(readings.back().begin(), readings.back().end(),
                                   [&](const Signature& b) { return areOne(a, b, columns); });
            });
        };
        const auto into = std::find_if(readings.begin(), readings.end() - 1, reads);
        if (into == readings.end() - 1) continue;
        SuspectGroup& whole = groups[static_cast<std::size_t>(into - readings.begin())];
        whole.members.insert(whole.members.end(), group.members.begin(), group.members.end());
        std::stable_sort(whole.members.begin(), whole.members.end(),
                         [&](int a, int b) { return p[static_cast<std::size_t>(a)] > p[static_cast<std::size_t>(b)]; });
        whole.probability += group.probability;
        describe(suspects, whole);
        groups.erase(groups.begin() + static_cast<std::ptrdiff_t>(g--));
        readings.pop_back();
    }
    sortByProbability(groups);
    return groups;
}

}  // namespace ilvek
