#include "practice/waveforms.h"

#include <algorithm>
#include <cmath>

namespace ilvek::practice {

namespace {

constexpr double step_s = 5e-7;
constexpr double diode_V = 0.8;
constexpr double after_s = 3e-2;  // current and armature are followed so long at most

// One winding on its way.
class Model {
public:
    Model(const Winding& w, const Drive& d) : w_(w), d_(d) {}

    void step(bool on, double dt, Truth& truth, double t)
    {
        const bool limited = holding_ || (d_.peak_A && i_ >= *d_.peak_A);
        if (on && d_.peak_A && limited) holding_ = true;
        bool conducts = on;
        if (on && holding_) {
            // Between 1.05 and 0.95 of the holding current.
            const double hold = d_.hold_A.value_or(*d_.peak_A);
            if (i_ > 1.05 * hold) chops_ = true;
            if (i_ < 0.95 * hold) chops_ = false;
            conducts = !chops_;
        }
        if (!on) holding_ = chops_ = false;
        const double slack = -(d_.clamp_V > d_.supply_V ? d_.clamp_V - d_.supply_V : diode_V);
        const double chopSlack = -diode_V;
        const double U = conducts ? d_.supply_V - d_.switch_ohm * i_ : on ? chopSlack : slack;
        const double s = i_ / w_.saturation_A;
        const double flux = w_.saturation_A * std::tanh(s);
        const double L = w_.inductance_H * (1 + w_.gain * x_);
        const double slope = L / (std::cosh(s) * std::cosh(s));
        const double back = w_.inductance_H * w_.gain * v_ * flux;
        i_ += dt * (U - w_.resistance_ohm * i_ - back) / std::max(1e-9, slope);
        const bool out = i_ <= 0 && !conducts;
        i_ = std::max(0.0, i_);
        const double pull = i_ / w_.pull_A;
        const double a = (pull * pull - 1 - w_.spring * x_) / (w_.travel_s * w_.travel_s);
        v_ += dt * a;
        x_ += dt * v_;
        if (x_ >= 1) {
            if (v_ > 0 && on && !truth.lift_s) truth.lift_s = t;
            x_ = 1, v_ = std::min(0.0, v_);
        }
        lifted_ = lifted_ || x_ > 0.5;
        if (x_ <= 0) {
            if (v_ < 0 && !on && lifted_ && !truth.close_s) truth.close_s = t;
            x_ = 0, v_ = std::max(0.0, v_), lifted_ = false;
        }
        control_ = conducts         ? d_.switch_ohm * i_
                   : !out && i_ > 0 ? d_.supply_V - (on ? chopSlack : slack)
                                    : d_.supply_V - w_.hump_V * 1e-1 * v_ * w_.travel_s * 1e3;
    }
    bool atRest() const { return i_ <= 0 && x_ <= 0 && v_ >= 0; }
    double current() const { return i_; }
    double control() const { return control_; }

private:
    Winding w_;
    Drive d_;
    double i_ = 0, x_ = 0, v_ = 0, control_ = 0;
    bool lifted_ = false, holding_ = false, chops_ = false;
};

}  // namespace

Made makeWinding(const std::vector<Fired>& pulses, const Drive& drive, const Recorder& r, double length_s,
                 std::optional<int> shown)
{
    Made made;
    const auto n = static_cast<std::size_t>(length_s / r.interval_s);
    std::vector<double> current(n, 0.0), control(n, drive.supply_V), sync(n, 0.0);
    const auto sub = std::max<std::size_t>(1, static_cast<std::size_t>(std::ceil(r.interval_s / step_s)));
    // Nothing lifts the control side of an open winding; nothing pulls it down where the driver is dead.
    double whole_s = 0;  // until the last pulse that came
    for (const Fired& f : pulses) {
        if (shown && *shown != f.cylinder) continue;
        const auto from = static_cast<std::size_t>(std::min(static_cast<double>(n), whole_s / r.interval_s));
        if (!f.fires && !f.driverDead)
            std::fill(control.begin() + static_cast<std::ptrdiff_t>(from), control.end(), 0.0);
        else
            whole_s = f.off_s;
    }
    for (const Fired& f : pulses) {
        Truth truth{f.on_s, f.off_s, 0, 0, {}, {}, f.cylinder, f.fires};
        const bool isShown = !shown || *shown == f.cylinder;
        const auto first = static_cast<std::size_t>(std::max(0.0, f.on_s / r.interval_s));
        const auto last = std::min(n, static_cast<std::size_t>((f.off_s + after_s) / r.interval_s));
        Model model(f.winding, drive);
        for (std::size_t k = first; k < last; ++k) {
            for (std::size_t j = 0; j < sub; ++j) {
                const double t =
                    r.interval_s * (static_cast<double>(k) + static_cast<double>(j + 1) / static_cast<double>(sub)) -
                    r.interval_s;
                const bool on = t >= f.on_s && t < f.off_s;
                if (f.fires) model.step(on, r.interval_s / static_cast<double>(sub), truth, t);
                if (on) truth.end_A = model.current();
                truth.peak_A = std::max(truth.peak_A, model.current());
            }
            const double t = r.interval_s * static_cast<double>(k);
            if (f.fires) current[k] += model.current();
            if (isShown && f.fires) control[k] = model.control();
            if (t > f.off_s && model.atRest()) break;
            if (shown && isShown && t >= f.on_s && t < f.off_s) sync[k] = 5;
        }
        made.truth.push_back(truth);
    }
    std::vector<Track> tracks = {{"current", Unit::Ampere, std::move(current), r.current_A, r.noise},
                                 {"control", Unit::Volt, std::move(control), r.voltage_V, r.noise / 5}};
    if (shown) tracks.push_back({"sync", Unit::Volt, std::move(sync), 10.24, r.noise});
    made.recording = recorded(tracks, r);
    return made;
}

std::vector<Fired> firedInOrder(const std::vector<int>& order, const std::vector<Winding>& windings, double cycle_s,
                                double pulse_s, int cycles, const std::vector<int>& missing)
{
    std::vector<Fired> out;
    const double slot = cycle_s / static_cast<double>(order.size());
    for (int c = 0; c < cycles; ++c) {
        for (std::size_t k = 0; k < order.size(); ++k) {
            Fired f;
            f.on_s = c * cycle_s + slot * (static_cast<double>(k) + 0.3);
            f.off_s = f.on_s + pulse_s;
            f.cylinder = order[k];
            f.winding = windings[static_cast<std::size_t>(order[k] - 1)];
            f.fires = std::find(missing.begin(), missing.end(), f.cylinder) == missing.end();
            out.push_back(f);
        }
    }
    return out;
}

}  // namespace ilvek::practice
