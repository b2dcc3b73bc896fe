// A relay (W15): what its contact is fed with, its coil and what drives it, standing in for the driver, the click, and
// the drop across the contact under load.
#include "machine/paths.h"
#include "procedures/flow.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

bool joined(const Map& map, int a, int b)
{
    return a == b || conductorPath(map, a, b).has_value();
}

class RelayTest {
public:
    RelayTest(const Bay& bay, const std::string& subject)
        : flow_(bay, "relay", subject), index_(bay.map.elementIndex(subject)), relay_(bay.map.element(index_))
    {
        findDrive();
        state_ = onState();
    }

    Procedure follow()
    {
        flow_.caution({"relay.caution.socket", {}});
        contactFeed();
        coilFeed();
        control();
        output();
        if (!flow_.hasEnded()) drop();
        Procedure out = flow_.done();
        if (!out.ending && !out.next())
            out.ending = Ending{Ending::Kind::Sound, {"relay.end.sound", relay()}, Grade::ShownDirectly, {}};
        return out;
    }

private:
    std::vector<std::pair<std::string, std::string>> relay() const { return {{"relay", relay_.id}}; }
    std::vector<std::pair<std::string, std::string>> with(const Seen& seen) const
    {
        auto of = relay();
        of.emplace_back("figure", seen.figure());
        of.emplace_back("terminal", drive_ >= 0 ? flow_.map().terminal(drive_).id : "");
        return of;
    }

    // The module's drive on the coil, and whether it switches the ground side.
    void findDrive()
    {
        const Map& map = flow_.map();
        for (const int end : {3, 2}) {
            for (const int t : map.moduleTerminals()) {
                const Terminal& terminal = map.terminal(t);
                if (terminal.a < 0 || !terminal.role || groupOf(*terminal.role) != Group::Drives) continue;
                if (!joined(map, terminal.a, relay_.nodes[static_cast<std::size_t>(end)])) continue;
                drive_ = t, controlEnd_ = end;
                isLowSide_ = *terminal.role != Role::HighSideDrive;
                return;
            }
        }
        // Not the module's: the end that leads to battery minus is the ground, the other one is switched.
        isLowSide_ =
            joined(map, relay_.nodes[2], map.batteryPlus()) && !joined(map, relay_.nodes[3], map.batteryMinus());
        controlEnd_ = isLowSide_ == joined(map, relay_.nodes[2], map.batteryPlus()) ? 3 : 2;
    }

    int node(int which) const { return relay_.nodes[static_cast<std::size_t>(which)]; }
    int fedEnd() const { return controlEnd_ == 3 ? 2 : 3; }

    // In which its driver is on, else in which what it feeds must be there.
    int onState() const
    {
        const Map& map = flow_.map();
        const int driven = drive_ >= 0 ? drivenState(map, drive_) : -1;
        if (driven >= 0) return driven;
        for (const int t : map.moduleTerminals()) {
            if (map.terminal(t).role == Role::RelayFedSupply && passesThrough(map, t, index_)) return stateFor(map, t);
        }
        return map.states.size() > 1 ? 1 : 0;
    }

    Step at(int which) const { return placed(flow_.map(), node(which), flow_.map().batteryMinus(), state_); }

    void contactFeed()
    {
        const Seen seen = flow_.reading("contact-feed", {"relay.contact-feed", relay()}, at(0));
        if (!seen) return;
        if (isThere(flow_.bay(), seen)) return flow_.says({"relay.contact-feed.live", with(seen)});
        flow_.fails({"relay.contact-feed.dead", with(seen)});
        flow_.end(Ending::Kind::Elsewhere, {"relay.end.contact-feed", with(seen)}, {relay_.id});
    }

    void coilFeed()
    {
        const Seen seen =
            flow_.reading("coil-feed", {isLowSide_ ? "relay.coil-feed" : "relay.coil-ground", relay()}, at(fedEnd()));
        if (!seen) return;
        const bool right = isLowSide_ ? isThere(flow_.bay(), seen) : isAway(flow_.bay(), seen);
        if (right) return flow_.says({isLowSide_ ? "relay.coil-feed.live" : "relay.coil-ground.right", with(seen)});
        flow_.fails({isLowSide_ ? "relay.coil-feed.dead" : "relay.coil-ground.lifted", with(seen)});
        flow_.end(Ending::Kind::Elsewhere, {isLowSide_ ? "relay.end.coil-feed" : "relay.end.coil-ground", with(seen)},
                  {relay_.id});
    }

    bool isDriven(const Seen& seen) const
    {
        return isLowSide_ ? isAway(flow_.bay(), seen) : isThere(flow_.bay(), seen);
    }

    void control()
    {
        const Seen plugged = flow_.reading(
            "control", {isLowSide_ ? "relay.control.low" : "relay.control.high", relay()}, at(controlEnd_));
        if (!plugged) return;
        isDriven_ = isDriven(plugged);
        if (*isDriven_) return flow_.says({"relay.control.there", with(plugged)});
        flow_.says({"relay.control.missing", with(plugged)});
        if (drive_ < 0) return;
        // At the module, with the relay still in: a wire that the coil loads loses what the empty socket shows (T2).
        const Map& map = flow_.map();
        const Seen module = flow_.reading("at-module", {"relay.at-module", with(plugged)},
                                          placed(map, map.terminal(drive_).a, map.batteryMinus(), state_));
        if (module)
            flow_.says({isDriven(module)   ? "relay.at-module.drives"
                        : isMidway(module) ? "relay.at-module.weak"
                                           : "relay.at-module.missing",
                        with(module)});
        Step empty = at(controlEnd_);
        empty.removed = {relay_.id};
        const Seen socket = flow_.reading("socket", {"relay.socket", relay()}, empty);
        if (socket) flow_.says({"relay.socket.says", with(socket)});
        if (module && isDriven(module))
            flow_.end(Ending::Kind::Found, {"relay.end.control-wire", with(module)},
                      {map.terminal(drive_).id, relay_.id});
    }

    bool isMidway(const Seen& seen) const { return !isThere(flow_.bay(), seen) && !isAway(flow_.bay(), seen); }

    // A fused lead in place of the driver; then the contact passes what it is fed with, or it does not.
    void output()
    {
        const Map& map = flow_.map();
        if (isDriven_.value_or(false)) {
            const Seen fed = flow_.reading("output", {"relay.output", relay()}, at(1));
            if (fed) judgeOutput(fed, true, at(1));
            return;
        }
        Step standIn = at(1);
        const int from = isLowSide_ ? map.batteryMinus() : map.batteryPlus();
        standIn.jumpers = {{map.node(from), map.node(node(controlEnd_)), trade::fusedLead_A}};
        const Seen fed =
            flow_.reading("stand-in", {isLowSide_ ? "relay.stand-in.low" : "relay.stand-in.high", relay()}, standIn);
        flow_.statement("click", {"relay.click", relay()});
        if (fed) judgeOutput(fed, false, standIn);
    }

    // `driven`: the set-up in which its coil has its current.
    void judgeOutput(const Seen& fed, bool byModule, Step driven)
    {
        if (!isThere(flow_.bay(), fed)) {
            // Read without the coil's current its feed looks whole through any resistance (T2).
            driven.red = flow_.map().node(node(2)), driven.black = flow_.map().node(node(3));
            const Seen coil = flow_.reading("coil", {"relay.coil", relay()}, driven);
            if (!coil) return;
            if (coil.volts() < trade::pullsInFrom * batteryNow_V(flow_.bay())) {
                flow_.fails({"relay.coil.starved", with(coil)});
                return flow_.end(Ending::Kind::Elsewhere, {"relay.end.starved", with(coil)}, {relay_.id});
            }
            flow_.says({"relay.coil.fed", with(coil)});
            flow_.end(Ending::Kind::Found, {byModule ? "relay.end.contact" : "relay.end.relay", with(fed)},
                      {relay_.id});
            return;
        }
        if (!byModule && isDriven_)
            flow_.end(drive_ >= 0 ? Ending::Kind::Elsewhere : Ending::Kind::Found,
                      {drive_ >= 0 ? "relay.end.not-driven" : "relay.end.not-switched", with(fed)}, {relay_.id},
                      Grade::ByElimination);
    }

    void drop()
    {
        Step across = placed(flow_.map(), node(0), node(1), state_);
        const Seen seen = flow_.reading("drop", {"relay.drop", relay()}, across);
        if (!seen) return;
        auto of = with(seen);
        of.emplace_back("limit", voltsText(trade::contactDropAtMost_V));
        if (seen.volts() <= trade::contactDropAtMost_V) return flow_.says({"relay.drop.right", of});
        flow_.fails({"relay.drop.high", of});
        flow_.end(Ending::Kind::Found, {"relay.end.drop", of}, {relay_.id});
    }

    Flow flow_;
    int index_;
    const Element& relay_;
    int drive_ = -1, controlEnd_ = 3, state_ = 0;
    bool isLowSide_ = true;
    std::optional<bool> isDriven_;
};

}  // namespace

std::vector<std::string> relaysOf(const Map& map)
{
    std::vector<std::string> out;
    for (const Element& e : map.elements) {
        if (e.kind == ElementKind::Relay && e.place != "inside the module") out.push_back(e.id);
    }
    return out;
}

Procedure relayOnItsOwn(const Bay& bay, const std::string& subject)
{
    return RelayTest(bay, subject).follow();
}

}  // namespace ilvek
