// A recording: what a recorder wrote, channel by channel on one time base.
#pragma once

#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "base/result.h"
#include "quantity/quantity.h"
#include "trace/formats/gaps.h"

namespace ilvek {

// Samples as the recorder wrote them, 16-bit where the source has them, else single precision, and what one step of
// them is worth. Changing the scale never changes a sample.
class Samples {
public:
    Samples() = default;
    explicit Samples(std::vector<float> values) : floats_(std::move(values)) {}
    Samples(std::vector<std::int16_t> steps, double step, double zero)
        : steps_(std::move(steps)), isSteps_(true), step_(step), zero_(zero)
    {
    }

    std::size_t size() const { return isSteps_ ? steps_.size() : floats_.size(); }
    double at(std::size_t i) const { return step_ * raw(i) + zero_; }
    double raw(std::size_t i) const
    {
        return isSteps_ ? static_cast<double>(steps_[i]) : static_cast<double>(floats_[i]);
    }
    // `count` samples from `first` on. REQUIRES: they are there.
    std::vector<double> read(std::size_t first, std::size_t count) const;
    // value = step · raw + zero
    void setScale(double step, double zero);
    // The least that two of them differ by: what the recorder's converter could tell apart.
    double resolution() const;
    double step() const { return step_; }
    double zero() const { return zero_; }
    bool isSteps() const { return isSteps_; }
    const std::vector<std::int16_t>& steps() const { return steps_; }
    const std::vector<float>& floats() const { return floats_; }

private:
    std::vector<float> floats_;
    std::vector<std::int16_t> steps_;
    bool isSteps_ = false;
    double step_ = 1, zero_ = 0;
};

// How a channel was picked up: what the recorder saw, in volts, turned into what it means.
struct ChannelScale {
    std::optional<double> clamp_mVPerA;  // a clamp's output; the channel is then in amperes
    double attenuation = 1;              // 10 for a ten-to-one lead
    bool inverted = false;               // leads, or the clamp, the other way round
    double zero = 0;                     // what it shows of nothing, in the unit it was recorded in
    bool operator==(const ChannelScale&) const = default;
};

struct Channel {
    std::string name;
    Unit recordedUnit = Unit::Volt;
    double unitScale = 1;  // one recorded figure in base units: 0.001 for millivolts
    ChannelScale scale;
    Samples samples;
    std::vector<Gap> gaps = {};  // what of them is no figure; the samples there repeat the one before

    Unit unit() const { return scale.clamp_mVPerA ? Unit::Ampere : recordedUnit; }
};

struct Recording {
    std::string name;
    double start_s = 0;     // of the first sample, as the file says
    double interval_s = 0;  // between two samples
    std::vector<Channel> channels;
    std::vector<std::string> notes;  // what was assumed or mended while reading

    std::size_t size() const { return channels.empty() ? 0 : channels.front().samples.size(); }
    double rate_Hz() const { return interval_s > 0 ? 1 / interval_s : 0; }
    double length_s() const { return interval_s * static_cast<double>(size()); }
};

// Gives the samples the worth that the channel's unit and scale say: attenuated, turned, freed of its zero.
void applyScale(Channel& channel);

// What a channel shows of nothing, in the unit it was recorded in: its mean over a stretch in which nothing flowed,
// which only who was there can say: a current that stands still looks the same. ERRORS: no sample lies in it.
Result<double> levelBetween(const Channel& channel, double interval_s, double from_s, double to_s);

// Told the share that is done, now and then; false ends the work.
using Progress = std::function<bool(double share)>;

// Any format that Ilvek reads, by its contents and ending: CSV, WAV, MATLAB level 5, NumPy. Nothing is ever half
// loaded. ERRORS: no such file, not an ordinary file, of no known kind, faulty (with the line or the place), stopped.
Result<Recording> readRecording(const std::string& path, const Progress& progress = {});

// Whether it would be read as a table of text: it is of no other kind that is known.
bool isText(const std::string& path);

}  // namespace ilvek
