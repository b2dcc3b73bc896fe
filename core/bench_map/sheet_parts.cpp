#include "bench_map/sheet_parts.h"

#include <algorithm>
#include <cmath>

#include "quantity/trade.h"

namespace ilvek {

namespace {

using Kind = FarEnd::Kind;
using Values = std::vector<std::pair<std::string, std::string>>;

constexpr double leastTolerance = 0.03;

// The range that was stated, as one sigma of a sound part: its ends are some two sigmas out.
void addTolerance(const StatedFigure& figure, Values& values)
{
    const double share = std::max(leastTolerance, 0.25 * (figure.high - figure.low) / figure.middle());
    values.emplace_back("tolerance", assumedFigure(100 * share, Unit::Percent));
}

// Copper at the temperature for which its ohms were stated, brought to 20 °C. R = R20 (1 + α (T − 20 °C))
double at20(double ohm, const std::optional<double>& at_C)
{
    return at_C ? ohm / (1 + trade::copperPerKelvin * (*at_C - 20)) : ohm;
}

SheetElement ohmic(const char* kind, const FarEnd& far, double otherwise_ohm, bool isCopper)
{
    SheetElement e;
    e.kind = kind;
    const double ohm = far.ohms ? far.ohms->middle() : otherwise_ohm;
    e.values.emplace_back("resistance", assumedFigure(isCopper ? at20(ohm, far.at_C) : ohm, Unit::Ohm));
    e.stated = far.ohms.has_value();
    if (far.ohms) addTolerance(*far.ohms, e.values);
    return e;
}

// Watts at the system voltage are ohms. R = U² / P
FarEnd withOhms(const FarEnd& far, double volts)
{
    FarEnd out = far;
    if (far.watts && !far.ohms)
        out.ohms = StatedFigure{volts * volts / far.watts->high, volts * volts / far.watts->low};
    return out;
}

SheetElement senderPart(const FarEnd& far)
{
    const SenderOhms ohms = senderOhms(far);
    SheetElement e;
    e.kind = "resistor";
    e.values = {{"resistance", assumedFigure(ohms.middle, Unit::Ohm)},
                {"tolerance", assumedFigure(100 * ohms.within, Unit::Percent)}};
    return e;
}

SheetElement partOf(const SheetDocument& doc, const FarEnd& far, const PartBasis& basis)
{
    const double volts = doc.systemVoltage_V();
    if (far.isSender) return senderPart(far);
    SheetElement e;
    switch (far.kind) {
        case Kind::Lamp:
            e.kind = "lamp";
            e.values = {{"voltage", assumedFigure(volts, Unit::Volt)},
                        {"power", assumedFigure(far.watts ? far.watts->middle() : trade::lampPower_W, Unit::Watt)}};
            e.stated = far.watts.has_value();
            return e;
        case Kind::Motor:
            e.kind = "motor";
            e.values = {
                {"voltage", assumedFigure(volts, Unit::Volt)},
                {"current", assumedFigure(far.amperes ? far.amperes->middle() : basis.current_A, Unit::Ampere)}};
            e.stated = far.amperes.has_value();
            return e;
        case Kind::Module:
            e.kind = "supply port";
            e.values = {{"current", assumedFigure(far.amperes ? far.amperes->middle() : basis.current_A, Unit::Ampere)},
                        {"brown_out", assumedFigure(trade::unitWakes * volts, Unit::Volt)}};
            return e;  // what is told is what it takes at full work: at rest it takes less
        case Kind::Thermistor:
            e.kind = "thermistor";
            e.values = {
                {"resistance_25", assumedFigure(far.ohms ? far.ohms->middle() : trade::thermistorAt25_ohm, Unit::Ohm)},
                {"beta", assumedFigure(betaOf(far), Unit::Kelvin)},
                {"temperature", "20 °C"}};
            if (far.ohms) e.known = {{"resistance_25", Known::Stated}};
            return e;
        case Kind::Switch: {
            e.kind = "switch";
            e.values = {{"resistance", assumedFigure(trade::switch_ohm, Unit::Ohm)}};
            e.hasStates = true;
            for (const std::string& state : basis.states) {
                const bool operated =
                    std::find(basis.closedIn.begin(), basis.closedIn.end(), state) != basis.closedIn.end();
                if (operated != far.isClosedAtRest) e.in.push_back(state);
            }
            return e;
        }
        case Kind::RelayCoil:
            return ohmic("winding", far, trade::relayCoil_ohmPerVolt * volts, true);
        case Kind::Winding:
        case Kind::PickUp:
            return ohmic("winding", withOhms(far, volts), basis.resistance_ohm, true);
        default:
            break;
    }
    return ohmic("resistor", withOhms(far, volts), basis.resistance_ohm, false);
}

}  // namespace

SenderOhms senderOhms(const FarEnd& far)
{
    if (!far.ohms) return {};
    constexpr double leastShare = 0.03, leastRatio = 9;  // one figure is that of some place in its range
    const double high = far.ohms->high, low = std::max(far.ohms->low, leastShare * high);
    const double ratio = std::max(high / low, far.ohms->low == high ? leastRatio : 1.2);
    return {std::sqrt(low * high), std::min(1.0, std::expm1(0.25 * std::log(ratio)))};
}

double betaOf(const FarEnd& far)
{
    return far.isRising ? trade::risingBeta_K : trade::thermistorBeta_K;
}

void addPart(SheetDocument& doc, const FarEnd& far, const PartBasis& basis, const std::string& a, const std::string& b)
{
    SheetElement e = partOf(doc, far, basis);
    e.id = basis.id;
    e.nodes = {a, b};
    e.values.emplace_back("name", far.isNamed || basis.name.empty() ? far.name : basis.name);
    if (!far.plug.empty()) e.values.emplace_back("place", "plug " + far.plug);
    doc.add(e);
}

}  // namespace ilvek
