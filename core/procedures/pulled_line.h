// A line that the module pulls up and a part at its other end pulls down (W19 to W21): what it is that it does not
// move, by four ends: the part, the wire to it open, the wire shorted to ground, the module. Internal to procedures.
#pragma once

#include "procedures/flow.h"

namespace ilvek {

class PulledLine {
public:
    // `kind` says whose words are used where a switch, a Hall sensor and a thermistor have their own: "switch".
    // `signal` and `ground`: the part's ends. `flow` must outlive this.
    PulledLine(Flow& flow, std::string kind, int terminal, int part, int signal, int ground)
        : flow_(flow), kind_(std::move(kind)), terminal_(terminal), part_(part), signal_(signal), ground_(ground)
    {
    }

    std::vector<std::pair<std::string, std::string>> of() const;
    std::vector<std::pair<std::string, std::string>> with(const Seen& seen) const;

    // Of what stands there while the part lets go, read in the set-up `open`; where nobody stated what it is pulled up
    // to, more than three volts are a level and less than one none.
    bool isLevel(double v, const Step& open) const;
    bool isNone(double v, const Step& open) const;

    // It lies low although the part lets go: adds the stages that find out why, and the end.
    void held(const Seen& low, const Step& open);
    // It stands high although the part pulls. `open`: what it stands at otherwise.
    void raised(const Seen& open, const Seen& high, const Step& closed);

private:
    std::vector<std::string> groundPlaces() const;
    bool pullsByOhms() const;
    bool isFed(const Step& closed);
    bool isLifted(const Seen& high, const Step& closed) const;
    std::optional<double> stated_V(const Step& open) const;

    Flow& flow_;
    std::string kind_;
    int terminal_, part_, signal_, ground_;
};

}  // namespace ilvek
