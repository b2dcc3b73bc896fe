// What an entry costs: reading the map, solving the circuit, judging a job, the gate.
#include <benchmark/benchmark.h>

#include "base/file.h"
#include "circuit/operating_point.h"
#include "job/job.h"
#include "machine/map_reader.h"
#include "practice/demo_job.h"
#include "reasoning/gate.h"

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
        const auto job = foldJob(pt9().document, events());
        benchmark::DoNotOptimize(assess(job->map, job->evidence));
    }
}
BENCHMARK(foldAndJudgeJob)->Unit(benchmark::kMillisecond);

void gateWithNextStep(benchmark::State& state)
{
    const auto job = foldJob(pt9().document, events());
    const Assessment a = assess(job->map, job->evidence);
    for (auto _ : state)
        benchmark::DoNotOptimize(gateOf(job->map, a, {events().back().time_ms, "key-on"}));
}
BENCHMARK(gateWithNextStep)->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
