// How good the reasoning is, as a table: hidden random faults on a machine whose sound parts differ from the book, read
// with a noisy meter, found by following the first suggestion, by the fixed order of the ledger and by halving. Fixed
// seeds.
#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <atomic>
#include <cmath>
#include <mutex>
#include <thread>

#include "base/file.h"
#include "circuit/blown_fuses.h"
#include "machine/map_reader.h"
#include "practice/hidden_faults.h"

namespace {

using namespace ilvek;
using namespace ilvek::practice;

// Nothing told means to look everywhere: the machine has some sixty terminals at its module alone.
constexpr int mostToldTests = 40, mostTests = 120;
constexpr std::uint32_t seed = 20261;

enum class Way { FirstSuggestion, LedgerOrder, Halving };

// The plan of the ledger, terminal after terminal, as if nothing were reasoned.
Choice ledgerOrder(const Map& map)
{
    return [&map](const Reasoning& r, const OpenJob& open) -> std::optional<Step> {
        if (r.conclusion.kind != Conclusion::Kind::Open) return std::nullopt;
        const auto& readings = open.assessment.evidence.readings;
        const std::int64_t now = readings.empty() ? 0 : readings.back().time_ms;
        return nextStep(map, open.assessment, {now, open.job.state});
    };
}

// The test that comes nearest to splitting what is still possible into two halves, whatever it costs.
Choice halving(const Reasoner& reasoner, const WayOfWorking& working)
{
    return [&reasoner, working](const Reasoning& r, const OpenJob&) -> std::optional<Step> {
        if (r.conclusion.kind != Conclusion::Kind::Open) return std::nullopt;
        const auto hypotheses = reasoner.belief().hypotheses();
        const auto& taken = reasoner.belief().taken();
        double nearest = 0.5;
        const Candidate* best = nullptr;
        for (const Candidate& c : reasoner.candidates()) {
            if (c.kind == Candidate::Kind::Look) continue;
            const Probe probe = probeOf(c);
            const Column* column = reasoner.table().find(c.setup, probe);
            const bool done = std::any_of(taken.begin(), taken.end(),
                                          [&](const Observation& o) { return o.setup == c.setup && o.probe == probe; });
            if (!column || done) continue;
            const float seen = 3 * std::hypot(0.01F + 0.0035F * std::abs(column->value[0]), column->tolerance);
            double moved = 0;
            for (const auto& h : hypotheses) {
                const double v = reasoner.belief().valueAt(*column, h);
                if (std::abs(v - static_cast<double>(column->value[0])) > static_cast<double>(seen)) moved += h.weight;
            }
            if (std::abs(moved - 0.5) >= nearest) continue;
            nearest = std::abs(moved - 0.5);
            best = &c;
        }
        if (!best || nearest > 0.499) return std::nullopt;
        return stepFor(reasoner.map(), working, *best);
    };
}

struct Task {
    Hidden hidden;
    std::optional<OtherWiring> wiring;  // instead of a fault
    bool told = false;
    Way way = Way::FirstSuggestion;
    int number = 0;
};

struct SearchEnd {
    bool right = false, verdict = false, wrongCondemnation = false, moduleMissed = false;
    int tests = 0;
    double minutes = 0;
    std::size_t found = 0;  // which of two faults was named
    std::string words;      // what was hidden and what came out
};

bool namesOne(const std::vector<Suspect>& suspects, const SuspectGroup& group, const Hidden& hidden)
{
    const auto named = [&](int truth) {
        const std::string& id = suspects[static_cast<std::size_t>(truth)].id;
        return std::any_of(group.members.begin(), group.members.end(), [&](int m) {
            const std::string& member = suspects[static_cast<std::size_t>(m)].id;
            return member == id || member.starts_with(id + " + ") || member.ends_with(" + " + id);
        });
    };
    return std::any_of(hidden.suspects.begin(), hidden.suspects.end(), named);
}

// The terminal whose map is wrong, or the wire that does not end where the map says.
bool namesWiring(const Reasoner& reasoner, const SuspectGroup& group, const OtherWiring& wiring)
{
    const Map& map = reasoner.map();
    return std::any_of(group.members.begin(), group.members.end(), [&](int m) {
        const Suspect& s = reasoner.suspects()[static_cast<std::size_t>(m)];
        if (s.element >= 0) return std::find(wiring.wires.begin(), wiring.wires.end(), s.element) != wiring.wires.end();
        return isOfTheMap(s) && std::any_of(wiring.terminals.begin(), wiring.terminals.end(), [&](const auto& id) {
                   const int node = map.terminal(map.terminalIndex(id)).a;
                   return s.node == node || s.node2 == node;
               });
    });
}

std::string wordsOf(const Reasoner& reasoner, const Task& task, const Run& run, bool right)
{
    std::string words = fmt::format("{} after {} tests, kind {}: hidden ", right ? "right" : "wrong", run.tests,
                                    static_cast<int>(run.last.conclusion.kind));
    for (const int s : task.hidden.suspects)
        words += reasoner.suspects()[static_cast<std::size_t>(s)].id + "; ";
    if (task.wiring) words += fmt::format("other wiring at {}; ", fmt::join(task.wiring->terminals, ", "));
    words += "first ";
    for (std::size_t g = 0; g < run.last.groups.size() && g < 3; ++g)
        words += fmt::format("{} {:.3f}, ", run.last.groups[g].words, run.last.groups[g].probability);
    return words;
}

// One search on one machine: it ends with a verdict or without.
SearchEnd search(Reasoner& reasoner, const Task& task)
{
    Imperfection imperfection;
    imperfection.none = false;
    imperfection.seed = 1000U + static_cast<std::uint32_t>(task.number);
    const Map& machine = task.wiring ? task.wiring->machine : reasoner.map();
    SimulatedMachine simulated(machine, task.hidden.faults, {}, imperfection);
    const Choice choice = task.way == Way::LedgerOrder ? ledgerOrder(reasoner.map())
                          : task.way == Way::Halving   ? halving(reasoner, {})
                                                       : firstSuggestion;
    const Run run = follow(reasoner, simulated, {task.hidden.reports, task.told}, {},
                           task.told ? mostToldTests : mostTests, choice);
    SearchEnd out;
    out.tests = run.tests;
    out.minutes = run.minutes;
    using Kind = Conclusion::Kind;
    const Kind kind = run.last.conclusion.kind;
    out.verdict = kind != Kind::Open;
    if (!run.last.groups.empty()) {
        const SuspectGroup& top = run.last.groups.front();
        out.right =
            task.wiring ? namesWiring(reasoner, top, *task.wiring) : namesOne(reasoner.suspects(), top, task.hidden);
        for (std::size_t i = 0; i < task.hidden.suspects.size(); ++i) {
            if (namesOne(reasoner.suspects(), top, {{task.hidden.suspects[i]}, {}, {}, false})) out.found = i;
        }
    }
    out.wrongCondemnation = kind == Kind::Inside && !task.hidden.insideModule;
    out.moduleMissed = kind == Kind::Outside && task.hidden.insideModule && !out.right;
    out.words = wordsOf(reasoner, task, run, out.right);
    return out;
}

// Of two faults the first one found is mended, and what is then told of the machine starts the search for the other.
SearchEnd play(Reasoner& reasoner, const Task& task)
{
    SearchEnd first = search(reasoner, task);
    if (task.hidden.suspects.size() < 2 || !first.right) return first;
    const std::size_t left = 1 - first.found;
    Task rest = task;
    rest.hidden.suspects = {task.hidden.suspects[left]};
    rest.hidden.faults.erase(rest.hidden.faults.begin() + static_cast<std::ptrdiff_t>(first.found));
    rest.hidden.insideModule = reasoner.suspects()[static_cast<std::size_t>(rest.hidden.suspects.front())].insideModule;
    rest.hidden.faults = withBlownFuses(reasoner.map(), rest.hidden.faults);
    rest.hidden.reports = reportOf(reasoner.map(), rest.hidden.faults);
    rest.told = !rest.hidden.reports.dead.empty() || !rest.hidden.reports.codes.empty();
    SearchEnd second = search(reasoner, rest);
    second.tests += first.tests;
    second.minutes += first.minutes;
    second.verdict = second.verdict && first.verdict;
    second.wrongCondemnation = second.wrongCondemnation || first.wrongCondemnation;
    second.moduleMissed = second.moduleMissed || first.moduleMissed;
    second.words = first.words + "\n    then " + second.words;
    return second;
}

double quantile(std::vector<double> values, double q)
{
    if (values.empty()) return 0;
    std::sort(values.begin(), values.end());
    return values[static_cast<std::size_t>(q * static_cast<double>(values.size() - 1) + 0.5)];
}

std::string row(const std::string& name, const std::vector<SearchEnd>& outcomes)
{
    const auto count = [&](auto of) { return std::count_if(outcomes.begin(), outcomes.end(), of); };
    const auto share = [](auto n, auto of) {
        return of == 0 ? std::string("–")
                       : fmt::format("{:.1f} %", 100.0 * static_cast<double>(n) / static_cast<double>(of));
    };
    const auto verdicts = count([](const SearchEnd& o) { return o.verdict; });
    std::vector<double> tests, minutes;
    for (const SearchEnd& o : outcomes) {
        tests.push_back(o.tests);
        minutes.push_back(o.minutes);
    }
    const auto runs = static_cast<long>(outcomes.size());
    return fmt::format("| {} | {} | {} | {} | {} | {} | {} | {:.0f} / {:.0f} | {:.0f} / {:.0f} |\n", name, runs,
                       share(count([](const SearchEnd& o) { return o.right; }), runs),
                       share(count([](const SearchEnd& o) { return o.verdict && o.right; }), verdicts), runs - verdicts,
                       count([](const SearchEnd& o) { return o.wrongCondemnation; }),
                       count([](const SearchEnd& o) { return o.moduleMissed; }), quantile(tests, 0.5),
                       quantile(tests, 0.9), quantile(minutes, 0.5), quantile(minutes, 0.9));
}

std::unique_ptr<Reasoner> complete(const Map& map)
{
    auto reasoner = std::make_unique<Reasoner>(map, WayOfWorking{}, true);
    while (reasoner->buildNext()) {
    }
    return reasoner;
}

// Every worker has a reasoner of its own.
std::vector<SearchEnd> playAll(const std::vector<std::unique_ptr<Reasoner>>& reasoners, const std::vector<Task>& tasks)
{
    std::vector<SearchEnd> out(tasks.size());
    std::atomic<std::size_t> next = 0;
    std::vector<std::thread> workers;
    for (const auto& reasoner : reasoners) {
        workers.emplace_back([&] {
            for (std::size_t i = next++; i < tasks.size(); i = next++)
                out[i] = play(*reasoner, tasks[i]);
        });
    }
    for (std::thread& w : workers)
        w.join();
    return out;
}

struct Row {
    std::string name;
    int runs = 0;
    bool told = true;
    Way way = Way::FirstSuggestion;
    enum class What { Single, Double, Wiring } what = What::Single;
};

std::vector<Task> tasksOf(const Reasoner& reasoner, const Row& row)
{
    HiddenFaults faults(reasoner, seed);
    std::vector<Task> tasks;
    for (int n = 0; n < row.runs; ++n) {
        Task task;
        task.told = row.told;
        task.way = row.way;
        task.number = n;
        if (row.what == Row::What::Single) task.hidden = faults.single(row.told);
        if (row.what == Row::What::Double) task.hidden = faults.pair(row.told);
        if (row.what == Row::What::Wiring) {
            task.wiring = otherWiring(reasoner.map(), seed + static_cast<std::uint32_t>(n));
            task.hidden.reports = reportOf(reasoner.map(), {}, &task.wiring->machine);
        }
        tasks.push_back(std::move(task));
    }
    return tasks;
}

constexpr const char* head =
    "| hidden | runs | right group first | right when a verdict is given | no verdict | wrong condemnation | module "
    "fault missed | tests, median / 90 % | minutes, median / 90 % |\n|---|---|---|---|---|---|---|---|---|\n";

}  // namespace

int main(int argc, char** argv)
{
    std::string mapFile, outFile, missesFile, only;
    int single = 300, unknown = 300, twice = 50, wiring = 20, compared = 20;
    CLI::App app("How good the reasoning is, as a table");
    app.add_option("MAP", mapFile)->required();
    app.add_option("OUT.md", outFile)->required();
    app.add_option("--single", single, "single faults with complaint and codes");
    app.add_option("--unknown", unknown, "single faults of which nothing is told");
    app.add_option("--double", twice, "double faults");
    app.add_option("--wiring", wiring, "machines wired otherwise than their map");
    app.add_option("--compared", compared, "of each kind for the ledger's order and for halving");
    app.add_option("--only", only, "only the rows whose name holds this");
    app.add_option("--misses", missesFile, "a file for every run that did not end right");
    CLI11_PARSE(app, argc, argv);
    const auto map = readMapFile(mapFile);
    if (!map) return fmt::print(stderr, "{}\n", map.error().front().message()), 2;
    std::vector<std::unique_ptr<Reasoner>> reasoners(std::max(1U, std::thread::hardware_concurrency()));
    std::vector<std::thread> builders;
    for (auto& r : reasoners)
        builders.emplace_back([&] { r = complete(*map); });
    for (std::thread& b : builders)
        b.join();
    using What = Row::What;
    const int comparedWiring = std::min(compared, wiring);
    const Row rows[] = {
        {"one fault, with complaint and codes", single},
        {"one fault, nothing known", unknown, false},
        {"two faults, with complaint and codes", twice, true, Way::FirstSuggestion, What::Double},
        {"wired otherwise than the map says", wiring, true, Way::FirstSuggestion, What::Wiring},
        {"one fault, in the ledger's order, with complaint", compared, true, Way::LedgerOrder},
        {"one fault, in the ledger's order, nothing known", compared, false, Way::LedgerOrder},
        {"one fault, by halving, with complaint", compared, true, Way::Halving},
        {"one fault, by halving, nothing known", compared, false, Way::Halving},
        {"two faults, in the ledger's order, with complaint", compared, true, Way::LedgerOrder, What::Double},
        {"two faults, by halving, with complaint", compared, true, Way::Halving, What::Double},
        {"wired otherwise, in the ledger's order", comparedWiring, true, Way::LedgerOrder, What::Wiring},
        {"wired otherwise, by halving", comparedWiring, true, Way::Halving, What::Wiring},
    };
    std::string out = head, misses;
    for (const Row& r : rows) {
        if (r.runs == 0 || r.name.find(only) == std::string::npos) continue;
        const auto outcomes = playAll(reasoners, tasksOf(*reasoners.front(), r));
        out += row(r.name, outcomes);
        misses += r.name + "\n";
        for (const SearchEnd& o : outcomes) {
            if (!o.right || o.wrongCondemnation) misses += "  " + o.words + "\n";
        }
        if (!writeFile(outFile, out) || (!missesFile.empty() && !writeFile(missesFile, misses))) return 3;
    }
    fmt::print("{}", out);
    return 0;
}
