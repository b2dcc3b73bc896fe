// What trials draw and count with.
#pragma once

#include <optional>
#include <random>

#include "practice/trace_trials.h"

namespace ilvek::practice {

class Random {
public:
    explicit Random(unsigned seed) : generator_(seed) {}
    double between(double a, double b) { return std::uniform_real_distribution<double>(a, b)(generator_); }
    int whole(int a, int b) { return std::uniform_int_distribution<int>(a, b)(generator_); }

private:
    std::mt19937 generator_;
};

inline Recorder recorderFor(int draw, double rate_Hz, double noise)
{
    Recorder r;
    r.interval_s = 1 / rate_Hz;
    r.noise = noise;
    r.seed = static_cast<unsigned>(draw + 1);
    return r;
}

// nullopt: it says that it cannot tell.
inline void count(Trial& t, std::optional<bool> right)
{
    ++t.of;
    if (right) (*right ? t.right : t.wrong) += 1;
}

}  // namespace ilvek::practice
