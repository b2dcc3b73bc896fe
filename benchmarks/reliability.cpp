// Tries to lose what was taken, and to stop what should go on; prints the table of docs/reliability.md.
// ilvek-reliability [share of the tries, 1 when left out]
#include <fmt/format.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <atomic>
#include <chrono>
#include <cmath>
#include <csignal>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <functional>
#include <random>
#include <thread>

#include "base/file.h"
#include "base/stop.h"
#include "job/hand_over.h"
#include "job/job.h"
#include "machine/map_reader.h"
#include "practice/long_job.h"
#include "support/random_entries.h"
#include "trace/formats/csv_reader.h"
#include "trace/formats/npy_file.h"
#include "trace/study/study.h"
#include "verdict/reasoner.h"

namespace {

using namespace ilvek;
namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;

double share = 1;

int times(int n)
{
    return std::max(1, static_cast<int>(n * share));
}

double since_ms(Clock::time_point begin)
{
    return std::chrono::duration<double, std::milli>(Clock::now() - begin).count();
}

void row(const std::string& what, int tries, int failures, const std::string& note = "")
{
    fmt::print("| {} | {} | {} | {} |\n", what, tries, failures, note);
    std::fflush(stdout);
}

const Map& map()
{
    static const Map read = [] {
        auto r = readMapFile(ILVEK_SOURCE_DIR "/data/maps/pt-9.json");
        if (!r) std::exit(2);
        return std::move(*r);
    }();
    return read;
}

class Folder {
public:
    Folder() : path_(fs::temp_directory_path() / fmt::format("ilvek-reliability-{}", ::getpid()))
    {
        fs::remove_all(path_);
        fs::create_directories(path_);
    }
    Folder(const Folder&) = delete;
    Folder& operator=(const Folder&) = delete;
    ~Folder() { fs::remove_all(path_); }
    fs::path operator/(const char* name) const { return path_ / name; }
    const fs::path& path() const { return path_; }

private:
    fs::path path_;
};

// How a child ended that did this: its exit code, or 100 and more by a signal. After `most_s` it is ended.
int inChild(const std::function<int()>& work, unsigned most_s = 60)
{
    const pid_t child = ::fork();
    if (child == 0) {
        ::alarm(most_s);
        _exit(work());
    }
    int status = 0;
    ::waitpid(child, &status, 0);
    return WIFEXITED(status) ? WEXITSTATUS(status) : 100 + WTERMSIG(status);
}

std::string asWritten(const Event& event)
{
    return fmt::format("{} {} {} {}", event.id, event.time_ms, eventKind(event.body), writeBody(event.body));
}

bool same(const std::vector<Event>& a, const std::vector<Event>& b)
{
    return std::equal(a.begin(), a.end(), b.begin(), b.end(),
                      [](const Event& x, const Event& y) { return asWritten(x) == asWritten(y); });
}

void randomEntries()
{
    std::mt19937 random(1);
    int tries = 0, failures = 0, taken = 0;
    for (int job = 0; job < times(80); ++job) {
        const Folder folder;
        std::vector<Event> shown;
        {
            auto journal = Journal::create(folder / "a", map().document);
            std::int64_t now = 1'750'000'000'000;
            for (int n = 0; n < 50; ++n, ++tries) {
                now += static_cast<std::int64_t>(random() % 20000) - 8000;  // clocks that go back among them
                if (auto event = journal->append(test::randomEntry(random, &map()), now))
                    shown.push_back(*event), ++taken;
            }
            failures += exportJob(*journal, folder / "a.json") ? 0 : 1;
        }
        const auto again = Journal::open(folder / "a");
        failures += again && again->content().setAside.empty() && same(again->events(), shown) ? 0 : 1;
        const auto imported = importJob(folder / "a.json", folder / "b");
        failures += imported && same(imported->events(), shown) ? 0 : 1;
        failures += again && foldJob(again->content()) ? 0 : 1;
    }
    row("random entries of every kind, clocks going back: read again, handed over, taken back, folded", tries, failures,
        fmt::format("{} taken, the others refused at once", taken));
}

JobContent smallJob(int notes)
{
    JobContent content{map().document, {}};
    for (int i = 1; i <= notes; ++i)
        content.events.push_back(
            {i, 1'750'000'000'000 + i,
             Note{fmt::format("note {} {}", i, std::string(static_cast<std::size_t>(i % 5) * 700, 'n'))}});
    return content;
}

// What is there is as it was written; how many entries.
std::optional<std::size_t> sound(const Journal& journal, const JobContent& was)
{
    for (const Event& event : journal.events()) {
        const auto& written = was.events[static_cast<std::size_t>(event.id - 1)];
        if (event.id < 1 || asWritten(event) != asWritten(written)) return std::nullopt;
    }
    return journal.events().size();
}

void damage(const char* what, int tries, std::size_t mayMiss,
            const std::function<void(std::string&, std::mt19937&)>& harm)
{
    std::mt19937 random(2);
    const Folder folder;
    const JobContent was = smallJob(60);
    (void)Journal::create(folder / "a", was);
    const std::string whole = *readFile(folder / "a");
    int failures = 0;
    std::size_t entries = 0;
    for (int n = 0; n < tries; ++n) {
        std::string bytes = whole;
        harm(bytes, random);
        (void)writeFile(folder / "b", bytes);
        const auto journal = Journal::open(folder / "b", Access::ReadOnly);
        const auto there = journal ? sound(*journal, was) : std::optional<std::size_t>(0);
        const bool good = there && (*there + mayMiss >= was.events.size());
        failures += good ? 0 : 1;
        entries += there.value_or(0);
    }
    row(what, tries, failures,
        fmt::format("{:.1f} % of the entries are there", 100.0 * static_cast<double>(entries) / (60.0 * tries)));
}

void kills()
{
    const Folder folder;
    JobContent content = smallJob(300);
    (void)writeFile(folder / "a.json", writeHandOver(content));
    for (const bool import : {true, false}) {
        int failures = 0, whole = 0;
        const int tries = times(100);
        const fs::path jobs = folder / "jobs";
        const auto make = [&] {
            return import ? importJob(folder / "a.json", jobs / "j.ilvek").has_value()
                          : Journal::create(jobs / "j.ilvek", content).has_value();
        };
        fs::create_directories(jobs);
        const auto begin = Clock::now();
        (void)make();
        const double takes_us = 1000 * since_ms(begin);
        fs::remove_all(jobs);
        for (int n = 0; n < tries; ++n) {
            fs::create_directories(jobs);
            const pid_t child = ::fork();
            if (child == 0) _exit(make() ? 0 : 1);
            // From the beginning to somewhat behind the end.
            ::usleep(static_cast<useconds_t>(1.6 * takes_us * n / tries));
            ::kill(child, SIGKILL);
            ::waitpid(child, nullptr, 0);
            if (!fs::is_empty(jobs)) {
                const auto journal = Journal::open(jobs / "j.ilvek");
                const bool good = journal && journal->events().size() == 300;
                failures += good ? 0 : 1, whole += good ? 1 : 0;
            }
            fs::remove_all(jobs);
        }
        row(import ? "killed while a hand-over file is imported: the whole job or nothing"
                   : "killed while a job is made: the whole job or nothing",
            tries, failures, fmt::format("{} whole", whole));
    }
    int failures = 0;
    const int tries = times(100);
    (void)Journal::create(folder / "k", smallJob(0));
    for (int n = 0; n < tries; ++n) {
        int report[2];
        if (::pipe(report) != 0) return;
        const pid_t child = ::fork();
        if (child == 0) {
            auto journal = Journal::open(folder / "k");
            for (;;) {
                const auto event = journal->append(Note{"x"}, 1);
                if (!event || ::write(report[1], &event->id, sizeof event->id) < 0) _exit(1);
            }
        }
        ::close(report[1]);
        std::int64_t id = 0, last = 0;
        for (int k = 0; k < 2 + n % 7 && ::read(report[0], &id, sizeof id) == sizeof id; ++k)
            last = id;
        ::kill(child, SIGKILL);
        ::waitpid(child, nullptr, 0);
        while (::read(report[0], &id, sizeof id) == sizeof id)
            last = id;
        ::close(report[0]);
        const auto journal = Journal::open(folder / "k");
        failures += journal && journal->events().back().id >= last ? 0 : 1;
    }
    row("killed between and within entries: every one that was shown is there", tries, failures);
}

void fullDisk()
{
    const Folder folder;
    int failures = 0;
    const int tries = times(60);
    for (int n = 0; n < tries; ++n) {
        fs::remove(folder / "a");
        (void)Journal::create(folder / "a", smallJob(5));
        const auto size = static_cast<rlim_t>(fs::file_size(folder / "a")) + static_cast<rlim_t>(n) * 1000;
        const int ended = inChild([&] {
            surviveFailedWrites();
            auto journal = Journal::open(folder / "a");
            const rlimit limit{size, size};
            ::setrlimit(RLIMIT_FSIZE, &limit);
            int taken = 0;
            while (taken < 500 && journal->append(Note{std::string(1500, 'x')}, taken))
                ++taken;
            return taken < 100 ? taken : 255;
        });
        const auto journal = Journal::open(folder / "a");
        const bool good = ended < 100 && journal && journal->events().size() == 5U + static_cast<unsigned>(ended) &&
                          journal->content().setAside.empty();
        failures += good ? 0 : 1;
    }
    row("a disk that is full: what was shown is there, nothing half, the program goes on", tries, failures);
}

// A recording as bytes, changed here and there: read and studied in a child.
void readers()
{
    const Folder folder;
    const std::string data = ILVEK_SOURCE_DIR "/data/traces/";
    struct Seed {
        std::string ending, bytes;
    };
    std::vector<Seed> seeds;
    std::string csv = *readFile(data + "injectors-sound.csv");
    csv.resize(csv.find('\n', 20000) + 1);
    seeds.push_back({"csv", csv});
    (void)writeFile(folder / "s.csv", csv);
    if (auto r = readRecording((folder / "s.csv").string())) {
        (void)writeNpy((folder / "s.npy").string(), *r);
        seeds.push_back({"npy", *readFile(folder / "s.npy")});
    }
    for (const auto& file : fs::directory_iterator(ILVEK_SOURCE_DIR "/fuzz/corpus/wav"))
        seeds.push_back({"wav", *readFile(file.path())});
    for (const auto& file : fs::directory_iterator(ILVEK_SOURCE_DIR "/fuzz/corpus/mat"))
        seeds.push_back({"mat", *readFile(file.path())});
    int crashes = 0, hangs = 0, all = 0;
    const int tries = times(20'000);
    constexpr int inOneChild = 50;
    for (int n = 0; n < tries; n += inOneChild) {
        const int ended = inChild(
            [&] {
                std::mt19937 random(static_cast<unsigned>(n));
                for (int k = 0; k < inOneChild; ++k) {
                    Seed seed = seeds[random() % seeds.size()];
                    for (auto c = 1 + random() % 12; c > 0; --c)
                        seed.bytes[random() % seed.bytes.size()] = static_cast<char>(random());
                    if (random() % 6 == 0) seed.bytes.resize(random() % seed.bytes.size());
                    const std::string path = (folder / "m").string() + "." + seed.ending;
                    (void)writeFile(path, seed.bytes);
                    ::alarm(20);
                    const auto recording = readRecording(path);
                    if (!recording) continue;
                    for (const RecordedKind& kind : recordedKinds()) {
                        StudyWishes wishes;
                        wishes.kind = kind.kind;
                        wishes.main = "1";
                        (void)study(*recording, wishes);
                    }
                }
                return 0;
            },
            20);
        all += inOneChild;
        crashes += ended != 0 && ended != 100 + SIGALRM ? 1 : 0;
        hangs += ended == 100 + SIGALRM ? 1 : 0;
    }
    row("recordings with changed bytes (CSV, WAV, NumPy, MATLAB): read and measured as everything", all,
        crashes + hangs, fmt::format("{} crashes, {} longer than 20 s", crashes, hangs));
}

// How long after it is no longer wanted some work ends, ms.
double stopsAfter(double after_ms, const std::function<void()>& work)
{
    std::atomic<bool> stopped = false;
    std::atomic<bool> ended = false;
    std::thread worker([&] {
        const StopScope scope([&] { return !stopped; });
        try {
            work();
        } catch (const Stopped&) {
        }
        ended = true;
    });
    const auto begin = Clock::now();
    while (since_ms(begin) < after_ms && !ended)
        std::this_thread::sleep_for(std::chrono::milliseconds(1));
    const auto stop = Clock::now();
    stopped = true;
    worker.join();
    return since_ms(stop);
}

void stopping()
{
    // A winding at a second a sample and at a millionth, long.
    Recording slow;
    slow.name = "slow";
    slow.interval_s = 1;
    Channel current;
    current.name = "current";
    current.recordedUnit = Unit::Ampere;
    std::vector<float> samples;
    for (int i = 0; i < 400'000; ++i) {
        const int in = i % 4000;
        samples.push_back(in < 2000 ? static_cast<float>(2 * (1 - std::exp(-in / 300.0)) + 0.01 * ((i * 7919) % 13))
                                    : 0.01F * static_cast<float>((i * 104729) % 11));
    }
    current.samples = Samples(std::move(samples));
    slow.channels.push_back(current);
    Recording fast = slow;
    fast.interval_s = 1e-6;
    std::vector<double> waits;
    int late = 0;
    const auto take = [&](double ms) { waits.push_back(ms), late += ms > 100 ? 1 : 0; };
    for (int n = 0; n < times(24); ++n) {
        for (const Recording* r : {&slow, &fast}) {
            for (const Recorded kind : {Recorded::Windings, Recorded::PulseWidth, Recorded::Motor, Recorded::Level}) {
                StudyWishes wishes;
                wishes.kind = kind;
                take(stopsAfter(5 + 37 * (n % 12), [&] { (void)study(*r, wishes); }));
            }
        }
    }
    std::sort(waits.begin(), waits.end());
    row("measuring is stopped: ends within 100 ms", static_cast<int>(waits.size()), late,
        fmt::format("median {:.1f} ms, slowest {:.0f} ms", waits[waits.size() / 2], waits.back()));
    waits.clear(), late = 0;
    const JobContent content = practice::longJob(map(), 300);
    const auto job = foldJob(content);
    const Assessment assessment = assess(job->map, job->evidence);
    for (int n = 0; n < times(30); ++n) {
        take(stopsAfter(20 + 480 * n, [&] {
            Reasoner reasoner(job->map, job->evidence.working, true);
            while (reasoner.buildNext()) {
            }
            reasoner.observe(assessment, {});
            reasoner.refine();
            (void)reasoner.reason({});
        }));
    }
    std::sort(waits.begin(), waits.end());
    row("the suspects are stopped at any moment: end within 100 ms", static_cast<int>(waits.size()), late,
        fmt::format("median {:.1f} ms, slowest {:.0f} ms", waits[waits.size() / 2], waits.back()));
}

}  // namespace

int main(int count, char** arguments)
{
    if (count > 1) share = std::atof(arguments[1]);
    fmt::print("| tried | times | failures | |\n|---|---|---|---|\n");
    randomEntries();
    damage("one flipped bit anywhere in a job file: opens, at most the entry that was hit is missing, none is wrong",
           times(1000), 1, [](std::string& b, std::mt19937& r) {
               auto& byte = b[r() % b.size()];
               byte = static_cast<char>(byte ^ (1 << (r() % 8)));
           });
    damage("one wrong byte: the same", times(1000), 1,
           [](std::string& b, std::mt19937& r) { b[r() % b.size()] = static_cast<char>(r()); });
    damage("a page of zeros: opens or says why, no entry is wrong", times(300), 60,
           [](std::string& b, std::mt19937& r) {
               const std::size_t page = r() % (b.size() / 4096);
               std::fill_n(b.begin() + static_cast<std::ptrdiff_t>(page * 4096), 4096, '\0');
           });
    damage("cut anywhere: opens or says why, no entry is wrong", times(300), 60,
           [](std::string& b, std::mt19937& r) { b.resize(r() % b.size()); });
    kills();
    fullDisk();
    readers();
    stopping();
    return 0;
}
