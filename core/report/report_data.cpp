#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "base/text.h"
#include "report/report.h"

namespace ilvek {

namespace {

using nlohmann::json;

json readingJson(const Reading& r, const Judgement& j, bool stale)
{
    json traps = json::array();
    for (const Trap& trap : j.traps)
        traps.push_back({{"trap", trap.id}, {"line", trap.line}});
    json out{{"entry", r.id},
             {"time", writeTime(r.time_ms)},
             {"test", testId(r.test)},
             {"terminal", r.terminal},
             {"state", r.state},
             {"value", r.found || r.shows ? figureOf(r) : exactQuantity(r.value)},
             {"verdict", verdictId(j.verdict)},
             {"word", j.word},
             {"limits", j.limits},
             {"arithmetic", j.arithmetic},
             {"proves", j.proves},
             {"does_not_prove", j.doesNotProve},
             {"traps", traps},
             {"stale", stale}};
    if (r.most) out["most"] = exactQuantity({*r.most, r.value.unit});
    if (j.current_A > 0) out["current"] = exactQuantity(amperes(j.current_A));
    if (j.loopResistance_ohm) out["loop_resistance"] = exactQuantity(ohms(*j.loopResistance_ohm));
    return out;
}

std::string dumped(const json& value)
{
    return value.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

std::string number(double value)
{
    return fmt::format("{}", value);
}

}  // namespace

std::string judgementsJson(const ReportInput& in)
{
    json readings = json::array();
    for (std::size_t i = 0; i < in.assessment.judgements.size(); ++i)
        readings.push_back(
            readingJson(in.assessment.evidence.readings[i], in.assessment.judgements[i], in.assessment.stale[i]));
    json terminals = json::array();
    for (const int terminal : provingOrder(in.job.map, {})) {
        const Proof proof = proofOf(in.job.map, in.assessment, terminal);
        json missing = json::array();
        for (const Requirement& need : proof.missing)
            missing.push_back(need.words);
        terminals.push_back({{"terminal", in.job.map.terminal(terminal).id},
                             {"proof", proofWords(proof.state)},
                             {"missing", missing},
                             {"entries", proof.readings}});
    }
    return dumped({{"readings", readings}, {"terminals", terminals}});
}

std::string gateJson(const ReportInput& in)
{
    json lines = json::array();
    for (const GateLine& line : in.gate.lines) {
        lines.push_back({{"line", line.id},
                         {"state", lineWord(line.state)},
                         {"earned", line.earned},
                         {"total", line.total},
                         {"assumed", line.assumed},
                         {"detail", line.detail},
                         {"entries", line.readings}});
    }
    json out{{"module", in.job.map.module},
             {"outcome", outcomeWords(in.gate.outcome)},
             {"sentence", in.gate.sentence},
             {"located", in.gate.located},
             {"grade", in.gate.grade},
             {"alternative", in.gate.alternative},
             {"lines", lines}};
    if (!in.gate.cheapest.empty()) out["cheapest"] = in.gate.cheapest;
    if (in.gate.next)
        out["next"] = {{"title", in.gate.next->title},
                       {"instructions", in.gate.next->instructions},
                       {"expectation", in.gate.next->expectation}};
    return dumped(out);
}

std::string readingsCsv(const ReportInput& in)
{
    std::string out =
        "entry,time,test,terminal,state,red,black,unplugged,load,value,unit,battery_V,current_A,verdict,word,"
        "arithmetic,limits,traps,stale\n";
    for (std::size_t i = 0; i < in.assessment.judgements.size(); ++i) {
        const Reading& r = in.assessment.evidence.readings[i];
        const Judgement& j = in.assessment.judgements[i];
        std::string traps;
        for (const Trap& trap : j.traps)
            traps += (traps.empty() ? "" : " ") + trap.id;
        const auto& unit = unitSymbol(r.value.unit);
        out += fmt::format("{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{}\n", r.id, writeTime(r.time_ms),
                           testId(r.test), csvCell(r.terminal), csvCell(r.state), csvCell(r.red), csvCell(r.black),
                           csvCell(fmt::format("{}", fmt::join(r.unplugged, " "))), csvCell(r.load),
                           r.found || r.shows || r.most ? csvCell(figureOf(r))
                           : r.value.overLimit          ? "OL"
                                                        : number(r.value.value),
                           unit, r.battery_V ? number(*r.battery_V) : "", j.current_A > 0 ? number(j.current_A) : "",
                           verdictId(j.verdict), csvCell(j.word), csvCell(j.arithmetic), csvCell(j.limits), traps,
                           in.assessment.stale[i] ? "yes" : "no");
    }
    return out;
}

}  // namespace ilvek
