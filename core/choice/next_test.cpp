#include "choice/next_test.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstdint>
#include <map>
#include <numeric>
#include <optional>

#include "base/parallel.h"
#include "base/stop.h"
#include "belief/doubt.h"
#include "belief/likelihood.h"
#include "choice/posts.h"
#include "choice/ways_by_case.h"
#include "circuit/warm_circuit.h"
#include "prediction/shown_ohms.h"
#include "suspects/severity.h"
#include "suspects/sights.h"
#include "wording/words.h"

namespace ilvek {

namespace {

constexpr double leastBits = 0.002;
constexpr double sameBin = 0.03;       // nearer to the sound reading than this is no outcome of its own
constexpr double otherWayShare = 0.6;  // a test of the other way of working is worth this share
constexpr double worthCase = 3e-6;     // of the belief
constexpr long beyondAll = 1L << 30U;  // the bin of what is no figure

double plogp(double p)
{
    return p > 0 ? p * std::log2(p) : 0.0;
}

class Ranking {
public:
    Ranking(const std::vector<Suspect>& suspects, const Belief& belief, const std::vector<SuspectGroup>& groups,
            const std::vector<Belief::Hypothesis>& hypotheses)
        : suspects_(suspects), belief_(belief), groups_(groups)
    {
        std::vector<int> groupOf(suspects.size(), -1);
        for (std::size_t g = 0; g < groups.size(); ++g) {
            for (const int m : groups[g].members)
                groupOf[static_cast<std::size_t>(m)] = static_cast<int>(g);
        }
        all_.assign(groups.size(), 0.0);
        for (const Belief::Hypothesis& h : hypotheses) {
            if (h.weight < worthCase) continue;
            // Whoever is too unlikely to be named is still to be found: each for himself.
            int& group = groupOf[static_cast<std::size_t>(h.suspect)];
            if (group < 0) {
                group = static_cast<int>(all_.size());
                all_.push_back(0.0);
            }
            const Suspect& s = suspects[static_cast<std::size_t>(h.suspect)];
            ways_.push_back({h, group});
            if (s.kind == SuspectKind::MapWrong) wrongAt_.push_back(ways_.size() - 1);
            all_[static_cast<std::size_t>(group)] += h.weight;
            total_ += h.weight;
            for (const Sight& sight : s.sights)
                seenAt_[sight.terminal].push_back(ways_.size() - 1);
        }
        byCase_.read(
            ways_, static_cast<std::size_t>(firstCases(suspects).back()),
            [](const Way& way) -> const Belief::Hypothesis& { return way.h; },
            [&](const Way& way) {
                return suspects_[static_cast<std::size_t>(way.h.suspect)].kind == SuspectKind::MapWrong;
            });
        left_ = all_;
        for (const double w : all_)
            logs_ += plogp(w);
        before_ = plogp(total_) - logs_;
    }

    // H(group) − Σ P(outcome) H(group | outcome), outcomes in bins of three sigma, each case shared by the two nearest.
    // Sigma is what the meter and sound parts make of it, and what is not known of what was interpolated: in the mean,
    // by weight, of what differs from the sound circuit.
    // `posts`: in the same state, which are read beside it.
    double bits(const Column& column, const BatteryShifts* posts) const
    {
        const double healthy = static_cast<double>(column.value[0]);
        readOff(column, posts);
        const double perBin = 1.0 / (3.0 * sigmaOf(column));
        // Most cases read as the sound circuit does; only the others are looked at.
        std::vector<Share> others;
        std::vector<int> touched;
        const auto move = [&](const Way& way, long bin, double share) {
            double& left = left_[static_cast<std::size_t>(way.group)];
            if (left == all_[static_cast<std::size_t>(way.group)]) touched.push_back(way.group);
            left -= share * way.h.weight;
            others.push_back(shareOf(bin, way.group, share * way.h.weight));
        };
        for (const std::size_t way : wrongAt_) {
            const Suspect& s = suspects_[static_cast<std::size_t>(ways_[way].h.suspect)];
            if (leavesOpen(s, column.probe.red)) move(ways_[way], beyondAll, 1);
        }
        for (const Read& read : read_) {
            if (std::isnan(read.v)) {
                move(*read.way, beyondAll, 1);
                continue;
            }
            const double at = (read.v - healthy) * perBin;
            if (std::abs(at) < sameBin) continue;
            const double below = std::floor(at), further = reaches(at - below);
            if (below != 0) move(*read.way, static_cast<long>(below), 1 - further);
            if (below != -1) move(*read.way, static_cast<long>(below) + 1, further);
        }
        const double after = entropyOfSound(touched) + entropyOf(others);
        for (const int g : touched)
            left_[static_cast<std::size_t>(g)] = all_[static_cast<std::size_t>(g)];
        return (before_ - after) / total_;
    }

    // The same of a look: few suspects show at a terminal, all others look sound there.
    double bitsOfLook(int terminal) const
    {
        const auto there = seenAt_.find(terminal);
        if (there == seenAt_.end()) return 0;
        double after = 0;
        for (std::size_t f = 0; f < kindsOfFound; ++f) {
            const auto found = static_cast<Found>(f);
            const double sound = chanceOfFinding(suspects_.front(), terminal, found);
            std::map<int, double> moved;  // by group, beyond what would be found if all looked sound
            for (const std::size_t i : there->second) {
                const Way& way = ways_[i];
                const Suspect& s = suspects_[static_cast<std::size_t>(way.h.suspect)];
                moved[way.group] += (chanceOfFinding(s, terminal, found) - sound) * way.h.weight;
            }
            // Σ plogp(sound w) = sound Σ w log w + sound log(sound) Σ w
            double sum = sound * total_, logs = sound * logs_ + sound * std::log2(sound) * total_;
            for (const auto& [group, more] : moved) {
                const double was = sound * all_[static_cast<std::size_t>(group)], is = std::max(0.0, was + more);
                sum += is - was;
                logs += plogp(is) - plogp(was);
            }
            after += plogp(sum) - logs;
        }
        return (before_ - after) / total_;
    }

    // How likely the likeliest groups make it that a look finds something else than is drawn.
    std::vector<std::pair<int, double>> sights(int terminal) const
    {
        std::vector<std::pair<int, double>> out;
        for (std::size_t g = 0; g < groups_.size() && out.size() < 3; ++g) {
            if (groups_[g].members.empty()) continue;
            const Suspect& s = suspects_[static_cast<std::size_t>(groups_[g].members.front())];
            out.emplace_back(static_cast<int>(g), 1 - chanceOfFinding(s, terminal, Found::AsDrawn));
        }
        return out;
    }

    // Where the likeliest groups put the reading.
    std::vector<std::pair<int, double>> outcomes(const Column& column) const
    {
        std::vector<std::pair<int, double>> out;
        for (std::size_t g = 0; g < groups_.size() && out.size() < 3; ++g) {
            if (groups_[g].members.empty()) continue;
            const int s = groups_[g].members.front();
            out.emplace_back(static_cast<int>(g), belief_.valueAt(column, belief_.likeliest(s)));
        }
        return out;
    }

private:
    struct Share {
        std::uint64_t key;  // the bin, and behind it the group: one comparison sorts by both
        double weight;
        std::uint64_t bin() const { return key >> 32U; }
    };
    static Share shareOf(long bin, int group, double weight)
    {
        const auto whole = static_cast<std::uint64_t>(std::clamp(bin, -beyondAll, beyondAll) + beyondAll);
        return {whole << 32U | static_cast<std::uint32_t>(group), weight};
    }

    // What the ways that the column sets apart would make it read; into read_.
    void readOff(const Column& column, const BatteryShifts* posts) const
    {
        read_.clear();
        byCase_.eachMoved(column, [&](std::size_t way) {
            Read read{&ways_[way]};
            read.v = belief_.valueAt(column, ways_[way].h, posts, &read.unsure);
            read_.push_back(read);
        });
    }

    double sigmaOf(const Column& column) const
    {
        double weight = 0, unsure = 0;
        for (const Read& read : read_) {
            if (std::isnan(read.v)) continue;
            weight += read.way->h.weight;
            unsure += read.way->h.weight * read.unsure * read.unsure;
        }
        const double unsure2 = weight > 0 ? unsure / weight : 0;
        return std::sqrt(square(meterSigma(column)) + square(static_cast<double>(column.tolerance)) + unsure2);
    }

    // What two readings t bins apart tell grows with t² while t is small, as for two normal densities: many faults that
    // move a reading by a tenth of its sigma are no information.
    static double reaches(double t) { return t * t * (3 - 2 * t); }

    // W H(w/W) with W = Σ w:  W log W − Σ w log w, of what still reads as the sound circuit.
    double entropyOfSound(const std::vector<int>& touched) const
    {
        double sum = total_, logs = logs_;
        for (const int g : touched) {
            const double was = all_[static_cast<std::size_t>(g)];
            const double is = std::max(0.0, left_[static_cast<std::size_t>(g)]);
            sum += is - was;
            logs += plogp(is) - plogp(was);
        }
        return plogp(std::max(0.0, sum)) - logs;
    }

    // The same, summed over bins.
    static double entropyOf(std::vector<Share>& shares)
    {
        std::sort(shares.begin(), shares.end(), [](const Share& a, const Share& b) { return a.key < b.key; });
        double result = 0;
        for (std::size_t i = 0; i < shares.size();) {
            double whole = 0, logs = 0;
            const std::uint64_t bin = shares[i].bin();
            while (i < shares.size() && shares[i].bin() == bin) {
                double one = 0;
                for (const std::uint64_t key = shares[i].key; i < shares.size() && shares[i].key == key; ++i)
                    one += shares[i].weight;
                whole += one;
                logs += plogp(one);
            }
            result += plogp(whole) - logs;
        }
        return result;
    }

    const std::vector<Suspect>& suspects_;
    const Belief& belief_;
    const std::vector<SuspectGroup>& groups_;
    std::map<int, std::vector<std::size_t>> seenAt_;  // by terminal, the ways that a look there tells apart
    struct Way {
        Belief::Hypothesis h;
        int group = -1;
    };
    std::vector<Way> ways_;  // those worth counting, each with all that is asked of it: they are passed in a row
    std::vector<std::size_t> wrongAt_;  // the ways of a map that is wrong somewhere
    WaysByCase byCase_;
    struct Read {
        const Way* way = nullptr;
        double v = 0, unsure = 0;
    };
    mutable std::vector<Read> read_;    // of the column in hand
    mutable std::vector<double> left_;  // by group, of the column in hand: what reads as the sound circuit
    std::vector<double> all_;           // by group
    double total_ = 0;
    double logs_ = 0;  // Σ w log w
    double before_ = 0;
};

// What a test of the other way of working is worth less, and one of this working more.
double schoolShare(const Map& map, const Candidate& c, const WayOfWorking& working)
{
    const bool moduleApart = std::any_of(c.setup.unplugged.begin(), c.setup.unplugged.end(), [&](int connector) {
        return map.connectors[static_cast<std::size_t>(connector)].ofModule;
    });
    const bool look = c.kind == Candidate::Kind::Look;
    const bool signal = c.terminal >= 0 && !look && groupOf(*map.terminal(c.terminal).role) == Group::Inputs;
    return (working.mated && moduleApart ? otherWayShare : 1.0) / (working.signalFirst && signal ? otherWayShare : 1.0);
}

std::string reasonForLook(const std::vector<SuspectGroup>& groups, const RankedTest& test)
{
    std::string what;
    for (const auto& [g, chance] : test.outcomes) {
        const SuspectGroup& group = groups[static_cast<std::size_t>(g)];
        what += inWords("next-test.in-if-it-is", what.empty() ? inWords("next-test.shows-something") : ", in",
                        100 * chance, group.words, 100 * group.probability);
    }
    return inWords("next-test.about-min", what, std::max(1.0, test.minutes));
}

std::string reasonFor(const std::vector<SuspectGroup>& groups, const RankedTest& test)
{
    if (test.look) return reasonForLook(groups, test);
    const std::string again = !test.again    ? ""
                              : test.doubted ? inWords("next-test.once-more-read-slip")
                                             : inWords("next-test.once-more-case-rests");
    const auto part = [&](std::size_t i) {
        const auto& [g, v] = test.outcomes[i];
        const SuspectGroup& group = groups[static_cast<std::size_t>(g)];
        if (test.ohms && v > overLimitDecades)
            return inWords("next-test.over-limit-if", group.words, 100 * group.probability);
        return inWords("next-test.about-if", test.ohms ? formatQuantity(ohms(ohmsOf(v))) : formatQuantity(volts(v)),
                       group.words, 100 * group.probability);
    };
    std::string what;
    if (test.outcomes.size() >= 2) {
        // The likeliest, and the first that differs from it.
        std::size_t other = 1;
        while (other < test.outcomes.size() && std::abs(test.outcomes[other].second - test.outcomes[0].second) < 0.05)
            ++other;
        what = other < test.outcomes.size() ? fmt::format("Reads {}, {}", part(0), part(other))
                                            : inWords("next-test.reads-something-else-less", part(0));
    } else if (!test.outcomes.empty()) {
        what = "Reads " + part(0);
    }
    return inWords("next-test.about-min-2", again, what, std::max(1.0, test.minutes));
}

// What stands in the way of a verdict counts as if it were this likely, so that a test of it is worth asking for.
constexpr double inTheWayShare = 0.1;

void raise(const Belief& belief, const std::vector<int>& inTheWay, std::vector<Belief::Hypothesis>& hypotheses)
{
    const auto isOf = [](int suspect) {
        return [suspect](const Belief::Hypothesis& h) { return h.suspect == suspect; };
    };
    const auto stands = [&](const Belief::Hypothesis& h) { return std::ranges::count(inTheWay, h.suspect) > 0; };
    for (const int suspect : inTheWay) {
        if (std::ranges::any_of(hypotheses, isOf(suspect))) continue;
        hypotheses.push_back(belief.likeliest(suspect));
        hypotheses.back().weight = worthCase;
    }
    double weight = 0, whole = 0;
    for (const Belief::Hypothesis& h : hypotheses) {
        whole += h.weight;
        weight += stands(h) ? h.weight : 0;
    }
    if (weight <= 0 || weight > inTheWayShare * whole) return;
    for (Belief::Hypothesis& h : hypotheses)
        h.weight *= stands(h) ? inTheWayShare * whole / weight : 1;
}

// Each suspect at its likeliest severity alone.
std::vector<Belief::Hypothesis> roughly(const std::vector<Belief::Hypothesis>& all)
{
    std::vector<Belief::Hypothesis> out;
    for (std::size_t i = 0; i < all.size();) {
        Belief::Hypothesis best = all[i];
        double sum = 0;
        for (const int suspect = best.suspect; i < all.size() && all[i].suspect == suspect; ++i) {
            sum += all[i].weight;
            if (all[i].weight > best.weight) best = all[i];
        }
        best.weight = sum;
        out.push_back(best);
    }
    return out;
}

// The same leads in another state tell much the same again: the best of them stands for all.
void dropRepeats(const std::vector<Candidate>& candidates, std::size_t most, std::vector<RankedTest>& tests)
{
    std::vector<RankedTest> kept;
    for (RankedTest& test : tests) {
        if (kept.size() == most) break;
        const Candidate& c = candidates[static_cast<std::size_t>(test.candidate)];
        const bool repeats = std::any_of(kept.begin(), kept.end(), [&](const RankedTest& k) {
            const Candidate& other = candidates[static_cast<std::size_t>(k.candidate)];
            Condition there = other.setup;
            there.state = c.setup.state;
            return other.kind == c.kind && other.kind != Candidate::Kind::Look && probeOf(other) == probeOf(c) &&
                   there == c.setup;
        });
        if (!repeats) kept.push_back(std::move(test));
    }
    tests = std::move(kept);
}

bool isBefore(const RankedTest& a, const RankedTest& b)
{
    return a.again != b.again ? a.again : a.worth > b.worth;
}

// Weighs candidates side by side; each thread has a scratch of its own.
struct Weighing {
    const Map& map;
    const Belief& belief;
    const PredictionTable& table;
    const std::vector<Candidate>& candidates;
    const WayOfWorking& working;
    const Standing& standing;
    const Aims& aims;
    std::optional<Belief::AsLikeliest> likeliest;

    // Nothing when it tells less than `least`.
    std::optional<RankedTest> one(const Ranking& by, Posts& posts, std::size_t i, double least) const
    {
        if (i < aims.passedOver.size() && aims.passedOver[i]) return std::nullopt;
        const Candidate& c = candidates[i];
        RankedTest test;
        test.candidate = static_cast<int>(i);
        test.look = c.kind == Candidate::Kind::Look;
        const std::vector<std::size_t> before = takenBefore(belief, c);
        test.doubted = before.size() == 1 && likeliest && isDoubtful(belief, *likeliest, before.front());
        test.again = test.doubted || (before.size() == 1 && std::ranges::count(aims.restsOn, before.front()) > 0);
        if (!before.empty() && !test.again) return std::nullopt;
        if (test.look) {
            test.bits = by.bitsOfLook(c.terminal);
        } else {
            const Column* column = table.find(c.setup, probeOf(c));
            if (!column || std::isnan(column->value[0])) return std::nullopt;
            test.bits = by.bits(*column, posts.shifts(c.setup.state));
        }
        if (test.bits < least && !test.again) return std::nullopt;
        test.minutes = minutesOf(map, c, standing);
        test.worth = test.bits / test.minutes * schoolShare(map, c, working);
        return test;
    }

    // Of these candidates, best first.
    std::vector<RankedTest> of(const Ranking& ranking, const std::vector<std::size_t>& which, double least) const
    {
        std::vector<std::optional<RankedTest>> all(which.size());
        std::atomic<std::size_t> next = 0;
        onSeveralCores(8, [&] {
            const Ranking own = ranking;
            Posts posts(map, table);
            for (std::size_t i = next++; i < which.size(); i = next++) {
                stopPoint();
                all[i] = one(own, posts, which[i], least);
            }
        });
        std::vector<RankedTest> out;
        for (auto& test : all) {
            if (test) out.push_back(std::move(*test));
        }
        std::stable_sort(out.begin(), out.end(), isBefore);
        return out;
    }
};

// The best of all candidates. Weighing one by every severity of every suspect takes long on a large machine: all are
// weighed roughly first, and in full from the best of those on, until none of the rest can be among the best.
std::vector<RankedTest> bestOf(const Weighing& weighing, const Ranking& rough, const Ranking& ranking, std::size_t most)
{
    constexpr std::size_t atOnce = 60;
    constexpr double safely = 2;  // what is weighed roughly may be worth so many times more
    std::vector<std::size_t> every(weighing.candidates.size());
    std::iota(every.begin(), every.end(), 0);
    const std::vector<RankedTest> order = weighing.of(rough, every, 0);
    std::vector<RankedTest> all, best;
    for (std::size_t i = 0; i < order.size();) {
        std::vector<std::size_t> next;
        for (; i < order.size() && next.size() < atOnce; ++i)
            next.push_back(static_cast<std::size_t>(order[i].candidate));
        for (RankedTest& test : weighing.of(ranking, next, leastBits))
            all.push_back(std::move(test));
        std::stable_sort(all.begin(), all.end(), [](const RankedTest& a, const RankedTest& b) {
            return isBefore(a, b) || (!isBefore(b, a) && a.candidate < b.candidate);
        });
        best = all;
        dropRepeats(weighing.candidates, most, best);
        const bool full = best.size() == most && i < order.size();
        if (full && best.back().worth > safely * order[i].worth) break;
    }
    return best;
}

// The table interpolates; what is said beforehand of the likeliest is solved at the severity that it is said to have.
void solveOutcomes(const Map& map, const std::vector<Suspect>& suspects, const Belief& belief,
                   const std::vector<SuspectGroup>& groups, const Candidate& c,
                   std::vector<std::pair<int, double>>& outcomes)
{
    std::optional<WarmCircuit> circuit;
    for (auto& [group, value] : outcomes) {
        const int likeliest = groups[static_cast<std::size_t>(group)].members.front();
        const Suspect& s = suspects[static_cast<std::size_t>(likeliest)];
        const double severity = belief.severity(likeliest);
        if (!s.graded || severity == std::round(severity)) continue;
        if (!circuit) {
            auto sound = WarmCircuit::of(map, c.setup);
            if (!sound) return;
            circuit = std::move(*sound);
        }
        if (circuit->apply(faultsAt(s, severity))) value = shownBy(probeOf(c), *circuit);
    }
}

}  // namespace

std::vector<RankedTest> rankTests(const Map& map, const std::vector<Suspect>& suspects, const Belief& belief,
                                  const std::vector<SuspectGroup>& groups, const PredictionTable& table,
                                  const std::vector<Candidate>& candidates, const WayOfWorking& working,
                                  const Standing& standing, std::size_t most, const Aims& aims)
{
    std::vector<Belief::Hypothesis> hypotheses = belief.hypotheses();
    raise(belief, aims.inTheWay, hypotheses);
    const Ranking ranking(suspects, belief, groups, hypotheses), rough(suspects, belief, groups, roughly(hypotheses));
    std::optional<Belief::AsLikeliest> likeliest;
    if (!groups.empty() && !groups.front().members.empty())
        likeliest = belief.asLikeliest(groups.front().members.front());
    const Weighing weighing{map, belief, table, candidates, working, standing, aims, likeliest};
    std::vector<RankedTest> out = bestOf(weighing, rough, ranking, most);
    for (RankedTest& test : out) {
        const Candidate& c = candidates[static_cast<std::size_t>(test.candidate)];
        test.ohms = c.kind == Candidate::Kind::Ohms;
        test.outcomes = test.look ? ranking.sights(c.terminal) : ranking.outcomes(*table.find(c.setup, probeOf(c)));
        if (!test.look) solveOutcomes(map, suspects, belief, groups, c, test.outcomes);
        test.reason = reasonFor(groups, test);
    }
    return out;
}

}  // namespace ilvek
