// How the work grows with the machine, and what ngspice needs for the same faults in the same run: a table in Markdown.
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <vector>

#include "circuit/fault_sweep.h"
#include "circuit/operating_point.h"
#include "machine/map_reader.h"
#include "practice/larger_map.h"
#include "support/spice.h"
#include "verdict/reasoner.h"

namespace {

using namespace ilvek;

double median(std::vector<double> values)
{
    std::nth_element(values.begin(), values.begin() + static_cast<long>(values.size() / 2), values.end());
    return values[values.size() / 2];
}

// Milliseconds of each of `times` runs, the middle one.
template <typename Work>
double medianOf(int times, const Work& work)
{
    std::vector<double> all;
    for (int n = 0; n < times; ++n) {
        const auto begun = std::chrono::steady_clock::now();
        work(n);
        all.push_back(std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begun).count());
    }
    return median(all);
}

std::vector<std::vector<Fault>> someFaults(const Map& map, std::size_t most)
{
    std::vector<std::vector<Fault>> faults;
    for (const Suspect& s : suspectsOf(map, true)) {
        for (const auto& severity : s.severities) {
            if (!severity.empty()) faults.push_back(severity);
        }
    }
    // Evenly from all of them.
    std::vector<std::vector<Fault>> some;
    const std::size_t step = std::max<std::size_t>(1, faults.size() / most);
    for (std::size_t i = 0; i < faults.size(); i += step)
        some.push_back(faults[i]);
    return some;
}

void measure(const std::string& document, int copies)
{
    const auto map = readMap(practice::timesOver(document, copies), "larger");
    if (!map) {
        fmt::print(stderr, "{}\n", map.error().front().message());
        std::exit(2);
    }
    Condition condition;
    condition.state = map->stateIndex("key-on");
    const int runs = copies >= 4 ? 5 : 21;
    const double cold = medianOf(runs, [&](int n) {
        Condition c = condition;
        c.batteryEmf_V = 12.5 + 1e-9 * n;
        if (!operatingPoint(*map, c)) std::exit(3);
    });
    const double begin = medianOf(copies >= 4 ? 1 : 5, [&](int) {
        if (!FaultSweep::of(*map, condition)) std::exit(3);
    });
    auto sweep = *FaultSweep::of(*map, condition);
    const auto faults = someFaults(*map, 2000);
    const double all = medianOf(3, [&](int) {
        for (const auto& f : faults)
            sweep.apply(f);
    });
    const double perFault_us = 1000 * all / static_cast<double>(faults.size());
    const auto few = someFaults(*map, copies >= 4 ? 8 : 25);
    const double spice = medianOf(static_cast<int>(few.size()), [&](int n) {
        Condition c = condition;
        c.faults = few[static_cast<std::size_t>(n)];
        if (const auto point = operatingPoint(*map, c)) test::spicePotentials(test::spiceNetlist(*map, c, *point));
    });
    Reasoner reasoner(*map, {}, true);
    const double table = medianOf(1, [&](int) { reasoner.buildNext(); });
    fmt::print("| {} | {} | {} | {} | {:.2f} | {:.0f} | {:.0f} | {:.1f} | {:.0f} | {:.1f} |\n", copies,
               map->nodes.size(), map->elements.size(), firstCases(reasoner.suspects()).back(), cold, begin,
               perFault_us, spice, 1000 * spice / perFault_us, table / 1000);
    std::fflush(stdout);
}

}  // namespace

int main(int argc, char** argv)
{
    const auto map = readMapFile(argc > 1 ? argv[1] : ILVEK_SOURCE_DIR "/data/maps/pt-9.json");
    if (!map) return 2;
    fmt::print(
        "| times the machine | nodes | elements | faults with severities | operating point from cold, ms | before the "
        "first fault, ms | a fault more, µs | the same by ngspice, ms | ratio | first block of the table, s |\n"
        "|---|---|---|---|---|---|---|---|---|---|\n");
    for (const int copies : {1, 2, 4, 10})
        measure(map->document, copies);
    return 0;
}
