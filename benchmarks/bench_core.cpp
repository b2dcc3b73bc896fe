// What an entry costs: reading the map, solving the circuit, judging a job, the gate.
#include <benchmark/benchmark.h>

#include <cmath>
#include <map>

#include "base/file.h"
#include "circuit/fault_sweep.h"
#include "circuit/operating_point.h"
#include "job/job.h"
#include "machine/map_reader.h"
#include "practice/demo_job.h"
#include "practice/field_machine.h"
#include "verdict/gate.h"
#include "verdict/reasoner.h"

namespace {

using namespace ilvek;

const Map& pt9()
{
    static const Map map = *readMapFile(std::string(ILVEK_SOURCE_DIR) + "/data/maps/pt-9.json");
    return map;
}

const std::vector<Event>& events()
{
    static const std::vector<Event> all = *practice::demoEvents(pt9());
    return all;
}

void readMapText(benchmark::State& state)
{
    for (auto _ : state)
        benchmark::DoNotOptimize(readMap(pt9().document, "pt-9.json"));
}
BENCHMARK(readMapText)->Unit(benchmark::kMillisecond);

void operatingPointFromCold(benchmark::State& state)
{
    Condition condition;
    condition.state = pt9().stateIndex("key-on");
    double emf = 12.0;
    for (auto _ : state) {
        condition.batteryEmf_V = emf += 1e-9;  // another condition each time: nothing kept can answer
        benchmark::DoNotOptimize(operatingPoint(pt9(), condition));
    }
}
BENCHMARK(operatingPointFromCold)->Unit(benchmark::kMillisecond);

void foldAndJudgeJob(benchmark::State& state)
{
    for (auto _ : state) {
        const auto job = foldJob({pt9().document, events()});
        benchmark::DoNotOptimize(assess(job->map, job->evidence));
    }
}
BENCHMARK(foldAndJudgeJob)->Unit(benchmark::kMillisecond);

void gateWithNextStep(benchmark::State& state)
{
    const auto job = foldJob({pt9().document, events()});
    const Assessment a = assess(job->map, job->evidence);
    for (auto _ : state)
        benchmark::DoNotOptimize(gateOf(job->map, a, {events().back().time_ms, "key-on"}));
}
BENCHMARK(gateWithNextStep)->Unit(benchmark::kMillisecond);

// Every fault of the map's conductors and loads on one condition, each as an edit; items are faults.
void faultByEdit(benchmark::State& state)
{
    Condition condition;
    condition.state = pt9().stateIndex("key-on");
    auto sweep = *FaultSweep::of(pt9(), condition);
    const auto suspects = suspectsOf(pt9(), true);
    long faults = 0;
    for (auto _ : state) {
        for (const Suspect& s : suspects) {
            for (const auto& severity : s.severities) {
                benchmark::DoNotOptimize(sweep.apply(severity));
                ++faults;
            }
        }
    }
    state.SetItemsProcessed(faults);
    state.counters["solved anew"] =
        benchmark::Counter(static_cast<double>(sweep.refactorisations()) / static_cast<double>(faults));
}
BENCHMARK(faultByEdit)->Unit(benchmark::kMillisecond);

// One reading more, with its predictions there: the suspects after it.
void suspectsAfterAReading(benchmark::State& state)
{
    const auto suspects = suspectsOf(pt9(), true);
    Observation o;
    o.setup.state = pt9().stateIndex("key-on");
    o.probe = {pt9().nodeIndex("J2-1.a"), pt9().nodeIndex("J2-3.a")};
    o.value = 12.2;
    o.sigma = 0.005;
    PredictionTable table;
    table.add(*predict(pt9(), suspects, o.setup, {o.probe}));
    std::unique_ptr<Belief> belief;
    for (auto _ : state) {
        state.PauseTiming();
        belief = std::make_unique<Belief>(suspects);
        state.ResumeTiming();
        belief->take(table, o);
        benchmark::DoNotOptimize(belief->probabilities());
    }
}
BENCHMARK(suspectsAfterAReading)->Unit(benchmark::kMillisecond);

// The whole table, and the ranking of all tests on it.
void buildTable(benchmark::State& state)
{
    for (auto _ : state) {
        Reasoner reasoner(pt9(), {}, true);
        while (reasoner.buildNext()) {
        }
        state.counters["MB"] = static_cast<double>(reasoner.table().bytes()) / 1e6;
    }
}
BENCHMARK(buildTable)->Unit(benchmark::kSecond)->Iterations(1);

void rankAllTests(benchmark::State& state)
{
    static Reasoner reasoner(pt9(), {}, true);
    while (reasoner.buildNext()) {
    }
    reasoner.observe({}, {{"tiller-up", "full-power"}, {"engine-runs"}, {"D-102"}});
    for (auto _ : state)
        benchmark::DoNotOptimize(reasoner.reason({}));
}
BENCHMARK(rankAllTests)->Unit(benchmark::kMillisecond);

// A bench map as a technician fills it in, and what a meter reads on a sound machine of that kind.
const practice::FieldMachine& bay(int terminals)
{
    static std::map<int, practice::FieldMachine> known;
    auto at = known.find(terminals);
    for (std::uint32_t seed = 1; at == known.end(); ++seed) {
        practice::FieldSpread spread;
        spread.mostTerminals = terminals;
        auto machine = practice::fieldMachine(seed, spread);
        if (static_cast<int>(machine.map.moduleTerminals().size()) < 4 * terminals / 5) continue;
        at = known.emplace(terminals, std::move(machine)).first;
    }
    return at->second;
}

// From opening it to the first suggestion, as the window does it: the quietest set-up is computed, the rest follows.
void benchMapFirstSuggestion(benchmark::State& state)
{
    const Map& map = bay(static_cast<int>(state.range(0))).map;
    for (auto _ : state) {
        Reasoner reasoner(map, {}, true);
        reasoner.observe({}, {});
        reasoner.buildNext();
        benchmark::DoNotOptimize(reasoner.reason({}));
    }
}
BENCHMARK(benchMapFirstSuggestion)->Arg(8)->Arg(16)->Arg(40)->Unit(benchmark::kMillisecond);

// Suspects with the fit, and the next test, after the n-th reading.
void benchMapAfterAReading(benchmark::State& state)
{
    const Map& map = bay(static_cast<int>(state.range(0))).map;
    Reasoner reasoner(map, {}, true);
    while (reasoner.buildNext()) {
    }
    Evidence evidence;
    const auto take = [&](int t) {
        Reading r;
        r.id = static_cast<std::int64_t>(evidence.readings.size()) + 1;
        r.time_ms = 1000 * r.id;
        r.test = TestKind::Point;
        r.state = "key-on";
        r.red = map.node(t < 0 ? map.batteryPlus() : map.terminal(t).a);
        r.black = map.node(map.batteryMinus());
        if (t < 0) r.test = TestKind::Battery;
        Condition on;
        on.state = map.stateIndex("key-on");
        on.faults = bay(static_cast<int>(state.range(0))).truth;
        const auto point = operatingPoint(map, on);
        r.value = volts(std::round(100 * point->voltage(map.nodeIndex(r.red), map.batteryMinus())) / 100);
        evidence.readings.push_back(std::move(r));
    };
    take(-1);
    for (const int t : map.moduleTerminals()) {
        const Terminal& at = map.terminal(t);
        const bool power = at.role && (isSupply(*at.role) || *at.role == Role::Return);
        if (power && evidence.readings.size() < 7) take(t);
    }
    const Assessment before = assess(map, [&] {
        Evidence e = evidence;
        e.readings.pop_back();
        return e;
    }());
    const Assessment now = assess(map, evidence);
    for (auto _ : state) {
        state.PauseTiming();
        reasoner.forget(true);
        reasoner.observe(before, {});
        reasoner.refine();
        state.ResumeTiming();
        reasoner.observe(now, {});
        reasoner.refine();
        benchmark::DoNotOptimize(reasoner.reason({}));
    }
}
BENCHMARK(benchMapAfterAReading)->Arg(8)->Arg(16)->Arg(40)->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
