// What a recording that was taken into the job says for and against suspects (W27, W28).
#include <gtest/gtest.h>

#include "circuit/operating_point.h"
#include "proving/trend.h"
#include "support/maps.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

// One injector's pulse in key-on with its drive commanded, as a clamp and a lead at the module's terminal show it.
TraceSeen seen(std::optional<double> current_A, std::optional<double> off_V, std::optional<double> on_V)
{
    TraceSeen t;
    t.id = 7;
    t.recording = "hot.csv", t.verdict = "as it is";
    t.element = "INJ3", t.drive = "D-J2-13", t.state = "key-on", t.lead = "J2-13.a";
    t.current_A = current_A, t.currentSigma_A = 0.01, t.supply_V = 12.5;
    t.off_V = off_V, t.on_V = on_V;
    return t;
}

double soundCurrent_A()
{
    Condition driven;
    driven.state = test::pt9().stateIndex("key-on");
    driven.commands[test::pt9().elementIndex("D-J2-13")] = 1;
    const auto point = operatingPoint(test::pt9(), driven);
    return point ? std::abs(point->currentThrough(test::pt9().elementIndex("INJ3"))) : 0;
}

struct Weighed {
    std::vector<Suspect> suspects;
    std::vector<double> now, alone;  // with all that the recording says, and with nothing of it
    Conclusion conclusion;
};

Weighed weighed(const TraceSeen& t, std::vector<Repair> repairs = {}, const std::vector<TraceSeen>& before = {})
{
    Reasoner reasoner(test::pt9(), WayOfWorking{}, true);
    Assessment a;
    // The same recording shows a sibling that works: what all share is sound.
    TraceSeen sibling = t;
    sibling.id = 8, sibling.element = "INJ1", sibling.drive = "D-J2-11", sibling.lead.clear();
    sibling.current_A = soundCurrent_A(), sibling.off_V.reset(), sibling.on_V.reset();
    a.evidence.traces = before;
    a.evidence.traces.insert(a.evidence.traces.end(), {t, sibling});
    a.evidence.repairs = std::move(repairs);
    reasoner.observe({}, {});
    Weighed w{reasoner.suspects(), {}, reasoner.belief().probabilities(), {}};
    EXPECT_TRUE(reasoner.observe(a, {}));
    reasoner.refine();
    w.now = reasoner.belief().probabilities();
    w.conclusion = reasoner.reason({}).conclusion;
    return w;
}

// The share of the belief on faults of one part.
double on(const Weighed& w, const std::vector<double>& p, const std::string& element)
{
    const int index = test::pt9().elementIndex(element);
    double sum = 0;
    for (std::size_t i = 0; i < w.suspects.size() && i < p.size(); ++i)
        sum += w.suspects[i].element == index ? p[i] : 0;
    return sum;
}

TEST(Recordings, OfASoundPulseTakeItsPathOutOfSuspicion)
{
    const double sound = soundCurrent_A();
    ASSERT_GT(sound, 0.7);
    const Weighed w = weighed(seen(sound, {}, {}));
    EXPECT_LT(on(w, w.now, "INJ3"), 0.3 * on(w, w.alone, "INJ3"));
    EXPECT_LT(on(w, w.now, "W50"), 0.5 * on(w, w.alone, "W50"));
}

TEST(Recordings, OfNoCurrentPointToTheOpenSideThatTheVoltageNames)
{
    // Nothing lifts the control side: the winding or what lies before the lead; not the driver.
    const Weighed open = weighed(seen(0, 0.0, 0.0));
    EXPECT_GT(on(open, open.now, "INJ3"), 20 * on(open, open.alone, "INJ3"));
    EXPECT_LT(on(open, open.now, "D-J2-13"), 0.01);
    // It is lifted and never pulled down: the driver or its terminal; not the winding.
    const Weighed dead = weighed(seen(0, 12.4, 12.4));
    EXPECT_GT(on(dead, dead.now, "D-J2-13"), 100 * on(dead, dead.alone, "D-J2-13"));
    EXPECT_LT(on(dead, dead.now, "INJ3"), 0.01);
}

TEST(Recordings, AloneNeverMakeAVerdict)
{
    // Current and two voltages came with one entry: nothing independent confirms them (T8, T15).
    for (const double level : {0.0, 12.4}) {
        const Conclusion c = weighed(seen(0, level, level)).conclusion;
        EXPECT_NE(c.kind, Conclusion::Kind::Inside) << c.words;
        EXPECT_NE(c.kind, Conclusion::Kind::Outside) << c.words;
    }
}

TEST(Recordings, OfTooLittleCurrentPutResistanceIntoThePath)
{
    const Weighed w = weighed(seen(0.62, {}, {}));
    double path = 0;
    for (const char* part : {"INJ3", "W49", "W50", "W51", "D-J2-13"})
        path += on(w, w.now, part);
    EXPECT_GT(path, 0.3);
    EXPECT_GT(on(w, w.now, "INJ3"), on(w, w.now, "INJ1"));
}

TEST(Recordings, CountNoMoreOnceSomethingWasMended)
{
    const Weighed w = weighed(seen(0, 12.4, 12.4), {{9, {"INJ3"}, "new injector"}});
    for (std::size_t i = 0; i < w.now.size(); ++i)
        ASSERT_NEAR(w.now[i], w.alone[i], 1e-9);
}

// First a little weak, later gone: one fault that grows, no two and no slip.
TEST(Recordings, ThatWeakenOneAfterAnotherSpeakForTheSamePart)
{
    std::vector<TraceSeen> before;
    for (const double share : {0.9, 0.75}) {
        TraceSeen t = seen(share * soundCurrent_A(), {}, {});
        t.id = 3 + static_cast<int>(before.size()), t.time_ms = 60000 * t.id;
        before.push_back(t);
    }
    TraceSeen last = seen(0, 0.0, 0.0);
    last.time_ms = 3600000;
    const Weighed alone = weighed(last), grown = weighed(last, {}, before);
    double open = 0, path = 0, wasPath = 0;
    for (const char* part : {"INJ3", "W49", "W50", "W51"}) {
        path += on(grown, grown.now, part);
        wasPath += on(alone, alone.now, part);
    }
    EXPECT_GT(path, 0.98 * wasPath);
    EXPECT_GT(path, 0.5);
    open = on(grown, grown.now, "D-J2-13");
    EXPECT_LT(open, 0.01);
    // What comes and goes is no trend.
    Evidence evidence;
    evidence.traces = {before[0], last, before[1]};
    EXPECT_TRUE(trendsOf(evidence).empty());
    evidence.traces = {before[0], before[1], last};
    ASSERT_EQ(trendsOf(evidence).size(), 1U);
    EXPECT_NEAR(trendsOf(evidence)[0].left, 0, 1e-9);
    EXPECT_NEAR(trendsOf(evidence)[0].minutes, 57, 1e-6);
    evidence.repairs = {{5, {"INJ3"}, "new injector"}};
    EXPECT_TRUE(trendsOf(evidence).empty());
}

TEST(Recordings, OfAPartThatTheMapDoesNotHaveAreKeptAndSayNothing)
{
    TraceSeen t = seen(0, 12.4, 12.4);
    t.element = "INJ9";
    const Weighed w = weighed(t), sound = weighed(seen({}, {}, {}));
    for (std::size_t i = 0; i < w.now.size(); ++i)
        ASSERT_NEAR(w.now[i], sound.now[i], 1e-6);
}

}  // namespace
}  // namespace ilvek
