// Pin sheets: the list of a module's pins as people make it in a spreadsheet from scattered diagrams.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"
#include "machine/vocabulary.h"

namespace ilvek {

// One row. Texts are as written; empty when the column or the cell is. An empty cell is not known.
struct PinRow {
    int line = 0;  // of the file, from 1
    std::string connector = "C1";
    int cavity = 0;
    std::string written;  // the cavity as it was written, where that is not connector-number: "A1", "23"
    std::string circuit;
    std::string role;
    std::string colour;
    std::string fuse;        // id, with or without its rating: "F14", "F14 20 A"
    std::string fuseRating;  // where the rating has a column of its own
    std::string relay;
    std::string ground;
    std::string splice;
    std::string otherEnd;  // in words, see parseFarEnd()
    std::string route;     // from the pin outwards, see parseRoute()
    std::string current;   // that the circuit carries at full work
    std::string expected;  // see parseExpectedFigures()
    std::string ownReturn;
    std::string hazard;  // why it is never to be probed
    std::string source;
    std::string asFound;  // "", "empty", "wired"
    std::string holds;    // of a correction only: the source whose expected values hold where several disagree
    std::string section;  // of its own wire: "1.5 mm²"
    std::string fedBy;    // of a drive, the supply terminal behind it
    std::string side;     // of a pair of bus lines, "high" or "low"; of a pulsed drive that feeds its part, "high"
    // Of a row without a cavity what it lists: "consumer", "source", "bus node", "function", "code", "known weak".
    std::string loose;
    bool whole = false;  // of a correction only: all of its row, so that an empty cell is one that is not known

    bool isTerminal() const { return loose.empty(); }
    // The terminal's name: as it was written.
    std::string id() const { return written.empty() ? connector + "-" + std::to_string(cavity) : written; }
    // Whether both list the same: one cavity, or what has one name outside the module.
    bool isOfSame(const PinRow& other) const
    {
        return loose == other.loose &&
               (isTerminal() ? connector == other.connector && cavity == other.cavity : circuit == other.circuit);
    }
    bool operator==(const PinRow&) const = default;
};

// "J1-14", "J1.14", "A14", "14": the digits at the end are the cavity, what stands before is the connector; the name
// stays as written. False when it is no cavity.
bool readCavity(std::string_view text, PinRow& row);

// A sheet as read: usable rows, and what is wrong row by row. `fatal` problems leave no map.
struct PinSheet {
    std::vector<PinRow> rows;
    Problems problems;           // "row 7, role: …"; such a row is not in `rows`
    std::vector<PinRow> faulty;  // those rows, as far as they could be read; their cavity as written
    Problems remarks;            // accepted, but worth a look: a colour not known, text not in UTF-8
    int rolesFromNames = 0;      // of rows that give no role
    char separator = ',';
};

// The largest modules have some three hundred terminals.
constexpr std::size_t mostPinRows = 2000;

// Tolerant of separators (comma, semicolon, tab, bar), of a byte order mark, of header names in many forms, of quoted
// cells with line breaks, and of text in Latin-1. ERRORS: no header with cavity, circuit and role; no row at all; more
// than `mostPinRows` of them; binary.
Result<PinSheet> readPinSheet(std::string_view text, const std::string& fileName);

// An empty sheet with the header and three rows as an example.
std::string pinSheetTemplate();

// A row as the JSON text kept in the journal, and back. ERRORS: not such a text.
std::string writePinRow(const PinRow& row);
Result<PinRow> readPinRow(std::string_view json);

}  // namespace ilvek
