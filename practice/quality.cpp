// How good the reasoning is, as a table: hidden random faults on a machine whose sound parts differ from the book, read
// with a noisy meter, found by following the first suggestion. Fixed seeds.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <random>

#include "base/file.h"
#include "circuit/operating_point.h"
#include "machine/map_reader.h"
#include "practice/bench.h"

namespace {

using namespace ilvek;
using namespace ilvek::practice;

constexpr int mostTests = 40;
// A hidden fault that no test of the map can see is none to look for: some reading must differ by this many volts.
constexpr double visible_V = 0.25;

struct Hidden {
    int suspect = -1;
    std::vector<Fault> faults;
};

class Draw {
public:
    Draw(const Reasoner& reasoner, std::uint32_t seed)
        : reasoner_(reasoner), first_(firstCases(reasoner.suspects())), random_(seed)
    {
        for (const Suspect& s : reasoner.suspects())
            weights_.push_back(s.kind == SuspectKind::Nothing || s.kind == SuspectKind::MapWrong ? 0 : s.prior);
    }

    Hidden next()
    {
        std::discrete_distribution<int> which(weights_.begin(), weights_.end());
        for (;;) {
            Hidden h;
            h.suspect = which(random_);
            const Suspect& s = reasoner_.suspects()[static_cast<std::size_t>(h.suspect)];
            std::uniform_real_distribution<double> where(0, static_cast<double>(s.severities.size()) - 1);
            const double at = where(random_);
            const auto low = static_cast<std::size_t>(at);
            const int first = first_[static_cast<std::size_t>(h.suspect)];
            const auto high = std::min(low + 1, s.severities.size() - 1);
            if (!isVisible(first + static_cast<int>(low)) || !isVisible(first + static_cast<int>(high))) continue;
            h.faults = s.severities[low];
            if (s.graded && low + 1 < s.severities.size())
                between(h.faults.front(), s.severities[low + 1].front(), at - static_cast<double>(low));
            return h;
        }
    }

    std::mt19937& random() { return random_; }

private:
    bool isVisible(int at) const
    {
        for (const auto& block : reasoner_.table().all()) {
            for (const Column& c : block->columns) {
                if (c.probe.element >= 0) continue;
                const float v = c.value[static_cast<std::size_t>(at)];
                if (std::isnan(v)) return false;  // it chatters: no figure to find it by
                if (std::abs(v - c.value[0]) > visible_V) return true;
            }
        }
        return false;
    }

    static void between(Fault& fault, const Fault& further, double share)
    {
        if (further.kind != fault.kind) return;
        const auto mix = [&](double a, double b) {
            return a > 0 && b > 0 ? std::exp((1 - share) * std::log(a) + share * std::log(b)) : a;
        };
        fault.resistance_ohm = mix(fault.resistance_ohm, further.resistance_ohm);
        fault.factor = mix(fault.factor, further.factor);
    }

    const Reasoner& reasoner_;
    std::vector<int> first_;
    std::vector<double> weights_;
    std::mt19937 random_;
};

// What the owner of the machine would tell and the module would store, by the functions and codes of the map.
Paper paperOf(const Reasoner& reasoner, const std::vector<Fault>& faults)
{
    Paper all, paper;
    const Map& map = reasoner.map();
    for (const Function& f : map.functions)
        all.dead.push_back(f.id);
    for (const CodeCondition& c : map.codes)
        all.codes.push_back(c.code);
    const auto holds = [&](const Observation& o) {
        Condition condition = o.setup;
        condition.faults = faults;
        const auto point = operatingPoint(map, condition);
        return point && std::all_of(o.needs.begin(), o.needs.end(), [&](const Observation::Need& need) {
                   const double v = need.probe.element >= 0 ? point->currentThrough(need.probe.element)
                                                            : point->voltage(need.probe.red, need.probe.black);
                   return v >= need.low && v <= need.high;
               });
    };
    const auto seen = observationsOf(map, {}, all);
    std::size_t at = 0;
    for (const Function& f : map.functions)
        (holds(seen[at++]) ? paper.works : paper.dead).push_back(f.id);
    for (const CodeCondition& c : map.codes) {
        if (holds(seen[at++])) paper.codes.push_back(c.code);
    }
    return paper;
}

struct Score {
    int runs = 0, verdicts = 0, right = 0, wrongCondemnation = 0, moduleMissed = 0, open = 0, inTop = 0;
    std::vector<double> tests, minutes;
};

double quantile(std::vector<double> values, double q)
{
    if (values.empty()) return 0;
    std::sort(values.begin(), values.end());
    return values[static_cast<std::size_t>(q * static_cast<double>(values.size() - 1) + 0.5)];
}

bool contains(const std::vector<Suspect>& suspects, const SuspectGroup& group, const std::vector<int>& truths)
{
    return std::all_of(truths.begin(), truths.end(), [&](int truth) {
        const std::string& id = suspects[static_cast<std::size_t>(truth)].id;
        return std::any_of(group.members.begin(), group.members.end(), [&](int m) {
            const std::string& member = suspects[static_cast<std::size_t>(m)].id;
            return member == id || member.find(id + " + ") == 0 ||
                   (member.size() > id.size() + 3 && member.rfind(" + " + id) == member.size() - id.size() - 3);
        });
    });
}

void count(const Reasoner& reasoner, const Run& run, const std::vector<int>& truths, bool insideTruth, Score& score)
{
    ++score.runs;
    score.tests.push_back(run.tests);
    score.minutes.push_back(run.minutes);
    const bool right = !run.last.groups.empty() && contains(reasoner.suspects(), run.last.groups.front(), truths);
    score.inTop += right;
    using Kind = Conclusion::Kind;
    const Kind kind = run.last.conclusion.kind;
    if (kind == Kind::Open)
        ++score.open;
    else {
        ++score.verdicts;
        score.right += right;
    }
    if (kind == Kind::Inside && !insideTruth) ++score.wrongCondemnation;
    if (kind == Kind::Outside && insideTruth) ++score.moduleMissed;
}

std::string line(const std::string& name, const Score& s)
{
    const auto share = [&](int n, int of) {
        return of == 0 ? std::string("–") : fmt::format("{:.1f} %", 100.0 * n / of);
    };
    return fmt::format("| {} | {} | {} | {} | {} | {} | {} | {:.0f} / {:.0f} | {:.0f} / {:.0f} |\n", name, s.runs,
                       share(s.inTop, s.runs), share(s.right, s.verdicts), s.open, s.wrongCondemnation, s.moduleMissed,
                       quantile(s.tests, 0.5), quantile(s.tests, 0.9), quantile(s.minutes, 0.5),
                       quantile(s.minutes, 0.9));
}

Score singles(Reasoner& reasoner, int runs, bool complaint, const Choice& choice = firstSuggestion)
{
    Score score;
    reasoner.forget(complaint);
    Draw draw(reasoner, 20261);
    for (int n = 0; n < runs; ++n) {
        reasoner.forget(complaint);
        Hidden hidden = draw.next();
        Paper paper;
        // Nobody complains of a fault that stops nothing and sets no code.
        if (complaint) {
            for (paper = paperOf(reasoner, hidden.faults); paper.dead.empty() && paper.codes.empty();
                 paper = paperOf(reasoner, hidden.faults))
                hidden = draw.next();
        }
        Imperfection imperfection;
        imperfection.none = false;
        imperfection.seed = 1000U + static_cast<std::uint32_t>(n);
        SimulatedMachine machine(reasoner.map(), hidden.faults, {}, imperfection);
        const Run run = follow(reasoner, machine, paper, {}, complaint, mostTests, choice);
        count(reasoner, run, {hidden.suspect},
              reasoner.suspects()[static_cast<std::size_t>(hidden.suspect)].insideModule, score);
    }
    return score;
}

}  // namespace

int main(int argc, char** argv)
{
    if (argc < 3) return std::fprintf(stderr, "ilvek-quality MAP OUT.md [WITH_COMPLAINT] [NOTHING_KNOWN]\n"), 1;
    const auto map = readMapFile(argv[1]);
    if (!map) return std::fprintf(stderr, "%s\n", map.error().front().message().c_str()), 2;
    const int told = argc > 3 ? std::atoi(argv[3]) : 300, unknown = argc > 4 ? std::atoi(argv[4]) : 300;
    Reasoner reasoner(*map, {}, true);
    while (reasoner.buildNext()) {
    }
    std::string out =
        "| hidden | runs | right group first | right when a verdict is given | no verdict | wrong condemnation | "
        "module "
        "fault missed | tests, median / 90 % | minutes, median / 90 % |\n|---|---|---|---|---|---|---|---|---|\n";
    if (told > 0) out += line("one fault, with complaint and codes", singles(reasoner, told, true));
    if (unknown > 0) out += line("one fault, nothing known", singles(reasoner, unknown, false));
    fmt::print("{}", out);
    if (const auto written = writeFile(argv[2], out); !written) return 3;
    return 0;
}
