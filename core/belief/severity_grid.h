// The severities of all suspects as they are weighed: those of the table and what lies between them.
#pragma once

#include <vector>

#include "prediction/predictions.h"

namespace ilvek {

struct Fine {  // a severity of the table, or a place between two
    int suspect = 0;
    int low = 0, high = 0;  // cases of the table
    double share = 0;
    double x1 = 0, x2 = 0, x = 0;  // severity numbers of both and between
    int third = -1;                // a neighbouring case, and its number
    double x3 = 0;
    bool fed = false;     // from another battery
    bool begins = false;  // nothing lies between it and the severity before
};

class SeverityGrid {
public:
    static constexpr int between = 6;  // fine cases per step between two severities

    // REQUIRES: `suspects` outlives this.
    explicit SeverityGrid(const std::vector<Suspect>& suspects);

    std::size_t begin(int suspect) const { return firstFine_[static_cast<std::size_t>(suspect)]; }
    std::size_t end(int suspect) const { return begin(suspect + 1); }
    std::size_t of(int suspect) const { return end(suspect) - begin(suspect); }
    std::size_t size() const { return fine_.size(); }
    const Fine& operator[](std::size_t fine) const { return fine_[fine]; }
    const std::vector<int>& firstCases() const { return first_; }
    // The suspect with just these of its fine severities.
    Suspect dense(int suspect, const std::vector<std::size_t>& severities) const;
    // Fine severities per severity of the table.
    int steps(int suspect) const;

private:
    void addBreak(Fine before);

    const std::vector<Suspect>& suspects_;
    std::vector<int> first_;              // by suspect, cases of the table
    std::vector<std::size_t> firstFine_;  // by suspect
    std::vector<Fine> fine_;
};

// Between two severities the share of the disagreement of two curves through different points that is one sigma.
constexpr double bendShare = 0.5;
// The curve V(x) = (a + b x)/(1 + c x) through the two severities and a third.
double curveThrough(const Fine& fine, double v1, double v2, double v3);

}  // namespace ilvek
