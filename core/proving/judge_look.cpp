// A terminal and its wire as the eye finds them (W5, W6, W13): evidence for the suspects, and never proof of a current.
#include "proving/judge_context.h"

namespace ilvek {

namespace {

struct Sighting {
    Verdict verdict;
    const char *word, *seen, *proves, *doesNotProve;
};

// By Found.
constexpr Sighting sightings[kindsOfFound] = {
    {Verdict::Noted, "As drawn", "the wire is the drawn one, the metal clean, tight and pushed home.",
     "The map is right about this cavity, as far as colours tell.", ""},
    {Verdict::NotDecided, "Damage seen", "damaged or loose.", "",
     "That it is the fault: an eye alone is no proof; read it under load."},
    {Verdict::NotDecided, "Not the drawn wire", "the wire is not the one on the map.",
     "The map and this machine differ here: correct the map before its figures are used.", ""},
    {Verdict::NotDecided, "Cavity is empty", "no terminal is there.",
     "This variant has no such wire: mark the cavity as found empty, and nothing is asked of it.", ""}};

}  // namespace

Judgement judgeLook(const JudgeContext& c)
{
    Judgement j;
    if (!c.reading.found) return j;
    const Sighting& s = sightings[static_cast<std::size_t>(*c.reading.found)];
    j.verdict = s.verdict;
    j.word = s.word;
    j.arithmetic = fmt::format("Looked at {}: {}", c.self().id, s.seen);
    if (*c.reading.found != Found::AsDrawn && !c.self().colour.base.empty())
        j.arithmetic += " Drawn: " + c.self().colour.words() + ".";
    j.doesNotProve.push_back(
        "That it carries current: a strand that is left, or a crimp gone under its insulation, looks sound.");
    if (*s.doesNotProve) j.doesNotProve.push_back(s.doesNotProve);
    if (*s.proves) j.proves.push_back(s.proves);
    return j;
}

}  // namespace ilvek
