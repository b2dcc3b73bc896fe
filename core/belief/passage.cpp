#include "belief/passage.h"

#include <cmath>

#include "belief/likelihood.h"

namespace ilvek {

namespace {

// Whether a reading jumps from one severity to the next, a → b, V or decades, as where a fuse blows between them: it
// goes on far faster than from the severity before, or turns round. That stretch, before → a, is to this one as one to
// `longer`.
bool isJump(double before, double a, double b, double longer, double sigma)
{
    constexpr double bendsBy = 4, seenFrom = 3;
    const double goesOn = (a - before) * longer, comes = b - a;
    return std::abs(comes) > (goesOn * comes > 0 ? bendsBy * std::abs(goesOn) : 0) + seenFrom * sigma;
}

}  // namespace

Passage::Passage(const WeighedRow& row, const Observation& o) : row_(row), o_(o), sound_(at(0))
{
    before_ = a_ = b_ = sound_;
}

ReadUnder Passage::to(const Fine& f)
{
    if (f.share <= 0) {
        // It stands for those about it too, unless the reading jumps on the way here, or has no figure there.
        const bool goesOn = !isFirst_ && !jumps_ && !std::isnan(last_);
        const double cell = goesOn ? cellShare * (at(f.low) - last_) : 0;
        arrive(f);
        return leave({a_, square(cell), sound_, false, 0});
    }
    if (isFirst_) depart(f);
    isFirst_ = false;
    if (std::isnan(a_) || std::isnan(b_)) return {std::nan(""), 0, sound_, false, 0};
    ReadUnder seen{between3(sound_, f.x1, a_, f.x2, b_, f.x, f.share), 0, sound_, false, 0};
    // The same from a neighbouring severity instead of the sound circuit: where both agree the circuit is linear
    // here; where not, its laws change between the two.
    // Without one, from the straight line.
    const double other = f.third >= 0 ? curveThrough(f, a_, b_, third_) : (1 - f.share) * a_ + f.share * b_;
    const double bend = bendShare * (seen.v - other);
    // Severities lie as close as the fine cases and no closer.
    seen.unsure2 = square(bend) + square(cellShare * (seen.v - last_));
    return leave(seen);
}

std::vector<double> Passage::sidesOfJump(const Fine& f) const
{
    return f.share > 0 && jumps_ ? std::vector<double>{a_, b_} : std::vector<double>{};
}

double Passage::at(int tableCase) const
{
    return shifted(*row_.column, static_cast<std::size_t>(tableCase), row_.battery, o_);
}

void Passage::arrive(const Fine& f)
{
    before_ = f.begins ? sound_ : a_;
    if (f.begins) x0_ = 0;
    a_ = b_ = at(f.low);
    isFirst_ = true;
}

void Passage::depart(const Fine& f)
{
    b_ = at(f.high);
    third_ = f.third >= 0 ? at(f.third) : 0;
    jumps_ = isJump(before_, a_, b_, (f.x2 - f.x1) / (f.x1 - x0_), std::sqrt(row_.left));
    x0_ = f.x1;
}

ReadUnder Passage::leave(const ReadUnder& seen)
{
    last_ = seen.v;
    return seen;
}

}  // namespace ilvek
