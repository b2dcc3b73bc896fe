#include "trace/measure.h"

namespace ilvek {

std::string TraceMeasure::words() const
{
    if (!value) return "not measurable, because " + why;
    return formatQuantity({*value, unit}) + " ± " + formatQuantity({sigma, unit});
}

TraceMeasure measured(std::string id, std::string name, Unit unit, double value, double sigma, double at_s)
{
    return {std::move(id), std::move(name), unit, value, std::abs(sigma), {}, at_s};
}

TraceMeasure notMeasurable(std::string id, std::string name, Unit unit, std::string why)
{
    return {std::move(id), std::move(name), unit, {}, 0, std::move(why), std::nan("")};
}

}  // namespace ilvek
