// Maps for tests: the PT-9, and a small machine whose figures can be worked out by hand.
#pragma once

#include <gtest/gtest.h>

#include <filesystem>
#include <string>
#include <vector>

#include "machine/map_reader.h"
#include "proving/step.h"

namespace ilvek::test {

// The text of a file of the project.
std::string sourceText(const std::string& relativePath);
// The demonstration machine. Read once.
const Map& pt9();

// One supply M-1 (10 Ω load inside at 12 V: 1.2 A constant draw), its return M-2 and a 5 V reference M-3 with its
// return M-4; battery 12 V with 10 mΩ, fuse F1, inline connector X cavity 1 in the feed, ground point G.
std::string smallMapText();
const Map& smallMap();
// The shipped pin sheet of a 24 V hauler as a map: another kind of machine, most of its figures assumed.
const Map& hauler();
// The shipped sheet of a 12 V washer: routes, parts in words, a second battery; half of the figures missing.
const Map& washer();
// A machine of the stories, as its sheet says. Read once.
const Map& storyMap(const std::string& sheet);
// The small map with more said of its fuse F1, as "weakness":10.
Result<Map, Problems> smallMapWithFuse(const std::string& more);

// A folder that goes away with the test.
class TemporaryFolder {
public:
    TemporaryFolder();
    ~TemporaryFolder();
    TemporaryFolder(const TemporaryFolder&) = delete;
    TemporaryFolder& operator=(const TemporaryFolder&) = delete;
    std::filesystem::path operator/(const std::string& name) const { return path_ / name; }
    const std::filesystem::path& path() const { return path_; }

private:
    std::filesystem::path path_;
};

// Paths of all that is in a folder, sorted.
std::vector<std::filesystem::path> filesIn(const std::filesystem::path& folder);

// The machine that a pin sheet's rows describe.
Map mapOfRows(const std::string& rows, double systemVoltage_V = 12, const std::string& module = "LCU");

// Readings one after the other on a map, ids rising, ten seconds apart unless said otherwise.
class Bench {
public:
    explicit Bench(const Map& map) : map_(map) {}
    // Takes a reading with the step's leads; gives its judgement at that moment.
    Judgement take(const Step& step, double value_V, std::optional<double> measuredCurrent_A = std::nullopt);
    Judgement battery(double value_V, const std::string& state = "key-on");
    void wait(double seconds) { time_ms_ += static_cast<std::int64_t>(seconds * 1000); }
    std::int64_t now() const { return time_ms_; }
    std::int64_t lastId() const { return nextId_ - 1; }
    Evidence& evidence() { return evidence_; }
    Assessment assessed() const { return assess(map_, evidence_); }
    Reading& last() { return evidence_.readings.back(); }
    void repaired(const std::string& element);

private:
    const Map& map_;
    Evidence evidence_;
    std::int64_t nextId_ = 1;
    std::int64_t time_ms_ = 1'700'000'000'000;
};

bool hasTrap(const Judgement& judgement, const std::string& id);

}  // namespace ilvek::test
