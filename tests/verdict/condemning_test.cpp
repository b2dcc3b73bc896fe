// From the complaint to the gate's verdict on a whole machine: the plan to its end, the suspects' tests, every
// statement made (W30).
#include <gtest/gtest.h>

#include "practice/hidden_faults.h"
#include "practice/simulated_machine.h"
#include "support/maps.h"
#include "verdict/gate.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

// The PT-9 with the one disagreement of its sources settled: what no reading decides would stay open for ever.
const Map& settled()
{
    static const Map map = [] {
        Map m = test::pt9();
        Terminal& t = m.terminals[static_cast<std::size_t>(m.terminalIndex("J2-26"))];
        const int measured = t.expected.back().source;
        std::erase_if(t.expected, [&](const Expected& e) { return e.source != measured; });
        m.document += "\nsettled";
        return m;
    }();
    return map;
}

Reasoner& reasoner()
{
    static Reasoner r(settled(), WayOfWorking{}, true);
    while (r.buildNext()) {
    }
    return r;
}

class Technician {
public:
    explicit Technician(const std::vector<Fault>& faults)
        : machine_(settled(), faults), reports_(practice::reportOf(settled(), faults))
    {
    }

    void followThePlan()
    {
        for (int most = 0; most < 250; ++most) {
            const auto step = nextStep(settled(), assess(settled(), evidence_), moment());
            if (!step) return;
            take(*step);
        }
    }

    Gate followTheSuspects()
    {
        Reasoner& r = reasoner();
        r.forget(true);
        for (int most = 0; most < 20; ++most) {
            const Assessment a = assess(settled(), evidence_);
            r.observe(a, reports_);
            r.refine();
            Standing standing;
            standing.state = settled().stateIndex(state_);
            const Reasoning now = r.reason(standing);
            if (most == 19 || now.conclusion.kind != Conclusion::Kind::Open || now.steps.empty()) {
                Gate gate = gateOf(settled(), a, moment());
                weigh(now, settled().module, gate);
                return gate;
            }
            take(batteryStep(settled(), now.steps.front().state));
            take(now.steps.front());
        }
        return {};
    }

    void state(const GateCheck& check) { evidence_.checks.push_back({check.id, "done and seen", 1 << 20}); }

private:
    Moment moment() const { return {now_ms_, state_}; }

    void take(const Step& step)
    {
        const bool look = step.test == TestKind::Look;
        const auto value = look ? Result<Quantity>(Quantity{}) : machine_.read(step);
        ASSERT_TRUE(value) << step.title;
        now_ms_ += 20'000;
        Reading reading = readingOf(step, settled(), *value, {}, now_ms_);
        if (look) reading.found = machine_.look(settled(), step.terminal);
        reading.id = static_cast<std::int64_t>(evidence_.readings.size()) + 1;
        state_ = step.state;
        evidence_.readings.push_back(std::move(reading));
    }

    practice::SimulatedMachine machine_;
    Reports reports_;
    Evidence evidence_;
    std::string state_ = "key-off";
    std::int64_t now_ms_ = 1'700'000'000'000;
};

TEST(Condemning, ADeadRegulatorMayBeCondemnedWhenAllElseIsProvenAndNotBefore)
{
    Technician t({{Fault::Kind::Open, settled().elementIndex("REG-5")}});
    EXPECT_NE(t.followTheSuspects().outcome, Outcome::MayBeCondemned) << "likely is not proven";
    t.followThePlan();
    EXPECT_EQ(t.followTheSuspects().outcome, Outcome::NotProven) << "no statement was made yet";
    for (const GateCheck& check : gateChecks())
        t.state(check);
    const Gate gate = t.followTheSuspects();
    EXPECT_EQ(gate.outcome, Outcome::MayBeCondemned) << gate.sentence;
    EXPECT_NE(gate.located.find("regulator"), std::string::npos) << gate.located;
    EXPECT_EQ(gate.grade, "by elimination");
    EXPECT_FALSE(gate.alternative.empty());
}

TEST(Condemning, AReferenceDraggedDownByAShortedSensorNeverCondemnsTheModule)
{
    const int supply = settled().nodeIndex("RPS.supply"), ret = settled().nodeIndex("RPS.return");
    Technician t({{Fault::Kind::ShortBetween, -1, supply, ret, 0.5}});
    t.followThePlan();
    for (const GateCheck& check : gateChecks())
        t.state(check);
    const Gate gate = t.followTheSuspects();
    EXPECT_NE(gate.outcome, Outcome::MayBeCondemned) << gate.sentence;
}

}  // namespace
}  // namespace ilvek
