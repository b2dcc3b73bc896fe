#include "choice/test_cost.h"

#include <algorithm>
#include <cmath>

namespace ilvek {

namespace {

constexpr double reading_s = 15;                       // to settle the leads and read
constexpr double display_V = 0.01, accuracy = 0.0035;  // of a usual meter

}  // namespace

std::vector<std::size_t> takenBefore(const Belief& belief, const Candidate& c)
{
    const bool look = c.kind == Candidate::Kind::Look;
    const Probe probe = look ? Probe{} : probeOf(c);
    std::vector<std::size_t> before;
    for (std::size_t i = 0; i < belief.taken().size(); ++i) {
        const Observation& o = belief.taken()[i];
        const bool there =
            o.kind == Observation::Kind::Reading ? o.probe == probe : o.needs.size() == 1 && o.needs[0].probe == probe;
        const bool same = look ? o.kind == Observation::Kind::Look && o.terminal == c.terminal
                               : o.id != 0 && o.setup == c.setup && there;
        if (same) before.push_back(i);
    }
    return before;
}

double minutesOf(const Map& map, const Candidate& c, const Standing& standing)
{
    double seconds = c.effort_s + reading_s;
    if (c.kind == Candidate::Kind::Look) return std::max(10.0, seconds) / 60.0;
    if (c.setup.state != standing.state) seconds += map.state(c.setup.state).effort_s;
    for (const int connector : c.setup.unplugged) {
        // Already apart costs nothing more.
        if (std::find(standing.unplugged.begin(), standing.unplugged.end(), connector) != standing.unplugged.end())
            seconds -= map.connectors[static_cast<std::size_t>(connector)].unplug_s;
    }
    for (const int connector : standing.unplugged) {
        if (!c.setup.unplugged.contains(connector))
            seconds += map.connectors[static_cast<std::size_t>(connector)].unplug_s;
    }
    if (c.setup.load && c.setup.load->load.id == standing.load) seconds -= c.setup.load->load.effort_s;
    return std::max(10.0, seconds) / 60.0;
}

double meterSigma(const Column& column)
{
    const double healthy = static_cast<double>(column.value[0]);
    return column.probe.ohms ? ohmsSigmaAt(healthy) : std::hypot(display_V, accuracy * healthy);
}

}  // namespace ilvek
