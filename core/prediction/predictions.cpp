#include "prediction/predictions.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <map>
#include <mutex>
#include <thread>

#include "base/parallel.h"
#include "base/stop.h"
#include "circuit/fault_sweep.h"
#include "circuit/operating_point.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

// A severity whose fault cannot move any node by this much reads as healthy.
constexpr double unseen_V = 1e-4;
// Of the system voltage, one sigma.
constexpr double unlistedShare = 0.0025;
// What nobody stated may move a level further than a tolerance, and still no logic has turned.
constexpr double mostUnstated_V = 4.0, mostUnstatedShare = 0.2;
// A tolerance that moved an ohmmeter further than this met a leak, not a part.
constexpr double mostDecades = 0.06, mostUnstatedDecades = 1.0;
// Less than any display shows beside its noise.
constexpr float moved_V = 1e-3F;

// The battery that feeds a conductor from where it should not, or -1.
int feedingBattery(const Map& map, const Suspect& s)
{
    for (std::size_t i = 0; s.kind == SuspectKind::BackFeed && i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (e.kind == ElementKind::Battery && e.nodes[0] == s.node2) return static_cast<int>(i);
    }
    return -1;
}

// Several of them fill one prediction, each its own cases.
class Sweeper {
public:
    Sweeper(const Map& map, FaultSweep& sweep, Prediction& prediction)
        : map_(map), sweep_(sweep), prediction_(prediction), lists_(prediction.columns.size())
    {
        for (const Column& c : prediction.columns)
            asSound_.push_back({c.value.front(), c.batterySlope.front()});
        sweep_.apply({});
        for (std::size_t i = 0; i < map.elements.size(); ++i)
            current_.push_back(sweep_.currentThrough(static_cast<int>(i)));
        for (const Column& c : prediction.columns)
            hasOhms_ = hasOhms_ || c.probe.ohms;
        for (std::size_t i = 0; i < map.nodes.size(); ++i)
            potential_.push_back(sweep_.voltage(static_cast<int>(i), map.batteryMinus(), INFINITY));
    }

    void healthy()
    {
        sweep_.apply({});
        begin(0, 1);
        readInto(0);
        end();
        for (std::size_t i = 0; i < asSound_.size(); ++i)
            asSound_[i] = {prediction_.columns[i].value[0], prediction_.columns[i].batterySlope[0]};
    }

    // Cases from `first` on are written side by side: the columns of a large machine lie far apart.
    void begin(std::size_t first, std::size_t cases)
    {
        first_ = first;
        cases_ = cases;
        written_.resize(asSound_.size() * cases);
        for (std::size_t i = 0; i < asSound_.size(); ++i)
            std::fill_n(written_.begin() + static_cast<std::ptrdiff_t>(i * cases), cases, asSound_[i]);
    }

    void end() const
    {
        for (std::size_t i = 0; i < asSound_.size(); ++i) {
            Column& c = prediction_.columns[i];
            for (std::size_t k = 0; k < cases_; ++k) {
                c.value[first_ + k] = written_[i * cases_ + k].value;
                c.batterySlope[first_ + k] = written_[i * cases_ + k].batterySlope;
            }
        }
    }

    void faulty(const std::vector<Fault>& faults, std::size_t at)
    {
        // What is not written reads as the sound circuit.
        if (std::all_of(faults.begin(), faults.end(), [&](const Fault& f) { return isUnseen(f); })) return;
        if (!sweep_.apply(faults)) return;
        if (sweep_.chatters()) {
            for (Lists& lists : lists_)
                lists.chattering.push_back(static_cast<int>(at));
        }
        readInto(at);
    }

    // A conductor that is fed from another battery stands where that one does, which nobody has read.
    void fedFrom(int battery, const std::vector<Fault>& faults, std::size_t at)
    {
        const Fault higher{Fault::Kind::OutOfValue, battery, -1, -1, 0, 1 + toleranceOf(map_, battery)};
        // What it moves in the sound circuit is the same for all that it may feed.
        std::vector<double>& sound = movedBy_[battery];
        if (sound.empty()) {
            if (!sweep_.apply({higher})) return;
            for (const Column& c : prediction_.columns)
                sound.push_back(read(c.probe) - static_cast<double>(c.value[0]));
        }
        std::vector<Fault> both = faults;
        both.push_back(higher);
        if (!sweep_.apply(both)) return;
        for (std::size_t i = 0; i < prediction_.columns.size(); ++i) {
            const Column& c = prediction_.columns[i];
            const double moved = read(c.probe) - static_cast<double>(shownAt(i, at).value) - sound[i];
            // More than that is no feed, but something that turned.
            if (std::abs(moved) > 1e-3 && std::abs(moved) < 1)
                lists_[i].fed.emplace_back(static_cast<int>(at), static_cast<float>(moved));
        }
    }

    void suspect(const Suspect& s, std::size_t at)
    {
        const int battery = feedingBattery(map_, s);
        for (const auto& faults : s.severities) {
            stopPoint();
            faulty(faults, at);
            if (s.kind == SuspectKind::EmptyCavity) nothingAt(s.node, at);
            if (battery >= 0) fedFrom(battery, faults, at);
            ++at;
        }
    }

    // What it found beside the figures, into the columns.
    void giveLists()
    {
        for (std::size_t i = 0; i < lists_.size(); ++i) {
            Column& c = prediction_.columns[i];
            c.chattering.insert(c.chattering.end(), lists_[i].chattering.begin(), lists_[i].chattering.end());
            c.fed.insert(c.fed.end(), lists_[i].fed.begin(), lists_[i].fed.end());
        }
    }

    // There is nothing to put a lead on: what it shows floats.
    void nothingAt(int node, std::size_t at)
    {
        for (std::size_t i = 0; i < asSound_.size(); ++i) {
            const Probe& p = prediction_.columns[i].probe;
            if (p.element >= 0 || (p.red != node && p.black != node)) continue;
            shownAt(i, at) = {p.ohms ? static_cast<float>(decadesOf(1e9)) : 0.0F, 0.0F};
        }
    }

    // What a part may be off by, as a fault of one sigma; of a battery whose inner resistance nobody stated that.
    std::optional<Fault> offBy(int part) const
    {
        const Element& e = map_.element(part);
        if (part == map_.battery && e.assumed)
            return Fault{
                Fault::Kind::AddedResistance, part, -1, -1, trade::spread::batteryInside * e.value("resistance"), 1};
        const double tolerance = toleranceOf(map_, part);
        if (tolerance == 0) return std::nullopt;
        return Fault{Fault::Kind::OutOfValue, part, -1, -1, 0, 1 + tolerance};
    }

    // Consumers that are on no sheet draw on the same feed, and the battery falls while one walks from its posts to the
    // module: what hangs on it stands lower by this, all of it alike. The part −1.
    void addUnlisted()
    {
        for (Column& c : prediction_.columns) {
            const bool posts = c.probe.red == map_.batteryPlus() && c.probe.black == map_.batteryMinus();
            if (posts || c.probe.ohms || c.probe.element >= 0) continue;
            const double moved = unlistedShare * map_.systemVoltage_V * static_cast<double>(c.batterySlope[0]);
            if (std::abs(moved) > 3e-4) c.parts.insert(c.parts.begin(), {-1, static_cast<float>(moved)});
        }
    }

    void tolerances()
    {
        for (std::size_t i = 0; i < map_.elements.size(); ++i) {
            if (isOutOfSight(static_cast<int>(i))) continue;
            const auto off = offBy(static_cast<int>(i));
            if (!off) continue;
            const Element& e = map_.elements[i];
            addPart(static_cast<int>(i), isFactor(e) ? movedByFactor(*off) : movedBy(*off), e.assumed);
        }
        for (std::size_t i = 0; i < map_.elements.size(); ++i) {
            const auto part = static_cast<int>(i);
            if (isOutOfSight(part) || !drawsByState(map_, part)) continue;
            const Fault more{Fault::Kind::OutOfValue, part, -1, -1, 0, 1 + trade::spread::drawByState};
            addPart(partInState(map_, part, prediction_.setup.state), movedByFactor(more), true);
        }
        if (map_.isOfSheet()) addUnlisted();
        for (Column& c : prediction_.columns) {
            float sum = 0;
            for (const auto& [part, moved] : c.parts)
                sum += moved * moved;
            c.tolerance = std::sqrt(sum);
        }
    }

private:
    // One sigma of it moves each column by so much.
    void addPart(int part, const std::vector<double>& moved, bool assumed)
    {
        stopPoint();
        for (std::size_t k = 0; k < moved.size(); ++k) {
            Column& c = prediction_.columns[k];
            // A part on the edge of its logic is no tolerance.
            const double most = c.probe.ohms ? (assumed ? mostUnstatedDecades : mostDecades)
                                : assumed    ? std::max(mostUnstated_V, mostUnstatedShare * map_.systemVoltage_V)
                                             : 1.0;
            if (std::abs(moved[k]) > 3e-4 && std::abs(moved[k]) < most)
                c.parts.emplace_back(part, static_cast<float>(moved[k]));
        }
    }

    // By column, against the sound circuit; empty where it cannot be solved, or blows a fuse, which nothing sound does.
    std::vector<double> movedBy(const Fault& off)
    {
        std::vector<double> moved;
        if (!sweep_.apply({off}) || !sweep_.blownFuses().empty()) return moved;
        for (const Column& c : prediction_.columns)
            moved.push_back(read(c.probe) - static_cast<double>(c.value[0]));
        return moved;
    }

    // What a load draws or a driver keeps, where nobody stated it, is known to a factor, and the circuit bends over it:
    // a driver at four times its ohms on half the load. So two sigmas to either side, and of the larger the chord.
    static bool isFactor(const Element& e)
    {
        return e.assumed && e.kind != ElementKind::Battery && !specOf(e.kind).conducts;
    }
    std::vector<double> movedByFactor(const Fault& off)
    {
        Fault up = off, down = off;
        up.factor = off.factor * off.factor;
        down.factor = 1 / up.factor;
        std::vector<double> a = movedBy(up);
        const std::vector<double> b = movedBy(down);
        // Where the one cannot be solved the other tells alone.
        if (a.empty()) a.assign(b.size(), 0.0);
        for (std::size_t k = 0; k < a.size(); ++k) {
            if (k < b.size() && !(std::abs(b[k]) <= std::abs(a[k]))) a[k] = -b[k];
            a[k] /= 2;
        }
        return a;
    }

    // What is not the part that is measured on its own.
    bool isOutOfSight(int element) const { return prediction_.setup.alone >= 0 && element != prediction_.setup.alone; }

    // No fault can move a node further than the voltage that it puts in or takes away.
    bool isUnseen(const Fault& f) const
    {
        if (isOutOfSight(f.element)) return true;
        if (hasOhms_) return false;
        if (f.kind == Fault::Kind::AddedResistance)
            return f.resistance_ohm < seenByMeter_ohm &&
                   std::abs(current_[static_cast<std::size_t>(f.element)]) * f.resistance_ohm < unseen_V &&
                   map_.element(f.element).kind != ElementKind::Regulator;
        if (f.kind == Fault::Kind::ShortBetween)
            return std::abs(potential_[static_cast<std::size_t>(f.nodeA)] -
                            potential_[static_cast<std::size_t>(f.nodeB)]) < unseen_V;
        return false;
    }

    double read(const Probe& p) const { return shownBy(p, sweep_); }

    void readInto(std::size_t at)
    {
        for (std::size_t i = 0; i < asSound_.size(); ++i) {
            const Probe& p = prediction_.columns[i].probe;
            const bool volts = p.element < 0 && !p.ohms;
            const double shift = at > 0 && volts ? sweep_.shift(p.red, p.black) : std::nan("");
            if (!std::isnan(shift))
                shownAt(i, at).value += static_cast<float>(shift);
            else
                shownAt(i, at) = {static_cast<float>(read(p)),
                                  volts ? static_cast<float>(sweep_.batterySlope(p.red, p.black)) : 0.0F};
        }
    }

    struct Shown {
        float value = 0, batterySlope = 0;
    };
    Shown& shownAt(std::size_t column, std::size_t at) { return written_[column * cases_ + at - first_]; }

    struct Lists {  // of a column
        std::vector<int> chattering;
        std::vector<std::pair<int, float>> fed;
    };

    const Map& map_;
    FaultSweep& sweep_;
    Prediction& prediction_;
    std::vector<Lists> lists_;
    std::vector<Shown> asSound_;  // by column
    std::vector<Shown> written_;  // by column, `cases_` each, from case `first_` on
    std::size_t first_ = 0, cases_ = 0;
    std::vector<double> current_, potential_;
    std::map<int, std::vector<double>> movedBy_;  // by battery, by column
    bool hasOhms_ = false;
};

}  // namespace

namespace {

double unstatedTolerance(ElementKind kind)
{
    switch (kind) {
        case ElementKind::Fuse:
        case ElementKind::Joint:
        case ElementKind::Switch:
        case ElementKind::Relay:
        case ElementKind::Contact:
            return trade::spread::typicalPart;
        case ElementKind::Regulator:
            return trade::spread::unknownRegulator;
        case ElementKind::Wire:
            return std::expm1(std::hypot(trade::spread::unknownLength, trade::spread::unknownSection));
        default:
            return trade::spread::unknownPart;
    }
}

// R = ρ l / A: each of the two is known or not.
double wireTolerance(const Element& e)
{
    const double length =
        e.knownOf("length") == Known::Unknown ? trade::spread::unknownLength : trade::spread::statedDimension;
    const double section =
        e.knownOf("section") == Known::Unknown ? trade::spread::unknownSection : trade::spread::statedDimension;
    return std::expm1(std::hypot(length, section));
}

// ln R = β (1/T − 1/T₀): what its warmth alone, which nobody told, makes of a thermistor whose ohms are stated.
double warmthTolerance(const Element& e)
{
    constexpr double usual_K = 298;
    return std::expm1(std::abs(e.value("beta")) * trade::spread::warmth_K / (usual_K * usual_K));
}

}  // namespace

double toleranceOf(const Map& map, int part)
{
    constexpr double unsaid = -1;
    const Element& e = map.element(part);
    if (const double said = e.value("tolerance", unsaid); said >= 0) return said / 100;
    if (e.kind == ElementKind::Wire && !e.known.empty()) return wireTolerance(e);
    if (e.kind == ElementKind::Thermistor && e.assumed && e.table.empty() &&
        e.knownOf("resistance_25") == Known::Stated)
        return std::min(unstatedTolerance(e.kind), warmthTolerance(e));
    if (e.assumed && e.kind != ElementKind::Battery && e.kind != ElementKind::Alternator)
        return unstatedTolerance(e.kind);
    switch (e.kind) {
        case ElementKind::Wire:
            return trade::spread::wire;
        case ElementKind::Contact:
        case ElementKind::Joint:
        case ElementKind::Switch:
            return trade::spread::contact;
        case ElementKind::Fuse:
        case ElementKind::Relay:
            return trade::spread::fuseOrRelay;
        case ElementKind::SupplyPort:
        case ElementKind::LowSideDriver:
        case ElementKind::HighSideDriver:
            return trade::spread::module;
        case ElementKind::Regulator:
            return trade::spread::regulator;
        case ElementKind::PullUp:
        case ElementKind::Input:
        case ElementKind::Resistor:
            return trade::spread::resistor;
        case ElementKind::Battery:
            return part == map.battery ? 0 : trade::spread::battery;
        case ElementKind::Alternator:
            return 0;
        default:
            return trade::spread::otherPart;
    }
}

bool drawsByState(const Map& map, int part)
{
    return map.element(part).kind == ElementKind::SupplyPort && map.isOfSheet();
}

int partInState(const Map& map, int part, int state)
{
    const int states = static_cast<int>(map.states.size());
    return static_cast<int>(map.elements.size()) + part * states + state;
}

double Column::fedBy(int tableCase) const
{
    const auto at = std::lower_bound(fed.begin(), fed.end(), std::pair{tableCase, -1e9F});
    return at != fed.end() && at->first == tableCase ? static_cast<double>(at->second) : 0.0;
}

void findMoved(Column& column)
{
    column.moved.clear();
    for (std::size_t i = 0; i < column.value.size(); ++i) {
        if (std::isnan(column.value[i]) || std::abs(column.value[i] - column.value[0]) > moved_V)
            column.moved.push_back(static_cast<int>(i));
    }
}

double decadesOf(double resistance_ohm)
{
    return std::clamp(std::log10(std::max(0.0, resistance_ohm) + 0.1), -1.0, 7.8);
}

double ohmsOf(double decades)
{
    return std::max(0.0, std::pow(10.0, decades) - 0.1);
}

const Column* Prediction::find(const Probe& probe) const
{
    for (const Column& c : columns) {
        if (c.probe == probe) return &c;
    }
    return nullptr;
}

std::vector<int> firstCases(const std::vector<Suspect>& suspects)
{
    std::vector<int> first{0};
    for (const Suspect& s : suspects)
        first.push_back(first.back() + static_cast<int>(s.severities.size()));
    return first;
}

namespace {

constexpr std::size_t blockOfSuspects = 16, mostCores = 4;
constexpr int worthSharing = 2000;  // cases

// Each core has a circuit of its own and every so many-th block of suspects, so that the figures do not depend on which
// is faster.
void sweepAll(const Map& map, const std::vector<Suspect>& suspects, Sweeper& first, Prediction& prediction)
{
    const std::vector<int> cases = firstCases(suspects);
    const std::size_t cores =
        cases.back() < worthSharing ? 1 : std::clamp<std::size_t>(std::thread::hardware_concurrency(), 1, mostCores);
    const auto sweepShare = [&](std::size_t share, Sweeper& sweeper) {
        for (std::size_t i = share * blockOfSuspects; i < suspects.size(); i += cores * blockOfSuspects) {
            const std::size_t end = std::min(i + blockOfSuspects, suspects.size());
            sweeper.begin(static_cast<std::size_t>(cases[i]), static_cast<std::size_t>(cases[end] - cases[i]));
            for (std::size_t k = i; k < end; ++k)
                sweeper.suspect(suspects[k], static_cast<std::size_t>(cases[k]));
            sweeper.end();
        }
    };
    std::atomic<std::size_t> next = 0;
    std::mutex giving;
    onSeveralCores(cores, [&] {
        for (std::size_t share = next++; share < cores; share = next++) {
            std::optional<Result<FaultSweep>> circuit;
            std::optional<Sweeper> own;
            if (share > 0) {
                circuit.emplace(FaultSweep::of(map, prediction.setup));
                own.emplace(map, **circuit, prediction);
            }
            Sweeper& sweeper = own ? *own : first;
            sweepShare(share, sweeper);
            const std::lock_guard lock(giving);
            sweeper.giveLists();
        }
    });
    for (Column& c : prediction.columns) {
        std::sort(c.chattering.begin(), c.chattering.end());
        std::sort(c.fed.begin(), c.fed.end());
    }
}

}  // namespace

Result<Prediction> predict(const Map& map, const std::vector<Suspect>& suspects, const Condition& setup,
                           const std::vector<Probe>& probes, bool tolerances)
{
    auto sweep = FaultSweep::of(map, setup);
    if (!sweep) return tl::unexpected(sweep.error());
    Prediction prediction;
    prediction.setup = setup;
    const auto cases = static_cast<std::size_t>(firstCases(suspects).back());
    for (const Probe& probe : probes)
        prediction.columns.push_back({probe, std::vector<float>(cases), std::vector<float>(cases), {}, {}, {}, 0, {}});
    Sweeper sweeper(map, *sweep, prediction);
    sweeper.healthy();
    sweepAll(map, suspects, sweeper, prediction);
    if (tolerances) sweeper.tolerances();
    for (Column& column : prediction.columns)
        findMoved(column);
    return prediction;
}

const Column* PredictionTable::find(const Condition& setup, const Probe& probe) const
{
    for (const auto& block : blocks_) {
        if (!(block->setup == setup)) continue;
        if (const Column* column = block->find(probe)) return column;
    }
    return nullptr;
}

void PredictionTable::add(Prediction prediction)
{
    blocks_.push_back(std::make_shared<const Prediction>(std::move(prediction)));
}

void PredictionTable::extend(const Map& map, int kept, const std::vector<Suspect>& more)
{
    for (auto& block : blocks_) {
        std::vector<Probe> probes;
        for (const Column& c : block->columns)
            probes.push_back(c.probe);
        // Healthy first, as every prediction begins, then the new ones.
        std::vector<Suspect> list(1);
        list.front().severities = {{}};
        list.insert(list.end(), more.begin(), more.end());
        const auto further = predict(map, list, block->setup, probes, false);
        Prediction whole = *block;
        for (std::size_t c = 0; c < whole.columns.size(); ++c) {
            auto& value = whole.columns[c].value;
            auto& slope = whole.columns[c].batterySlope;
            auto& chattering = whole.columns[c].chattering;
            auto& fed = whole.columns[c].fed;
            value.resize(static_cast<std::size_t>(kept));
            slope.resize(static_cast<std::size_t>(kept));
            std::erase_if(chattering, [&](int at) { return at >= kept; });
            std::erase_if(fed, [&](const auto& one) { return one.first >= kept; });
            if (!further) {
                // Where it cannot be computed nothing is claimed: as the sound circuit.
                const auto cases = static_cast<std::size_t>(firstCases(list).back()) - 1;
                value.insert(value.end(), cases, value.front());
                slope.insert(slope.end(), cases, slope.front());
                continue;
            }
            value.insert(value.end(), further->columns[c].value.begin() + 1, further->columns[c].value.end());
            slope.insert(slope.end(), further->columns[c].batterySlope.begin() + 1,
                         further->columns[c].batterySlope.end());
            for (const int at : further->columns[c].chattering)
                chattering.push_back(kept + at - 1);
            for (const auto& [at, moved] : further->columns[c].fed)
                fed.emplace_back(kept + at - 1, moved);
        }
        for (Column& column : whole.columns)
            findMoved(column);
        block = std::make_shared<const Prediction>(std::move(whole));
    }
}

std::size_t PredictionTable::bytes() const
{
    std::size_t sum = 0;
    for (const auto& block : blocks_) {
        for (const Column& c : block->columns)
            sum += (c.value.size() + c.batterySlope.size()) * sizeof(float);
    }
    return sum;
}

}  // namespace ilvek
