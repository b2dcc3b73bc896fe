// A reading under the severities of one suspect, one after the other.
#pragma once

#include "belief/severity_grid.h"
#include "belief/weighing.h"

namespace ilvek {

// From the first to the last: as computed at those of the table, interpolated between two of them.
class Passage {
public:
    // REQUIRES: both outlive this; the row is of a reading.
    Passage(const WeighedRow& row, const Observation& o);

    // Of the next fine case; NaN where a neighbour has no figure.
    ReadUnder to(const Fine& f);
    // Between two severities, where the reading jumps: on either side of the jump.
    std::vector<double> sidesOfJump(const Fine& f) const;

private:
    double at(int tableCase) const;
    void arrive(const Fine& f);
    void depart(const Fine& f);
    ReadUnder leave(const ReadUnder& seen);

    const WeighedRow& row_;
    const Observation& o_;
    double sound_;
    double before_ = 0, x0_ = 0;        // the severity before: its reading and its number
    double a_ = 0, b_ = 0, third_ = 0;  // of the two that a fine case lies between, and of a third
    double last_ = 0;                   // of the fine case before
    bool isFirst_ = true, jumps_ = false;
};

}  // namespace ilvek
