// What is told before the first probe and decided after the last, on the command line.
#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <filesystem>
#include <memory>
#include <nlohmann/json.hpp>

#include "base/text.h"
#include "commands.h"
#include "experience/case_file.h"
#include "experience/known_good.h"
#include "job/own_cases.h"
#include "opened_job.h"
#include "papers/codes_on_paper.h"
#include "papers/common_cause.h"
#include "papers/shared_branches.h"
#include "papers/told.h"
#include "repair/behind.h"
#include "repair/time_spent.h"
#include "repair/ways.h"

namespace ilvek::cli {

namespace {

using nlohmann::json;

void printJson(const json& value)
{
    fmt::print("{}\n", value.dump(1, ' ', false, json::error_handler_t::replace));
}

std::string first(const std::vector<std::string>& words, std::size_t most)
{
    if (words.size() <= most) return listed(words);
    return fmt::format("{} and {} more", listed({words.begin(), words.begin() + static_cast<long>(most)}),
                       words.size() - most);
}

std::vector<std::string> namesOf(const Map& map, const std::vector<int>& functions)
{
    std::vector<std::string> out;
    for (const int f : functions) {
        const auto i = static_cast<std::size_t>(f);
        out.push_back(i < map.functions.size() ? map.functions[i].name
                                               : "code " + map.codes[i - map.functions.size()].code);
    }
    return out;
}

int jobPapers(const std::string& file, bool asJson)
{
    const auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    const Job& job = opened->open.job;
    const auto told = toldOf(job.map, job.complaint);
    json functions = json::array();
    for (std::size_t i = 0; i < told.size(); ++i) {
        functions.push_back({{"name", job.map.functions[i].name}, {"does", doesWord(told[i])}});
        if (!asJson) fmt::print("{:<16} {}\n", doesWord(told[i]), job.map.functions[i].name);
    }
    const auto branches = sharedBranches(job.map, storedCodes(job));
    const OnPaper paper = onPaper(job);
    const int best = explaining(branches, paper).branch;
    json drawn = json::array(), codes = json::array();
    for (std::size_t i = 0; i < branches.size(); ++i) {
        const Branch& b = branches[i];
        drawn.push_back({{"parts", b.parts},
                         {"functions", namesOf(job.map, b.functions)},
                         {"parent", b.parent},
                         {"explains", static_cast<int>(i) == best}});
        if (!asJson)
            fmt::print("{} {}: {}{}\n", static_cast<int>(i) == best ? "→" : " ", first(b.parts, 6),
                       listed(namesOf(job.map, b.functions)),
                       paper.fails.empty() ? "" : "; " + explainedWords(explainedBy(b, paper), paper.fails.size()));
    }
    for (const CodeOnPaper& c : codesOnPaper(job.map, storedCodes(job))) {
        codes.push_back({{"code", c.code},
                         {"known", c.known},
                         {"set_by", c.setBy},
                         {"always", c.always},
                         {"can", c.can},
                         {"unlikely", c.unlikely},
                         {"rules_out", c.cannot}});
        if (asJson) continue;
        fmt::print("{}: {}\n", c.code, c.known ? c.setBy : "nobody said what sets it");
        if (c.always) fmt::print("   a sound machine sets it too, by the map's figures: it says nothing\n");
        if (!c.can.empty()) fmt::print("   can be {}\n", first(c.can, 8));
        if (!c.cannot.empty()) fmt::print("   rules out {}\n", first(c.cannot, 8));
        if (!c.unlikely.empty()) fmt::print("   unlikely {}\n", first(c.unlikely, 8));
    }
    const auto left = notWeighed(job);
    if (asJson) printJson({{"functions", functions}, {"branches", drawn}, {"codes", codes}, {"not_weighed", left}});
    for (const std::string& words : asJson ? std::vector<std::string>{} : left)
        fmt::print("Not weighed: {}\n", words);
    return Ok;
}

int jobBehind(const std::string& file, bool asJson)
{
    auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    const auto reasoner = weighedInFull(opened->open);
    const auto located = locatedParts(reasoner->reason(opened->open.standing()));
    json out = json::array();
    bool open = false;
    for (const BehindQuestion& q : behindQuestions(opened->open.job, opened->open.assessment, located)) {
        open = open || (q.isOpen() && !q.leftOpen);
        const std::string state = q.leftOpen ? "left open" : q.isOpen() ? "open" : q.answer;
        if (asJson)
            out.push_back({{"id", q.id}, {"question", q.question}, {"why", q.why}, {"answer", state}});
        else
            fmt::print("{:<20} {}\n{:<20} {}\n{:<20} {}\n", q.id, q.question, "", q.why, "", state);
    }
    if (asJson) printJson(out);
    return open ? Negative : Ok;
}

int jobAnswer(const std::string& file, const std::string& question, const std::string& answer)
{
    if (!answer.empty() && trimmed(answer).empty()) return print({{question, "the answer is empty"}}), BadInput;
    return appendTo(file, [&](const OpenJob&) -> Entries {
        return std::vector<EventBody>{CauseAnswered{question, answer, answer.empty()}};
    });
}

// "repair the terminal; mends A1; 0.5 h; part 3; wait 0 h; again 5 %; lasts long"
Result<RepairChoice> choiceFrom(const Map& map, const std::string& text)
{
    RepairChoice choice;
    std::string rest = text + ";";
    for (auto end = rest.find(';'); end != std::string::npos; rest = rest.substr(end + 1), end = rest.find(';')) {
        const std::string part(trimmed(rest.substr(0, end)));
        const auto starts = [&](std::string_view word) { return part.rfind(word, 0) == 0; };
        const auto number = [&](std::size_t from) {
            try {
                return std::stod(part.substr(from));
            } catch (const std::exception&) {
                return -1.0;
            }
        };
        if (part.empty()) continue;
        if (choice.name.empty()) {
            choice.name = part;
            continue;
        }
        double figure = 0;
        if (starts("mends ")) {
            std::string names = part.substr(6) + ",";
            for (auto comma = names.find(','); comma != std::string::npos;
                 names = names.substr(comma + 1), comma = names.find(','))
                choice.mends.emplace_back(trimmed(names.substr(0, comma)));
        } else if (starts("part ")) {
            figure = choice.part = number(5);
        } else if (starts("wait ")) {
            figure = choice.wait_h = number(5);
        } else if (starts("again ")) {
            figure = number(6);
            choice.returns = figure / 100;
        } else if (starts("lasts ")) {
            choice.lasts = part.substr(6);
        } else {
            figure = choice.labour_h = number(0);
        }
        if (!(figure >= 0) || choice.returns > 1) return fail(part, "is no figure that can be meant");
    }
    if (choice.name.empty()) return fail(text, "has no name");
    for (const std::string& name : unknownIn(map, choice))
        return fail(name, "is no part, terminal or connector of this machine");
    return choice;
}

int jobWays(const std::string& file, const std::vector<std::string>& ways, double hour, double waiting,
            const std::string& decide, const std::string& reasons, bool asJson)
{
    auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    const Map& map = opened->open.job.map;
    RepairChoices choices = opened->open.job.choices;
    if (!ways.empty()) {
        choices = {{}, hour, waiting};
        for (const std::string& way : ways) {
            auto choice = choiceFrom(map, way);
            if (!choice) return print({choice.error()}), BadInput;
            choices.choices.push_back(std::move(*choice));
        }
    }
    const auto reasoner = weighedInFull(opened->open);
    const auto costs = waysOf(map, choices, partBeliefs(map, reasoner->reason(opened->open.standing())));
    const std::string table = waysTable(choices, costs);
    if (asJson) {
        json out = json::array();
        for (std::size_t i = 0; i < costs.size(); ++i)
            out.push_back({{"name", choices.choices[i].name},
                           {"sure", costs[i].sure},
                           {"cures", costs[i].cures},
                           {"expected", costs[i].expected},
                           {"sums", costs[i].sums}});
        printJson(out);
    } else {
        fmt::print("{}\n", table);
    }
    const auto named = [&](const RepairChoice& c) { return c.name == decide; };
    if (!decide.empty() && std::none_of(choices.choices.begin(), choices.choices.end(), named))
        return print({{decide, "is none of the ways"}}), BadInput;
    std::vector<EventBody> entries;
    if (!ways.empty()) entries.emplace_back(choices);
    if (!decide.empty()) entries.emplace_back(Decided{decide, reasons, table});
    if (entries.empty()) return Ok;
    return appendTo(file, [&](const OpenJob&) -> Entries { return entries; });
}

int jobTime(const std::string& file)
{
    const auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    const TimeSpent time = timeSpent(opened->events);
    for (const auto& [phase, seconds] : time.phases)
        fmt::print("{:<12} {}\n", phaseName(phase), durationWords(seconds));
    fmt::print("{:<12} {}\n{:<12} {}\n", "waiting", durationWords(time.waiting_s), "in all",
               durationWords(time.total_s()));
    return Ok;
}

// Jobs more into the shop's own cases, or none any more; what they say.
int cases(const std::string& file, const std::vector<std::string>& jobs, bool reset)
{
    auto kept = reset ? Result<CaseFile>(CaseFile()) : CaseFile::read(file);
    if (!kept) return print({kept.error()}), BadInput;
    for (const std::string& job : jobs) {
        const auto opened = openEither(job);
        if (!opened) return print(opened.error()), BadInput;
        const bool teaches =
            kept->count(std::filesystem::path(job).stem().string(), opened->open.job, opened->open.assessment);
        fmt::print("{}: {}\n", job,
                   teaches ? "counted" : "teaches nothing: not closed, not proven, or of several kinds");
    }
    if (reset || !jobs.empty()) {
        if (const auto done = kept->write(file); !done) return print({done.error()}), CannotWrite;
    }
    for (const std::string& words : ownCaseWords(kept->all()))
        fmt::print("{}\n", words);
    fmt::print("{} jobs\n", kept->size());
    return Ok;
}

// What sound circuits of a job read, kept for its type of machine.
int good(const std::string& file, const std::string& folder)
{
    const auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    const Job& job = opened->open.job;
    const auto to = KnownGood::fileIn(folder, job.map);
    auto known = KnownGood::read(to);
    if (!known) return print({known.error()}), BadInput;
    const auto taken =
        known->add(goodReadings(job, opened->open.assessment, std::filesystem::path(file).stem().string()));
    if (const auto done = known->write(to); !done) return print({done.error()}), CannotWrite;
    fmt::print("{} figures kept in {}, {} in all\n", taken, to.string(), known->readings().size());
    return Ok;
}

struct Wishes {
    std::string file, text, second, third, reasons;
    std::vector<std::string> list, weak, goes, works, replaced;
    double hour = 0, waiting = 0;
    bool flag = false, json = false;
};

int jobComplaint(const Wishes& w)
{
    return appendTo(w.file, [&](const OpenJob& open) -> Entries {
        Complaint c = open.job.complaint;
        if (!w.text.empty()) c.text = w.text;
        if (!w.second.empty()) c.when = w.second;
        const auto take = [](const std::vector<std::string>& from, std::vector<std::string>& to) {
            if (!from.empty()) to = from;
        };
        take(w.list, c.fails), take(w.weak, c.weak), take(w.goes, c.comesAndGoes), take(w.works, c.stillWorks);
        take(w.replaced, c.replaced);
        if (w.third == "seen") c.today = Complaint::Today::Seen;
        if (w.third == "absent") c.today = Complaint::Today::Absent;
        return std::vector<EventBody>{c};
    });
}

}  // namespace

void addPaperCommands(CLI::App& job, int& exit)
{
    const auto w = std::make_shared<Wishes>();
    const auto command = [&](const char* name, const char* words) {
        CLI::App* one = job.add_subcommand(name, words);
        one->add_option("JOB", w->file, "Job file")->required();
        return one;
    };
    CLI::App* papers = command("papers", "What was told and stored, what the functions share, what codes can mean");
    papers->add_flag("--json", w->json, "Answer as JSON");
    papers->callback([w, &exit] { exit = jobPapers(w->file, w->json); });

    CLI::App* told = command("complaint", "What is complained of; what is left out stays as it was");
    told->add_option("TEXT", w->text, "In words");
    told->add_option("--fails", w->list, "A function that fails; once for each");
    told->add_option("--weak", w->weak, "One that does less than it should");
    told->add_option("--comes-and-goes", w->goes, "One that fails now and then");
    told->add_option("--works", w->works, "One that works");
    told->add_option("--replaced", w->replaced, "What was replaced or repaired already");
    told->add_option("--when", w->second, "Cold, hot, wet, over bumps, after how long");
    told->add_option("--today", w->third, "Whether it was there today")->check(CLI::IsMember({"seen", "absent"}));
    told->callback([w, &exit] { exit = jobComplaint(*w); });

    CLI::App* function = command("function", "A function of the machine that the map lacks, with what it needs");
    function->add_option("NAME", w->text, "As it is called")->required();
    function->add_option("TERMINALS", w->list, "Terminals of the module that it needs")->required();
    function->callback([w, &exit] {
        exit = appendTo(w->file, [&](const OpenJob& open) -> Entries {
            auto row = functionRow(open.job.map, w->text, w->list);
            if (!row) return tl::unexpected(row.error());
            return std::vector<EventBody>{MapCorrection{w->text, *row}};
        });
    });

    CLI::App* code = command("code", "What sets a code that the map does not know");
    code->add_option("CODE", w->text, "As it is read")->required();
    code->add_option("TERMINAL", w->second, "Terminal of the module")->required();
    code->add_option("SETS", w->third, "low, high, \"no activity\" or implausible")->required();
    code->add_option("--says", w->reasons, "Its text");
    code->callback([w, &exit] {
        exit = appendTo(w->file, [&](const OpenJob& open) -> Entries {
            auto row = codeRow(open.job.map, w->text, w->second, w->third, w->reasons);
            if (!row) return tl::unexpected(row.error());
            return std::vector<EventBody>{MapCorrection{w->text, *row}};
        });
    });

    CLI::App* codes = command("codes", "The codes as they were read; none: they stay away");
    codes->add_option("CODES", w->list, "As they are read");
    codes->callback([w, &exit] {
        exit = appendTo(w->file, [&](const OpenJob&) -> Entries {
            CodesRead read;
            for (const std::string& one : w->list)
                read.codes.push_back({one, "", ""});
            return std::vector<EventBody>{read};
        });
    });

    CLI::App* behind = command("behind", "What lies behind what was found, as questions");
    behind->add_flag("--json", w->json, "Answer as JSON");
    behind->callback([w, &exit] { exit = jobBehind(w->file, w->json); });
    CLI::App* answer = command("answer", "The answer to one of them; without words it is left open");
    answer->add_option("QUESTION", w->text, "Its name, as behind lists it")->required();
    answer->add_option("ANSWER", w->second, "In words");
    answer->callback([w, &exit] { exit = jobAnswer(w->file, w->text, w->second); });

    CLI::App* ways = command("ways", "Repair or replace: what each way is likely to cost");
    ways->add_option("--way", w->list,
                     "\"name; mends A1, F3; 0.5 h; part 30; wait 24; again 5; lasts two years\", once for each");
    ways->add_option("--hour", w->hour, "What an hour of labour costs")->check(CLI::NonNegativeNumber);
    ways->add_option("--waiting-hour", w->waiting, "What an hour costs that the machine stands")
        ->check(CLI::NonNegativeNumber);
    ways->add_option("--decide", w->text, "The one that is taken");
    ways->add_option("--reasons", w->reasons, "Why");
    ways->add_flag("--json", w->json, "Answer as JSON");
    ways->callback([w, &exit] { exit = jobWays(w->file, w->list, w->hour, w->waiting, w->text, w->reasons, w->json); });

    CLI::App* tried = command("work-test", "A road or work test after a repair");
    tried->add_option("WHAT", w->text, "What was done with the machine, and for how long")->required();
    tried->add_option("--values", w->second, "What was read while it worked");
    tried->add_flag("--failed", w->flag, "Something was not as it should be");
    tried->callback([w, &exit] {
        exit = appendTo(w->file, [&](const OpenJob&) -> Entries {
            return std::vector<EventBody>{WorkTried{w->text, w->second, !w->flag}};
        });
    });

    CLI::App* keep = command("keep-good", "What its sound circuits read, for the next machine of its type");
    keep->add_option("FOLDER", w->text, "Where such figures are kept")->required()->check(CLI::ExistingDirectory);
    keep->callback([w, &exit] { exit = good(w->file, w->text); });
    CLI::App* own = job.add_subcommand("cases", "The shop's own closed jobs as cases: counted, shown, reset");
    own->add_option("FILE", w->file, "Where they are kept")->required();
    own->add_option("JOBS", w->list, "Job files to count");
    own->add_flag("--reset", w->flag, "Begin anew");
    own->callback([w, &exit] { exit = cases(w->file, w->list, w->flag); });

    CLI::App* time = command("time", "Where the time went");
    time->callback([w, &exit] { exit = jobTime(w->file); });
}

}  // namespace ilvek::cli
