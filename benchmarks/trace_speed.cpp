// Speed of recordings in figures: ten million rows of text beside counting their lines, the pyramid, any zoom,
// measuring. With a second argument "pandas" the same file is read by that library's reader too (python3-pandas).
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <functional>

#include "practice/waveforms.h"
#include "trace/formats/csv_reader.h"
#include "trace/signal/pyramid.h"
#include "trace/subjects/winding.h"

namespace {

using namespace ilvek;

double median_s(int times, const std::function<void()>& work)
{
    std::vector<double> taken;
    for (int i = 0; i < times; ++i) {
        const auto from = std::chrono::steady_clock::now();
        work();
        taken.push_back(std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count());
    }
    std::sort(taken.begin(), taken.end());
    return taken[taken.size() / 2];
}

void writeRows(const std::string& path, std::size_t rows)
{
    std::ofstream out(path, std::ios::binary);
    std::string block = "time,current,voltage\ns,A,V\n";
    for (std::size_t i = 0; i < rows; ++i) {
        const double t = 1e-6 * static_cast<double>(i);
        fmt::format_to(std::back_inserter(block), "{:.6f},{:.4f},{:.3f}\n", t, std::sin(300 * t),
                       13.2 + 0.1 * std::sin(2000 * t));
        if (block.size() > (1U << 20U)) out << block, block.clear();
    }
    out << block;
}

void readingSpeed(std::size_t rows, bool pandas)
{
    const auto path = (std::filesystem::temp_directory_path() / "ilvek-rows.csv").string();
    writeRows(path, rows);
    const auto bytes = static_cast<double>(std::filesystem::file_size(path));
    const double lines = median_s(3, [&] {
        std::ifstream in(path, std::ios::binary);
        std::vector<char> block(4U << 20U);
        long count = 0;
        while (in.read(block.data(), static_cast<std::streamsize>(block.size())) || in.gcount() > 0)
            count += std::count(block.begin(), block.begin() + in.gcount(), '\n');
        if (count < 1) std::abort();
    });
    const double reading = median_s(3, [&] {
        if (!readRecording(path)) std::abort();
    });
    fmt::print("{} rows x 3, {:.0f} MB: read in {:.2f} s, {:.1f} times counting its lines ({:.3f} s)\n", rows,
               bytes / 1e6, reading, reading / lines, lines);
    if (pandas) {
        // Its own clock, so that the start of the interpreter does not count.
        const std::string command =
            "/usr/bin/python3 -c \"import pandas, sys, time; t = []\nfor i in range(3):\n a = time.perf_counter(); "
            "pandas.read_csv('" +
            path + "', skiprows=[1]); t.append(time.perf_counter() - a)\nsys.stdout.write(str(sorted(t)[1]))\"";
        double theirs = 0;
        FILE* python = ::popen(command.c_str(), "r");
        if (!python || std::fscanf(python, "%lf", &theirs) != 1)
            fmt::print("python3-pandas is not there\n");
        else
            fmt::print("pandas: {:.2f} s, {:.1f} times ours\n", theirs, theirs / reading);
        if (python) ::pclose(python);
    }
    std::filesystem::remove(path);
}

void zoomSpeed(std::size_t count)
{
    std::vector<std::int16_t> steps(count);
    for (std::size_t i = 0; i < count; ++i)
        steps[i] =
            static_cast<std::int16_t>(12000 * std::sin(1e-5 * static_cast<double>(i)) + static_cast<double>(i % 97));
    const Samples samples(std::move(steps), 1e-3, 0);
    std::unique_ptr<Pyramid> pyramid;
    const double build = median_s(1, [&] { pyramid = std::make_unique<Pyramid>(samples); });
    fmt::print("{} samples: pyramid in {:.2f} s, {:.2f} % of their memory\n", count, build,
               100.0 * static_cast<double>(pyramid->bytes()) / (2.0 * static_cast<double>(count)));
    for (const double share : {1.0, 0.1, 0.001, 1e-5}) {
        const double to = share * static_cast<double>(count);
        const double taken = median_s(51, [&] {
            pyramid->columns(0.3 * (static_cast<double>(count) - to), 0.3 * (static_cast<double>(count) - to) + to,
                             1600);
        });
        fmt::print("  1600 columns of {:.3g} of it: {:.3f} ms\n", share, 1e3 * taken);
    }
}

void measuringSpeed()
{
    std::vector<practice::Winding> windings(4);
    practice::Recorder r;
    const auto made =
        practice::makeWinding(practice::firedInOrder({1, 3, 4, 2}, windings, 0.08, 5e-3, 25), {}, r, 2.0, 1);
    const double taken = median_s(5, [&] {
        if (!measureWinding(made.recording, made.recording.channels[0])) std::abort();
    });
    fmt::print("pulses measured: {:.1f} million samples a second\n",
               static_cast<double>(made.recording.size()) / taken / 1e6);
}

}  // namespace

int main(int count, char** arguments)
{
    const bool pandas = count > 1 && std::string(arguments[1]) == "pandas";
    readingSpeed(10'000'000, pandas);
    zoomSpeed(100'000'000);
    measuringSpeed();
    return 0;
}
