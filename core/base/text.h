// Small questions about text, used by every reader.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace ilvek {

// The text without white space at either end (ASCII white space and no-break space).
std::string_view trimmed(std::string_view text);

// ASCII letters lowered; other bytes untouched.
std::string lowered(std::string_view text);

// "a, b and c" for people.
std::string listed(const std::vector<std::string>& words);

// A cell of a comma-separated table, in quotes. What a spreadsheet would run as a formula, also behind blanks or line
// ends, gets a leading apostrophe.
std::string csvCell(std::string_view text);
// Whether a spreadsheet would run it.
bool runsInSpreadsheet(std::string_view text);

// Whether the bytes are well-formed UTF-8 (no overlong forms, no surrogates). SOURCE: RFC 3629.
bool isUtf8(std::string_view bytes);

}  // namespace ilvek
