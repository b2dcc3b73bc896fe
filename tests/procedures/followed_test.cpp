// Each procedure followed to its end on machines of several kinds: what is hidden is found, and nothing on a sound one.
#include "machine/paths.h"
#include "practice/field_machine.h"
#include "practice/hidden_faults.h"
#include "procedures/in_words.h"
#include "support/maps.h"
#include "support/procedure_walker.h"

namespace ilvek {
namespace {

using test::elementWith;
using test::ProcedureWalker;

Fault added(int element, double ohm)
{
    Fault f;
    f.kind = Fault::Kind::AddedResistance, f.element = element, f.resistance_ohm = ohm;
    return f;
}

Fault toGround(const Map& map, int node, double ohm)
{
    Fault f;
    f.kind = Fault::Kind::ShortBetween, f.nodeA = node, f.nodeB = map.batteryMinus(), f.resistance_ohm = ohm;
    return f;
}

Fault open(int element)
{
    Fault f;
    f.kind = Fault::Kind::Open, f.element = element;
    return f;
}

bool holds(const std::vector<std::string>& names, const std::string& name)
{
    return std::find(names.begin(), names.end(), name) != names.end();
}

// A machine whose figures nobody knows, behind a sheet of which half is missing.
class Sound : public ::testing::TestWithParam<int> {};

TEST_P(Sound, MachineIsNeverFoundFaulty)
{
    practice::FieldSpread spread;
    spread.wrongShare = 0;
    const auto machine = practice::fieldMachine(static_cast<std::uint32_t>(7100 + GetParam()), spread);
    for (const ProcedureKind& kind : procedureKinds()) {
        const auto subjects = kind.subjects(machine.map);
        // The first and the last of each kind: all of them would take minutes.
        for (std::size_t s = 0; s < subjects.size(); s += std::max<std::size_t>(1, subjects.size() - 1)) {
            ProcedureWalker walker(machine.map, machine.truth);
            const Procedure p = walker.follow(std::string(kind.id), subjects[s]);
            EXPECT_FALSE(p.ending && p.ending->kind == Ending::Kind::Found) << machine.sheet << walker.story(p);
            if (subjects.size() == 1) break;
        }
    }
}
INSTANTIATE_TEST_SUITE_P(Field, Sound, ::testing::Range(0, 24));

// The machines of the stories as their sheets say: sound, and each of another kind.
class SoundStory : public ::testing::TestWithParam<std::string> {};

TEST_P(SoundStory, IsNeverFoundFaulty)
{
    const Map& map = test::storyMap(GetParam());
    for (const ProcedureKind& kind : procedureKinds()) {
        for (const std::string& subject : kind.subjects(map)) {
            ProcedureWalker walker(map, {});
            const Procedure p = walker.follow(std::string(kind.id), subject);
            EXPECT_FALSE(p.ending && p.ending->kind == Ending::Kind::Found) << walker.story(p);
        }
    }
}

std::vector<std::string> storySheets()
{
    std::vector<std::string> out;
    for (const auto& file : test::filesIn(ILVEK_SOURCE_DIR "/data/stories")) {
        const std::string name = file.stem().string();
        // Some share their sheet with another story.
        if (file.extension() == ".csv" && std::filesystem::exists(file.parent_path() / (name + ".json")))
            out.push_back(name);
    }
    return out;
}
INSTANTIATE_TEST_SUITE_P(Sheets, SoundStory, ::testing::ValuesIn(storySheets()), [](const auto& c) {
    std::string name = c.param;
    std::replace(name.begin(), name.end(), '-', '_');
    return name;
});

// Random faults on random machines: what a procedure says it found is what is hidden, or touches it.
class Hidden : public ::testing::TestWithParam<int> {
protected:
    static std::set<int> touched(const Map& map, const std::vector<Fault>& faults)
    {
        std::set<int> nodes;
        for (const Fault& f : faults) {
            nodes.insert({f.nodeA, f.nodeB});
            if (f.element >= 0) nodes.insert(map.element(f.element).nodes.begin(), map.element(f.element).nodes.end());
        }
        for (const int none : {-1, map.batteryMinus(), map.batteryPlus()})
            nodes.erase(none);
        return nodes;
    }
    // One of the places is hidden there, or has a node in common with it.
    static bool touches(const Map& map, const Ending& ending, const std::set<int>& nodes)
    {
        return std::any_of(ending.places.begin(), ending.places.end(), [&](const std::string& id) {
            std::vector<int> of;
            if (const int e = map.elementIndex(id); e >= 0) of = map.element(e).nodes;
            if (const int t = map.terminalIndex(id); t >= 0) of = {map.terminal(t).a, map.terminal(t).b};
            return std::any_of(of.begin(), of.end(), [&](int n) { return nodes.contains(n); });
        });
    }
};

TEST_P(Hidden, WhatIsFoundIsWhatIsHidden)
{
    const auto seed = static_cast<std::uint32_t>(8100 + GetParam());
    practice::FieldSpread spread;
    spread.wrongShare = 0;
    const auto machine = practice::fieldMachine(seed, spread);
    Reasoner reasoner(machine.map, {}, true);
    while (reasoner.buildNext()) {
    }
    practice::HiddenFaults drawn(reasoner, seed);
    const practice::Hidden hidden = drawn.single(false);
    std::vector<Fault> all = machine.truth;
    all.insert(all.end(), hidden.faults.begin(), hidden.faults.end());
    const auto nodes = touched(machine.map, hidden.faults);
    for (const ProcedureKind& kind : procedureKinds()) {
        // A walk says what it read, the shut-down what a drive does, and nothing comes and goes here.
        if (kind.id == "walk" || kind.id == "shut-down" || kind.id == "watch") continue;
        for (const std::string& subject : kind.subjects(machine.map)) {
            ProcedureWalker walker(machine.map, all);
            const Procedure p = walker.follow(std::string(kind.id), subject);
            if (!p.ending || p.ending->kind != Ending::Kind::Found) continue;
            const std::string& id = reasoner.suspects()[static_cast<std::size_t>(hidden.suspects.front())].id;
            if (kind.id == "battery")
                EXPECT_TRUE(id.find("alternator") != std::string::npos || id.find("battery") != std::string::npos)
                    << id << "\n"
                    << walker.story(p);
            else if (kind.id == "relay" && p.ending->fact.id != "relay.end.relay" &&
                     p.ending->fact.id != "relay.end.contact" && p.ending->fact.id != "relay.end.drop")
                continue;  // the way to its coil, by both of its ends
            else if (p.ending->fact.id == "short.end.part" || p.ending->fact.id == "short.end.driven")
                EXPECT_TRUE(touches(machine.map, *p.ending, nodes) || id.rfind("driver", 0) == 0) << id << "\n"
                                                                                                  << walker.story(p);
            else
                EXPECT_TRUE(touches(machine.map, *p.ending, nodes)) << id << "\n" << walker.story(p);
        }
    }
}
INSTANTIATE_TEST_SUITE_P(Field, Hidden, ::testing::Range(0, 40));

// With its coil in the way the lamp is dim: the wire behind it, which the module switches, may lie at ground as well.
TEST(Followed, ADrivenWireAtGroundStandsBesideItsPart)
{
    const Map& map = test::storyMap("excavator-fuse");
    ProcedureWalker walker(map, {toGround(map, map.terminal(map.terminalIndex("A6")).a, 0.01)});
    const Procedure p = walker.follow("short", "F14");
    ASSERT_TRUE(p.ending) << walker.story(p);
    EXPECT_EQ(p.ending->fact.id, "short.end.driven");
    EXPECT_TRUE(holds(p.ending->places, "A6") && holds(p.ending->places, "load A6"));
}

TEST(Followed, EverySentenceHasWords)
{
    for (const Map* map : {&test::pt9(), &test::hauler(), &test::washer()}) {
        ProcedureWalker walker(*map, {});
        for (const Procedure& p : proceduresOf(walker.job().open(), walker.job().now())) {
            EXPECT_FALSE(procedureTitle(*map, p).empty());
            EXPECT_FALSE(procedurePurpose(p).empty());
            for (const Stage& s : p.stages) {
                EXPECT_TRUE(isWorded(s.title)) << s.title.id;
                for (const Fact& fact : s.says)
                    EXPECT_TRUE(isWorded(fact)) << fact.id;
            }
            EXPECT_FALSE(p.stages.empty() && !p.ending) << p.id << " " << p.subject;
        }
    }
}

// A short at each part of a fuse's branch: the parts that are left hold it.
TEST(Followed, TheShortIsAmongThePlacesLeft)
{
    const Map& map = test::washer();
    int found = 0;
    for (const std::string& fuse : test::subjectsOf("short", map)) {
        const int f = map.elementIndex(fuse);
        for (std::size_t i = 0; i < map.elements.size(); ++i) {
            const Element& e = map.elements[i];
            if (e.kind != ElementKind::Wire || !conductorPath(map, map.element(f).nodes[1], e.nodes[0])) continue;
            if (!passesThrough(map, 0, f) && e.nodes[0] != map.element(f).nodes[1]) continue;
            ProcedureWalker walker(map, {toGround(map, e.nodes[1], 0.1)});
            const Procedure p = walker.follow("short", fuse);
            if (!p.ending || p.ending->kind != Ending::Kind::Found) continue;
            ++found;
            // At the end of a wire: that wire, or what touches its end.
            const bool there =
                std::any_of(p.ending->places.begin(), p.ending->places.end(), [&](const std::string& id) {
                    const auto& nodes = map.element(map.elementIndex(id)).nodes;
                    return std::find(nodes.begin(), nodes.end(), e.nodes[1]) != nodes.end();
                });
            EXPECT_TRUE(there) << e.id << "\n" << walker.story(p);
        }
    }
    EXPECT_GE(found, 3);
}

TEST(Followed, FusedPowerProvesTheModuleGood)
{
    const Map& map = test::hauler();
    const int terminal = map.terminalIndex(test::subjectsOf("substitution", map).front());
    const auto fuses = fusesOf(map, terminal);
    ASSERT_FALSE(fuses.empty());
    const WireEnd wire = onlyWireAt(map, map.terminal(terminal).a);
    ASSERT_GE(wire.element, 0);
    ProcedureWalker walker(map, {open(wire.element)});
    std::vector<std::string> dead;
    for (const Function& f : map.functions)
        dead.push_back(f.id);
    ASSERT_FALSE(dead.empty());
    walker.complain(dead);
    const Procedure p = walker.follow("substitution", map.terminal(terminal).id);
    ASSERT_TRUE(p.ending) << walker.story(p);
    EXPECT_EQ(p.ending->fact.id, "substitution.end.conductor") << walker.story(p);
    EXPECT_EQ(walker.job().open().gate(walker.job().now(), nullptr).outcome, Outcome::ProvenGood);
    // Nobody told what fails: then nothing is proven by what works.
    ProcedureWalker silent(map, {open(wire.element)});
    silent.follow("substitution", map.terminal(terminal).id);
    EXPECT_NE(silent.job().open().gate(silent.job().now(), nullptr).outcome, Outcome::ProvenGood);
}

struct RelayCase {
    const char* what;
    std::function<std::vector<Fault>(const Map&, int relay, int drive)> faults;
    std::string ending;
};

TEST(Followed, TheRelayIsToldFromItsDriveAndItsWires)
{
    const Map& map = test::hauler();
    const std::string id = test::subjectsOf("relay", map).front();
    const int relay = map.elementIndex(id);
    const auto wireAt = [](const Map& m, int node) { return onlyWireAt(m, node).element; };
    const auto coil = [](int element, double ohm) {
        Fault f;
        f.kind = Fault::Kind::AddedCoilResistance, f.element = element, f.resistance_ohm = ohm;
        return f;
    };
    const RelayCase cases[] = {
        {"sound", [](const Map&, int, int) { return std::vector<Fault>{}; }, "relay.end.sound"},
        {"contact never closes", [](const Map&, int r, int) { return std::vector<Fault>{open(r)}; },
         "relay.end.contact"},
        {"coil open", [&](const Map&, int r, int) { return std::vector<Fault>{coil(r, 1e6)}; }, "relay.end.contact"},
        {"control wire open",
         [&](const Map& m, int, int drive) { return std::vector<Fault>{open(wireAt(m, m.terminal(drive).a))}; },
         "relay.end.control-wire"}};
    int drive = -1;
    for (const int t : map.moduleTerminals()) {
        const Terminal& terminal = map.terminal(t);
        if (terminal.role && groupOf(*terminal.role) == Group::Drives &&
            (conductorPath(map, terminal.a, map.element(relay).nodes[2]) ||
             conductorPath(map, terminal.a, map.element(relay).nodes[3])))
            drive = t;
    }
    ASSERT_GE(drive, 0);
    for (const RelayCase& c : cases) {
        ProcedureWalker walker(map, c.faults(map, relay, drive));
        const Procedure p = walker.follow("relay", id);
        ASSERT_TRUE(p.ending) << c.what << "\n" << walker.story(p);
        EXPECT_EQ(p.ending->fact.id, c.ending) << c.what << "\n" << walker.story(p);
    }
}

TEST(Followed, TheReferenceIsToldFromWhatHangsOnIt)
{
    const Map& map = test::pt9();
    const auto subjects = test::subjectsOf("reference", map);
    ASSERT_FALSE(subjects.empty());
    const int terminal = map.terminalIndex(subjects.front());
    // A short on the wire at the module's own connector: nothing that is released helps, the free pin does.
    ProcedureWalker harness(map, {toGround(map, map.terminal(terminal).a, 2)});
    const Procedure wire = harness.follow("reference", subjects.front(), 200);
    ASSERT_TRUE(wire.ending) << harness.story(wire);
    EXPECT_EQ(wire.ending->fact.id, "reference.end.harness") << harness.story(wire);
    // The regulator itself.
    Fault weak;
    weak.kind = Fault::Kind::OutOfValue, weak.factor = 0.5;
    for (std::size_t i = 0; i < map.elements.size(); ++i) {
        const Element& e = map.elements[i];
        if (e.kind == ElementKind::Regulator && conductorPath(map, e.nodes[1], map.terminal(terminal).b))
            weak.element = static_cast<int>(i);
    }
    ASSERT_GE(weak.element, 0);
    ProcedureWalker module(map, {weak});
    const Procedure inside = module.follow("reference", subjects.front(), 200);
    ASSERT_TRUE(inside.ending) << module.story(inside);
    EXPECT_EQ(inside.ending->fact.id, "reference.end.module") << module.story(inside);
    EXPECT_EQ(inside.ending->kind, Ending::Kind::Open) << "a contact of its plug reads so too";
    ProcedureWalker sound(map, {});
    const Procedure good = sound.follow("reference", subjects.front(), 200);
    ASSERT_TRUE(good.ending) << sound.story(good);
    EXPECT_EQ(good.ending->fact.id, "reference.end.sound") << sound.story(good);
}

TEST(Followed, AWireOnItsOwnCarriesOrLoses)
{
    const Map& map = test::hauler();
    const auto wires = test::subjectsOf("wire", map);
    ASSERT_FALSE(wires.empty());
    ProcedureWalker sound(map, {});
    const Procedure good = sound.follow("wire", wires.front());
    ASSERT_TRUE(good.ending);
    EXPECT_EQ(good.ending->kind, Ending::Kind::Sound) << sound.story(good);
    ProcedureWalker bad(map, {added(map.elementIndex(wires.front()), 3)});
    const Procedure lost = bad.follow("wire", wires.front());
    ASSERT_TRUE(lost.ending);
    EXPECT_EQ(lost.ending->kind, Ending::Kind::Found) << bad.story(lost);
    EXPECT_TRUE(holds(lost.ending->places, wires.front()));
}

// A drive's wire that parts: right at the load's end, wrong at the module.
TEST(Followed, AWalkFindsTheWireOfADrive)
{
    const Map& map = test::hauler();
    int walked = 0;
    for (const std::string& id : test::subjectsOf("walk", map)) {
        const Terminal& t = map.terminal(map.terminalIndex(id));
        if (groupOf(*t.role) != Group::Drives) continue;
        const WireEnd wire = onlyWireAt(map, t.a);
        if (wire.element < 0) continue;
        ProcedureWalker walker(map, {open(wire.element)});
        const Procedure p = walker.follow("walk", id);
        ASSERT_TRUE(p.ending) << walker.story(p);
        walked += p.ending->kind == Ending::Kind::Found;
    }
    EXPECT_GT(walked, 0);
}

}  // namespace
}  // namespace ilvek
