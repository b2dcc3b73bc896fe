#include <fmt/format.h>

#include <cmath>
#include <nlohmann/json.hpp>

#include "base/text.h"
#include "commands.h"
#include "opened_job.h"
#include "prediction/shown_ohms.h"

namespace ilvek::cli {

namespace {

using nlohmann::json;

json groupsJson(const Reasoner& reasoner, const Reasoning& r)
{
    json groups = json::array();
    for (std::size_t i = 0; i < r.groups.size(); ++i) {
        const SuspectGroup& g = r.groups[i];
        json members = json::array();
        for (const int m : g.members)
            members.push_back(reasoner.suspects()[static_cast<std::size_t>(m)].id);
        groups.push_back({{"words", g.words},
                          {"probability", g.probability},
                          {"inside_module", g.insideModule},
                          {"members", members}});
        if (i < r.exclusions.size() && r.exclusions[i])
            groups.back()["excluded_by"] = {{"title", r.exclusions[i]->step.title},
                                            {"words", r.exclusions[i]->words},
                                            {"chance", r.exclusions[i]->chance},
                                            {"minutes", r.exclusions[i]->minutes}};
    }
    return groups;
}

json suspectsJson(const Reasoner& reasoner, const Reasoning& r)
{
    json suspects = json::array();
    for (const RankedSuspect& s : r.suspects) {
        json readings = json::array();
        for (const SuspectReading& x : s.readings)
            readings.push_back({{"reading", x.id},
                                {"words", x.words},
                                {"measured", x.measured},
                                {"predicted", x.predicted},
                                {"sigma", x.sigma}});
        suspects.push_back({{"id", reasoner.suspects()[static_cast<std::size_t>(s.suspect)].id},
                            {"words", s.words},
                            {"probability", s.probability},
                            {"comes_and_goes", s.intermittent},
                            {"grows", s.growing},
                            {"readings", readings}});
    }
    return suspects;
}

}  // namespace

int jobSuspects(const std::string& file, bool asJson)
{
    const auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    const auto reasoner = weighedInFull(opened->open);
    const Reasoning r = reasoner->reason(opened->open.standing());
    if (asJson) {
        fmt::print("{}\n", json{{"groups", groupsJson(*reasoner, r)},
                                {"suspects", suspectsJson(*reasoner, r)},
                                {"stretch", r.stretch},
                                {"worst_misfit", r.worstMisfit},
                                {"read_again", r.doubtful}}
                               .dump(1));
        return Ok;
    }
    if (!r.stretch.empty()) fmt::print("{}\n\n", r.stretch);
    for (std::size_t i = 0; i < r.groups.size(); ++i) {
        const SuspectGroup& g = r.groups[i];
        if (g.probability < 0.001) continue;
        fmt::print("{:6.1f} %  {}\n", 100 * g.probability, g.words);
        if (i < r.exclusions.size() && r.exclusions[i]) fmt::print("          {}\n", r.exclusions[i]->words);
    }
    if (r.suspects.empty()) return Ok;
    const RankedSuspect& top = r.suspects.front();
    fmt::print("\n{}\n", top.words);
    for (const SuspectReading& x : top.readings) {
        if (!x.isReading) continue;
        // Ohms are weighed in decades and shown as what the meter shows.
        const auto shown = [&](double value) {
            return formatQuantity(x.ohms ? shownOhms(value) : x.current ? amperes(value) : volts(value));
        };
        fmt::print("  {:>4}  {:<40} measured {:>9}, predicted {:>9}, {:.1f} sigma off\n", x.id, x.words,
                   shown(x.measured), shown(x.predicted), std::abs(x.z));
    }
    for (const std::int64_t id : r.doubtful)
        fmt::print("Reading {} fits no likely suspect: read it again.\n", id);
    if (!r.misplaced.empty()) fmt::print("{}\n", r.misplaced);
    return Ok;
}

int jobNext(const std::string& file, bool asJson)
{
    const auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    const auto reasoner = weighedInFull(opened->open);
    const Reasoning r = reasoner->reason(opened->open.standing());
    json tests = json::array();
    for (std::size_t i = 0; i < r.steps.size(); ++i) {
        const Step& step = r.steps[i];
        if (asJson)
            tests.push_back({{"title", step.title},
                             {"test", testId(step.test)},
                             {"red", step.red},
                             {"black", step.black},
                             {"state", step.state},
                             {"unplugged", step.unplugged},
                             {"load", step.load},
                             {"bits", r.tests[i].bits},
                             {"minutes", r.tests[i].minutes},
                             {"reason", r.tests[i].reason},
                             {"cautions", step.cautions}});
        else
            fmt::print("{}. {}\n   {}\n   {}\n", i + 1, step.title, listed(step.instructions), r.tests[i].reason);
        for (const std::string& caution : asJson ? std::vector<std::string>{} : step.cautions)
            fmt::print("   Caution: {}\n", caution);
    }
    // Where no test tells the suspects apart the plan goes on with what is not proven yet.
    const auto plan = r.steps.empty() ? opened->open.gate(opened->now_ms, &r).next : std::nullopt;
    if (plan && asJson)
        tests.push_back({{"title", plan->title},
                         {"test", testId(plan->test)},
                         {"red", plan->red},
                         {"black", plan->black},
                         {"state", plan->state},
                         {"unplugged", plan->unplugged},
                         {"load", plan->load},
                         {"reason", plan->why},
                         {"cautions", plan->cautions}});
    else if (plan)
        fmt::print("No test tells the suspects apart. Next of the plan: {}\n   {}\n   {}\n", plan->title,
                   listed(plan->instructions), plan->why);
    if (asJson) fmt::print("{}\n", tests.dump(1));
    return r.steps.empty() && !plan ? Negative : Ok;
}

int jobCommonCause(const std::string& file, bool asJson)
{
    const auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    const Job& job = opened->open.job;
    Reasoner reasoner(job.map, job.evidence.working, true);
    const auto causes = commonCauses(reasoner, opened->open.reports(), 10);
    json out = json::array();
    for (const CommonCause& cause : causes) {
        const Suspect& s = reasoner.suspects()[static_cast<std::size_t>(cause.suspect)];
        if (asJson) {
            out.push_back({{"id", s.id},
                           {"words", s.words},
                           {"probability", cause.probability},
                           {"explains", cause.explains},
                           {"leaves_open", cause.leavesOpen},
                           {"contradicts", cause.contradicts}});
            continue;
        }
        fmt::print("{:5.1f} %  {}\n         explains {}{}{}\n", 100 * cause.probability, s.words,
                   cause.explains.empty() ? "nothing" : listed(cause.explains),
                   cause.leavesOpen.empty() ? "" : "; not " + listed(cause.leavesOpen),
                   cause.contradicts.empty() ? "" : "; but " + listed(cause.contradicts));
    }
    if (asJson) fmt::print("{}\n", out.dump(1));
    if (causes.empty() && !asJson) fmt::print("No function or code of the map stands in the job's papers.\n");
    return causes.empty() ? Negative : Ok;
}

}  // namespace ilvek::cli
