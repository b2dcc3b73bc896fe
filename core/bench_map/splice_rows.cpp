#include "bench_map/splice_rows.h"

#include <algorithm>
#include <utility>

#include "base/text.h"
#include "bench_map/sheet_words.h"

namespace ilvek {

namespace {

const std::string wayOn = " > ";

bool isSplice(const RoutePlace& place, std::string_view splice)
{
    return place.kind == RoutePlace::Kind::Splice && lowered(place.id) == lowered(splice);
}

bool passes(const std::string& route, std::string_view splice)
{
    const auto places = parseRoute(route);
    return places && std::ranges::any_of(*places, [&](const RoutePlace& p) { return isSplice(p, splice); });
}

bool endsAt(const std::string& route, std::string_view splice)
{
    const auto places = parseRoute(route);
    return places && !places->empty() && isSplice(places->back(), splice);
}

bool leadsTo(const PinRow& row, std::string_view splice)
{
    return passes(row.route, splice) || passes(parseFarEnd(row.otherEnd).otherWire, splice);
}

// The way on behind the first that ends there. False: none does.
bool addWay(std::vector<PinRow>& rows, const PinRow& splice)
{
    for (PinRow& row : rows) {
        if (endsAt(row.route, splice.circuit)) {
            row.route += wayOn + splice.route;
            return true;
        }
        const std::string other = parseFarEnd(row.otherEnd).otherWire;
        const std::size_t at = row.otherEnd.rfind(other);
        if (!endsAt(other, splice.circuit) || at == std::string::npos) continue;
        row.otherEnd.insert(at + other.size(), wayOn + splice.route);
        return true;
    }
    return false;
}

// "feed of the valves; splice; S3; F8 15 A > K4": the first place of its way is the splice, what follows leads on.
void nameByRoute(PinRow& row)
{
    const auto places = parseRoute(row.route);
    if (!places || places->empty() || places->front().kind != RoutePlace::Kind::Splice) return;
    const std::string name = places->front().id;
    const std::size_t end = lowered(row.route).find(lowered(name));
    if (end == std::string::npos) return;
    const std::string_view onward = trimmed(std::string_view(row.route).substr(end + name.size()));
    row.circuit = name;
    row.route = std::string(onward.substr(std::min(onward.size(), onward.find_first_not_of(">-→ ,/"))));
    if (row.route.empty()) row.route = std::exchange(row.otherEnd, {});
}

}  // namespace

bool isSpliceName(std::string_view name)
{
    const auto places = parseRoute(name);
    return places && places->size() == 1 && places->front().kind == RoutePlace::Kind::Splice;
}

void findSpliceRows(std::vector<PinRow>& rows)
{
    for (PinRow& row : rows) {
        if (row.loose == "splice" && !isSpliceName(row.circuit)) nameByRoute(row);
        const std::string name = row.id();
        if (!row.isTerminal() || row.route.empty() || !isSpliceName(name)) continue;
        const bool isLedTo =
            std::ranges::any_of(rows, [&](const PinRow& other) { return &other != &row && leadsTo(other, name); });
        if (!isLedTo) continue;
        row.loose = "splice";
        row.circuit = name;
        row.connector = PinRow{}.connector;
        row.cavity = 0;
        row.written.clear();
    }
}

std::vector<std::size_t> splicesOfNoRow(const std::vector<PinRow>& rows)
{
    std::vector<std::size_t> out;
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const auto leads = [&](const PinRow& other) { return &other != &rows[i] && leadsTo(other, rows[i].circuit); };
        if (rows[i].loose == "splice" && std::ranges::none_of(rows, leads)) out.push_back(i);
    }
    return out;
}

std::vector<PinRow> withSplicesRouted(const std::vector<PinRow>& rows)
{
    std::vector<PinRow> out, splices;
    for (const PinRow& row : rows)
        (row.loose == "splice" ? splices : out).push_back(row);
    // One splice may lead on to another.
    for (bool added = true; added;) {
        const std::size_t left = splices.size();
        std::erase_if(splices, [&](const PinRow& splice) { return addWay(out, splice); });
        added = splices.size() < left;
    }
    return out;
}

}  // namespace ilvek
