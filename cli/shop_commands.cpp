// A shop's jobs on its server, on the command line.
#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <memory>

#include "base/file.h"
#include "commands.h"
#include "job/journal.h"
#include "opened_job.h"
#include "shop/shop.h"

namespace ilvek::cli {

namespace {

struct Wishes {
    std::string server, bench, file, key, kind, out;
    bool take = false;
};

// Runs with a connection; problems are printed.
template <class Work>
int withShop(const Wishes& w, Work work)
{
    if (auto allowed = checkServerLine(w.server); !allowed) return print({allowed.error()}), BadInput;
    auto shop = Shop::connect(w.server, w.bench);
    if (!shop) return print({shop.error()}), CannotWrite;
    return work(*shop);
}

int push(const Wishes& w)
{
    const auto opened = openEither(w.file);
    if (!opened) return print(opened.error()), BadInput;
    const auto content = contentOf(w.file);
    if (!content) return print(content.error()), BadInput;
    const Job& job = opened->open.job;
    const std::string state = job.closed ? std::string(verdictWords(job.closed->how.verdict)) : "open";
    return withShop(w, [&](Shop& shop) {
        const auto pushed = shop.push(*content, job.details.title, state);
        if (!pushed) return print({pushed.error()}), static_cast<int>(CannotWrite);
        fmt::print("{} entries pushed, {}\n", *pushed, jobKey(*content));
        return static_cast<int>(Ok);
    });
}

int list(const Wishes& w)
{
    return withShop(w, [&](Shop& shop) {
        const auto jobs = shop.jobs();
        if (!jobs) return print({jobs.error()}), static_cast<int>(CannotWrite);
        for (const SharedJob& j : *jobs)
            fmt::print("{}  {} – {} ({}), {} entries, {}, {}\n", j.key, j.title, j.machine, j.state, j.entries,
                       j.changed, j.holder.empty() ? "free" : "at " + j.holder);
        return static_cast<int>(Ok);
    });
}

int fetch(const Wishes& w)
{
    return withShop(w, [&](Shop& shop) {
        auto content = shop.fetch(w.key, w.take);
        if (!content) return print({content.error()}), static_cast<int>(BadInput);
        const auto journal = Journal::create(w.out, std::move(*content));
        if (!journal) return print({journal.error()}), static_cast<int>(CannotWrite);
        fmt::print("{} entries\n", journal->events().size());
        return static_cast<int>(Ok);
    });
}

int release(const Wishes& w)
{
    return withShop(w, [&](Shop& shop) {
        const auto done = shop.release(w.key);
        if (!done) return print({done.error()}), static_cast<int>(BadInput);
        return static_cast<int>(Ok);
    });
}

int share(const Wishes& w)
{
    const auto body = readFile(w.file);
    if (!body) return print({body.error()}), BadInput;
    return withShop(w, [&](Shop& shop) {
        const auto done = shop.put({w.kind, std::filesystem::path(w.file).filename().string(), *body});
        if (!done) return print({done.error()}), static_cast<int>(CannotWrite);
        return static_cast<int>(Ok);
    });
}

int take(const Wishes& w)
{
    return withShop(w, [&](Shop& shop) {
        const auto files = shop.files(w.kind);
        if (!files) return print({files.error()}), static_cast<int>(CannotWrite);
        for (const SharedFile& f : *files) {
            const auto to = std::filesystem::path(w.out) / std::filesystem::path(f.name).filename();
            if (const auto done = writeFile(to, f.body); !done)
                return print({done.error()}), static_cast<int>(CannotWrite);
            fmt::print("{}\n", to.string());
        }
        return static_cast<int>(Ok);
    });
}

}  // namespace

void addShopCommands(CLI::App& app, int& exit)
{
    const auto w = std::make_shared<Wishes>();
    CLI::App* shop =
        app.add_subcommand("shop", "Jobs shared by the benches of a shop, over PostgreSQL")->require_subcommand(1);
    const auto command = [&](const char* name, const char* words, int (*run)(const Wishes&)) {
        CLI::App* one = shop->add_subcommand(name, words);
        one->add_option("--server", w->server, "As libpq takes it: \"host=… dbname=…\"; no password")
            ->required()
            ->envname("ILVEK_SHOP");
        one->add_option("--bench", w->bench, "How this place is called")->required()->envname("ILVEK_BENCH");
        one->callback([w, run, &exit] { exit = run(*w); });
        return one;
    };
    const auto kind = [&](CLI::App* one) {
        one->add_option("KIND", w->kind, "What it is")
            ->required()
            ->check(CLI::IsMember({"machine", "known-good", "own-cases"}));
    };
    command("push", "Entries that the server does not have yet; the job is this bench's then", push)
        ->add_option("JOB", w->file, "Job file")
        ->required();
    command("list", "The shop's jobs, the last changed first", list);
    CLI::App* fetching = command("fetch", "A job as a new job file", fetch);
    fetching->add_option("KEY", w->key, "As list shows it")->required();
    fetching->add_option("OUT", w->out, "Job file to write")->required();
    fetching->add_flag("--take", w->take, "To go on with it here");
    command("release", "Gives a job back, so that another bench may take it", release)
        ->add_option("KEY", w->key, "As list shows it")
        ->required();
    CLI::App* sharing = command("share", "A machine, known-good figures or own cases, for all benches", share);
    kind(sharing);
    sharing->add_option("FILE", w->file, "Its file")->required();
    CLI::App* taking = command("take", "The shop's machines, known-good figures or own cases, into a folder", take);
    kind(taking);
    taking->add_option("FOLDER", w->out, "Where to")->required()->check(CLI::ExistingDirectory);
}

}  // namespace ilvek::cli
