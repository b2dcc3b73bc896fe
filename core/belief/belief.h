// How likely each suspect is after what was seen.
#pragma once

#include <map>
#include <mutex>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "belief/computed_severities.h"
#include "belief/fit.h"
#include "belief/other_battery.h"
#include "belief/severity_grid.h"
#include "belief/weighing.h"

namespace ilvek {

// SOURCE: Bayes' rule over suspects with the severity integrated over its steps and what lies between them; a reading
// is normal about its prediction with meter, contact, battery and part tolerances added in squares, and with one chance
// in a hundred it is a slip that says nothing. What the tolerances of the same parts, the same meter and the same
// battery do to several readings they do together: each reading is taken given those before it (the rows of a Cholesky
// factor), so that ten readings of one slightly weak sensor do not count as ten witnesses. An intermittent suspect is
// present at each reading with even odds; one that grows is at each reading as bad as it was or as bad as it can be;
// one that blows a fuse finds it whole or blown.
// By case: what the battery's own voltage is moved by for its posts to read as on the sound machine, V.
using BatteryShifts = std::vector<double>;
BatteryShifts shiftsOf(const Column& posts);

class Belief {
public:
    // REQUIRES: `suspects`, and the blocks of the tables that observations are taken with, outlive this.
    explicit Belief(const std::vector<Suspect>& suspects);

    // Takes in observations one after the other. False when the table has no prediction for it, or it has none in the
    // sound circuit (ohms where that is live): it is then not counted.
    bool take(const PredictionTable& table, const Observation& observation);

    // What lies between two severities is interpolated at first and widened by what that may be off. For the few
    // suspects that matter it is computed instead. Their severities are then counted as finely as they are weighed: so
    // many,
    std::size_t weighed(int suspect) const { return grid_.of(suspect); }
    // those that could be of weight, in order, with their neighbours,
    std::vector<std::size_t> worthComputing(int suspect) const;
    // the suspect with just these, for predict(),
    Suspect dense(int suspect, const std::vector<std::size_t>& severities) const
    {
        return grid_.dense(suspect, severities);
    }
    // and the suspect weighed anew with what was computed of them: for each observation, by its place in taken().
    void refine(int suspect, const std::vector<std::size_t>& severities, const std::vector<Exact>& observations);
    // What reports and looks say of it, log-likelihood, by fine severity.
    std::vector<double> reported(int suspect) const;
    // It is weighed by a fit to the readings instead of the table, until the next observation. REQUIRES: the fit is to
    // taken() and to reported().
    void weighBy(int suspect, Fit fit);
    const Fit* fitOf(int suspect) const;
    // Suspects that could be as likely as a `share` of the likeliest if what was interpolated is worth as much as it
    // may be, and for which that makes a difference; likeliest first.
    std::vector<int> couldBe(double share, std::size_t atMost) const;

    // By suspect; they add up to 1. With one observation left out, as if it had not been made,
    // and with it all that was seen in the same entry of the journal.
    std::vector<double> probabilities(std::optional<std::size_t> leftOut = {}) const;
    // What was seen, read and recorded by itself, without what was told: the logarithm of how likely it is under the
    // suspect at its likeliest, and of what of the unknowns that takes.
    double logSeen(int suspect) const;
    // The likeliest of the suspects before `below`, likeliest first.
    std::vector<int> ranked(std::size_t most, std::size_t below) const;
    // One way that things may be, with its share of the belief; they add up to 1. A suspect whose severity the readings
    // have narrowed down stands with just those severities, any other with those of the table.
    struct Hypothesis : Fine {
        double weight = 0;
        std::size_t fine = 0;  // which of all severities
    };
    std::vector<Hypothesis> hypotheses() const;
    // A suspect at its likeliest severity.
    Hypothesis likeliest(int suspect) const;
    // What a column of the table gives for it; with `shifts`, where the posts read in the same state as on the sound
    // machine. `uncertainty`, where it is wanted: what the interpolation may be off by.
    double valueAt(const Column& column, const Hypothesis& hypothesis, const BatteryShifts* shifts = nullptr,
                   double* uncertainty = nullptr) const;
    // Of suspect s: the likeliest severity, counted in severities, and the chance that it comes and goes.
    double severity(int suspect) const;
    double intermittent(int suspect) const;
    // The chance that it grows: weak at one reading, all the way at another; or that the fuse it has blown was put in
    // anew between two readings.
    double growing(int suspect) const;
    // How badly the best single suspect explains the observations: the largest |z| of any reading under it, and without
    // bound where what was seen or read as yes or no would be otherwise.
    double worstMisfit() const;
    // log P(observations | suspect) of the best severity.
    double logLikelihood(int suspect) const;
    const std::vector<Observation>& taken() const { return taken_; }

    // What the suspect at its likeliest severity makes of an observation that was taken.
    struct Against {
        double predicted = 0;
        double sigma = 0;
        double z = 0;  // (measured − predicted) / sigma
    };
    // The severity, the way in which it is there, and all that is asked of both.
    struct AsLikeliest {
        int suspect = 0;
        std::size_t fine = 0;
        bool grows = false;  // at times as bad as it can be
    };
    AsLikeliest asLikeliest(int suspect) const;
    Against against(const AsLikeliest& suspect, std::size_t observation) const;
    // Something was seen, or read as yes or no, that would be otherwise under the suspect; of what was told never.
    bool isContradicted(const AsLikeliest& suspect, std::size_t observation) const;
    Against against(int suspect, std::size_t observation) const { return against(asLikeliest(suspect), observation); }

private:
    bool takeReading(const PredictionTable& table, const Observation& observation);
    bool takeReport(const PredictionTable& table, const Observation& observation);
    bool takeLook(const Observation& observation);
    void readAsSound(WeighedRow& row, const Observation& observation);
    // Fills the newest row and adds to the sums of one suspect.
    void weighReading(WeighedRow& row, const Observation& observation, int suspect, const std::vector<char>& chatters);
    // What earlier readings say of this one through the parts, the meter and the battery they share, V or decades;
    // `unsure2`: what it may be off by because those readings were interpolated, squared.
    struct GivenBefore : Given {
        double unsure2 = 0;
    };
    bool isEdge(int suspect, const std::vector<std::size_t>& severities, std::size_t k) const;
    Hypothesis hypothesis(std::size_t fine, double weight) const;
    // By fine case of the suspect.
    std::vector<GivenBefore> givenBefore(const WeighedRow& row, int suspect) const;
    HandedOn& handedOn(int suspect, std::size_t observation, std::size_t fine)
    {
        return handedOn_[static_cast<std::size_t>(suspect)]
                        [observation * grid_.of(suspect) + fine - grid_.begin(suspect)];
    }
    // Into the row.
    static void keep(WeighedRow& row, std::size_t fine, const ReadUnder& seen, const Weighed& weighed);
    // What a reading tells of what earlier ones left untold.
    void learn(const WeighedRow& row, int suspect, std::size_t fine, const Weighed& weighed, double remains);
    // From the newest observation on the suspect is no longer as the sound circuit.
    void touch(int suspect);
    void push(WeighedRow row);
    void leaveFree(WeighedRow& row, const Observation& observation, int suspect, std::size_t fine);
    // Adds the newest observation; it may be worth `more`, were it computed.
    void add(WeighedRow& row, std::size_t fine, double logLikelihood, double more = 0);
    std::size_t best(int suspect) const;
    // What is told by fine case, of one suspect.
    std::span<const double> of(int suspect, const std::vector<double>& byFine) const
    {
        return {byFine.data() + grid_.begin(suspect), grid_.of(suspect)};
    }
    struct Counted {  // which sums an evidence is made of
        bool slack = false;
        std::vector<std::size_t> leftOut = {};  // observations
    };
    double logEvidence(int suspect, const Counted& counted) const;
    std::vector<double> probabilitiesOf(const Counted& counted) const;
    // log P(what was seen | suspect), less that of the sound circuit: staying as it is, coming and going, growing.
    double steadyByTable(int suspect, const Counted& counted) const;
    double steadyByFit(int suspect, const Fit& fit, const Counted& counted) const;
    double looseByTable(int suspect, const Counted& counted) const;
    double growingByTable(int suspect, const Counted& counted, double beside) const;
    std::vector<double> growingSums(int suspect, const Counted& counted) const;
    struct Ways {
        double steady = 0, loose = 0, growing = 0;
    };
    // The logarithms, each with its share before anything was read; and what that makes of them, adding up to 1.
    Ways evidence(int suspect, const Counted& counted) const;
    Ways ways(int suspect) const;
    // Chance beforehand that it turns from one severity to another and back, as turns_ has it.
    double turnsPrior(int suspect) const;
    void findTurns();
    // After the rows of a suspect are filled.
    void grow(const WeighedRow& row, int suspect);
    Against againstAt(std::size_t observation, int suspect, std::size_t fine) const;
    // By fine case: what the suspect's severities weigh, log-likelihood to a constant.
    std::vector<double> severityWeights(int suspect) const;

    const std::vector<Suspect>& suspects_;
    SeverityGrid grid_;
    // log-likelihood by fine case, less that of the sound circuit: most suspects leave most readings as they are.
    // Of one that grows: no more than this.
    std::vector<double> steady_, comesAndGoes_, growsAtMost_;
    // By fine case: what the interpolation may have cost it, steady and coming and going.
    std::vector<double> slack_, looseSlack_;
    // By fine case: what one that grows, or that blows a fuse which is renewed, is at other times; itself: nothing
    // else.
    std::vector<std::size_t> turns_;
    std::vector<OtherBattery> otherBattery_;  // by fine case
    std::vector<char> touched_;               // by suspect: some observation sets it apart from the sound circuit
    // By suspect that is touched, and of the sound circuit: by observation, by fine case.
    std::vector<std::vector<HandedOn>> handedOn_;
    std::vector<Observation> taken_;
    std::vector<WeighedRow> rows_;
    std::map<int, Fit> fits_;
    // probabilities() of all that was taken: asked for over and over while nothing changes. Empty: not yet.
    struct Lock : std::mutex {  // of each copy its own
        Lock() = default;
        Lock(const Lock&) noexcept : std::mutex() {}
        Lock& operator=(const Lock&) noexcept { return *this; }
    };
    mutable Lock knowing_;
    mutable std::vector<double> known_;
};

}  // namespace ilvek
