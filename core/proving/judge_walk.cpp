// W13 and W14: one point on the way under load, and one test point of a fuse.
#include <algorithm>

#include "machine/paths.h"
#include "proving/judge_context.h"
#include "proving/rules.h"
#include "proving/walk.h"

namespace ilvek {

Judgement judgeSegmentWalk(const JudgeContext& c)
{
    Judgement j;
    const std::string place = c.map.nodeWords(c.map.nodeIndex(c.reading.red));
    const auto healthy = healthyReading(c.map, c.reading);
    const double current = currentDuring(c.map, c.evidence, c.reading);
    j.current_A = current;
    j.arithmetic = fmt::format("{} at {}", volts2(c.value_V), place);
    if (healthy) j.arithmetic += fmt::format("; {} if all were sound", volts2(*healthy));
    j.arithmetic += ".";
    // A lamp that a fault keeps dark is on all the same: the voltage stands up to the fault and not behind it.
    if (current < 1e-3 && c.reading.load.empty()) {
        j.verdict = Verdict::NoEvidence;
        j.word = "No current, no step";
        j.doesNotProve.push_back("Where the fault is: a walk needs the load on.");
        j.traps.push_back({"T1", "Without a current every point reads the same."});
        return j;
    }
    j.verdict = Verdict::Noted;
    const Walk walk = walkOf(c.map, c.evidence, c.terminal, &c.reading);
    j.word = "Point noted";
    if (!walk.located) {
        j.proves.push_back("One more potential on the staircase.");
        j.doesNotProve.push_back("The place of the step yet; read the next point.");
        return j;
    }
    j.word = walk.isSingleElement ? "The step is found" : "Between two points";
    j.verdict = walk.isSingleElement ? Verdict::FailsLoaded : Verdict::Noted;
    if (walk.isSingleElement) j.finding = Finding::StepFound;
    j.arithmetic += " " + walk.sentence;
    j.proves.push_back(walk.located->words);
    if (!walk.isSingleElement)
        j.doesNotProve.push_back("Which part between them: read a point that lies between.");
    else
        j.doesNotProve.push_back(
            "What killed it: look for water, heat, a spread terminal or an old repair (cause behind the cause).");
    return j;
}

namespace {

// The fuse whose test point the red lead stands on, and whether on its source side. Several may hang on one bus: then
// the one whose other side was read, before the one on the terminal's own way.
std::pair<int, bool> fuseAt(const JudgeContext& c)
{
    const auto own = c.terminal >= 0 ? fusesOf(c.map, c.terminal) : std::vector<int>{};
    std::pair<int, bool> best{-1, true};
    int bestRank = -1;
    for (std::size_t i = 0; i < c.map.elements.size(); ++i) {
        const Element& e = c.map.elements[i];
        for (std::size_t k = 0; k < 2 && e.kind == ElementKind::Fuse; ++k) {
            if (c.map.node(e.nodes[k]) != c.reading.red) continue;
            const std::string& otherSide = c.map.node(e.nodes[1 - k]);
            const bool otherRead = c.latest([&](const Reading& r) {
                return r.test == TestKind::FuseCheck && r.red == otherSide && r.state == c.reading.state;
            }) != nullptr;
            const bool isOwn = std::find(own.begin(), own.end(), static_cast<int>(i)) != own.end();
            const int rank = (otherRead ? 2 : 0) + (isOwn ? 1 : 0);
            if (rank <= bestRank) continue;
            bestRank = rank;
            best = {static_cast<int>(i), k == 0};
        }
    }
    return best;
}

}  // namespace

Judgement judgeFuseCheck(const JudgeContext& c)
{
    Judgement j;
    const auto [fuse, nearSide] = fuseAt(c);
    if (fuse < 0) {
        j.word = "Not at a fuse";
        j.doesNotProve.push_back("The red lead does not stand on a fuse's test point.");
        return j;
    }
    const Element& e = c.map.element(fuse);
    const std::string otherNode = c.map.node(e.nodes[nearSide ? 1 : 0]);
    const Reading* other = c.latest([&](const Reading& r) {
        return r.test == TestKind::FuseCheck && r.red == otherNode && r.state == c.reading.state;
    });
    j.arithmetic = fmt::format("{} on the {} side of {}.", volts2(c.value_V), nearSide ? "source" : "far", e.id);
    const double battery = c.battery_V.value_or(c.map.systemVoltage_V);
    const bool nothing = nearSide && c.value_V < rules::absentShare * battery;
    if (!other && !nothing) {
        j.verdict = Verdict::Noted;
        j.word = "One side read";
        j.doesNotProve.push_back("The fuse, until its other side is read too.");
        return j;
    }
    const double source = nearSide ? c.value_V : std::abs(other->value.value);
    const double far = !nearSide ? c.value_V : other ? std::abs(other->value.value) : 0;
    if (other) j.arithmetic = fmt::format("{} before and {} behind {}.", volts2(source), volts2(far), e.id);
    if (source < rules::absentShare * battery) {
        j.verdict = Verdict::Low;
        j.word = "Nothing before the fuse";
        j.proves.push_back("The fault lies before " + e.id + ".");
        j.doesNotProve.push_back("The fuse itself.");
    } else if (source - far > rules::fuseDropAtMost_V) {
        j.verdict = Verdict::FailsLoaded;
        j.finding = Finding::FuseBlown;
        j.word = far < rules::absentShare * battery ? "Fuse is blown" : "Fuse loses voltage";
        j.proves.push_back(e.id + " or its holder does not conduct.");
        j.doesNotProve.push_back(
            "Why it blew: find the short before power is restored; never a larger fuse, never foil.");
    } else {
        j.verdict = Verdict::Good;
        j.word = "Fuse conducts";
        j.proves.push_back(e.id + " passes current at this moment.");
        j.doesNotProve.push_back("That it carries the full current, nor the conductor behind it.");
    }
    return j;
}

}  // namespace ilvek
