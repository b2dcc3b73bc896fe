// A suspect fitted to all that was read: how bad it is and what nobody stated, together. What the table can only follow
// in straight lines about the sound machine, a resistance in front of a draw that nobody knows, is solved here.
#pragma once

#include <limits>
#include <map>
#include <memory>
#include <optional>
#include <utility>
#include <vector>

#include "circuit/warm_circuit.h"
#include "prediction/predictions.h"

namespace ilvek {

struct FitReadings;  // belief/fit_point.h
struct Observation;  // belief/observations.h

// A figure of the map that nobody stated; u is how many sigmas the machine is off.
struct Unknown {
    int element = -1;
    int state = -1;                                         // the only one of the machine in which it counts; −1: all
    double spread = 0;                                      // one sigma of ln(true figure / the map's)
    double less = 1;                                        // so many times that where it is below the map's
    double most = std::numeric_limits<double>::infinity();  // of that logarithm, which no u reaches

    // ln(true figure / the map's) = σ (u − (k − 1) (ln(1 + e^(−2u)) − ln 2) / 2), k the times less; and above the
    // map's L (1 − e^(−σ u / L)) where there is a most L.
    static constexpr double turns = 2;
    double logFactor(double u) const;
    double slope(double u) const;  // d of it / du
};
// Those of one element stand side by side: what a module draws in all, and in each of the given states beside it.
std::vector<Unknown> unknownsOf(const Map& map, const std::vector<int>& states = {});

struct Fit {
    struct At {               // one severity
        double severity = 0;  // counted in severities
        double logLikelihood = 0;
    };
    std::vector<At> profile;  // rising in severity
    double severity = 0;      // the likeliest
    // log P(all that was read | suspect), over severity and unknowns.
    double logEvidence = 0;
    // What had to be assumed at the likeliest severity, furthest first: how many times the map's figure of an element,
    // in one state of the machine where it differs between them, else in all.
    struct Assumed {
        int element = -1;
        double factor = 1;
        int state = -1;
    };
    std::vector<Assumed> assumed;
    struct Read {
        double predicted = 0, sigma = 0, z = 0;
        double logLikelihood = 0;
    };
    std::vector<Read> readings;    // by observation
    std::vector<double> unknowns;  // where they stand at the likeliest severity, in sigmas
    // A reading is out of reach there, or the unknowns went further than a slip costs: another place may be better.
    bool isStrained = false;
};

// SOURCE: maximum a posteriori by damped Gauss–Newton on the solved circuit (J. Nocedal, S. J. Wright, Numerical
// Optimization, 2006, ch. 10), the slopes by one solution for all unknowns; evidence by Laplace's approximation over
// the unknowns (D. J. C. MacKay, Information Theory, Inference, and Learning Algorithms, 2003, ch. 27) and by
// quadrature over the severity. The sigmas of the instrument, of the battery and of parts whose figures are stated are
// shared between readings as in Belief; a reading is a slip with the chance that its observation says.
class Fitter {
public:
    // What stated parts may move a reading by is taken from the table. REQUIRES: `map` and `table` outlive this.
    Fitter(const Map& map, const PredictionTable& table);
    ~Fitter();
    Fitter(const Fitter&) = delete;
    Fitter& operator=(const Fitter&) = delete;

    // What was observed; only readings are fitted. Circuits that were solved before are kept.
    void observe(const std::vector<Observation>& observations);

    // `others`: by severity of the suspect, what reports and looks say of it, log-likelihood. `near`: where the table
    // has it likeliest, counted in severities. `from`: where the unknowns begin, as another suspect's fit left them;
    // nullptr, or one of other observations: at the map's figures. nullopt: there is no solution to fit.
    std::optional<Fit> fit(const Suspect& suspect, const std::vector<double>& others, double near,
                           const Fit* from = nullptr);

private:
    struct Walk;
    std::vector<Fit::Assumed> assumedAt(const std::vector<double>& u) const;
    const Map& map_;
    const PredictionTable& table_;
    std::vector<Unknown> unknowns_;
    std::unique_ptr<FitReadings> readings_;
};

}  // namespace ilvek
