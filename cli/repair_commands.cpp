// The end of a job on the command line: repair, its proof, debts, closing.
#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "commands.h"
#include "logbook/logbook.h"
#include "opened_job.h"
#include "repair/closing.h"
#include "repair/repeated.h"

namespace ilvek::cli {

using nlohmann::json;

int jobRepair(const std::string& file, const std::string& what, const std::vector<std::string>& parts)
{
    return appendTo(file, [&](const OpenJob& open) -> Entries {
        std::vector<std::string> mended;
        for (const std::string& part : parts) {
            mended.push_back(mendedName(open.job.map, part));
            if (mended.back().empty()) return fail(part, "the machine has no part or terminal of this name");
        }
        return std::vector<EventBody>{Repair{0, mended, what}};
    });
}

int jobRepaired(const std::string& file, bool asJson)
{
    const auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    const Assessment& a = opened->open.assessment;
    const auto all = repeatedAfterRepair(a);
    const auto left = openBeforeClosing(opened->open.job, a);
    if (asJson) {
        json tests = json::array();
        for (const Repeated& r : all) {
            const Reading& before = a.evidence.readings[r.before];
            json one{{"terminal", before.terminal},
                     {"test", testId(before.test)},
                     {"before", before.id},
                     {"state", repeatedWord(r.state)}};
            if (r.after) one["after"] = a.evidence.readings[*r.after].id;
            tests.push_back(std::move(one));
        }
        fmt::print("{}\n", json{{"tests", tests}, {"open", left}}.dump(1, ' ', false, json::error_handler_t::replace));
    } else {
        for (const Repeated& r : all) {
            const Reading& before = a.evidence.readings[r.before];
            fmt::print("{:<15} {:<8} {}: {}\n", repeatedWord(r.state), repeatedPlace(opened->open.job.map, before),
                       testName(before.test), repeatedWords(a, r));
        }
        for (const std::string& line : left)
            fmt::print("Open: {}\n", line);
    }
    const bool right =
        std::all_of(all.begin(), all.end(), [](const Repeated& r) { return r.state == Repeated::State::Right; });
    return right && left.empty() ? Ok : Negative;
}

int jobDebt(const std::string& file, const std::string& what, const std::string& place)
{
    return appendTo(file, [&](const OpenJob&) -> Entries { return std::vector<EventBody>{Debt{what, place}}; });
}

int jobMadeGood(const std::string& file, std::int64_t debt, const std::string& how)
{
    return appendTo(file, [&](const OpenJob& open) -> Entries {
        for (const Owed& owed : open.job.debts) {
            if (owed.id == debt && !owed.cleared) return std::vector<EventBody>{DebtCleared{debt, how}};
        }
        return fail(fmt::format("entry {}", debt), "nothing is owed by it");
    });
}

int jobList(const std::string& folder, const std::string& words, bool asJson)
{
    auto book = Logbook::open(std::filesystem::path(folder) / "logbook.index");
    if (!book) return print({book.error()}), CannotWrite;
    if (const auto done = book->bringUpToDate(folder); !done) return print({done.error()}), CannotWrite;
    json out = json::array();
    for (const LoggedJob& j : book->find(words)) {
        const std::string state = !j.trouble.empty() ? "cannot be read"
                                  : j.waits          ? "waits for the part"
                                  : j.closed.empty() ? "open"
                                                     : j.closed;
        if (asJson)
            out.push_back({{"file", j.file.string()},
                           {"title", j.title},
                           {"machine", j.machine},
                           {"complaint", j.complaint},
                           {"state", state},
                           {"owes", j.owes},
                           {"entries", j.entries},
                           {"last", writeTime(j.last_ms)}});
        else
            fmt::print("{:<20} {} – {}{}\n{:<20} {}{}{}\n", j.file.stem().string(), j.title, state,
                       j.owes ? ", something is owed" : "", "", j.machine, j.complaint.empty() ? "" : " · ",
                       j.complaint);
    }
    if (asJson) fmt::print("{}\n", out.dump(1, ' ', false, json::error_handler_t::replace));
    return Ok;
}

int jobClose(const std::string& file, const std::string& verdict, const std::string& reasons)
{
    const auto known = closingFromId(verdict);
    if (!known) return print({{verdict, "is no end of a job"}}), BadInput;
    auto opened = openEither(file);
    if (!opened) return print(opened.error()), BadInput;
    weighGate(*opened);
    return appendTo(file, [&](const OpenJob& open) -> Entries {
        auto closed = closing(open.job, open.assessment, opened->gate, *known, reasons);
        if (!closed) return tl::unexpected(closed.error());
        fmt::print("Closed: {}\n", verdictWords(closed->verdict));
        return std::vector<EventBody>{std::move(*closed)};
    });
}

}  // namespace ilvek::cli
