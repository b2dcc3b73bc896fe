#include "trace/measure.h"

namespace ilvek {

std::string Measure::words() const
{
    if (!value) return "not measurable, because " + why;
    return formatQuantity({*value, unit}) + " ± " + formatQuantity({sigma, unit});
}

Measure measured(std::string id, std::string name, Unit unit, double value, double sigma, double at_s)
{
    return {std::move(id), std::move(name), unit, value, std::abs(sigma), {}, at_s};
}

Measure notMeasurable(std::string id, std::string name, Unit unit, std::string why)
{
    return {std::move(id), std::move(name), unit, {}, 0, std::move(why), std::nan("")};
}

}  // namespace ilvek
