// Pieces that every page on paper is made of. Internal to report.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace ilvek {

// The look of all pages.
std::string_view pageStyle();
// Of users: escaped, and with places where a word longer than any line may be broken.
std::string e(std::string_view text);
// "<p><b>label</b> text</p>"; nothing without a text.
std::string paragraph(std::string_view label, std::string_view text);
std::string list(std::string_view label, const std::vector<std::string>& items);
// As the clock on the wall showed it, with its zone; files keep UTC.
std::string readableTime(std::int64_t time_ms);

}  // namespace ilvek
