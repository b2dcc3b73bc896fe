// A terminal and its wire as the eye finds them (W5, W6, W13): evidence for the suspects, and never proof of a current.
#include "proving/judge_context.h"
#include "wording/words.h"

namespace ilvek {

namespace {

// By Found.
constexpr Verdict verdicts[kindsOfFound] = {Verdict::Noted, Verdict::NotDecided, Verdict::NotDecided,
                                            Verdict::NotDecided};

}  // namespace

Judgement judgeLook(const JudgeContext& c)
{
    Judgement j;
    if (!c.reading.found) return j;
    const auto id = [&](const char* what) { return fmt::format("look.{}{}", foundId(*c.reading.found), what); };
    j.verdict = verdicts[static_cast<std::size_t>(*c.reading.found)];
    j.word = inWords(id(""));
    j.arithmetic = inWords("look.looked-at", c.self().id, inWords(id(".seen")));
    if (*c.reading.found != Found::AsDrawn && !c.self().colour.base.empty())
        j.arithmetic += " Drawn: " + c.self().colour.words() + ".";
    j.doesNotProve.push_back(inWords("look.carries-current-strand-left"));
    if (hasWords(id(".not"))) j.doesNotProve.push_back(inWords(id(".not")));
    if (hasWords(id(".proves"))) j.proves.push_back(inWords(id(".proves")));
    return j;
}

}  // namespace ilvek
