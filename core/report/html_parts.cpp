#include "report/html_parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <ctime>

#include "report/report.h"

namespace ilvek {

namespace {

constexpr std::string_view style = R"css(
body{font-family:Lato,"Noto Sans",sans-serif;color:#1a2126;max-width:60em;margin:2em auto;padding:0 1em;font-size:11pt}
h1{font-size:19pt;margin-bottom:2pt} h2{font-size:14pt;margin-top:16pt;border-bottom:1px solid #bdb8aa}
table{border-collapse:collapse;width:100%} td,th{text-align:left;vertical-align:top;padding:3px 8px;border-bottom:1px solid #ddd8cc}
th{color:#46505a} .verdict{font-size:14pt;font-weight:bold;margin:8pt 0} .bad{color:#8f1d17;font-weight:bold} .dim{color:#46505a}
.caution{color:#6a4600;font-weight:bold}
)css";

// A word longer than any line gets places where it may be broken: no line can be laid out otherwise.
std::string breakable(std::string_view text)
{
    constexpr std::size_t longest = 80, broken = 40;
    std::string out;
    std::size_t run = 0;
    bool isLong = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto byte = static_cast<unsigned char>(text[i]);
        const bool blank = byte <= 0x20;
        if (run == 0 && !blank) {
            const auto end = std::find_if(text.begin() + static_cast<std::ptrdiff_t>(i), text.end(),
                                          [](char c) { return static_cast<unsigned char>(c) <= 0x20; });
            isLong = end - text.begin() - static_cast<std::ptrdiff_t>(i) > static_cast<std::ptrdiff_t>(longest);
        }
        const bool startsLetter = (byte & 0xC0U) != 0x80U;
        if (isLong && run >= broken && startsLetter) out += "\xE2\x80\x8B", run = 1;
        out += text[i];
        run = blank ? 0 : run + 1;
    }
    return out;
}

}  // namespace

std::string_view pageStyle()
{
    return style;
}

std::string escapedHtml(std::string_view text)
{
    std::string out;
    for (const char c : text) {
        switch (c) {
            case '&':
                out += "&amp;";
                break;
            case '<':
                out += "&lt;";
                break;
            case '>':
                out += "&gt;";
                break;
            case '"':
                out += "&quot;";
                break;
            case '\'':
                out += "&#39;";
                break;
            default:
                out += c;
        }
    }
    return out;
}

std::string e(std::string_view text)
{
    return escapedHtml(breakable(text));
}

std::string paragraph(std::string_view label, std::string_view text)
{
    return text.empty() ? "" : fmt::format("<p><b>{}</b> {}</p>\n", label, e(text));
}

std::string list(std::string_view label, const std::vector<std::string>& items)
{
    if (items.empty()) return "";
    std::string out = label.empty() ? "<ul>" : fmt::format("<p><b>{}</b></p><ul>", label);
    for (const std::string& item : items)
        out += "<li>" + e(item) + "</li>";
    return out + "</ul>\n";
}

std::string readableTime(std::int64_t time_ms)
{
    // As the clock on the wall showed it, with its zone; files keep UTC.
    const auto seconds = static_cast<std::time_t>(time_ms / 1000);
    std::tm local{};
    ::localtime_r(&seconds, &local);
    char text[64];
    const std::size_t length = std::strftime(text, sizeof text, "%Y-%m-%d %H:%M:%S %Z", &local);
    return std::string(text, length);
}

}  // namespace ilvek
