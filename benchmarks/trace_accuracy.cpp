// How well recordings are measured, as tables: random windings and engines made by the physical model, whose truth is
// known. Fixed seeds: ilvek-trace-accuracy OUT.md
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "base/file.h"
#include "practice/plain_trials.h"
#include "practice/trace_trials.h"
#include "practice/waveforms.h"
#include "trace/study/cylinders.h"

namespace {

using namespace ilvek;
using namespace ilvek::practice;

constexpr double supply_V = 13.2, switch_ohm = 0.15, near_s = 5e-5;
constexpr int draws = 200, windingDraws = 600;

class Random {
public:
    explicit Random(unsigned seed) : generator_(seed) {}
    double between(double a, double b) { return std::uniform_real_distribution<double>(a, b)(generator_); }

private:
    std::mt19937 generator_;
};

std::string quantile(std::vector<double> x, double q)
{
    if (x.empty()) return "none";
    std::sort(x.begin(), x.end());
    return fmt::format("{:.1f} %", 100 * x[static_cast<std::size_t>(q * static_cast<double>(x.size() - 1))]);
}

Fired anyPulse(Random& random, bool stuck)
{
    Fired f;
    f.winding.resistance_ohm = random.between(8, 18);
    f.winding.inductance_H = f.winding.resistance_ohm * random.between(0.5e-3, 1.2e-3);
    f.winding.saturation_A = random.between(1.5, 5);
    f.winding.gain = random.between(0.2, 0.5);
    f.winding.pull_A = stuck ? 1e3 : supply_V / f.winding.resistance_ohm * random.between(0.25, 0.6);
    f.winding.travel_s = random.between(2e-4, 5e-4);
    f.on_s = 1e-3;
    f.off_s = f.on_s + random.between(4e-3, 8e-3);
    return f;
}

std::string windingRow(double rate_Hz, int bits, double noise)
{
    Random random(5);
    int lifts = 0, right = 0, sure = 0, surelyRight = 0, stuck = 0, wrong = 0, pulses = 0;
    std::vector<double> peak, resistance, inductance;
    for (int k = 0; k < windingDraws; ++k) {
        const Fired f = anyPulse(random, k % 4 == 0);
        Recorder r;
        r.interval_s = 1 / rate_Hz;
        r.bits = bits;
        r.noise = noise;
        r.current_A = 1.3 * supply_V / f.winding.resistance_ohm;
        r.seed = static_cast<unsigned>(k + 1);
        const auto made = makeWinding({f}, Drive{}, r, f.off_s + 3e-3);
        const Truth& truth = made.truth.front();
        (truth.lift_s ? lifts : stuck) += 1;
        const auto p = measureWinding(made.recording, made.recording.channels[0], {supply_V, nullptr});
        if (!p || p->pulses.size() != 1) continue;
        ++pulses;
        const Pulse& pulse = p->pulses.front();
        const auto lift = pulse.value("lift");
        const bool isNear = truth.lift_s && lift && std::abs(pulse.on_s + *lift - *truth.lift_s) < near_s;
        const bool isSure = truth.lift_s && lift && 2 * pulse.find("lift")->sigma < near_s;
        right += isNear ? 1 : 0, sure += isSure ? 1 : 0, surelyRight += isNear && isSure ? 1 : 0;
        if (!truth.lift_s && lift) ++wrong;
        const auto off = [](std::optional<double> value, double is, std::vector<double>& into) {
            if (value) into.push_back(std::abs(*value / is - 1));
        };
        off(pulse.value("peak"), truth.peak_A, peak);
        off(pulse.value("resistance"), f.winding.resistance_ohm + switch_ohm, resistance);
        off(pulse.value("inductance"), 1e3 * f.winding.inductance_H, inductance);
    }
    return fmt::format(
        "| {:.0f} kS/s | {} | {:.1f} % | {} of {} | {} of {} | {} of {} | {} of {} | {} | {} (of {}) | {} (of {}) |\n",
        rate_Hz / 1e3, bits, 100 * noise, pulses, windingDraws, surelyRight, sure, right, lifts, wrong, stuck,
        quantile(peak, 0.5), quantile(resistance, 0.5), resistance.size(), quantile(inductance, 0.5),
        inductance.size());
}

enum class Engine { Sound, Weak, Missing };

bool isNamed(Engine engine, unsigned seed, double noise)
{
    Random random(seed);
    std::vector<Winding> windings(4);
    const double middle = random.between(10, 16);
    for (Winding& w : windings) {
        w.resistance_ohm = middle * random.between(0.98, 1.02);
        w.inductance_H = middle * 8e-4;
        w.pull_A = supply_V / middle * 0.4 * random.between(0.97, 1.03);
    }
    const int odd = 2 + static_cast<int>(seed % 3);
    if (engine == Engine::Weak) windings[static_cast<std::size_t>(odd - 1)].resistance_ohm *= 1.2;
    Recorder r;
    r.noise = noise;
    r.seed = seed;
    r.interval_s = 1e-5;
    r.current_A = 2;
    const auto made = makeWinding(firedInOrder({1, 3, 4, 2}, windings, 0.08, 5e-3, 6,
                                               engine == Engine::Missing ? std::vector<int>{odd} : std::vector<int>{}),
                                  {}, r, 0.48, 1);
    const auto pulses = measureWinding(made.recording, made.recording.channels[0], {supply_V, nullptr});
    const auto edges = activeEdges(made.recording, made.recording.channels[2]);
    if (!pulses || !edges) return false;
    const auto set = assignCylinders(*pulses, *edges, {});
    if (!set) return false;
    bool named = engine == Engine::Sound;
    for (const TraceFinding& f : set->findings) {
        if (f.words.empty()) continue;
        if (engine == Engine::Sound || f.cylinder != odd) return false;
        named = named ||
                f.verdict == (engine == Engine::Weak ? TraceFinding::Verdict::Low : TraceFinding::Verdict::Missing);
    }
    return named;
}

std::string engineRow(double noise)
{
    std::string row = fmt::format("| {:.1f} % |", 100 * noise);
    for (const Engine engine : {Engine::Sound, Engine::Weak, Engine::Missing}) {
        int right = 0;
        for (unsigned k = 0; k < draws / 2; ++k)
            right += isNamed(engine, k, noise) ? 1 : 0;
        row += fmt::format(" {} of {} |", right, draws / 2);
    }
    return row + "\n";
}

std::string counted(const Trial& t)
{
    return fmt::format("{} of {}, {} wrong", t.right, t.of, t.wrong);
}

// One line for each noise; the rest of the draws is where it says that it cannot tell.
template <class Of>
std::string row(const char* name, const std::vector<double>& noises, Of of)
{
    std::string out = fmt::format("| {} |", name);
    for (const double noise : noises)
        out += fmt::format(" {} |", counted(of(noise)));
    return out + "\n";
}

std::string windingsTable()
{
    const std::vector<double> noises = {0.002, 0.01, 0.02, 0.05};
    std::string out =
        "\nOne pulse against what it should be, 200 kS/s, 11.5 to 14.6 V, parts that differ by 2 % anyway. A sound one "
        "is "
        "wrong when it is flagged; without a\nslope shorted turns cannot be told from less resistance.\n\n| | 0.2 % "
        "noise | 1 % | 2 % | 5 % |\n|---|---|---|---|---|\n";
    out += row("sound", noises, [](double n) { return trialWinding(draws, n, 1); });
    out += row("resistance 1.2 times", noises, [](double n) { return trialWinding(draws, n, 1.2); });
    out += row("resistance 0.8 times", noises, [](double n) { return trialWinding(draws, n, 0.8); });
    out += row("a quarter of the turns shorted", noises, [](double n) { return trialWinding(draws, n, 0.75, true); });
    out += row("closing within 0.1 ms, clamped drive", noises, [](double n) { return trialClosing(draws, n, false); });
    out += row("closing within 0.1 ms, freewheeling", noises, [](double n) { return trialClosing(draws, n, true); });
    return out;
}

std::string drivesTable()
{
    std::string out =
        "\nDuty of a freewheeling winding from its current alone, within three points; noise as a share of the "
        "ripple.\n\n| rate | quiet | 0.25 | 0.5 | 1 |\n|---|---|---|---|---|\n";
    for (const double rate : {2e4, 1e5})
        out += row(fmt::format("{:.0f} kS/s", rate / 1e3).c_str(), {0, 0.25, 0.5, 1},
                   [&](double share) { return trialPulseWidth(draws / 2, rate, share); });
    const std::vector<double> noises = {0, 0.002, 0.005, 0.01};
    out +=
        "\nMotors with 5 to 16 bars, 50 kS/s; noise as a share of the current of starting. A sound motor is wrong when "
        "a bar is named.\n\n| | quiet | 0.2 % | 0.5 % | 1 % |\n|---|---|---|---|---|\n";
    out += row("bar rate within 2 %", noises, [](double n) { return trialBarRate(draws, n); });
    out += row("bad bar named", noises, [](double n) { return trialBadBar(draws, n, true); });
    out += row("sound motor left alone", noises, [](double n) { return trialBadBar(draws, n, false); });
    out += row("stalled or turning", noises, [](double n) { return trialStall(draws, n); });
    return out;
}

std::string signalsTable()
{
    const std::vector<double> noises = {0, 0.01, 0.02, 0.05};
    std::string out =
        "\nCoils, pick-ups, charging fields and levels; noise as a share of the largest value.\n\n| | quiet | 1 % | 2 "
        "% | 5 % |\n|---|---|---|---|---|\n";
    out += row("coil: sound, limited, shorted turns, a charge missing", noises,
               [](double n) { return trialCoil(draws, n); });
    out += row("Hall: teeth, gap, speed", noises, [](double n) { return trialPickUp(draws, n, false); });
    out += row("reluctance: the same and polarity", noises, [](double n) { return trialPickUp(draws, n, true); });
    out += row("broken tooth, Hall", noises, [](double n) { return trialBrokenTooth(draws / 2, n, false); });
    out += row("broken tooth, reluctance", noises, [](double n) { return trialBrokenTooth(draws / 2, n, true); });
    out += row("every dip of a supply, and nothing else", noises, [](double n) { return trialDips(draws, n); });
    out += row("field answers", noises, [](double n) { return trialField(draws / 2, n, FieldFault::None); });
    out += row("field does not answer", noises,
               [](double n) { return trialField(draws / 2, n, FieldFault::DoesNotAnswer); });
    return out;
}

std::string plainTable()
{
    const std::vector<double> noises = {0, 0.01, 0.02, 0.05};
    std::string out =
        "\nWhat nothing above was tuned on: windings that move nothing, 1 to 60 Ω, 0.3 to 4 ms, 11 to 28 V, a third of "
        "them freewheeling; coils of 0.3 to 4 Ω and 1 to 12 mH\ncharged for 0.5 to 3.5 of their time constants, every "
        "other one with iron that fills. A sound one is wrong when anything odd is said of it, a winding also when a "
        "lift is.\n\n| | quiet | 1 % | 2 % | 5 % |\n|---|---|---|---|---|\n";
    out += row("sound coil, inductance within 15 %", noises, [](double n) { return trialPlainCoil(draws, n); });
    out += row("coil with shorted turns", noises, [](double n) { return trialShortedCoil(draws, n); });
    out += row("sound winding", noises, [](double n) { return trialPlainWinding(draws, n, 1); });
    out += row("resistance 1.2 times", noises, [](double n) { return trialPlainWinding(draws, n, 1.2); });
    out += row("resistance 0.8 times", noises, [](double n) { return trialPlainWinding(draws, n, 0.8); });
    out += row("duty beside a turn-off spike, within half a point", noises,
               [](double n) { return trialSpikedDuty(draws, n); });
    out += row("a ripple is no switching", noises, [](double n) { return trialRipple(draws, n); });
    return out;
}

std::string busTable()
{
    const std::pair<PairFault, const char*> faults[] = {{PairFault::None, "sound"},
                                                        {PairFault::Silent, "silent"},
                                                        {PairFault::Together, "shorted together"},
                                                        {PairFault::HighToGround, "high to ground"},
                                                        {PairFault::HighToSupply, "high to supply"},
                                                        {PairFault::LowToGround, "low to ground"},
                                                        {PairFault::LowToSupply, "low to supply"},
                                                        {PairFault::HighOpen, "high open"},
                                                        {PairFault::LowOpen, "low open"},
                                                        {PairFault::OneTermination, "one termination"},
                                                        {PairFault::HeldDominant, "held dominant"}};
    std::string out =
        "\nBus pairs, 8 and 12 bits, 8 to 40 samples in a bit. Silent and shorted together are one class until traffic "
        "is expected.\n\n| | quiet | 1 % | 2 % | 5 % |\n|---|---|---|---|---|\n";
    for (const auto& [fault, name] : faults)
        out += row(name, {0, 0.01, 0.02, 0.05}, [&](double n) { return trialBusPair(draws / 2, n, fault); });
    return out;
}

}  // namespace

int main(int count, char** arguments)
{
    if (count != 2) return fmt::print(stderr, "ilvek-trace-accuracy OUT.md\n"), 1;
    std::string out =
        "# How well recordings are measured\n\nSynthetic recordings from a physical model (saturating winding, moving "
        "armature, clamped turn-off), so these are "
        "upper bounds. Noise is one sigma as a share\nof the highest current. Lift is right within 50 µs of the truth; "
        "it "
        "is sure where two of its own sigma are less. A quarter of the armatures are "
        "stuck and have none.\nErrors are medians; resistance and inductance are offered only where the pulse can bear "
        "them.\n\n"
        "| rate | bits | noise | pulses found | right of the sure lifts | of all lifts | false lift on a stuck one | "
        "peak off | resistance off | "
        "inductance off |\n|---|---|---|---|---|---|---|---|---|---|\n";
    for (const auto& [rate, bits, noise] : {std::tuple{50e3, 12, 0.01},
                                            {200e3, 8, 0.0},
                                            {200e3, 12, 0.002},
                                            {200e3, 12, 0.01},
                                            {200e3, 12, 0.02},
                                            {200e3, 12, 0.05},
                                            {1e6, 12, 0.01}})
        out += windingRow(rate, bits, noise);
    out +=
        "\nFour injectors on one clamp with a synchronising channel, six turns, 100 kS/s. Weak: 1.2 times the "
        "resistance. Right means that the odd one is named "
        "and no other.\n\n| noise | sound | one weak | one missing |\n|---|---|---|---|\n";
    for (const double noise : {0.002, 0.01, 0.02, 0.05})
        out += engineRow(noise);
    out += windingsTable() + plainTable() + drivesTable() + signalsTable() + busTable();
    out += "\nMade by\n\n    build/release/benchmarks/ilvek-trace-accuracy docs/trace-accuracy.md\n";
    if (!writeFile(arguments[1], out)) return 3;
    fmt::print("{}", out);
    return 0;
}
