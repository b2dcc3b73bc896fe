#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <utility>
#include <vector>

#include "practice/field_sheets.h"

namespace ilvek::practice {

namespace {

class WorkshopSheet {
public:
    WorkshopSheet(std::mt19937& random, const FieldSpread& spread) : random_(random), spread_(spread) {}

    std::string write()
    {
        const unsigned wanted = 4 + pick(static_cast<unsigned>(spread_.mostTerminals) - 3);
        grounds();
        supplies();
        while (count_ < wanted)
            circuit();
        beside();
        std::shuffle(rows_.begin(), rows_.end(), random_);
        return text();
    }

private:
    struct Row {
        std::string pin, name, type, way, to, amps;
    };

    unsigned pick(unsigned n) { return static_cast<unsigned>(random_() % n); }
    bool chance(double p) { return std::bernoulli_distribution(p)(random_); }
    double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(random_); }
    // A figure of the sheet, or nothing.
    std::string maybe(const std::string& figure) { return chance(1 - spread_.missingShare) ? figure : ""; }
    template <class... Words>
    std::string oneOf(Words... words)
    {
        const std::vector<std::string> all{words...};
        return all[pick(static_cast<unsigned>(all.size()))];
    }

    std::string row(const std::string& name, const std::string& type, const std::string& way, const std::string& to,
                    const std::string& amps = "")
    {
        ++count_;
        const std::string pin =
            pinsByLetter_ ? fmt::format("{}{}", "ABCDEFGH"[count_ / 9 % 8], count_ % 9 + 1) : fmt::format("{}", count_);
        rows_.push_back({pin, name, type, way, to, amps});
        return pin;
    }
    void beside(const std::string& name, const std::string& type, const std::string& way, const std::string& to)
    {
        rows_.push_back({"", name, type, way, to, ""});
    }

    std::string fuse()
    {
        static constexpr int ratings[] = {5, 7, 10, 15, 20, 25, 30};
        return fmt::format("F{}{}", ++fuses_, chance(0.7) ? fmt::format(" {}A", ratings[pick(7)]) : "");
    }
    // A plug of its own, of as many ways as are asked for.
    int plug() { return ++plugs_; }
    std::string ground() { return fmt::format("G{}", 1 + pick(3)); }

    void grounds()
    {
        for (unsigned n = 1 + pick(2); n > 0; --n)
            row(oneOf("earth", "minus", "power ground"), oneOf("ground", "earth", "return"),
                chance(0.3) ? fmt::format("X{}-1 > G1", plug()) : "G1", "");
    }

    void supplies()
    {
        permanent_ = fuse();
        row("battery", oneOf("supply, always", "permanent feed", "battery feed"), permanent_, "",
            maybe(fmt::format("{:.1f} A", between(0.1, 2))));
        keyed_ = fuse();
        if (chance(0.7))
            row("ignition", oneOf("supply, with key", "switched live", "key supply"), keyed_, "",
                maybe(fmt::format("{:.1f} A", between(0.2, 3))));
        if (chance(0.5)) {
            relayed_ = fuse() + " > K1";
            row("power", oneOf("supply, by relay K1", "relay feed"), relayed_, "",
                maybe(fmt::format("{:.1f} A", between(1, 8))));
            if (chance(0.6)) row("power relay", "drives coil of K1", "", "coil of K1, other end " + keyed_);
        }
    }

    // What the outputs' parts are fed from.
    std::string shared()
    {
        if (outputs_.empty() || chance(0.2)) outputs_ = fmt::format("S{} > {}", ++splices_, fuse());
        return outputs_;
    }

    std::string part()
    {
        const double ohm = between(6, 60);
        switch (pick(6)) {
            case 0:
                return maybe("x").empty() ? "solenoid" : fmt::format("solenoid {:.0f}-{:.0f} Ω", 0.9 * ohm, 1.1 * ohm);
            case 1:
                return maybe("x").empty() ? "valve" : fmt::format("valve {:.1f} Ω", ohm);
            case 2:
                return maybe("x").empty() ? "lamp" : "lamp 10 W";
            case 3:
                return maybe("x").empty() ? "motor" : fmt::format("motor {:.1f} A", between(0.5, 4));
            case 4:
                return maybe("x").empty() ? "heater" : fmt::format("heater {:.0f} Ω", ohm);
            default:
                return "LED lamp";
        }
    }

    void lowSide()
    {
        const std::string name = fmt::format("output {}", count_ + 1);
        row(name, oneOf("low side drive", "low-side output", "drive, low side"), fmt::format("X{}-2", plug()),
            fmt::format("{}, other wire {}", part(), shared()));
    }

    void highSide()
    {
        row(fmt::format("output {}", count_ + 1), oneOf("high side drive", "high-side output", "drive, high side"),
            fmt::format("X{}-1", plug()), fmt::format("{}, ground {}", part(), ground()));
    }

    void bridge()
    {
        const int at = plug();
        const std::string other = row(fmt::format("motor {} -", at), "high side drive", fmt::format("X{}-2", at), "");
        row(fmt::format("motor {} +", at), "high side drive", fmt::format("X{}-1", at),
            fmt::format("motor{}, other wire {}", maybe(fmt::format(" {:.1f} A", between(1, 5))), other));
    }

    void relayFromPlus()
    {
        const std::string relay = fmt::format("K{}", 20 + count_);
        row("relay " + relay, "high side drive", "", fmt::format("coil of {}, other end {}", relay, ground()));
        beside(fmt::format("big load {}", count_), "consumer", fmt::format("{} > {}", relay, fuse()),
               fmt::format("motor, ground {}", ground()));
    }

    void dutyDrive()
    {
        row(fmt::format("proportional valve {}", count_ + 1), oneOf("PWM low side", "PWM output, low side"), "",
            fmt::format("proportional valve{}, other wire {}", maybe(fmt::format(" {:.1f} Ω", between(4, 20))),
                        shared()));
    }

    // The supply and the return that sensors share.
    void sensorSupply()
    {
        if (!reference_.empty()) return;
        reference_ = row("sensor supply", oneOf("5 V reference", "reference"), "", "");
        sensorGround_ = row("sensor ground", oneOf("sensor ground", "sensor return"), "", "");
    }

    void sensor()
    {
        sensorSupply();
        row(fmt::format("{} {}", oneOf("pressure", "position", "level"), count_ + 1),
            oneOf("analogue input", "analog input"), fmt::format("X{}-3", plug()),
            fmt::format("sensor{}, supply {}, return {}", maybe(" 0.5-4.5 V"), reference_, sensorGround_));
    }

    void hall()
    {
        sensorSupply();
        row(fmt::format("speed {}", count_ + 1), oneOf("Hall input", "hall sensor input"), fmt::format("X{}-3", plug()),
            fmt::format("Hall sensor, supply {}, return {}", reference_, sensorGround_));
    }

    void pickUp()
    {
        const double ohm = between(150, 1200);
        const std::string minus = row(fmt::format("pick-up {} -", count_), "sensor return", "", "");
        row(fmt::format("pick-up {} +", count_), "reluctance input", fmt::format("X{}-1", plug()),
            fmt::format("pick-up{}, returns {}", maybe(fmt::format(" {:.0f}-{:.0f} Ω", 0.9 * ohm, 1.1 * ohm)), minus));
    }

    void thermistor()
    {
        sensorSupply();
        row(fmt::format("temperature {}", count_ + 1), "thermistor input",
            chance(0.5) ? fmt::format("X{}-1", plug()) : "",
            fmt::format("thermistor{}, returns {}", maybe(" 2.5 kΩ at 25 °C"), sensorGround_));
    }

    void contact()
    {
        const std::string rests =
            oneOf("switch closed at rest", "switch open at rest", "switch", "push button, open at rest");
        row(fmt::format("switch {}", count_ + 1), "switch input", fmt::format("X{}-1", plug()),
            chance(0.5) ? fmt::format("{}, ground {}", rests, ground())
                        : fmt::format("{}, other side {}", rests, keyed_));
    }

    void pair()
    {
        if (std::exchange(hasPair_, true)) return contact();
        row("CAN H", "CAN high", fmt::format("X{}-1", plug()), "");
        row("CAN L", "CAN low", fmt::format("X{}-2", plugs_), "");
        beside("display", "bus node", "", oneOf("termination", "termination, plug X98"));
        if (chance(0.5)) beside("second unit", "bus node", "", "no termination, plug X97");
    }

    void singleWire()
    {
        if (std::exchange(hasSingle_, true)) return sense();
        row("LIN", oneOf("single-wire bus", "LIN"), fmt::format("X{}-1", plug()), "");
        beside("wiper unit", "bus node", "", "plug X96");
    }

    void sense()
    {
        row(fmt::format("sense {}", count_ + 1), "sense input", "", oneOf("from ", "senses ") + std::string(keyed_));
    }

    void circuit()
    {
        switch (pick(14)) {
            case 0:
            case 1:
            case 2:
                return lowSide();
            case 3:
            case 4:
                return highSide();
            case 5:
                return chance(0.5) ? bridge() : relayFromPlus();
            case 6:
                return dutyDrive();
            case 7:
            case 8:
                return sensor();
            case 9:
                return chance(0.5) ? hall() : pickUp();
            case 10:
                return thermistor();
            case 11:
                return contact();
            case 12:
                return pair();
            default:
                return singleWire();
        }
    }

    // What else hangs on the same feeds.
    void beside()
    {
        if (chance(0.4)) beside("work lamps", "consumer", keyed_, fmt::format("lamp{}, ground G2", maybe(" 55 W")));
        if (chance(0.3)) beside("radio unit", "consumer", permanent_, "module RU-1, ground G3");
        if (chance(0.2) && !outputs_.empty())
            beside("alarm", "consumer", outputs_.substr(0, outputs_.find(' ')), "buzzer, ground G2");
    }

    std::string text() const
    {
        const std::string comma = commas_ ? "," : "\t";
        const auto cell = [&](const std::string& s) {
            return commas_ && s.find(',') != std::string::npos ? "\"" + s + "\"" : s;
        };
        std::string out = fmt::format("{}\n", fmt::join({"Pin", "Signal", "Type", "Goes over", "To", "Amps"}, comma));
        for (const Row& r : rows_)
            out += fmt::format(
                "{}\n",
                fmt::join({cell(r.pin), cell(r.name), cell(r.type), cell(r.way), cell(r.to), cell(r.amps)}, comma));
        return out;
    }

    std::mt19937& random_;
    const FieldSpread& spread_;
    const bool commas_ = chance(0.5), pinsByLetter_ = chance(0.5);
    std::vector<Row> rows_;
    std::string permanent_, keyed_, relayed_, outputs_, reference_, sensorGround_;
    unsigned count_ = 0;
    int fuses_ = 0, plugs_ = 0, splices_ = 0;
    bool hasPair_ = false, hasSingle_ = false;
};

}  // namespace

std::string workshopSheet(std::mt19937& random, const FieldSpread& spread)
{
    return WorkshopSheet(random, spread).write();
}

}  // namespace ilvek::practice
