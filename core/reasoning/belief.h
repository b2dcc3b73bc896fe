// How likely each suspect is after what was seen.
#pragma once

#include <string>
#include <vector>

#include "reasoning/observations.h"

namespace ilvek {

// SOURCE: Bayes' rule over suspects with the severity integrated over its steps and what lies between them; a reading
// is normal about its prediction with meter, contact, battery and part tolerances added in squares, and with one chance
// in a hundred it is a slip that says nothing. What the tolerances of the same parts, the same meter and the same
// battery do to several readings they do together: each reading is taken given those before it (the rows of a Cholesky
// factor), so that ten readings of one slightly weak sensor do not count as ten witnesses. An intermittent suspect is
// present at each reading with even odds.
class Belief {
public:
    // REQUIRES: `suspects`, and the blocks of the tables that observations are taken with, outlive this.
    explicit Belief(const std::vector<Suspect>& suspects);

    // Takes in observations one after the other. False when the table has no prediction for it: it then waits and is
    // not counted.
    bool take(const PredictionTable& table, const Observation& observation);

    // By suspect; they add up to 1.
    std::vector<double> probabilities() const;
    // By case of the table (a severity): its share of the belief, for the next test. They add up to 1.
    std::vector<double> cases() const;
    // Of suspect s: the likeliest severity, counted in severities, and the chance that it comes and goes.
    double severity(int suspect) const;
    double intermittent(int suspect) const;
    // How badly the best single suspect explains the observations: the largest |z| of any reading under it.
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
    Against against(int suspect, std::size_t observation) const;

private:
    struct Fine {  // a severity of the table, or a place between two
        int suspect = 0;
        int low = 0, high = 0;  // cases of the table
        double share = 0;
        double x1 = 0, x2 = 0, x = 0;  // severity numbers of both and between
        int third = -1;                // a neighbouring case, and its number
        double x3 = 0;
    };
    static double curveThrough(const Fine& fine, double v1, double v2, double v3);
    struct Row {  // one observation, by fine case
        std::vector<float> predicted, sigma, z;
        const Column* column = nullptr;
        std::vector<double> shared;  // this reading's row of the Cholesky factor: what it shares with earlier ones
    };
    bool takeReading(const PredictionTable& table, const Observation& observation);
    bool takeReport(const PredictionTable& table, const Observation& observation);
    void add(std::size_t fine, double logLikelihood, double& sound);
    // Covariance of the sound machine's spread between a new reading and one taken before.
    double covariance(const Column& column, const Observation& observation, std::size_t earlier) const;
    std::size_t best(int suspect) const;

    const std::vector<Suspect>& suspects_;
    std::vector<int> first_;      // coarse cases
    std::vector<int> firstFine_;  // fine cases, with what lies between severities
    std::vector<Fine> fine_;
    std::vector<double> steady_, comesAndGoes_;  // log-likelihood by fine case
    std::vector<char> asSound_;                  // by fine case: read as the sound circuit in every reading so far
    std::vector<Observation> taken_;
    std::vector<Row> rows_;
};

}  // namespace ilvek
