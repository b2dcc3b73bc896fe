#include "trace/signal/measure.h"

#include <algorithm>

namespace ilvek {

std::string TraceMeasure::words() const
{
    if (!value) return "not measurable, because " + why;
    // What was counted is exact.
    return formatQuantity({*value, unit}) + (sigma > 0 ? " ± " + formatQuantity({sigma, unit}) : "");
}

TraceMeasure measured(std::string id, std::string name, Unit unit, double value, double sigma, double at_s)
{
    return {std::move(id), std::move(name), unit, value, std::abs(sigma), {}, at_s};
}

TraceMeasure notMeasurable(std::string id, std::string name, Unit unit, std::string why)
{
    return {std::move(id), std::move(name), unit, {}, 0, std::move(why), std::nan("")};
}

const TraceMeasure* TraceTold::find(const std::string& id) const
{
    const auto at = std::find_if(measures.begin(), measures.end(), [&](const TraceMeasure& m) { return m.id == id; });
    return at == measures.end() ? nullptr : &*at;
}

std::optional<double> TraceTold::value(const std::string& id) const
{
    const TraceMeasure* m = find(id);
    return m ? m->value : std::nullopt;
}

}  // namespace ilvek
