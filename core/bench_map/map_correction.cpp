#include "bench_map/map_correction.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "base/text.h"
#include "bench_map/drawn_additions.h"
#include "bench_map/kept_sheet.h"
#include "bench_map/pin_sheet.h"
#include "bench_map/sheet_map.h"

namespace ilvek {

namespace {

using Json = nlohmann::ordered_json;

Json* cavityOf(Json& doc, const PinRow& row)
{
    for (Json& connector : doc["connectors"]) {
        if (connector.value("id", "") != row.connector) continue;
        for (Json& cavity : connector["cavities"]) {
            if (cavity.value("cavity", 0) == row.cavity) return &cavity;
        }
    }
    return nullptr;
}

// Where the source gives a value for a state, the values of others for the same are left out. False when it gives none.
bool keepOnly(const std::string& source, Json& expected)
{
    const auto isFrom = [&](const Json& e) { return e.value("source", "") == source; };
    const auto isSame = [](const Json& x, const Json& y) {
        return x.value("state", "") == y.value("state", "") && x.value("measure", "") == y.value("measure", "") &&
               x.value("how", "") == y.value("how", "");
    };
    Json kept = Json::array();
    bool gives = false;
    for (const Json& e : expected) {
        gives = gives || isFrom(e);
        const bool ruledOut = !isFrom(e) && std::any_of(expected.begin(), expected.end(), [&](const Json& other) {
            return isFrom(other) && isSame(e, other);
        });
        if (!ruledOut) kept.push_back(e);
    }
    expected = std::move(kept);
    return gives;
}

void correct(Json& cavity, const PinRow& row)
{
    if (!row.circuit.empty()) cavity["circuit"] = row.circuit;
    if (!row.role.empty()) cavity["role"] = row.role;
    if (!row.colour.empty()) cavity["colour"] = row.colour;
    if (row.asFound == "empty" || row.asFound == "wired")
        cavity["as_found"] = {{"is", row.asFound}, {"why", row.source}};
    if (row.asFound == "as drawn") cavity.erase("as_found");
}

const char* const unparsed = "this is not well-formed JSON";

// A map that keeps its sheet, made anew; where a row names the source that holds, so it is.
Result<std::string, Problems> remade(const std::string& document, const PinRow& correction)
{
    const auto made = withRow(document, correction);
    if (!made) return made;
    Json doc = Json::parse(*made);
    const auto rows = sheetOf(doc);
    for (const PinRow& row : rows&&* rows ? **rows : std::vector<PinRow>{}) {
        Json* cavity = row.holds.empty() ? nullptr : cavityOf(doc, row);
        if (cavity && !keepOnly(row.holds, (*cavity)["expected"]))
            return tl::unexpected(Problems{{row.id(), "the map has no expected value of it from " + row.holds}});
    }
    return doc.dump(1) + "\n";
}

}  // namespace

Result<std::string, Problems> withCorrection(const std::string& document, const std::string& rowJson)
{
    const auto row = readPinRow(rowJson);
    if (!row) return tl::unexpected(Problems{row.error()});
    Json doc = Json::parse(document, nullptr, false);
    if (doc.is_discarded()) return tl::unexpected(Problems{{"the map", unparsed}});
    if (sheetOf(doc)) return remade(document, *row);
    if (!row->isTerminal()) return withLooseRow(document, *row);
    Json* cavity = cavityOf(doc, *row);
    if (!cavity || cavity->value("role", "") == roleName(Role::Empty)) return withRow(document, *row);
    correct(*cavity, *row);
    if (!row->holds.empty() && !keepOnly(row->holds, (*cavity)["expected"]))
        return tl::unexpected(Problems{{row->id(), "the map has no expected value of it from " + row->holds}});
    return doc.dump(1) + "\n";
}

bool onlyStatesFigures(const std::string& rowJson)
{
    const auto row = readPinRow(rowJson);
    if (row && (row->loose == "function" || row->loose == "code" || row->loose == "known weak")) return true;
    if (!row || row->whole || !row->isTerminal()) return false;
    const bool wiring =
        !(row->circuit + row->role + row->colour + row->fuse + row->fuseRating + row->relay + row->fedBy + row->ground +
          row->splice + row->otherEnd + row->route + row->ownReturn + row->asFound + row->holds)
             .empty();
    return !wiring && !(row->current + row->expected + row->section).empty();
}

std::string correctionWords(const std::string& rowJson)
{
    const auto row = readPinRow(rowJson);
    if (!row) return "";
    std::vector<std::string> parts;
    if (!row->asFound.empty()) parts.push_back("found " + row->asFound);
    if (!row->circuit.empty()) parts.push_back("circuit " + row->circuit);
    if (!row->role.empty()) parts.push_back(row->role);
    if (!row->colour.empty()) parts.push_back("colour " + row->colour);
    if (!row->route.empty()) parts.push_back("route " + row->route);
    if (!row->otherEnd.empty()) parts.push_back("far end " + row->otherEnd);
    if (!row->current.empty()) parts.push_back("current " + row->current);
    if (!row->expected.empty()) parts.push_back("expected " + row->expected);
    if (!row->holds.empty()) parts.push_back("what " + row->holds + " expects holds");
    const std::string name = row->isTerminal() ? row->id() : row->circuit;
    return name + ": " + listed(parts) + (row->source.empty() ? "" : " (" + row->source + ")");
}

}  // namespace ilvek
