#include "bench_map/kept_sheet.h"

#include <algorithm>
#include <nlohmann/json.hpp>

namespace ilvek {

namespace {

using Json = nlohmann::ordered_json;

constexpr const char* key = "sheet";

constexpr std::string PinRow::*cells[] = {&PinRow::circuit,    &PinRow::role,   &PinRow::colour,  &PinRow::fuse,
                                          &PinRow::fuseRating, &PinRow::relay,  &PinRow::ground,  &PinRow::splice,
                                          &PinRow::otherEnd,   &PinRow::route,  &PinRow::current, &PinRow::expected,
                                          &PinRow::ownReturn,  &PinRow::hazard, &PinRow::source,  &PinRow::asFound,
                                          &PinRow::holds,      &PinRow::side,   &PinRow::fedBy,   &PinRow::section};

void merge(const PinRow& correction, PinRow& row)
{
    for (const auto cell : cells) {
        if (!(correction.*cell).empty()) row.*cell = correction.*cell;
    }
    if (row.asFound == "as drawn") row.asFound.clear();
}

// Without what is no part of a row's own words.
PinRow bare(PinRow row)
{
    row.line = 0;
    row.whole = false;
    return row;
}

// Only what differs, where nothing was taken out; else the whole row.
PinRow difference(const PinRow& was, const PinRow& is)
{
    PinRow out;
    out.connector = is.connector;
    out.cavity = is.cavity;
    out.written = is.written;
    out.loose = is.loose;
    if (!is.isTerminal()) out.circuit = is.circuit;
    for (const auto cell : cells) {
        if (was.*cell == is.*cell) continue;
        if ((is.*cell).empty()) {
            PinRow whole = bare(is);
            whole.whole = true;
            return whole;
        }
        out.*cell = is.*cell;
    }
    return out;
}

}  // namespace

void keepSheet(const std::vector<PinRow>& rows, Json& document)
{
    Json kept = Json::array();
    for (const PinRow& row : rows)
        kept.push_back(Json::parse(writePinRow(row)));
    document[key] = std::move(kept);
}

std::optional<Result<std::vector<PinRow>, Problems>> sheetOf(const Json& document)
{
    if (!document.is_object() || !document.contains(key) || !document[key].is_array()) return std::nullopt;
    std::vector<PinRow> rows;
    Problems problems;
    for (const Json& object : document[key]) {
        auto row = readPinRow(object.dump());
        if (!row) {
            problems.push_back({"the map's sheet, " + row.error().item, row.error().reason});
            continue;
        }
        row->line = static_cast<int>(rows.size()) + 2;
        rows.push_back(std::move(*row));
    }
    if (!problems.empty()) return tl::unexpected(problems);
    return rows;
}

std::optional<Result<std::vector<PinRow>, Problems>> sheetOf(const std::string& document)
{
    return sheetOf(Json::parse(document, nullptr, false));
}

std::vector<PinRow> withRow(std::vector<PinRow> rows, const PinRow& correction)
{
    const auto at = std::find_if(rows.begin(), rows.end(), [&](const PinRow& row) { return row.isOfSame(correction); });
    const bool isGone = !correction.isTerminal() && correction.role == "empty";
    if (isGone) {
        if (at != rows.end()) rows.erase(at);
    } else if (at == rows.end()) {
        rows.push_back(bare(correction));
        rows.back().line = static_cast<int>(rows.size()) + 1;
        if (rows.back().asFound == "as drawn") rows.back().asFound.clear();
    } else if (correction.whole) {
        const PinRow was = *at;
        *at = bare(correction);
        at->line = was.line;
        if (at->holds.empty()) at->holds = was.holds;
    } else {
        merge(correction, *at);
    }
    return rows;
}

std::vector<PinRow> correctionsBetween(const std::vector<PinRow>& before, const std::vector<PinRow>& after)
{
    const auto like = [](const std::vector<PinRow>& rows, const PinRow& row) {
        return std::find_if(rows.begin(), rows.end(), [&](const PinRow& other) { return other.isOfSame(row); });
    };
    std::vector<PinRow> corrections;
    for (const PinRow& row : after) {
        const auto was = like(before, row);
        if (was != before.end() && bare(*was) == bare(row)) continue;
        corrections.push_back(was == before.end() ? bare(row) : difference(*was, row));
    }
    for (const PinRow& row : before) {
        if (like(after, row) != after.end()) continue;
        PinRow gone;
        gone.connector = row.connector;
        gone.cavity = row.cavity;
        gone.written = row.written;
        gone.loose = row.loose;
        gone.circuit = row.circuit;
        gone.role = "empty";
        gone.whole = true;
        corrections.push_back(std::move(gone));
    }
    return corrections;
}

}  // namespace ilvek
