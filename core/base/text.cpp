#include "base/text.h"

#include <algorithm>
#include <cstdint>

namespace ilvek {

namespace {

bool isSpace(char c)
{
    return c == ' ' || c == '\t' || c == '\r' || c == '\n' || c == '\f' || c == '\v';
}

constexpr std::string_view noBreakSpace = "\xC2\xA0";

// Length of the UTF-8 sequence starting at `at`, or 0 if it is malformed.
std::size_t sequenceLength(std::string_view bytes, std::size_t at)
{
    const auto byte = [&](std::size_t i) { return i < bytes.size() ? static_cast<std::uint8_t>(bytes[i]) : 0U; };
    const auto isTail = [&](std::size_t i) { return (byte(i) & 0xC0U) == 0x80U; };
    const unsigned b0 = byte(at), b1 = byte(at + 1);
    if (b0 < 0x80) return 1;
    if (b0 >= 0xC2 && b0 <= 0xDF) return isTail(at + 1) ? 2 : 0;
    if (b0 >= 0xE0 && b0 <= 0xEF) {
        const bool overlong = b0 == 0xE0 && b1 < 0xA0;
        const bool surrogate = b0 == 0xED && b1 > 0x9F;
        return isTail(at + 1) && isTail(at + 2) && !overlong && !surrogate ? 3 : 0;
    }
    if (b0 >= 0xF0 && b0 <= 0xF4) {
        const bool overlong = b0 == 0xF0 && b1 < 0x90;
        const bool beyond = b0 == 0xF4 && b1 > 0x8F;
        return isTail(at + 1) && isTail(at + 2) && isTail(at + 3) && !overlong && !beyond ? 4 : 0;
    }
    return 0;
}

}  // namespace

std::string_view trimmed(std::string_view text)
{
    for (bool changed = true; changed;) {
        changed = false;
        if (!text.empty() && isSpace(text.front())) text.remove_prefix(1), changed = true;
        if (!text.empty() && isSpace(text.back())) text.remove_suffix(1), changed = true;
        if (text.starts_with(noBreakSpace)) text.remove_prefix(2), changed = true;
        if (text.ends_with(noBreakSpace)) text.remove_suffix(2), changed = true;
    }
    return text;
}

std::string lowered(std::string_view text)
{
    std::string out(text);
    std::transform(out.begin(), out.end(), out.begin(),
                   [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; });
    return out;
}

std::string listed(const std::vector<std::string>& words)
{
    std::string out;
    for (std::size_t i = 0; i < words.size(); ++i) {
        if (i > 0) out += i + 1 == words.size() ? " and " : ", ";
        out += words[i];
    }
    return out;
}

bool runsInSpreadsheet(std::string_view text)
{
    if (text.starts_with('\t') || text.starts_with('\r')) return true;
    // What some programs pass over before they look for a formula: blanks, control characters, no-break and ideographic
    // spaces, byte order marks.
    for (std::size_t passed = 1; passed > 0 && !text.empty(); text.remove_prefix(passed)) {
        passed = static_cast<unsigned char>(text.front()) <= 0x20 || text.front() == 0x7F ? 1 : 0;
        for (const std::string_view blank : {"\xC2\xA0", "\xE3\x80\x80", "\xEF\xBB\xBF", "\xE2\x80\x8B"}) {
            if (text.starts_with(blank)) passed = blank.size();
        }
    }
    const std::string_view wide[] = {"\xEF\xBC\x9D", "\xEF\xBC\x8B", "\xEF\xBC\x8D", "\xEF\xBC\xA0"};  // = + - @
    const bool wideSign = std::any_of(std::begin(wide), std::end(wide), [&](auto w) { return text.starts_with(w); });
    return wideSign || (!text.empty() && std::string_view("=+-@").find(text.front()) != std::string_view::npos);
}

std::string csvCell(std::string_view text)
{
    std::string out = runsInSpreadsheet(text) ? "\"'" : "\"";
    for (const char c : text) {
        if (c == '"') out += '"';
        out += c;
    }
    return out + "\"";
}

bool isUtf8(std::string_view bytes)
{
    for (std::size_t at = 0; at < bytes.size();) {
        const std::size_t length = sequenceLength(bytes, at);
        if (length == 0) return false;
        at += length;
    }
    return true;
}

}  // namespace ilvek
