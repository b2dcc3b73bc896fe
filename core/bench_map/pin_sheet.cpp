#include "bench_map/pin_sheet.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <functional>
#include <nlohmann/json.hpp>
#include <set>
#include <utility>

#include "base/text.h"
#include "bench_map/letters.h"
#include "bench_map/row_role.h"
#include "bench_map/splice_rows.h"
#include "quantity/fields.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

struct Column {
    std::string PinRow::*cell;
    std::string_view key;
    std::vector<std::string_view> names;
};

const std::vector<Column>& columns()
{
    static const std::vector<Column> all{
        {nullptr,
         "cavity",
         {"cavity", "pin", "terminal", "pin no", "pin number", "no", "position", "connector-pin", "#", "contact", "pos",
          "terminal no", "way"}},
        {nullptr, "connector", {"connector", "conn", "plug", "socket", "connector no"}},
        {&PinRow::circuit,
         "circuit",
         {"circuit", "circuit name", "name", "function", "signal", "description", "designation", "label", "meaning",
          "what", "use", "purpose", "signal name", "pin function"}},
        {&PinRow::role, "role", {"role", "type", "kind", "i/o", "io", "in/out", "direction", "signal type"}},
        {&PinRow::colour, "colour", {"colour", "color", "wire colour", "wire color", "wire", "cable", "cable colour"}},
        {&PinRow::fuse, "fuse", {"fuse"}},
        {&PinRow::fuseRating, "fuse_rating", {"rating", "fuse rating", "amps", "fuse amps"}},
        {&PinRow::relay, "relay", {"relay"}},
        {&PinRow::fedBy, "fed_by", {"fed by", "supply terminal"}},
        {&PinRow::ground, "ground", {"ground", "ground point", "earth", "earth point", "gnd"}},
        {&PinRow::splice, "splice", {"splice", "joint"}},
        {&PinRow::otherEnd,
         "other_end",
         {"other end",
          "to",
          "goes to",
          "from/to",
          "from / to",
          "destination",
          "at the other end",
          "far end",
          "part",
          "component",
          "load",
          "connects to",
          "connected to",
          "device",
          "load / device",
          "device / load",
          "sensor / actuator",
          "actuator / sensor",
          "actuator",
          "consumer",
          "target",
          "comes from / goes to",
          "goes to / comes from",
          "comes from",
          "from",
          "where",
          "where to",
          "end",
          "at the end",
          "hangs there",
          "what hangs there",
          "end device",
          "field device",
          "leads to",
          "wired to",
          "attached to"}},
        {&PinRow::route,
         "route",
         {"route", "way", "path", "through", "via", "wiring", "runs over", "goes over", "over", "passes", "wired over",
          "runs via", "runs through", "passes through", "led over", "routing"}},
        {&PinRow::section,
         "section",
         {"section", "cross-section", "cross section", "mm2", "mm²", "wire size", "size", "gauge"}},
        {&PinRow::current,
         "current",
         {"current", "real current", "draws", "draw", "amperes", "amp", "a", "max current", "load current"}},
        {&PinRow::expected,
         "expected",
         {"expected", "expect", "expected value", "expected values", "should read", "should be", "specification",
          "normal", "normal value", "nominal", "reading"}},
        {&PinRow::ownReturn, "own_return", {"own return", "its return"}},
        {&PinRow::hazard, "hazard", {"hazard", "danger", "never probe"}},
        {&PinRow::source, "source", {"source", "reference", "page", "diagram", "sheet", "drawing"}},
        {&PinRow::asFound, "as_found", {"as found", "found"}}};
    return all;
}

// Cells of one CSV record after another. SOURCE: RFC 4180, with any separator.
class Records {
public:
    Records(std::string_view text, char separator) : text_(text), separator_(separator) {}

    // False at the end. `line` is the line the record starts on.
    bool next(std::vector<std::string>& cells, int& line)
    {
        cells.clear();
        if (at_ >= text_.size()) return false;
        line = line_;
        cells.emplace_back();
        bool quoted = false;
        for (; at_ < text_.size(); ++at_) {
            const char c = text_[at_];
            if (c == '\n') ++line_;
            if (quoted) {
                if (c == '"' && at_ + 1 < text_.size() && text_[at_ + 1] == '"')
                    cells.back() += '"', ++at_;
                else if (c == '"')
                    quoted = false;
                else
                    cells.back() += c;
            } else if (c == '"' && trimmed(cells.back()).empty()) {
                quoted = true;
                cells.back().clear();
            } else if (c == separator_) {
                cells.emplace_back();
            } else if (c == '\n') {
                ++at_;
                break;
            } else {
                cells.back() += c;
            }
        }
        for (std::string& cell : cells)
            cell = std::string(trimmed(cell));
        return true;
    }

private:
    std::string_view text_;
    char separator_;
    std::size_t at_ = 0;
    int line_ = 1;
};

std::string fromLatin1(std::string_view bytes)
{
    std::string out;
    for (const char c : bytes) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte < 0x80)
            out += c;
        else
            out += static_cast<char>(0xC0 | (byte >> 6)), out += static_cast<char>(0x80 | (byte & 0x3F));
    }
    return out;
}

// "Pin #", "Section (mm²)" and "No." as their words alone.
std::string plainHeader(std::string_view header)
{
    std::string low = lowered(trimmed(header.substr(0, header.find('('))));
    while (!low.empty() && std::string_view(" .:#").find(low.back()) != std::string_view::npos)
        low.pop_back();
    return low.empty() ? lowered(trimmed(header)) : low;
}

const Column* columnNamed(std::string_view header)
{
    const std::string low = plainHeader(header);
    for (const Column& column : columns()) {
        if (low == column.key || std::find(column.names.begin(), column.names.end(), low) != column.names.end())
            return &column;
    }
    return nullptr;
}

struct Header {
    std::vector<const Column*> columns;  // by cell; nullptr for one that is not known
    std::vector<std::string> unknown;    // the names of those
    int line = 0;
    int notes = -1;             // the cell of remarks that may name the part at the far end
    bool hasFarEnd = false;     // which another column names
    bool hasAmps = false;       // a column of amperes that may be of fuses
    bool isNamedTwice = false;  // two columns name the circuit, and the second is taken for the role where it is one
};

bool hasNeeded(const std::vector<const Column*>& found)
{
    for (const std::string_view needed : {"cavity", "circuit"}) {
        if (std::none_of(found.begin(), found.end(), [&](const Column* c) { return c && c->key == needed; }))
            return false;
    }
    return true;
}

// Of two columns that both name the circuit, as "name" and "function", where none gives the role the second does.
void findRole(Header& header)
{
    const Column* role = columnNamed("role");
    if (std::find(header.columns.begin(), header.columns.end(), role) != header.columns.end()) return;
    bool named = false;
    for (const Column*& column : header.columns) {
        if (!column || column->key != "circuit") continue;
        if (named) column = role, header.isNamedTwice = true;
        named = true;
    }
}

// In a list of cavities and wires the wire is named, not its colour.
void findName(const std::vector<std::string>& cells, std::vector<const Column*>& found)
{
    const Column *circuit = columnNamed("circuit"), *colour = columnNamed("colour");
    if (std::find(found.begin(), found.end(), circuit) != found.end()) return;
    const auto at = std::find(found.begin(), found.end(), colour);
    if (at != found.end() &&
        plainHeader(cells[static_cast<std::size_t>(at - found.begin())]).find("colo") == std::string::npos)
        *at = circuit;
}

// The way of a wire, where another column has its cavity.
void findWay(const std::vector<std::string>& cells, std::vector<const Column*>& found)
{
    const Column *cavity = columnNamed("cavity"), *route = columnNamed("route");
    if (std::ranges::count(found, cavity) < 2 || std::ranges::count(found, route) > 0) return;
    for (std::size_t i = 0; i < found.size(); ++i)
        if (plainHeader(cells[i]) == "way") found[i] = route;
}

// Of two columns for the far end the one that says where the wire goes is its way, where no column is.
void findGoesTo(const std::vector<std::string>& cells, std::vector<const Column*>& found)
{
    static constexpr std::array<std::string_view, 10> goes{"to",          "goes to",     "from/to",  "from / to",
                                                           "destination", "connects to", "leads to", "wired to",
                                                           "attached to", "connected to"};
    const Column *farEnd = columnNamed("far end"), *route = columnNamed("route");
    if (std::ranges::count(found, farEnd) < 2 || std::ranges::count(found, route) > 0) return;
    for (std::size_t i = 0; i < found.size(); ++i) {
        if (found[i] != farEnd || std::ranges::find(goes, plainHeader(cells[i])) == goes.end()) continue;
        found[i] = route;
        return;
    }
}

// "Amps" are of the fuse where a column beside them names it, else of the circuit.
bool findAmps(const std::vector<std::string>& cells, std::vector<const Column*>& found)
{
    if (std::ranges::count(found, columnNamed("fuse")) > 0) return false;
    bool named = false;
    for (std::size_t i = 0; i < found.size(); ++i)
        if (plainHeader(cells[i]) == "amps") found[i] = columnNamed("current"), named = true;
    return named;
}

// A usual rating beside a fuse of which none is told may be the fuse's.
bool mayBeRating(const PinRow& row)
{
    static constexpr std::array<double, 13> usual{3, 5, 7.5, 10, 15, 20, 25, 30, 40, 50, 60, 70, 80};
    const auto route = parseRoute(row.route);
    const auto told = parseStated(row.current, Unit::Ampere);
    const auto current = told ? told : parseStated(row.current + " A", Unit::Ampere);
    const bool isUsual = current && std::ranges::find(usual, current->middle()) != usual.end();
    return route && isUsual && std::ranges::any_of(*route, [](const RoutePlace& p) {
               return p.kind == RoutePlace::Kind::Fuse && !p.rating_A;
           });
}

// Two columns of one meaning are both kept.
void addCell(const Column& column, const std::string& text, std::string& cell)
{
    if (text.empty()) return;
    cell += (cell.empty() ? "" : column.key == "expected" ? " / " : ", ") + text;
}

// What remarks say beside a part that is named: its other wires, how it rests, and of a drive without a role its side.
void readNotes(const std::string& notes, PinRow& row)
{
    if (!row.otherEnd.empty()) row.otherEnd += clausesOfPart(notes);
    const auto role = parseRole(notes);
    if (row.role.empty() && role && groupOf(role->role) == Group::Drives) row.role = notes;
}

// A list without a column for it names the parts among its remarks.
bool isNotes(std::string_view header)
{
    const std::string low = plainHeader(header);
    return low == "notes" || low == "note" || low == "remarks" || low == "remark" || low == "comment" ||
           low == "comments";
}

// A column whose own name nobody knows is what most of its cells are, where no other column is that.
void findByCells(std::string_view text, char separator, const std::vector<std::string>& names, Header& header,
                 const Column* wanted, const std::function<bool(const std::string&)>& is)
{
    constexpr int least = 2;
    if (std::ranges::count(header.columns, wanted) > 0) return;
    std::vector<int> filled(header.columns.size()), so(header.columns.size());
    Records records(text, separator);
    std::vector<std::string> cells;
    for (int line = 0; records.next(cells, line);) {
        for (std::size_t i = 0; line > header.line && i < std::min(cells.size(), filled.size()); ++i) {
            if (header.columns[i] || cells[i].empty() || isNotes(names[i])) continue;
            ++filled[i];
            if (is(cells[i])) ++so[i];
        }
    }
    for (std::size_t i = 0; i < filled.size(); ++i) {
        if (so[i] < least || 3 * so[i] < 2 * filled[i]) continue;
        header.columns[i] = wanted;
        std::erase(header.unknown, "“" + names[i] + "”");
        return;
    }
}

void findNotes(const std::vector<std::string>& cells, Header& header)
{
    const Column* far = columnNamed("far end");
    header.hasFarEnd = std::find(header.columns.begin(), header.columns.end(), far) != header.columns.end();
    const auto notes = std::find_if(cells.begin(), cells.end(), isNotes);
    if (notes == cells.end()) return;
    header.notes = static_cast<int>(notes - cells.begin());
    std::erase(header.unknown, "“" + *notes + "”");
}

// The separator whose header names cavity and circuit within the first twenty records.
std::optional<Header> findHeader(std::string_view text, char separator)
{
    Records records(text, separator);
    std::vector<std::string> cells;
    Header header;
    for (int n = 0; n < 20 && records.next(cells, header.line); ++n) {
        header.columns.clear(), header.unknown.clear();
        for (const std::string& cell : cells) {
            header.columns.push_back(columnNamed(cell));
            if (!header.columns.back() && !cell.empty()) header.unknown.push_back("“" + cell + "”");
        }
        findName(cells, header.columns);
        findWay(cells, header.columns);
        findGoesTo(cells, header.columns);
        header.hasAmps = findAmps(cells, header.columns);
        if (!hasNeeded(header.columns)) continue;
        findByCells(text, separator, cells, header, columnNamed("role"),
                    [](const std::string& cell) { return parseRole(cell).has_value(); });
        findByCells(text, separator, cells, header, columnNamed("far end"),
                    [](const std::string& cell) { return parseFarEnd(cell).kind != FarEnd::Kind::Unknown; });
        findRole(header);
        findNotes(cells, header);
        return header;
    }
    return std::nullopt;
}

// The last column of a list says where a wire goes: of a feed, a return or a consumer that is its way.
void takeWay(PinRow& row, PinSheet& sheet)
{
    if (!row.route.empty() || row.otherEnd.empty()) return;
    const auto way = parseRoute(row.otherEnd);
    if (way)
        row.route = std::exchange(row.otherEnd, "");
    else if (row.isTerminal())
        sheet.remarks.push_back(
            {fmt::format("row {}, far end", row.line), "“" + row.otherEnd + "” is left out: " + way.error().reason});
}

// A part of the machine that is not at the module.
void readLooseRow(PinRow row, PinSheet& sheet)
{
    static constexpr std::array<std::string_view, 7> kinds{"consumer", "source",     "bus node", "function",
                                                           "code",     "known weak", "splice"};
    const auto refuse = [&](const char* field, const std::string& reason) {
        sheet.faulty.push_back(row);
        sheet.problems.push_back({fmt::format("row {}, {}", row.line, field), reason});
    };
    auto kind = looseRowFromText(row.role);
    // "S3, feed" by its name.
    if (!kind && isSpliceName(row.circuit)) kind = LooseRow::Splice;
    if (!kind)
        return refuse("role",
                      "“" + row.role +
                          "” has no cavity; such a row is a consumer, a source, a splice, a bus node, a function, a "
                          "code or known weak");
    if (row.circuit.empty()) return refuse("circuit", "what stands here has no name");
    if (*kind == LooseRow::Consumer || *kind == LooseRow::Splice) takeWay(row, sheet);
    if (*kind == LooseRow::Splice && row.route.empty())
        return refuse("route", "where the splice is fed from or grounded is to stand here: F5 30 A > K2, or G1");
    row.loose = kinds[static_cast<std::size_t>(*kind)];
    row.cavity = 0;
    sheet.rows.push_back(std::move(row));
}

// "SG", "D+", "5V": a terminal of a unit that has names and no numbers.
bool isTerminalName(std::string_view text)
{
    constexpr std::size_t longest = 6;
    return !text.empty() && text.size() <= longest && std::any_of(text.begin(), text.end(), isLetter) &&
           std::all_of(text.begin(), text.end(),
                       [](char c) { return isLetter(c) || isDigit(c) || c == '+' || c == '-' || c == '_'; });
}

// The name alone, or behind that of its connector: "X1/31a".
bool readTerminalName(const std::string& text, PinRow& row)
{
    const std::size_t cut = text.find_last_of("/:. ");
    const std::string name = cut == std::string::npos ? text : text.substr(cut + 1);
    if (!isTerminalName(name)) return false;
    const std::string before(trimmed(std::string_view(text).substr(0, cut == std::string::npos ? 0 : cut)));
    if (!before.empty() && !isTerminalName(before)) return false;
    if (!before.empty()) row.connector = before;
    row.written = text;
    return true;
}

// Those have a place on the connector's face all the same: by the letters of the name, so that it stays when rows are
// added, and the next free one.
void placeNamed(std::vector<PinRow>& rows, std::set<std::string>& seen)
{
    constexpr unsigned places = 50;
    for (PinRow& row : rows) {
        if (!row.isTerminal() || row.cavity > 0) continue;
        unsigned at = 0;
        for (const char c : row.written)
            at = at * 31 + static_cast<unsigned char>(c);
        const auto name = [&] { return row.connector + "-" + std::to_string(at % places + 1); };
        for (unsigned tried = 0; tried < places && !seen.insert(name()).second; ++tried)
            ++at;
        row.cavity = static_cast<int>(at % places) + 1;
    }
}

// "DI2", "gate closed": the first name tells what it is, the second which one.
void joinNames(PinRow& row, PinSheet& sheet)
{
    if (row.role.empty() || roleFromText(row.role)) return;
    PinRow first = row, both = row;
    first.role.clear();
    both.role.clear();
    both.circuit += (both.circuit.empty() ? "" : " ") + row.role;
    const bool isRole = !isNoRole(row.role), tells = !row.circuit.empty() && roleOf(first);
    if (!isRole && !tells && !roleOf(both)) return;
    // "net brake" is a name already, "T15" hardly.
    const bool isName = !row.circuit.empty() && std::none_of(row.circuit.begin(), row.circuit.end(), isDigit);
    if (isRole && isName) return;
    if (!isRole) row.role = tells ? row.circuit : "", sheet.rolesFromNames += tells ? 1 : 0;
    row.circuit = both.circuit;
}

void readRow(const Header& header, const std::vector<std::string>& cells, int line, std::set<std::string>& seen,
             PinSheet& sheet)
{
    PinRow row;
    row.line = line;
    std::string cavity, connector;
    for (std::size_t i = 0; i < cells.size() && i < header.columns.size(); ++i) {
        const Column* column = header.columns[i];
        if (!column) continue;
        if (column->cell)
            addCell(*column, cells[i], row.*(column->cell));
        else
            (column->key == "cavity" ? cavity : connector) = cells[i];
    }
    for (std::size_t i = header.columns.size(); i < cells.size(); ++i) {
        if (!cells[i].empty())
            sheet.remarks.push_back(
                {fmt::format("row {}", line), "“" + cells[i] +
                                                  "” stands behind the last column and is left out; a separator "
                                                  "too many, or one inside a text that has no quotes?"});
    }
    if (const auto at = static_cast<std::size_t>(header.notes); header.notes >= 0 && at < cells.size()) {
        if (header.hasFarEnd)
            readNotes(cells[at], row);
        else if (parseFarEnd(cells[at]).kind != FarEnd::Kind::Unknown)
            row.otherEnd = cells[at];
        else if (!cells[at].empty())
            sheet.remarks.push_back(
                {fmt::format("row {}, remark", line), "“" + cells[at] + "” names no part; left out"});
    }
    if (header.hasAmps && mayBeRating(row)) {
        sheet.remarks.push_back(
            {fmt::format("row {}, amps", line), "“" + row.current +
                                                    "” may be the fuse's rating or what flows; left out. A rating "
                                                    "stands behind the fuse: F1 40 A"});
        row.current.clear();
    }
    // What a column of ways says that is no way is the part.
    if (!row.route.empty() && row.otherEnd.empty() && !parseRoute(row.route) &&
        parseFarEnd(row.route).kind != FarEnd::Kind::Unknown)
        row.otherEnd = std::exchange(row.route, "");
    if (!connector.empty() && !cavity.empty()) cavity = connector + "-" + cavity;
    const auto item = [&](const char* field) { return fmt::format("row {}, {}", line, field); };
    const auto refuse = [&](const char* field, const std::string& reason) {
        row.written = cavity;
        sheet.faulty.push_back(row);
        sheet.problems.push_back({item(field), reason});
    };
    if (cavity.empty()) return readLooseRow(std::move(row), sheet);
    if (!readCavity(cavity, row) && !readTerminalName(cavity, row))
        return refuse("cavity", "“" + cavity + "” is no cavity; J1-14 or 14 is expected");
    if (header.isNamedTwice) joinNames(row, sheet);
    const bool byName = row.role.empty() && !row.circuit.empty();
    const auto role = roleOf(row);
    if (!role) return refuse("role", fmt::format("“{}” {}", byName ? row.circuit : row.role, role.error().reason));
    row.role = roleName(role->role);
    sheet.rolesFromNames += byName ? 1 : 0;
    if (isSupply(role->role) || role->role == Role::Return) takeWay(row, sheet);
    if (!role->relay.empty()) row.relay = role->relay;
    if (!role->fedBy.empty()) row.fedBy = role->fedBy;
    // Another level than the customary one is what is expected of it.
    constexpr double within = 0.05;
    if (role->level_V > 0 && role->level_V != trade::reference_V && row.expected.empty())
        row.expected =
            fmt::format("key on {:.4g}..{:.4g} V", (1 - within) * role->level_V, (1 + within) * role->level_V);
    if (role->role == Role::DifferentialBus) row.side = role->lowLine ? "low" : role->highLine ? "high" : "";
    if (role->role == Role::DutyDrive && role->highLine) row.side = "high";
    if (row.circuit.empty() && role->role != Role::Empty) return refuse("circuit", "the circuit has no name");
    const std::string place = row.cavity > 0 ? std::to_string(row.cavity) : row.written;
    if (!seen.insert(row.connector + "-" + place).second) return refuse("cavity", row.id() + " is listed twice");
    if (const auto colour = parseColour(row.colour); !colour) {
        sheet.remarks.push_back({item("colour"), colour.error().message() + "; left out"});
        row.colour.clear();
    }
    sheet.rows.push_back(std::move(row));
}

}  // namespace

bool readCavity(std::string_view text, PinRow& row)
{
    text = trimmed(text);
    // A cavity of one letter, "C" or "J2-C": counted from A.
    const bool lettered = !text.empty() && isLetter(text.back()) &&
                          (text.size() == 1 || std::string_view("-._:/ ").find(text[text.size() - 2]) != text.npos);
    if (lettered) {
        PinRow counted = row;
        const int n = (text.back() | 0x20) - 'a' + 1;
        const std::string before(trimmed(text.substr(0, text.size() - 1)));
        if (!readCavity(before + std::to_string(n), counted)) return false;
        row.connector = counted.connector, row.cavity = counted.cavity, row.written = std::string(text);
        return true;
    }
    std::size_t digits = text.size();
    while (digits > 0 && text[digits - 1] >= '0' && text[digits - 1] <= '9')
        --digits;
    const std::string_view number = text.substr(digits);
    if (number.empty() || number.size() > 4) return false;
    row.cavity = std::stoi(std::string(number));
    std::string_view before = trimmed(text.substr(0, digits));
    while (!before.empty() && std::string_view("-._:/ ").find(before.back()) != std::string_view::npos)
        before.remove_suffix(1);
    if (!before.empty()) row.connector = before;
    const bool plain = std::all_of(row.connector.begin(), row.connector.end(), [](char c) {
        return isDigit(c) || (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_' || c == '-';
    });
    const std::string plainName = row.connector + "-" + std::to_string(row.cavity);
    row.written = text == plainName ? "" : std::string(text);
    return row.cavity >= 1 && plain && row.connector.size() <= 16;
}

Result<PinSheet> readPinSheet(std::string_view text, const std::string& fileName)
{
    if (text.find('\0') != std::string_view::npos)
        return fail(fileName, "this is not a text file; save the sheet as CSV first");
    PinSheet sheet;
    std::string own;
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    if (!isUtf8(text)) {
        own = fromLatin1(text);
        text = own;
        sheet.remarks.push_back(
            {fileName, "the text is not UTF-8 and was read as Latin-1; look at the letters with accents"});
    }
    std::optional<Header> header;
    for (const char separator : {',', ';', '\t', '|'}) {
        header = findHeader(text, separator);
        sheet.separator = separator;
        if (header) break;
    }
    if (!header)
        return fail(
            fileName,
            "no header row with the columns cavity (or pin) and circuit (or name) was found; role may be a third");
    Records records(text, sheet.separator);
    std::vector<std::string> cells;
    std::set<std::string> seen;
    for (int line = 0; records.next(cells, line);) {
        const bool blank = std::all_of(cells.begin(), cells.end(), [](const std::string& c) { return c.empty(); });
        if (line > header->line && !blank) readRow(*header, cells, line, seen, sheet);
        if (sheet.rows.size() + sheet.problems.size() > mostPinRows)
            return fail(fileName,
                        fmt::format("has more than {} rows; a pin sheet lists the terminals of one module. Is "
                                    "this the right file?",
                                    mostPinRows));
    }
    if (sheet.rows.empty() && sheet.problems.empty()) return fail(fileName, "there is no row below the header");
    findSpliceRows(sheet.rows);
    for (const std::size_t i : splicesOfNoRow(sheet.rows)) {
        const PinRow& row = sheet.rows[i];
        sheet.remarks.push_back({fmt::format("row {}, circuit", row.line),
                                 fmt::format("no row leads to {0}; left out until one says “other wire {0}” or has it "
                                             "in its route",
                                             row.circuit)});
    }
    placeNamed(sheet.rows, seen);
    if (header->notes >= 0)
        sheet.remarks.push_back({"the column of remarks", "taken where it tells of the part at the far end"});
    if (!header->unknown.empty())
        sheet.remarks.push_back(
            {"columns", fmt::format("not known and left out: {}", fmt::join(header->unknown, ", "))});
    if (const int n = sheet.rolesFromNames; n > 0)
        sheet.remarks.push_back({n == 1 ? "1 role" : fmt::format("{} roles", n),
                                 "taken from the names. Look them over, and write another where one is wrong."});
    return sheet;
}

std::string pinSheetTemplate()
{
    return "cavity,circuit,role,colour,route,far end,current,expected,source\n"
           "J1-1,main supply,\"supply, by relay K1\",red/yellow,S2 > F14 20 A > K1,,6 A,,diagram page 12\n"
           "J1-7,power return,return,brown,G1,,,,diagram page 12\n"
           "J1-10,sensor reference,reference,grey/blue,,pressure sensor,,,diagram page 30\n"
           "J1-12,lift valve,\"drive, low side\",green,X4-2,\"solenoid 11–14 Ω, other wire S2\",,commanded 0.9..1.2 "
           "A,diagram page 31\n";
}

std::string writePinRow(const PinRow& row)
{
    nlohmann::json out{{"connector", row.connector}, {"cavity", row.cavity}};
    for (const Column& column : columns()) {
        if (column.cell && !(row.*(column.cell)).empty()) out[std::string(column.key)] = row.*(column.cell);
    }
    if (!row.written.empty()) out["name"] = row.written;
    if (!row.side.empty()) out["side"] = row.side;
    if (!row.loose.empty()) out["loose"] = row.loose;
    if (!row.holds.empty()) out["holds"] = row.holds;
    if (row.whole) out["whole"] = true;
    return out.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

Result<PinRow> readPinRow(std::string_view text)
{
    const auto object = parseJson(text, "the row");
    if (!object) return tl::unexpected(object.error());
    Problems problems;
    Fields f(*object, "the row", problems);
    PinRow row;
    row.connector = f.text("connector", Need::Required);
    row.loose = f.text("loose", Need::Optional);
    row.side = f.text("side", Need::Optional);
    row.cavity = f.whole("cavity", row.loose.empty() ? 1 : 0, 9999, Need::Required);
    for (const Column& column : columns()) {
        if (column.cell) row.*(column.cell) = f.text(std::string(column.key), Need::Optional);
    }
    row.written = f.text("name", Need::Optional);
    row.holds = f.text("holds", Need::Optional);
    row.whole = f.flag("whole");
    f.reportUnknown();
    if (!problems.empty()) return tl::unexpected(problems.front());
    return row;
}

}  // namespace ilvek
