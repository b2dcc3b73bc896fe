#include "circuit/operating_point.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <string>

#include "circuit/laws.h"

namespace ilvek {

namespace {

// Every node leaks this to battery minus, so that a floating terminal has a (meaningless) potential and the matrix is
// never singular.
constexpr double leak_S = 1e-9;
constexpr int mostNewtonSteps = 200;
constexpr int freeNewtonSteps = 60;  // tried before the step is damped
constexpr double leastShare = 1e-7;
constexpr double settled_V = 1e-7;
constexpr double settled_A = 1e-8;
// Below this a Hall sensor's own electronics draw in proportion; their supplies are 5 V or more.
constexpr double hallWorksAbove_V = 4.0;
constexpr int mostRelayRounds = 30;
// No resistance in the equations is smaller, whatever the map says: a joint of 0 Ω is one of 10 µΩ.
constexpr double leastResistance_ohm = 1e-5;

double thermistor_ohm(const Element& e)
{
    // R = R25 exp(B (1/T − 1/298.15)). SOURCE: beta equation of NTC thermistors.
    const double kelvin = e.value("temperature") + 273.15;
    return e.value("resistance_25") * std::exp(e.value("beta") * (1.0 / kelvin - 1.0 / 298.15));
}

}  // namespace

class Solver {
public:
    Solver(const Map& map, const Condition& condition)
        : map_(map),
          condition_(condition),
          reference_(map.batteryMinus()),
          equations_(static_cast<int>(map.nodes.size()) - 1),
          v_(map.nodes.size() - 1, 0.0),
          open_(map.elements.size(), false),
          added_(map.elements.size(), 0.0),
          relayClosed_(map.elements.size(), false)
    {
        markOpen();
        for (std::size_t i = 0; i < map.elements.size(); ++i)
            resistance_.push_back(resistanceOf(i));
    }

    Result<OperatingPoint> run()
    {
        bool settled = false;
        for (int round = 0; round < mostRelayRounds && !settled; ++round) {
            if (!newton()) return fail(map_.state(condition_.state).name, "the circuit has no settled solution");
            settled = !updateRelays();
        }
        return answer(!settled);
    }

private:
    // Equation index of a node: battery minus is the reference (−1) and the others close up.
    int eq(int node) const { return node == reference_ ? -1 : node > reference_ ? node - 1 : node; }
    double at(int node) const { return law::Voltages(v_)[eq(node)]; }

    void markOpen()
    {
        for (std::size_t i = 0; i < map_.terminals.size(); ++i) {
            const Terminal& t = map_.terminals[i];
            if (t.contact < 0) continue;
            if (condition_.unplugged.contains(t.connector) || t.asFound == AsFound::Empty)
                open_[static_cast<std::size_t>(t.contact)] = true;
        }
        for (const int element : condition_.removed)
            open_[static_cast<std::size_t>(element)] = true;
        for (const Fault& fault : condition_.faults) {
            if (fault.kind == Fault::Kind::Open) open_[static_cast<std::size_t>(fault.element)] = true;
            if (fault.kind == Fault::Kind::AddedResistance)
                added_[static_cast<std::size_t>(fault.element)] += fault.resistance_ohm;
        }
    }

    bool isClosed(std::size_t index) const
    {
        const Element& e = map_.elements[index];
        if (open_[index]) return false;
        if (e.kind == ElementKind::Switch) return e.isIn(condition_.state);
        if (e.kind == ElementKind::Relay) return relayClosed_[index];
        if (e.kind == ElementKind::LowSideDriver || e.kind == ElementKind::HighSideDriver) return drives(e);
        return true;
    }

    // A driver works only while the supplies it needs are above their brown-out.
    bool drives(const Element& e) const
    {
        if (!e.isIn(condition_.state)) return false;
        return std::all_of(e.needs.begin(), e.needs.end(), [&](int port) { return portAlive_.contains(port); });
    }

    double resistanceOf(std::size_t index) const
    {
        const Element& e = map_.elements[index];
        double r = map_.soundResistance_ohm(e);
        if (e.kind == ElementKind::Motor) r = e.value("voltage") / e.value("current");
        if (e.kind == ElementKind::Thermistor) r = thermistor_ohm(e);
        return std::max(leastResistance_ohm, r + added_[index]);
    }

    void stamp(std::size_t index, const law::Voltages& v)
    {
        const Element& e = map_.elements[index];
        if (!isClosed(index) && e.kind != ElementKind::Relay) return;
        const auto n = [&](std::size_t i) { return eq(e.nodes[i]); };
        const double r = resistance_[index];
        switch (e.kind) {
            case ElementKind::Battery: {
                const bool main = static_cast<int>(index) == map_.battery;
                const double emf = main ? condition_.batteryEmf_V.value_or(e.value("emf")) : e.value("emf");
                const bool charging = v[n(0)] - v[n(1)] > emf;
                return law::source(n(0), n(1), emf, charging ? e.value("charge_resistance", r) : r, v, equations_);
            }
            case ElementKind::Alternator:
                if (e.isIn(condition_.state))
                    law::limitedSource(n(0), n(1), e.value("emf"), r, e.value("limit"), v, equations_);
                return;
            case ElementKind::Relay:
                law::source(n(2), n(3), 0, e.value("coil"), v, equations_);
                if (relayClosed_[index] && !open_[index]) law::source(n(0), n(1), 0, r, v, equations_);
                return;
            case ElementKind::Lamp:
                return law::substituteLoad(n(0), n(1), lampOf(e), v, equations_);
            case ElementKind::Diode:
                return law::diode(n(0), n(1), e.value("voltage"), v, equations_);
            case ElementKind::Sensor:
                law::source(n(0), n(2), 0, r, v, equations_);
                return law::divider(n(0), n(1), n(2), e.value("output") / 100.0,
                                    std::max(1.0, e.value("output_resistance", 100.0)), v, equations_);
            case ElementKind::Hall:
                law::constantDraw(n(0), n(2), e.value("current"), hallWorksAbove_V, v, equations_);
                if (e.isIn(condition_.state)) law::source(n(1), n(2), 0, r, v, equations_);
                return;
            case ElementKind::SupplyPort:
                return law::constantDraw(n(0), n(1), draw(e), e.value("brown_out"), v, equations_);
            case ElementKind::Regulator:
                return law::regulator(n(0), n(1), n(2),
                                      {e.value("voltage"), e.value("resistance"), e.value("limit"), e.value("dropout")},
                                      v, equations_);
            case ElementKind::BusPort:
                law::divider(n(2), n(0), n(3), 0.5, r, v, equations_);
                return law::divider(n(2), n(1), n(3), 0.5, r, v, equations_);
            default:
                return law::source(n(0), n(1), 0, r, v, equations_);
        }
    }

    static SubstituteLoad lampOf(const Element& e)
    {
        return {e.id, e.name, LoadKind::Lamp, e.value("voltage"), e.value("power") / e.value("voltage"), 0};
    }

    double draw(const Element& e) const
    {
        const auto own = e.currentIn_A.find(condition_.state);
        return own == e.currentIn_A.end() ? e.value("current") : own->second;
    }

    // F(v) and J(v) of the whole circuit.
    void assemble()
    {
        const law::Voltages v(v_);
        equations_.clear();
        for (int i = 0; i < static_cast<int>(v_.size()); ++i)
            equations_.branch(i, -1, leak_S * v[i], leak_S);
        for (std::size_t i = 0; i < map_.elements.size(); ++i)
            stamp(i, v);
        if (condition_.load) {
            const AppliedLoad& load = *condition_.load;
            law::substituteLoad(eq(load.from), eq(load.to), load.load, v, equations_);
        }
        if (condition_.meter) {
            const Meter& meter = *condition_.meter;
            law::source(eq(meter.red), eq(meter.black), 0, meter.inputResistance_ohm, v, equations_);
        }
        for (const Fault& fault : condition_.faults) {
            if (fault.kind == Fault::Kind::ShortBetween)
                law::source(eq(fault.nodeA), eq(fault.nodeB), 0, std::max(leastResistance_ohm, fault.resistance_ohm), v,
                            equations_);
        }
    }

    double residualNorm() const
    {
        double sum = 0;
        for (const double f : equations_.residual())
            sum += f * f;
        return std::sqrt(sum);
    }

    // Newton's method. Regulators are steep between two flats, where a full step jumps over the steep part and back;
    // such a step is stopped on it (limitJumps), from where the next step is exact. Should that not settle, the step is
    // halved until Kirchhoff's error falls, which always arrives because no law falls.
    bool newton()
    {
        std::vector<double> step;
        assemble();
        for (int k = 0; k < mostNewtonSteps; ++k) {
            const double before = residualNorm();
            if (!equations_.solve(step)) return false;
            const std::vector<double> start = v_;
            double largest = 0;
            for (const double s : step)
                largest = std::max(largest, std::abs(s));
            moveBy(start, step, 1.0);
            if (largest < settled_V) return true;
            if (k < freeNewtonSteps) limitJumps(start);
            assemble();
            for (double share = 0.5; k >= freeNewtonSteps && share > leastShare &&
                                     residualNorm() > before * (1.0 - 1e-4 * share) && before > settled_A;
                 share *= 0.5) {
                moveBy(start, step, share);
                assemble();
            }
        }
        return residualNorm() < 1e-6;
    }

    void moveBy(const std::vector<double>& start, const std::vector<double>& step, double share)
    {
        for (std::size_t i = 0; i < v_.size(); ++i)
            v_[i] = start[i] + share * step[i];
    }

    // A regulator's output that jumped from one flat of its law to the other, or into the steep part from afar, is set
    // to the middle of the steep part.
    void limitJumps(const std::vector<double>& start)
    {
        const law::Voltages before(start), now(v_);
        for (const Element& e : map_.elements) {
            if (e.kind != ElementKind::Regulator) continue;
            const int supply = eq(e.nodes[0]), output = eq(e.nodes[1]), ret = eq(e.nodes[2]);
            const auto wanted = [&](const law::Voltages& v) {
                const double room =
                    std::max(0.0, std::min(e.value("voltage"), v[supply] - v[ret] - e.value("dropout")));
                return (room + v[ret] - v[output]) / e.value("resistance");
            };
            const double limit = e.value("limit");
            const bool jumped =
                (wanted(before) <= 0 && wanted(now) >= limit) || (wanted(before) >= limit && wanted(now) <= 0);
            if (jumped && output >= 0)
                v_[static_cast<std::size_t>(output)] += (wanted(now) - limit / 2) * e.value("resistance");
        }
    }

    // Contacts and drivers follow the voltages just found. True when something changed.
    bool updateRelays()
    {
        bool changed = false;
        std::set<int> alive;
        for (std::size_t i = 0; i < map_.elements.size(); ++i) {
            const Element& e = map_.elements[i];
            if (e.kind == ElementKind::SupplyPort && at(e.nodes[0]) - at(e.nodes[1]) >= e.value("brown_out"))
                alive.insert(static_cast<int>(i));
            if (e.kind != ElementKind::Relay) continue;
            const double coil = std::abs(at(e.nodes[2]) - at(e.nodes[3]));
            const bool closed = relayClosed_[i] ? coil >= e.value("drop_out") : coil >= e.value("pick_up");
            changed = changed || closed != relayClosed_[i];
            relayClosed_[i] = closed;
        }
        changed = changed || alive != portAlive_;
        portAlive_ = std::move(alive);
        return changed;
    }

    OperatingPoint answer(bool chatters) const
    {
        OperatingPoint point;
        point.chatters_ = chatters;
        point.potentials_.resize(map_.nodes.size());
        for (std::size_t i = 0; i < map_.nodes.size(); ++i)
            point.potentials_[i] = at(static_cast<int>(i));
        point.currents_.assign(map_.elements.size(), 0.0);
        for (std::size_t i = 0; i < map_.elements.size(); ++i)
            point.currents_[i] = currentOf(i);
        if (condition_.load)
            point.loadCurrent_ = condition_.load->load.current_A(at(condition_.load->from) - at(condition_.load->to));
        for (std::size_t i = 0; i < map_.elements.size(); ++i)
            point.closed_.push_back(isClosed(i));
        point.floating_ = floatingNodes();
        return point;
    }

    double currentOf(std::size_t index) const
    {
        const Element& e = map_.elements[index];
        const ElementKindSpec& spec = specOf(e.kind);
        if (!isClosed(index)) return 0;
        const double u = at(e.nodes[0]) - at(e.nodes[1]);
        if (e.kind == ElementKind::Battery) {
            const bool main = static_cast<int>(index) == map_.battery;
            const double over = u - (main ? condition_.batteryEmf_V.value_or(e.value("emf")) : e.value("emf"));
            const double r = resistance_[index];
            return over / (over > 0 ? e.value("charge_resistance", r) : r);
        }
        if (e.kind == ElementKind::Lamp) return lampOf(e).current_A(u);
        if (e.kind == ElementKind::SupplyPort) return u <= 0 ? 0 : draw(e) * std::min(1.0, u / e.value("brown_out"));
        if (e.kind == ElementKind::Sensor || e.kind == ElementKind::Hall || e.kind == ElementKind::Diode) return 0;
        return spec.conducts || spec.isLoad || e.kind == ElementKind::LowSideDriver ||
                       e.kind == ElementKind::HighSideDriver
                   ? u / resistance_[index]
                   : 0;
    }

    // Floating: not reachable from battery minus through anything that conducts.
    std::vector<bool> floatingNodes() const
    {
        std::vector<std::vector<int>> next(map_.nodes.size());
        const auto join = [&](int a, int b) {
            next[static_cast<std::size_t>(a)].push_back(b);
            next[static_cast<std::size_t>(b)].push_back(a);
        };
        for (std::size_t i = 0; i < map_.elements.size(); ++i)
            joinConducting(i, join);
        if (condition_.load) join(condition_.load->from, condition_.load->to);
        for (const Fault& fault : condition_.faults) {
            if (fault.kind == Fault::Kind::ShortBetween) join(fault.nodeA, fault.nodeB);
        }
        std::vector<bool> floating(map_.nodes.size(), true);
        std::vector<int> stack{reference_};
        floating[static_cast<std::size_t>(reference_)] = false;
        while (!stack.empty()) {
            const int node = stack.back();
            stack.pop_back();
            for (const int to : next[static_cast<std::size_t>(node)]) {
                if (!floating[static_cast<std::size_t>(to)]) continue;
                floating[static_cast<std::size_t>(to)] = false;
                stack.push_back(to);
            }
        }
        return floating;
    }

    template <class Join>
    void joinConducting(std::size_t i, const Join& join) const
    {
        const Element& e = map_.elements[i];
        if (e.kind == ElementKind::Relay) {
            join(e.nodes[2], e.nodes[3]);
            if (isClosed(i)) join(e.nodes[0], e.nodes[1]);
            return;
        }
        if (!isClosed(i)) return;
        for (std::size_t k = 1; k < e.nodes.size(); ++k)
            join(e.nodes[0], e.nodes[k]);
    }

    const Map& map_;
    const Condition& condition_;
    int reference_;
    Equations equations_;
    std::vector<double> v_;
    std::vector<bool> open_;
    std::vector<double> added_;
    std::vector<double> resistance_;  // of each element as it stands, added resistance included
    std::vector<bool> relayClosed_;
    std::set<int> portAlive_;
};

double OperatingPoint::voltage(int red, int black) const
{
    return potential(red) - potential(black);
}

double OperatingPoint::potential(int node) const
{
    return potentials_[static_cast<std::size_t>(node)];
}

double OperatingPoint::currentThrough(int element) const
{
    return currents_[static_cast<std::size_t>(element)];
}

bool OperatingPoint::isClosed(int element) const
{
    return closed_[static_cast<std::size_t>(element)];
}

bool OperatingPoint::isFloating(int node) const
{
    return floating_[static_cast<std::size_t>(node)];
}

namespace {

// One entry of a journal asks for the same few conditions again and again: for the judgement, the walk, the step and
// the picture. The last solutions are kept per thread; a map is known by its document, which holds all of it.
struct Kept {
    std::size_t document = 0;
    std::size_t length = 0;
    Condition condition;
    OperatingPoint point;
};

constexpr std::size_t mostKept = 12;

}  // namespace

Result<OperatingPoint> operatingPoint(const Map& map, const Condition& condition)
{
    thread_local std::vector<Kept> kept;
    const std::size_t document = std::hash<std::string>{}(map.document);
    for (const Kept& k : kept) {
        if (k.document == document && k.length == map.document.size() && k.condition == condition) return k.point;
    }
    auto point = Solver(map, condition).run();
    if (!point) return point;
    if (kept.size() >= mostKept) kept.erase(kept.begin());
    kept.push_back({document, map.document.size(), condition, *point});
    return point;
}

}  // namespace ilvek
