#include "trace/subjects/winding.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <numeric>

#include "base/parallel.h"
#include "base/stop.h"
#include "trace/signal/hinge.h"
#include "trace/signal/noise.h"
#include "trace/subjects/armature.h"

namespace ilvek {

namespace {

constexpr double clearOfNoise = 6;     // sigma a pulse must rise to
constexpr double pulseShare = 0.12;    // of the range, at which it counts as on
constexpr double liftZ = 5.2;          // a kink must stand this far out of its own error
constexpr double noisyShare = 0.03;    // of the peak: noise beyond it makes kinks of its own
constexpr double sharpShare = 0.62;    // of it is still there when looked at half as wide
constexpr double hingeReach_s = 8e-4;  // to both sides of a kink, for its exact place
constexpr double hingeSpread = 1.75;   // polynomials are not the law of an armature: measured on the models
constexpr double hingeOff_s = 8e-6;    // the same where there is no noise
// Where a hinge leaves more open than this, the law of the armature is asked too.
constexpr double hingeUnsure_s = 1.5e-5;
constexpr double hiddenShare = 0.01;    // of the peak: less noise hides no kink
constexpr std::size_t mostByLaw = 24;   // pulses of a recording: more of them make up for each other
constexpr double lawlessShare = 0.035;  // of the peak: noise beyond it leaves nothing to fit
constexpr double lawSpread = 0.6;       // its sigma is that of parts that may be anything: measured on the models
constexpr double lawOff_s = 8e-6;       // what the law itself is off by
constexpr double lawMustGain = 80;      // squares of the noise, over a still armature
constexpr double lawHolds = 1.3;        // mean square of what it leaves, in squares of the noise
constexpr double lawSure_s = 6e-5;      // beyond this sigma it says nothing where no kink was seen
constexpr double dithers = 0.6;         // of a converter's step: noise of this size hides the stair
constexpr double stairShare = 1.5;
constexpr double slopeNoise = 0.04;    // of a slope, that noise may make
constexpr double lateOfFall = 0.3;     // of the sharpest fall, less of which is none
constexpr double stillFalls = 0.1;     // of the first slope of a decay, that is left where a quarter of it is
constexpr double chopping_s = 3e-4;    // pauses shorter than this belong to one pulse
constexpr double kinkOfSlope = 0.25;   // of the mean slope of the rise
constexpr double plateauRise = 0.02;   // of its end, that a plateau may still rise in its last sixth
constexpr double currentScale = 0.01;  // a clamp's scale, one sigma
constexpr double supplySigma_V = 0.1;
constexpr double heldShare = 0.75;  // of the peak, below which a current is held
constexpr std::size_t fewestOfDecay = 40;
constexpr double clampAbove_V = 5;
constexpr double humpZ = 11;
constexpr double humpOfSpike = 0.25;
constexpr std::size_t fewest = 24;  // samples of a pulse

class OnePulse {
public:
    OnePulse(const Recording& r, const std::vector<double>& x, double noise, double step, const WindingBeside& beside,
             bool byLaw, Pulse& pulse)
        : dt_(r.interval_s),
          noise_(noise),
          stair_(noise < dithers * step ? step : 0.0),
          beside_(beside),
          asksLaw_(byLaw),
          pulse_(pulse),
          y_(x.begin() + static_cast<std::ptrdiff_t>(pulse.first), x.begin() + static_cast<std::ptrdiff_t>(pulse.last)),
          kinks_(y_)
    {
    }

    void measure()
    {
        findEdges();
        if (pulse_.cut || off_ < on_ + fewest) return tooShort();
        peak();
        hold();
        rise();
        if (beside_.moves) lift();
        end();
        turnOff();
        closing();
        if (beside_.control) control();
    }

private:
    double seconds(double sample) const { return (static_cast<double>(pulse_.first) + sample) * dt_; }
    void put(TraceMeasure m) { pulse_.measures.push_back(std::move(m)); }

    void tooShort()
    {
        const std::string why =
            pulse_.cut ? "the recording begins or ends within the pulse" : "the pulse has too few samples";
        for (const char* id : {"peak", "end current", "lift"})
            put(notMeasurable(id, id, Unit::Ampere, why));
    }

    // Means over so many samples that the noise is a small share of the pulse.
    std::vector<double> calmed(double top) const
    {
        const double ratio = 6 * noise_ / (0.1 * top);
        const auto half = static_cast<std::size_t>(std::clamp(0.5 * ratio * ratio, 0.0, 16.0));
        std::vector<double> out(y_.size());
        for (std::size_t i = 0; i < y_.size(); ++i) {
            const std::size_t a = i > half ? i - half : 0, b = std::min(y_.size(), i + half + 1);
            out[i] = kinks_.mean(a, b - a);
        }
        return out;
    }

    // On: where the line through the first rise meets nothing. Off: the last sharp break downwards before it dies.
    void findEdges()
    {
        const double top = *std::max_element(y_.begin(), y_.end());
        const std::vector<double> calm = calmed(top);
        const double low = std::max(clearOfNoise / 2 * noise_, 0.03 * top), some = 0.25 * top;
        const auto firstAbove = [&](double level) {
            return static_cast<std::size_t>(std::find_if(y_.begin(), y_.end(), [&](double v) { return v > level; }) -
                                            y_.begin());
        };
        const std::size_t a = firstAbove(some);
        std::size_t b = a;
        while (b > 0 && calm[b - 1] > low)
            --b;
        const std::size_t n = std::max<std::size_t>(4, a > b ? a - b : 0);
        const std::size_t first = std::min(b, y_.size() > n ? y_.size() - n : 0);
        const double slope = kinks_.slope(first, std::min(n, y_.size() - first));
        const double middle = kinks_.mean(first, std::min(n, y_.size() - first));
        const double cross =
            static_cast<double>(first) + 0.5 * static_cast<double>(n - 1) - (slope > 0 ? middle / slope : 0.0);
        onAt_ = std::clamp(cross, 0.0, static_cast<double>(a));
        on_ = static_cast<std::size_t>(std::lround(onAt_));
        std::size_t last = y_.size() - 1;
        while (last > on_ && calm[last] < std::max(some, 4 * noise_))
            --last;
        const std::size_t w = std::clamp<std::size_t>((last - on_) / 40, 3, 40);
        const std::size_t lately = last > on_ + 8 * w ? last - 6 * w : on_ + w;
        off_ = sharpestFall(lately, last + w, w, last).at;
        // Freewheeling it dies slowly, and lies far above nothing long after it was let go. Told by wider means.
        const std::size_t wide = std::clamp<std::size_t>((last - on_) / 16, 4, 200);
        const Break early = sharpestFall(on_ + 2 * wide, last, wide, last);
        if (early.at < lately &&
            sharpestFall(std::max(lately, early.at + wide), last + w, wide, last).kink > lateOfFall * early.kink &&
            dies(early.at, last)) {
            const std::size_t near = noise_ > noisyShare / 3 * top ? wide / 2 : w;
            off_ = sharpestFall(early.at - wide / 2, early.at + wide / 2, near, early.at).at;
        }
        pulse_.on_s = seconds(onAt_);
        pulse_.off_s = seconds(static_cast<double>(off_));
    }

    struct Break {
        std::size_t at = 0;
        double kink = 0;  // below nothing
    };

    Break sharpestFall(std::size_t from, std::size_t to, std::size_t w, std::size_t none) const
    {
        Break out{none, 0};
        for (std::size_t k = std::max(from, w); k + w < y_.size() && k <= to; ++k) {
            const double kink = kinks_.at(k, w);
            if (kink < out.kink) out = {k, kink};
        }
        return out;
    }

    // It falls all the way, the slower the less of it is left: what is held has come to rest before it is let go.
    bool dies(std::size_t from, std::size_t to) const
    {
        const std::size_t part = std::max<std::size_t>(4, (to - from) / 5);
        const double first = kinks_.slope(from + 1, part), last = kinks_.slope(to - part, part);
        return first < 0 && last < stillFalls * first;
    }

    void peak()
    {
        const auto n = std::clamp<std::size_t>((off_ - on_) / 60, 1, 16);
        double most = -1e300;
        std::size_t at = on_;
        for (std::size_t k = on_; k + n <= std::min(y_.size(), off_ + 1); ++k) {
            const double m = kinks_.mean(k, n);
            if (m > most) most = m, at = k;
        }
        peak_ = most;
        peakAt_ = at + n / 2;
        put(measured("peak", "Peak current", Unit::Ampere, most,
                     std::hypot(noise_ / std::sqrt(static_cast<double>(n)), currentScale * most),
                     seconds(static_cast<double>(peakAt_))));
    }

    void hold()
    {
        const std::size_t length = off_ - on_;
        const std::size_t tail = std::max<std::size_t>(4, length / 4);
        const double late = kinks_.mean(off_ - tail, tail);
        pulse_.holds = peakAt_ < on_ + 7 * length / 10 && late < heldShare * peak_;
        if (!pulse_.holds) return;
        put(measured("hold", "Holding current", Unit::Ampere, late,
                     std::hypot(noise_ / std::sqrt(static_cast<double>(tail)), currentScale * late),
                     seconds(static_cast<double>(off_ - tail / 2))));
    }

    // L = (U − R i) / (di/dt) in the first tenth, before the armature moves.
    void rise()
    {
        const double stop = 0.2 * peak_;
        std::size_t b = on_ + 2;
        const std::vector<double> calm = calmed(peak_);
        while (b < off_ && calm[b] < stop)
            ++b;
        const std::size_t from = on_ + 1;
        const std::size_t n = b > from ? b - from : 0;
        if (n < 6) {
            put(notMeasurable("slope", "Turn-on slope", Unit::None, "the rise has fewer than six samples"));
            return;
        }
        slope_ = kinks_.slope(from, n) / dt_;
        const double sigma = noise_ * Kinks::slopeSigma(n) / dt_;
        if (!(sigma < slopeNoise * slope_)) {
            for (const char* id : {"slope", "inductance"})
                put(notMeasurable(id, id == std::string("slope") ? "Turn-on slope, A/s" : "Inductance, mH", Unit::None,
                                  "the noise would hide it in so few samples"));
            return;
        }
        put(measured("slope", "Turn-on slope, A/s", Unit::None, slope_, std::hypot(sigma, 0.03 * slope_),
                     seconds(static_cast<double>(from + n / 2))));
        if (beside_.supply_V && slope_ > 0) {
            const double L = *beside_.supply_V / slope_;
            put(measured("inductance", "Inductance, mH", Unit::None, 1e3 * L,
                         1e3 * L * std::hypot(0.09, sigma / slope_)));
        } else {
            put(notMeasurable("inductance", "Inductance, mH", Unit::None, "the supply voltage is not known"));
        }
    }

    struct Found {
        std::size_t at = 0, width = 0;
        double z = 0;
    };

    // What steps of a converter do to a slope over n samples of which fewer than a few steps are seen.
    double stairError(double slope, std::size_t n) const
    {
        const double count = static_cast<double>(n);
        const double perStep = stair_ / std::max(1e-12, std::abs(slope));  // samples
        return stairShare * stair_ / count * std::min(1.0, perStep / count);
    }

    // The sharpest positive kink on the rise, at the width that shows it best.
    Found sharpest() const
    {
        const std::size_t last = pulse_.holds ? peakAt_ : off_;
        const std::size_t length = last > on_ ? last - on_ : 0;
        const double mean = (peak_ - y_[on_]) / std::max(1.0, static_cast<double>(peakAt_ - on_));
        Found best;
        for (std::size_t n = 4; n <= std::max<std::size_t>(4, length / 8); n = n + std::max<std::size_t>(2, n / 2)) {
            const double noise = noise_ * std::sqrt(2.0) * Kinks::slopeSigma(n);
            for (std::size_t k = on_ + 2 * n; k + 2 * n < last; ++k) {
                stopPoint();
                const double kink = kinks_.at(k, n);
                if (kink < kinkOfSlope * mean || kink < std::max(best.z, liftZ) * noise) continue;
                const double stair =
                    stair_ > 0 ? stairError(kinks_.slope(k - n, n), n) + stairError(kinks_.slope(k, n), n) : 0;
                const double z = kink / std::hypot(noise, stair);
                if (z <= best.z || z < liftZ) continue;
                // Saturation bends smoothly: seen twice as wide it bends twice as much.
                const double wide = kinks_.at(k, 2 * n);
                if (kink < sharpShare * wide) continue;
                // And the current had begun to level off before.
                if (kinks_.slope(k - n, n) > 0.9 * kinks_.slope(k, n)) continue;
                best = {k, n, z};
            }
        }
        return best;
    }

    struct Place {  // samples
        double at = 0, sigma = 0;
    };

    void lift()
    {
        const bool noisy = noise_ > noisyShare * peak_;
        const Found found = noisy ? Found{} : sharpest();
        std::optional<Place> place;
        if (found.z > 0) place = hinge(found);
        place = byLaw(place);
        if (!place) {
            put(notMeasurable("lift", "Armature lift", Unit::Second,
                              noisy ? "the noise would hide it" : "no dip stands out of the rise"));
            return;
        }
        const double at_s = seconds(place->at);
        put(measured("lift", "Armature lift after switching on", Unit::Second, at_s - pulse_.on_s, dt_ * place->sigma,
                     at_s));
    }

    // A kink is all that a hinge looks at; where it is unsure the whole rise says more, if the law holds in it. Both
    // together, each by its variance.
    std::optional<Place> byLaw(const std::optional<Place>& hinge) const
    {
        const bool isSure = hinge ? dt_ * hinge->sigma < hingeUnsure_s : noise_ < hiddenShare * peak_;
        if (!asksLaw_ || isSure || pulse_.holds || noise_ > lawlessShare * peak_) return hinge;
        const double begin = hinge ? hinge->at : onAt_ + 0.25 * (static_cast<double>(off_) - onAt_);
        const auto fit = fitArmature(y_, dt_, noise_, onAt_, off_ - 3, begin);
        if (!fit || fit->rest > lawHolds) return hinge;
        if (!fit->lift || fit->gained < lawMustGain) return std::nullopt;
        const Place law{*fit->lift, std::hypot(lawSpread * fit->sigma, lawOff_s / dt_)};
        if (!hinge) return dt_ * law.sigma < lawSure_s ? std::optional(law) : std::nullopt;
        const double a = 1 / (hinge->sigma * hinge->sigma), b = 1 / (law.sigma * law.sigma);
        return Place{(a * hinge->at + b * law.at) / (a + b), 1 / std::sqrt(a + b)};
    }

    // Cubic before the stop, parabolic behind it, without a step between: the place k at which this leaves least.
    // y = a + b t + c h + d h² + e g² + f g³,  h = max(0, t), g = min(0, t), t counted from k.
    // And its sigma in samples: as far to both sides as what is left grows by less than one variance of the noise.
    Place hinge(const Found& found) const
    {
        const auto widest = std::max<std::size_t>(12, static_cast<std::size_t>(std::min(1e9, hingeReach_s / dt_)));
        const std::size_t reach = std::clamp<std::size_t>(5 * found.width / 2, 12, widest);
        const std::size_t first = std::max(on_ + 2, found.at > reach ? found.at - reach : 0);
        const std::size_t last = std::min(off_ - 1, found.at + reach);
        if (last < first + 14) return {static_cast<double>(found.at), static_cast<double>(found.width) / found.z};
        const HingeSums sums(y_, first, last);
        const auto restAt = [&](std::size_t k) { return sums.restAt(k); };
        // In strides first, then every sample about the best.
        const std::size_t lowest = first + 4, highest = last - 5;
        std::size_t from = std::max(first + 4, found.at - std::min(found.at, found.width));
        std::size_t to = std::min(last - 5, found.at + found.width), place = found.at;
        double least = 1e300;
        for (std::size_t stride = std::max<std::size_t>(1, found.width / 8);;) {
            least = 1e300;
            for (std::size_t k = from; k <= to; k += stride) {
                stopPoint();
                const double rest = restAt(k);
                if (rest < least) least = rest, place = k;
            }
            if (stride == 1 || least == 1e300) break;
            from = std::max(from, place - std::min(place, stride));
            to = std::min(to, place + stride);
            stride = 1;
        }
        const double open = least + noise_ * noise_;
        std::size_t a = place, b = place;
        while (a > lowest && restAt(a - 1) < open)
            --a;
        while (b < highest && restAt(b + 1) < open)
            ++b;
        return {static_cast<double>(place),
                std::hypot(hingeSpread * 0.5 * static_cast<double>(b - a + 1), hingeOff_s / dt_)};
    }

    void end()
    {
        const std::size_t length = off_ - on_;
        const std::size_t tail = std::max<std::size_t>(6, length / 6);
        const std::size_t from = off_ - std::min(off_ - on_, tail + 1);
        const double level = kinks_.mean(from, tail);
        const double sigma = std::hypot(noise_ / std::sqrt(static_cast<double>(tail)), currentScale * level);
        put(measured("end current", "Current at the end", Unit::Ampere, level, sigma,
                     seconds(static_cast<double>(off_ - tail / 2))));
        if (beside_.supply_V) {
            const double u = *beside_.supply_V;
            const double share = std::hypot(sigma / level, supplySigma_V / u);
            put(measured("end over supply", "Current at the end over supply, mA/V", Unit::None, 1e3 * level / u,
                         1e3 * level / u * share));
        }
        const double still = kinks_.slope(from, tail) * static_cast<double>(tail);
        const double stillSigma = noise_ * Kinks::slopeSigma(tail) * static_cast<double>(tail);
        if (pulse_.holds)
            put(notMeasurable("resistance", "Resistance of the loop", Unit::Ohm, "the drive limits the current"));
        else if (std::abs(still) > plateauRise * level + 2 * stillSigma)
            put(notMeasurable("resistance", "Resistance of the loop", Unit::Ohm,
                              "the current has not come to rest when it is switched off"));
        else if (!beside_.supply_V)
            put(notMeasurable("resistance", "Resistance of the loop", Unit::Ohm, "the supply voltage is not known"));
        else {
            // R = U / I on the plateau, feed, return and drive in it.
            const double R = *beside_.supply_V / level;
            const double share = std::hypot(sigma / level, supplySigma_V / *beside_.supply_V);
            put(measured("resistance", "Resistance of the loop", Unit::Ohm, R, R * share));
        }
    }

    void turnOff()
    {
        const double from = kinks_.mean(off_ > 3 ? off_ - 3 : 0, 3);
        std::size_t k = off_;
        while (k < y_.size() && y_[k] > std::max(0.1 * from, 3 * noise_))
            ++k;
        if (k == y_.size()) {
            put(notMeasurable("turn-off", "Turn-off time", Unit::Second,
                              "the current has not died when the pulse is left"));
            return;
        }
        diedAt_ = k;
        put(measured("turn-off", "Turn-off time", Unit::Second, static_cast<double>(k - off_) * dt_, dt_,
                     seconds(static_cast<double>(k))));
    }

    // Where the armature comes to rest again its own voltage stops: on a freewheeling current a kink downwards, at an
    // open drive the end of a hump.
    void closing()
    {
        const char* name = "Armature closes after switching off";
        const auto no = [&](const char* why) { put(notMeasurable("closing", name, Unit::Second, why)); };
        if (diedAt_ == 0) return no("the current has not died when the pulse is left");
        const std::size_t decay = diedAt_ - off_;
        std::optional<std::size_t> at;
        if (decay > fewestOfDecay) at = kinkOfDecay(decay);
        // Freewheeling, the voltage falls back from the diode's when the current ends: that is no hump.
        if (!at && beside_.control && clamps()) at = endOfHump();
        if (!at && !beside_.control && decay <= fewestOfDecay)
            return no("the current is gone before, and the voltage at the drive is not recorded");
        if (!at) return no("nothing stands out of the noise behind the turn-off");
        put(measured("closing", name, Unit::Second, static_cast<double>(*at - off_) * dt_, 3 * dt_,
                     seconds(static_cast<double>(*at))));
    }

    bool clamps() const
    {
        const auto c = beside_.control->samples.read(pulse_.first, pulse_.last - pulse_.first);
        const double rest = on_ > 2 ? Kinks(c).mean(0, on_ - 1) : c.front();
        return *std::max_element(c.begin() + static_cast<std::ptrdiff_t>(off_ > 3 ? off_ - 3 : 0), c.end()) >
               rest + clampAbove_V;
    }

    std::optional<std::size_t> kinkOfDecay(std::size_t decay) const
    {
        double best = liftZ;
        std::optional<std::size_t> at;
        for (std::size_t n = 4; n <= std::max<std::size_t>(4, decay / 10); n += std::max<std::size_t>(2, n / 2)) {
            for (std::size_t k = off_ + n + 4; k + n < std::min(diedAt_, y_.size()); ++k) {
                stopPoint();
                // An exponential bends upwards everywhere: downwards is the armature.
                const double z = -kinks_.at(k, n) /
                                 (noise_ * std::sqrt(2.0) * Kinks::slopeSigma(n) + stairError(kinks_.slope(k, n), n));
                if (z > best && -kinks_.at(k, n) > -kinks_.at(k, 2 * n) * sharpShare && k > off_ + 2 * n &&
                    k + 2 * n < y_.size())
                    best = z, at = k;
            }
        }
        return at;
    }

    // The sharpest fall of the voltage, back to what it rests at.
    std::optional<std::size_t> endOfHump() const
    {
        const auto c = beside_.control->samples.read(pulse_.first, pulse_.last - pulse_.first);
        const double step = beside_.control->samples.resolution(), noise = noiseOf(c, step);
        const Kinks levels(c);
        if (on_ < 8) return std::nullopt;
        const double rest = levels.mean(0, on_ - 2);
        // While it is higher than this it is the spike itself that falls, not the armature's own voltage.
        const double spike = *std::max_element(c.begin() + static_cast<std::ptrdiff_t>(off_), c.end());
        std::size_t fallen = c.size();
        while (fallen > off_ && c[fallen - 1] < rest + humpOfSpike * (spike - rest))
            --fallen;
        const std::size_t from = std::max(diedAt_, fallen) + std::max<std::size_t>(4, (diedAt_ - off_) / 4);
        if (from + 32 > c.size()) return std::nullopt;
        double best = humpZ;
        std::optional<std::size_t> at;
        for (std::size_t n = 4; 4 * n < c.size() - from; n *= 2) {
            const double error =
                noise * std::sqrt(2.0 / static_cast<double>(n)) + 0.5 * step / std::sqrt(static_cast<double>(n));
            for (std::size_t k = from + n; k + n < c.size(); ++k) {
                stopPoint();
                const double before = levels.mean(k - n, n), behind = levels.mean(k, n);
                const double z = (before - behind) / error;
                if (z > best && std::abs(behind - rest) < 0.4 * (before - rest)) best = z, at = k;
            }
        }
        return at;
    }

    void control()
    {
        const auto c = beside_.control->samples.read(pulse_.first, pulse_.last - pulse_.first);
        const double noise = noiseOf(c, beside_.control->samples.resolution());
        const auto mean = [&](std::size_t a, std::size_t b) {
            return std::accumulate(c.begin() + static_cast<std::ptrdiff_t>(a),
                                   c.begin() + static_cast<std::ptrdiff_t>(b), 0.0) /
                   static_cast<double>(b - a);
        };
        if (on_ > 4) put(measured("battery level", "Level before switching on", Unit::Volt, mean(0, on_ - 2), noise));
        const std::size_t a = on_ + (off_ - on_) / 2;
        if (off_ > a + 3)
            put(measured("on level", "Level at the drive while on", Unit::Volt, mean(a, off_ - 2), noise));
        const auto top = std::max_element(c.begin() + static_cast<std::ptrdiff_t>(off_ > 3 ? off_ - 3 : 0), c.end());
        const auto at = static_cast<std::size_t>(top - c.begin());
        if (on_ > 4 && *top > mean(0, on_ - 2) + 6 * noise + 1)
            put(measured("spike", "Turn-off spike", Unit::Volt, *top, noise, seconds(static_cast<double>(at))));
        else
            put(notMeasurable("spike", "Turn-off spike", Unit::Volt,
                              "there is none above the supply: a diode takes it, or the lead misses it"));
    }

    double dt_, noise_;
    double stair_;  // a converter's step where no noise blurs it, else 0
    const WindingBeside& beside_;
    bool asksLaw_;
    Pulse& pulse_;
    std::vector<double> y_;
    Kinks kinks_;
    std::size_t on_ = 0, off_ = 0, peakAt_ = 0, diedAt_ = 0;
    double onAt_ = 0, peak_ = 0, slope_ = 0;
};

// What the clamp shows of nothing: the middle of the lowest level at which at least a twentieth of the samples lie.
double restOf(const std::vector<double>& x, double noise)
{
    const double least = *std::min_element(x.begin(), x.end()), most = *std::max_element(x.begin(), x.end());
    if (!(most > least)) return least;
    const double width = std::max(6 * noise, (most - least) / 50);
    std::vector<std::size_t> counts(static_cast<std::size_t>((most - least) / width) + 2, 0);
    const auto place = [&](double v) { return static_cast<std::size_t>((v - least) / width); };
    const std::size_t stride = std::max<std::size_t>(1, x.size() / 100000);
    std::size_t looked = 0;
    for (std::size_t i = 0; i < x.size(); i += stride, ++looked)
        ++counts[place(x[i])];
    std::size_t at = 0;
    while (at + 2 < counts.size() && 20 * (counts[at] + counts[at + 1]) < looked)
        ++at;
    std::vector<double> low;
    for (std::size_t i = 0; i < x.size(); i += stride) {
        if (place(x[i]) == at || place(x[i]) == at + 1) low.push_back(x[i]);
    }
    return medianOf(std::move(low));
}

// Where the current stays above a level; stretches that are no more than `gap` samples apart are one (a held current
// chops). Of three neighbours two must lie above it: one odd sample is no pulse.
std::vector<std::pair<std::size_t, std::size_t>> stretches(const std::vector<double>& x, double level, std::size_t gap)
{
    std::vector<std::pair<std::size_t, std::size_t>> out;
    int above = x[0] > level ? 3 : 0;  // of the neighbours, one bit each
    for (std::size_t i = 0; i < x.size(); ++i) {
        stopPointAt(i);
        above = ((above << 1) | (x[std::min(i + 1, x.size() - 1)] > level ? 1 : 0)) & 7;
        if (above != 3 && above < 5) continue;
        if (!out.empty() && i - out.back().second <= gap)
            out.back().second = i;
        else
            out.emplace_back(i, i);
    }
    return out;
}

}  // namespace

const TraceMeasure* Pulse::find(const std::string& id) const
{
    const auto at = std::find_if(measures.begin(), measures.end(), [&](const TraceMeasure& m) { return m.id == id; });
    return at == measures.end() ? nullptr : &*at;
}

std::optional<double> Pulse::value(const std::string& id) const
{
    const TraceMeasure* m = find(id);
    return m ? m->value : std::nullopt;
}

Result<Pulses> measureWinding(const Recording& r, const Channel& current, const WindingBeside& beside)
{
    std::vector<double> x = current.samples.read(0, current.samples.size());
    if (x.size() < fewest) return fail(current.name, "has too few samples");
    Pulses out;
    out.noise_A = noiseOf(x, current.samples.resolution());
    out.zero_A = restOf(x, out.noise_A);
    for (double& v : x)
        v -= out.zero_A;
    const double top = *std::max_element(x.begin(), x.end());
    if (!(top > clearOfNoise * out.noise_A)) return fail(current.name, "nothing in it rises out of its noise");
    const double level = std::max(pulseShare * top, clearOfNoise / 2 * out.noise_A);
    const auto gap = static_cast<std::size_t>(std::clamp(chopping_s / r.interval_s, 3.0, 1e9));
    const auto found = stretches(x, level, gap);
    for (std::size_t i = 0; i < found.size(); ++i) {
        stopPointAt(i);
        const auto [a, b] = found[i];
        if (b - a < 4) continue;
        const std::size_t room = (b - a) / 2 + 8;
        const std::size_t before = i == 0 ? 0 : (found[i - 1].second + a) / 2;
        const std::size_t behind = i + 1 == found.size() ? x.size() : (b + found[i + 1].first) / 2;
        Pulse p;
        p.first = std::max(before, a > room ? a - room : 0);
        p.last = std::min(behind, b + room);
        p.cut = a < 3 || b + 3 > x.size();
        out.pulses.push_back(std::move(p));
    }
    if (out.pulses.empty()) return fail(current.name, "no pulse is found in it");
    const double step = current.samples.resolution();
    // Each by itself: as many at a time as the machine has cores.
    std::atomic<std::size_t> next = 0;
    onSeveralCores(std::max<std::size_t>(1, out.pulses.size() / 4), [&] {
        for (std::size_t k = next++; k < out.pulses.size(); k = next++) {
            stopPoint();
            OnePulse(r, x, out.noise_A, step, beside, out.pulses.size() <= mostByLaw, out.pulses[k]).measure();
        }
    });
    return out;
}

}  // namespace ilvek
