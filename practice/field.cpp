// How right the reasoning is on machines that nobody mapped, as a table with its floors: random bench maps, their true
// machines, technicians who read the wrong neighbour now and then. Fixed seeds.
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <atomic>
#include <mutex>
#include <thread>

#include "base/file.h"
#include "circuit/blown_fuses.h"
#include "circuit/operating_point.h"
#include "job/hand_over.h"
#include "practice/field_machine.h"
#include "practice/hidden_faults.h"

namespace {

using namespace ilvek;
using namespace ilvek::practice;

constexpr int mostTests = 40;
constexpr double presentShare = 0.6;  // of the readings, of a fault that comes and goes
constexpr double growsAfter_s = 300;  // on the job a slight fault is as bad as it can be
constexpr double wrongNeighbour = 0.02;

// What is hidden in a machine that is not sound.
enum class Hides { OneFault, ComesAndGoes, TwoFaults, Grows };

struct Task {
    std::uint32_t seed = 0;
    bool isHealthy = false;
    Hides hides = Hides::OneFault;
    bool shows = false;
    FieldSpread spread = {};
    std::string jobFile = {};
    std::string sheetFile = {};  // empty: a sheet drawn at random
    double systemVoltage_V = 12;
};

FieldMachine machineOf(const Task& task)
{
    if (task.sheetFile.empty()) return fieldMachine(task.seed, task.spread);
    const auto text = readFile(task.sheetFile);
    auto machine = text ? machineBehind(*text, task.sheetFile, task.systemVoltage_V, task.seed, task.spread)
                        : Result<FieldMachine, Problems>(tl::unexpected(Problems{text.error()}));
    if (machine) return std::move(*machine);
    for (const Error& e : machine.error())
        fmt::print(stderr, "{}\n", e.message());
    std::exit(2);
}

struct End {
    bool accused = false, verdict = false, right = false, first = false, inside = false, moduleVerdict = false;
    bool condemned = false, contradicts = false;
    Hides hides = Hides::OneFault;
    int tests = 0, readings = 0, slips = 0;
    std::string words;
};

using Kind = Conclusion::Kind;

bool isBlame(Kind kind)
{
    return kind == Kind::Outside || kind == Kind::Inside || kind == Kind::Either;
}

bool isAccused(const Reasoner& reasoner, const Reasoning& r)
{
    if (isBlame(r.conclusion.kind)) return true;
    return std::any_of(r.groups.begin(), r.groups.end(), [&](const SuspectGroup& g) {
        return !g.members.empty() && g.members.size() <= 8 && g.probability >= 0.9 &&
               isFault(reasoner.suspects()[static_cast<std::size_t>(g.members.front())]);
    });
}

bool names(const Reasoner& reasoner, const SuspectGroup& group, int truth)
{
    const auto& suspects = reasoner.suspects();
    const std::string& id = suspects[static_cast<std::size_t>(truth)].id;
    return std::any_of(group.members.begin(), group.members.end(), [&](int m) {
        const std::string& member = suspects[static_cast<std::size_t>(m)].id;
        return member == id || member.starts_with(id + " + ") || member.ends_with(" + " + id);
    });
}

// The sheet and every reading, for people.
void show(const FieldMachine& machine, const Run& run, const std::string& jobFile)
{
    if (!jobFile.empty() && !exportContent(run.content, jobFile, {}))
        fmt::print(stderr, "{} cannot be written\n", jobFile);
    fmt::print("{}", machine.sheet);
    for (const Fault& f : machine.truth) {
        const Element& e = machine.map.element(f.element);
        if (f.factor < 0.5 || f.factor > 2) fmt::print("  really {:.2f} times: {}\n", f.factor, e.id);
    }
    for (std::size_t i = 0; i < machine.made.elements.size(); ++i) {
        const Element& e = machine.made.elements[i];
        const bool same = e.nodes == machine.map.elements[i].nodes && e.values == machine.map.elements[i].values;
        if (!same) fmt::print("  made otherwise: {}\n", e.id);
    }
    const auto& readings = run.open.job.evidence.readings;
    for (std::size_t i = 0; i < readings.size(); ++i) {
        const Reading& r = readings[i];
        const Judgement& j = run.open.assessment.judgements[i];
        fmt::print("{:3} {:<16} {:<22} {:<22} {:<10} {:<24} {:<10} {}. {}\n", r.id, r.state, r.red, r.black, r.load,
                   fmt::format("{}", fmt::join(r.unplugged, " ")), figureOf(r), j.word, j.arithmetic);
    }
}

// What is told of the machine: each function is held against what the same machine does when it is sound.
Reports reportsOn(const Map& map, const std::vector<Fault>& truth, const std::vector<Fault>& faults)
{
    Reports out;
    constexpr double works = 0.7;
    for (const Function& f : map.functions) {
        Condition condition;
        condition.state = f.state;
        condition.faults = truth;
        const auto sound = operatingPoint(map, condition);
        condition.faults.insert(condition.faults.end(), faults.begin(), faults.end());
        const auto now = operatingPoint(map, condition);
        if (!sound || !now) continue;
        bool dead = false;
        for (const int e : f.currents)
            dead = dead || std::abs(now->currentThrough(e)) < works * std::abs(sound->currentThrough(e));
        for (const int e : f.ports) {
            const auto& nodes = map.element(e).nodes;
            dead = dead || now->voltage(nodes[0], nodes[1]) < map.element(e).value("brown_out");
        }
        (dead ? out.dead : out.works).push_back(f.id);
    }
    for (const CodeCondition& c : map.codes) {
        Condition condition;
        condition.state = c.state;
        condition.faults = truth;
        condition.faults.insert(condition.faults.end(), faults.begin(), faults.end());
        const auto now = operatingPoint(map, condition);
        const Terminal& t = map.terminal(c.terminal);
        if (!now || t.b < 0 || c.quiet >= 0) continue;
        const double level = now->voltage(t.b, t.ownReturn >= 0 ? map.terminal(t.ownReturn).b : map.batteryMinus());
        if ((c.below_V && level < *c.below_V) || (c.above_V && level > *c.above_V)) out.codes.push_back(c.code);
    }
    return out;
}

// With what they have blown. Behind what comes and goes stands a breaker, which closes again (W24).
std::vector<Fault> asItComesIn(const FieldMachine& machine, std::vector<Fault> faults, Hides hides)
{
    if (hides != Hides::ComesAndGoes) return withBlownFuses(machine.made, faults, machine.truth);
    faults.resize(ownFaults(faults));
    return faults;
}

// Faults that somebody complains of: a function of the machine fails.
Hidden complainedOf(HiddenFaults& faults, const FieldMachine& machine, Hides hides)
{
    constexpr int mostDraws = 400;
    for (int n = 0;; ++n) {
        Hidden hidden = hides == Hides::TwoFaults ? faults.pair(false) : faults.single(false);
        if (hides == Hides::Grows && hidden.worst.empty()) continue;
        hidden.faults = asItComesIn(machine, hidden.faults, hides);
        hidden.reports = reportsOn(machine.map, machine.truth, hides == Hides::Grows ? hidden.worst : hidden.faults);
        if (!hidden.reports.dead.empty() || n >= mostDraws) return hidden;
    }
}

// Of twenty machines one has a fault that comes and goes, one has two, and one has a slight one that grows.
Hides hidesOf(int number)
{
    switch (number % 20) {
        case 4:
            return Hides::Grows;
        case 9:
            return Hides::ComesAndGoes;
        case 19:
            return Hides::TwoFaults;
        default:
            return Hides::OneFault;
    }
}

End play(const Task& task)
{
    const FieldMachine machine = machineOf(task);
    Reasoner reasoner(machine.map, {}, true);
    while (reasoner.buildNext()) {
    }
    Hidden hidden;
    HiddenFaults hiddenFaults(reasoner, task.seed);
    if (!task.isHealthy) hidden = complainedOf(hiddenFaults, machine, task.hides);
    Imperfection imperfection;
    imperfection.none = false;
    imperfection.parts = 0;
    imperfection.seed = task.seed;
    imperfection.wrongNeighbour = wrongNeighbour;
    const auto with = [&](const std::vector<Fault>& faults) {
        std::vector<Fault> all = machine.truth;
        all.insert(all.end(), faults.begin(), faults.end());
        return all;
    };
    // What the machine is off by is there at all times.
    const bool grows = task.hides == Hides::Grows;
    Timing timing;
    if (task.hides == Hides::ComesAndGoes) timing = {presentShare, 0, machine.truth};
    if (grows) timing = {1, growsAfter_s, with(hidden.faults)};
    const std::vector<Fault> faults = with(grows ? hidden.worst : hidden.faults);
    SimulatedMachine simulated(machine.made, faults, timing, imperfection);
    const Run run = follow(reasoner, simulated, {hidden.reports, true}, {}, mostTests);
    const Gate gate = run.open.gate(run.now_ms(), &run.last);
    End end;
    end.tests = run.tests;
    end.readings = static_cast<int>(run.open.job.evidence.readings.size());
    std::size_t made = 0;
    for (const Reading& r : run.open.job.evidence.readings) {
        if (r.test != TestKind::Look) ++made;
        const auto& doubtful = run.last.doubtful;
        const bool doubted = std::find(doubtful.begin(), doubtful.end(), r.id) != doubtful.end();
        if (doubted && !simulated.wasMisread(made)) ++end.slips;
    }
    const Kind kind = run.last.conclusion.kind;
    end.accused = isAccused(reasoner, run.last);
    end.verdict = isBlame(kind);
    end.moduleVerdict = kind == Kind::Inside;
    end.inside = hidden.insideModule;
    if (!run.last.groups.empty() && !task.isHealthy)
        end.first = std::any_of(hidden.suspects.begin(), hidden.suspects.end(),
                                [&](int s) { return names(reasoner, run.last.groups.front(), s); });
    end.hides = task.hides;
    end.right = end.verdict && end.first;
    end.condemned = gate.outcome == Outcome::MayBeCondemned && !hidden.insideModule;
    end.contradicts =
        (kind == Kind::Outside && gate.outcome == Outcome::MayBeCondemned) || (task.isHealthy && !gate.located.empty());
    end.words = fmt::format(
        "seed {}, {} V, {} terminals, {} tests, kind {}: hidden {}; first ", task.seed, machine.map.systemVoltage_V,
        machine.map.moduleTerminals().size(), end.tests, static_cast<int>(kind),
        task.isHealthy ? "nothing" : reasoner.suspects()[static_cast<std::size_t>(hidden.suspects.front())].id);
    for (std::size_t g = 0; g < run.last.groups.size() && g < 3; ++g)
        end.words += fmt::format("{} {:.3f}, ", run.last.groups[g].words, run.last.groups[g].probability);
    if (!gate.located.empty()) end.words += "gate: " + gate.located;
    if (task.shows) show(machine, run, task.jobFile);
    return end;
}

std::vector<End> playAll(const std::vector<Task>& tasks)
{
    std::vector<End> out(tasks.size());
    std::atomic<std::size_t> next = 0;
    std::vector<std::thread> workers;
    for (unsigned w = 0; w < std::max(1U, std::thread::hardware_concurrency()); ++w) {
        workers.emplace_back([&] {
            for (std::size_t i = next++; i < tasks.size(); i = next++)
                out[i] = play(tasks[i]);
        });
    }
    for (std::thread& w : workers)
        w.join();
    return out;
}

std::string share(long n, long of)
{
    return of == 0
               ? "–"
               : fmt::format("{:.1f} % ({} of {})", 100.0 * static_cast<double>(n) / static_cast<double>(of), n, of);
}

int quantile(std::vector<int> values, double q)
{
    if (values.empty()) return 0;
    std::sort(values.begin(), values.end());
    return values[static_cast<std::size_t>(q * static_cast<double>(values.size() - 1) + 0.5)];
}

// What one set of machines came to, a line each: what it is, its floor, the figure.
struct Line {
    std::string what, floor, figure;
};

std::vector<Line> linesOf(const std::vector<End>& healthy, const std::vector<End>& faulty)
{
    const auto count = [](const std::vector<End>& ends, auto of) {
        return std::count_if(ends.begin(), ends.end(), of);
    };
    const auto size = [](const std::vector<End>& ends) { return static_cast<long>(ends.size()); };
    const auto sum = [](const std::vector<End>& ends, int End::*of) {
        long total = 0;
        for (const End& e : ends)
            total += e.*of;
        return total;
    };
    const auto of = [&](Hides hides, auto what) {
        return count(faulty, [&](const End& e) { return e.hides == hides && what(e); });
    };
    std::vector<int> tests;
    for (const End& e : faulty) {
        if (e.verdict) tests.push_back(e.tests);
    }
    const auto verdicts = count(faulty, [](const End& e) { return e.verdict; });
    const auto ofModule = count(faulty, [](const End& e) { return e.moduleVerdict; });
    std::vector<Line> out;
    const auto line = [&](const std::string& what, const char* floor, const std::string& figure) {
        out.push_back({what, floor, figure});
    };
    line("healthy machine accused (a verdict, or 90 % on at most eight places)", "≤ 1 %",
         share(count(healthy, [](const End& e) { return e.accused; }), size(healthy)));
    line("right when a verdict is given", "≥ 96 %",
         share(count(faulty, [](const End& e) { return e.right; }), verdicts));
    line("the same, module", "≥ 98.5 %",
         share(count(faulty, [](const End& e) { return e.moduleVerdict && e.inside; }), ofModule));
    line("wrong condemnations by the gate", "0",
         fmt::format("{}", count(healthy, [](const End& e) { return e.condemned; }) +
                               count(faulty, [](const End& e) { return e.condemned; })));
    line("right group first (complaint and functions told)", "≥ 90 %",
         share(count(faulty, [](const End& e) { return e.first; }), size(faulty)));
    line("readings without a slip called a slip", "≤ 0.5 %",
         share(sum(healthy, &End::slips) + sum(faulty, &End::slips),
               sum(healthy, &End::readings) + sum(faulty, &End::readings)));
    line("judge, gate and suspects contradict each other", "0",
         fmt::format("{}", count(healthy, [](const End& e) { return e.contradicts; }) +
                               count(faulty, [](const End& e) { return e.contradicts; })));
    line("verdict given", "", share(verdicts, size(faulty)));
    for (const auto& [hides, name] : {std::pair{Hides::ComesAndGoes, "comes and goes"},
                                      std::pair{Hides::Grows, "slight at first, then as bad as it can be"},
                                      std::pair{Hides::TwoFaults, "two faults, one of them named"}}) {
        const auto given = of(hides, [](const End& e) { return e.verdict; });
        line(fmt::format("{}: right when a verdict is given", name), "",
             share(of(hides, [](const End& e) { return e.right; }), given));
        line(fmt::format("{}: right group first", name), "",
             share(of(hides, [](const End& e) { return e.first; }), of(hides, [](const End&) { return true; })));
    }
    line("tests to the verdict, median / 90 %", "≤ 8 / 25",
         fmt::format("{} / {}", quantile(tests, 0.5), quantile(tests, 0.9)));
    return out;
}

// Machines of one kind.
struct Set {
    std::string name;
    std::uint32_t seed = 0;
    FieldSpread spread = {};
};

// The standing machines, and others of which everything is drawn otherwise: sheets, sizes, spreads.
std::vector<Set> standingSets()
{
    FieldSpread otherwise;
    otherwise.unknown = 0.8;
    otherwise.missingShare = 0.8;
    otherwise.wrongShare = 0.1;
    otherwise.mostTerminals = 40;
    otherwise.flat = otherwise.workshop = true;
    return {{"standing machines", 20271, {}}, {"drawn otherwise", 1'700'000, otherwise}};
}

std::string table(const std::vector<Set>& sets, const std::vector<std::vector<Line>>& lines)
{
    std::string out = "| | floor |", under = "|---|---|";
    for (const Set& s : sets) {
        out += fmt::format(" {} |", s.name);
        under += "---|";
    }
    out += "\n" + under + "\n";
    for (std::size_t i = 0; i < lines.front().size(); ++i) {
        out += fmt::format("| {} | {} |", lines.front()[i].what, lines.front()[i].floor);
        for (const auto& ofSet : lines)
            out += fmt::format(" {} |", ofSet[i].figure);
        out += "\n";
    }
    return out;
}

// Runs that did not end right.
std::string missesOf(const std::vector<End>& healthy, const std::vector<End>& faulty)
{
    std::string out;
    for (const End& e : healthy) {
        if (e.accused || e.slips > 0 || e.contradicts || e.condemned) out += e.words + "\n";
    }
    for (const End& e : faulty) {
        if (!e.first || e.slips > 0 || e.contradicts || e.condemned) out += e.words + "\n";
    }
    return out;
}

}  // namespace

int main(int argc, char** argv)
{
    std::string outFile, missesFile;
    int healthy = 40, faulty = 160;
    Set drawn{"today", 20271, {}};
    FieldSpread& spread = drawn.spread;
    CLI::App app("How right the reasoning is on machines that nobody mapped");
    app.add_option("OUT.md", outFile)->required();
    app.add_option("--healthy", healthy, "machines with nothing wrong, of each set");
    app.add_option("--faulty", faulty, "machines with a fault");
    // Without any of these: the two standing sets.
    const std::vector<CLI::Option*> ofOneSet{
        app.add_option("--seed", drawn.seed, "of the first machine"),
        app.add_option("--unknown", spread.unknown, "spread of what nobody stated, sigma of its natural logarithm"),
        app.add_option("--missing", spread.missingShare, "share of the figures that the sheet leaves out"),
        app.add_option("--wrong", spread.wrongShare, "share of those it states that are wrong"),
        app.add_option("--terminals", spread.mostTerminals, "of the largest module"),
        app.add_flag("--flat", spread.flat, "every factor within the spread alike"),
        app.add_flag("--workshop", spread.workshop, "sheets in other words and of other circuits")};
    app.add_option("--misses", missesFile, "a file for every run that did not end right");
    std::string sheetFile;
    double systemVoltage_V = 12;
    app.add_option("--sheet", sheetFile, "a pin sheet that somebody wrote, instead of random ones");
    app.add_option("--volts", systemVoltage_V, "the system voltage of that sheet");
    std::uint32_t shown = 0;
    std::string jobFile;
    app.add_option("--job", jobFile, "of the machine that is shown");
    app.add_option("--show", shown, "only the machine of this seed, with its sheet and every reading");
    CLI11_PARSE(app, argc, argv);
    if (shown > 0) {
        const End end =
            play({shown, shown < drawn.seed + 100'000U, hidesOf(static_cast<int>(shown - drawn.seed - 100'000U)), true,
                  spread, jobFile, sheetFile, systemVoltage_V});
        fmt::print("{}\n", end.words);
        return 0;
    }
    const bool isOne = !sheetFile.empty() ||
                       std::any_of(ofOneSet.begin(), ofOneSet.end(), [](CLI::Option* o) { return o->count() > 0; });
    const std::vector<Set> sets = isOne ? std::vector<Set>{drawn} : standingSets();
    std::string misses;
    std::vector<std::vector<Line>> lines;
    for (const Set& set : sets) {
        const auto task = [&](std::uint32_t after, bool isHealthy, Hides hides) {
            return Task{set.seed + after, isHealthy, hides, false, set.spread, {}, sheetFile, systemVoltage_V};
        };
        std::vector<Task> sound, hidden;
        for (int n = 0; n < healthy; ++n)
            sound.push_back(task(static_cast<std::uint32_t>(n), true, Hides::OneFault));
        for (int n = 0; n < faulty; ++n)
            hidden.push_back(task(100'000U + static_cast<std::uint32_t>(n), false, hidesOf(n)));
        const auto a = playAll(sound), b = playAll(hidden);
        misses += missesOf(a, b);
        lines.push_back(linesOf(a, b));
    }
    const std::string out = table(sets, lines);
    fmt::print("{}", out);
    if (!writeFile(outFile, out) || (!missesFile.empty() && !writeFile(missesFile, misses))) return 3;
    return 0;
}
