// What the readings say of another battery's voltage, under one severity of a feed from it.
#pragma once

#include "belief/weighing.h"

namespace ilvek {

// In sigmas of that voltage.
struct OtherBattery {
    double mean = 0, variance = 1;

    // What one sigma of it moves a column's reading by, between two cases; 0 where none feeds.
    static double movesBy(const Column& column, int low, int high, double share);
    // A reading that such a sigma moves by so much.
    void expect(double by, ReadUnder& seen) const;
    void learn(double by, const Weighed& weighed);
};

}  // namespace ilvek
