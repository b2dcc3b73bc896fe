#include "trace/study/recorded.h"

#include <algorithm>
#include <cmath>
#include <initializer_list>

#include "base/text.h"
#include "trace/signal/noise.h"
#include "trace/signal/period.h"

namespace ilvek {

namespace {

using Words = std::initializer_list<const char*>;
constexpr Words currentWords = {"current", "clamp", "ampere", "amps", "amp ", "strom"};
constexpr double staysOn = 0.5;  // of its highest, that a motor's current never falls below once it runs
constexpr double ripples = 0.15;
constexpr double startsWith = 1.4;    // times what it runs with
constexpr double standsShare = 0.85;  // of the time that a level stands, what leaves it being short
constexpr double samePeriod = 0.3;    // by which that of a motor's ripple may wander

// A word of its name begins with one of these: "lamp" is no "amp", and neither is "amplitude".
bool sounds(const Channel& c, Words words)
{
    const std::string name = lowered(c.name) + " ";  // so that a word may end with it
    return std::any_of(words.begin(), words.end(), [&](const std::string& w) {
        for (std::size_t at = name.find(w); at != std::string::npos; at = name.find(w, at + 1)) {
            if (at == 0 || !std::isalpha(static_cast<unsigned char>(name[at - 1]))) return true;
        }
        return false;
    });
}

int named(const Recording& r, Words words, std::initializer_list<int> taken = {}, std::optional<Unit> unit = {})
{
    for (std::size_t i = 0; i < r.channels.size(); ++i) {
        const int at = static_cast<int>(i);
        const bool free = std::find(taken.begin(), taken.end(), at) == taken.end();
        if (free && sounds(r.channels[i], words) && (!unit || r.channels[i].unit() == *unit)) return at;
    }
    return -1;
}

int ofUnit(const Recording& r, Unit unit, std::initializer_list<int> taken = {})
{
    for (std::size_t i = 0; i < r.channels.size(); ++i) {
        const int at = static_cast<int>(i);
        if (r.channels[i].unit() == unit && std::find(taken.begin(), taken.end(), at) == taken.end()) return at;
    }
    return -1;
}

int currentOf(const Recording& r)
{
    const int at = ofUnit(r, Unit::Ampere);
    return at >= 0 ? at : named(r, currentWords);  // its scale is still to be said
}

// The ripple of bars is in every part of it, at one period: what comes now and then is none.
bool ripplesAlways(const Samples& samples)
{
    constexpr std::size_t parts = 4, longest = 1U << 15U;
    const std::size_t each = std::min(samples.size() / parts, longest);
    std::optional<double> before;
    for (std::size_t k = 0; k < parts; ++k) {
        const auto x = samples.read(k * (samples.size() / parts), each);
        const auto period = periodOf(x, noiseOf(x, samples.resolution()));
        if (!period || (before && std::abs(*period / *before - 1) > samePeriod)) return false;
        before = period;
    }
    return true;
}

// A current that dies between its pulses is of windings; one that keeps a ripple is driven by pulse width; one that
// hardly moves once it flows is a motor's where it starts or ripples, else a level.
Recorded byShape(const Samples& samples)
{
    const std::size_t n = samples.size();
    if (n < 128) return Recorded::Windings;
    auto early = samples.read(0, n / 2);
    const double begins = medianOf({early.begin(), early.begin() + 8}),
                 surge = *std::max_element(early.begin(), early.end());
    auto late = samples.read(n / 2, n - n / 2);
    std::sort(late.begin(), late.end());
    const auto at = [&](double share) {
        return late[static_cast<std::size_t>(share * static_cast<double>(late.size() - 1))];
    };
    const double low = at(0.02), high = at(0.98);
    if (!(high > 0) || low < ripples * high) return Recorded::Windings;
    const bool starts = begins < 0.1 * high && surge > startsWith * high;
    if (starts) return Recorded::Motor;
    const double middle = at(0.5);
    const auto near = std::count_if(late.begin(), late.end(),
                                    [&](double v) { return std::abs(v - middle) < ripples * std::abs(middle); });
    const bool stands = static_cast<double>(near) > standsShare * static_cast<double>(late.size());
    if (begins < 0.1 * high && stands) return Recorded::Motor;  // fed, and it does not turn
    if (low < staysOn * high && !stands) return Recorded::PulseWidth;
    return ripplesAlways(samples) ? Recorded::Motor : Recorded::Level;
}

}  // namespace

const std::vector<RecordedKind>& recordedKinds()
{
    static const std::vector<RecordedKind> all = {
        {Recorded::Windings, "windings", "Windings that are pulsed", "Current", "At the drive", "Known cylinder",
         "Feed side"},
        {Recorded::PulseWidth, "pulse-width", "A winding on pulse width", "Current", "At the drive", ""},
        {Recorded::Motor, "motor", "A motor with brushes", "Current", "", ""},
        {Recorded::Coil, "coil", "A coil that is charged", "Current", "", ""},
        {Recorded::ChargingField, "charging-field", "A charging field", "Field drive", "Load current",
         "System voltage"},
        {Recorded::PickUp, "pick-up", "A pick-up at a wheel", "Signal", "", ""},
        {Recorded::BusPair, "bus-pair", "A bus pair", "High line", "Low line", ""},
        {Recorded::Level, "level", "A level that should be steady", "Signal", "", ""},
    };
    return all;
}

const RecordedKind& kindOf(Recorded kind)
{
    return *std::find_if(recordedKinds().begin(), recordedKinds().end(),
                         [&](const RecordedKind& k) { return k.kind == kind; });
}

const RecordedKind* kindNamed(std::string_view id)
{
    const auto at =
        std::find_if(recordedKinds().begin(), recordedKinds().end(), [&](const RecordedKind& k) { return k.id == id; });
    return at == recordedKinds().end() ? nullptr : &*at;
}

bool isNamedCurrent(const Channel& channel)
{
    return sounds(channel, currentWords);
}

Recorded guessRecorded(const Recording& r)
{
    if (r.channels.empty()) return Recorded::Level;
    if (named(r, {"bus"}) >= 0 && named(r, {"low"}) >= 0) return Recorded::BusPair;
    if (named(r, {"field", "alternator"}) >= 0) return Recorded::ChargingField;
    const int current = currentOf(r);
    if (current >= 0) {
        const Channel& c = r.channels[static_cast<std::size_t>(current)];
        if (named(r, {"sync", "trigger", "cylinder"}) >= 0 || sounds(c, {"injector"})) return Recorded::Windings;
        if (sounds(c, {"motor", "pump"})) return Recorded::Motor;
        if (sounds(c, {"coil", "ignition", "igniter", "primary"})) return Recorded::Coil;
        const Recorded shape = byShape(c.samples);
        // A voltage at a drive beside it: not a motor's that runs by itself.
        return shape == Recorded::Motor && named(r, {"control", "drive"}) >= 0 ? Recorded::PulseWidth : shape;
    }
    if (named(r, {"control", "drive", "duty", "pwm"}) >= 0) return Recorded::PulseWidth;
    if (named(r, {"crank", "cam", "speed", "pick", "wheel", "hall", "signal"}) >= 0) return Recorded::PickUp;
    return Recorded::Level;
}

Roles guessRoles(const Recording& r, Recorded kind)
{
    Roles out;
    const auto first = [&](int guess) { return guess >= 0 || r.channels.empty() ? guess : 0; };
    switch (kind) {
        case Recorded::Windings:
            out.main = currentOf(r);
            out.sync = named(r, {"sync", "trigger", "cylinder"}, {out.main});
            out.beside = named(r, {"control", "drive"}, {out.main, out.sync});
            out.feed = named(r, {"feed", "supply"}, {out.main, out.sync, out.beside}, Unit::Volt);
            break;
        case Recorded::PulseWidth:
            out.main = currentOf(r);
            if (out.main < 0) out.main = first(named(r, {"control", "drive", "duty", "pwm"}));
            out.beside = named(r, {"control", "drive"}, {out.main});
            break;
        case Recorded::Motor:
        case Recorded::Coil:
            out.main = currentOf(r);
            break;
        case Recorded::ChargingField:
            out.main = first(named(r, {"field", "drive"}, {}, Unit::Volt));
            out.beside = ofUnit(r, Unit::Ampere, {out.main});
            out.sync = named(r, {"system", "battery", "voltage"}, {out.main, out.beside}, Unit::Volt);
            break;
        case Recorded::BusPair:
            out.main = first(named(r, {"high"}));
            out.beside = named(r, {"low"}, {out.main});
            if (out.beside < 0) out.beside = ofUnit(r, Unit::Volt, {out.main});
            break;
        case Recorded::PickUp:
        case Recorded::Level:
            out.main = first(named(r, {"crank", "cam", "speed", "pick", "wheel", "hall", "signal"}));
            break;
    }
    return out;
}

}  // namespace ilvek
