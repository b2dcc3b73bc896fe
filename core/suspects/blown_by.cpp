#include "suspects/blown_by.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <mutex>
#include <set>

#include "base/parallel.h"
#include "base/stop.h"
#include "circuit/fault_sweep.h"
#include "circuit/operating_point.h"

namespace ilvek {

namespace {

// What drives a fault less than this cannot blow a fuse, V or A.
constexpr double drives = 0.05;
// Driven as hard as in another state, as a share, it does there what it does here.
constexpr double alike = 0.03;
// So many are solved one by one sooner than a state is prepared for all.
constexpr std::size_t fewTried = 12;
// A map of more nodes: its states are too many to be tried before the first suggestion. What a fault blows there is
// found in each reading by itself.
constexpr std::size_t mostNodes = 1500;

// Only what lets more current flow.
bool mayLetMoreFlow(const Suspect& s)
{
    if (isOfTheMap(s) && s.kind != SuspectKind::FigureWrong) return false;
    return std::ranges::any_of(s.severities.back(), [](const Fault& f) {
        return f.kind == Fault::Kind::ShortBetween || f.kind == Fault::Kind::StuckClosed ||
               f.kind == Fault::Kind::OutOfValue;
    });
}

// What a state drives through a suspect at its worst, V across a short or an open contact, A through a load.
double driveOf(const Map& map, const OperatingPoint& point, const Fault& f)
{
    const auto across = [&](int a, int b) { return a < 0 || b < 0 ? 0.0 : point.voltage(a, b); };
    if (f.kind == Fault::Kind::ShortBetween) return across(f.nodeA, f.nodeB);
    if (f.kind == Fault::Kind::StuckClosed)
        return across(map.element(f.element).nodes[0], map.element(f.element).nodes[1]);
    return f.kind == Fault::Kind::OutOfValue ? point.currentThrough(f.element) : 0.0;
}

class Search {
public:
    Search(const Map& map, const std::vector<Suspect>& suspects) : map_(map), suspects_(suspects)
    {
        blown_.resize(suspects.size());
        for (std::size_t i = 0; i < suspects.size(); ++i)
            blown_[i].resize(suspects[i].severities.size());
        chooseStates();
    }

    void run()
    {
        std::atomic<std::size_t> next = 0;
        onSeveralCores(map_.states.size(), [&] {
            for (std::size_t state = next++; state < map_.states.size(); state = next++) {
                stopPoint();
                if (tried_[state].size() > fewTried)
                    bySweep(static_cast<int>(state));
                else
                    oneByOne(static_cast<int>(state));
            }
        });
    }

    const std::set<int>& blown(std::size_t suspect, std::size_t severity) const { return blown_[suspect][severity]; }

private:
    // Of each suspect the states in which it is driven otherwise than in those before.
    void chooseStates()
    {
        tried_.resize(map_.states.size());
        std::vector<std::vector<double>> driven(suspects_.size());
        for (std::size_t state = 0; state < map_.states.size(); ++state) {
            Condition condition;
            condition.state = static_cast<int>(state);
            const auto point = operatingPoint(map_, condition);
            for (std::size_t i = 0; point && i < suspects_.size(); ++i) {
                if (!mayLetMoreFlow(suspects_[i])) continue;
                double most = 0;
                for (const Fault& f : suspects_[i].severities.back())
                    if (const double is = driveOf(map_, *point, f); std::abs(is) > std::abs(most)) most = is;
                const bool known = std::ranges::any_of(
                    driven[i], [&](double was) { return std::abs(most - was) <= alike * std::abs(was); });
                if (std::abs(most) < drives || known) continue;
                driven[i].push_back(most);
                tried_[state].push_back(i);
            }
        }
    }

    void bySweep(int state)
    {
        Condition condition;
        condition.state = state;
        auto sweep = FaultSweep::of(map_, condition);
        if (!sweep) return;
        fromWorst(state, [&](const std::vector<Fault>& faults) {
            return sweep->apply(faults) ? sweep->blownFuses() : std::vector<int>{};
        });
    }

    void oneByOne(int state)
    {
        fromWorst(state, [&](const std::vector<Fault>& faults) {
            Condition condition;
            condition.state = state;
            condition.faults = faults;
            const auto point = operatingPoint(map_, condition);
            return point ? point->blownFuses() : std::vector<int>{};
        });
    }

    // A slighter one blows nothing that a worse one leaves whole.
    template <class Blows>
    void fromWorst(int state, const Blows& blows)
    {
        for (const std::size_t i : tried_[static_cast<std::size_t>(state)]) {
            const Suspect& s = suspects_[i];
            for (std::size_t k = s.severities.size(); k-- > 0;) {
                const std::vector<int> fuses = blows(s.severities[k]);
                if (fuses.empty() && s.graded && s.kind != SuspectKind::FigureWrong) break;
                const std::lock_guard guard(lock_);
                blown_[i][k].insert(fuses.begin(), fuses.end());
            }
        }
    }

    const Map& map_;
    const std::vector<Suspect>& suspects_;
    std::vector<std::vector<std::size_t>> tried_;    // by state: suspects
    std::vector<std::vector<std::set<int>>> blown_;  // by suspect and severity
    std::mutex lock_;
};

// A sound machine blows no fuse, whatever figure of it is wrong.
void dropBlowing(const Search& search, std::size_t suspect, std::vector<std::vector<Fault>>& severities)
{
    std::vector<std::vector<Fault>> left;
    for (std::size_t k = 0; k < severities.size(); ++k)
        if (search.blown(suspect, k).empty()) left.push_back(severities[k]);
    if (!left.empty()) severities = std::move(left);
}

}  // namespace

void blowFuses(const Map& map, std::vector<Suspect>& suspects)
{
    const bool hasFuse =
        std::ranges::any_of(map.elements, [](const Element& e) { return e.kind == ElementKind::Fuse; });
    if (!hasFuse || map.nodes.size() > mostNodes) return;
    Search search(map, suspects);
    search.run();
    for (std::size_t i = 0; i < suspects.size(); ++i) {
        auto& severities = suspects[i].severities;
        if (suspects[i].kind == SuspectKind::FigureWrong) {
            dropBlowing(search, i, severities);
            continue;
        }
        const std::size_t whole = severities.size();
        for (std::size_t k = 0; k < whole; ++k) {
            if (search.blown(i, k).empty()) continue;
            std::vector<Fault> faults = severities[k];
            for (const int fuse : search.blown(i, k))
                faults.push_back(Fault{Fault::Kind::Blown, fuse});
            severities.push_back(std::move(faults));
        }
    }
}

}  // namespace ilvek
