#include "machine/connector_face.h"

#include <algorithm>

#include <fmt/format.h>

#include <vector>

#include "base/text.h"

namespace ilvek {

namespace {

std::string cavityWords(const Map& map, const Connector& connector, int number)
{
    const int index = connector.terminals[static_cast<std::size_t>(number - 1)];
    if (index < 0) return fmt::format("an unlisted cavity ({})", number);
    const Terminal& t = map.terminal(index);
    if (t.role == Role::Empty || t.asFound == AsFound::Empty) return fmt::format("an empty cavity ({})", number);
    const std::string colour = t.colour.words();
    return fmt::format("{} ({})", colour.empty() ? "a wire of unknown colour" : colour, number);
}

std::string rowWords(const Connector& connector, const CavityPlace& at)
{
    static const std::vector<std::string> ordinals{"first", "second", "third",   "fourth",
                                                   "fifth", "sixth",  "seventh", "eighth"};
    const bool corner = at.column == 0 || at.column == connector.columns - 1;
    std::string row = "the row";
    if (connector.rows > 1) {
        row = at.row == 0                    ? "the upper row"
              : at.row == connector.rows - 1 ? "the lower row"
                                             : "row " + std::to_string(at.row + 1) + " from the top";
    }
    if (corner) return fmt::format("{} end of {}", at.column == 0 ? "left" : "right", row);
    const auto from = static_cast<std::size_t>(at.column);
    return from < ordinals.size() ? fmt::format("{} from the left in {}", ordinals[from], row)
                                  : fmt::format("number {} from the left in {}", at.column + 1, row);
}

}  // namespace

CavityPlace placeOf(const Connector& connector, int number, Seen seen)
{
    CavityPlace place{(number - 1) / connector.columns, (number - 1) % connector.columns};
    const bool numberedHere = connector.numberedFromWireSide == (seen == Seen::WireSide);
    if (!numberedHere) place.column = connector.columns - 1 - place.column;
    return place;
}

int numberAt(const Connector& connector, CavityPlace place, Seen seen)
{
    const bool numberedHere = connector.numberedFromWireSide == (seen == Seen::WireSide);
    const int column = numberedHere ? place.column : connector.columns - 1 - place.column;
    return place.row * connector.columns + column + 1;
}

std::vector<int> terminalsBeside(const Map& map, int terminal)
{
    const auto& all = map.connectors[static_cast<std::size_t>(map.terminal(terminal).connector)].terminals;
    const auto here = std::find(all.begin(), all.end(), terminal);
    std::vector<int> out;
    if (here == all.end()) return out;
    if (here != all.begin() && *(here - 1) >= 0) out.push_back(*(here - 1));
    if (here + 1 != all.end() && *(here + 1) >= 0) out.push_back(*(here + 1));
    return out;
}

std::string findingWords(const Map& map, int terminal, Seen seen)
{
    const Terminal& t = map.terminal(terminal);
    const Connector& connector = map.connectors[static_cast<std::size_t>(t.connector)];
    const CavityPlace at = placeOf(connector, t.number, seen);
    std::vector<std::string> beside;
    for (const int step : {-1, 1}) {
        const CavityPlace next{at.row, at.column + step};
        if (next.column >= 0 && next.column < connector.columns)
            beside.push_back(cavityWords(map, connector, numberAt(connector, next, seen)));
    }
    std::string words = t.colour.words().empty() ? "colour unknown" : t.colour.words();
    words += ", " + rowWords(connector, at);
    if (beside.size() == 2) words += ", between " + listed(beside);
    if (beside.size() == 1) words += ", next to " + beside.front();
    if (at.row + 1 < connector.rows)
        words += ", above " + cavityWords(map, connector, numberAt(connector, {at.row + 1, at.column}, seen));
    else if (at.row > 0)
        words += ", below " + cavityWords(map, connector, numberAt(connector, {at.row - 1, at.column}, seen));
    return words;
}

}  // namespace ilvek
