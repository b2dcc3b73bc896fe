// A wire on its own (W25): both ends free and proven to go nowhere else, ohms end to end, ohms to ground as a step of
// its own (T9), then a lamp's current through it.
#include <cmath>

#include "choice/hunt.h"
#include "machine/paths.h"
#include "procedures/flow.h"
#include "proving/lamp.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

class WireTest {
public:
    WireTest(const Bay& bay, const std::string& subject)
        : flow_(bay, "wire", subject), wire_(bay.map.elementIndex(subject)), way_(isolatedWire(bay.map, wire_))
    {
    }

    Procedure follow()
    {
        flow_.caution({"wire.caution.module", of()});
        flow_.caution({"wire.caution.fused", of()});
        flow_.statement("goes-nowhere", {"wire.goes-nowhere", of()});
        ohms();
        lamp();
        // An ohmmeter's say stands only where no current was tried.
        if (tooHigh_) flow_.end(Ending::Kind::Found, *tooHigh_, {flow_.map().element(wire_).id});
        return flow_.done();
    }

private:
    std::vector<std::pair<std::string, std::string>> of() const
    {
        const Map& map = flow_.map();
        const Element& e = map.element(wire_);
        std::string free;
        const auto add = [&](const std::string& name) { free += (free.empty() ? "" : ", ") + name; };
        for (const int c : way_->setup.unplugged)
            add(map.connectors[static_cast<std::size_t>(c)].id);
        for (const int p : way_->setup.removed)
            add(nameOf(map, p));
        return {{"from", placeOf(map, e.nodes[0])}, {"to", placeOf(map, e.nodes[1])}, {"free", free}};
    }

    // Both ends free.
    Step freed(int red, int black, int state) const
    {
        const Map& map = flow_.map();
        Step step = placed(map, red, black, state);
        for (const int c : way_->setup.unplugged)
            step.unplugged.push_back(map.connectors[static_cast<std::size_t>(c)].id);
        for (const int p : way_->setup.removed)
            step.removed.push_back(map.element(p).id);
        return step;
    }

    void ohms()
    {
        const Map& map = flow_.map();
        const Element& e = map.element(wire_);
        const Seen through = flow_.ohms("through", {"wire.through", of()}, freed(e.nodes[0], e.nodes[1], 0));
        if (through) {
            const double r = through.reading->value.overLimit ? INFINITY : partOhms(*through.reading);
            auto says = with(through);
            if (r > trade::endToEndAtMost_ohm) {
                flow_.fails({"wire.through.high", says});
                tooHigh_ = Fact{std::isinf(r) ? "wire.end.open" : "wire.end.high", says};
            } else {
                flow_.says({"wire.through.low", says});
            }
        }
        const Seen ground = flow_.ohms("ground", {"wire.ground", of()}, freed(e.nodes[0], map.batteryMinus(), 0));
        if (!ground) return;
        const bool clear = ground.reading->value.overLimit || ground.reading->value.value >= trade::toGroundAtLeast_ohm;
        if (clear) return flow_.says({"wire.ground.clear", with(ground)});
        flow_.fails({"wire.ground.leaks", with(ground)});
        flow_.end(Ending::Kind::Found, {"wire.end.ground", with(ground)}, {e.id});
    }

    std::vector<std::pair<std::string, std::string>> with(const Seen& seen) const
    {
        auto says = of();
        says.emplace_back("figure", seen.figure());
        return says;
    }

    void lamp()
    {
        const Map& map = flow_.map();
        IsolatedWire way;
        way.state = way_->setup.state;
        way.unplugged = {way_->setup.unplugged.begin(), way_->setup.unplugged.end()};
        way.parts = {way_->setup.removed.begin(), way_->setup.removed.end()};
        way.lamp = way_->setup.load->load;
        way.fuse_A = way_->setup.jumpers.front().rating_A;
        const Step step = isolatedWireStep(map, wire_, way);
        const Element& e = map.element(wire_);
        const Seen seen = flow_.reading("lamp", {"wire.lamp", of()}, step, [&](const Reading& r) {
            // Fed at either end, the lamp at the other.
            const auto isEnd = [&](const std::string& n) {
                return n == map.node(e.nodes[0]) || n == map.node(e.nodes[1]);
            };
            const bool fed = std::any_of(r.jumpers.begin(), r.jumpers.end(),
                                         [&](const FusedLead& l) { return isEnd(l.to) || isEnd(l.from); });
            return fed && (isEnd(r.loadFrom) || isEnd(r.loadTo));
        });
        if (seen) judgeLamp(seen);
    }

    void judgeLamp(const Seen& seen)
    {
        const Map& map = flow_.map();
        const auto load = findLoad(map.systemVoltage_V, seen.reading->load);
        auto says = with(seen);
        if (seen.reading->shows || !load) {
            const bool bright = seen.reading->shows == Shown::Bright;
            if (!bright) {
                flow_.fails({"wire.lamp.dark", says});
                return flow_.end(Ending::Kind::Found, {"wire.end.resistance", says}, {map.element(wire_).id});
            }
            flow_.says({"wire.lamp.bright", says});
            return flow_.end(Ending::Kind::Sound, {"wire.end.lamp", says});
        }
        // R = U/I, with U = U_battery − U_lamp and I by the law of the lamp at the volts across it.
        // Across the wire itself the reading is what it loses.
        const double battery = batteryNow_V(flow_.bay());
        const bool alongIt = !isGround(seen.reading->red) && !isGround(seen.reading->black);
        const double lost = alongIt ? seen.volts() : std::max(0.0, battery - seen.volts());
        const double current = seen.reading->measuredCurrent_A ? std::abs(*seen.reading->measuredCurrent_A)
                                                               : load->current_A(std::max(0.0, battery - lost));
        says.emplace_back("current", ampsText(current));
        says.emplace_back("lost", voltsText(lost));
        says.emplace_back("ohms", ohmsOfText(current > 0 ? lost / current : 0));
        if (const auto stated = realCurrent_A()) {
            says.emplace_back("own", ampsText(*stated));
            says.emplace_back("share", formatShare(std::min(1.0, current / *stated)));
            says.emplace_back("drop", voltsText(current > 0 ? lost / current * *stated : 0));
        }
        // Too much is what it would lose at its own current; where nobody stated that, what no such wire may have.
        const auto own = realCurrent_A();
        const bool knownOwn = own.has_value();
        const double resistance = current > 0 ? lost / current : 0;
        const double atOwn = knownOwn ? resistance * *own : 0;
        if (!knownOwn && lost > trade::lampLossAtMost * battery && resistance < trade::muchForAWire_ohm) {
            flow_.undecided({"wire.lamp.carries", says});
            return flow_.end(Ending::Kind::Open, {"wire.end.unsure", says}, {map.element(wire_).id});
        }
        if (knownOwn ? atOwn > trade::lampLossAtMost * battery : lost > trade::lampLossAtMost * battery) {
            flow_.fails({"wire.lamp.loses", says});
            return flow_.end(Ending::Kind::Found, {"wire.end.loses", says}, {map.element(wire_).id});
        }
        flow_.says({knownOwn ? "wire.lamp.share" : "wire.lamp.carries", says});
        flow_.end(Ending::Kind::Sound, {"wire.end.carries", says});
    }

    bool isGround(const std::string& node) const { return node == flow_.map().node(flow_.map().batteryMinus()); }

    // What the circuit of the wire carries in service, where somebody stated it.
    std::optional<double> realCurrent_A() const
    {
        const Map& map = flow_.map();
        for (const int t : map.moduleTerminals()) {
            const Terminal& terminal = map.terminal(t);
            if (terminal.a < 0 || !map.isCurrentStated(terminal) || !terminal.current_A) continue;
            const Element& e = map.element(wire_);
            if (e.nodes[0] == terminal.a || e.nodes[1] == terminal.a) return *terminal.current_A;
        }
        return std::nullopt;
    }

    Flow flow_;
    int wire_;
    std::optional<Candidate> way_;
    std::optional<Fact> tooHigh_;
};

}  // namespace

// Those whose both ends can be freed.
std::vector<std::string> wiresOf(const Map& map)
{
    std::vector<std::string> out;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (e.kind == ElementKind::Wire && e.place != "inside the module" && isolatedWire(map, static_cast<int>(i)))
            out.push_back(e.id);
    }
    return out;
}

Procedure wireOnItsOwn(const Bay& bay, const std::string& subject)
{
    return WireTest(bay, subject).follow();
}

}  // namespace ilvek
