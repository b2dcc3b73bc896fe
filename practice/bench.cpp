#include "practice/bench.h"

#include <algorithm>

#include "proving/rules.h"

namespace ilvek::practice {

namespace {

constexpr double readBattery_s = 30;

class Hand {
public:
    Hand(const Map& map, SimulatedMachine& machine) : map_(map), machine_(machine) {}

    bool take(const Step& step)
    {
        wait(step);
        if (step.test == TestKind::Battery) {
            standing_.state = map_.stateIndex(step.state);
            return read(step, readBattery_s);
        }
        // An eye needs no battery of the minute.
        const bool needsBattery = step.test != TestKind::Look;
        const bool stale = clock_s_ - batteryAt_s_ > rules::batteryFreshFor_s - 15 || batteryState_ != step.state;
        if (needsBattery && stale && !read(batteryStep(map_, step.state), readBattery_s)) return false;
        standing_.state = map_.stateIndex(step.state);
        standing_.unplugged.clear();
        for (const std::string& id : step.unplugged)
            standing_.unplugged.push_back(map_.connectorIndex(id));
        standing_.load = step.load;
        return read(step, 15);
    }

    const Standing& standing() const { return standing_; }
    const Evidence& evidence() const { return evidence_; }
    double minutes() const { return clock_s_ / 60; }

private:
    // What must be done before the leads are put on: state, connectors, reach, load.
    void wait(const Step& step)
    {
        const int state = map_.stateIndex(step.state);
        if (state != standing_.state) clock_s_ += map_.state(state).effort_s;
        const auto unplug = [&](int c) { return map_.connectors[static_cast<std::size_t>(c)].unplug_s; };
        std::vector<int> wanted;
        for (const std::string& id : step.unplugged)
            wanted.push_back(map_.connectorIndex(id));
        const auto has = [](const std::vector<int>& list, int x) {
            return std::find(list.begin(), list.end(), x) != list.end();
        };
        for (const int c : wanted)
            clock_s_ += has(standing_.unplugged, c) ? 0 : unplug(c);
        for (const int c : standing_.unplugged)
            clock_s_ += has(wanted, c) ? 0 : unplug(c);
        clock_s_ += step.effort_s;
    }

    bool read(const Step& step, double takes_s)
    {
        const bool look = step.test == TestKind::Look;
        const auto value = look ? Result<Quantity>(Quantity{}) : machine_.read(step, clock_s_);
        if (!value) return false;
        Reading r = readingOf(step, map_, *value, {}, static_cast<std::int64_t>(1000 * clock_s_) + 1'700'000'000'000);
        if (look) r.found = machine_.look(map_, step.terminal);
        r.id = static_cast<std::int64_t>(evidence_.readings.size()) + 1;
        if (step.test == TestKind::Battery) {
            batteryAt_s_ = clock_s_;
            batteryState_ = step.state;
        }
        evidence_.readings.push_back(std::move(r));
        clock_s_ += takes_s;
        return true;
    }

    const Map& map_;
    SimulatedMachine& machine_;
    Evidence evidence_;
    Standing standing_;
    double clock_s_ = 0, batteryAt_s_ = -1e9;
    std::string batteryState_;
};

}  // namespace

std::optional<Step> firstSuggestion(const Reasoning& reasoning, const Assessment&, const Standing&)
{
    if (reasoning.conclusion.kind != Conclusion::Kind::Open || reasoning.steps.empty()) return std::nullopt;
    return reasoning.steps.front();
}

Run follow(Reasoner& reasoner, SimulatedMachine& machine, const Paper& paper, const School& school, bool complaint,
           int mostTests, const Choice& choice)
{
    reasoner.forget(complaint);
    Run run;
    Hand hand(reasoner.map(), machine);
    Assessment assessment;
    assessment.evidence.school = school;
    for (;;) {
        reasoner.observe(assessment, paper);
        reasoner.refine();
        while (reasoner.buildNext()) {  // what a likely fault calls for
        }
        run.last = reasoner.reason(hand.standing());
        if (run.tests >= mostTests) break;
        const auto step = choice(run.last, assessment, hand.standing());
        if (!step || !hand.take(*step)) break;
        run.tests += step->test == TestKind::Battery ? 0 : 1;
        Evidence evidence = hand.evidence();
        evidence.school = school;
        assessment = assess(reasoner.map(), std::move(evidence), &assessment);
    }
    run.evidence = hand.evidence();
    run.minutes = hand.minutes();
    return run;
}

std::vector<std::string> placesOf(const Reasoner& reasoner, const Run& run)
{
    std::vector<std::string> places;
    if (run.last.groups.empty()) return places;
    const Map& map = reasoner.map();
    for (const int m : run.last.groups.front().members) {
        const Suspect& s = reasoner.suspects()[static_cast<std::size_t>(m)];
        places.push_back(s.id);
        if (s.terminal >= 0) places.push_back(map.terminal(s.terminal).id);
        for (const auto& faults : s.severities) {
            for (const Fault& f : faults) {
                if (f.element >= 0) places.push_back(map.element(f.element).id);
                if (f.nodeA >= 0) places.push_back(map.node(f.nodeA));
                if (f.nodeB >= 0 && f.nodeB != map.batteryMinus() && f.nodeB != map.batteryPlus())
                    places.push_back(map.node(f.nodeB));
            }
        }
    }
    std::sort(places.begin(), places.end());
    places.erase(std::unique(places.begin(), places.end()), places.end());
    return places;
}

}  // namespace ilvek::practice
