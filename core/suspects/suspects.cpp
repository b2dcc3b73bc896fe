#include "suspects/suspects.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "base/text.h"
#include "machine/connector_face.h"
#include "machine/paths.h"
#include "machine/stated_figure.h"
#include "machine/wire_words.h"
#include "quantity/trade.h"
#include "suspects/sights.h"
#include "wording/words.h"

namespace ilvek {

namespace {

constexpr double addedSteps_ohm[] = {0.04, 0.35, 2, 8, 40, 250, 3e3, 6e4, 1.5e6};
constexpr double weakSteps_ohm[] = {0.04, 0.35, 2, 8, 40};
constexpr double coilSteps_ohm[] = {10, 30, 100, 1e3};
constexpr double groundSteps_ohm[] = {1e4, 1e3, 150, 30, 6, 1.5, 0.4, 0.05};
constexpr double supplySteps_ohm[] = {1e4, 1e3, 100, 10, 0.5};
constexpr double neighbourSteps_ohm[] = {2e3, 200, 20, 0.5};
constexpr double coilShortSteps_ohm[] = {20, 4, 0.5}, insideShortSteps_ohm[] = {60, 20, 6, 1.5, 0.3};
constexpr double joinedLinesSteps_ohm[] = {60, 10, 1}, wetLeaks_ohm[] = {2e4, 2e3, 300};
constexpr double drawFactors[] = {1.6, 2.5, 5};
// Figures of a part that nobody stated are sound within this factor, either way.
constexpr double beyondUnknown = 6;
// Chance that a figure is of another part or was misread, and that all else that matters is sound so far.
constexpr double wrongPage = 0.025;
constexpr double wrongOfOne = 0.2;  // of several that a page tells alike, as a share: one is of another make
constexpr double wrongFigures[] = {0.2, 0.35, 0.6, 0.9, 1.1, 1.6, 2.8, 5};
constexpr double lowFactors[] = {0.8, 0.6, 0.35, 0.1, 0.01};
constexpr double highFactors[] = {1.25, 1.6, 2.5, 5, 20};

// Ratios between kinds of fault, before place: what technicians find when they open a loom.
constexpr double contactWeight = 3, wireWeight = 1, jointWeight = 2.5, fuseWeight = 1.5, relayWeight = 1.5;
constexpr double loadWeight = 2, sensorWeight = 2, coilWeight = 0.6, stuckWeight = 0.4;
constexpr double groundWeight = 0.5, supplyWeight = 0.1, neighbourWeight = 0.12, backFeedWeight = 0.1;
constexpr double modulePartWeight = 0.35, moduleDeadWeight = 0.35, busWeight = 1.0, mapWeight = 0.1;
constexpr double wrongSideWeight = 0.5, otherLevelWeight = 3;
constexpr double exchangedWeight = 0.1, emptyWeight = 0.08;
constexpr double insideShortWeight = 0.15, drawWeight = 0.1, silentWeight = 0.2, joinedWeight = 0.4,
                 coilShortWeight = 0.2;
constexpr double wetConnectorWeight = 0.5;
constexpr double wetFactor = 2.5, movingFactor = 1.8;
// An exchanged wire is about as long as its neighbour.
constexpr double exchangedWire_ohm = 0.03;
// Share of jobs in which nothing is wrong (now). Where the map is a sheet of pins more of them come with a complaint
// that names nothing that fails; where something is named that refutes it anyway.
constexpr double nothingWithComplaint = 0.03, nothingOnSheet = 0.1, nothingWithout = 0.3;
// Share of the jobs with a complaint in which what is wrong is on no map: next to none where the map was drawn for the
// machine, one in eight where it is a sheet of pins. No list of modelled faults takes that away.
constexpr double notOnMap = 0.005, notOnSheet = 0.125;

class Enumeration {
public:
    Enumeration(const Map& map, bool complaint) : map_(map), inside_(insideModule(map)), complaint_(complaint) {}

    std::vector<Suspect> all()
    {
        Suspect nothing;
        nothing.severities = {{}};
        nothing.graded = false;
        nothing.id = "nothing";
        nothing.place = "nowhere";
        nothing.words = inWords("suspects.fault-present-now");
        out_.push_back(nothing);
        markConductors();
        grounded_ = joinedTo(map_, map_.batteryMinus());
        fed_ = joinedTo(map_, map_.batteryPlus());
        for (std::size_t i = 0; i < map_.elements.size(); ++i)
            if (!isOfUnlistedStarter(map_.elements[i])) addElement(static_cast<int>(i));
        addSilentModule();
        addShorts();
        addNeighbours();
        addWetConnectors();
        addBackFeeds();
        addExchanged();
        addWrongFigures();
        addMapErrors();
        addWrongSides();
        addNotOnMap();
        for (Suspect& s : out_)
            s.sights = sightsOf(map_, s);
        weighKinds();
        normalise();
        return std::move(out_);
    }

private:
    // A sheet that lists no starter has one all the same, of which nothing is told and nothing asked.
    bool isOfUnlistedStarter(const Element& e) const
    {
        const int cranking = map_.stateIndex("cranking"), keyOn = map_.stateIndex("key-on");
        const auto isContact = [&](const Element& s) {
            return s.kind == ElementKind::Switch && s.nodes[0] == map_.batteryPlus() && s.isIn(cranking) &&
                   !s.isIn(keyOn);
        };
        const auto feedsIt = [&](const Element& s) { return isContact(s) && s.nodes[1] == e.nodes[0]; };
        return map_.isOfSheet() && (isContact(e) || std::ranges::any_of(map_.elements, feedsIt));
    }

    double placeFactor(int element) const
    {
        const Element& e = map_.element(element);
        double factor = e.weakness;
        for (const Terminal& t : map_.terminals) {
            if (t.contact != element) continue;
            const Connector& c = map_.connectors[static_cast<std::size_t>(t.connector)];
            factor *= (c.wet ? wetFactor : 1) * (c.moving ? movingFactor : 1) * c.weakness;
        }
        return factor;
    }

    Suspect& add(SuspectKind kind, double weight, std::string id, std::string place, std::string words)
    {
        Suspect s;
        s.kind = kind;
        s.prior = weight;
        s.id = std::move(id);
        s.place = std::move(place);
        s.words = std::move(words);
        return out_.emplace_back(std::move(s));
    }

    Suspect& addFor(int element, SuspectKind kind, double weight, const std::string& what)
    {
        const std::string place = partWords(map_, element);
        Suspect& s = add(kind, weight * placeFactor(element), map_.element(element).id + " " + what, place,
                         fmt::format("{}: {}", place, what));
        s.element = element;
        s.insideModule = inside_[static_cast<std::size_t>(element)];
        return s;
    }

    template <std::size_t N>
    static void grade(Suspect& s, Fault::Kind kind, const double (&ohms)[N])
    {
        for (const double r : ohms)
            s.severities.push_back({Fault{kind, s.element, -1, -1, r}});
    }

    void addElement(int index)
    {
        const Element& e = map_.element(index);
        const bool inside = inside_[static_cast<std::size_t>(index)];
        if (index == map_.battery) return;
        switch (e.kind) {
            case ElementKind::Wire:
                return conductor(index, wireWeight, inWords("suspects.added-resistance"));
            case ElementKind::Contact:
                return conductor(index, contactWeight, inWords("suspects.added-resistance"));
            case ElementKind::Joint:
                return conductor(index, inside ? modulePartWeight / 4 : jointWeight,
                                 inWords("suspects.added-resistance"));
            case ElementKind::Fuse: {
                conductor(index, fuseWeight, inWords("suspects.blown-bad-contact"));
                return;
            }
            case ElementKind::Switch:
                conductor(index, relayWeight, inWords("suspects.bad-contact"));
                return stuck(index);
            case ElementKind::Relay:
                conductor(index, relayWeight, inWords("suspects.bad-contact"));
                stuck(index);
                grade(addFor(index, SuspectKind::Coil, coilWeight, inWords("suspects.coil-bad")),
                      Fault::Kind::AddedCoilResistance, coilSteps_ohm);
                out_.back().severities.push_back({Fault{Fault::Kind::AddedCoilResistance, index, -1, -1, 1e7}});
                between(addFor(index, SuspectKind::Coil, coilShortWeight, inWords("suspects.coil-shorted")), e.nodes[2],
                        e.nodes[3], coilShortSteps_ohm);
                return protects(index, coilShortWeight,
                                {{Fault::Kind::ShortBetween, index, e.nodes[2], e.nodes[3], coilShortSteps_ohm[1]},
                                 {Fault::Kind::ShortBetween, index, e.nodes[2], e.nodes[3], coilShortSteps_ohm[2]}});
            case ElementKind::Regulator:
            case ElementKind::PullUp:
            case ElementKind::Input:
            case ElementKind::LowSideDriver:
            case ElementKind::HighSideDriver:
                return modulePart(index);
            case ElementKind::SupplyPort:
                addFor(index, SuspectKind::ModuleDead, moduleDeadWeight, inWords("suspects.without-function"))
                    .severities.push_back({Fault{Fault::Kind::Dead, index}});
                out_.back().graded = false;
                return feed(index);
            case ElementKind::BusPort:
                return busNode(index);
            default:
                return load(index);
        }
    }

    // A drive that meets a short may shut itself down; whether this one does no sheet says.
    void protects(int index, double weight, const std::vector<Fault>& shorts)
    {
        const int driver = map_.isOfSheet() ? driverOf(index) : -1;
        if (driver < 0) return;
        Suspect& s = addFor(index, SuspectKind::Coil, weight, inWords("suspects.shorted-protects"));
        for (const Fault& f : shorts)
            s.severities.push_back({f, Fault{Fault::Kind::Dead, driver}});
        s.graded = false;
    }

    // What drives a part outside the module, over whatever wires; -1: nothing does.
    int driverOf(int index) const
    {
        if (inside_[static_cast<std::size_t>(index)]) return -1;
        for (std::size_t d = 0; d < map_.elements.size(); ++d) {
            const Element& driver = map_.elements[d];
            const bool low = driver.kind == ElementKind::LowSideDriver;
            if (!low && driver.kind != ElementKind::HighSideDriver) continue;
            for (const int node : map_.element(index).nodes) {
                if (conductorPath(map_, driver.nodes[low ? 0 : 1], node)) return static_cast<int>(d);
            }
        }
        return -1;
    }

    void conductor(int index, double weight, const std::string& what)
    {
        Suspect& s = addFor(index, SuspectKind::Resistance, weight, what);
        grade(s, Fault::Kind::AddedResistance, addedSteps_ohm);
        s.severities.push_back({Fault{Fault::Kind::Open, index}});
    }

    void stuck(int index)
    {
        Suspect& s = addFor(index, SuspectKind::StuckClosed, stuckWeight, inWords("suspect.stuck-closed"));
        s.severities.push_back({Fault{Fault::Kind::StuckClosed, index}});
        s.graded = false;
    }

    void factors(Suspect& s, const double (&values)[5], double beyond = 1)
    {
        for (const double f : values)
            if (f > beyond || f < 1 / beyond)
                s.severities.push_back({Fault{Fault::Kind::OutOfValue, s.element, -1, -1, 0, f}});
    }

    void load(int index)
    {
        const Element& e = map_.element(index);
        if (e.kind == ElementKind::Hall) return hall(index);
        const bool sensor = e.kind == ElementKind::Sensor || e.kind == ElementKind::Thermistor;
        const double weight = inside_[static_cast<std::size_t>(index)] ? modulePartWeight / 2
                              : sensor                                 ? sensorWeight
                                                                       : loadWeight;
        const bool source = e.kind == ElementKind::Battery || e.kind == ElementKind::Alternator;
        const std::string what = sensor   ? "reads"
                                 : source ? inWords("suspects.voltage-too")
                                          : inWords("suspects.resistance-too");
        // Of a figure that nobody stated only what is beyond any sound part is too low or too high.
        const bool isUnknown = map_.isOfSheet() && !hasStatedFigure(e) && !source;
        factors(addFor(index, SuspectKind::Low, weight * 0.5, what + " low"), lowFactors,
                isUnknown ? beyondUnknown : 1);
        if (e.kind != ElementKind::Battery)
            factors(addFor(index, SuspectKind::High, weight * 0.5, what + " high"), highFactors,
                    isUnknown ? beyondUnknown : 1);
        Suspect& open = addFor(index, SuspectKind::High, weight * 0.5, "open");
        open.severities.push_back({Fault{Fault::Kind::Open, index}});
        open.graded = false;
        // Of a sensor with three wires, its feed to its return: gone once it is unplugged.
        if (map_.isOfSheet() && e.kind == ElementKind::Sensor && !inside_[static_cast<std::size_t>(index)])
            between(addFor(index, SuspectKind::Low, insideShortWeight, inWords("suspects.shorted-inside")), e.nodes[0],
                    e.nodes[2], groundSteps_ohm);
        if (e.kind == ElementKind::Winding)
            protects(index, weight * 0.1,
                     {{Fault::Kind::OutOfValue, index, -1, -1, 0, lowFactors[3]},
                      {Fault::Kind::OutOfValue, index, -1, -1, 0, lowFactors[4]}});
        if (isBusNode(e)) return busHeldBy(index, e.nodes[0], e.nodes[1], map_.batteryMinus());
        if (e.kind == ElementKind::Resistor && isEndOf(e.nodes[0], Role::SingleWireBus))
            return lineHeldBy(index, e.nodes[0], e.nodes[1], inWords("suspects.holds-line-down"));
        if (const int live = liveEnd(index); live >= 0)
            between(addFor(index, SuspectKind::Low, insideShortWeight, inWords("suspects.shorted-case")), live,
                    map_.batteryMinus(), groundSteps_ohm);
    }

    // What stands on a sheet for another node of the pair.
    bool isBusNode(const Element& e) const
    {
        return e.kind == ElementKind::Resistor && isEndOf(e.nodes[0], Role::DifferentialBus) &&
               isEndOf(e.nodes[1], Role::DifferentialBus);
    }

    // The far end of the wire of a terminal of that role, on a sheet.
    bool isEndOf(int node, Role role) const
    {
        const auto terminals = map_.moduleTerminals();
        return std::any_of(terminals.begin(), terminals.end(), [&](int t) {
            const Terminal& at = map_.terminal(t);
            return at.role == role && map_.node(node) == at.id + ".end";
        });
    }

    // Of a part outside the module the end that is fed, else that is driven; -1: neither end can be, or no test of the
    // map unplugs parts.
    int liveEnd(int index) const
    {
        const Element& e = map_.element(index);
        const bool hasCase = e.kind == ElementKind::Winding || e.kind == ElementKind::Motor ||
                             e.kind == ElementKind::Resistor || e.kind == ElementKind::Lamp;
        if (!map_.isOfSheet() || !hasCase || inside_[static_cast<std::size_t>(index)]) return -1;
        int live = -1;
        for (const int node : e.nodes) {
            if (grounded_.contains(node)) continue;
            if (live < 0 || fed_.contains(node)) live = node;
        }
        return live;
    }

    // It switches: it holds its output low, or never pulls it.
    void hall(int index)
    {
        const double weight = inside_[static_cast<std::size_t>(index)] ? modulePartWeight / 2 : sensorWeight;
        Suspect& low = addFor(index, SuspectKind::Low, weight * 0.75, inWords("suspects.output-stuck-low"));
        low.severities.push_back({Fault{Fault::Kind::StuckClosed, index}});
        low.graded = false;
        Suspect& open = addFor(index, SuspectKind::High, weight * 0.75, "open");
        open.severities.push_back({Fault{Fault::Kind::Open, index}});
        open.graded = false;
    }

    void modulePart(int index)
    {
        const Element& e = map_.element(index);
        const bool driver = e.kind == ElementKind::LowSideDriver || e.kind == ElementKind::HighSideDriver;
        Suspect& dead = addFor(index, SuspectKind::ModulePart, modulePartWeight, "dead");
        dead.severities.push_back({Fault{Fault::Kind::Open, index}});
        dead.graded = false;
        if (driver) {
            Suspect& on = addFor(index, SuspectKind::ModulePart, modulePartWeight, inWords("suspects.stuck-on"));
            on.severities.push_back({Fault{Fault::Kind::StuckClosed, index}});
            on.graded = false;
            // Between a sound one and a dead one, which is rare.
            Suspect& weak = addFor(index, SuspectKind::ModulePart, modulePartWeight / 8, inWords("suspects.weak"));
            for (const double r : weakSteps_ohm)
                weak.severities.push_back({Fault{Fault::Kind::AddedResistance, index, -1, -1, r}});
            return;
        }
        factors(addFor(index, SuspectKind::ModulePart, modulePartWeight / 2, inWords("suspects.too-low")), lowFactors);
        if (e.kind == ElementKind::Regulator)
            factors(addFor(index, SuspectKind::ModulePart, modulePartWeight / 4, inWords("suspects.too-high")),
                    highFactors);
    }

    template <std::size_t N>
    static void between(Suspect& s, int a, int b, const double (&ohms)[N])
    {
        for (const double r : ohms)
            s.severities.push_back({Fault{Fault::Kind::ShortBetween, s.element, a, b, r}});
    }

    // What a module does to its own feed. Of one whose draw nobody stated no draw is too much.
    void feed(int index)
    {
        const Element& e = map_.element(index);
        const bool inside = inside_[static_cast<std::size_t>(index)];
        between(addFor(index, inside ? SuspectKind::ModulePart : SuspectKind::Low, insideShortWeight,
                       inWords("suspects.shorted-inside")),
                e.nodes[0], e.nodes[1], insideShortSteps_ohm);
        if (e.assumed) return;
        Suspect& more = addFor(index, inside ? SuspectKind::ModulePart : SuspectKind::Low, drawWeight,
                               inWords("suspects.draws-too-much"));
        for (const double f : drawFactors)
            more.severities.push_back({Fault{Fault::Kind::OutOfValue, index, -1, -1, 0, f}});
    }

    // Fed, and nothing is driven; or its own five volts are dead too.
    void addSilentModule()
    {
        std::vector<Fault> silent, dead;
        int first = -1;
        for (std::size_t i = 0; i < map_.elements.size(); ++i) {
            const ElementKind kind = map_.elements[i].kind;
            const bool drives = kind == ElementKind::LowSideDriver || kind == ElementKind::HighSideDriver;
            const bool feeds = kind == ElementKind::Regulator || kind == ElementKind::PullUp;
            if (!inside_[i] || (!drives && !feeds)) continue;
            (drives ? silent : dead).push_back(Fault{Fault::Kind::Open, static_cast<int>(i)});
            if (drives && first < 0) first = static_cast<int>(i);
        }
        if (silent.size() < 2) return;
        dead.insert(dead.end(), silent.begin(), silent.end());
        Suspect& s = add(SuspectKind::ModulePart, silentWeight, map_.module + " silent", map_.module,
                         map_.module + inWords("suspects.fed-drives-nothing"));
        s.element = first;
        s.insideModule = true;
        s.graded = false;
        s.severities = {silent};
        if (map_.isOfSheet() && dead.size() > silent.size()) s.severities.push_back(dead);
    }

    void busNode(int index)
    {
        const Element& e = map_.element(index);
        busHeldBy(index, e.nodes[0], e.nodes[1], e.nodes[3]);
    }

    void lineHeldBy(int index, int line, int ground, const std::string& what)
    {
        Suspect& s = addFor(index, SuspectKind::BusHeld, busWeight, what);
        for (const double r : {300.0, 30.0, 3.0, 0.3})
            s.severities.push_back({Fault{Fault::Kind::ShortBetween, index, line, ground, r}});
    }

    void busHeldBy(int index, int high, int low, int ground)
    {
        lineHeldBy(index, high, ground, inWords("suspects.holds-high-line-down"));
        lineHeldBy(index, low, ground, inWords("suspects.holds-low-line-down"));
        between(addFor(index, SuspectKind::BusHeld, busWeight * joinedWeight, inWords("suspects.joins-two-lines")),
                high, low, joinedLinesSteps_ohm);
    }

    // One node stands for each run of conductors of low resistance between two places where something else joins.
    void markConductors()
    {
        std::vector<int> ends(map_.nodes.size(), 0);
        for (const Element& e : map_.elements) {
            for (const int node : e.nodes)
                ++ends[static_cast<std::size_t>(node)];
        }
        for (std::size_t i = 0; i < map_.elements.size(); ++i) {
            const Element& e = map_.elements[i];
            if (e.kind != ElementKind::Wire || inside_[i]) continue;
            // The far end of the wire, unless another wire already speaks for it.
            for (const int node : {e.nodes[1], e.nodes[0]}) {
                if (node == map_.batteryMinus() || node == map_.batteryPlus()) continue;
                wireNodes_.insert(node);
            }
        }
    }

    double shortWeight(int node) const
    {
        double factor = 1;
        for (const Terminal& t : map_.terminals) {
            const Connector& c = map_.connectors[static_cast<std::size_t>(t.connector)];
            if (t.a == node || t.b == node)
                factor = std::max(factor, (c.wet ? wetFactor : 1) * (c.moving ? movingFactor : 1) * c.weakness);
        }
        return factor;
    }

    void addShorts()
    {
        for (const int node : wireNodes_) {
            const std::string place = map_.nodeWords(node);
            for (const bool ground : {true, false}) {
                Suspect& s =
                    add(ground ? SuspectKind::ShortToGround : SuspectKind::ShortToSupply,
                        (ground ? groundWeight : supplyWeight) * shortWeight(node),
                        map_.node(node) + (ground ? inWords("suspects.to-ground") : inWords("suspects.to-supply")),
                        place, inWords("suspects.short-to", place, ground ? "ground" : "supply"));
                s.node = node;
                const int other = ground ? map_.batteryMinus() : map_.batteryPlus();
                for (const double r : ground
                                          ? std::vector<double>(std::begin(groundSteps_ohm), std::end(groundSteps_ohm))
                                          : std::vector<double>(std::begin(supplySteps_ohm), std::end(supplySteps_ohm)))
                    s.severities.push_back({Fault{Fault::Kind::ShortBetween, -1, node, other, r}});
            }
        }
    }

    void pair(int a, int b, double weight, const std::string& where)
    {
        if (a < 0 || b < 0 || a == b) return;
        Suspect& s = add(SuspectKind::ShortToNeighbour, neighbourWeight * weight, map_.node(a) + " to " + map_.node(b),
                         fmt::format("{} and {}", map_.nodeWords(a), map_.nodeWords(b)),
                         inWords("suspects.touches-in-the", map_.nodeWords(a), map_.nodeWords(b), where));
        s.node = a;
        s.node2 = b;
        for (const double r : neighbourSteps_ohm)
            s.severities.push_back({Fault{Fault::Kind::ShortBetween, -1, a, b, r}});
    }

    void addNeighbours()
    {
        for (const Connector& c : map_.connectors) {
            const double weight = (c.wet ? wetFactor : 1) * (c.moving ? movingFactor : 1) * c.weakness;
            const auto nodeAt = [&](int row, int column) {
                if (row >= c.rows || column >= c.columns) return -1;
                const int t = c.terminals[static_cast<std::size_t>(row * c.columns + column)];
                return t < 0 || map_.terminal(t).asFound == AsFound::Empty ? -1 : map_.terminal(t).a;
            };
            for (int row = 0; row < c.rows; ++row) {
                for (int column = 0; column < c.columns; ++column) {
                    pair(nodeAt(row, column), nodeAt(row, column + 1), weight, "connector " + c.id);
                    pair(nodeAt(row, column), nodeAt(row + 1, column), weight, "connector " + c.id);
                }
            }
        }
        // In a loom: a wire and the next one listed in it, which map makers list as they lie.
        std::map<std::string, int> last;
        for (const Element& e : map_.elements) {
            if (e.kind != ElementKind::Wire || e.loom.empty()) continue;
            const auto before = last.find(e.loom);
            if (before != last.end() && before->second != e.nodes[0]) pair(before->second, e.nodes[1], 0.5, e.loom);
            last[e.loom] = e.nodes[1];
        }
    }

    // Water in it: every terminal leaks to its neighbours.
    void addWetConnectors()
    {
        for (const Connector& c : map_.connectors) {
            std::vector<int> nodes;
            for (const int t : c.terminals) {
                if (t >= 0 && map_.terminal(t).a >= 0 && map_.terminal(t).asFound != AsFound::Empty)
                    nodes.push_back(map_.terminal(t).a);
            }
            if (!c.wet || nodes.size() < 3) continue;
            Suspect& s = add(SuspectKind::ShortToNeighbour, wetConnectorWeight * c.weakness, c.id + " wet",
                             "connector " + c.id, inWords("suspects.connector-wet-terminals-leak", c.id));
            s.node = nodes[0];
            s.node2 = nodes[1];
            s.graded = false;
            for (const double r : wetLeaks_ohm) {
                std::vector<Fault> leaks;
                for (std::size_t i = 0; i + 1 < nodes.size(); ++i)
                    leaks.push_back(Fault{Fault::Kind::ShortBetween, -1, nodes[i], nodes[i + 1], r});
                s.severities.push_back(std::move(leaks));
            }
        }
    }

    // A sheet states figures from a page that may be of another part: of one alone, or of all parts that it tells
    // alike.
    void addWrongFigures()
    {
        std::vector<std::vector<int>> alike;
        for (std::size_t i = 0; map_.isOfSheet() && i < map_.elements.size(); ++i) {
            const Element& e = map_.elements[i];
            const bool stated = hasStatedFigure(e) && !inside_[i] && specOf(e.kind).isLoad;
            if (!stated || e.kind == ElementKind::SupplyPort) continue;
            const auto with = std::find_if(alike.begin(), alike.end(), [&](const std::vector<int>& parts) {
                const Element& other = map_.element(parts.front());
                return other.kind == e.kind && other.values == e.values && other.table == e.table;
            });
            (with == alike.end() ? alike.emplace_back() : *with).push_back(static_cast<int>(i));
        }
        for (std::size_t i = 0; map_.isOfSheet() && i < map_.elements.size(); ++i) {
            if (map_.elements[i].kind == ElementKind::Regulator && map_.elements[i].assumed)
                addOtherLevel(static_cast<int>(i));
        }
        for (const std::vector<int>& parts : alike) {
            addWrongFigure(parts, 1);
            for (std::size_t i = 0; i < parts.size() && parts.size() > 1; ++i)
                addWrongFigure({parts[i]}, wrongOfOne);
        }
    }

    // A reference of which nobody stated the level, taken for the customary one: others are as sound.
    void addOtherLevel(int regulator)
    {
        const std::string place = partWords(map_, regulator);
        Suspect& s = add(SuspectKind::FigureWrong, otherLevelWeight, map_.element(regulator).id + " figure",
                         inWords("suspects.map-figure") + place, inWords("suspects.map-figure-part", place));
        s.element = regulator;
        s.graded = false;
        for (const double level_V : trade::otherReferences_V)
            s.severities.push_back({Fault{Fault::Kind::OutOfValue, regulator, -1, -1, 0,
                                          level_V / map_.element(regulator).value("voltage")}});
    }

    void addWrongFigure(const std::vector<int>& parts, double weight)
    {
        constexpr std::size_t mostNamed = 3;
        std::vector<std::string> ids, places;
        for (const int part : parts) {
            ids.push_back(map_.element(part).id);
            places.push_back(partWords(map_, part));
        }
        if (places.size() > mostNamed) {
            places.resize(mostNamed);
            places.back() = inWords("suspects.more-parts", parts.size() - mostNamed + 1);
        }
        const std::string place = listed(places);
        Suspect& s =
            add(SuspectKind::FigureWrong, weight, listed(ids) + " figure", inWords("suspects.map-figure") + place,
                inWords(parts.size() == 1 ? "suspects.map-figure-part" : "suspects.map-figure-parts", place));
        s.element = parts.front();
        for (const double f : wrongFigures) {
            auto& faults = s.severities.emplace_back();
            for (const int part : parts)
                faults.push_back(Fault{Fault::Kind::OutOfValue, part, -1, -1, 0, f});
        }
    }

    void addBackFeeds()
    {
        for (std::size_t i = 0; i < map_.elements.size(); ++i) {
            const Element& e = map_.elements[i];
            if (e.kind != ElementKind::Battery || static_cast<int>(i) == map_.battery) continue;
            for (const int terminal : map_.moduleTerminals()) {
                const Terminal& t = map_.terminal(terminal);
                if (t.a < 0 || !t.role || !(isSupply(*t.role) || groupOf(*t.role) == Group::Drives)) continue;
                Suspect& s = add(SuspectKind::BackFeed, backFeedWeight, fmt::format("{} from {}", t.id, e.id),
                                 fmt::format("{} and {}", t.id, partWords(map_, static_cast<int>(i))),
                                 inWords("suspects.is-fed-from", t.id, partWords(map_, static_cast<int>(i))));
                s.node = t.a;
                s.node2 = e.nodes[0];
                for (const double r : {20.0, 1.0, 0.1})
                    s.severities.push_back({Fault{Fault::Kind::ShortBetween, -1, e.nodes[0], t.a, r}});
            }
        }
    }

    // Both wires taken off, and each joined to where the other one was.
    void exchange(int t1, int t2)
    {
        const Terminal &here = map_.terminal(t1), &there = map_.terminal(t2);
        const auto [one, oneEnd] = onlyWireAt(map_, here.a);
        const auto [two, twoEnd] = onlyWireAt(map_, there.a);
        if (one < 0 || two < 0) return;
        const int farOne = map_.element(one).nodes[1 - oneEnd], farTwo = map_.element(two).nodes[1 - twoEnd];
        if (farOne == farTwo) return;
        const Connector& c = map_.connectors[static_cast<std::size_t>(here.connector)];
        Suspect& s =
            add(SuspectKind::Exchanged, exchangedWeight * c.weakness, here.id + " and " + there.id + " exchanged",
                here.id + " and " + there.id,
                inWords("suspects.wires-exchanged-connector-map", cavityWords(here.id), cavityWords(there.id)));
        s.node = here.a;
        s.node2 = there.a;
        s.severities = {{Fault{Fault::Kind::Open, one}, Fault{Fault::Kind::Open, two},
                         Fault{Fault::Kind::ShortBetween, -1, farOne, there.a, exchangedWire_ohm},
                         Fault{Fault::Kind::ShortBetween, -1, farTwo, here.a, exchangedWire_ohm}}};
        s.graded = false;
    }

    void addExchanged()
    {
        for (const Connector& c : map_.connectors) {
            const auto wired = [&](std::size_t cavity) {
                const int t = cavity < c.terminals.size() ? c.terminals[cavity] : -1;
                return t >= 0 && map_.terminal(t).a >= 0 && map_.terminal(t).asFound != AsFound::Empty ? t : -1;
            };
            // Wires are put into the wrong cavity by counting wrongly: the next number.
            for (std::size_t cavity = 0; cavity + 1 < c.terminals.size(); ++cavity) {
                if (wired(cavity) >= 0 && wired(cavity + 1) >= 0) exchange(wired(cavity), wired(cavity + 1));
            }
        }
    }

    void addMapErrors()
    {
        for (const int terminal : map_.moduleTerminals()) {
            const Terminal& t = map_.terminal(terminal);
            if (t.a < 0 || t.asFound == AsFound::Empty) continue;
            Suspect& s = add(SuspectKind::MapWrong, mapWeight, t.id + " map", t.id,
                             inWords("suspects.map-may-wrong-here", t.id));
            s.terminal = terminal;
            s.node = t.a;
            s.node2 = t.b;
            s.severities = {{}};
            s.graded = false;
            if (t.contact < 0) continue;
            Suspect& empty = add(SuspectKind::EmptyCavity, emptyWeight, t.id + " empty", t.id,
                                 inWords("suspects.wire-here-machine-against", t.id));
            empty.terminal = terminal;
            empty.node = t.a;
            empty.node2 = t.b;
            empty.severities = {{Fault{Fault::Kind::Open, t.contact}}};
            empty.graded = false;
        }
    }

    // A sheet that has the side of its drives wrong has it wrong of all of them.
    void addWrongSides()
    {
        for (const Role side : {Role::LowSideDrive, Role::HighSideDrive}) {
            std::vector<int> terminals;
            for (const int t : map_.moduleTerminals()) {
                if (map_.terminal(t).role == side && map_.terminal(t).a >= 0) terminals.push_back(t);
            }
            if (!map_.isOfSheet() || terminals.size() < 2) continue;
            std::vector<std::string> ids;
            for (const int t : terminals)
                ids.push_back(map_.terminal(t).id);
            const std::string place = listed(ids);
            Suspect& s = add(SuspectKind::MapWrong, wrongSideWeight, place + " map", place,
                             inWords("suspects.map-may-wrong-here", place));
            s.node = map_.terminal(terminals.front()).a;
            s.node2 = map_.terminal(terminals.front()).b;
            for (std::size_t i = 1; i < terminals.size(); ++i) {
                s.also.push_back(map_.terminal(terminals[i]).a);
                s.also.push_back(map_.terminal(terminals[i]).b);
            }
            s.severities = {{}};
            s.graded = false;
        }
    }

    void addNotOnMap()
    {
        Suspect& s = add(SuspectKind::NotOnMap, 0, inWords("suspects.not-on-the-map"),
                         inWords("suspects.something-map"), inWords("suspects.something-map-2"));
        s.severities = {{}};
        s.graded = false;
    }

    // What the shop's own cases say of kinds of parts.
    void weighKinds()
    {
        if (map_.kindFactor.empty()) return;
        for (Suspect& s : out_) {
            const auto at = map_.kindFactor.find(caseKindOf(map_, s));
            if (at != map_.kindFactor.end()) s.prior *= at->second;
        }
    }

    void normalise()
    {
        // That a page is wrong is as likely whatever else is.
        const auto isPage = [](const Suspect& s) { return s.kind == SuspectKind::FigureWrong; };
        double pages = 0;
        for (const Suspect& s : out_)
            pages += isPage(s) ? s.prior : 0.0;
        const double page = wrongPage / (1 + pages * wrongPage), left = 1 - pages * page;
        const double withComplaint = map_.isOfSheet() ? nothingOnSheet : nothingWithComplaint;
        const double nothing = left * (complaint_ ? withComplaint : nothingWithout);
        const double elsewhere = (map_.isOfSheet() ? notOnSheet : notOnMap) * (left - nothing);
        double sum = 0;
        for (const Suspect& s : out_)
            sum += isPage(s) ? 0.0 : s.prior;
        for (Suspect& s : out_)
            s.prior *= isPage(s) ? page : (left - nothing - elsewhere) / sum;
        out_.front().prior = nothing;
        out_.back().prior = elsewhere;
    }

    const Map& map_;
    std::vector<bool> inside_;
    bool complaint_;
    std::set<int> wireNodes_;
    std::set<int> grounded_, fed_;  // nodes joined to a post of the battery
    std::vector<Suspect> out_;
};

}  // namespace

std::vector<Suspect> suspectsOf(const Map& map, bool complaint)
{
    return Enumeration(map, complaint).all();
}

bool leavesOpen(const Suspect& s, int node)
{
    return node >= 0 && s.kind == SuspectKind::MapWrong &&
           (node == s.node || node == s.node2 || std::find(s.also.begin(), s.also.end(), node) != s.also.end());
}

std::vector<bool> insideModule(const Map& map)
{
    std::vector<bool> contact(map.elements.size(), false);
    std::vector<int> stack;
    for (const int terminal : map.moduleTerminals()) {
        const Terminal& t = map.terminal(terminal);
        if (t.b >= 0) stack.push_back(t.b);
        if (t.contact >= 0) contact[static_cast<std::size_t>(t.contact)] = true;
    }
    std::vector<std::vector<std::size_t>> at(map.nodes.size());  // elements by node
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        for (const int node : map.elements[i].nodes)
            at[static_cast<std::size_t>(node)].push_back(i);
    }
    std::vector<bool> seen(map.nodes.size(), false), inside(map.elements.size(), false);
    for (const int node : stack)
        seen[static_cast<std::size_t>(node)] = true;
    while (!stack.empty()) {
        const int node = stack.back();
        stack.pop_back();
        for (const std::size_t i : at[static_cast<std::size_t>(node)]) {
            if (contact[i]) continue;
            inside[i] = true;
            for (const int next : map.elements[i].nodes) {
                if (seen[static_cast<std::size_t>(next)]) continue;
                seen[static_cast<std::size_t>(next)] = true;
                stack.push_back(next);
            }
        }
    }
    return inside;
}

std::string caseKindOf(const Map& map, const Suspect& s)
{
    if (!isFault(s)) return "";
    if (s.insideModule) return "module";
    return s.element < 0 ? "wire" : std::string(specOf(map.element(s.element).kind).name);
}

std::string caseKindOf(const Map& map, int element)
{
    return insideModule(map)[static_cast<std::size_t>(element)] ? "module"
                                                                : std::string(specOf(map.element(element).kind).name);
}

std::string partWords(const Map& map, int element)
{
    const Element& e = map.element(element);
    if (e.kind == ElementKind::Contact) {
        for (const Terminal& t : map.terminals) {
            if (t.contact == element) return cavityWords(t.id);
        }
    }
    if (e.kind == ElementKind::Wire) {
        const auto end = [&](int node) {
            const std::string words = map.nodeWords(node), named = words.substr(0, words.find(','));
            return words.ends_with(", far end") ? inWords("suspects.far-end-of", named) : named;
        };
        return inWords("suspects.the-wire-from-to", end(e.nodes[0]), end(e.nodes[1]));
    }
    if (e.kind == ElementKind::Fuse) return "fuse " + e.id;
    if (!e.name.empty() && e.name.find(e.id) == std::string::npos && e.kind == ElementKind::Relay)
        return fmt::format("{} ({})", e.id, e.name);
    return e.name.empty() ? e.id : e.name;
}

}  // namespace ilvek
