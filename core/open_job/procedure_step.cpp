#include "open_job/procedure_step.h"

#include "open_job/taking.h"

namespace ilvek {

namespace {

Bay bayOf(const OpenJob& open, std::int64_t now_ms)
{
    return {open.job.map, open.assessment, {now_ms, open.job.state}, open.reports().dead};
}

}  // namespace

std::vector<Procedure> proceduresOf(const OpenJob& open, std::int64_t now_ms)
{
    return proceduresOf(bayOf(open, now_ms));
}

std::optional<Procedure> procedureOf(const OpenJob& open, std::string_view id, const std::string& subject,
                                     std::int64_t now_ms)
{
    return procedureOf(bayOf(open, now_ms), id, subject);
}

std::optional<Procedure> followed(const OpenJob& open, std::int64_t now_ms)
{
    if (open.job.followed.procedure.empty()) return std::nullopt;
    return procedureOf(open, open.job.followed.procedure, open.job.followed.subject, now_ms);
}

std::optional<Step> stepOf(const Map& map, const Asked& asked)
{
    if (asked.kind != Asked::Kind::Reading) return std::nullopt;
    if (!asked.step.title.empty()) return asked.step;
    Step step = stepAnywhere(map, asked.step);
    const PlacedTest placed = placedTest(map, asked.step, asked.figure, false);
    step.test = placed.test;
    step.terminal = map.terminalIndex(placed.terminal);
    step.effort_s = asked.step.effort_s;
    if (asked.figure != FigureKind::Volts) step.expectation = expectedWords(map, step);
    return step;
}

}  // namespace ilvek
