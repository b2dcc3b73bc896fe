#include "open_job/chart_text.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/text.h"
#include "open_job/setup_line.h"
#include "quantity/quantity.h"

namespace ilvek {

namespace {

std::vector<std::string> columnsOf(std::string_view line)
{
    std::vector<std::string> out;
    for (std::size_t at = 0; at <= line.size();) {
        const std::size_t end = std::min(line.find('|', at), line.size());
        out.emplace_back(trimmed(line.substr(at, end - at)));
        at = end + 1;
    }
    return out;
}

// "below 11.5 V".
Result<void> takeLimit(const std::string& text, ChartStep& step)
{
    const std::string low = lowered(text);
    const bool below = low.starts_with("below "), above = low.starts_with("above ");
    if (!below && !above) return fail(text, "write a limit as “below 11.5 V” or “above 2 ohm”");
    const std::string figure = text.substr(6);
    for (const Unit unit : {Unit::Volt, Unit::Ohm, Unit::Ampere}) {
        const auto read = parseQuantity(figure, unit);
        if (!read || read->overLimit) continue;
        step.unit = std::string(unitSymbol(unit));
        (below ? step.below : step.above) = read->value;
        return {};
    }
    return fail(figure, "is no figure in volts, ohms or amperes");
}

}  // namespace

Result<std::vector<ChartStep>> parseChart(const Map& map, std::string_view text, const std::string& state)
{
    std::vector<ChartStep> steps;
    int line = 0;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        const std::string row(trimmed(text.substr(at, end - at)));
        at = end + 1, ++line;
        if (row.empty() || row.front() == '#') continue;
        const auto refuse = [&](const std::string& why) { return fail(fmt::format("line {}", line), why); };
        const auto columns = columnsOf(row);
        if (columns.size() != 5) return refuse("a step has five columns: step | test | if | then | else");
        const auto placed = parseSetUp(map, columns[1], state);
        if (!placed) return refuse(placed.error().message());
        if (placed->red.empty() || placed->black.empty()) return refuse("the test says where both leads are");
        ChartStep step;
        static_cast<SetUp&>(step) = *placed;
        step.id = columns[0], step.words = columns[1], step.then = columns[3], step.otherwise = columns[4];
        if (step.id.empty() || step.then.empty() || step.otherwise.empty())
            return refuse("step, then and else must not be empty");
        const bool twice = std::any_of(steps.begin(), steps.end(), [&](const ChartStep& s) { return s.id == step.id; });
        if (twice) return refuse("there is a step " + step.id + " already");
        if (const auto limit = takeLimit(columns[2], step); !limit) return refuse(limit.error().message());
        steps.push_back(std::move(step));
    }
    if (steps.empty()) return fail("chart", "has no step");
    // A mere number names a step.
    for (const ChartStep& s : steps) {
        for (const std::string& to : {s.then, s.otherwise}) {
            const bool number = to.find_first_not_of("0123456789") == std::string::npos;
            const bool there = std::any_of(steps.begin(), steps.end(), [&](const ChartStep& o) { return o.id == to; });
            if (number && !there) return fail("step " + s.id, "leads to step " + to + ", which is not there");
        }
    }
    return steps;
}

}  // namespace ilvek
