#include "trace/study/study_windings.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "trace/signal/noise.h"
#include "trace/study/lead_check.h"
#include "trace/subjects/differing.h"

namespace ilvek {

namespace {

constexpr double nominal_V = 12;           // where no supply was seen: only high and low are asked of it
constexpr double standing_A = 0.15;        // more than what clamps show of nothing
constexpr double least_V = 1;              // of a feed at which something is
constexpr double resistanceAllowed = 0.1;  // where only a resistance is given to compare with

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
    if (s.beside < 0 || s.beside == s.sync || missing == s.cylinders->turns.end() || s.pulses.pulses.empty() ||
        sync.empty())
        return "";
    const Pulse& other = s.pulses.pulses.front();
    const double length = other.off_s - other.on_s;
    const Samples& control = r.channels[static_cast<std::size_t>(s.beside)].samples;
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

// A reference of nothing but the loop's resistance.
WindingReference ofResistance(double resistance_ohm, double supply_V)
{
    WindingReference w;
    w.name = "resistance given";
    w.source = formatQuantity(ohms(resistance_ohm)) + " given";
    w.supply_V = supply_V;
    w.features["resistance"] = {resistance_ohm, resistanceAllowed};
    return w;
}

double pulseLength(const Pulses& pulses)
{
    std::vector<double> lengths;
    for (const Pulse& p : pulses.pulses)
        lengths.push_back(p.off_s - p.on_s);
    return lengths.empty() ? 5e-3 : medianOf(std::move(lengths));
}

const Channel& mainOf(const Recording& r, const Study& s)
{
    return r.channels[static_cast<std::size_t>(s.main)];
}

// Each cylinder by itself: the middle of a set would hide the one that is odd.
Result<WindingComparison> compareCylinders(const Recording& r, const Study& s, const WindingReference& reference)
{
    std::map<int, Pulses> by;
    for (const Turn& t : s.cylinders->turns) {
        if (!t.pulse) continue;
        auto& own = by.try_emplace(t.cylinder, Pulses{s.pulses.noise_A, s.pulses.zero_A, {}}).first->second;
        own.pulses.push_back(s.pulses.pulses[*t.pulse]);
    }
    auto all = compareWinding(r, mainOf(r, s), s.pulses, s.supply_V, reference);
    if (!all) return all;
    all->findings.clear();
    std::vector<std::string> odd;
    for (const auto& [cylinder, pulses] : by) {
        auto one = compareWinding(r, mainOf(r, s), pulses, s.supply_V, reference);
        if (!one) return one;
        for (TraceFinding& f : one->findings) {
            f.cylinder = cylinder;
            all->findings.push_back(std::move(f));
        }
        if (one->fault == WindingFault::None || one->fault == WindingFault::CannotTell) continue;
        odd.push_back(fmt::format("cylinder {} {}", cylinder, words(one->fault)));
        all->fault = one->fault;
    }
    std::stable_sort(all->findings.begin(), all->findings.end(), [](const TraceFinding& a, const TraceFinding& b) {
        return std::abs(a.tolerances) > std::abs(b.tolerances);
    });
    if (odd.empty() && all->fault != WindingFault::CannotTell) all->fault = WindingFault::None;
    all->verdict = odd.empty() ? "no cylinder is out of tolerance." : fmt::format("{}.", fmt::join(odd, "; "));
    return all;
}

// Those of a recording that differ from the others, or the others.
Pulses someOf(const Study& s, bool differing)
{
    Pulses out{s.pulses.noise_A, s.pulses.zero_A, {}};
    for (const Pulse& p : s.pulses.pulses) {
        const bool differs = std::any_of(s.told.events.begin(), s.told.events.end(),
                                         [&](const TraceEvent& e) { return e.at_s == p.on_s; });
        if (differs == differing) out.pulses.push_back(p);
    }
    return out;
}

bool isFault(WindingFault fault)
{
    return fault != WindingFault::None && fault != WindingFault::CannotTell;
}

// The mean of a recording would hide those that differ, and they are what it was made for.
Result<WindingComparison> compareApart(const Recording& r, Study& s, const WindingReference& reference)
{
    const Pulses odd = someOf(s, true), usual = someOf(s, false);
    if (odd.pulses.empty() || usual.pulses.empty())
        return compareWinding(r, mainOf(r, s), s.pulses, s.supply_V, reference);
    auto of = compareWinding(r, mainOf(r, s), usual, s.supply_V, reference);
    auto those = compareWinding(r, mainOf(r, s), odd, s.supply_V, reference);
    if (!of || !those) return of;
    of->verdict = fmt::format("of the {} that differ: {} The other {}: {}", odd.pulses.size(), those->verdict,
                              usual.pulses.size(), of->verdict);
    if (isFault(those->fault) && !isFault(of->fault)) of->fault = those->fault;
    of->findings.insert(of->findings.end(), those->findings.begin(), those->findings.end());
    return of;
}

void compare(const Recording& r, const StudyWishes& wishes, Study& s)
{
    std::vector<WindingReference> all;
    if (wishes.kept) all.push_back(*wishes.kept);
    if (wishes.part) {
        ReferenceWish wish = wishes.part->wish;
        wish.pulse_s = pulseLength(s.pulses);
        auto expected = expectedWinding(*wishes.part->map, wishes.part->element, wish);
        if (expected)
            all.push_back(std::move(*expected));
        else
            s.notCompared = expected.error().message();
    }
    if (wishes.resistance_ohm) all.push_back(ofResistance(*wishes.resistance_ohm, s.supply_V.value_or(nominal_V)));
    for (WindingReference& reference : all) {
        auto result = s.cylinders ? compareCylinders(r, s, reference) : compareApart(r, s, reference);
        if (!result) {
            s.notCompared = result.error().message();
            continue;
        }
        const std::string against = fmt::format("Against {}: {}", reference.name, result->verdict);
        // Of single pulses this is the verdict; of a set it stands behind that of the cylinders.
        const bool first = !s.cylinders && s.told.events.empty() && s.compared.empty();
        s.verdict = first ? against : s.verdict + " " + against;
        s.told.odd = s.told.odd || isFault(result->fault);
        s.compared.push_back({std::move(reference), std::move(*result)});
    }
}

double levelOf(const Recording& r, int channel)
{
    const Samples& samples = r.channels[static_cast<std::size_t>(channel)].samples;
    return medianOf(samples.read(0, samples.size()));
}

DriveSeen::Current currentSeen(const Study& s)
{
    if (s.compared.empty()) return DriveSeen::Current::Unknown;
    switch (s.compared.back().result.fault) {
        case WindingFault::TooMuchResistance:
            return DriveSeen::Current::Low;
        case WindingFault::ShortedTurns:
        case WindingFault::TooLittleResistance:
            return DriveSeen::Current::High;
        case WindingFault::None:
            return DriveSeen::Current::Right;
        default:
            return DriveSeen::Current::Unknown;
    }
}

// What feed side, control side and current say together, of a recording of one actuator (W27).
void driveOf(const Recording& r, Study& s, bool flowsAlways)
{
    if (s.beside < 0 && s.feed < 0) return;
    const double half = 0.5 * s.supply_V.value_or(nominal_V);
    if (s.feed >= 0) s.drive.feed = levelOf(r, s.feed) > half;
    if (s.pulses.pulses.empty()) {
        s.drive.current = flowsAlways ? DriveSeen::Current::Always : DriveSeen::Current::None;
        if (s.beside >= 0) {
            const Samples& samples = r.channels[static_cast<std::size_t>(s.beside)].samples;
            const LevelPair levels = levelsBesideSpike(samples.read(0, samples.size()));
            s.drive.highWhenOff = levels.high > half, s.drive.highWhenOn = levels.low > half;
        }
    } else {
        std::vector<double> off, on;
        for (const Pulse& p : s.pulses.pulses) {
            if (const auto v = p.value("battery level")) off.push_back(*v);
            if (const auto v = p.value("on level")) on.push_back(*v);
        }
        if (!off.empty()) s.drive.highWhenOff = medianOf(off) > half;
        if (!on.empty()) s.drive.highWhenOn = medianOf(on) > half;
        s.drive.current = currentSeen(s);
    }
    s.driveFault = driveFault(s.drive);
}

// A clamp that shows nothing, or always the same, is an answer where a voltage at the actuator is there as well.
Result<void> nothingRises(const Recording& r, const Error& why, const StudyWishes& wishes, Study& s)
{
    const double stands = levelOf(r, s.main);
    const bool always = stands > standing_A;
    if (s.beside < 0 && s.feed < 0) {
        if (!always) return tl::unexpected(why);
        return fail(mainOf(r, s).name,
                    fmt::format("{} stand all the time, and nothing rises out of it", formatQuantity(amperes(stands))));
    }
    // Volts that no machine has say nothing of it.
    for (const int lead : {s.feed, s.beside}) {
        if (lead < 0 || !wishes.system_V) continue;
        const std::string& name = r.channels[static_cast<std::size_t>(lead)].name;
        const double level = levelOf(r, lead);
        const std::string doubt = level > *wishes.system_V ? doubtOfLead(name, level, wishes.system_V) : "";
        if (!doubt.empty()) return fail(name, doubt);
    }
    if (!s.supply_V && wishes.system_V) s.supply_V = wishes.system_V;
    driveOf(r, s, always);
    s.told.odd = true;
    const std::string text = s.driveFault == DriveFault::None ? "whether it was called cannot be told from the voltage"
                                                              : words(s.driveFault);
    s.verdict = always ? fmt::format("{} flow all the time, if the clamp's zero is right. At the drive: {}.",
                                     formatQuantity(amperes(stands)), text)
                       : fmt::format("No current. At the drive: {}.", text);
    return {};
}

// The supply is what the feed side stands at, else what the drive's terminal rests at before each pulse, as long as
// nothing flows. What is said of a lead whose level cannot be meant.
std::string findSupply(const Recording& r, const StudyWishes& wishes, WindingBeside& beside, Result<Pulses>& pulses,
                       const Study& s)
{
    beside.supply_V = wishes.supply_V;
    std::string doubt;
    const auto take = [&](int channel, std::optional<double> level) {
        if (channel < 0 || !level) return;
        const std::string why = doubtOfLead(r.channels[static_cast<std::size_t>(channel)].name, *level,
                                            wishes.system_V ? wishes.system_V : wishes.supply_V);
        if (!why.empty()) doubt = doubt.empty() ? why : doubt;
        if (why.empty() && !beside.supply_V) beside.supply_V = level;
    };
    // A feed at which nothing comes is an answer, no lead's doubt.
    if (s.feed >= 0 && levelOf(r, s.feed) > least_V) take(s.feed, levelOf(r, s.feed));
    pulses = measureWinding(r, mainOf(r, s), beside);
    if (pulses && beside.control) take(s.beside, restBefore(*pulses));
    return doubt;
}

void assign(const Recording& r, const StudyWishes& wishes, Study& s)
{
    const auto edges = activeEdges(r, r.channels[static_cast<std::size_t>(s.sync)]);
    auto set =
        edges ? assignCylinders(s.pulses, *edges, wishes.order) : Result<CylinderSet>(tl::unexpected(edges.error()));
    if (!set) {
        s.notCylinders = set.error().message();
        return;
    }
    s.verdict = set->verdict;
    s.told.odd =
        std::any_of(set->findings.begin(), set->findings.end(), [](const TraceFinding& f) { return !f.words.empty(); });
    for (const Turn& t : set->turns) {
        if (!t.pulse)
            s.told.events.push_back({t.expected_s, 0, 2, fmt::format("cylinder {} does not come", t.cylinder)});
    }
    s.cylinders = std::move(*set);
    s.verdict += whyMissing(r, s, *edges, wishes.order.known);
}

}  // namespace

Result<void> studyWindings(const Recording& r, const StudyWishes& wishes, Study& s)
{
    WindingBeside beside;
    if (s.beside >= 0) beside.control = &r.channels[static_cast<std::size_t>(s.beside)];
    Result<Pulses> pulses = fail("", "");
    const std::string doubt = findSupply(r, wishes, beside, pulses, s);
    s.supply_V = beside.supply_V;
    if (!pulses) return nothingRises(r, pulses.error(), wishes, s);
    if (beside.supply_V) pulses = measureWinding(r, mainOf(r, s), beside);
    s.pulses = std::move(*pulses);
    s.verdict = fmt::format("{} pulse{} found.", s.pulses.pulses.size(), s.pulses.pulses.size() == 1 ? "" : "s");
    if (s.pulses.zero_A > standing_A)
        s.verdict +=
            fmt::format(" {} stand between them, of the clamp or of something else: the pulses are counted from there.",
                        formatQuantity(amperes(s.pulses.zero_A)));
    if (s.sync >= 0) assign(r, wishes, s);
    if (!s.cylinders) {
        s.told.events = pulsesThatDiffer(s.pulses);
        if (!s.told.events.empty()) {
            s.told.odd = true;
            s.verdict +=
                fmt::format(" {} of them differ{} from the others, first at {}: {}.", s.told.events.size(),
                            s.told.events.size() == 1 ? "s" : "",
                            formatQuantity({s.told.events.front().at_s, Unit::Second}), s.told.events.front().words);
        }
    }
    compare(r, wishes, s);
    if (doubt.empty())
        driveOf(r, s, false);
    else
        s.verdict = doubt + " " + s.verdict;
    return {};
}

}  // namespace ilvek
