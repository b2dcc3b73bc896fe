// Protective shut-down (W16): the key is cycled and the drive read inside the window in which it is still alive.
#include <algorithm>
#include <cmath>

#include "procedures/flow.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

class ShutDown {
public:
    ShutDown(const Bay& bay, const std::string& subject)
        : flow_(bay, "shut-down", subject), terminal_(bay.map.terminalIndex(subject)), state_(onState())
    {
    }

    Procedure follow()
    {
        flow_.caution({"shut-down.caution", {}});
        const StateSeen* on = lastCycle();
        const Seen inside = flow_.latest([&](const Reading& r) { return on && isOfDrive(r) && isInside(r, *on); });
        const Seen late =
            flow_.latest([&](const Reading& r) { return on && isOfDrive(r) && !isInside(r, *on) && r.id > on->id; });
        if (on && (inside || !late))
            cycled(*on);
        else
            askCycle(late);
        window(inside, on);
        if (inside) conclude(inside, off());
        Procedure out = flow_.done();
        if (wentOff()) out.calledBy = Fact{"shut-down.called", of()};
        return out;
    }

private:
    std::vector<std::pair<std::string, std::string>> of() const
    {
        return {{"terminal", flow_.map().terminal(terminal_).id},
                {"state", flow_.map().state(state_).name},
                {"seconds", std::to_string(std::lround(trade::shutDownAfter_s))}};
    }

    int onState() const
    {
        const int driven = drivenState(flow_.map(), terminal_);
        return driven >= 0 ? driven : stateFor(flow_.map(), terminal_);
    }

    bool isOfDrive(const Reading& r) const
    {
        return r.terminal == flow_.map().terminal(terminal_).id && isVoltageTest(r.test) &&
               stateOf(flow_.map(), r) == state_;
    }

    static bool isInside(const Reading& r, const StateSeen& on)
    {
        const double after_s = static_cast<double>(r.time_ms - on.time_ms) / 1000;
        return r.id > on.id && after_s >= 0 && after_s <= trade::shutDownAfter_s;
    }

    // The last time that this state was entered from key off.
    const StateSeen* lastCycle() const
    {
        const auto& states = flow_.bay().assessment.evidence.states;
        bool off = false;
        const StateSeen* last = nullptr;
        for (const StateSeen& s : states) {
            const int index = flow_.map().stateIndex(s.state);
            if (index == 0) off = true, last = nullptr;
            if (index == state_ && off) last = &s, off = false;
        }
        return last;
    }

    void cycled(const StateSeen& on)
    {
        flow_.stage("cycle", {"shut-down.cycle", of()}, Stage::State::Shown).entries = {on.id};
    }

    void askCycle(const Seen& late)
    {
        Stage& stage = flow_.stage("cycle", {"shut-down.cycle", of()}, Stage::State::Later);
        Asked asked;
        asked.kind = Asked::Kind::States;
        asked.states = {flow_.map().states.front().id, flow_.map().state(state_).id};
        asked.within_s = trade::shutDownAfter_s;
        flow_.ask(stage, std::move(asked));
        if (late) flow_.says({"shut-down.late", of()});
    }

    void window(const Seen& inside, const StateSeen* on)
    {
        Stage& stage = flow_.stage("window", {"shut-down.window", of()}, Stage::State::Shown);
        if (inside) {
            stage.entries = {inside.reading->id};
            return;
        }
        const Map& map = flow_.map();
        Asked asked;
        asked.step = tableStep(map, terminal_, {TestKind::Level, state_, ""});
        asked.within_s = trade::shutDownAfter_s;
        if (on) asked.step.effort_s = trade::shutDownAfter_s;
        flow_.ask(stage, std::move(asked));
    }

    bool drives(const Seen& seen) const
    {
        const bool low = flow_.map().terminal(terminal_).role != Role::HighSideDrive;
        return low ? isAway(flow_.bay(), seen) : isThere(flow_.bay(), seen);
    }

    // In the same state, and not right after the key; one that was told to be taken meanwhile is off by what was told.
    Seen off() const
    {
        const Assessment& a = flow_.bay().assessment;
        for (std::size_t i = a.evidence.readings.size(); i-- > 0;) {
            const Reading& r = a.evidence.readings[i];
            const StateSeen* on = nullptr;
            for (const StateSeen& s : a.evidence.states) {
                if (s.id < r.id) on = &s;
            }
            const bool counts = !a.stale[i] || (r.inShutDown && !isBeforeRepair(a.evidence, r.id));
            if (counts && isOfDrive(r) && !(on && isInside(r, *on))) return {&r, &a.judgements[i]};
        }
        return {};
    }

    void conclude(const Seen& inside, const Seen& after)
    {
        auto says = of();
        says.emplace_back("figure", inside.figure());
        if (!drives(inside)) {
            flow_.says({"shut-down.dead", says});
            return flow_.end(Ending::Kind::Sound, {"shut-down.end.excluded", says});
        }
        flow_.says({"shut-down.drives", says});
        Stage& stage = flow_.stage("after", {"shut-down.after", of()}, Stage::State::Shown);
        if (!after) {
            Asked asked;
            asked.step = tableStep(flow_.map(), terminal_, {TestKind::Level, state_, ""});
            return flow_.ask(stage, std::move(asked));
        }
        stage.entries = {after.reading->id};
        says.back().second = after.figure();
        if (drives(after) && !after.reading->inShutDown) {
            flow_.says({"shut-down.stays", says});
            flow_.end(Ending::Kind::Sound, {"shut-down.end.drives", says});
        } else {
            flow_.says({"shut-down.off", says});
            flow_.end(Ending::Kind::Found, {"shut-down.end.protects", says}, {flow_.map().terminal(terminal_).id});
        }
    }

    // It drove once in this state and was off later, with nothing mended between.
    bool wentOff() const
    {
        const Seen last = off();
        if (!last || (drives(last) && !last.reading->inShutDown)) return false;
        return static_cast<bool>(flow_.latest([&](const Reading& r) {
            return isOfDrive(r) && r.id < last.reading->id && drives({&r, nullptr});
        }));
    }

    Flow flow_;
    int terminal_, state_;
};

}  // namespace

std::vector<std::string> drivesOf(const Map& map)
{
    std::vector<std::string> out;
    for (const int t : map.moduleTerminals()) {
        const auto role = map.terminal(t).role;
        if (map.terminal(t).a >= 0 && role && map.terminal(t).hazard.empty() && groupOf(*role) == Group::Drives &&
            role != Role::DriveReturn)
            out.push_back(map.terminal(t).id);
    }
    return out;
}

Procedure protectiveShutDown(const Bay& bay, const std::string& subject)
{
    return ShutDown(bay, subject).follow();
}

}  // namespace ilvek
