#include "trace/study.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "base/text.h"
#include "trace/drive_table.h"
#include "trace/noise.h"

namespace ilvek {

namespace {

// A loop is this much higher or lower than the map says before it is named: windings differ by some per cent each.
constexpr double resistanceAllowed = 0.1;
constexpr double nominal_V = 12;  // where no supply was seen: only high and low are asked of it

bool sounds(const Channel& c, std::initializer_list<const char*> words)
{
    const std::string name = lowered(c.name);
    return std::any_of(words.begin(), words.end(), [&](const char* w) { return name.find(w) != std::string::npos; });
}

int guessed(const Recording& r, std::initializer_list<const char*> words, std::optional<Unit> unit, const Study& taken)
{
    for (std::size_t i = 0; i < r.channels.size(); ++i) {
        const int at = static_cast<int>(i);
        if (at == taken.current || at == taken.control || at == taken.sync) continue;
        if ((unit && r.channels[i].unit() == *unit) || sounds(r.channels[i], words)) return at;
    }
    return -1;
}

Result<int> chosen(const Recording& r, const std::string& wish, int guess)
{
    if (wish.empty()) return guess;
    if (wish == "-") return -1;
    const int at = channelNamed(r, wish);
    if (at < 0) return fail(wish, "there is no such channel in " + r.name);
    return at;
}

std::optional<double> restBefore(const Pulses& pulses)
{
    std::vector<double> levels;
    for (const Pulse& p : pulses.pulses) {
        if (const auto level = p.value("battery level")) levels.push_back(*level);
    }
    if (levels.empty()) return std::nullopt;
    return medianOf(std::move(levels));
}

// The known cylinder gave no current: what its drive's terminal shows before and while it is called.
std::string whyMissing(const Recording& r, const Study& s, const std::vector<double>& sync, int known)
{
    const auto missing = std::find_if(s.cylinders->turns.begin(), s.cylinders->turns.end(),
                                      [&](const Turn& t) { return t.cylinder == known && !t.pulse; });
    if (s.control < 0 || s.control == s.sync || missing == s.cylinders->turns.end() || s.pulses.pulses.empty() ||
        sync.empty())
        return "";
    const Pulse& other = s.pulses.pulses.front();
    const double length = other.off_s - other.on_s;
    const Samples& control = r.channels[static_cast<std::size_t>(s.control)].samples;
    const auto level = [&](double from, double to) {
        const auto a = static_cast<std::size_t>(std::max(0.0, from / r.interval_s));
        const auto b = std::min(control.size(), static_cast<std::size_t>(std::max(0.0, to / r.interval_s)));
        if (b <= a) return std::nan("");
        const auto x = control.read(a, b - a);
        return std::accumulate(x.begin(), x.end(), 0.0) / static_cast<double>(x.size());
    };
    const double off = level(missing->expected_s - length, missing->expected_s - 0.1 * length);
    const double on = level(missing->expected_s + 0.2 * length, missing->expected_s + 0.7 * length);
    const double half = 0.5 * s.supply_V.value_or(nominal_V);
    if (std::isnan(off) || std::isnan(on)) return "";
    return fmt::format(" At its drive: {}.", words(driveFault({{}, off > half, on > half, DriveSeen::Current::None})));
}

// The end current over supply of all pulses, against 1/R.
void againstExpected(Study& s, double resistance_ohm)
{
    std::vector<double> loops;
    for (const Pulse& p : s.pulses.pulses) {
        if (const auto R = p.value("resistance")) loops.push_back(*R);
    }
    TraceFinding f;
    f.feature = "resistance";
    if (loops.empty()) {
        f.verdict = TraceFinding::Verdict::CannotTell;
        f.words = "the resistance cannot be told: no pulse comes to rest at a known supply";
    } else {
        f.ratio = medianOf(std::move(loops)) / resistance_ohm;
        f.tolerances = (f.ratio - 1) / resistanceAllowed;
        if (std::abs(f.tolerances) > 1)
            f.verdict = f.ratio > 1 ? TraceFinding::Verdict::High : TraceFinding::Verdict::Low;
        f.words = fmt::format("loop {:.2f} Ω, {:.2f} times the {:.2f} Ω expected", f.ratio * resistance_ohm, f.ratio,
                              resistance_ohm);
    }
    s.againstExpected.push_back(std::move(f));
}

}  // namespace

int channelNamed(const Recording& recording, const std::string& name)
{
    for (std::size_t i = 0; i < recording.channels.size(); ++i) {
        if (recording.channels[i].name == name || std::to_string(i + 1) == name) return static_cast<int>(i);
    }
    return -1;
}

Result<Study> study(const Recording& r, const StudyWishes& wishes)
{
    Study s;
    auto current = chosen(r, wishes.current, guessed(r, {"current", "clamp", "amp", "strom"}, Unit::Ampere, s));
    if (!current) return tl::unexpected(current.error());
    if (*current < 0)
        return fail(r.name, "no channel of it is known as a current: say which one, and the clamp's scale");
    s.current = *current;
    const auto sync = chosen(r, wishes.sync, guessed(r, {"sync", "trigger", "cylinder"}, {}, s));
    if (!sync) return tl::unexpected(sync.error());
    s.sync = *sync;
    const auto control = chosen(r, wishes.control, guessed(r, {"control", "drive"}, {}, s));
    if (!control) return tl::unexpected(control.error());
    s.control = *control;
    const Channel& x = r.channels[static_cast<std::size_t>(s.current)];
    WindingBeside beside;
    if (s.control >= 0) beside.control = &r.channels[static_cast<std::size_t>(s.control)];
    beside.supply_V = wishes.supply_V;
    auto pulses = measureWinding(r, x, beside);
    if (pulses && !beside.supply_V && beside.control) {
        // What the drive's terminal rests at before each pulse is the supply, as long as nothing flows.
        beside.supply_V = restBefore(*pulses);
        if (beside.supply_V) pulses = measureWinding(r, x, beside);
    }
    if (!pulses) return tl::unexpected(pulses.error());
    s.supply_V = beside.supply_V;
    s.pulses = std::move(*pulses);
    s.verdict = fmt::format("{} pulse{} found.", s.pulses.pulses.size(), s.pulses.pulses.size() == 1 ? "" : "s");
    if (s.sync >= 0) {
        const auto edges = activeEdges(r, r.channels[static_cast<std::size_t>(s.sync)]);
        auto set = edges ? assignCylinders(s.pulses, *edges, wishes.order)
                         : Result<CylinderSet>(tl::unexpected(edges.error()));
        if (set) {
            s.verdict = set->verdict;
            s.cylinders = std::move(*set);
            s.verdict += whyMissing(r, s, *edges, wishes.order.known);
        } else {
            s.notCylinders = set.error().message();
        }
    }
    if (wishes.resistance_ohm) {
        againstExpected(s, *wishes.resistance_ohm);
        s.verdict += " Against the map: " + s.againstExpected.front().words + ".";
    }
    return s;
}

}  // namespace ilvek
