#include "choice/exclusion.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <cmath>

#include "base/parallel.h"
#include "base/stop.h"
#include "choice/posts.h"
#include "choice/ways_by_case.h"
#include "prediction/shown_ohms.h"
#include "suspects/sights.h"
#include "wording/words.h"

namespace ilvek {

namespace {

constexpr double excludesAt = 4;           // sigma
constexpr double lookExcludesAt = 0.06;    // chance of a sound look below which it excludes
constexpr double oftenEnough = 0.5;        // tests that exclude more often come before those that are quicker
constexpr double worthNaming = 0.2;        // a chance below this is none
constexpr std::size_t mostSeverities = 6;  // of one suspect
constexpr double likelySeverity = 1e-3;    // of the suspect's own weight
constexpr double likelyMember = 0.001;     // of its group's
constexpr double noughtDecades = -0.5, openDecades = 7;

struct Way {
    Belief::Hypothesis h;
    std::size_t group = 0;
    const Suspect* of = nullptr;
};

// Of one suspect some of its likely severities, from the slightest to the worst, each with the weight of those about
// it.
void addWays(const std::vector<Belief::Hypothesis>& severities, Way way, std::vector<Way>& out)
{
    stopPoint();
    double whole = 0;
    for (const auto& h : severities)
        whole += h.weight;
    std::vector<Belief::Hypothesis> likely;
    std::copy_if(severities.begin(), severities.end(), std::back_inserter(likely),
                 [&](const Belief::Hypothesis& h) { return h.weight >= likelySeverity * whole; });
    const std::size_t kept = std::min(mostSeverities, likely.size()), last = likely.size() - 1;
    for (std::size_t k = 0; k < kept; ++k) {
        way.h = likely[kept > 1 ? k * last / (kept - 1) : 0];
        way.h.weight = whole / static_cast<double>(kept);
        out.push_back(way);
    }
}

// Those of the groups that are asked for; members that hardly count are left out.
std::vector<Way> waysOf(const std::vector<Suspect>& suspects, const Belief& belief,
                        const std::vector<SuspectGroup>& groups, std::size_t most)
{
    std::vector<std::vector<Belief::Hypothesis>> of(suspects.size());
    for (const Belief::Hypothesis& h : belief.hypotheses())
        of[static_cast<std::size_t>(h.suspect)].push_back(h);
    const std::vector<double> p = belief.probabilities();
    std::vector<Way> out;
    for (std::size_t g = 0; g < std::min(most, groups.size()); ++g) {
        for (const int m : groups[g].members) {
            const auto i = static_cast<std::size_t>(m);
            const bool counts = p[i] >= likelyMember * groups[g].probability && !of[i].empty();
            if (counts) addWays(of[i], {{}, g, &suspects[i]}, out);
        }
    }
    return out;
}

struct Range {
    double low = 1e300, high = -1e300;
    bool free = false;  // anything may be read
};

// How one test would exclude a group: the chance that it does, and what it must read less or more than for that.
struct Excluding {
    double chance = 0, low = 1e300, high = -1e300;
};

class Search {
public:
    Search(const std::vector<Suspect>& suspects, const Belief& belief, const std::vector<SuspectGroup>& groups,
           std::size_t most)
        : suspects_(suspects),
          belief_(belief),
          ways_(waysOf(suspects, belief, groups, most)),
          of_(std::min(most, groups.size()), 0.0),
          own_(of_.size(), 0.0),
          count_(of_.size(), 0)
    {
        for (std::size_t i = 0; i < ways_.size(); ++i) {
            const Way& way = ways_[i];
            if (isWrong(way)) wrong_.push_back(i);
            ++count_[way.group], own_[way.group] += way.h.weight;
            for (std::size_t g = 0; g < of_.size(); ++g)
                of_[g] += way.group != g ? way.h.weight : 0.0;
        }
        byCase_.read(
            ways_, static_cast<std::size_t>(firstCases(suspects).back()),
            [](const Way& way) -> const Belief::Hypothesis& { return way.h; }, isWrong);
    }

    // By group, of a reading.
    std::vector<Excluding> ofReading(const Column& column, const BatteryShifts* posts)
    {
        const double sigma = std::hypot(meterSigma(column), static_cast<double>(column.tolerance));
        const auto healthy = static_cast<double>(column.value[0]);
        moved_.clear();
        std::vector<Range> ranges(of_.size());
        std::vector<std::size_t> asSound = count_;  // by group, the ways that read as the sound circuit does
        std::vector<double> soundWeight = own_;     // and their weight
        const auto reach = [&](Range& range, double v, double off) {
            range.low = std::min(range.low, v - excludesAt * sigma - off);
            range.high = std::max(range.high, v + excludesAt * sigma + off);
        };
        byCase_.eachMoved(column, [&](std::size_t i) {
            const Way& way = ways_[i];
            double off = 0;
            const double v = belief_.valueAt(column, way.h, posts, &off);
            ranges[way.group].free |= std::isnan(v);
            reach(ranges[way.group], v, off);
            --asSound[way.group], soundWeight[way.group] -= way.h.weight;
            moved_.push_back({v, way.h.weight});
        });
        for (const std::size_t i : wrong_) {
            const Suspect& s = *ways_[i].of;
            ranges[ways_[i].group].free |= leavesOpen(s, column.probe.red) || leavesOpen(s, column.probe.black);
        }
        double sound = 0;
        for (std::size_t g = 0; g < of_.size(); ++g) {
            sound += soundWeight[g];
            if (asSound[g] > 0) reach(ranges[g], healthy, 0);
        }
        std::vector<Excluding> out(of_.size());
        for (std::size_t g = 0; g < out.size(); ++g) {
            const Range& range = ranges[g];
            out[g] = {0, range.low, range.high};
            if (range.free || range.low > range.high || of_[g] <= 0) continue;
            // Its own ways lie within.
            double sum = healthy < range.low || healthy > range.high ? sound : 0;
            for (const auto& [v, weight] : moved_)
                sum += weight * ((v < range.low) | (v > range.high));  // without a branch
            out[g].chance = sum / of_[g];
        }
        return out;
    }

    // The same of a look that finds the terminal as drawn.
    std::vector<Excluding> ofLook(int terminal) const
    {
        const auto asDrawn = [&](const Way& way) {
            return chanceOfFinding(suspects_[static_cast<std::size_t>(way.h.suspect)], terminal, Found::AsDrawn);
        };
        std::vector<double> most(of_.size(), 0.0);
        for (const Way& way : ways_)
            most[way.group] = std::max(most[way.group], asDrawn(way));
        std::vector<Excluding> out(of_.size());
        for (std::size_t g = 0; g < out.size(); ++g) {
            if (most[g] >= lookExcludesAt || of_[g] <= 0) continue;
            for (const Way& way : ways_)
                out[g].chance += way.group != g ? way.h.weight * asDrawn(way) / of_[g] : 0.0;
        }
        return out;
    }

private:
    static bool isWrong(const Way& way) { return way.of->kind == SuspectKind::MapWrong; }

    const std::vector<Suspect>& suspects_;
    const Belief& belief_;
    std::vector<Way> ways_;
    std::vector<std::size_t> wrong_;  // the ways of a map that is wrong somewhere
    WaysByCase byCase_;
    std::vector<std::pair<double, double>> moved_;  // figure and weight, of the column in hand
    std::vector<double> of_, own_;                  // by group, the weight of all others, and its own
    std::vector<std::size_t> count_;                // of its ways
};

bool isBetter(double chance, double minutes, const Exclusion& than)
{
    if ((chance >= oftenEnough) != (than.chance >= oftenEnough)) return chance > than.chance;
    return chance / minutes > than.chance / than.minutes;
}

std::string beyond(const Exclusion& e)
{
    const auto figure = [&](double v) {
        return formatQuantity(e.ohms ? shownOhms(v) : volts(std::round(100 * v) / 100));
    };
    if (e.ohms && e.low < noughtDecades) return inWords("exclusion.more-than") + figure(e.high);
    if (e.ohms && e.high > openDecades) return inWords("exclusion.less-than") + figure(e.low);
    return inWords("exclusion.less-more", figure(e.low), figure(e.high));
}

}  // namespace

std::vector<std::optional<Exclusion>> exclusionsOf(const Map& map, const std::vector<Suspect>& suspects,
                                                   const Belief& belief, const std::vector<SuspectGroup>& groups,
                                                   const PredictionTable& table,
                                                   const std::vector<Candidate>& candidates,
                                                   const WayOfWorking& working, const Standing& standing,
                                                   std::size_t most)
{
    const Search start(suspects, belief, groups, most);
    // By candidate, then by group; candidates are tried side by side.
    std::vector<std::vector<Excluding>> all(candidates.size());
    std::atomic<std::size_t> next = 0;
    onSeveralCores(8, [&] {
        Search search = start;
        Posts posts(map, table);
        for (std::size_t i = next++; i < candidates.size(); i = next++) {
            stopPoint();
            const Candidate& c = candidates[i];
            if (!takenBefore(belief, c).empty()) continue;
            const bool look = c.kind == Candidate::Kind::Look;
            const Column* column = look ? nullptr : table.find(c.setup, probeOf(c));
            if (!look && (!column || std::isnan(column->value[0]))) continue;
            all[i] = look ? search.ofLook(c.terminal) : search.ofReading(*column, posts.shifts(c.setup.state));
        }
    });
    std::vector<std::optional<Exclusion>> out(std::min(most, groups.size()));
    std::vector<const Candidate*> chosen(out.size(), nullptr);
    for (std::size_t i = 0; i < candidates.size(); ++i) {
        const Candidate& c = candidates[i];
        for (std::size_t g = 0; g < all[i].size(); ++g) {
            const auto& [chance, low, high] = all[i][g];
            if (chance < worthNaming || groups[g].members.empty()) continue;
            const double minutes = minutesOf(map, c, standing);
            if (out[g] && !isBetter(chance, minutes, *out[g])) continue;
            const bool look = c.kind == Candidate::Kind::Look;
            out[g] = Exclusion{chance, minutes, low, high, c.kind == Candidate::Kind::Ohms, look, {}, {}};
            chosen[g] = &c;
        }
    }
    for (std::size_t g = 0; g < out.size(); ++g) {
        if (!out[g]) continue;
        Exclusion& e = *out[g];
        e.step = stepFor(map, working, *chosen[g]);
        if (e.look) e.step.state = map.state(standing.state).id;  // any will do
        e.words = e.look ? inWords("exclusion.excluded-if-finds-drawn", e.step.title)
                         : inWords("exclusion.excluded-if-reads", e.step.title, map.state(chosen[g]->setup.state).name,
                                   beyond(e));
        e.words += inWords("exclusion.if-fault-another-one", std::floor(100 * e.chance));
        e.step.why = e.words + " " + e.step.why;
    }
    return out;
}

}  // namespace ilvek
