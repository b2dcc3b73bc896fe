#include "opened_job.h"

#include <fmt/format.h>

#include "base/file.h"
#include "commands.h"

namespace ilvek::cli {

void print(const Problems& problems)
{
    for (const Error& problem : problems)
        fmt::print(stderr, "{}\n", problem.message());
}

std::int64_t clock_ms()
{
    return std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::system_clock::now().time_since_epoch())
        .count();
}

namespace {

Result<JobContent, Problems> readEither(const std::string& file)
{
    const auto text = readFile(file);
    if (!text) return tl::unexpected(Problems{text.error()});
    if (text->find_first_not_of(" \t\r\n\xEF\xBB\xBF") != std::string::npos &&
        (*text)[text->find_first_not_of(" \t\r\n\xEF\xBB\xBF")] == '{')
        return readHandOver(*text, file);
    const auto journal = Journal::open(file, Access::ReadOnly);
    if (!journal) return tl::unexpected(Problems{journal.error()});
    return journal->content();
}

}  // namespace

Result<JobContent, Problems> contentOf(const std::string& file)
{
    return readEither(file);
}

Result<Opened, Problems> openEither(const std::string& file)
{
    const auto content = readEither(file);
    if (!content) return tl::unexpected(content.error());
    auto open = OpenJob::of(*content);
    if (!open) return tl::unexpected(open.error());
    Opened opened;
    opened.open = std::move(*open);
    opened.now_ms = clock_ms();
    opened.events = content->events;
    opened.gate = opened.open.gate(opened.now_ms, nullptr);
    return opened;
}

int appendTo(const std::string& file, const std::function<Entries(const OpenJob&)>& made)
{
    auto journal = Journal::open(file);
    if (!journal) return print({journal.error()}), BadInput;
    const auto open = OpenJob::of(journal->content());
    if (!open) return print(open.error()), BadInput;
    auto bodies = made(*open);
    if (!bodies) return print({bodies.error()}), BadInput;
    const auto taken = journal->append(std::move(*bodies), clock_ms());
    if (!taken) return print({taken.error()}), CannotWrite;
    return Ok;
}

void weighGate(Opened& opened)
{
    const Reasoning reasoning = weighedInFull(opened.open)->reason(opened.open.standing());
    opened.gate = opened.open.gate(opened.now_ms, &reasoning);
}

}  // namespace ilvek::cli
