#include "job/event.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <ctime>

namespace ilvek {

namespace {

constexpr std::array<std::string_view, std::variant_size_v<EventBody>> kinds{
    "job",       "complaint",  "codes", "reading", "note",           "undo",       "state",
    "repair",    "assumption", "check", "school",  "map-correction", "instrument", "trace",
    "functions", "procedure",  "chart", "debt",    "debt-cleared",   "closed",     "cause",
    "choices",   "decided",    "tried", "photo",   "own-cases"};
constexpr std::array<std::string_view, 5> closings{"repaired", "module-bad", "module-good", "not-found", "help"};

}  // namespace

std::string_view eventKind(const EventBody& body)
{
    return kinds[body.index()];
}

std::string_view verdictWords(JobClosed::Verdict verdict)
{
    static constexpr std::array<std::string_view, 5> words{"found and repaired", "the module is bad",
                                                           "the module is good", "stopped, not found",
                                                           "handed on, help was asked for"};
    return words[static_cast<std::size_t>(verdict)];
}

std::string_view verdictId(JobClosed::Verdict verdict)
{
    return closings[static_cast<std::size_t>(verdict)];
}

std::optional<JobClosed::Verdict> closingFromId(std::string_view id)
{
    const auto at = std::find(closings.begin(), closings.end(), id);
    if (at == closings.end()) return std::nullopt;
    return static_cast<JobClosed::Verdict>(at - closings.begin());
}

bool opensAgain(const EventBody& body)
{
    return !std::holds_alternative<Note>(body) && !std::holds_alternative<DebtCleared>(body) &&
           !std::holds_alternative<JobDetails>(body) && !std::holds_alternative<Undo>(body) &&
           !std::holds_alternative<Photo>(body) && !std::holds_alternative<CauseAnswered>(body) &&
           !std::holds_alternative<OwnCases>(body);
}

std::string writeTime(std::int64_t time_ms)
{
    std::int64_t seconds = time_ms / 1000;
    std::int64_t rest = time_ms % 1000;
    if (rest < 0) rest += 1000, --seconds;
    const auto t = static_cast<std::time_t>(seconds);
    std::tm utc{};
    gmtime_r(&t, &utc);
    return fmt::format("{:04}-{:02}-{:02}T{:02}:{:02}:{:02}.{:03}Z", utc.tm_year + 1900, utc.tm_mon + 1, utc.tm_mday,
                       utc.tm_hour, utc.tm_min, utc.tm_sec, rest);
}

Result<std::int64_t> readTime(std::string_view text)
{
    constexpr std::string_view form = "dddd-dd-ddTdd:dd:dd.dddZ";
    bool fits = text.size() == form.size();
    for (std::size_t i = 0; fits && i < form.size(); ++i)
        fits = form[i] == 'd' ? text[i] >= '0' && text[i] <= '9' : text[i] == form[i];
    if (!fits) return fail(std::string(text), "a time as 2026-11-23T15:04:05.123Z is expected");
    const auto number = [&](std::size_t at, std::size_t length) {
        int n = 0;
        for (std::size_t i = at; i < at + length; ++i)
            n = n * 10 + (text[i] - '0');
        return n;
    };
    std::tm utc{};
    utc.tm_year = number(0, 4) - 1900;
    utc.tm_mon = number(5, 2) - 1;
    utc.tm_mday = number(8, 2);
    utc.tm_hour = number(11, 2);
    utc.tm_min = number(14, 2);
    utc.tm_sec = number(17, 2);
    const std::int64_t time_ms = static_cast<std::int64_t>(timegm(&utc)) * 1000 + number(20, 3);
    if (writeTime(time_ms) != text) return fail(std::string(text), "there is no such date or time");
    return time_ms;
}

}  // namespace ilvek
