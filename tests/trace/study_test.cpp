// A recording looked at as a whole: what it is of, what it says, what it is compared with.
#include "trace/study/study.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "machine/map_reader.h"
#include "practice/demo_traces.h"
#include "practice/drives.h"
#include "practice/waveforms.h"
#include "trace/subjects/differing.h"

namespace ilvek {
namespace {

std::shared_ptr<const Map> machine()
{
    static const auto map =
        std::make_shared<const Map>(std::move(*readMapFile(ILVEK_SOURCE_DIR "/data/maps/pt-9.json")));
    return map;
}

Recording demo(const std::string& name)
{
    const practice::DemoTrace* d = practice::demoTraceNamed(name);
    EXPECT_TRUE(d) << name;
    Recording r = d->make(d->noise, 1);
    r.name = name;
    return r;
}

Study studyOf(const Recording& r, const StudyWishes& wishes = {})
{
    auto s = study(r, wishes);
    EXPECT_TRUE(s) << (s ? "" : s.error().message());
    return s ? std::move(*s) : Study{};
}

// One pulse of injector 3 as the map has it, at a supply and a temperature.
Recording injectorPulse(double supply_V, double resistance, double celsius, double inductance = 1, bool stuck = false)
{
    practice::Fired f;
    f.winding.resistance_ohm = 14.4 * resistance * (1 + 0.0039 * (celsius - 20));
    f.winding.inductance_H = 0.012 * inductance;
    if (stuck) f.winding.pull_A = 1e3;
    f.on_s = 2e-3, f.off_s = 7e-3;
    practice::Drive drive;
    drive.supply_V = supply_V;
    practice::Recorder r;
    r.current_A = 2, r.noise = 0.003;
    return practice::makeWinding({f}, drive, r, 0.012).recording;
}

class DemoTraces : public testing::TestWithParam<std::tuple<const char*, Recorded, bool, const char*>> {};
TEST_P(DemoTraces, AreRecognisedAndToldAsTheyAre)
{
    const auto& [name, kind, odd, words] = GetParam();
    const Study s = studyOf(demo(name));
    EXPECT_EQ(kindOf(s.kind).id, kindOf(kind).id);
    EXPECT_EQ(s.told.odd, odd) << s.verdict;
    EXPECT_NE(s.verdict.find(words), std::string::npos) << s.verdict;
}
INSTANTIATE_TEST_SUITE_P(
    All, DemoTraces,
    testing::Values(std::tuple{"injectors-sound", Recorded::Windings, false, "alike"},
                    std::tuple{"injectors-3-weak", Recorded::Windings, true, "1.28 times the resistance"},
                    std::tuple{"injectors-3-missing-hot", Recorded::Windings, true,
                               "Cylinder 3: 2 of 3 pulses missing"},
                    std::tuple{"metering-valve", Recorded::PulseWidth, false, "42.0 % of the time at 180 Hz"},
                    std::tuple{"fan-clutch", Recorded::PulseWidth, false, "at 100 Hz"},
                    std::tuple{"lift-pump", Recorded::Motor, false, "It turns"},
                    std::tuple{"lift-pump-bad-bar", Recorded::Motor, true, "a bad bar or its coil"},
                    std::tuple{"lift-pump-stalled", Recorded::Motor, true, "does not turn"},
                    std::tuple{"tiller-down", Recorded::Windings, false, "1 pulse found"},
                    std::tuple{"crank-speed", Recorded::PickUp, false, "35 teeth and a gap of 1"},
                    std::tuple{"track-speed-left", Recorded::PickUp, false, "It switches between"},
                    std::tuple{"bus", Recorded::BusPair, false, "that some node talks"},
                    std::tuple{"bus-low-to-ground", Recorded::BusPair, true, "low line hangs on ground"},
                    std::tuple{"alternator-field", Recorded::ChargingField, false, "answers the load"}),
    [](const auto& kind) {
        std::string name = std::get<0>(kind.param);
        std::replace(name.begin(), name.end(), '-', '_');
        return name;
    });

TEST(Study, SaysWhichChannelIsMissing)
{
    StudyWishes wishes;
    wishes.kind = Recorded::Motor;
    const auto none = study(demo("bus"), wishes);
    ASSERT_FALSE(none);
    EXPECT_NE(none.error().message().find("current"), std::string::npos);
    wishes = {};
    wishes.main = "nowhere";
    const auto wrong = study(demo("bus"), wishes);
    ASSERT_FALSE(wrong);
    EXPECT_NE(wrong.error().message().find("nowhere"), std::string::npos);
    wishes = {};
    wishes.kind = Recorded::BusPair, wishes.beside = "-";
    EXPECT_FALSE(study(demo("bus"), wishes));
}

TEST(Study, TellsFromTheVoltagesWhyNothingFlows)
{
    // Held at the supply, at nothing, and switched: never driven, nothing that lifts it, and a clamp that lies.
    const std::pair<double, const char*> stuck[] = {{13.2, "never pulled down"}, {0.02, "nothing lifts"}};
    for (const auto& [level, words] : stuck) {
        Recording r = practice::recorded({{"current", Unit::Ampere, std::vector<double>(4000, 0.0), 5, 0.0},
                                          {"control", Unit::Volt, std::vector<double>(4000, level), 20, 0.001}},
                                         {});
        const Study s = studyOf(r);
        EXPECT_TRUE(s.told.odd);
        EXPECT_NE(s.verdict.find(words), std::string::npos) << s.verdict;
    }
    std::vector<double> switched(4000, 13.2);
    std::fill(switched.begin() + 1000, switched.begin() + 2500, 0.1);
    const Recording r = practice::recorded({{"current", Unit::Ampere, std::vector<double>(4000, 0.0), 5, 0.0},
                                            {"control", Unit::Volt, switched, 20, 0.001}},
                                           {});
    EXPECT_EQ(studyOf(r).driveFault, DriveFault::Contradiction);
}

TEST(Study, ListsThePulsesOfALongRecordingThatDiffer)
{
    std::vector<practice::Fired> pulses;
    for (int k = 0; k < 40; ++k) {
        practice::Fired f;
        f.on_s = 0.005 + 0.02 * k, f.off_s = f.on_s + 6e-3;
        if (k == 17) f.winding.resistance_ohm *= 1.5;
        if (k == 30) f.fires = false;
        pulses.push_back(f);
    }
    practice::Recorder recorder;
    recorder.interval_s = 2e-5, recorder.current_A = 2;
    const auto made = practice::makeWinding(pulses, {}, recorder, 0.82);
    const Study s = studyOf(made.recording);
    ASSERT_EQ(s.told.events.size(), 2U) << s.verdict;
    EXPECT_NEAR(s.told.events[0].at_s, pulses[17].on_s, 1e-3);
    EXPECT_NEAR(s.told.events[1].at_s, pulses[30].on_s, 1e-3);
    EXPECT_NE(s.told.events[1].words.find("missing"), std::string::npos);
}

TEST(Expected, LoopOfTheMapIsThatOfTheSolvedCircuit)
{
    const auto w = expectedWinding(*machine(), "INJ3", {});
    ASSERT_TRUE(w) << w.error().message();
    // 14.4 Ω of the winding; wires, driver and contacts add some tenths.
    EXPECT_GT(w->features.at("resistance").value, 14.4);
    EXPECT_LT(w->features.at("resistance").value, 15.2);
    const auto hot = expectedWinding(*machine(), "INJ3", {90, "", 5e-3});
    ASSERT_TRUE(hot);
    // Copper: 0.39 % for each kelvin, of the winding alone.
    EXPECT_NEAR(hot->features.at("resistance").value - w->features.at("resistance").value, 14.4 * 0.0039 * 70, 0.1);
    EXPECT_FALSE(expectedWinding(*machine(), "F17", {}));
    EXPECT_FALSE(expectedWinding(*machine(), "NONE", {}));
    EXPECT_FALSE(expectedWinding(*machine(), "INJ3", {20, "no-such-state", 5e-3}));
}

WindingFault againstMap(const Recording& r, double supply_V, double celsius)
{
    StudyWishes wishes;
    wishes.supply_V = supply_V;
    wishes.part = ExpectedPart{machine(), "INJ3", {celsius, "", 5e-3}};
    const Study s = studyOf(r, wishes);
    EXPECT_EQ(s.compared.size(), 1U) << s.notCompared;
    return s.compared.empty() ? WindingFault::CannotTell : s.compared.front().result.fault;
}

TEST(Compare, TellsResistanceShortedTurnsAndInductanceApartAtAnySupply)
{
    for (const double supply_V : {11.5, 13.2, 14.6}) {
        EXPECT_EQ(againstMap(injectorPulse(supply_V, 1, 20), supply_V, 20), WindingFault::None) << supply_V;
        EXPECT_EQ(againstMap(injectorPulse(supply_V, 1.28, 20), supply_V, 20), WindingFault::TooMuchResistance)
            << supply_V;
        EXPECT_EQ(againstMap(injectorPulse(supply_V, 0.7, 20, 0.5), supply_V, 20), WindingFault::ShortedTurns)
            << supply_V;
        EXPECT_EQ(againstMap(injectorPulse(supply_V, 1, 20, 0.5), supply_V, 20), WindingFault::OtherInductance)
            << supply_V;
    }
    // Hot copper is no fault when the temperature is said, and looks like one when it is not.
    EXPECT_EQ(againstMap(injectorPulse(13.2, 1, 90), 13.2, 90), WindingFault::None);
    EXPECT_EQ(againstMap(injectorPulse(13.2, 1, 90), 13.2, 20), WindingFault::TooMuchResistance);
}

TEST(Compare, AKeptRecordingTellsALateLiftAndASkippedOne)
{
    const Recording sound = injectorPulse(13.2, 1, 20);
    const auto pulses = measureWinding(sound, sound.channels[0], {13.2, nullptr});
    ASSERT_TRUE(pulses);
    WindingReference conditions;
    conditions.of = "INJ3", conditions.name = "injector 3", conditions.source = "kept";
    const auto kept = keptFrom(sound, sound.channels[0], *pulses, 13.2, conditions);
    ASSERT_TRUE(kept);
    ASSERT_TRUE(kept->features.contains("lift"));
    const auto against = [&](const Recording& r) {
        StudyWishes wishes;
        wishes.supply_V = 13.2, wishes.kept = *kept;
        return studyOf(r, wishes).compared.at(0).result;
    };
    const auto same = against(sound);
    EXPECT_EQ(same.fault, WindingFault::None) << same.verdict;
    // Laid over itself it lies within its own tolerance.
    ASSERT_GT(same.deviation.size(), 400U);
    EXPECT_LT(std::abs(*std::max_element(same.deviation.begin(), same.deviation.end(),
                                         [](double a, double b) { return std::abs(a) < std::abs(b); })),
              1);
    const auto weak = against(injectorPulse(13.2, 1.28, 20));
    EXPECT_EQ(weak.fault, WindingFault::TooMuchResistance);
    EXPECT_NE(weak.verdict.find("about 1.2"), std::string::npos) << weak.verdict;
    EXPECT_GT(std::abs(*std::min_element(weak.deviation.begin(), weak.deviation.end())), 2);
    const auto stuck = against(injectorPulse(13.2, 1, 20, 1, true));
    EXPECT_EQ(stuck.fault, WindingFault::NoLift) << stuck.verdict;
    EXPECT_FALSE(keptFrom(sound, sound.channels[0], *pulses, {}, conditions));
}

TEST(Compare, NeedsTheSupply)
{
    const Recording r = injectorPulse(13.2, 1, 20);
    StudyWishes wishes;
    wishes.beside = "-";
    wishes.part = ExpectedPart{machine(), "INJ3", {}};
    const Study s = studyOf(r, wishes);
    EXPECT_TRUE(s.compared.empty());
    EXPECT_NE(s.notCompared.find("supply"), std::string::npos);
}

TEST(Kept, IsReadAsItWasWrittenAndFaultyOnesAreNamed)
{
    const Recording sound = injectorPulse(13.2, 1, 20);
    const auto pulses = measureWinding(sound, sound.channels[0], {13.2, nullptr});
    WindingReference conditions;
    conditions.of = "INJ3", conditions.name = "injector 3", conditions.source = "kept, 20 °C",
    conditions.state = "idling";
    const auto kept = keptFrom(sound, sound.channels[0], *pulses, 13.2, conditions);
    const std::string text = writeReference(*kept);
    const auto read = readReference(text, "kept.json");
    ASSERT_TRUE(read);
    EXPECT_EQ(writeReference(*read), text);
    EXPECT_EQ(read->current_A.size(), kept->current_A.size());
    const std::pair<const char*, const char*> faults[] = {{"ilvek-known-good", "other"},
                                                          {"\"version\": 1", "\"version\": 9"},
                                                          {"\"supply_V\": 13.2", "\"supply_V\": \"much\""},
                                                          {"\"allowed\"", "\"alowed\""}};
    for (const auto& [is, becomes] : faults) {
        std::string bad = text;
        const auto at = bad.find(is);
        ASSERT_NE(at, std::string::npos) << is;
        bad.replace(at, std::string(is).size(), becomes);
        const auto problem = readReference(bad, "kept.json");
        ASSERT_FALSE(problem) << becomes;
        EXPECT_NE(problem.error().front().message().find("kept.json"), std::string::npos);
    }
    EXPECT_FALSE(readReference("{", "kept.json"));
}

TEST(Level, NamesWhatSwitchedJustBeforeADip)
{
    constexpr std::size_t n = 20000;
    std::vector<double> supply(n, 12.6), glow(n, 0.0), wipers(n, 0.0);
    std::fill(glow.begin() + 9980, glow.begin() + 14000, 12.0);
    std::fill(wipers.begin() + 2000, wipers.begin() + 3000, 12.0);
    std::fill(supply.begin() + 10000, supply.begin() + 10300, 9.1);
    const Recording r = practice::recorded({{"supply", Unit::Volt, supply, 20, 0.001},
                                            {"glow relay", Unit::Volt, glow, 20, 0.001},
                                            {"wipers", Unit::Volt, wipers, 20, 0.001}},
                                           {1e-4});
    const auto told = measureLevel(r, r.channels[0]);
    ASSERT_TRUE(told);
    ASSERT_EQ(told->events.size(), 1U);
    EXPECT_NEAR(told->events[0].at_s, 1.0, 1e-3);
    EXPECT_NEAR(told->events[0].length_s, 0.03, 1e-3);
    EXPECT_NE(told->events[0].words.find("as glow relay switched"), std::string::npos) << told->events[0].words;
    EXPECT_EQ(told->events[0].words.find("wipers"), std::string::npos);
    EXPECT_NEAR(*told->value("least"), 9.1, 0.1);
}

TEST(PulseWidth, FindsTheStretchThatDoesNotLookLikeTheOthers)
{
    practice::Recorder recorder;
    recorder.interval_s = 5e-5, recorder.noise = 0.005;
    const Recording sound = practice::demoTraceNamed("metering-valve")->make(0.005, 3);
    EXPECT_TRUE(studyOf(sound).told.events.empty());
    // It is not driven for three periods.
    auto x = sound.channels[0].samples.read(0, sound.size());
    for (std::size_t i = 4000; i < 4330; ++i)
        x[i] *= std::exp(-static_cast<double>(i - 4000) / 74.0);
    const Recording gap =
        practice::recorded({{"current", Unit::Ampere, x, 4, 0.0},
                            {"control", Unit::Volt, sound.channels[1].samples.read(0, sound.size()), 20, 0.0}},
                           recorder);
    const Study s = studyOf(gap);
    ASSERT_FALSE(s.told.events.empty()) << s.verdict;
    EXPECT_NEAR(s.told.events.front().at_s, 0.2, 0.01);
}

}  // namespace
}  // namespace ilvek
