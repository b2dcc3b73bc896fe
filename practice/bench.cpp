#include "practice/bench.h"

#include <algorithm>
#include <iterator>

#include "open_job/taking.h"
#include "quantity/trade.h"

namespace ilvek::practice {

namespace {

constexpr double readBattery_s = 30;
constexpr std::int64_t begin_ms = 1'700'000'000'000;

class Hand {
public:
    Hand(const Map& map, SimulatedMachine& machine) : machine_(machine)
    {
        run_.content.mapDocument = map.document;
        run_.open.job.map = map;
    }

    void enter(EventBody body)
    {
        auto& events = run_.content.events;
        events.push_back({static_cast<std::int64_t>(events.size()) + 1, now_ms(), std::move(body)});
    }

    // What was entered since, counted. Nothing that is entered here can make the map unreadable.
    void refresh() { run_.open = *OpenJob::of(run_.content, &run_.open); }

    bool take(const Step& step)
    {
        wait(step);
        if (step.test == TestKind::Battery) return read(step, readBattery_s);
        // An eye needs no battery of the minute.
        const bool needsBattery = step.test != TestKind::Look;
        const bool stale = clock_s_ - batteryAt_s_ > trade::batteryFreshFor_s - 15 || batteryState_ != step.state;
        if (needsBattery && stale && !read(batteryStep(map(), step.state), readBattery_s)) return false;
        if (!read(step, 15)) return false;
        ++run_.tests;
        return true;
    }

    // Of the run as it stands.
    Run& run()
    {
        run_.minutes = clock_s_ / 60;
        return run_;
    }

private:
    const Map& map() const { return run_.open.job.map; }
    std::int64_t now_ms() const { return static_cast<std::int64_t>(1000 * clock_s_) + begin_ms; }

    // What must be done before the leads are put on: state, connectors, reach, load.
    void wait(const Step& step)
    {
        const Standing now = run_.open.standing();
        const int state = map().stateIndex(step.state);
        if (state != now.state) clock_s_ += map().state(state).effort_s;
        std::vector<int> wanted;
        for (const std::string& id : step.unplugged)
            wanted.push_back(map().connectorIndex(id));
        std::vector<int> moved;
        std::vector<int> apart = now.unplugged;
        std::sort(wanted.begin(), wanted.end());
        std::sort(apart.begin(), apart.end());
        std::set_symmetric_difference(wanted.begin(), wanted.end(), apart.begin(), apart.end(),
                                      std::back_inserter(moved));
        for (const int c : moved)
            clock_s_ += map().connectors[static_cast<std::size_t>(c)].unplug_s;
        clock_s_ += step.effort_s;
    }

    bool read(const Step& step, double takes_s)
    {
        const bool look = step.test == TestKind::Look;
        const auto value = look ? Result<Quantity>(Quantity{}) : machine_.read(step, clock_s_);
        if (!value) return false;
        Reading r = readingOf(step, map(), *value, {}, now_ms());
        if (look) r.found = machine_.look(map(), step.terminal);
        if (step.test == TestKind::Battery) {
            batteryAt_s_ = clock_s_;
            batteryState_ = step.state;
        }
        for (EventBody& body : entriesOf(run_.open, std::move(r)))
            enter(std::move(body));
        refresh();
        clock_s_ += takes_s;
        return true;
    }

    SimulatedMachine& machine_;
    Run run_;
    double clock_s_ = 0, batteryAt_s_ = -1e9;
    std::string batteryState_;
};

}  // namespace

std::optional<Step> firstSuggestion(const Reasoning& reasoning, const OpenJob&)
{
    if (reasoning.conclusion.kind != Conclusion::Kind::Open || reasoning.steps.empty()) return std::nullopt;
    return reasoning.steps.front();
}

Run follow(Reasoner& reasoner, SimulatedMachine& machine, const Told& told, const WayOfWorking& working, int mostTests,
           const Choice& choice)
{
    Hand hand(reasoner.map(), machine);
    Run& run = hand.run();
    hand.enter(WayOfWorkingChange{working});
    if (told.complaint)
        hand.enter(Complaint{"Something does not work.", "", told.reports.works, {}, told.reports.dead});
    CodesRead codes;
    for (const std::string& code : told.reports.codes)
        codes.codes.push_back({code, "", ""});
    hand.enter(std::move(codes));
    hand.refresh();
    reasoner.forget(run.open.hasComplaint());
    for (;;) {
        reasoner.observe(run.open.assessment, run.open.reports(), run.open.revision);
        reasoner.refine();
        while (reasoner.buildNext()) {  // what a likely fault calls for
        }
        run.last = reasoner.reason(run.open.standing());
        if (run.tests >= mostTests) break;
        const auto step = choice(run.last, run.open);
        if (!step || !hand.take(*step)) break;
    }
    return std::move(hand.run());
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
