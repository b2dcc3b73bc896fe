// W13 and W14: one point on the way under load, and one test point of a fuse.
#include <algorithm>

#include "machine/paths.h"
#include "proving/judge_context.h"
#include "proving/walk.h"
#include "quantity/trade.h"
#include "wording/words.h"

namespace ilvek {

Judgement judgeSegmentWalk(const JudgeContext& c)
{
    Judgement j;
    const std::string place = c.map.nodeWords(c.map.nodeIndex(c.reading.red));
    const auto healthy = healthyReading(c.map, c.reading);
    const double current = currentDuring(c.map, c.evidence, c.reading);
    j.current_A = current;
    j.arithmetic = fmt::format("{} at {}", volts2(c.value_V), place);
    if (healthy) j.arithmetic += inWords("walk.if-all-were-sound", volts2(*healthy));
    j.arithmetic += ".";
    // A lamp that a fault keeps dark is on all the same: the voltage stands up to the fault and not behind it.
    if (current < 1e-3 && c.reading.load.empty()) {
        j.verdict = Verdict::NoEvidence;
        j.word = inWords("walk.current-step");
        j.doesNotProve.push_back(inWords("walk.where-fault-walk-needs"));
        j.traps.push_back({"T1", inWords("walk.without-current-every-point")});
        return j;
    }
    j.verdict = Verdict::Noted;
    const Walk walk = walkOf(c.map, c.evidence, c.terminal, &c.reading);
    j.word = inWords("walk.point-noted");
    if (!walk.located) {
        j.proves.push_back(inWords("walk.one-more-potential-staircase"));
        j.doesNotProve.push_back(inWords("walk.place-step-yet-read"));
        return j;
    }
    j.word = walk.isSingleElement ? inWords("walk.step-found") : inWords("walk.between-two-points");
    j.verdict = walk.isSingleElement ? Verdict::FailsLoaded : Verdict::Noted;
    if (walk.isSingleElement) j.finding = Finding::StepFound;
    j.arithmetic += " " + walk.sentence;
    j.proves.push_back(walk.located->words);
    if (!walk.isSingleElement)
        j.doesNotProve.push_back(inWords("walk.part-between-them-read"));
    else
        j.doesNotProve.push_back(inWords("walk.killed-look-water-heat"));
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
        j.word = inWords("walk.not-at-a-fuse");
        j.doesNotProve.push_back(inWords("walk.red-lead-does-stand"));
        return j;
    }
    const Element& e = c.map.element(fuse);
    const std::string otherNode = c.map.node(e.nodes[nearSide ? 1 : 0]);
    const Reading* other = c.latest([&](const Reading& r) {
        return r.test == TestKind::FuseCheck && r.red == otherNode && r.state == c.reading.state;
    });
    j.arithmetic = inWords("walk.on-the-side-of", volts2(c.value_V), nearSide ? "source" : "far", e.id);
    const double battery = c.battery_V.value_or(c.map.systemVoltage_V);
    const bool nothing = nearSide && c.value_V < trade::absentShare * battery;
    if (!other && !nothing) {
        j.verdict = Verdict::Noted;
        j.word = inWords("walk.one-side-read");
        j.doesNotProve.push_back(inWords("walk.fuse-until-other-side"));
        return j;
    }
    const double source = nearSide ? c.value_V : std::abs(other->value.value);
    const double far = !nearSide ? c.value_V : other ? std::abs(other->value.value) : 0;
    if (other) j.arithmetic = inWords("walk.before-behind", volts2(source), volts2(far), e.id);
    if (source < trade::absentShare * battery) {
        j.verdict = Verdict::Low;
        j.word = inWords("walk.nothing-before-fuse");
        j.proves.push_back(inWords("walk.fault-lies-before") + e.id + ".");
        j.doesNotProve.push_back(inWords("walk.fuse-itself"));
    } else if (source - far > trade::fuseDropAtMost_V) {
        j.verdict = Verdict::FailsLoaded;
        j.finding = Finding::FuseBlown;
        j.word = far < trade::absentShare * battery ? inWords("walk.fuse-blown") : inWords("walk.fuse-loses-voltage");
        j.proves.push_back(e.id + inWords("walk.holder-does-conduct"));
        j.doesNotProve.push_back(inWords("walk.why-blew-find-short"));
    } else {
        j.verdict = Verdict::Good;
        j.word = inWords("walk.fuse-conducts");
        j.proves.push_back(e.id + inWords("walk.passes-current-moment"));
        j.doesNotProve.push_back(inWords("walk.carries-full-current-nor"));
    }
    return j;
}

}  // namespace ilvek
