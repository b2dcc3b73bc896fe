// A terminal and its wire as the eye finds them (W5, W6, W13): evidence for the suspects, and never proof of a current.
#include "proving/judge_context.h"

namespace ilvek {

Judgement judgeLook(const JudgeContext& c)
{
    Judgement j;
    if (!c.reading.found) return j;
    const std::string drawn = c.self().colour.base.empty() ? "" : " Drawn: " + c.self().colour.words() + ".";
    const std::string at = "Looked at " + c.self().id + ": ";
    j.doesNotProve.push_back(
        "That it carries current: a strand that is left, or a crimp gone under its insulation, looks sound.");
    switch (*c.reading.found) {
        case Found::AsDrawn:
            j.verdict = Verdict::Noted;
            j.word = "As drawn";
            j.arithmetic = at + "the wire is the drawn one, the metal clean, tight and pushed home.";
            j.proves.push_back("The map is right about this cavity, as far as colours tell.");
            break;
        case Found::Damaged:
            j.verdict = Verdict::NotDecided;
            j.word = "Damage seen";
            j.arithmetic = at + "damaged or loose." + drawn;
            j.doesNotProve.push_back("That it is the fault: an eye alone is no proof; read it under load.");
            break;
        case Found::OtherWire:
            j.verdict = Verdict::NotDecided;
            j.word = "Not the drawn wire";
            j.arithmetic = at + "the wire is not the one on the map." + drawn;
            j.proves.push_back("The map and this machine differ here: correct the map before its figures are used.");
            break;
        case Found::Empty:
            j.verdict = Verdict::NotDecided;
            j.word = "Cavity is empty";
            j.arithmetic = at + "no terminal is there." + drawn;
            j.proves.push_back(
                "This variant has no such wire: mark the cavity as found empty, and nothing is asked of it.");
            break;
    }
    return j;
}

}  // namespace ilvek
