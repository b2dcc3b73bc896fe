// The map in one condition as devices between equation nodes, and the logic on top: relays follow their coils, drivers
// the supplies they need, fuses and self-protecting drivers open for good when they carry too much.
#pragma once

#include <map>
#include <optional>
#include <vector>

#include "circuit/condition.h"
#include "circuit/device.h"
#include "machine/map.h"

namespace ilvek {

// An ohmmeter's test: 0.3 V, below what a junction needs to conduct, behind 1 kΩ.
constexpr double ohmsTest_V = 0.3, ohmsTest_ohm = 1000.0;

// Of a thermistor at so many °C, Ω: by its table, else by its beta.
double thermistor_ohm(const Element& e, double celsius);

// Drivers with a duty are on for that share of each period. A phase is a share of the period in which the same drivers
// are on; all periods are taken to begin together. What a voltmeter shows is the mean over the phases (T18).
struct Phase {
    double share = 1;
    std::vector<int> pulsedOff;  // drivers with a duty that are off in it
};
std::vector<Phase> phasesOf(const Map& map, const Condition& condition);

class Network {
public:
    // Relays open, module ports not yet alive. `map` must outlive this.
    Network(const Map& map, const Condition& condition, const Phase& phase);

    // Equation index of a node of the map; battery minus is the reference, −1.
    int equationOf(int node) const { return node == reference_ ? -1 : node > reference_ ? node - 1 : node; }
    int equations() const { return equations_; }
    const std::vector<Device>& devices() const { return devices_; }
    // The pairs of equation nodes that some device couples.
    std::vector<std::pair<int, int>> couples() const;
    // First device of an element; a relay's contact comes first and its coil after it.
    const Device& deviceOf(int element) const;
    const Device* loadDevice() const;

    // Changes the devices that a fault touches and adds those it needs; their indices are appended to `touched`.
    void apply(const Fault& fault, std::vector<int>& touched);

    // Back to what `base` is, of which this is a copy with only these devices changed or added.
    void restore(const Network& base, const std::vector<int>& changed);

    // Relays and drivers follow the voltages. True when a device changed; its index is appended to `touched`.
    bool follow(const law::Voltages& v, std::vector<int>& touched);
    // Opens the one fuse or driver that is furthest beyond what it carries. To be asked once nothing else changes.
    bool trip(const law::Voltages& v, std::vector<int>& touched);
    // A closed relay whose coil has enough to hold but not enough to have pulled in: what it does depends on what was
    // before.
    bool hangsOnHistory(const law::Voltages& v) const;

    // Whether a switch, contact or driver is closed; whether any other element conducts at all.
    bool isClosed(int element) const;
    // Drivers that shut themselves down, by element.
    std::vector<int> shutDown() const;
    std::vector<int> blownFuses() const;
    bool jumperBlew() const;

private:
    struct Relay {
        int contact, coil;
        double pickUp_V, dropOut_V;
    };
    struct Port {
        int element, supply, ret;
        double brownOut_V;
        bool alive, dead;
    };
    struct Driver {
        int device;
        bool wanted;
        std::vector<int> ports;
    };
    struct Protection {
        int device;
        double most_A;
        bool isFuse, tripped;
    };
    std::optional<double> told(int element) const;  // its temperature, °C
    void add(const Element& element, int index, bool on);
    void addParts(const Element& element, int index);
    void addDriver(const Element& element, int index, bool wanted);
    Device& push(Device::Law law, int element, std::initializer_list<int> mapNodes,
                 std::initializer_list<double> values);
    void connect(const Condition& condition);
    void kill(int port, std::vector<int>& touched);

    const Map* map_;
    int reference_;
    int equations_;
    int state_;
    std::map<int, double> celsius_;
    std::vector<Device> devices_;
    std::vector<int> first_;  // by element
    std::vector<Relay> relays_;
    std::vector<Port> ports_;
    std::vector<Driver> drivers_;
    std::vector<Protection> protections_;
    std::set<int> removed_;  // parts taken out
    int alone_ = -1;         // the part that is measured on its own
    int load_ = -1;
};

}  // namespace ilvek
