#include "open_job/open_job.h"

#include <algorithm>
#include <cmath>

#include "papers/told.h"
#include "proving/plausible.h"

namespace ilvek {

Result<OpenJob, Problems> OpenJob::of(const JobContent& content, const OpenJob* before)
{
    auto job = foldJob(content, before ? &before->job : nullptr);
    if (!job) return tl::unexpected(job.error());
    OpenJob open;
    open.job = std::move(*job);
    open.assessment = assess(open.job.map, open.job.evidence, before ? &before->assessment : nullptr);
    open.revision = content.events.empty() ? 0 : content.events.back().id;
    return open;
}

Reports OpenJob::reports() const
{
    // What was told and stored before something was mended is no longer so.
    const bool complaintStands = !isBeforeRepair(job.evidence, job.complaintId);
    std::vector<std::string> codes;
    for (const Code& code : job.codes) {
        if (!isBeforeRepair(job.evidence, job.codesId)) codes.push_back(code.code);
    }
    return weighedReports(job.map, complaintStands ? job.complaint : Complaint{}, codes);
}

bool OpenJob::hasComplaint() const
{
    if (isBeforeRepair(job.evidence, job.complaintId)) return false;
    const Complaint& c = job.complaint;
    return !c.text.empty() || !c.comesAndGoes.empty() || !reports().dead.empty() || !reports().weak.empty();
}

Standing OpenJob::standing() const
{
    Standing standing;
    standing.state = std::max(0, job.map.stateIndex(job.state));
    if (assessment.evidence.readings.empty()) return standing;
    const Reading& last = assessment.evidence.readings.back();
    for (const std::string& id : last.unplugged) {
        if (const int c = job.map.connectorIndex(id); c >= 0) standing.unplugged.push_back(c);
    }
    standing.load = last.load;
    return standing;
}

std::optional<OpenJob::BatteryNow> OpenJob::batteryNow(std::int64_t now_ms) const
{
    const auto& readings = assessment.evidence.readings;
    for (auto it = readings.rbegin(); it != readings.rend(); ++it) {
        if (it->test != TestKind::Battery || it->state != job.state || implausible(job.map, *it)) continue;
        BatteryNow battery{std::abs(it->value.value), static_cast<double>(now_ms - it->time_ms) / 1000.0, &*it};
        if (*battery.age_s < 0) battery.age_s.reset();
        return battery;
    }
    return std::nullopt;
}

Gate OpenJob::gate(std::int64_t now_ms, const Reasoning* reasoning) const
{
    const bool all = reasoning && reasoning->revision == revision;
    return gateOf(job.map, assessment, {now_ms, job.state}, {reasoning, all, reports().dead});
}

std::unique_ptr<Reasoner> weighedInFull(const OpenJob& open)
{
    auto reasoner = std::make_unique<Reasoner>(open.job.map, open.job.evidence.working, open.hasComplaint());
    while (reasoner->buildNext()) {
    }
    reasoner->observe(open.assessment, open.reports(), open.revision);
    reasoner->refine();
    while (reasoner->buildNext()) {  // what a likely fault calls for
    }
    return reasoner;
}

}  // namespace ilvek
