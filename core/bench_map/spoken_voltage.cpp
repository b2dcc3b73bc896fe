#include "bench_map/spoken_voltage.h"

#include <set>

#include "base/text.h"
#include "bench_map/sheet_words.h"

namespace ilvek {

namespace {

constexpr double usual_V[] = {6, 12, 24, 36, 48, 72, 80};

}  // namespace

std::optional<double> spokenSystemVoltage_V(const std::vector<PinRow>& rows)
{
    std::set<double> spoken;
    for (const PinRow& row : rows) {
        for (const std::string* cell : {&row.circuit, &row.otherEnd, &row.expected}) {
            const auto figure = parseStated(*cell, Unit::Volt);
            for (const double v : usual_V) {
                if (figure && figure->low == v && figure->high == v) spoken.insert(v);
            }
        }
    }
    return spoken.size() == 1 ? std::optional(*spoken.begin()) : std::nullopt;
}

}  // namespace ilvek
