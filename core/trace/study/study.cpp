#include "trace/study/study.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/stop.h"
#include "trace/signal/noise.h"
#include "trace/signal/period.h"
#include "trace/signal/switching.h"
#include "trace/study/lead_check.h"
#include "trace/study/study_windings.h"
#include "trace/study/touched.h"
#include "trace/subjects/charging_field.h"
#include "trace/subjects/coil.h"
#include "trace/subjects/differing.h"
#include "trace/subjects/motor.h"
#include "trace/subjects/pick_up.h"
#include "trace/subjects/pulse_width.h"

namespace ilvek {

namespace {

Result<int> chosen(const Recording& r, const std::string& wish, int guess)
{
    if (wish.empty()) return guess;
    if (wish == "-") return -1;
    const int at = channelNamed(r, wish);
    if (at < 0) return fail(wish, "there is no such channel in " + r.name);
    return at;
}

const Channel& at(const Recording& r, int channel)
{
    return r.channels[static_cast<std::size_t>(channel)];
}

Result<void> take(Result<TraceTold> told, Study& s)
{
    if (!told) return tl::unexpected(told.error());
    s.told = std::move(*told);
    s.verdict = s.told.verdict;
    return {};
}

// The duty at the drive's terminal is that of the low time; the current alone where it is not recorded.
Result<void> studyPulseWidth(const Recording& r, const StudyWishes& w, Study& s)
{
    if (at(r, s.main).unit() == Unit::Volt) {
        auto levels = measureSwitching(r, at(r, s.main));
        if (!levels) return tl::unexpected(levels.error());
        s.told.measures = std::move(levels->measures);
        const auto duty = s.told.value("duty"), f = s.told.value("frequency"), level = s.told.value("level");
        s.verdict = duty && f
                        ? fmt::format("{:.1f} % of the time high, at {}.", *duty, formatQuantity({*f, Unit::Hertz}))
                        : "It does not switch.";
        if (level)
            s.verdict += fmt::format(" It stands at {} and ripples by {}: not called, or stuck there.",
                                     formatQuantity({*level, Unit::Volt}),
                                     formatQuantity({s.told.value("ripple").value_or(0), Unit::Volt}));
        s.told.odd = !duty;
        return {};
    }
    std::optional<Switching> control;
    if (s.beside >= 0) {
        if (auto c = measureSwitching(r, at(r, s.beside))) control = std::move(*c);
    }
    const TraceMeasure* high = control ? control->find("high") : nullptr;
    // While the current freewheels the drive's terminal stands a diode above the supply.
    s.supply_V = w.supply_V;
    std::string doubt;
    if (high && high->value) {
        const double rest = *high->value - freewheel_V;
        doubt = doubtOfLead(at(r, s.beside).name, rest, w.system_V ? w.system_V : w.supply_V);
        if (!s.supply_V && doubt.empty()) s.supply_V = rest;
    }
    auto taken = take(measurePulseWidth(r, at(r, s.main), s.supply_V), s);
    if (!taken) return taken;
    if (!doubt.empty()) s.verdict = doubt + " " + s.verdict;
    if (control && control->find("duty") && control->find("duty")->value) {
        const TraceMeasure& duty = *control->find("duty");
        s.told.measures.push_back(measured("duty at drive", "Share of the time that the drive pulls low", Unit::Percent,
                                           100 - *duty.value, duty.sigma));
    }
    const std::vector<double> x = at(r, s.main).samples.read(0, at(r, s.main).samples.size());
    const double noise = noiseOf(x, at(r, s.main).samples.resolution());
    if (const auto period = periodOf(x, noise); period && *period > 4)
        s.told.events = periodsThatDiffer(x, r.interval_s, *period, noise);
    if (!s.told.events.empty()) {
        s.told.odd = true;
        s.verdict += fmt::format(" {} stretch{} not look like the other periods, first at {}.", s.told.events.size(),
                                 s.told.events.size() == 1 ? " does" : "es do",
                                 formatQuantity({s.told.events.front().at_s, Unit::Second}));
    }
    return {};
}

Result<void> studyMotor(const Recording& r, const StudyWishes& w, Study& s)
{
    s.supply_V = w.supply_V;
    return take(measureMotor(r, at(r, s.main), {w.bars, w.supply_V}), s);
}

Result<void> studyCoil(const Recording& r, const StudyWishes& w, Study& s)
{
    s.supply_V = w.supply_V;
    return take(measureCoil(r, at(r, s.main), w.supply_V), s);
}

Result<void> studyField(const Recording& r, const StudyWishes& w, Study& s)
{
    FieldBeside beside;
    if (s.beside >= 0) beside.load = &at(r, s.beside);
    if (s.sync >= 0) beside.system = &at(r, s.sync);
    beside.drivenLow = w.drivenLow;
    return take(measureChargingField(r, at(r, s.main), beside), s);
}

Result<void> studyPickUp(const Recording& r, const StudyWishes& w, Study& s)
{
    return take(measurePickUp(r, at(r, s.main), {w.teeth, w.missing}), s);
}

Result<void> studyBusPair(const Recording& r, const StudyWishes& w, Study& s)
{
    if (s.beside < 0) return fail(r.name, "a bus pair needs both lines: say which channel the low line is");
    auto pair = measureBusPair(r, at(r, s.main), at(r, s.beside), w.levels, w.traffic);
    if (!pair) return tl::unexpected(pair.error());
    return take(std::move(pair->told), s);
}

// "It happened at 3 of 3 touches of hinge, at 0 of 5 times with nothing touched."
std::string touchedWords(const std::vector<TraceSeen::Touched>& all)
{
    std::vector<std::string> parts;
    for (const TraceSeen::Touched& t : all) {
        if (t.place.empty())
            parts.push_back(fmt::format("at {} of {} times with nothing touched", t.events, t.touches));
        else
            parts.push_back(fmt::format("at {} of {} touches of {}", t.events, t.touches, t.place));
    }
    return parts.empty() ? "" : fmt::format(" It happened {}.", fmt::join(parts, ", "));
}

Result<void> studyLevel(const Recording& r, const StudyWishes& w, Study& s)
{
    return take(measureLevel(r, at(r, s.main), w.allowed), s);
}

// What touches a gap was not recorded: no measure of it, and no event.
void leaveOutGaps(const Recording& r, Study& s)
{
    const auto touches = [&](double from, double to) {
        return isInGap(at(r, s.main).gaps, from, to) || (s.beside >= 0 && isInGap(at(r, s.beside).gaps, from, to));
    };
    for (Pulse& p : s.pulses.pulses) {
        if (!touches(static_cast<double>(p.first), static_cast<double>(p.last))) continue;
        for (TraceMeasure& m : p.measures)
            m.value.reset(), m.why = "samples are missing in this pulse";
    }
    std::erase_if(s.told.events, [&](const TraceEvent& e) {
        return touches(e.at_s / r.interval_s - 2, (e.at_s + e.length_s) / r.interval_s + 2);
    });
}

bool isOfCurrent(const RecordedKind& kind)
{
    return std::string_view(kind.main) == "Current";
}

using Work = Result<void> (*)(const Recording&, const StudyWishes&, Study&);
constexpr std::pair<Recorded, Work> works[] = {
    {Recorded::Windings, studyWindings},   {Recorded::PulseWidth, studyPulseWidth},
    {Recorded::Motor, studyMotor},         {Recorded::Coil, studyCoil},
    {Recorded::ChargingField, studyField}, {Recorded::PickUp, studyPickUp},
    {Recorded::BusPair, studyBusPair},     {Recorded::Level, studyLevel}};

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
    // Who names the channel of a known cylinder means pulses, whatever the names say.
    const bool cylinders = !wishes.sync.empty() && wishes.sync != "-";
    s.kind = wishes.kind.value_or(cylinders ? Recorded::Windings : guessRecorded(r));
    const Roles guess = guessRoles(r, s.kind);
    const auto main = chosen(r, wishes.main, guess.main), beside = chosen(r, wishes.beside, guess.beside),
               sync = chosen(r, wishes.sync, guess.sync), feed = chosen(r, wishes.feed, guess.feed);
    for (const auto* role : {&main, &beside, &sync, &feed}) {
        if (!*role) return tl::unexpected(role->error());
    }
    const RecordedKind& kind = kindOf(s.kind);
    s.main = *main;
    s.beside = *beside != s.main && *kind.beside ? *beside : -1;
    s.sync = *sync != s.main && *kind.sync ? *sync : -1;
    s.feed = *feed != s.main && *feed != s.beside && *kind.feed ? *feed : -1;
    if (s.main < 0)
        return fail(r.name, *kind.main == 'C'
                                ? "no channel of it is known as a current: say which one, and the clamp's scale"
                                : "it has no channel for what is to be measured");
    // Volts are amperes only by a clamp's scale; at a drive that is pulsed they may be what is measured.
    const Channel& measuredOne = at(r, s.main);
    if (isOfCurrent(kind) && measuredOne.unit() != Unit::Ampere &&
        (s.kind != Recorded::PulseWidth || isNamedCurrent(measuredOne)))
        return fail(
            measuredOne.name,
            "is recorded in volts, or in no unit: say its clamp's scale, in millivolts for one ampere (1000 where "
            "the figures are amperes), or which other channel is the current");
    const auto* work =
        std::find_if(std::begin(works), std::end(works), [&](const auto& w) { return w.first == s.kind; });
    try {
        if (auto done = work->second(r, wishes, s); !done) return tl::unexpected(done.error());
    } catch (const Stopped&) {
        return fail(r.name, "measuring was stopped");
    }
    leaveOutGaps(r, s);
    if (s.kind == Recorded::Level) {
        s.touched = touchedIn(r, s.main, s.told.events);
        s.verdict += touchedWords(s.touched);
    }
    return s;
}

}  // namespace ilvek
