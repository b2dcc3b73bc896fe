// The battery's posts in each state: what is read elsewhere is held against them.
#pragma once

#include <optional>
#include <vector>

#include "belief/belief.h"

namespace ilvek {

class Posts {
public:
    Posts(const Map& map, const PredictionTable& table) : map_(map), table_(table), shifts_(map.states.size()) {}

    // Of every case in the state; null while the table has none. One object is for one thread.
    const BatteryShifts* shifts(int state)
    {
        auto& known = shifts_[static_cast<std::size_t>(state)];
        if (!known) {
            Condition bare;
            bare.state = state;
            const Column* posts = table_.find(bare, batteryProbeOf(map_));
            known = posts ? shiftsOf(*posts) : BatteryShifts{};
        }
        return known->empty() ? nullptr : &*known;
    }

private:
    const Map& map_;
    const PredictionTable& table_;
    std::vector<std::optional<BatteryShifts>> shifts_;  // by state
};

}  // namespace ilvek
