#include "support/procedure_walker.h"

#include "circuit/operating_point.h"
#include "procedures/in_words.h"

namespace ilvek::test {

ProcedureWalker::ProcedureWalker(const Map& map, std::vector<Fault> truth)
    : job_(map), truth_(std::move(truth)), machine_(job_.map(), truth_)
{
}

void ProcedureWalker::complain(const std::vector<std::string>& functions)
{
    Complaint complaint;
    complaint.text = "does not work";
    complaint.fails = functions;
    job_.enter(complaint);
}

void ProcedureWalker::battery(const std::string& state)
{
    const Step step = batteryStep(job_.map(), state);
    const auto read = machine_.read(step, seconds_);
    ASSERT_TRUE(read);
    job_.take(step, exactQuantity(*read), 2);
}

bool ProcedureWalker::doNext(const Asked& asked)
{
    const Map& map = job_.map();
    seconds_ += 4;
    switch (asked.kind) {
        case Asked::Kind::Statement:
            job_.enter(CheckMade{asked.statement, "none"});
            return true;
        case Asked::Kind::States:
            for (const std::string& state : asked.states)
                job_.enter(StateChange{state});
            return true;
        case Asked::Kind::Functions: {
            FunctionsSeen seen;
            static_cast<SetUp&>(seen) = asked.step;
            auto condition = *conditionOf(map, asked.step);
            for (const Function& f : map.functions) {
                condition.state = f.state;
                condition.faults.clear();
                Condition sound = condition;
                sound.jumpers.clear();
                condition.faults = truth_;
                const auto is = operatingPoint(map, condition), must = operatingPoint(map, sound);
                if (!is || !must) return false;
                bool works = true;
                for (const int e : f.currents)
                    works = works && std::abs(is->currentThrough(e)) > 0.6 * std::abs(must->currentThrough(e));
                for (const int e : f.ports)
                    works = works && is->voltage(map.element(e).nodes[0], map.element(e).nodes[1]) >
                                         map.element(e).value("brown_out");
                (works ? seen.works : seen.fails).push_back(f.id);
            }
            job_.enter(std::move(seen));
            return true;
        }
        case Asked::Kind::Reading:
            break;
    }
    const auto step = stepOf(map, asked);
    if (!step) return false;
    if (step->test != TestKind::Battery && unitAsked(step->test) == Unit::Volt) battery(step->state);
    const auto read = machine_.read(*step, seconds_);
    if (!read) return false;
    job_.take(*step, read->overLimit ? "OL" : exactQuantity(*read), 2);
    return true;
}

Procedure ProcedureWalker::follow(const std::string& id, const std::string& subject, int mostStages)
{
    std::optional<Procedure> p;
    std::string last;
    SetUp before;
    int same = 0;
    for (int i = 0; i < mostStages; ++i) {
        p = procedureOf(job_.open(), id, subject, job_.now());
        EXPECT_TRUE(p) << id << " " << subject;
        if (!p || p->ending) break;
        const Stage* next = p->next();
        // What no figure of this machine answers is asked again and again.
        if (!next || !next->asked) break;
        const SetUp& asked = next->asked->step;
        same = next->id == last && asked == before ? same + 1 : 0;
        last = next->id, before = asked;
        if (same > 2 || !doNext(*next->asked)) break;
    }
    return p.value_or(Procedure{});
}

std::string ProcedureWalker::story(const Procedure& p) const
{
    std::string out = procedureTitle(job_.map(), p) + "\n";
    for (const Stage& s : p.stages) {
        out += fmt::format("  {:<10} {}\n", stageWord(s.state), sentence(s.title));
        for (const Fact& fact : s.says)
            out += "             " + sentence(fact) + "\n";
    }
    const auto& readings = job_.open().assessment.evidence.readings;
    for (std::size_t i = 0; i < readings.size(); ++i)
        out +=
            fmt::format("  {}: {} at {}\n", readings[i].id, figureOf(readings[i]), setUpLine(job_.map(), readings[i]));
    if (p.ending) out += "  End: " + sentence(p.ending->fact) + "\n";
    return out;
}

int elementWith(const Map& map, ElementKind kind, const std::string& words)
{
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        const bool holds = e.id.find(words) != std::string::npos || e.name.find(words) != std::string::npos;
        if (e.kind == kind && holds) return static_cast<int>(i);
    }
    return -1;
}

}  // namespace ilvek::test
