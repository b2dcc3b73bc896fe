#include "practice/demo_job.h"

#include <fmt/format.h>

#include "practice/simulated_machine.h"
#include "proving/plan.h"

namespace ilvek::practice {

namespace {

constexpr const char* begin = "2026-11-20T08:40:00.000Z";

// Takes readings one after the other, twenty-five seconds apart, the battery each minute as a careful hand would.
class Recorder {
public:
    explicit Recorder(const Map& map) : map_(map), machine_(map, demoFaults(map)), time_ms_(readTime(begin).value_or(0))
    {
    }

    void enter(EventBody body)
    {
        events_.push_back({static_cast<std::int64_t>(events_.size()) + 1, time_ms_, std::move(body)});
        time_ms_ += 15'000;
    }

    Result<void> take(const Step& step)
    {
        const auto value = machine_.read(step);
        if (!value) return tl::unexpected(value.error());
        Reading r = readingOf(step, map_, *value, {}, time_ms_);
        if (lastBattery_V_ > 0 && step.test != TestKind::Battery) {
            r.battery_V = lastBattery_V_;
            r.batteryAge_s = static_cast<double>(time_ms_ - lastBatteryTime_ms_) / 1000.0;
        }
        if (step.test == TestKind::Battery) {
            lastBattery_V_ = value->value;
            lastBatteryTime_ms_ = time_ms_;
        }
        answers_ += fmt::format("| {} | {} |\n", step.title, formatQuantity(*value));
        enter(r);
        time_ms_ += 10'000;
        return {};
    }

    const std::vector<Event>& events() const { return events_; }
    const std::string& answers() const { return answers_; }

private:
    const Map& map_;
    SimulatedMachine machine_;
    std::int64_t time_ms_;
    double lastBattery_V_ = 0;
    std::int64_t lastBatteryTime_ms_ = 0;
    std::vector<Event> events_;
    std::string answers_;
};

void enterPaper(Recorder& recorder)
{
    recorder.enter(JobDetails{"Reduced power after twenty minutes", "Fjellheim slopes (invented)", "PT9-00417",
                              "2 310 h", "bench 2"});
    recorder.enter(
        Complaint{"Goes to reduced power after twenty minutes of grooming, tiller will not lift, display says drive "
                  "data lost; comes back "
                  "after a night.",
                  "warm, after about twenty minutes; the colder the night the longer it takes",
                  {"the engine runs", "the blade tilts left", "lights", "winch"},
                  {"joystick JS-1, by a previous owner"},
                  {"full drive power", "the tiller lifts"}});
    recorder.enter(CodesRead{{{"D-102", "drive supply low", "J2 supply below 9.5 V for two seconds; stored hot"},
                              {"D-141", "tiller lift, no current", "commanded, current below 0.2 A"}}});
    recorder.enter(StateChange{"key-on"});
}

}  // namespace

std::vector<Fault> demoFaults(const Map& map)
{
    return {{Fault::Kind::AddedResistance, map.elementIndex("X4-7"), -1, -1, 4.0}};
}

Result<std::vector<Event>> demoEvents(const Map& map)
{
    Recorder recorder(map);
    enterPaper(recorder);
    const WayOfWorking working;
    const int on = map.stateIndex("key-on");
    const auto index = [&](const char* id) { return map.terminalIndex(id); };
    for (const char* id : {"J1-7", "J1-8", "J1-9", "J1-10", "J2-3", "J2-4", "J1-3", "J1-4", "J1-1"}) {
        if (index(id) < 0) return fail(id, "the demonstration needs this terminal on the map");
    }
    const std::vector<Step> steps{batteryStep(map, "key-on"),
                                  returnStep(map, working, index("J1-7"), on),
                                  returnStep(map, working, index("J1-8"), on),
                                  batteryStep(map, "key-on"),
                                  returnStep(map, working, index("J2-3"), on),
                                  returnStep(map, working, index("J2-4"), on),
                                  batteryStep(map, "key-on"),
                                  openStep(map, working, index("J1-3"), on),
                                  loadStep(map, working, index("J1-3"), on),
                                  batteryStep(map, "key-on"),
                                  openStep(map, working, index("J1-4"), on),
                                  loadStep(map, working, index("J1-4"), on),
                                  batteryStep(map, "key-on"),
                                  openStep(map, working, index("J1-1"), on),
                                  loadStep(map, working, index("J1-1"), on)};
    for (const Step& step : steps) {
        if (auto taken = recorder.take(step); !taken) return tl::unexpected(taken.error());
    }
    return recorder.events();
}

Result<std::string> demoAnswers(const Map& map)
{
    Recorder recorder(map);
    const WayOfWorking working;
    const int on = map.stateIndex("key-on");
    const int terminal = map.terminalIndex("J2-1");
    if (on < 0 || terminal < 0) return fail("J2-1", "the demonstration needs this terminal on the map");
    std::vector<Step> steps{batteryStep(map, "key-on"), returnStep(map, working, map.terminalIndex("J1-9"), on),
                            openStep(map, working, terminal, on), loadStep(map, working, terminal, on),
                            swapStep(map, working, terminal, on)};
    for (const char* node : {"F15.in", "F15.out", "X4-7.a", "X4-7.b", "K1.87", "K1.30", "FB.30"}) {
        if (map.nodeIndex(node) < 0) return fail(node, "the demonstration needs this node on the map");
        steps.push_back(walkStep(map, working, terminal, on, map.nodeIndex(node)));
    }
    for (const Step& step : steps) {
        if (auto taken = recorder.take(step); !taken) return tl::unexpected(taken.error());
    }
    return recorder.answers();
}

}  // namespace ilvek::practice
