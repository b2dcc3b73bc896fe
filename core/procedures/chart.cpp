// A maker's chart that was entered (school 6): its steps in its order, and beside each what the reading proved by our
// own reasoning. Where it ends its own words stand, as the chart's and not as ours.
#include <algorithm>
#include <cmath>
#include <set>

#include "procedures/flow.h"

namespace ilvek {

namespace {

class Chart {
public:
    explicit Chart(const Bay& bay) : flow_(bay, "chart", ""), steps_(bay.assessment.evidence.chart) {}

    Procedure follow()
    {
        if (steps_.empty()) {
            flow_.end(Ending::Kind::Open, {"chart.end.none", {}});
            return flow_.done();
        }
        flow_.caution({"chart.caution", {{"name", flow_.bay().assessment.evidence.chartName}}});
        std::string at = steps_.front().id;
        for (std::set<std::string> been; !flow_.hasEnded();) {
            const ChartStep* step = named(at);
            if (!step)
                flow_.end(Ending::Kind::Open, {"chart.end", {{"words", at}}});
            else if (!been.insert(at).second)
                flow_.end(Ending::Kind::Open, {"chart.end.round", {{"step", at}}});
            else if (!take(*step, at))
                break;
        }
        return flow_.done();
    }

private:
    const ChartStep* named(const std::string& id) const
    {
        const auto at = std::find_if(steps_.begin(), steps_.end(), [&](const ChartStep& s) { return s.id == id; });
        return at == steps_.end() ? nullptr : &*at;
    }

    // False: its figure is still to be read. Else `next` is where it leads.
    bool take(const ChartStep& s, std::string& next)
    {
        const Unit unit = s.unit == "Ω" ? Unit::Ohm : s.unit == "A" ? Unit::Ampere : Unit::Volt;
        Stage& stage = flow_.stage(s.id, {"chart.step", {{"step", s.id}, {"words", s.words}}}, Stage::State::Shown);
        const Seen seen = flow_.at(s, unit);
        if (!seen) {
            Asked asked;
            static_cast<SetUp&>(asked.step) = s;
            asked.figure = unit == Unit::Ohm      ? FigureKind::Ohms
                           : unit == Unit::Ampere ? FigureKind::Amperes
                                                  : FigureKind::Volts;
            flow_.ask(stage, std::move(asked));
            return false;
        }
        stage.entries = {seen.reading->id};
        const double is = seen.reading->value.overLimit ? 1e99 : std::abs(seen.reading->value.value);
        const bool beyond = (s.below && is < *s.below) || (s.above && is > *s.above);
        next = beyond ? s.then : s.otherwise;
        flow_.says({"chart.leads", {{"figure", seen.figure()}, {"to", next}}});
        // What the same figure proves, and does not, whatever the chart makes of it.
        flow_.says({"chart.proved", {{"word", seen.judgement->word}}});
        if (!seen.judgement->doesNotProve.empty())
            flow_.says({"said", {{"words", seen.judgement->doesNotProve.front()}}});
        return true;
    }

    Flow flow_;
    const std::vector<ChartStep>& steps_;
};

}  // namespace

Procedure makersChart(const Bay& bay, const std::string&)
{
    return Chart(bay).follow();
}

}  // namespace ilvek
