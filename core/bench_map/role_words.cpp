// The role of a terminal, in whatever words and order people know it by.
#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "base/text.h"
#include "bench_map/sheet_words.h"

namespace ilvek {

namespace {

class Said {
public:
    explicit Said(std::string_view text) : words_(loweredWords(plain(text))), relay_(relayIn(text))
    {
        const auto long3 = [](const std::string& word) { return word.size() >= 3; };
        const auto last = std::find_if(words_.rbegin(), words_.rend(), long3);
        if (last != words_.rend()) last_ = *last;
        addTerminalNumber();
        // "OUT1" is an output.
        for (std::size_t i = 0, n = words_.size(); i < n; ++i) {
            const std::size_t letter = words_[i].find_last_not_of("0123456789");
            const bool numbered = letter != std::string::npos && letter + 1 < words_[i].size();
            if (numbered) words_.push_back(words_[i].substr(0, letter + 1));
        }
        const auto volts = parseStated(text, Unit::Volt);
        if (volts && volts->low == volts->high) volts_ = volts->low;
    }

    template <class... Names>
    bool any(Names... names) const
    {
        return (has(names) || ...);
    }

    bool plus() const
    {
        return any("high", "high-side", "highside", "hs", "hsd", "hi", "plus", "+", "positive", "h", "p", "can-h");
    }
    bool minus() const
    {
        return any("low", "low-side", "lowside", "ls", "lsd", "lo", "minus", "-", "–", "negative", "l", "n", "can-l");
    }
    bool ground() const
    {
        return any("return", "ground", "gnd", "pgnd", "agnd", "sgnd", "dgnd", "earth", "chassis", "body", "frame",
                   "0v") ||
               last_ == "common";
    }
    bool relay() const { return !relay_.empty() || any("relay", "relay-fed", "contactor"); }
    bool relayNamed() const { return !relay_.empty(); }
    bool duty() const { return any("duty", "pwm"); }
    bool supply() const { return any("supply", "feed", "fed", "live", "power", "pwr", "vcc", "vbat"); }
    bool always() const
    {
        return any("always", "permanent", "constant", "memory", "unswitched", "battery", "batt", "b+", "vbat");
    }
    bool withKey() const
    {
        return any("key", "keyed", "key-on", "switched", "ignition", "ign", "accessory", "acc", "run");
    }
    // A level that a module makes for its sensors.
    bool reference() const
    {
        constexpr double mostOfAReference_V = 10.5;
        return any("reference", "ref", "vref", "excitation", "5v", "10v", "8v", "5vout") ||
               (volts_ > 0 && volts_ <= mostOfAReference_V);
    }
    bool sensors() const { return any("sensor", "sensors", "sens", "transducer", "sender"); }
    // Sensors by what they are.
    bool sensorOfName() const
    {
        return any("encoder", "potentiometer", "pot", "pedal", "joystick", "throttle", "lever");
    }
    bool input() const
    {
        return any("input", "inputs", "ain", "di", "ai", "signal", "sense", "sensing", "feedback", "monitor",
                   "wiper") ||
               sensors();
    }
    // What opens and closes by hand, by a float or by a part that reaches it.
    bool switches() const
    {
        return any("switch", "sw", "button", "btn", "pushbutton", "reed", "contact", "microswitch");
    }
    bool measures() const
    {
        return any("analogue", "analog", "wiper", "potentiometer", "pot", "pressure", "press", "position", "pos",
                   "level", "angle", "pedal", "joystick", "lever", "throttle", "track", "load", "lambda", "oxygen",
                   "ai", "4-20", "current", "flow", "torque", "ain", "trim");
    }
    bool turns() const { return any("speed", "rpm", "crankshaft", "camshaft", "tachometer"); }
    bool bus() const
    {
        return any("bus", "network", "can", "can-h", "can-l", "canh", "canl", "can+", "can-", "lin", "k-line", "kline",
                   "data", "rs485", "rs-485", "modbus", "j1939");
    }
    bool oneWire() const
    {
        return any("lin", "k-line", "kline", "single-wire", "single", "one") || (has("data") && !plus() && !minus());
    }
    bool drive() const { return any("drive", "drives", "driver", "drivers", "driven", "coil"); }
    bool output() const
    {
        return any("output", "outputs", "out", "do", "command", "control", "actuator", "hs", "ls", "hsd", "lsd");
    }
    // "30", "KL15": what stands for a role by its number alone.
    void addTerminalNumber()
    {
        if (words_.size() != 1) return;
        for (const auto& [number, word] : terminalNumbers) {
            if (words_.front() != number && words_.front() != "kl" + std::string(number)) continue;
            words_.insert(words_.end(), {"supply", std::string(word)});
            return;
        }
    }
    // SOURCE: DIN 72552, designations of terminals: 30 battery, 15 key, 31 return.
    static constexpr std::array<std::pair<std::string_view, std::string_view>, 3> terminalNumbers{
        {{"30", "permanent"}, {"15", "ignition"}, {"31", "minus"}}};

    // What is driven, named instead of its drive.
    bool part() const { return std::any_of(words_.begin(), words_.end(), isPart); }
    // "fuel return valve", "body lights": the last word is what it is, those before say which.
    bool isCalledPart() const { return isPart(last_); }
    bool has(std::string_view word) const { return std::find(words_.begin(), words_.end(), word) != words_.end(); }
    double volts() const { return volts_; }

private:
    static bool isPart(const std::string& word)
    {
        static constexpr std::array<std::string_view, 30> parts{
            "injector", "injectors", "solenoid", "solenoids", "sol",    "vlv",    "valve",  "valves",
            "lamp",     "lamps",     "bulb",     "light",     "lights", "beacon", "heater", "horn",
            "buzzer",   "alarm",     "glow",     "pump",      "fan",    "blower", "motor",  "clutch",
            "h-bridge", "bridge",    "field",    "magnet",    "lock",   "siren"};
        return std::find(parts.begin(), parts.end(), word) != parts.end();
    }
    // "0 V" is a ground; a slash or an underscore parts words.
    static std::string plain(std::string_view text)
    {
        std::string low = lowered(text);
        std::replace(low.begin(), low.end(), '/', ' ');
        std::replace(low.begin(), low.end(), '_', ' ');
        if (const auto at = (" " + low).find(" 0 v"); at != std::string::npos) low.replace(at, 3, "0v");
        // "digital in" is an input, "in the tank" is none.
        if (low.ends_with(" in")) low += "put";
        return low;
    }

    std::vector<std::string> words_;
    std::string last_, relay_;
    double volts_ = 0;
};

Role driveOf(const Said& said)
{
    if (said.any("return") && !said.isCalledPart()) return Role::DriveReturn;
    if (said.any("motor", "bridge", "h-bridge") && said.minus()) return Role::DriveReturn;
    if (said.duty() || said.has("field")) return Role::DutyDrive;
    if (said.plus()) return Role::HighSideDrive;
    return Role::LowSideDrive;
}

std::optional<Role> supplyOf(const Said& said)
{
    if (said.relay()) return Role::RelayFedSupply;
    if (said.sensors() || said.sensorOfName()) return Role::Reference;
    if (said.always()) return Role::PermanentFeed;
    if (said.withKey()) return Role::SwitchedFeed;
    return said.reference() ? std::optional(Role::Reference) : std::nullopt;
}

std::optional<Role> inputOf(const Said& said)
{
    if (said.switches()) return Role::SwitchInput;
    if (said.any("thermistor", "ntc", "ptc", "rtd", "pt100", "pt1000", "temperature", "temp"))
        return Role::ThermistorInput;
    if (said.any("hall", "proximity", "npn", "encoder", "frequency", "pulse", "pulses")) return Role::HallInput;
    if (said.any("pick-up", "pickup", "reluctance", "reluctor", "inductive", "magnetic")) return Role::ReluctanceInput;
    if (said.duty()) return Role::DutyInput;
    if (said.any("sense", "sensing", "monitor", "start", "crank", "starter", "d+")) return Role::SenseInput;
    if (said.any("digital", "di") && !said.turns()) return Role::SwitchInput;
    if (said.turns() || (said.any("input", "signal") && !said.measures() && !said.sensors())) return std::nullopt;
    if (said.measures() || said.sensors()) return Role::AnalogueInput;
    return std::nullopt;
}

std::optional<Role> roleBy(const Said& said)
{
    if (said.any("unused", "n.c.", "spare", "empty", "blank")) return Role::Empty;
    if (said.bus()) return said.oneWire() ? Role::SingleWireBus : Role::DifferentialBus;
    const bool feedsDrivers = said.any("supply", "feed", "live");
    // Of a pulsed signal only a drive has a side.
    const bool pulsedSide = said.duty() && (said.plus() || said.minus()) && !said.any("input", "signal", "sense");
    if ((said.drive() || pulsedSide) && !feedsDrivers) return driveOf(said);
    if (said.has("heater") && !feedsDrivers && !said.any("signal", "input", "sense")) return driveOf(said);
    const bool switchedGround = said.ground() && said.any("switched", "controlled", "output");
    if (switchedGround && !said.input()) return Role::LowSideDrive;
    // A switch that closes to ground, and a sensor whose return is meant.
    if (said.any("switch", "sw", "button", "btn"))
        return said.any("ignition", "ign", "key") ? Role::SwitchedFeed : Role::SwitchInput;
    if (said.isCalledPart() && !said.input() && (said.ground() || said.supply())) return driveOf(said);
    // What the valves come back to.
    if (said.part() && said.has("common")) return Role::DriveReturn;
    if (said.part() && !said.isCalledPart() && said.has("return") && !said.any("ground", "gnd", "earth", "supply"))
        return Role::DriveReturn;
    if (said.ground())
        return said.sensors() || said.sensorOfName() || said.reference() || said.turns() ||
                       said.any("signal", "analogue", "analog", "agnd", "sgnd")
                   ? Role::ReferenceReturn
                   : Role::Return;
    const bool minus = said.any("minus", "negative");
    if (minus && (said.sensors() || said.sensorOfName() || said.turns())) return Role::ReferenceReturn;
    const bool minusPost = said.any("minus", "negative", "-", "–") && (said.supply() || said.always());
    const bool minusOf = minus && !said.input() && !said.any("motor", "bridge", "h-bridge");
    if (minusPost || minusOf) return Role::Return;
    if (said.supply()) return supplyOf(said);
    // A relay without a name is one that is driven.
    if (said.relay() && !said.relayNamed()) return driveOf(said);
    // "+5 V out" feeds sensors, "valve 5 V out" a valve.
    if (said.output() && !said.input() && (said.part() || !said.reference())) return driveOf(said);
    if (said.reference() && !said.any("signal", "input", "wiper")) return Role::Reference;
    if (said.any("wake", "wake-up", "wakeup", "enable")) return Role::SwitchedFeed;
    if (said.input()) return inputOf(said);
    if (said.any("temp", "temperature")) return Role::ThermistorInput;
    if (said.part()) return driveOf(said);
    if (const auto input = inputOf(said)) return input;
    if (said.relayNamed()) return Role::RelayFedSupply;
    if (said.withKey()) return Role::SwitchedFeed;
    if (said.always()) return Role::PermanentFeed;
    return std::nullopt;
}

constexpr std::string_view noRole =
    "is no role that is known here; write as “return”, “supply, with key”, “drive, low side”, “input, switch”, “sensor "
    "supply” or “bus, high”";

// What would have to be said, by what was.
std::string whatToSay(const Said& said)
{
    if (said.any("shield", "screen", "drain")) return "carries nothing that could be judged: leave the row out";
    if (said.turns()) return "is it a Hall sensor or a pick-up? Write as “input, Hall” or “input, pick-up”";
    if (said.supply() || said.volts() > 0 || said.any("+"))
        return "when is it there? Write as “supply, always”, “supply, with key” or “supply, by relay K2”";
    if (said.any("input", "signal"))
        return "what makes it? Write as “input, switch”, “input, thermistor”, “input, Hall”, “input, pick-up” or "
               "“input, analogue”";
    return std::string(noRole);
}

}  // namespace

bool isNoRole(std::string_view text)
{
    const auto role = parseRole(text);
    return !role && role.error().reason == noRole;
}

Result<SheetRole> parseRole(std::string_view text)
{
    SheetRole out;
    const Said said(text);
    out.highLine = said.any("high", "high-line", "h", "can-h", "canh", "can+", "+", "hi");
    out.lowLine = said.any("low", "low-line", "l", "can-l", "canl", "can-", "-", "lo");
    if (const auto plain = roleFromText(text)) {
        out.role = *plain;
        return out;
    }
    out.relay = relayIn(text);
    const auto role = roleBy(said);
    if (!role) return fail(std::string(text), whatToSay(said));
    out.role = *role;
    if (out.role == Role::Reference) out.level_V = said.volts();
    if (out.role == Role::DutyDrive) out.highLine = said.plus();
    if (groupOf(out.role) == Group::Drives) out.fedBy = behindWords(text, {"fed by ", "fed from "});
    return out;
}

}  // namespace ilvek
