#include "practice/story.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <set>

#include "base/file.h"
#include "bench_map/sheet_map.h"
#include "job/hand_over.h"
#include "open_job/procedure_step.h"
#include "open_job/setup_line.h"
#include "open_job/taking.h"
#include "papers/shared_branches.h"
#include "papers/told.h"
#include "procedures/in_words.h"
#include "quantity/fields.h"
#include "repair/behind.h"
#include "repair/closing.h"
#include "repair/repeated.h"
#include "repair/ways.h"
#include "report/report.h"

namespace ilvek::practice {

namespace {

using nlohmann::json;

constexpr std::int64_t begin_ms = 1'700'000'000'000;

class StoryReader {
public:
    explicit StoryReader(std::string file) : file_(std::move(file)) {}

    Result<Story, Problems> read()
    {
        const auto text = readFile(file_);
        if (!text) return tl::unexpected(Problems{text.error()});
        const auto document = parseJson(*text, file_);
        if (!document) return tl::unexpected(Problems{document.error()});
        Fields root(*document, file_, problems_);
        if (!root.isObject()) return tl::unexpected(problems_);
        if (root.text("format", Need::Required) != "ilvek-story")
            root.problem("format", "this is no story (“ilvek-story” is expected)");
        root.whole("version", 1, 1, Need::Required);
        story_.file = file_;
        story_.title = root.text("title", Need::Required);
        story_.isSound = root.flag("sound");
        readSheet(root);
        for (std::size_t n = 0; const json* object : root.objects("entries", Need::Required))
            readStep(*object, fmt::format("{}: entry {}", file_, ++n));
        root.reportUnknown();
        if (!problems_.empty()) return tl::unexpected(problems_);
        return std::move(story_);
    }

private:
    void readSheet(Fields& root)
    {
        const std::string name = root.text("sheet", Need::Required);
        NewMachine machine;
        machine.maker = "invented", machine.model = root.text("machine", Need::Required);
        machine.module = root.text("module", Need::Required);
        if (const auto v = root.quantity("system_voltage", Unit::Volt, 5, 60, Need::Required))
            machine.systemVoltage_V = v->value;
        const auto path = std::filesystem::path(file_).parent_path() / name;
        const auto text = readFile(path.string());
        if (!text) return problems_.push_back(text.error());
        const auto sheet = readPinSheet(*text, name);
        if (!sheet) return problems_.push_back(sheet.error());
        problems_.insert(problems_.end(), sheet->problems.begin(), sheet->problems.end());
        auto document = mapFromSheet(sheet->rows, machine);
        if (!document) return void(problems_.insert(problems_.end(), document.error().begin(), document.error().end()));
        story_.mapDocument = std::move(*document);
    }

    void readStep(const json& object, const std::string& item)
    {
        Fields f(object, item, problems_);
        if (!f.isObject()) return;
        StoryStep step;
        step.item = item;
        if (const auto after = f.quantity("after", Unit::Second, 0, 1e6, Need::Optional)) step.after_s = after->value;
        step.at = f.text("at", Need::Optional), step.read = f.text("read", Need::Optional);
        step.works = f.texts("works", Need::Optional), step.fails = f.texts("fails", Need::Optional);
        step.close = f.text("close", Need::Optional), step.reasons = f.text("reasons", Need::Optional);
        if (!step.close.empty() && !closingFromId(step.close)) f.problem("close", "is no end of a job");
        step.isHandedOver = f.flag("handed_over");
        step.isSlip = f.flag("slip"), step.isDanger = f.flag("danger");
        for (const json* entry : f.objects("enter", Need::Optional)) {
            Fields e(*entry, item + ", enter", problems_);
            const std::string kind = e.text("kind", Need::Required);
            const json* body = e.object("body", Need::Required);
            if (!body) continue;
            auto read = readBody(kind, body->dump(), item);
            if (!read) problems_.push_back(read.error());
            if (read) step.bodies.push_back(std::move(*read));
        }
        if (const json* told = f.object("told", Need::Optional)) readTold(*told, item + ", told", step.told);
        f.text("note", Need::Optional);
        f.reportUnknown();
        story_.steps.push_back(std::move(step));
    }

    void readTold(const json& object, const std::string& item, Told& t)
    {
        Fields f(object, item, problems_);
        t.test = f.text("test", Need::Optional), t.terminal = f.text("terminal", Need::Optional);
        t.verdict = f.text("verdict", Need::Optional), t.finding = f.text("finding", Need::Optional);
        t.traps = f.texts("traps", Need::Optional), t.noTraps = f.texts("no_traps", Need::Optional);
        t.gate = f.text("gate", Need::Optional), t.conclusion = f.text("conclusion", Need::Optional);
        t.first = f.texts("first", Need::Optional), t.verdictWithin = f.texts("verdict_within", Need::Optional);
        if (const json* proofs = f.object("proofs", Need::Optional)) {
            for (const auto& [terminal, words] : proofs->items())
                t.proofs.emplace_back(terminal, words.is_string() ? words.get<std::string>() : "");
        }
        const auto pairs = [&](const char* key, auto& into) {
            const json none = json::object();
            const json* given = f.object(key, Need::Optional);
            for (const auto& [name, words] : (given ? given : &none)->items())
                into.emplace_back(name, words.is_string() ? words.template get<std::string>() : "");
        };
        pairs("repeated", t.repeated), pairs("behind", t.behind);
        t.shared = f.texts("shared", Need::Optional), t.cheapest = f.text("cheapest", Need::Optional);
        if (const int left = f.whole("left", 0, 1000, Need::Optional); object.is_object() && object.contains("left"))
            t.left = left;
        const auto ohm = [&](const char* key) -> std::optional<double> {
            const auto q = f.quantity(key, Unit::Ohm, 0, 1e9, Need::Optional);
            return q ? std::optional(q->value) : std::nullopt;
        };
        for (const json* one : f.objects("procedures", Need::Optional)) {
            Fields p(*one, item + ", procedure", problems_);
            Told::ProcedureTold told;
            told.id = p.text("id", Need::Required), told.subject = p.text("subject", Need::Optional);
            told.ending = p.text("ending", Need::Optional), told.fact = p.text("fact", Need::Optional);
            told.next = p.text("next", Need::Optional), told.within = p.texts("within", Need::Optional);
            told.called = p.flag("called");
            p.reportUnknown();
            t.procedures.push_back(std::move(told));
        }
        t.loopFrom_ohm = ohm("loop_from"), t.loopTo_ohm = ohm("loop_to");
        f.reportUnknown();
    }

    std::string file_;
    Problems problems_;
    Story story_;
};

constexpr std::string_view conclusionIds[] = {"open",      "outside", "inside",    "either",
                                              "map-wrong", "nothing", "not-on-map"};

std::string gateId(Outcome outcome)
{
    static const char* const ids[] = {"cleared", "not-proven", "may-be-condemned", "proven-good"};
    return ids[static_cast<std::size_t>(outcome)];
}

// No text holds a figure that is none, or what only the program calls so.
std::optional<std::string> badWords(const std::string& text)
{
    for (const char* bad : {"nan", "inf ", "e-0", "0000000", "99999999", ".a ", ".b ", ".end", ".ring"}) {
        const auto at = text.find(bad);
        if (at == std::string::npos) continue;
        // "nan" inside a word is none.
        const bool inWord = at > 0 && std::isalpha(static_cast<unsigned char>(text[at - 1])) != 0;
        if (std::string_view(bad) == "nan" && inWord) continue;
        return fmt::format("“{}” in “{}”", bad, text);
    }
    return std::nullopt;
}

class Player {
public:
    explicit Player(const Story& story) : story_(story) { content_.mapDocument = story.mapDocument; }

    StoryRun play()
    {
        auto opened = OpenJob::of(content_);
        if (!opened) return failAll(opened.error());
        open_ = std::move(*opened);
        for (const StoryStep& step : story_.steps) {
            if (step.isHandedOver && !handOver(step)) return std::move(run_);
            if (!enter(step)) return std::move(run_);
            weigh();
            if (!step.read.empty()) checkReading(step);
            check(step);
            ++run_.entries;
        }
        run_.content = content_;
        // Weighed entry by entry the severities between those computed lie where earlier entries put them; what is said
        // at the end is said of all entries at once, as whoever opens the journal sees it.
        run_.reasoning = weighedInFull(open_)->reason(open_.standing());
        run_.gate = open_.gate(now_ms_, &run_.reasoning);
        return std::move(run_);
    }

private:
    StoryRun failAll(const Problems& problems)
    {
        run_.failures.insert(run_.failures.end(), problems.begin(), problems.end());
        return std::move(run_);
    }

    void failed(const StoryStep& step, std::string what) { run_.failures.push_back({step.item, std::move(what)}); }

    // Written and read as the file does it.
    bool append(const StoryStep& step, const EventBody& body)
    {
        const auto id = static_cast<std::int64_t>(content_.events.size()) + 1;
        auto read = readBody(eventKind(body), writeBody(body), step.item);
        if (!read) return failed(step, "cannot be read again: " + read.error().message()), false;
        content_.events.push_back({id, now_ms_, std::move(*read)});
        return true;
    }

    // Whoever takes it over has the file and nothing else, and is told the same.
    bool handOver(const StoryStep& step)
    {
        const std::set<std::string> before = likeliest();
        const std::string gateBefore = gate_.sentence, rankingBefore = ranking();
        auto taken = readHandOver(writeHandOver(content_), step.item);
        if (!taken) return failAll(taken.error()), false;
        content_ = std::move(*taken);
        auto opened = OpenJob::of(content_);
        if (!opened) return failAll(opened.error()), false;
        open_ = std::move(*opened);
        reasoner_.reset();
        weigh();
        if (gate_.sentence != gateBefore)
            failed(step, fmt::format("handed over “{}” is “{}”", gateBefore, gate_.sentence));
        if (likeliest() != before)
            failed(step, fmt::format("the suspects were {}, and handed over are {}", rankingBefore, ranking()));
        return true;
    }

    // The likeliest, and what is as likely but for the last digits of its fit.
    std::set<std::string> likeliest() const
    {
        constexpr double alike = 0.98;
        std::set<std::string> out;
        for (const SuspectGroup& g : reasoning_.groups) {
            if (g.probability > alike * reasoning_.groups.front().probability) out.insert(g.words);
        }
        return out;
    }

    bool enter(const StoryStep& step)
    {
        now_ms_ += static_cast<std::int64_t>(1000 * step.after_s);
        std::vector<EventBody> bodies = step.bodies;
        const bool tried = !step.works.empty() || !step.fails.empty();
        if (!step.read.empty() || tried) {
            if (!step.at.empty()) {
                auto setUp = parseSetUp(open_.job.map, step.at, open_.job.state);
                if (!setUp) return failed(step, setUp.error().message()), false;
                const auto again = parseSetUp(open_.job.map, setUpLine(open_.job.map, *setUp), open_.job.state);
                if (!again || !(*again == *setUp))
                    failed(step, "its line is not read back as it stands: " + setUpLine(open_.job.map, *setUp));
                setUp_ = std::move(*setUp);
            }
        }
        if (tried) {
            auto seen = functionsTried(open_, setUp_, step.works, step.fails);
            if (!seen) return failed(step, seen.error().message()), false;
            bodies.emplace_back(std::move(*seen));
        }
        if (!step.read.empty()) {
            auto reading = readingAnywhere(open_, setUp_, step.read, now_ms_);
            if (!reading) return failed(step, reading.error().message()), false;
            for (EventBody& body : entriesOf(open_, std::move(*reading)))
                bodies.push_back(std::move(body));
        }
        if (!step.close.empty()) {
            auto closed = closing(open_.job, open_.assessment, gate_, *closingFromId(step.close), step.reasons);
            if (!closed) return failed(step, closed.error().message()), false;
            bodies.emplace_back(std::move(*closed));
        }
        for (const EventBody& body : bodies) {
            if (!append(step, body)) return false;
        }
        auto next = OpenJob::of(content_, &open_);
        if (!next) return failAll(next.error()), false;
        open_ = std::move(*next);
        if (open_.job.evidence.readings.size() > 0 && open_.job.evidence.readings.back().inShutDown)
            setUp_.inShutDown = false;
        return true;
    }

    // As the window's thread does it, to its end.
    void weigh()
    {
        const bool complaint = open_.hasComplaint();
        if (!reasoner_ || complaint != complaint_ || reasoner_->map().document != open_.job.map.document) {
            reasoner_ = std::make_unique<Reasoner>(open_.job.map, open_.job.evidence.working, complaint);
            complaint_ = complaint;
        }
        while (reasoner_->buildNext()) {
        }
        reasoner_->observe(open_.assessment, open_.reports(), open_.revision);
        reasoner_->refine();
        while (reasoner_->buildNext()) {
        }
        reasoning_ = reasoner_->reason(open_.standing());
        gate_ = open_.gate(now_ms_, &reasoning_);
    }

    void checkReading(const StoryStep& step)
    {
        const Reading& r = open_.assessment.evidence.readings.back();
        const Judgement& j = open_.assessment.judgements.back();
        std::string line = fmt::format("{}  {}: {}  {}. {}", r.id, r.terminal.empty() ? "-" : r.terminal,
                                       testName(r.test), figureOf(r), j.word);
        run_.lines.push_back(line + "  " + j.arithmetic);
        const Told& t = step.told;
        const auto same = [&](const char* what, const std::string& told, std::string_view is) {
            if (told.empty()) return;
            ++run_.facts;
            if (told != is) failed(step, fmt::format("{} is “{}”, not “{}”: {}", what, is, told, line));
        };
        same("the test", t.test, testId(r.test));
        same("the terminal", t.terminal, r.terminal);
        same("the verdict", t.verdict, verdictId(j.verdict));
        same("the finding", t.finding, findingId(j.finding));
        const auto has = [&](const std::string& trap) {
            return std::any_of(j.traps.begin(), j.traps.end(), [&](const Trap& x) { return x.id == trap; });
        };
        for (const std::string& trap : t.traps) {
            ++run_.facts;
            if (!has(trap)) failed(step, fmt::format("trap {} is not named", trap));
        }
        for (const std::string& trap : t.noTraps) {
            ++run_.facts;
            if (has(trap)) failed(step, fmt::format("trap {} is named", trap));
        }
        if (t.loopFrom_ohm || t.loopTo_ohm) {
            ++run_.facts;
            const double is = j.loopResistance_ohm.value_or(-1);
            if (is < t.loopFrom_ohm.value_or(0) || is > t.loopTo_ohm.value_or(1e12))
                failed(step, fmt::format("the loop has {} Ω", is));
        }
        if (story_.isSound && isFailure(j.verdict)) failed(step, "a sound machine fails: " + line);
        std::vector<std::string> texts = j.proves;
        texts.insert(texts.end(), j.doesNotProve.begin(), j.doesNotProve.end());
        texts.insert(texts.end(), {j.word, j.arithmetic, j.limits, gate_.sentence, gate_.located, gate_.alternative,
                                   reasoning_.conclusion.words});
        for (const Trap& trap : j.traps)
            texts.push_back(trap.line);
        for (const std::string& text : texts) {
            if (const auto bad = badWords(text)) failed(step, *bad);
        }
        const bool danger = j.verdict == Verdict::NoEvidence && j.word == "Not to be done so";
        if (danger != step.isDanger)
            failed(step, danger ? "is called dangerous: " + j.doesNotProve.back() : "its danger is not named");
    }

    void check(const StoryStep& step)
    {
        const Told& t = step.told;
        for (const auto& [terminal, words] : t.proofs) {
            ++run_.facts;
            const int index = open_.job.map.terminalIndex(terminal);
            const auto is = index < 0 ? std::string_view("not on the map")
                                      : proofWords(proofOf(open_.job.map, open_.assessment, index).state);
            if (is != words) failed(step, fmt::format("{} is “{}”, not “{}”", terminal, is, words));
        }
        const std::string outcome = gateId(gate_.outcome);
        if (!t.gate.empty()) {
            ++run_.facts;
            if (t.gate != outcome) failed(step, fmt::format("the gate is “{}”, not “{}”", outcome, t.gate));
        } else if (gate_.outcome == Outcome::MayBeCondemned) {
            failed(step, "the module may be condemned: " + gate_.sentence);
        }
        const auto conclusion = conclusionIds[static_cast<std::size_t>(reasoning_.conclusion.kind)];
        if (!t.conclusion.empty()) {
            ++run_.facts;
            if (t.conclusion != conclusion)
                failed(step, fmt::format("the conclusion is “{}”, not “{}”: {}", conclusion, t.conclusion, ranking()));
        }
        checkSuspects(step);
        checkProcedures(step);
        checkPapers(step);
        checkRepair(step);
        checkAlways(step);
    }

    void checkPapers(const StoryStep& step)
    {
        if (step.told.shared.empty()) return;
        ++run_.facts;
        const Map& map = open_.job.map;
        const auto branches = sharedBranches(map, storedCodes(open_.job));
        const int best = explaining(branches, onPaper(open_.job)).branch;
        const auto& parts = best < 0 ? std::vector<std::string>{} : branches[static_cast<std::size_t>(best)].parts;
        for (const std::string& part : step.told.shared) {
            if (std::find(parts.begin(), parts.end(), part) == parts.end())
                failed(step, fmt::format("what explains it is “{}”, without {}", fmt::join(parts, ", "), part));
        }
    }

    void checkRepair(const StoryStep& step)
    {
        const Told& t = step.told;
        const auto& readings = open_.assessment.evidence.readings;
        const auto all = t.repeated.empty() ? std::vector<Repeated>{} : repeatedAfterRepair(open_.assessment);
        for (const auto& [terminal, word] : t.repeated) {
            ++run_.facts;
            std::string is = "nothing that failed";
            for (const Repeated& r : all) {
                if (readings[r.before].terminal == terminal && (is != word || is == "nothing that failed"))
                    is = repeatedWord(r.state);
            }
            if (is != word) failed(step, fmt::format("{} is “{}” after the repair, not “{}”", terminal, is, word));
        }
        const auto questions = t.behind.empty()
                                   ? std::vector<BehindQuestion>{}
                                   : behindQuestions(open_.job, open_.assessment, locatedParts(reasoning_));
        for (const auto& [id, word] : t.behind) {
            ++run_.facts;
            const auto q =
                std::find_if(questions.begin(), questions.end(), [&](const auto& one) { return one.id == id; });
            const std::string is = q == questions.end() ? "not asked"
                                   : q->leftOpen        ? "left open"
                                   : q->isOpen()        ? "open"
                                                        : "answered";
            std::vector<std::string> ids;
            for (const BehindQuestion& one : questions)
                ids.push_back(one.id);
            if (is != word)
                failed(step, fmt::format("“{}” is {}, not {}; asked are {}", id, is, word, fmt::join(ids, ", ")));
        }
        if (!t.cheapest.empty()) {
            ++run_.facts;
            const RepairChoices& choices = open_.job.choices;
            const auto costs = waysOf(open_.job.map, choices, partBeliefs(open_.job.map, reasoning_));
            const auto least = std::min_element(
                costs.begin(), costs.end(), [](const WayCost& a, const WayCost& b) { return a.expected < b.expected; });
            const std::string is =
                least == costs.end() ? "none" : choices.choices[static_cast<std::size_t>(least - costs.begin())].name;
            if (is != t.cheapest)
                failed(step,
                       fmt::format("the cheapest is “{}”, not “{}”: {}", is, t.cheapest, waysTable(choices, costs)));
        }
        if (t.left) {
            ++run_.facts;
            const auto left = openBeforeClosing(open_.job, open_.assessment);
            if (static_cast<int>(left.size()) != *t.left)
                failed(step, fmt::format("{} are left open: {}", left.size(), fmt::join(left, " ")));
        }
    }

    void checkProcedures(const StoryStep& step)
    {
        static constexpr std::string_view endings[] = {"sound", "found", "elsewhere", "open"};
        for (const Told::ProcedureTold& t : step.told.procedures) {
            ++run_.facts;
            const std::string name = t.id + (t.subject.empty() ? "" : " " + t.subject);
            const auto p = procedureOf(open_, t.id, t.subject, now_ms_);
            if (!p) {
                failed(step, "there is no procedure " + name);
                continue;
            }
            const std::string end =
                p->ending ? std::string(endings[static_cast<std::size_t>(p->ending->kind)]) : "none";
            const std::string stands = fmt::format("{} ends “{}” ({}), next “{}”", name, end,
                                                   p->ending ? p->ending->fact.id : "", p->next() ? p->next()->id : "");
            if (!t.ending.empty() && t.ending != end) failed(step, fmt::format("{}, not “{}”", stands, t.ending));
            if (!t.next.empty() && (!p->next() || p->next()->id != t.next))
                failed(step, fmt::format("{}, not “{}”", stands, t.next));
            if (t.called && !p->calledBy) failed(step, "nothing calls for " + name);
            bool said = t.fact.empty() || (p->ending && p->ending->fact.id == t.fact);
            for (const Stage& s : p->stages)
                said = said || std::any_of(s.says.begin(), s.says.end(), [&](const Fact& f) { return f.id == t.fact; });
            if (!said) failed(step, fmt::format("{}, and nowhere says “{}”", stands, t.fact));
            for (const std::string& place :
                 p->ending && !t.within.empty() ? p->ending->places : std::vector<std::string>{}) {
                const int element = open_.job.map.elementIndex(place);
                const std::string known = element < 0 ? place : open_.job.map.element(element).name;
                const auto is = [&](const std::string& w) { return w == place || w == known; };
                if (std::none_of(t.within.begin(), t.within.end(), is))
                    failed(step, fmt::format("{} at its end takes in {}", name, place));
            }
        }
        for (const Procedure& p : proceduresOf(open_, now_ms_))
            checkWords(step, p);
    }

    // Every sentence of every procedure can be made, and holds nothing that only the program calls so.
    void checkWords(const StoryStep& step, const Procedure& p)
    {
        std::vector<Fact> facts = p.cautions;
        for (const Stage& s : p.stages) {
            facts.push_back(s.title);
            facts.insert(facts.end(), s.says.begin(), s.says.end());
        }
        if (p.ending) facts.push_back(p.ending->fact);
        if (p.calledBy) facts.push_back(*p.calledBy);
        for (const Fact& fact : facts) {
            if (!isWorded(fact))
                failed(step, "there are no words for " + fact.id);
            else if (const auto bad = badWords(sentence(fact)))
                failed(step, *bad);
        }
        // What was told may point at anything; what is accused on a sound machine may not.
        using Kind = Ending::Kind;
        if (story_.isSound && p.ending && p.ending->kind == Kind::Found)
            failed(step,
                   fmt::format("a sound machine: {} {} ends with “{}”", p.id, p.subject, sentence(p.ending->fact)));
    }

    // The places of a group by their names on the map.
    std::vector<std::string> placesOf(const SuspectGroup& group) const
    {
        std::vector<std::string> places;
        for (const int m : group.members)
            addPlaces(reasoner_->suspects()[static_cast<std::size_t>(m)], places);
        return places;
    }

    void addPlaces(const Suspect& s, std::vector<std::string>& places) const
    {
        const Map& map = open_.job.map;
        places.push_back(s.place.empty() ? s.id : s.place);
        if (s.element >= 0) places.push_back(map.element(s.element).id);
        if (s.terminal >= 0) places.push_back(map.terminal(s.terminal).id);
        for (const auto& faults : s.severities) {
            for (const Fault& f : faults) {
                if (f.kind == Fault::Kind::Blown) continue;  // no fault of its own
                if (f.element >= 0) places.push_back(map.element(f.element).id);
                for (const int node : {f.nodeA, f.nodeB}) {
                    if (node >= 0 && node != map.batteryMinus() && node != map.batteryPlus())
                        places.push_back(map.node(node));
                }
            }
        }
    }

    static bool among(const std::vector<std::string>& places, const std::vector<std::string>& allowed)
    {
        return std::any_of(places.begin(), places.end(), [&](const std::string& p) {
            return std::find(allowed.begin(), allowed.end(), p) != allowed.end();
        });
    }

    void checkSuspects(const StoryStep& step)
    {
        const Told& t = step.told;
        if (!t.first.empty()) {
            ++run_.facts;
            if (reasoning_.groups.empty() || !among(placesOf(reasoning_.groups.front()), t.first))
                failed(step, "first among the suspects is " + ranking());
        }
        if (t.verdictWithin.empty()) return;
        ++run_.facts;
        if (reasoning_.conclusion.kind == Conclusion::Kind::Open || reasoning_.groups.empty())
            return failed(step, "there is no verdict: " + ranking());
        for (const int m : reasoning_.groups.front().members) {
            std::vector<std::string> places;
            addPlaces(reasoner_->suspects()[static_cast<std::size_t>(m)], places);
            if (!among(places, t.verdictWithin)) failed(step, "the verdict takes in " + places.front());
        }
    }

    std::string ranking() const
    {
        std::string out;
        for (std::size_t i = 0; i < reasoning_.groups.size() && i < 4; ++i)
            out += fmt::format("{}{} {:.3f}", i > 0 ? "; " : "", reasoning_.groups[i].words,
                               reasoning_.groups[i].probability);
        return out;
    }

    void checkAlways(const StoryStep& step)
    {
        // Doubt is of the readings; the entry that was read wrongly may be in doubt.
        for (const std::int64_t id : reasoning_.doubtful) {
            if (!slips_.contains(id) && !step.isSlip) failed(step, fmt::format("reading {} is called a slip", id));
        }
        if (step.isSlip) slips_.insert(open_.revision);
        const bool concluded = reasoning_.conclusion.kind != Conclusion::Kind::Open;
        if (!gate_.next && reasoning_.steps.empty() && !concluded && gate_.located.empty())
            failed(step, "nothing is next, and nothing is found: " + ranking());
        const bool outside = reasoning_.conclusion.kind == Conclusion::Kind::Outside;
        if (reasoning_.conclusion.kind == Conclusion::Kind::Inside && gate_.outcome == Outcome::ProvenGood)
            failed(step, "the suspects locate it inside, and the gate proves the module good");
        if (outside && gate_.outcome == Outcome::MayBeCondemned)
            failed(step, "the suspects locate it outside, and the gate condemns the module");
        if (story_.isSound) checkNotAccused(step);
    }

    void checkNotAccused(const StoryStep& step)
    {
        using Kind = Conclusion::Kind;
        constexpr double accusedAt = 0.9;
        constexpr std::size_t few = 8;
        const Kind kind = reasoning_.conclusion.kind;
        bool accused = kind == Kind::Outside || kind == Kind::Inside || kind == Kind::Either;
        for (const SuspectGroup& g : reasoning_.groups) {
            if (g.members.empty() || g.probability < accusedAt || g.members.size() > few) continue;
            const Suspect& s = reasoner_->suspects()[static_cast<std::size_t>(g.members.front())];
            accused = accused || isFault(s);
        }
        if (accused) failed(step, "a sound machine is accused: " + ranking());
        if (!gate_.located.empty()) failed(step, "the gate locates a fault: " + gate_.located);
    }

    const Story& story_;
    JobContent content_;
    OpenJob open_;
    SetUp setUp_;
    std::int64_t now_ms_ = begin_ms;
    std::unique_ptr<Reasoner> reasoner_;
    bool complaint_ = false;
    Reasoning reasoning_;
    Gate gate_;
    std::set<std::int64_t> slips_;
    StoryRun run_;
};

}  // namespace

Result<Story, Problems> readStory(const std::string& file)
{
    return StoryReader(file).read();
}

StoryRun run(const Story& story)
{
    return Player(story).play();
}

}  // namespace ilvek::practice
