#include "repair/time_spent.h"
#include "wording/words.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace ilvek {

namespace {

constexpr int phases = 5;

bool isPapers(const EventBody& b)
{
    return std::holds_alternative<JobDetails>(b) || std::holds_alternative<Complaint>(b) ||
           std::holds_alternative<CodesRead>(b) || std::holds_alternative<MapCorrection>(b) ||
           std::holds_alternative<OwnCases>(b) || std::holds_alternative<ChartEntered>(b);
}

bool isRepair(const EventBody& b)
{
    return std::holds_alternative<Repair>(b) || std::holds_alternative<DebtCleared>(b) ||
           std::holds_alternative<Decided>(b) || std::holds_alternative<RepairChoices>(b) ||
           std::holds_alternative<CauseAnswered>(b);
}

bool isSetUp(const EventBody& b)
{
    return std::holds_alternative<StateChange>(b) || std::holds_alternative<Debt>(b) ||
           std::holds_alternative<WayOfWorkingChange>(b) || std::holds_alternative<InstrumentChange>(b);
}

// Whether the machine stood for the one as for the other.
bool standsAlike(const Reading& a, const Reading& b)
{
    return a.state == b.state && a.unplugged == b.unplugged && a.removed == b.removed && a.unpinned == b.unpinned &&
           a.load == b.load && a.jumpers == b.jumpers && a.commands == b.commands;
}

}  // namespace

std::string_view phaseName(Phase phase)
{
    static constexpr std::array<std::string_view, phases> names{"papers", "setting up", "tests", "repair", "proof"};
    return names[static_cast<std::size_t>(phase)];
}

double TimeSpent::total_s() const
{
    double sum = waiting_s;
    for (const auto& [phase, seconds] : phases)
        sum += seconds;
    return sum;
}

TimeSpent timeSpent(const std::vector<Event>& events)
{
    std::array<double, phases> spent{};
    TimeSpent out;
    Phase last = Phase::Papers;
    const Reading* before = nullptr;
    bool repaired = false;
    for (std::size_t i = 0; i < events.size(); ++i) {
        const EventBody& body = events[i].body;
        const auto* reading = std::get_if<Reading>(&body);
        Phase phase = last;
        if (isPapers(body)) phase = Phase::Papers;
        if (isRepair(body)) phase = Phase::Repair;
        if (isSetUp(body)) phase = Phase::SetUp;
        if (reading || std::holds_alternative<FunctionsSeen>(body) || std::holds_alternative<TraceSeen>(body) ||
            std::holds_alternative<WorkTried>(body) || std::holds_alternative<CheckMade>(body))
            phase = repaired ? Phase::Proof : Phase::Tests;
        if (reading && before && !standsAlike(*before, *reading)) phase = Phase::SetUp;
        if (reading) before = reading;
        repaired = repaired || std::holds_alternative<Repair>(body);
        if (i > 0) {
            const double gap = std::max(0.0, static_cast<double>(events[i].time_ms - events[i - 1].time_ms) / 1000);
            spent[static_cast<std::size_t>(phase)] += std::min(gap, waitingFrom_s);
            if (gap > awayFrom_s)
                out.away_s += gap - waitingFrom_s;
            else
                out.waiting_s += std::max(0.0, gap - waitingFrom_s);
        }
        last = phase;
    }
    for (int p = 0; p < phases; ++p) {
        if (spent[static_cast<std::size_t>(p)] > 0)
            out.phases.emplace_back(static_cast<Phase>(p), spent[static_cast<std::size_t>(p)]);
    }
    return out;
}

std::string durationWords(double seconds)
{
    const auto minutes = static_cast<long>(std::lround(seconds / 60));
    if (minutes < 1) return inWords("time-spent.less-minute");
    return minutes < 60        ? fmt::format("{} min", minutes)
           : minutes % 60 == 0 ? fmt::format("{} h", minutes / 60)
                               : fmt::format("{} h {} min", minutes / 60, minutes % 60);
}

}  // namespace ilvek
