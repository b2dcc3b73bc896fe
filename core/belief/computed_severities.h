// One suspect followed through all observations with computed readings at its severities.
#pragma once

#include <vector>

#include "belief/other_battery.h"
#include "belief/weighing.h"

namespace ilvek {

// What was computed for one observation under the severities of one suspect.
struct Exact {
    std::vector<const Column*> columns;  // one for a reading, one for each need of a report
    const Column* battery = nullptr;     // the battery's posts in that state, where they were read
    std::size_t first = 0;               // the first of these severities in all of them
};

// Between two severities that are both computed a reading runs straight enough for many finer ones. Each is followed
// through all observations by itself; a severity then stands for those about it.
class ComputedSeverities {
public:
    struct Point {
        std::size_t low = 0, high = 0;  // computed severities
        double share = 0, weight = 1;
        double steady = 0, loose = 0;  // log-likelihood less that of the sound circuit; of one that comes and goes
        OtherBattery battery = {};
    };

    // `severities`: which of the suspect's fine ones, in order; `exact` by observation.
    ComputedSeverities(const Suspect& suspect, const std::vector<Observation>& taken,
                       const std::vector<WeighedRow>& rows, const std::vector<std::size_t>& severities,
                       const std::vector<Exact>& exact);

    const std::vector<Point>& points() const { return points_; }
    const Weighed& weighed(std::size_t observation, std::size_t point) const { return weighed_[observation][point]; }
    const HandedOn& handedOn(std::size_t observation, std::size_t point) const { return handedOn_[observation][point]; }
    const ReadUnder& seen(std::size_t observation, std::size_t point) const { return seen_[observation][point]; }
    // The points that are nearer to a severity than to the next.
    std::vector<std::size_t> near(std::size_t severity) const;

private:
    void read(const std::vector<Exact>& exact, std::size_t count);
    void divide(const std::vector<std::size_t>& severities);
    double mostWithin(std::size_t severity) const;
    void follow(std::size_t observation, const Exact& exact);
    void followReading(std::size_t observation, std::size_t point, const Exact& exact);

    const Suspect& suspect_;
    const std::vector<Observation>& taken_;
    const std::vector<WeighedRow>& rows_;
    std::vector<std::vector<double>> value_;  // by observation, by computed severity; a chance for reports
    std::vector<double> sound_;               // by observation
    std::vector<Point> points_;
    std::vector<std::vector<Weighed>> weighed_;    // by observation, by point
    std::vector<std::vector<HandedOn>> handedOn_;  // by observation, by point, as all that came later leaves it
    std::vector<std::vector<ReadUnder>> seen_;     // by observation, by point
};

}  // namespace ilvek
