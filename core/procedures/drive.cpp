// A drive and what hangs on it (W26, W27): feed side and control side of the part, off and commanded, at the part and
// at the module, then the part's own ohms. Each fault has its own row.
//
//   low side          off: feed  off: control  on: control  on: at the module
//   sound             battery    battery       ground       ground
//   feed open         ·
//   winding open      battery    ·                                     unplugged it shows OL
//   control open      battery    battery       battery      ground
//   not driven        battery    battery       battery      battery
//   stuck on          battery    ground                                freed at the module it rises
//   control to ground battery    ground                                freed at the module it stays
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "machine/paths.h"
#include "procedures/work_cautions.h"
#include "proving/part_ohms.h"
#include "quantity/trade.h"

namespace ilvek {

std::vector<std::string> drivesOf(const Map& map);  // shut_down.cpp

namespace {

constexpr double farLow = 0.6, farHigh = 1.5;  // of its stated ohms: no temperature of a machine does that
constexpr double lostShare = 0.1;              // of the battery, in the wire between module and part
constexpr double groundShare = 0.05;           // of the battery, that a ground side may lose under its own load

constexpr double warmShare = 0.6, coldShare = 1.15;  // of U / R, that a warm winding and its wires leave
constexpr double dutySteps[] = {0.25, 0.5, 0.75};
constexpr double dutyWithin = 0.12;  // of what full duty gives

struct Driven {
    int part = -1, driver = -1;
    std::size_t control = 1;  // which end of the part leads to the module
};

// The one part between the terminal and its other end; a relay's coil has a procedure of its own.
Driven drivenBy(const Map& map, int terminal)
{
    const Terminal& t = map.terminal(terminal);
    Driven out;
    const auto nodes = joinedTo(map, t.a);
    int parts = 0;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if ((e.kind == ElementKind::LowSideDriver && e.nodes[0] == t.b) ||
            (e.kind == ElementKind::HighSideDriver && e.nodes[1] == t.b))
            out.driver = static_cast<int>(i);
        if (e.place == "inside the module" || !specOf(e.kind).isLoad || e.nodes.size() != 2) continue;
        for (const std::size_t end : {0U, 1U}) {
            if (!nodes.contains(e.nodes[end])) continue;
            out.part = static_cast<int>(i), out.control = end;
            ++parts;
        }
    }
    if (parts != 1) out.part = -1;
    return out;
}

class DriveTest {
public:
    DriveTest(const Bay& bay, const std::string& subject)
        : flow_(bay, "drive", subject),
          terminal_(bay.map.terminalIndex(subject)),
          driven_(drivenBy(bay.map, terminal_)),
          part_(bay.map.element(driven_.part)),
          isLow_(bay.map.element(driven_.driver).kind == ElementKind::LowSideDriver)
    {
    }

    Procedure follow()
    {
        flow_.caution({"drive.caution.moves", of()});
        if (part_.kind == ElementKind::Winding) flow_.caution({"drive.caution.spike", of()});
        flow_.caution({"drive.caution.command", of()});
        addWorkCautions(flow_, terminal_, driven_.part);
        truthTable();
        isLow_ ? lowSide() : highSide();
        Procedure out = flow_.done();
        if (fails_) out.calledBy = Fact{"drive.called", of()};
        return out;
    }

private:
    std::vector<std::pair<std::string, std::string>> of() const
    {
        return {{"terminal", flow_.map().terminal(terminal_).id},
                {"part", nameOf(flow_.map(), driven_.part)},
                {"module", flow_.map().module}};
    }

    std::vector<std::pair<std::string, std::string>> with(const Seen& seen) const
    {
        auto out = of();
        out.emplace_back("figure", seen.figure());
        return out;
    }

    void truthTable()
    {
        const std::vector<Fact> columns{{"grid.off", {}}, {"grid.on", {}}};
        const Fact module{"grid.module", of()};
        if (isLow_)
            flow_.sideBySide({columns,
                              {{"grid.feed", of()}, {"grid.control", of()}, module},
                              {{"off-feed", "on-feed"}, {"off-control", "on-control"}, {"", "on-module"}}});
        else
            flow_.sideBySide({columns,
                              {{"grid.control", of()}, {"grid.ground", of()}, module},
                              {{"off-control", "on-control"}, {"off-ground", "on-ground"}, {"", "on-module"}}});
    }

    int control() const { return part_.nodes[driven_.control]; }
    int other() const { return part_.nodes[1 - driven_.control]; }
    int pin() const { return flow_.map().terminal(terminal_).a; }

    bool isOnIn(int state) const { return flow_.map().element(driven_.driver).isIn(state); }

    // A state of the map in which it is so, else the command is told.
    Step at(int node, bool on) const
    {
        const Map& map = flow_.map();
        const int driven = drivenState(map, terminal_), rest = stateFor(map, terminal_);
        const int state = on && driven >= 0 ? driven : rest;
        Step step = placed(map, node, map.batteryMinus(), state);
        if (isOnIn(state) != on) step.commands = {{map.element(driven_.driver).id, on ? 1.0 : 0.0}};
        return step;
    }

    bool isCommanded(const SetUp& setUp) const
    {
        for (const Command& c : setUp.commands) {
            if (c.element == flow_.map().element(driven_.driver).id) return c.share > 0.5;
        }
        const int state = stateOf(flow_.map(), setUp);
        return state >= 0 && isOnIn(state);
    }

    // Any reading there with the drive so and all plugged in; a state in which the drive is off may be any of them.
    Seen row(const std::string& id, int node, bool on)
    {
        const Step step = at(node, on);
        return flow_.reading(id, {"drive." + id, of()}, step, [&, on](const Reading& r) {
            return isVoltageTest(r.test) && (r.red == step.red || r.black == step.red) &&
                   (r.red == step.black || r.black == step.black) && r.unplugged.empty() && r.removed.empty() &&
                   r.unpinned.empty() && r.jumpers.empty() && r.load.empty() && isCommanded(r) == on &&
                   (on || stateOf(flow_.map(), r) == flow_.map().stateIndex(step.state));
        });
    }

    // A lamp in place of the part's other half, the part unplugged or not: from ground to its feed side, and from a
    // supply to its control side while it is commanded. Both burn: the part. One only: the other half.
    Seen lamp(int from, int to, bool commanded) const
    {
        const Map& map = flow_.map();
        return flow_.latest([&](const Reading& r) {
            const int a = map.nodeIndex(r.loadFrom), b = map.nodeIndex(r.loadTo);
            return !r.load.empty() && r.unpinned.empty() && r.jumpers.empty() &&
                   ((a == from && b == to) || (a == to && b == from)) && (!commanded || isCommanded(r));
        });
    }

    bool burns(const Seen& seen, int node) const
    {
        if (seen.reading->shows) return *seen.reading->shows == Shown::Bright;
        const Map& map = flow_.map();
        // Read at the end that is fed or pulled down, or across the lamp.
        const bool across =
            !(map.nodeIndex(seen.reading->red) == node && map.nodeIndex(seen.reading->black) == map.batteryMinus());
        return across || node == other() ? isThere(flow_.bay(), seen) : isAway(flow_.bay(), seen);
    }

    // False: the two lamps were not tried.
    bool lamps()
    {
        const Map& map = flow_.map();
        const Seen feed = lamp(other(), map.batteryMinus(), false), pulled = lamp(map.batteryPlus(), control(), true);
        if (!feed || !pulled) return false;
        Stage& stage = flow_.stage("lamps", {"drive.lamps", of()}, Stage::State::Shown);
        stage.entries = {feed.reading->id, pulled.reading->id};
        const bool feeds = burns(feed, other()), pulls = burns(pulled, control());
        flow_.says({feeds && pulls ? "drive.lamps.both"
                    : feeds        ? "drive.lamps.feed"
                    : pulls        ? "drive.lamps.control"
                                   : "drive.lamps.none",
                    of()});
        if (feeds && pulls) {
            ohms();
            return true;
        }
        fails_ = true;
        if (!feeds) flow_.end(Ending::Kind::Elsewhere, {"drive.end.feed", of()}, {part_.id});
        return !feeds;
    }

    void lowSide()
    {
        if (lamps()) return;
        const Seen feed = row("off-feed", other(), false);
        if (!feed) return;
        if (!isThere(flow_.bay(), feed)) {
            fails_ = true;
            flow_.fails({"drive.feed.away", with(feed)});
            return flow_.end(Ending::Kind::Elsewhere, {"drive.end.feed", with(feed)}, {part_.id});
        }
        flow_.says({"drive.feed.there", with(feed)});
        const Seen off = row("off-control", control(), false);
        if (!off) return;
        if (!isThere(flow_.bay(), off) && !isElectronic(flow_.map(), part_)) return heldDown(off);
        flow_.says({isThere(flow_.bay(), off) ? "drive.off.lifted" : "drive.off.electronic", with(off)});
        const Seen on = row("on-control", control(), true);
        if (!on) return;
        if (!isAway(flow_.bay(), on)) return notPulled(on);
        flow_.says({"drive.on.pulled", with(on)});
        const Seen loaded = row("on-feed", other(), true);
        if (!loaded) return;
        if (!isThere(flow_.bay(), loaded)) {
            fails_ = true;
            flow_.fails({"drive.feed.weak", with(loaded)});
            return flow_.end(Ending::Kind::Elsewhere, {"drive.end.feed-weak", with(loaded)}, {part_.id});
        }
        flow_.says({"drive.feed.holds", with(loaded)});
        ohms();
    }

    // Nothing lifts the control side, or something holds it down.
    void heldDown(const Seen& off)
    {
        fails_ = true;
        flow_.fails({"drive.off.down", with(off)});
        const std::optional<Seen> part = partOhms();
        if (!part) return;
        if (part->reading->value.overLimit)
            return flow_.end(Ending::Kind::Found, {"drive.end.winding", with(*part)}, {part_.id});
        Step free = at(control(), false);
        free.unpinned = {flow_.map().terminal(terminal_).id};
        const Seen freed = flow_.reading("freed", {"drive.freed", of()}, free);
        if (!freed) return;
        if (isThere(flow_.bay(), freed)) {
            flow_.says({"drive.freed.rises", with(freed)});
            flow_.end(Ending::Kind::Found, {"drive.end.stuck", with(freed)}, driverPlaces());
        } else {
            flow_.says({"drive.freed.stays", with(freed)});
            flow_.end(Ending::Kind::Found, {"drive.end.grounded", with(freed)}, wayPlaces());
        }
    }

    // Commanded, and the part does not see it.
    void notPulled(const Seen& on)
    {
        fails_ = true;
        flow_.fails({isThere(flow_.bay(), on) ? "drive.on.not" : "drive.on.partly", with(on)});
        const Seen module = row("on-module", pin(), true);
        if (!module) return;
        if (isLostBetween(on, module)) {
            flow_.says({"drive.module.drives", with(module)});
            return flow_.end(Ending::Kind::Found, {"drive.end.control-wire", with(module)}, wayPlaces());
        }
        flow_.says({"drive.module.not", with(module)});
        flow_.end(Ending::Kind::Elsewhere, {"drive.end.not-driven", with(module)});
    }

    // What the wire loses; a driver that is weak at its own terminal already is another matter.
    bool isLostBetween(const Seen& part, const Seen& module) const
    {
        const bool drives = isLow_ ? module.volts() < part.volts() : module.volts() > part.volts();
        return drives && std::abs(module.volts() - part.volts()) > lostShare * batteryNow_V(flow_.bay());
    }

    void highSide()
    {
        const Seen off = row("off-control", control(), false);
        if (!off) return;
        if (isThere(flow_.bay(), off)) return fedAlways(off);
        flow_.says({"drive.off.dead", with(off)});
        const Seen on = row("on-control", control(), true);
        if (!on) return;
        if (!isThere(flow_.bay(), on)) {
            fails_ = true;
            flow_.fails({"drive.on.no-feed", with(on)});
            const Seen module = row("on-module", pin(), true);
            if (!module) return;
            if (isLostBetween(on, module)) {
                flow_.says({"drive.module.feeds", with(module)});
                return flow_.end(Ending::Kind::Found, {"drive.end.control-wire", with(module)}, wayPlaces());
            }
            flow_.says({"drive.module.feeds-not", with(module)});
            return flow_.end(Ending::Kind::Elsewhere, {"drive.end.not-driven", with(module)});
        }
        flow_.says({"drive.on.fed", with(on)});
        const Seen ground = row("on-ground", other(), true);
        if (!ground) return;
        if (ground.volts() > groundShare * batteryNow_V(flow_.bay())) {
            fails_ = true;
            flow_.fails({"drive.ground.lifted", with(ground)});
            return flow_.end(Ending::Kind::Elsewhere, {"drive.end.ground", with(ground)}, {part_.id});
        }
        flow_.says({"drive.ground.holds", with(ground)});
        ohms();
    }

    void fedAlways(const Seen& off)
    {
        fails_ = true;
        flow_.fails({"drive.off.fed", with(off)});
        // What stands high on both of its sides hangs on a ground that is lifted, by whatever shares it.
        const Seen ground = row("off-ground", other(), false);
        if (!ground) return;
        if (ground.volts() > groundShare * batteryNow_V(flow_.bay())) {
            flow_.says({"drive.ground.lifted", with(ground)});
            return flow_.end(Ending::Kind::Elsewhere, {"drive.end.ground", with(ground)}, {part_.id});
        }
        flow_.says({"drive.ground.holds", with(ground)});
        Step free = at(control(), false);
        free.unpinned = {flow_.map().terminal(terminal_).id};
        const Seen freed = flow_.reading("freed", {"drive.freed", of()}, free);
        if (!freed) return;
        const bool stays = isThere(flow_.bay(), freed);
        flow_.says({stays ? "drive.freed.fed" : "drive.freed.dead", with(freed)});
        if (stays)
            flow_.end(Ending::Kind::Found, {"drive.end.fed", with(freed)}, wayPlaces());
        else
            flow_.end(Ending::Kind::Found, {"drive.end.stuck", with(freed)}, driverPlaces());
    }

    std::optional<Seen> partOhms()
    {
        const Map& map = flow_.map();
        Step step = placed(map, control(), other(), 0);
        step.removed = {part_.id};
        const Seen seen = flow_.ohms("ohms", {"drive.ohms", of()}, step);
        return seen ? std::optional(seen) : std::nullopt;
    }

    // Right in volts; whether it takes what it must is told by its own ohms, or by a clamp.
    void ohms()
    {
        if (isElectronic(flow_.map(), part_)) {
            if (isDuty() && !follows()) return;
            return flow_.end(Ending::Kind::Open, {"drive.end.electronic", of()});
        }
        const std::optional<Seen> seen = partOhms();
        if (!seen) return;
        const Verdict v = seen->judgement->verdict;
        if (seen->reading->value.overLimit) {
            fails_ = true;
            flow_.fails({"drive.ohms.open", with(*seen)});
            return flow_.end(Ending::Kind::Found, {"drive.end.winding", with(*seen)}, {part_.id});
        }
        if (isStated() && (v == Verdict::Low || v == Verdict::High)) {
            // A warm winding has more; far off is another matter.
            const double share = ilvek::partOhms(*seen->reading) / part_.value("resistance");
            const bool far = share < farLow || share > farHigh;
            fails_ = far;
            const Fact fact{v == Verdict::Low ? "drive.ohms.low" : "drive.ohms.high", with(*seen)};
            far ? flow_.fails(fact) : flow_.undecided(fact);
            return far ? flow_.end(Ending::Kind::Found, {"drive.end.ohms", with(*seen)}, {part_.id})
                       : flow_.end(Ending::Kind::Open, {"drive.end.ohms-near", with(*seen)}, {part_.id});
        }
        flow_.says({part_.kind == ElementKind::Lamp ? "drive.ohms.lamp" : "drive.ohms.says", with(*seen)});
        expected(*seen);
        if (part_.kind == ElementKind::Winding && !insulated()) return;
        if (isDuty() && !follows()) return;
        flow_.end(Ending::Kind::Sound, {"drive.end.sound", with(*seen)});
    }

    // I = U / R of one part: what a clamp must show, and where it was read whether the three can be together (T8).
    void expected(const Seen& ohms)
    {
        if (part_.kind == ElementKind::Lamp || part_.kind == ElementKind::Motor) return;
        const double R = std::max(1e-3, ilvek::partOhms(*ohms.reading)), U = batteryNow_V(flow_.bay());
        const Seen clamp = flow_.latest(
            [&](const Reading& r) { return r.test == TestKind::Current && r.conductor == part_.id && isCommanded(r); });
        auto says = clamp ? with(clamp) : of();
        says.emplace_back("least", ampsText(warmShare * U / R));
        says.emplace_back("most", ampsText(coldShare * U / R));
        if (!clamp) return flow_.says({"drive.expected", says});
        const bool together = clamp.volts() >= warmShare * U / R && clamp.volts() <= coldShare * U / R;
        together ? flow_.says({"drive.expected.right", says}) : flow_.undecided({"drive.impossible", says});
    }

    // Of a winding to what it is bolted to, by a meter; one that leaks to its case blows fuses and drivers. False: it
    // leaks, or was not read.
    bool insulated()
    {
        const Statement* told = flow_.statement("case", {"drive.case", of()});
        if (!told) return false;
        const auto figure = parseQuantity(told->found, Unit::Ohm);
        if (!figure) return true;  // not measured, in words
        auto says = of();
        says.emplace_back("figure", told->found);
        if (figure->overLimit || figure->value >= trade::insulated_ohm) {
            flow_.says({"drive.case.right", says});
            return true;
        }
        fails_ = true;
        flow_.fails({"drive.case.leaks", says});
        flow_.end(Ending::Kind::Found, {"drive.end.case", says}, {part_.id});
        return false;
    }

    bool isDuty() const { return flow_.map().terminal(terminal_).role == Role::DutyDrive; }

    // Commanded in steps, what stands across the part follows the share. False: it does not, or was not read.
    bool follows()
    {
        std::vector<std::pair<double, double>> steps;  // share, volts across the part
        for (const double share : dutySteps) {
            const Step base = at(control(), true);
            Step step = placed(flow_.map(), other(), control(), flow_.map().stateIndex(base.state));
            if (!isLow_) std::swap(step.red, step.black);
            step.commands = {{flow_.map().element(driven_.driver).id, share}};
            auto title = of();
            title.emplace_back("share", fmt::format("{:.0f} %", 100 * share));
            const Seen seen = flow_.reading(fmt::format("duty {:.0f}", 100 * share), {"drive.duty", title}, step,
                                            [&](const Reading& r) { return isStep(r, step, share); });
            if (!seen) return false;
            title.emplace_back("figure", seen.figure());
            flow_.says({"drive.duty.says", title});
            steps.emplace_back(share, seen.volts());
        }
        const double full = steps.back().second / steps.back().first;
        const bool all = std::all_of(steps.begin(), steps.end(), [&](const auto& s) {
            return std::abs(s.second - s.first * full) <= dutyWithin * full;
        });
        if (all) return true;
        fails_ = true;
        flow_.undecided({"drive.duty.not", of()});
        flow_.end(Ending::Kind::Open, {"drive.end.duty", of()}, driverPlaces());
        return false;
    }

    bool isStep(const Reading& r, const Step& step, double share) const
    {
        const bool placed =
            (r.red == step.red && r.black == step.black) || (r.red == step.black && r.black == step.red);
        return placed && isVoltageTest(r.test) && r.unplugged.empty() && r.removed.empty() && r.load.empty() &&
               std::any_of(r.commands.begin(), r.commands.end(), [&](const Command& c) {
                   return c.element == step.commands.front().element && std::abs(c.share - share) < 0.03;
               });
    }

    // A filament's cold ohms are a tenth of its hot ones, and what nobody stated is compared with nothing.
    bool isStated() const
    {
        return part_.kind != ElementKind::Lamp && part_.kind != ElementKind::Motor &&
               part_.values.contains("resistance") && part_.knownOf("resistance") == Known::Stated;
    }

    std::vector<std::string> wayPlaces() const { return wayOf(flow_.map(), terminal_, control()); }
    std::vector<std::string> driverPlaces() const
    {
        return {flow_.map().terminal(terminal_).id, flow_.map().element(driven_.driver).id};
    }

    Flow flow_;
    int terminal_;
    Driven driven_;
    const Element& part_;
    bool isLow_, fails_ = false;
};

}  // namespace

std::vector<std::string> drivesWithAPart(const Map& map)
{
    std::vector<std::string> out;
    for (const std::string& id : drivesOf(map)) {
        const Driven driven = drivenBy(map, map.terminalIndex(id));
        if (driven.part >= 0 && driven.driver >= 0) out.push_back(id);
    }
    return out;
}

Procedure driveAndPart(const Bay& bay, const std::string& subject)
{
    return DriveTest(bay, subject).follow();
}

}  // namespace ilvek
