// The reasoning about one machine: suspects, predictions, belief, groups and the tests to take next, kept from reading
// to reading.
#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "belief/further.h"
#include "belief/refinement.h"
#include "choice/exclusion.h"
#include "choice/next_test.h"
#include "verdict/conclusion.h"

namespace ilvek {

struct SuspectReading {  // one observation under one suspect
    std::int64_t id = 0;
    std::string words;
    double measured = 0, predicted = 0, sigma = 0, z = 0;
    bool isReading = true;  // else a chance from 0 to 1
    bool ohms = false;      // in decades, see decadesOf()
    bool current = false;   // in amperes
};

struct RankedSuspect {
    int suspect = -1;
    double probability = 0;
    double severity = 0;
    double intermittent = 0;  // chance that it comes and goes
    std::string words;        // with its severity
    std::vector<SuspectReading> readings;
    std::vector<Fault> faults;  // at its likeliest severity; none for a map that is wrong
    std::string fitsIf = {};    // what had to be assumed of figures that nobody stated; may be empty
    double growing = 0;         // chance that it grows: weak at one reading, all the way at another
};

struct Reasoning {
    std::vector<SuspectGroup> groups;     // likeliest first
    int alike = 0;                        // faults in the first: one with and without a wrong figure beside it is one
    std::vector<RankedSuspect> suspects;  // likeliest first, at most twelve, with what speaks for and against
    std::vector<RankedTest> tests;        // at most three
    std::vector<Step> steps;              // of those tests
    // Of the first groups, as they stand in `groups`: what would exclude each.
    std::vector<std::optional<Exclusion>> exclusions;
    Conclusion conclusion;
    double outsideProbability = 0;       // of all suspects outside the module
    double notOnMap = 0;                 // that it is something on no map
    std::string stretch;                 // where most of the belief lies along a way, in words; may be empty
    std::string inDoubt;                 // a figure of the map that the likeliest does not agree with; may be empty
    double worstMisfit = 0;              // |z| that no single suspect explains away
    std::string misplaced;               // one of `doubtful` that fits the cavity beside it, in words; may be empty
    std::vector<std::int64_t> doubtful;  // out of reach for most of the belief: read again (T8)
    std::vector<std::int64_t> slips;     // these, and those that were read again and are settled
    std::size_t built = 0, toBuild = 0;  // set-ups of the table
    std::size_t readings = 0;            // of the evidence, as of when all of it was last counted
    std::int64_t revision = -1;          // of the job, when all of it was last weighed in full; -1: not yet
    std::size_t leftOut = 0;             // of so many that those that say least are not weighed, see condense.h
};

class Reasoner {
public:
    // `map` is copied.
    Reasoner(const Map& map, const WayOfWorking& working, bool complaint);
    Reasoner(const Reasoner&) = delete;
    Reasoner& operator=(const Reasoner&) = delete;

    // Takes the evidence as it stands now. What was taken before and is still the same is kept. Set-ups that the
    // readings need and that are not in the table are computed at once, but no more than `mostSetups` of them; what is
    // left waits for the next call. True when all is counted. `revision`: of the job, handed back with what is reasoned
    // once all of it is weighed in full.
    bool observe(const Assessment& assessment, const Reports& reports, std::int64_t revision = 0,
                 std::size_t mostSetups = SIZE_MAX);

    // Computes what lies between the severities of the suspects that matter, and looks for two faults at once, and for
    // a wire that ends elsewhere, where no single one explains the readings. Takes a tenth of a second or two after a
    // reading; no verdict is given before it. True when it came to its end.
    bool refine();
    bool isRefined() const { return refined_; }

    // Builds the predictions of one more set-up of the table, of a large machine of a part of one; false when all are
    // there, or as many as memory should hold: what is read beyond that is computed then. The first ones are those
    // that cost least to try.
    bool buildNext();
    std::size_t built() const { return built_; }
    std::size_t toBuild() const { return setups_.size(); }

    Reasoning reason(const Standing& standing) const;

    // Back to before the first observation; what was computed stays.
    void forget(bool complaint);

    const Map& map() const { return map_; }
    const std::vector<Suspect>& suspects() const { return suspects_; }
    const Belief& belief() const { return *belief_; }
    const PredictionTable& table() const { return table_; }
    const std::vector<Candidate>& candidates() const { return candidates_; }

private:
    std::vector<RankedSuspect> rankedSuspects() const;
    std::vector<SuspectReading> readingsUnder(int suspect) const;
    bool provide(const std::vector<Observation>& observations, std::size_t mostSetups);
    Search search() const;
    bool hasBesideFigure() const;
    bool addFurther();
    // The belief in that the map and the machine differ.
    double mapDoubt() const;
    std::vector<char> passedOver() const;
    // The input of the module, or its line of a network, on whose wire a node is; -1: none.
    int signalOn(int node) const;
    bool isMuteToo(const Condition& setup, const Probe& probe) const;
    // Where one dead place was found to stand a little, others do: what the module holds says nothing of them either.
    bool isHeldToo(const Condition& setup, const Probe& probe) const;
    // "Reading 5 fits B4, the cavity beside B3: …"; empty: none of them does.
    std::string misplaced(const std::vector<std::int64_t>& doubtful) const;
    void addHunts();
    void fitLikeliest();
    void fit(const std::vector<int>& suspects, const std::map<int, Fit>& from = {});
    void fitFromEachOther();
    void dropFurther();
    void restart();

    Map map_;
    WayOfWorking working_;
    std::size_t singles_ = 0;  // suspects before further ones were added
    std::vector<Suspect> suspects_;
    std::vector<Candidate> candidates_;
    std::vector<SetupProbes> setups_;
    std::size_t built_ = 0;
    PredictionTable table_;
    // As they were before further suspects were added; the table shares its blocks.
    PredictionTable singlesOnly_;
    std::size_t builtSinglesOnly_ = 0;
    std::unique_ptr<Belief> belief_;
    std::vector<Observation> observations_;
    std::vector<std::pair<Condition, Probe>> read_;  // where the leads were, evidence or not
    std::vector<Condition> held_;                    // in which a wire was found held with the key off
    std::vector<std::pair<Probe, Condition>> mute_;  // whose figure said nothing, as of a level that nobody stated
    mutable std::map<int, int> signalOn_;            // by node, as far as it was asked for
    std::size_t leftOut_ = 0;
    std::int64_t revision_ = 0, weighed_ = -1;  // that is being weighed; the last that was in full
    std::size_t counted_ = 0;                   // readings of the evidence when all of it was last counted
    bool waiting_ = false;                      // some observations have no prediction yet
    bool refined_ = true;                       // what was taken last is weighed in full
    Refinement refinement_;
    // Where figures of the map are not stated: one for each core.
    bool isVague_ = false;
    std::vector<std::unique_ptr<Fitter>> fitters_;
    std::set<int> unfit_;        // suspects that have no solution
    std::set<int> hunted_;       // suspects whose own tests are among the candidates
    std::size_t furtherAt_ = 0;  // observations when further suspects were last looked for
};

}  // namespace ilvek
