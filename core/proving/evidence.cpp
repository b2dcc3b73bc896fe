// The circumstances of a reading: battery, current, staleness, the healthy figure.
#include <algorithm>
#include <cmath>
#include <set>

#include "circuit/operating_point.h"
#include "machine/paths.h"
#include "proving/judge.h"
#include "proving/plausible.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

// The voltage across the substitute load, from the reading itself where the leads stand on the load, else from the
// healthy circuit.
double loadCurrent(const Map& map, const Reading& reading, const SubstituteLoad& load)
{
    const double read = std::abs(reading.value.value);
    const bool leadsOnLoad = (reading.red == reading.loadFrom && reading.black == reading.loadTo) ||
                             (reading.red == reading.loadTo && reading.black == reading.loadFrom);
    if (leadsOnLoad) return load.current_A(read);
    const std::string plus = map.node(map.batteryPlus());
    if (reading.loadFrom == plus && reading.red == reading.loadTo && reading.battery_V &&
        isPossibleVoltage(map, *reading.battery_V))
        return load.current_A(std::max(0.0, *reading.battery_V - read));
    const auto condition = conditionOf(map, reading);
    if (!condition) return 0;
    const auto point = operatingPoint(map, *condition);
    return point ? std::abs(point->loadCurrent()) : 0;
}

// The same load on the same terminal read across itself earlier gives the current that flowed in a swap or a walk.
std::optional<double> currentFromPartner(const Map& map, const Evidence& evidence, const Reading& reading,
                                         const SubstituteLoad& load)
{
    for (auto it = evidence.readings.rbegin(); it != evidence.readings.rend(); ++it) {
        const bool sameSetUp = it->terminal == reading.terminal && it->load == reading.load &&
                               it->loadFrom == reading.loadFrom && it->loadTo == reading.loadTo &&
                               it->state == reading.state;
        const std::int64_t now = reading.id == 0 ? INT64_MAX : reading.id;
        if (!sameSetUp || it->test != TestKind::LoadedSupply || isStale(map, evidence, *it, now)) continue;
        if (it->red == it->loadFrom && it->black == it->loadTo) return load.current_A(std::abs(it->value.value));
    }
    return std::nullopt;
}

// The terminals whose circuits a reading goes through: its own, and those at which leads and load stand.
std::set<int> terminalsOf(const Map& map, const Reading& r, bool ofMap)
{
    std::set<int> out;
    if (const int own = map.terminalIndex(r.terminal); own >= 0) out.insert(own);
    // A correction of the map at another terminal changes nothing that was measured.
    if (ofMap) return out;
    for (const std::string* place : {&r.red, &r.black, &r.loadFrom, &r.loadTo}) {
        const int node = place->empty() ? -1 : map.nodeIndex(*place);
        for (const int t : node < 0 ? std::vector<int>{} : map.moduleTerminals()) {
            if (map.terminal(t).a == node || map.terminal(t).b == node) out.insert(t);
        }
    }
    return out;
}

// Whether a reading hangs on an element: it reads otherwise where that is open. By the solved circuit, for what no walk
// over the map shows; by more than a share of the system voltage that other loads on the same wires move it by.
bool hangsOn(const Map& map, const Reading& r, int element)
{
    constexpr double movedShare = 0.04;
    // A feed is judged by what it loses of the battery as it was read: another battery or charger leaves that as it is.
    const ElementKind kind = map.element(element).kind;
    const bool ofFeed = r.test == TestKind::OpenSupply || r.test == TestKind::LoadedSupply ||
                        r.test == TestKind::ReturnDrop || r.test == TestKind::GroundSwap ||
                        r.test == TestKind::SegmentWalk || r.test == TestKind::AbsentSupply;
    if (kind == ElementKind::Battery || (kind == ElementKind::Alternator && ofFeed)) return false;
    const int red = map.nodeIndex(r.red), black = map.nodeIndex(r.black);
    auto condition = conditionOf(map, r);
    if (red < 0 || black < 0 || !condition || !isVoltageTest(r.test)) return false;
    const auto volts = [&]() -> std::optional<double> {
        const auto point = operatingPoint(map, *condition);
        if (!point || point->isFloating(red) || point->isFloating(black)) return std::nullopt;
        return point->voltage(red, black);
    };
    const auto sound = volts();
    condition->faults = {Fault{Fault::Kind::Open, element}};
    const auto broken = volts();
    if (sound.has_value() != broken.has_value()) return true;
    return sound && std::abs(*sound - *broken) > movedShare * map.systemVoltage_V;
}

// Whether an element lies at a place or on a way from it to one of the battery's posts. Only for places that are no
// module terminal: those have their circuits.
bool isOnTheWayOf(const Map& map, int node, int element)
{
    const auto& at = map.element(element).nodes;
    if (std::find(at.begin(), at.end(), node) != at.end()) return true;
    for (const auto& way : {circuitPath(map, map.batteryPlus(), node), circuitPath(map, node, map.batteryMinus())}) {
        const bool passed =
            way && std::any_of(way->begin(), way->end(), [&](const PathStep& step) { return step.element == element; });
        if (passed) return true;
    }
    return false;
}

// The places of a reading's leads and load that are no module terminal and no post of the battery. None of a part that
// was measured by itself: nothing else is in its figure.
std::set<int> loosePlacesOf(const Map& map, const Reading& r)
{
    std::set<int> out;
    if (r.value.unit == Unit::Ohm && partAlone(map, r) >= 0) return out;
    for (const std::string* place : {&r.red, &r.black, &r.loadFrom, &r.loadTo}) {
        const int node = place->empty() ? -1 : map.nodeIndex(*place);
        if (node >= 0 && node != map.batteryPlus() && node != map.batteryMinus()) out.insert(node);
    }
    for (const int t : map.moduleTerminals())
        out.erase(map.terminal(t).a), out.erase(map.terminal(t).b);
    return out;
}

}  // namespace

double currentDuring(const Map& map, const Evidence& evidence, const Reading& reading)
{
    if (reading.measuredCurrent_A) return std::abs(*reading.measuredCurrent_A);
    if (!reading.load.empty()) {
        const auto load = findLoad(map.systemVoltage_V, reading.load);
        if (!load) return 0;
        if (reading.test == TestKind::GroundSwap || reading.test == TestKind::SegmentWalk) {
            if (const auto current = currentFromPartner(map, evidence, reading, *load)) return *current;
        }
        return loadCurrent(map, reading, *load);
    }
    const int terminal = map.terminalIndex(reading.terminal);
    const auto condition = conditionOf(map, reading);
    if (terminal < 0 || map.terminal(terminal).contact < 0 || !condition) return 0;
    if (condition->unplugged.contains(map.terminal(terminal).connector)) return 0;
    const auto point = operatingPoint(map, *condition);
    return point ? std::abs(point->currentThrough(map.terminal(terminal).contact)) : 0;
}

std::optional<double> healthyVolts(const Map& map, const SetUp& setUp)
{
    const int red = map.nodeIndex(setUp.red), black = map.nodeIndex(setUp.black);
    const auto condition = conditionOf(map, setUp);
    if (red < 0 || black < 0 || !condition) return std::nullopt;
    const auto point = operatingPoint(map, *condition);
    if (!point || point->isFloating(red) || point->isFloating(black)) return std::nullopt;
    return point->voltage(red, black);
}

std::optional<double> healthyReading(const Map& map, const Reading& reading)
{
    return isVoltageTest(reading.test) ? healthyVolts(map, reading) : std::nullopt;
}

bool isStale(const Map& map, const Evidence& evidence, const Reading& reading, std::int64_t before)
{
    for (const Repair& repair : evidence.repairs) {
        if (repair.id < reading.id || repair.id >= before) continue;
        if (repair.elements.empty()) return true;
        for (const int terminal : terminalsOf(map, reading, repair.ofMap)) {
            for (const std::string& id : repair.elements) {
                const int element = map.elementIndex(id);
                if (id == map.terminal(terminal).id || (element >= 0 && passesThrough(map, terminal, element)))
                    return true;
            }
        }
        const int alone = reading.value.unit == Unit::Ohm ? partAlone(map, reading) : -1;
        for (const std::string& id : alone >= 0 && !repair.ofMap ? repair.elements : std::vector<std::string>{}) {
            if (map.elementIndex(id) == alone) return true;
        }
        for (const std::string& id :
             repair.ofMap || reading.test == TestKind::Battery ? std::vector<std::string>{} : repair.elements) {
            const int terminal = map.terminalIndex(id);
            const int element = terminal >= 0 ? map.terminal(terminal).contact : map.elementIndex(id);
            if (element < 0) continue;
            for (const int node : loosePlacesOf(map, reading)) {
                if (isOnTheWayOf(map, node, element)) return true;
            }
            if (hangsOn(map, reading, element)) return true;
        }
    }
    return false;
}

bool isBeforeRepair(const Evidence& evidence, std::int64_t entry)
{
    return std::any_of(evidence.repairs.begin(), evidence.repairs.end(),
                       [&](const Repair& r) { return !r.ofMap && r.id > entry; });
}

const Reading* batteryReadingOfTheMinute(const Map& map, const Evidence& evidence, const Reading& reading)
{
    // One that was read with the same drives on, before any other; then the nearest.
    const auto isOfSameDraw = [&](const Reading& r) { return r.commands == reading.commands; };
    const Reading* best = nullptr;
    double bestAge_s = 0;
    for (const Reading& other : evidence.readings) {
        if (other.test != TestKind::Battery || other.state != reading.state || other.value.overLimit) continue;
        if (implausible(map, other)) continue;
        if (!other.load.empty() && other.load != reading.load) continue;  // loaded by itself, to try it
        const double age_s = std::abs(static_cast<double>(other.time_ms - reading.time_ms)) / 1000.0;
        if (age_s > trade::batteryFreshFor_s) continue;
        const bool isBetter =
            !best || (isOfSameDraw(other) != isOfSameDraw(*best) ? isOfSameDraw(other) : age_s < bestAge_s);
        if (!isBetter) continue;
        best = &other;
        bestAge_s = age_s;
    }
    return best;
}

std::optional<double> batteryOfTheMinute(const Map& map, const Evidence& evidence, const Reading& reading)
{
    const Reading* battery = batteryReadingOfTheMinute(map, evidence, reading);
    return battery ? std::optional(std::abs(battery->value.value)) : std::nullopt;
}

bool isFailure(Verdict verdict)
{
    return verdict == Verdict::Low || verdict == Verdict::High || verdict == Verdict::FailsLoaded;
}

std::string_view verdictId(Verdict verdict)
{
    static constexpr std::string_view ids[] = {"good",        "open-only",   "low",      "high", "fails-loaded",
                                               "not-decided", "no-evidence", "conflict", "noted"};
    return ids[static_cast<std::size_t>(verdict)];
}

std::string_view findingId(Finding finding)
{
    static constexpr std::string_view ids[] = {"",         "supply-absent", "feed-bad",   "return-bad",
                                               "both-bad", "step-found",    "fuse-blown", "sources-disagree"};
    return ids[static_cast<std::size_t>(finding)];
}

}  // namespace ilvek
