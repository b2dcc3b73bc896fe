// How a procedure grows, stage after stage. Internal to procedures.
#pragma once

#include <functional>

#include "procedures/procedure.h"

namespace ilvek {

// A reading of the job with its judgement.
struct Seen {
    const Reading* reading = nullptr;
    const Judgement* judgement = nullptr;
    explicit operator bool() const { return reading; }
    double volts() const { return std::abs(reading->value.value); }
    std::string figure() const { return figureOf(*reading); }
};

class Flow {
public:
    Flow(const Bay& bay, std::string id, std::string subject);

    // The latest reading that still counts and that the predicate takes.
    using Fits = std::function<bool(const Reading&)>;
    Seen latest(const Fits& fits) const;
    Seen earliest(const Fits& fits) const;
    // Taken in this set-up: places, state, what is apart, pulled, unpinned and bridged; any load for a load.
    Seen at(const SetUp& setUp, Unit unit) const;
    // What was told for a stage of this procedure since the last repair, and after the entry `since`; nullptr: nothing.
    const Statement* told(const std::string& stage, std::int64_t since = 0) const;

    // Each adds a stage: shown where there is such a reading or statement, else the next one or a later one. What is
    // given back stands until the evidence changes.
    Seen reading(const std::string& stage, Fact title, Step step, const Fits& fits = {});
    Seen ohms(const std::string& stage, Fact title, Step step);
    const Statement* statement(const std::string& stage, Fact title, std::int64_t since = 0);
    // A stage whose state is computed otherwise.
    Stage& stage(const std::string& id, Fact title, Stage::State state);
    void notNeeded(const std::string& stage, Fact title, Fact why);
    void ask(Stage& stage, Asked asked);

    // Of the stage added last.
    void says(Fact fact);
    void fails(Fact fact);
    void undecided(Fact fact);

    void caution(Fact fact);
    void sideBySide(Grid grid) { procedure_.grid = std::move(grid); }
    void end(Ending::Kind kind, Fact fact, std::vector<std::string> places = {}, Grade grade = Grade::ShownDirectly);
    // Nothing after it is asked for.
    bool hasEnded() const { return procedure_.ending.has_value(); }

    const Map& map() const { return bay_.map; }
    const Bay& bay() const { return bay_; }
    // Where an end stands, what was next is only there to be done.
    Procedure done();

private:
    bool isOpen() const;  // a stage is next already
    bool counts(std::size_t reading) const;

    const Bay& bay_;
    Procedure procedure_;
};

// A reading between two places, everything as built, without words yet.
Step placed(const Map& map, int red, int black, int state);

// Volts that count as there: at least this share of the battery, or of the system's voltage where none was read.
bool isThere(const Bay& bay, const Seen& seen);
bool isAway(const Bay& bay, const Seen& seen);
double batteryNow_V(const Bay& bay);

// The state in which the machine is to stand for a terminal: one in which it must be there.
int stateFor(const Map& map, int terminal);
// The state in which the driver behind a terminal is on; −1: it has none, or no state turns it on.
int drivenState(const Map& map, int terminal);
// The state in which a starter turns; −1: the map has none.
int crankingState(const Map& map);
// A part's name as people say it.
std::string nameOf(const Map& map, int element);
// A place without its side: "F5".
std::string placeOf(const Map& map, int node);

// A terminal of the module with all of its conductor up to a place: what a fault of that way may be in.
std::vector<std::string> wayOf(const Map& map, int terminal, int node);

std::string voltsText(double volts);
std::string ampsText(double amperes);
std::string ohmsOfText(double ohms);

}  // namespace ilvek
