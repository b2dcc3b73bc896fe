#include "opened_job.h"

#include <fmt/format.h>

#include "base/file.h"
#include "reasoning/common_cause.h"

namespace ilvek::cli {

void print(const Problems& problems)
{
    for (const Error& problem : problems)
        fmt::print(stderr, "{}\n", problem.message());
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

Result<Opened, Problems> openEither(const std::string& file)
{
    auto content = readEither(file);
    if (!content) return tl::unexpected(content.error());
    auto job = foldJob(*content);
    if (!job) return tl::unexpected(job.error());
    Opened opened;
    opened.job = std::move(*job);
    opened.assessment = assess(opened.job.map, opened.job.evidence);
    opened.now_ms =
        std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::system_clock::now().time_since_epoch())
            .count();
    opened.gate = gateOf(opened.job.map, opened.assessment, {opened.now_ms, opened.job.state});
    return opened;
}

std::unique_ptr<Reasoner> reasonerFor(const Opened& opened)
{
    const Job& job = opened.job;
    std::vector<std::string> codes;
    for (const Code& code : job.codes)
        codes.push_back(code.code);
    const bool complaint = !job.complaint.text.empty() || !job.complaint.fails.empty();
    auto reasoner = std::make_unique<Reasoner>(job.map, job.evidence.school, complaint);
    while (reasoner->buildNext()) {
    }
    reasoner->observe(opened.assessment, paperOf(job.map, job.complaint.fails, job.complaint.stillWorks, codes));
    reasoner->refine();
    while (reasoner->buildNext()) {  // what a likely fault calls for
    }
    return reasoner;
}

Standing standingOf(const Opened& opened)
{
    Standing standing;
    standing.state = std::max(0, opened.job.map.stateIndex(opened.job.state));
    if (opened.assessment.evidence.readings.empty()) return standing;
    const Reading& last = opened.assessment.evidence.readings.back();
    for (const std::string& id : last.unplugged) {
        if (const int c = opened.job.map.connectorIndex(id); c >= 0) standing.unplugged.push_back(c);
    }
    standing.load = last.load;
    return standing;
}

void weighGate(Opened& opened)
{
    const auto reasoner = reasonerFor(opened);
    weigh(reasoner->reason(standingOf(opened)), opened.job.map.module, opened.gate);
}

}  // namespace ilvek::cli
