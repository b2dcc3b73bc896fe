// Proving the instruments (W7): leads, lamp, clip, the leads' own ohms, clamp, attenuator. Each proof holds until
// another instrument is told.
#include <algorithm>
#include <cmath>

#include "procedures/flow.h"
#include "proving/lamp.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

constexpr double oddLow = 0.6, oddHigh = 1.4;  // of the system's voltage: no battery of this machine

bool isNotUsed(const std::string& found)
{
    return found == "none" || found == "not used" || found == "no";
}

class Instruments {
public:
    explicit Instruments(const Bay& bay) : flow_(bay, "instruments", "") {}

    Procedure follow()
    {
        leads();
        lamp();
        told("clip", {"instruments.clip", {}});
        leadOhms();
        clampZero();
        told("arrow", {"instruments.arrow", {}});
        told("attenuator", {"instruments.attenuator", {}});
        Procedure out = flow_.done();
        if (!out.next() && !out.ending) {
            const bool failed = std::any_of(out.stages.begin(), out.stages.end(),
                                            [](const Stage& s) { return s.state == Stage::State::Failed; });
            out.ending = failed ? Ending{Ending::Kind::Found, {"instruments.end.bad", {}}, Grade::ShownDirectly, {}}
                                : Ending{Ending::Kind::Sound, {"instruments.end", {}}, Grade::ShownDirectly, {}};
        }
        return out;
    }

private:
    bool isOfNow(std::int64_t id) const { return id > flow_.bay().assessment.evidence.instrumentSince; }

    void leads()
    {
        const Map& map = flow_.map();
        const Seen seen = flow_.reading(
            "leads", {"instruments.leads", {}}, batteryStep(map, flow_.bay().moment.state),
            [&](const Reading& r) { return r.test == TestKind::Battery && r.load.empty() && isOfNow(r.id); });
        if (!seen) return;
        const bool odd = seen.volts() < oddLow * map.systemVoltage_V || seen.volts() > oddHigh * map.systemVoltage_V;
        if (odd)
            flow_.fails({"instruments.leads.odd", {{"figure", seen.figure()}}});
        else
            flow_.says({"instruments.leads.right", {{"figure", seen.figure()}}});
    }

    void lamp()
    {
        const Map& map = flow_.map();
        Step step = placed(map, map.batteryPlus(), map.batteryMinus(), map.stateIndex(flow_.bay().moment.state));
        step.test = TestKind::Battery;
        step.load = "lamp-21w";
        step.loadFrom = step.red, step.loadTo = step.black;
        const Seen seen = flow_.reading("lamp", {"instruments.lamp", {}}, step, [&](const Reading& r) {
            const bool atPosts = r.loadFrom == step.red && r.loadTo == step.black;
            return isOfNow(r.id) && !r.load.empty() && (r.shows == Shown::Bright || (atPosts && lampOf(map, r)));
        });
        if (!seen) return;
        if (isThere(flow_.bay(), seen))
            flow_.says({"instruments.lamp.burns", {}});
        else
            flow_.fails({"instruments.lamp.dark", {}});
    }

    const Statement* told(const std::string& id, Fact title)
    {
        const std::int64_t since = flow_.bay().assessment.evidence.instrumentSince;
        const Statement* found = flow_.told(id, since);
        if (found && isNotUsed(found->found)) {
            flow_.notNeeded(id, std::move(title), {"instruments.not-used", {}});
            return nullptr;
        }
        return flow_.statement(id, std::move(title), since);
    }

    void leadOhms()
    {
        const Statement* found = told("lead-ohms", {"instruments.lead-ohms", {}});
        if (!found) return;
        const auto figure = parseQuantity(found->found, Unit::Ohm);
        if (!figure || figure->overLimit || figure->value > trade::leadsAtMost_ohm)
            flow_.fails({"instruments.lead-ohms.high", {{"figure", found->found}}});
        else
            flow_.says({"instruments.lead-ohms.taken", {{"figure", formatQuantity(*figure)}}});
    }

    void clampZero()
    {
        const Statement* found = told("clamp", {"instruments.clamp", {}});
        if (!found) return;
        const double scale = flow_.bay().assessment.evidence.instrument.clampScale_mVPerA;
        const auto figure = parseQuantity(found->found, Unit::Ampere, scale > 0 ? std::optional(scale) : std::nullopt);
        if (!figure || std::abs(figure->value) > trade::clampZeroAtMost_A)
            flow_.fails({"instruments.clamp.offset", {{"figure", found->found}}});
        else
            flow_.says({"instruments.clamp.zero", {{"figure", formatQuantity(*figure)}}});
    }

    Flow flow_;
};

}  // namespace

Procedure provingInstruments(const Bay& bay, const std::string&)
{
    return Instruments(bay).follow();
}

}  // namespace ilvek
