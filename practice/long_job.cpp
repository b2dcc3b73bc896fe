#include "practice/long_job.h"

#include <cmath>
#include <map>
#include <random>

#include "choice/candidates.h"
#include "proving/judge.h"
#include "proving/step.h"

namespace ilvek::practice {

namespace {

constexpr std::int64_t begin_ms = 1'750'000'000'000, between_ms = 20'000;
constexpr int batteryEvery = 6;  // readings
constexpr double noise_V = 0.01;

double shown(double value)
{
    return std::round(value * 100) / 100;
}

}  // namespace

JobContent longJob(const Map& map, int readings, unsigned seed)
{
    std::mt19937 random(seed);
    std::normal_distribution<double> noise(0, noise_V);
    std::vector<Step> steps;
    const WayOfWorking working;
    for (const Candidate& candidate : candidatesOf(map, working)) {
        if (candidate.kind == Candidate::Kind::Look) continue;
        Step step = stepFor(map, working, candidate);
        if (isVoltageTest(step.test)) steps.push_back(std::move(step));
    }
    JobContent content{map.document, {}};
    std::int64_t time = begin_ms;
    std::map<std::string, double> battery_V;  // by state, as the window keeps it
    const auto take = [&](const Step& step) {
        Reading r = readingOf(step, map, volts(0), {}, time);
        const auto healthy = healthyReading(map, r);
        if (!healthy) return false;
        r.value = volts(shown(*healthy + noise(random)));
        r.value.resolution = 0.01;
        if (r.test == TestKind::Battery) battery_V[r.state] = r.value.value;
        const auto battery = battery_V.find(r.state);
        if (battery != battery_V.end() && r.test != TestKind::Battery) r.battery_V = battery->second;
        r.time_ms = 0;
        content.events.push_back({static_cast<std::int64_t>(content.events.size()) + 1, time, std::move(r)});
        time += between_ms;
        return true;
    };
    int taken = 0;
    for (std::size_t at = 0; taken < readings; ++at) {
        const Step& step = steps[at % steps.size()];
        if (taken % batteryEvery == 0 && take(batteryStep(map, step.state))) ++taken;
        taken += taken < readings && take(step) ? 1 : 0;
    }
    return content;
}

}  // namespace ilvek::practice
