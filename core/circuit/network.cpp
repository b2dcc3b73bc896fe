#include "circuit/network.h"
#include "quantity/trade.h"

#include <algorithm>
#include <cmath>

namespace ilvek {

namespace {

// No resistance in the equations is smaller, whatever the map says: a joint of 0 Ω is one of 10 µΩ.
constexpr double leastResistance_ohm = 1e-5;
// A part out of value has a value left: with none it would be open or a short, which are faults of their own.
constexpr double leastFactor = 1e-4;
constexpr double diodeTest_V = 2.5, diodeTest_ohm = 1.0, diodeTest_A = 1e-3;

// R = R20 (1 + 0.0039 (T − 20 °C)). SOURCE: IEC 60028, temperature coefficient of copper.
double copperFactor(double celsius)
{
    return 1.0 + trade::copperPerKelvin * (celsius - 20.0);
}

// At the temperature told, else at the map's.
double resistanceOf(const Map& map, const Element& e, std::optional<double> told_C)
{
    double r = map.soundResistance_ohm(e);
    if (e.kind == ElementKind::Motor) r = e.value("voltage") / e.value("current");
    if (e.kind == ElementKind::Wire) r *= copperFactor(told_C.value_or(e.value("temperature", 20.0)));
    if (e.kind == ElementKind::Winding && told_C) r *= copperFactor(*told_C);
    if (e.kind == ElementKind::Thermistor) r = thermistor_ohm(e, told_C.value_or(e.value("temperature")));
    return std::max(leastResistance_ohm, r);
}

bool isDriver(ElementKind kind)
{
    return kind == ElementKind::LowSideDriver || kind == ElementKind::HighSideDriver;
}

double drawOf(const Element& e, int state)
{
    const auto own = e.currentIn_A.find(state);
    return own == e.currentIn_A.end() ? e.value("current") : own->second;
}

// Where in a device's values its resistance stands; −1 when it has none.
int resistanceSlot(Device::Law law)
{
    switch (law) {
        case Device::Law::Resistance:
        case Device::Law::LimitedSwitch:
            return 0;
        case Device::Law::Battery:
        case Device::Law::LimitedSource:
        case Device::Law::Regulator:
        case Device::Law::Divider:
            return 1;
        default:
            return -1;
    }
}

}  // namespace

double thermistor_ohm(const Element& e, double celsius)
{
    if (!e.table.empty()) {
        // Between two entries ln R is taken as straight in T, as the beta equation nearly is.
        auto right = std::find_if(e.table.begin(), e.table.end(), [&](const auto& p) { return p.first >= celsius; });
        if (right == e.table.begin()) return e.table.front().second;
        if (right == e.table.end()) return e.table.back().second;
        const auto left = std::prev(right);
        const double share = (celsius - left->first) / (right->first - left->first);
        return std::exp((1 - share) * std::log(left->second) + share * std::log(right->second));
    }
    // R = R25 exp(B (1/T − 1/298.15)). SOURCE: beta equation of NTC thermistors.
    return e.value("resistance_25") * std::exp(e.value("beta") * (1.0 / (celsius + 273.15) - 1.0 / 298.15));
}

// The share of time that a switch, driver or alternator is told to be on.
static double commandedShare(const Condition& condition, const Element& e, int index)
{
    const auto told = condition.commands.find(index);
    if (told != condition.commands.end()) return told->second;
    return e.isIn(condition.state) ? e.value("duty", 100.0) / 100.0 : 0.0;
}

std::vector<Phase> phasesOf(const Map& map, const Condition& condition)
{
    std::vector<std::pair<double, int>> pulsed;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        const double share = commandedShare(condition, e, static_cast<int>(i));
        if (isDriver(e.kind) && share > 0 && share < 1) pulsed.emplace_back(share, static_cast<int>(i));
    }
    std::sort(pulsed.begin(), pulsed.end());
    std::vector<Phase> phases;
    double begun = 0;
    std::vector<int> off;
    for (const auto& [duty, driver] : pulsed) {
        if (duty > begun) phases.push_back({duty - begun, off});
        begun = std::max(begun, duty);
        off.push_back(driver);
    }
    phases.push_back({1.0 - begun, off});
    return phases;
}

Network::Network(const Map& map, const Condition& condition, const Phase& phase)
    : map_(&map),
      reference_(map.batteryMinus()),
      equations_(static_cast<int>(map.nodes.size()) - 1),
      state_(condition.state),
      celsius_(condition.celsius),
      first_(map.elements.size(), -1)
{
    devices_.reserve(map.elements.size() + 40);
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        first_[i] = static_cast<int>(devices_.size());
        add(map.elements[i], static_cast<int>(i), commandedShare(condition, map.elements[i], static_cast<int>(i)) > 0);
    }
    for (Driver& driver : drivers_) {
        Device& device = devices_[static_cast<std::size_t>(driver.device)];
        device.on = false;
        const auto has = [&](const auto& list) {
            return std::find(list.begin(), list.end(), device.element) != list.end();
        };
        device.forcedOff = has(phase.pulsedOff) || has(condition.latchedOff);
        for (int& need : driver.ports) {
            const auto port =
                std::find_if(ports_.begin(), ports_.end(), [&](const Port& p) { return p.element == need; });
            need = static_cast<int>(port - ports_.begin());
        }
    }
    connect(condition);
    std::vector<int> touched;
    for (const Fault& fault : condition.faults)
        apply(fault, touched);
}

Device& Network::push(Device::Law law, int element, std::initializer_list<int> mapNodes,
                      std::initializer_list<double> values)
{
    Device device;
    device.law = law;
    device.element = element;
    device.nodeCount = static_cast<std::uint8_t>(mapNodes.size());
    std::transform(mapNodes.begin(), mapNodes.end(), device.nodes.begin(), [this](int n) { return equationOf(n); });
    std::copy(values.begin(), values.end(), device.values.begin());
    return devices_.emplace_back(device);
}

std::optional<double> Network::told(int element) const
{
    const auto at = celsius_.find(element);
    return at == celsius_.end() ? std::nullopt : std::optional(at->second);
}

void Network::add(const Element& e, int index, bool on)
{
    using Law = Device::Law;
    const auto n = [&](std::size_t i) { return e.nodes[i]; };
    const double r = resistanceOf(*map_, e, told(index));
    switch (e.kind) {
        case ElementKind::Battery: {
            push(Law::Battery, index, {n(0), n(1)}, {e.value("emf"), r, e.value("charge_resistance", r)});
            return;
        }
        case ElementKind::Alternator:
            push(Law::LimitedSource, index, {n(0), n(1)}, {e.value("emf"), r, e.value("limit")}).on = on;
            return;
        case ElementKind::Switch:
            push(Law::Resistance, index, {n(0), n(1)}, {r}).on = on;
            return;
        case ElementKind::Fuse:
            protections_.push_back({static_cast<int>(devices_.size()),
                                    e.value("opens_at", 100 * trade::fuseOpensAt) / 100 * e.value("rating"), true,
                                    false});
            push(Law::Resistance, index, {n(0), n(1)}, {r});
            return;
        case ElementKind::Relay:
            relays_.push_back({static_cast<int>(devices_.size()), static_cast<int>(devices_.size()) + 1,
                               e.value("pick_up"), e.value("drop_out")});
            push(Law::Resistance, index, {n(0), n(1)}, {r}).on = false;
            push(Law::Resistance, index, {n(2), n(3)}, {e.value("coil") * copperFactor(told(index).value_or(20.0))});
            return;
        case ElementKind::LowSideDriver:
        case ElementKind::HighSideDriver:
            return addDriver(e, index, on);
        default:
            return addParts(e, index);
    }
}

void Network::addParts(const Element& e, int index)
{
    using Law = Device::Law;
    const auto n = [&](std::size_t i) { return e.nodes[i]; };
    const double r = resistanceOf(*map_, e, told(index));
    switch (e.kind) {
        case ElementKind::Lamp:
            push(Law::Filament, index, {n(0), n(1)}, {e.value("voltage"), e.value("power") / e.value("voltage")});
            return;
        case ElementKind::Diode:
            push(Law::Diode, index, {n(0), n(1)}, {e.value("voltage")});
            return;
        case ElementKind::Sensor:
            push(Law::Divider, index, {n(0), n(1), n(2)},
                 {e.value("output") / 100.0, std::max(1.0, e.value("output_resistance", 100.0))});
            push(Law::Resistance, index, {n(0), n(2)}, {r});
            return;
        case ElementKind::Hall:
            push(Law::ConstantDraw, index, {n(0), n(2)}, {e.value("current"), trade::hallWorksAbove_V});
            push(Law::Resistance, index, {n(1), n(2)}, {r}).on = e.isIn(state_);
            return;
        case ElementKind::SupplyPort:
            ports_.push_back({index, equationOf(n(0)), equationOf(n(1)), e.value("brown_out"), false, false});
            push(Law::ConstantDraw, index, {n(0), n(1)}, {drawOf(e, state_), e.value("brown_out")});
            return;
        case ElementKind::Regulator:
            push(Law::Regulator, index, {n(0), n(1), n(2)},
                 {e.value("voltage"), e.value("resistance"), e.value("limit"), e.value("dropout")});
            return;
        case ElementKind::BusPort:
            push(Law::Divider, index, {n(2), n(0), n(3)}, {0.5, r});
            push(Law::Divider, index, {n(2), n(1), n(3)}, {0.5, r});
            return;
        default:
            push(Law::Resistance, index, {n(0), n(1)}, {r});
    }
}

void Network::addDriver(const Element& e, int index, bool wanted)
{
    const int device = static_cast<int>(devices_.size());
    drivers_.push_back({device, wanted, e.needs});
    const double r = resistanceOf(*map_, e, told(index));
    if (const double limit = e.value("limit"); limit > 0)
        push(Device::Law::LimitedSwitch, index, {e.nodes[0], e.nodes[1]}, {r, limit});
    else
        push(Device::Law::Resistance, index, {e.nodes[0], e.nodes[1]}, {r});
    if (const double most = e.value("shut_down"); most > 0) protections_.push_back({device, most, false, false});
}

// What the technician unplugged, took out and connected.
void Network::connect(const Condition& condition)
{
    const auto open = [this](int element) {
        Device& device = devices_[static_cast<std::size_t>(first_[static_cast<std::size_t>(element)])];
        device.on = false;
        device.forcedOff = true;
    };
    for (std::size_t i = 0; i < map_->terminals.size(); ++i) {
        const Terminal& t = map_->terminals[i];
        if (t.contact < 0) continue;
        if (condition.unplugged.contains(t.connector) || condition.unpinned.contains(static_cast<int>(i)) ||
            t.asFound == AsFound::Empty)
            open(t.contact);
    }
    // What is pulled out takes all of itself along: a relay its contact and its coil.
    removed_ = condition.removed;
    removed_.erase(condition.alone);
    alone_ = condition.alone;
    for (const int element : condition.removed) {
        for (std::size_t i = static_cast<std::size_t>(first_[static_cast<std::size_t>(element)]);
             i < devices_.size() && devices_[i].element == element; ++i) {
            devices_[i].on = false;
            devices_[i].forcedOff = true;
        }
    }
    for (Device& device : devices_) {
        if (condition.alone < 0) break;
        device.forcedOff = device.element != condition.alone;
        device.on = !device.forcedOff;
    }
    if (condition.batteryEmf_V)
        devices_[static_cast<std::size_t>(first_[static_cast<std::size_t>(map_->battery)])].values[0] =
            *condition.batteryEmf_V;
    if (condition.load) {
        const AppliedLoad& l = *condition.load;
        load_ = static_cast<int>(devices_.size());
        if (l.load.kind == LoadKind::Lamp)
            push(Device::Law::Filament, -1, {l.from, l.to}, {l.load.ratedVoltage_V, l.load.ratedCurrent_A});
        else
            push(Device::Law::Resistance, -1, {l.from, l.to}, {l.load.ratedVoltage_V / l.load.ratedCurrent_A});
    }
    for (const Jumper& jumper : condition.jumpers) {
        if (jumper.rating_A > 0)
            protections_.push_back(
                {static_cast<int>(devices_.size()), trade::fuseOpensAt * jumper.rating_A, true, false});
        push(Device::Law::Resistance, -1, {jumper.from, jumper.to},
             {std::max(leastResistance_ohm, jumper.resistance_ohm)});
    }
    if (!condition.meter) return;
    const Meter& m = *condition.meter;
    if (m.mode == Meter::Mode::Volts)
        push(Device::Law::Resistance, -1, {m.red, m.black}, {m.inputResistance_ohm});
    else if (m.mode == Meter::Mode::Ohms)
        push(Device::Law::Battery, -1, {m.red, m.black}, {ohmsTest_V, ohmsTest_ohm, ohmsTest_ohm});
    else
        push(Device::Law::LimitedSource, -1, {m.red, m.black}, {diodeTest_V, diodeTest_ohm, diodeTest_A});
}

std::vector<std::pair<int, int>> Network::couples() const
{
    std::vector<std::pair<int, int>> all;
    all.reserve(2 * devices_.size());
    for (const Device& d : devices_) {
        for (std::size_t i = 1; i < d.nodeCount; ++i) {
            for (std::size_t k = 0; k < i; ++k)
                all.emplace_back(d.nodes[i], d.nodes[k]);
        }
    }
    return all;
}

const Device& Network::deviceOf(int element) const
{
    return devices_[static_cast<std::size_t>(first_[static_cast<std::size_t>(element)])];
}

const Device* Network::loadDevice() const
{
    return load_ < 0 ? nullptr : &devices_[static_cast<std::size_t>(load_)];
}

// A supply port without function: it draws nothing, and what regulates from the same supply gives nothing.
void Network::kill(int element, std::vector<int>& touched)
{
    const int supply = map_->element(element).nodes[0];
    for (Port& port : ports_) {
        if (port.element == element) port.dead = true;
    }
    for (std::size_t i = 0; i < devices_.size(); ++i) {
        Device& d = devices_[i];
        const bool regulatesFromIt = d.law == Device::Law::Regulator && d.nodes[0] == equationOf(supply);
        if (d.element != element && !regulatesFromIt) continue;
        d.forcedOff = true;
        d.on = false;
        touched.push_back(static_cast<int>(i));
    }
}

void Network::apply(const Fault& fault, std::vector<int>& touched)
{
    if (fault.kind == Fault::Kind::Dead) return kill(fault.element, touched);
    if (fault.kind == Fault::Kind::ShortBetween) {
        if (removed_.contains(fault.element)) return;
        touched.push_back(static_cast<int>(devices_.size()));
        push(Device::Law::Resistance, -1, {fault.nodeA, fault.nodeB},
             {std::max(leastResistance_ohm, fault.resistance_ohm)});
        return;
    }
    const int begin = first_[static_cast<std::size_t>(fault.element)];
    // What a fuse conducts badly by is its holder: on its own it is whole, unless it is blown.
    const bool inHolder = fault.kind == Fault::Kind::AddedResistance && fault.element == alone_;
    if (inHolder && map_->element(fault.element).kind == ElementKind::Fuse) return;
    // A relay's coil comes after its contact, the output of a Hall sensor after what feeds it.
    const bool second =
        fault.kind == Fault::Kind::AddedCoilResistance ||
        (fault.kind == Fault::Kind::StuckClosed && map_->element(fault.element).kind == ElementKind::Hall);
    const int index = begin + (second ? 1 : 0);
    Device& device = devices_[static_cast<std::size_t>(index)];
    touched.push_back(index);
    const ElementKind kind = map_->element(fault.element).kind;
    switch (fault.kind) {
        case Fault::Kind::AddedResistance:
        case Fault::Kind::AddedCoilResistance:
            if (const int slot = resistanceSlot(device.law); slot >= 0)
                device.values[static_cast<std::size_t>(slot)] += fault.resistance_ohm;
            return;
        case Fault::Kind::StuckClosed:
            device.forcedOn = !device.forcedOff;
            device.on = device.forcedOn;
            return;
        case Fault::Kind::OutOfValue:
            return scaleValue(device, std::max(leastFactor, fault.factor));
        default:
            device.forcedOff = true;
            device.on = false;
    }
    // A sensor or bus port that is open is open altogether; of a relay only the contact.
    for (std::size_t i = static_cast<std::size_t>(begin) + 1;
         kind != ElementKind::Relay && i < devices_.size() && devices_[i].element == fault.element; ++i) {
        devices_[i].forcedOff = true;
        devices_[i].on = false;
        touched.push_back(static_cast<int>(i));
    }
}

void Network::restore(const Network& base, const std::vector<int>& changed)
{
    devices_.resize(base.devices_.size());
    for (const int i : changed) {
        const auto at = static_cast<std::size_t>(i);
        if (at < devices_.size()) devices_[at] = base.devices_[at];
    }
    relays_ = base.relays_;
    ports_ = base.ports_;
    protections_ = base.protections_;
    for (std::size_t i = 0; i < drivers_.size(); ++i)
        drivers_[i].wanted = base.drivers_[i].wanted;
}

bool Network::follow(const law::Voltages& v, std::vector<int>& touched)
{
    bool changed = false;
    const auto set = [&](int index, bool wanted) {
        if (!devices_[static_cast<std::size_t>(index)].set(wanted)) return;
        changed = true;
        touched.push_back(index);
    };
    for (Relay& relay : relays_) {
        const Device& coil = devices_[static_cast<std::size_t>(relay.coil)];
        // The coil's own share of what stands across it and the resistance added in it.
        const double own = map_->element(coil.element).value("coil") / coil.values[0];
        const double u = coil.on ? own * std::abs(v[coil.nodes[0]] - v[coil.nodes[1]]) : 0.0;
        const bool closed = devices_[static_cast<std::size_t>(relay.contact)].on;
        set(relay.contact, closed ? u >= relay.dropOut_V : u >= relay.pickUp_V);
    }
    for (Port& port : ports_)
        port.alive = !port.dead && v[port.supply] - v[port.ret] >= port.brownOut_V;
    for (const Driver& driver : drivers_) {
        const bool alive = std::all_of(driver.ports.begin(), driver.ports.end(),
                                       [&](int p) { return ports_[static_cast<std::size_t>(p)].alive; });
        set(driver.device, driver.wanted && alive);
    }
    return changed;
}

bool Network::trip(const law::Voltages& v, std::vector<int>& touched)
{
    Protection* worst = nullptr;
    double beyond = 1.0;
    for (Protection& p : protections_) {
        const Device& device = devices_[static_cast<std::size_t>(p.device)];
        if (!device.on || p.tripped) continue;
        const double ratio = std::abs(currentOf(device, v)) / p.most_A;
        if (ratio <= beyond) continue;
        beyond = ratio;
        worst = &p;
    }
    if (!worst) return false;
    worst->tripped = true;
    Device& device = devices_[static_cast<std::size_t>(worst->device)];
    device.on = false;
    device.forcedOff = true;
    touched.push_back(worst->device);
    return true;
}

bool Network::hangsOnHistory(const law::Voltages& v) const
{
    return std::any_of(relays_.begin(), relays_.end(), [&](const Relay& relay) {
        const Device& coil = devices_[static_cast<std::size_t>(relay.coil)];
        const Device& contact = devices_[static_cast<std::size_t>(relay.contact)];
        const double own = map_->element(coil.element).value("coil") / coil.values[0];
        const double u = own * std::abs(v[coil.nodes[0]] - v[coil.nodes[1]]);
        return contact.on && !contact.forcedOn && u >= relay.dropOut_V && u < relay.pickUp_V;
    });
}

bool Network::isClosed(int element) const
{
    return deviceOf(element).on;
}

std::vector<int> Network::shutDown() const
{
    std::vector<int> elements;
    for (const Protection& p : protections_) {
        if (p.tripped && !p.isFuse) elements.push_back(devices_[static_cast<std::size_t>(p.device)].element);
    }
    return elements;
}

std::vector<int> Network::blownFuses() const
{
    std::vector<int> elements;
    for (const Protection& p : protections_) {
        const int element = devices_[static_cast<std::size_t>(p.device)].element;
        if (p.tripped && p.isFuse && element >= 0) elements.push_back(element);
    }
    return elements;
}

bool Network::jumperBlew() const
{
    return std::any_of(protections_.begin(), protections_.end(), [&](const Protection& p) {
        return p.tripped && p.isFuse && devices_[static_cast<std::size_t>(p.device)].element < 0;
    });
}

}  // namespace ilvek
