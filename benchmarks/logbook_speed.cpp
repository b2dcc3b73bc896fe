// Thousands of jobs of a shop: how long the list takes to be made, to be brought up to date and to be searched.
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <random>

#include "job/journal.h"
#include "logbook/logbook.h"

namespace {

using namespace ilvek;

double milliseconds(const std::function<void()>& work)
{
    const auto begin = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begin).count();
}

double median(std::vector<double> x)
{
    std::sort(x.begin(), x.end());
    return x[x.size() / 2];
}

const std::vector<std::string> machines{"hoist", "sprayer", "loader", "drill", "tram door", "winch", "sweeper"};
const std::vector<std::string> failings{"dead when warm", "does not lift",      "no charge",       "fuse blows",
                                        "lamps flicker",  "pressure reads low", "starts and dies", "code comes back"};

void makeJob(const std::filesystem::path& file, const std::string& map, std::mt19937& random)
{
    const auto any = [&](const std::vector<std::string>& of) { return of[random() % of.size()]; };
    auto journal = Journal::create(file, map);
    if (!journal) return;
    std::vector<EventBody> all;
    const std::string machine = any(machines);
    all.emplace_back(JobDetails{machine + " " + std::to_string(random() % 1000),
                                "customer " + std::to_string(random() % 400), "SN-" + std::to_string(random() % 100000),
                                "", ""});
    Complaint complaint;
    complaint.text = machine + ": " + any(failings);
    all.emplace_back(complaint);
    for (int i = 0; i < 20; ++i)
        all.emplace_back(Note{any(failings) + " at terminal " + std::to_string(random() % 60)});
    if (random() % 3 == 0) all.emplace_back(JobClosed{JobClosed::Verdict::Repaired, "", any(failings), "", {}});
    (void)journal->append(std::move(all), static_cast<std::int64_t>(1'700'000'000'000 + random() % 10'000'000));
}

}  // namespace

int main(int count, char** arguments)
{
    const int jobs = count > 1 ? std::atoi(arguments[1]) : 5000;
    std::ifstream in(ILVEK_SOURCE_DIR "/data/maps/pt-9.json");
    const std::string map{std::istreambuf_iterator<char>(in), {}};
    const auto folder = std::filesystem::temp_directory_path() / "ilvek-logbook-speed";
    std::filesystem::remove_all(folder);
    std::filesystem::create_directories(folder);
    std::mt19937 random(5);
    for (int i = 0; i < jobs; ++i)
        makeJob(folder / fmt::format("job-{}.ilvek", i), map, random);
    auto book = Logbook::open(folder / "logbook.index");
    if (!book) return 1;
    fmt::print("{} jobs of 22 entries\n", jobs);
    fmt::print("list made anew:         {:>8.0f} ms\n", milliseconds([&] { (void)book->bringUpToDate(folder); }));
    fmt::print("looked at, no change:   {:>8.1f} ms\n", milliseconds([&] { (void)book->bringUpToDate(folder); }));
    for (const char* words : {"", "h", "hoist", "sprayer fuse", "SN-4", "terminal 17 flicker", "nothing of the kind"}) {
        std::vector<double> times;
        std::size_t found = 0;
        for (int i = 0; i < 15; ++i)
            times.push_back(milliseconds([&] { found = book->find(words).size(); }));
        fmt::print("search “{}”: {:>5.1f} ms, {} shown\n", words, median(times), found);
    }
    std::filesystem::remove_all(folder);
    return 0;
}
