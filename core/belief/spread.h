// What may put one reading off beside the suspects: its own digits, the scale of the meter, the battery, and parts
// whose figures the map knows only within a tolerance; and what of that it shares with other readings.
#pragma once

#include <algorithm>
#include <cmath>

#include <utility>
#include <vector>

#include "belief/observations.h"

namespace ilvek {

// Without a battery reading of the minute its own voltage is known within this; with one, within its last digits.
constexpr double batteryUnknown_V = 0.35;
constexpr double batteryKnown_V = 0.015;

struct Spread {
    const Column* column = nullptr;   // of the table; null for what is no reading
    const Column* battery = nullptr;  // the posts in that state, where they were read
    bool batteryRead = false;
    std::vector<std::pair<int, double>>
        parts;                   // what each part may move it by, one sigma, seen from the posts; by element
    double petty_V = 0;          // of drops that no sheet lists
    double scale = 0;            // V, what the instrument's scale may put it off by, one sigma
    std::vector<double> shared;  // its row of the Cholesky factor: what it shares with earlier readings
    double left = 0;             // V², of its spread what is its own
};

// Without what it shares.
Spread spreadOf(const Column& column, const Column* battery, const Observation& o);

// Row of the Cholesky factor of the spread: L l = covariances with the earlier readings. `earlier` is asked for the
// spread of each of them.
template <class Earlier>
void shareWith(std::size_t count, const Earlier& earlier, const Observation& o, Spread& s);

// Covariance of what two readings may be off by.
double covariance(const Spread& a, const Spread& b);
// V², all that one may be off by; of that what no other reading tells goes to `untold`.
double varianceOf(const Spread& s, const Observation& o, double& untold);

template <class Earlier>
void shareWith(std::size_t count, const Earlier& earlier, const Observation& o, Spread& s)
{
    double untold = 0;
    s.left = varianceOf(s, o, untold);
    s.shared.clear();
    for (std::size_t r = 0; r < count; ++r) {
        const Spread& other = earlier(r);
        double l = 0;
        if (other.column) {
            l = covariance(s, other);
            for (std::size_t q = 0; q < r; ++q)
                l -= s.shared[q] * other.shared[q];
            l /= other.shared[r];
        }
        s.shared.push_back(l);
        s.left -= l * l;
    }
    s.left = std::max(s.left, o.sigma * o.sigma + untold);
    s.shared.push_back(std::sqrt(s.left));
}

}  // namespace ilvek
