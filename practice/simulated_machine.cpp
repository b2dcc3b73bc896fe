#include "practice/simulated_machine.h"

#include <algorithm>
#include <cmath>

#include "circuit/operating_point.h"
#include "machine/connector_face.h"
#include "prediction/predictions.h"
#include "proving/judge.h"

namespace ilvek::practice {

Quantity asDisplayed(double value, Unit unit)
{
    const double magnitude = std::abs(value);
    double perUnit = 1e4;
    for (double range = 0.6; magnitude >= range && perUnit > 1e-6; range *= 10)
        perUnit /= 10;
    return {std::round(value * perUnit) / perUnit, unit, false, 1.0 / perUnit};
}

namespace {

std::vector<std::string> wiresAt(const Map& map, int node)
{
    std::vector<std::string> colours;
    for (const Element& e : map.elements) {
        if (e.kind == ElementKind::Wire && std::find(e.nodes.begin(), e.nodes.end(), node) != e.nodes.end())
            colours.push_back(e.colour.base.empty() ? e.id : e.colour.words());
    }
    std::sort(colours.begin(), colours.end());
    return colours;
}

}  // namespace

SimulatedMachine::SimulatedMachine(const Map& map, std::vector<Fault> faults, Timing timing, Imperfection imperfection)
    : map_(map), faults_(std::move(faults)), timing_(timing), imperfection_(imperfection), random_(imperfection.seed)
{
    if (imperfection_.none) return;
    std::normal_distribution<double> normal;
    gain_ = 1 + imperfection_.gain * normal(random_);
    batteryOffset_V_ = imperfection_.battery_V * normal(random_);
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const double tolerance = toleranceOf(map, static_cast<int>(i));
        const double factor = std::exp(imperfection_.parts * tolerance * normal(random_));
        if (tolerance > 0) spread_.push_back({Fault::Kind::OutOfValue, static_cast<int>(i), -1, -1, 0, factor});
    }
}

Result<Quantity> SimulatedMachine::read(const Step& step, double seconds)
{
    int red = map_.nodeIndex(step.red);
    const int black = map_.nodeIndex(step.black);
    auto set = conditionOf(map_, step, step.test);
    if (!set || red < 0 || black < 0) return fail(step.title, "the step names a place that the map does not have");
    ++made_;
    if (imperfection_.wrongNeighbour > 0 && std::bernoulli_distribution(imperfection_.wrongNeighbour)(random_)) {
        const int beside = neighbourOf(red);
        if (beside >= 0) red = beside, misread_.insert(made_);
    }
    Condition condition = std::move(*set);
    const Unit unit = unitAsked(step.test);
    condition.meter = Meter{red, black, 10e6, unit == Unit::Ohm ? Meter::Mode::Ohms : Meter::Mode::Volts};
    condition.faults = spread_;
    std::bernoulli_distribution present(timing_.presentShare);
    const bool isThere = seconds >= timing_.absentFor_s && (timing_.presentShare >= 1 || present(random_));
    const std::vector<Fault>& there = isThere ? faults_ : timing_.meanwhile;
    condition.faults.insert(condition.faults.end(), there.begin(), there.end());
    if (!imperfection_.none)
        condition.batteryEmf_V =
            map_.element(map_.battery).value("emf") + batteryOffset_V_ - imperfection_.drift_V_per_min * seconds / 60;
    const auto display = displayOf(map_, condition);
    if (!display) return tl::unexpected(display.error());
    if (display->overLimit) return Quantity{0, unit, true, 0};
    double value = display->value;
    if (!imperfection_.none) {
        std::normal_distribution<double> normal;
        value = gain_ * value + (unit == Unit::Volt ? imperfection_.tip_V * normal(random_) : 0.0);
    }
    return asDisplayed(value, unit);
}

// The wire side of a cavity beside it; −1 where none is wired.
int SimulatedMachine::neighbourOf(int node)
{
    std::vector<int> others;
    for (std::size_t t = 0; t < map_.terminals.size(); ++t) {
        if (map_.terminals[t].a != node) continue;
        for (const int beside : terminalsBeside(map_, static_cast<int>(t))) {
            if (map_.terminal(beside).a >= 0) others.push_back(map_.terminal(beside).a);
        }
    }
    return others.empty() ? -1 : others[random_() % others.size()];
}

double SimulatedMachine::chanceOfDamage(const Terminal& t) const
{
    double chance = 0.02;
    const auto is = [&](int node) { return node >= 0 && (node == t.a || node == t.b); };
    for (const Fault& f : faults_) {
        if (f.kind == Fault::Kind::ShortBetween && (is(f.nodeA) || is(f.nodeB))) chance = std::max(chance, 0.25);
        if (f.element < 0) continue;
        const Element& e = map_.element(f.element);
        if (f.element == t.contact) chance = std::max(chance, 0.5);
        if (e.kind == ElementKind::Wire && (is(e.nodes[0]) || is(e.nodes[1]))) chance = std::max(chance, 0.12);
    }
    return chance;
}

Found SimulatedMachine::look(const Map& drawn, int terminal)
{
    const Terminal& t = map_.terminal(terminal);
    const auto there = wiresAt(map_, t.a), wanted = wiresAt(drawn, drawn.terminal(terminal).a);
    if (t.asFound == AsFound::Empty || (there.empty() && !wanted.empty())) return Found::Empty;
    if (there != wanted) return Found::OtherWire;
    const double chance = chanceOfDamage(t);
    const bool damaged = imperfection_.none ? chance >= 0.5 : std::bernoulli_distribution(chance)(random_);
    return damaged ? Found::Damaged : Found::AsDrawn;
}

}  // namespace ilvek::practice
