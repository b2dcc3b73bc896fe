// What the eye finds at a terminal: kept as a reading without a figure, evidence for the suspects, proof of nothing.
#include <gtest/gtest.h>

#include "job/event.h"
#include "practice/simulated_machine.h"
#include "proving/step.h"
#include "support/maps.h"
#include "verdict/reasoner.h"

namespace ilvek {
namespace {

Reading lookAt(const Map& map, const std::string& terminal, Found found)
{
    Reading r = readingOf(lookStep(map, map.terminalIndex(terminal), map.stateIndex("key-on")), map, {}, {}, 1000);
    r.id = 1;
    r.found = found;
    return r;
}

double likely(const Reasoner& reasoner, const std::string& id)
{
    for (std::size_t i = 0; i < reasoner.suspects().size(); ++i) {
        if (reasoner.suspects()[i].id == id) return reasoner.belief().probabilities()[i];
    }
    ADD_FAILURE() << "no suspect " << id;
    return 0;
}

std::unique_ptr<Reasoner> after(const Map& map, Found found)
{
    auto reasoner = std::make_unique<Reasoner>(map, WayOfWorking{}, true);
    Evidence evidence;
    evidence.readings.push_back(lookAt(map, "M-5", found));
    EXPECT_TRUE(reasoner->observe(assess(map, evidence), {}));
    EXPECT_TRUE(reasoner->refine());
    return reasoner;
}

TEST(Look, IsTypedByNumberOrWords)
{
    EXPECT_EQ(parseFound("1"), Found::AsDrawn);
    EXPECT_EQ(parseFound(" 4 "), Found::Empty);
    EXPECT_EQ(parseFound("Dam"), Found::Damaged);
    EXPECT_EQ(parseFound("another wire"), Found::OtherWire);
    for (const char* none : {"", "0", "5", "12.4", "rust", "a"})  // "a" begins two of them
        EXPECT_FALSE(parseFound(none)) << none;
}

TEST(Look, IsKeptInTheJournalAsItWasSeen)
{
    const Reading r = lookAt(test::smallMap(), "M-5", Found::Damaged);
    const auto back = readBody("reading", writeBody(r), "entry 1");
    ASSERT_TRUE(back) << back.error().message();
    EXPECT_EQ(std::get<Reading>(*back).found, Found::Damaged);
    EXPECT_EQ(figureOf(r), "damaged or loose");
    const auto bad = readBody("reading", R"({"test":"look","terminal":"M-5","red":"M-5.a","black":"","state":"key-on",
        "unplugged":[],"found":"rusty"})",
                              "entry 7");
    ASSERT_FALSE(bad);
    EXPECT_NE(bad.error().message().find("entry 7"), std::string::npos);
}

TEST(Look, ProvesNoTerminalAndFailsNone)
{
    const Map& map = test::smallMap();
    for (const Found found : {Found::AsDrawn, Found::Damaged, Found::OtherWire, Found::Empty}) {
        Evidence evidence;
        evidence.readings.push_back(lookAt(map, "M-5", found));
        const Assessment a = assess(map, evidence);
        EXPECT_FALSE(isFailure(a.judgements[0].verdict)) << foundWords(found);
        EXPECT_NE(a.judgements[0].verdict, Verdict::Good) << foundWords(found);
        EXPECT_FALSE(a.judgements[0].doesNotProve.empty()) << foundWords(found);
        EXPECT_EQ(proofOf(map, a, map.terminalIndex("M-5")).state, ProofState::Untouched) << foundWords(found);
    }
}

TEST(Look, DamageSpeaksForTheContactAndASoundMetalAgainstIt)
{
    const Map& map = test::smallMap();
    Reasoner nothing(map, {}, true);
    nothing.observe({}, {});
    const std::string contact = "M-5 added resistance";
    const double before = likely(nothing, contact);
    EXPECT_GT(likely(*after(map, Found::Damaged), contact), 5 * before);
    EXPECT_LT(likely(*after(map, Found::AsDrawn), contact), 0.6 * before);
    EXPECT_GT(likely(*after(map, Found::Empty), "M-5 empty"), 0.5) << "a cavity miscounted is as likely as the rest";
    EXPECT_GT(likely(*after(map, Found::OtherWire), "M-5 map"), 3 * likely(nothing, "M-5 map"));
}

TEST(Look, OneSpotOfDirtIsNoVerdict)
{
    const auto reasoner = after(test::smallMap(), Found::Damaged);
    EXPECT_EQ(reasoner->reason({}).conclusion.kind, Conclusion::Kind::Open);
}

TEST(Look, NeverIntoACircuitThatIsNotToBeProbed)
{
    Map map = test::smallMap();
    const int terminal = map.terminalIndex("M-5");
    map.terminals[static_cast<std::size_t>(terminal)].hazard = "restraint system";
    for (const Candidate& c : candidatesOf(map, {}))
        EXPECT_FALSE(c.kind == Candidate::Kind::Look && c.terminal == terminal);
}

TEST(Look, TheSimulatedMachineShowsWhatIsThere)
{
    const Map& drawn = test::smallMap();
    const int terminal = drawn.terminalIndex("M-5");
    practice::SimulatedMachine sound(drawn, {});
    EXPECT_EQ(sound.look(drawn, terminal), Found::AsDrawn);
    practice::SimulatedMachine corroded(drawn,
                                        {{Fault::Kind::AddedResistance, drawn.terminal(terminal).contact, -1, -1, 4}});
    EXPECT_EQ(corroded.look(drawn, terminal), Found::Damaged);
    Map variant = drawn;
    variant.terminals[static_cast<std::size_t>(terminal)].asFound = AsFound::Empty;
    practice::SimulatedMachine empty(variant, {});
    EXPECT_EQ(empty.look(drawn, terminal), Found::Empty);
}

}  // namespace
}  // namespace ilvek
