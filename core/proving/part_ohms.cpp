#include "proving/part_ohms.h"

#include <algorithm>
#include <cmath>
#include <initializer_list>

#include "base/text.h"
#include "bench_map/sheet_words.h"
#include "circuit/operating_point.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

bool isCalled(const Element& e, std::initializer_list<std::string_view> names)
{
    const auto words = loweredWords(e.name);
    return std::ranges::any_of(words, [&](const std::string& w) { return std::ranges::count(names, w) > 0; });
}

// Sensors and nodes of which a sheet says only what they hang on: there may be none. And sensors that are no track but
// electronics, which pass nothing of what an ohmmeter gives them.
bool mayShowNothing(const Map& map, const Element& e)
{
    if (!map.isOfSheet() || !e.assumed) return false;
    if (e.kind == ElementKind::Resistor) return isCalled(e, {"sensors"}) || e.name.starts_with("other nodes");
    return e.kind == ElementKind::Sensor && !isCalled(e, {"potentiometer", "pot", "joystick", "pedal", "lever",
                                                          "throttle", "sender", "rheostat", "slider"});
}

}  // namespace

bool isLed(const Element& e)
{
    return isCalled(e, {"led", "leds"});
}

bool isElectronic(const Map& map, const Element& e)
{
    if (!map.isOfSheet() || e.place == "inside the module") return false;
    if (e.kind == ElementKind::SupplyPort) return true;
    const int t = e.id.starts_with("load ") ? map.terminalIndex(e.id.substr(5)) : -1;
    const bool isDriven = t >= 0 && map.terminal(t).role && groupOf(*map.terminal(t).role) == Group::Drives;
    if (e.kind != ElementKind::Lamp && (e.kind != ElementKind::Resistor || !e.assumed || !isDriven)) return false;
    if (isCalled(e, {"heater", "heating", "glow"})) return false;  // a "heating unit" is its ohms
    return isLed(e) || isCalled(e, {"buzzer", "siren", "sounder", "alarm", "radio", "strobe", "camera", "display",
                                    "module", "unit"});
}

bool mayBeOfPartAtRest(const Map& map, const Reading& r)
{
    constexpr double less = 0.05, more = 0.12, own_ohm = 0.6, differs = 1.25;
    auto low = conditionOf(map, r);
    const int red = map.nodeIndex(r.red), black = map.nodeIndex(r.black);
    if (!map.isOfSheet() || unitAsked(r.test) != Unit::Ohm || !low || red < 0 || black < 0) return false;
    low->meter = Meter{red, black, 10e6, Meter::Mode::Ohms};
    Condition high = *low;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        const int element = static_cast<int>(i);
        if (mayShowNothing(map, e)) {
            high.faults.push_back({Fault::Kind::Open, element});
        } else if (isElectronic(map, e)) {
            low->faults.push_back(
                {Fault::Kind::ShortBetween, -1, e.nodes[0], e.nodes[1], trade::electronicsAtRest_ohm});
            if (e.kind != ElementKind::SupplyPort) high.faults.push_back({Fault::Kind::Open, element});
        } else if (e.kind == ElementKind::Motor) {
            low->faults.push_back({Fault::Kind::OutOfValue, element, -1, -1, 0, trade::motorAtRestLeast});
            high.faults.push_back({Fault::Kind::OutOfValue, element, -1, -1, 0, trade::motorAtRestMost});
        }
    }
    if (high.faults.empty() && low->faults.empty()) return false;
    const auto a = displayOf(map, *low), b = displayOf(map, high);
    if (!a || !b || a->live || b->live) return false;
    const auto ohms = [](const Display& d) { return d.overLimit ? INFINITY : d.value; };
    const double least = ohms(*a), most = ohms(*b), read = r.value.overLimit ? INFINITY : partOhms(r);
    return most > differs * least + own_ohm && read > (1 - less) * least &&
           (std::isinf(most) || read < (1 + more) * most + own_ohm);
}

}  // namespace ilvek
