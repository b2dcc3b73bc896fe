#include "procedures/work_cautions.h"

#include <algorithm>
#include <array>

#include "base/text.h"

namespace ilvek {

namespace {

struct Danger {
    const char* fact;
    std::vector<std::string_view> words;
};

const std::array<Danger, 5>& dangers()
{
    static const std::array<Danger, 5> all{{{"work.ignition", {"ignit", "spark", "coil ", "magneto"}},
                                            {"work.fuel", {"fuel", "inject", "petrol", "diesel", "gas valve"}},
                                            {"work.brakes", {"brake", "transmission", "gear", "travel", "clutch"}},
                                            {"work.turning", {"fan", "crank", "cam ", "wheel", "pick-up", "speed"}},
                                            {"work.heat", {"heater", "glow", "exhaust", "coolant"}}}};
    return all;
}

}  // namespace

void addWorkCautions(Flow& flow, int terminal, int part)
{
    const Map& map = flow.map();
    const std::string names =
        lowered((terminal >= 0 ? map.terminal(terminal).circuit : "") + " " + (part >= 0 ? nameOf(map, part) : "")) +
        " ";
    for (const Danger& d : dangers()) {
        if (std::any_of(d.words.begin(), d.words.end(),
                        [&](std::string_view w) { return names.find(w) != std::string::npos; }))
            flow.caution({d.fact, {}});
    }
}

}  // namespace ilvek
