#include "bench_map/sheet_words.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "base/text.h"
#include "bench_map/letters.h"
#include "quantity/quantity.h"

namespace ilvek {

std::vector<std::string> wordsIn(std::string_view text)
{
    std::vector<std::string> words;
    std::string word;
    for (std::size_t at = 0; at < text.size(); ++at) {
        const char c = text[at];
        const bool inFigure =
            c == ',' && at > 0 && at + 1 < text.size() && isDigit(text[at - 1]) && isDigit(text[at + 1]);
        const bool parts = !inFigure && std::string_view(" \t,;()").find(c) != std::string_view::npos;
        if (!parts) word += c;
        if (parts && !word.empty()) words.push_back(std::move(word)), word.clear();
    }
    if (!word.empty()) words.push_back(std::move(word));
    return words;
}

namespace {

// A number in a text, and the unit that stands behind it.
struct Found {
    std::size_t begin = 0, end = 0;  // of the number with its unit
    std::string number, unit;
};

std::size_t unitLength(std::string_view text)
{
    static constexpr std::array<std::string_view, 5> signs{"Ω", "\xE2\x84\xA6", "µ", "μ", "°"};
    std::size_t length = 0;
    while (length < text.size()) {
        const auto rest = text.substr(length);
        const auto sign = std::find_if(signs.begin(), signs.end(), [&](auto s) { return rest.starts_with(s); });
        if (sign != signs.end())
            length += sign->size();
        else if (isLetter(rest.front()) || rest.front() == '%')
            ++length;
        else
            break;
    }
    return length;
}

std::vector<Found> figuresIn(std::string_view text)
{
    std::vector<Found> out;
    std::size_t at = 0;
    while (at < text.size()) {
        // Digits that end a name, as in F5, are no figure.
        const bool begins = isDigit(text[at]) && (at == 0 || (!isLetter(text[at - 1]) && !isDigit(text[at - 1])));
        if (!begins) {
            ++at;
            continue;
        }
        Found f;
        f.begin = at;
        const bool minus = at > 0 && text[at - 1] == '-' && (at == 1 || text[at - 2] == ' ');
        if (minus) --f.begin, f.number = "-";
        while (at < text.size() && (isDigit(text[at]) || ((text[at] == '.' || text[at] == ',') &&
                                                          at + 1 < text.size() && isDigit(text[at + 1]))))
            f.number += text[at++];
        f.end = at;
        std::size_t behind = at;
        while (behind < text.size() && text[behind] == ' ')
            ++behind;
        const std::size_t length = unitLength(text.substr(behind));
        if (length > 0) {
            f.unit = std::string(text.substr(behind, length));
            f.end = behind + length;
        }
        out.push_back(std::move(f));
    }
    return out;
}

std::optional<double> valueOf(const Found& f, const std::string& unit, Unit wanted)
{
    if (unit.empty()) return std::nullopt;
    const auto q = parseQuantityWithUnit(f.number + " " + unit, wanted);
    if (!q || q->overLimit) return std::nullopt;
    return q->value;
}

// Whether two figures are the ends of a range: only "..", a dash or "to" stands between.
bool isRange(std::string_view text, const Found& first, const Found& second)
{
    std::size_t from = first.begin + first.number.size();
    if (!first.unit.empty() && lowered(first.unit) != "to") from = first.end;
    const auto between = trimmed(text.substr(from, second.begin - from));
    return isOneOf(between, "..", "...", "…", "–", "—", "-", "to");
}

struct Range {
    std::size_t begin = 0, end = 0;
    StatedFigure figure;
};

std::optional<Range> rangeIn(std::string_view text, Unit unit)
{
    const auto all = figuresIn(text);
    for (std::size_t i = 0; i < all.size(); ++i) {
        const auto value = valueOf(all[i], all[i].unit, unit);
        const bool next = i + 1 < all.size() && isRange(text, all[i], all[i + 1]);
        if (next) {
            const auto high = valueOf(all[i + 1], all[i + 1].unit, unit);
            const auto low = value ? value : valueOf(all[i], all[i + 1].unit, unit);
            if (high && low) return Range{all[i].begin, all[i + 1].end, {std::min(*low, *high), std::max(*low, *high)}};
        }
        if (value) return Range{all[i].begin, all[i].end, {*value, *value}};
    }
    return std::nullopt;
}

}  // namespace

std::string behindWords(std::string_view text, std::initializer_list<std::string_view> phrases)
{
    const std::string low = lowered(text);
    for (const std::string_view phrase : phrases) {
        const std::size_t at = low.find(phrase);
        if (at == std::string::npos) continue;
        const auto words = wordsIn(text.substr(at + phrase.size()));
        if (!words.empty()) return words.front();
    }
    return "";
}

std::string relayIn(std::string_view text)
{
    static constexpr std::array<std::string_view, 35> besides{
        "out",     "outputs", "in",   "to",   "on",     "off",     "for",      "with",   "high",
        "low",     "hs",      "ls",   "pwm",  "pin",    "sense",   "feedback", "output", "coil",
        "control", "contact", "fed",  "feed", "supply", "driver",  "drive",    "drives", "return",
        "ground",  "signal",  "side", "live", "switch", "command", "input",    "and"};
    const std::string name =
        behindWords(text, {"contact of relay ", "contact of ", "coil of relay ", "coil of ", "relay "});
    return std::find(besides.begin(), besides.end(), lowered(name)) == besides.end() ? name : "";
}

namespace {

bool has(const std::vector<std::string>& words, std::string_view word)
{
    return std::find(words.begin(), words.end(), word) != words.end();
}

template <class... Names>
bool hasAny(const std::vector<std::string>& words, Names... names)
{
    return (has(words, names) || ...);
}

// Parted at commas that stand in no figure.
std::vector<std::string> clausesOf(std::string_view text)
{
    std::vector<std::string> out;
    std::size_t from = 0;
    for (std::size_t at = 0; at <= text.size(); ++at) {
        const bool comma = at < text.size() && (text[at] == ',' || text[at] == ';');
        const bool inFigure = comma && at > 0 && at + 1 < text.size() && isDigit(text[at - 1]) && isDigit(text[at + 1]);
        if (at < text.size() && (!comma || inFigure)) continue;
        const auto clause = trimmed(text.substr(from, at - from));
        if (!clause.empty()) out.emplace_back(clause);
        from = at + 1;
    }
    return out;
}

bool isGround(std::string_view low)
{
    return isOneOf(low, "ground", "grounded", "body", "chassis", "earth", "gnd", "frame", "0v", "0 v", "negative",
                   "minus", "-", "31");
}

// What follows one of these words at the beginning of a clause; empty: none of them stands there.
std::string behindLead(const std::string& clause, std::initializer_list<std::string_view> leads)
{
    for (const std::string_view lead : leads) {
        if (!lowered(clause).starts_with(lead)) continue;
        auto rest = trimmed(std::string_view(clause).substr(lead.size()));
        for (const std::string_view filler : {"to ", "at ", "from ", "on ", "by "}) {
            if (lowered(rest).starts_with(filler)) rest = trimmed(rest.substr(filler.size()));
        }
        return std::string(rest);
    }
    return "";
}

// What a clause says of where a part is fed from: "fed from F4", "supply A5".
std::string supplyOf(const std::string& clause)
{
    return behindLead(clause, {"fed ", "feed ", "supply ", "supplied "});
}

// What a clause says of the second wire: "other wire S1", "ground G2", "returns A8", "fed from F4".
std::string otherWireOf(const std::string& clause)
{
    const std::string named = behindLead(
        clause, {"other wire ", "other end ", "second wire ", "other side ", "returns ", "return ", "grounded at "});
    if (!named.empty()) return named;
    if (std::string fed = supplyOf(clause); !fed.empty()) return fed;
    const std::string low = lowered(clause);
    if (isGround(low) || (low.starts_with("to ") && isGround(low.substr(3)))) return "ground";
    if (!low.starts_with("ground ") && !low.starts_with("earth ")) return "";
    // "ground S4 > G2" is a way to a ground.
    return clause.find('>') == std::string::npos ? clause : std::string(trimmed(clause.substr(clause.find(' '))));
}

// Platinum of 100 or 1000 Ω at 0 °C, SOURCE: IEC 60751, and silicon.
bool isRisingThermistor(const std::vector<std::string>& words)
{
    return hasAny(words, "ptc", "rtd", "pt100", "pt1000", "pt500");
}

FarEnd::Kind farKind(const std::vector<std::string>& words)
{
    using F = FarEnd::Kind;
    const bool switches = hasAny(words, "switch", "button", "contact", "pushbutton", "microswitch", "reed", "sw");
    if (hasAny(words, "thermistor", "ntc") || isRisingThermistor(words)) return F::Thermistor;
    if (hasAny(words, "temperature", "temp") && !switches) return F::Thermistor;
    if (hasAny(words, "pick-up", "pickup", "reluctance", "reluctor") ||
        (has(words, "inductive") && !hasAny(words, "switch", "pnp", "npn", "proximity", "prox")))
        return F::PickUp;
    // One that brings a feed is a switch to any meter, one that pulls down a Hall sensor.
    if (has(words, "pnp")) return F::Switch;
    if (hasAny(words, "hall", "proximity", "prox", "npn", "barrier", "curtain", "photocell", "photoelectric", "optical",
               "encoder"))
        return F::Hall;
    if (switches) return F::Switch;
    if (hasAny(words, "sensor", "sender", "potentiometer", "pot", "transducer", "transmitter", "joystick", "pedal"))
        return F::Sensor;
    if (hasAny(words, "sol", "vlv")) return F::Winding;
    if (hasAny(words, "lamp", "bulb", "beacon", "lamps", "bulbs", "headlamp", "headlight", "light", "led", "leds"))
        return F::Lamp;
    if (hasAny(words, "heater", "heating", "resistor", "glow")) return F::Heater;
    if (hasAny(words, "motor", "pump", "fan", "blower", "horn", "compressor", "starter", "wiper")) return F::Motor;
    if (hasAny(words, "solenoid", "valve", "injector", "coil", "clutch", "winding", "magnet", "actuator", "lock"))
        return F::Winding;
    if (hasAny(words, "module", "controller", "display", "unit", "node", "ecu", "computer")) return F::Module;
    return F::Unknown;
}

// Said instead of a figure: what is customary holds.
constexpr std::string_view withoutFigure[] = {"toggle", "pulses",  "pulsing",         "square wave",
                                              "varies", "changes", "battery voltage", "supply voltage"};

// Whether a word says which part it is, and not only of what kind, how large or how it rests.
bool tellsName(const std::string& word)
{
    static constexpr std::array<std::string_view, 19> besides{
        "at",  "rest", "rests", "closed", "open", "normally", "of", "about",        "wire", "wires",
        "ohm", "ohms", "Ω",     "w",      "a",    "v",        "°c", "proportional", "prop"};
    // Of what kind it is, and by it which one.
    static constexpr std::array<std::string_view, 17> names{
        "pedal", "joystick",    "horn",     "compressor", "starter", "wiper", "light", "headlamp", "headlight",
        "temp",  "temperature", "actuator", "computer",   "lock",    "ecu",   "led",   "leds"};
    if (std::find(names.begin(), names.end(), word) != names.end()) return true;
    const bool figure = std::any_of(word.begin(), word.end(), isDigit);
    const bool beside = std::find(besides.begin(), besides.end(), word) != besides.end();
    return !figure && !beside && farKind({word}) == FarEnd::Kind::Unknown;
}

// "tilt valve" of "tilt valve 22–26 Ω at 20 °C, plug X4": its figures are told beside it. All of it where nothing is
// left.
std::string nameOf(const std::string& part)
{
    std::string name = part;
    for (const std::string_view plug : {" at plug ", ", plug ", " plug "})
        name.resize(std::min(name.size(), lowered(name).find(plug)));
    for (const Unit unit : {Unit::Celsius, Unit::Ohm, Unit::Watt, Unit::Ampere, Unit::Volt}) {
        const auto figure = rangeIn(name, unit);
        if (!figure) continue;
        std::string before(trimmed(name.substr(0, figure->begin))), after(trimmed(name.substr(figure->end)));
        for (const std::string_view word : {" at", ",", " of", " about"}) {
            if (lowered(before).ends_with(word)) before.resize(before.size() - word.size());
        }
        if (!after.empty() && after.front() != ',' && !before.empty()) before += ' ';
        name = before + after;
    }
    for (const std::string_view told : {" 2 wires", " 3 wires", " 4 wires", " 5 wires", " normally open",
                                        " normally closed", " open at rest", " closed at rest"})
        name.resize(std::min(name.size(), lowered(name).find(told)));
    while (!name.empty() && (name.back() == ',' || name.back() == ' '))
        name.pop_back();
    return name.empty() ? part : name;
}

bool saysNoFigure(std::string_view text)
{
    const std::string low = lowered(text);
    return std::any_of(std::begin(withoutFigure), std::end(withoutFigure),
                       [&](std::string_view word) { return low.find(word) != std::string::npos; });
}

}  // namespace

std::vector<std::string> loweredWords(std::string_view text)
{
    return wordsIn(lowered(text));
}

std::optional<LooseRow> looseRowFromText(std::string_view text)
{
    const auto words = loweredWords(text);
    if (hasAny(words, "weak", "repair", "repaired")) return LooseRow::Weak;
    if (hasAny(words, "function")) return LooseRow::Function;
    if (hasAny(words, "code")) return LooseRow::Code;
    if (hasAny(words, "consumer", "load")) return LooseRow::Consumer;
    if (hasAny(words, "source", "battery", "charger", "alternator")) return LooseRow::Source;
    if (hasAny(words, "splice", "joint")) return LooseRow::Splice;
    if (hasAny(words, "node", "bus", "module")) return LooseRow::BusNode;
    return std::nullopt;
}

std::optional<StatedFigure> parseStated(std::string_view text, Unit unit)
{
    const auto range = rangeIn(text, unit);
    return range ? std::optional(range->figure) : std::nullopt;
}

FarEnd parseFarEnd(std::string_view text)
{
    FarEnd out;
    auto clauses = clausesOf(text);
    if (clauses.empty()) return out;
    const std::string low = lowered(text);
    const bool coil = low.find("coil of") != std::string::npos ||
                      (low.find("relay ") != std::string::npos && low.find("coil") != std::string::npos);
    std::string first;
    // "pump 6 A to ground", "button to +"
    const std::size_t to = lowered(clauses.front()).rfind(" to ");
    if (to != std::string::npos && !coil) {
        const std::string far = lowered(trimmed(std::string_view(clauses.front()).substr(to + 4)));
        if (isGround(far)) out.otherWire = "ground";
        if (isOneOf(far, "+", "plus", "battery", "battery plus", "battery +", "b+")) out.otherWire = "battery plus";
    }
    // "contact from F1", "button from +"; "from 101", "from A1" may be the number of a wire or a terminal.
    const auto isFed = [&](const std::string& fed) {
        const bool isPlace = std::any_of(fed.begin(), fed.end(), isLetter) && parseRoute(fed);
        const bool isNumber =
            !isPlace && fed.find(' ') == std::string::npos && std::any_of(fed.begin(), fed.end(), isDigit);
        const bool isPlus = isOneOf(lowered(fed), "+", "plus", "b+");
        if (isNumber) out.fromNumber = fed;
        if (isPlace) out.otherWire = fed;
        if (isPlus) out.otherWire = "battery plus";
        return isNumber || isPlace || isPlus;
    };
    const std::size_t from = lowered(clauses.front()).rfind(" from ");
    // What feeds it is nothing of the part: neither its name nor its current.
    if (from != std::string::npos && !coil &&
        isFed(std::string(trimmed(std::string_view(clauses.front()).substr(from + 6)))))
        clauses.front() = std::string(trimmed(std::string_view(clauses.front()).substr(0, from)));
    if (!coil)
        std::erase_if(clauses, [&](const std::string& clause) {
            return lowered(clause).starts_with("from ") && isFed(std::string(trimmed(clause.substr(5))));
        });
    for (std::size_t i = 0; i < clauses.size(); ++i) {
        const std::string other = otherWireOf(clauses[i]), fed = supplyOf(clauses[i]);
        if (!fed.empty() && i > 0)
            out.supply = fed;
        else if (!other.empty() && i > 0)
            out.otherWire = other;
        else
            first += (first.empty() ? "" : ", ") + clauses[i];
    }
    out.plug = behindWords(first, {"at plug ", "plug ", "at connector "});
    const auto words = loweredWords(first);
    out.kind = coil ? FarEnd::Kind::RelayCoil : farKind(words);
    if (coil) out.relay = relayIn(first);
    // Only a sensor has a feed beside its second wire; what switches plus hands its feed on.
    const bool handsOn = has(words, "pnp");
    if (handsOn) out.otherWire = out.supply.empty() ? "battery plus" : out.supply;
    const bool isFedBeside = out.kind == FarEnd::Kind::Sensor || out.kind == FarEnd::Kind::Hall;
    if (!isFedBeside && out.otherWire.empty()) out.otherWire = out.supply;
    out.watts = parseStated(first, Unit::Watt);
    // "2 lamps 21 W" are two of them.
    if (out.watts && words.size() > 1 && words[0].size() == 1 && isDigit(words[0][0]) && words[0][0] > '1' &&
        isOneOf(words[1], "lamps", "x", "×", "bulbs")) {
        const double count = words[0][0] - '0';
        out.watts = StatedFigure{count * out.watts->low, count * out.watts->high};
    }
    out.ohms = parseStated(first, Unit::Ohm);
    out.amperes = parseStated(first, Unit::Ampere);
    if (const auto warm = parseStated(first, Unit::Celsius)) out.at_C = warm->middle();
    const auto says = [&](std::initializer_list<std::string_view> any) {
        return std::any_of(any.begin(), any.end(),
                           [&](std::string_view w) { return low.find(w) != std::string::npos; });
    };
    const std::vector<std::string> all = loweredWords(text);
    out.isRising = isRisingThermistor(words);
    if (const bool of100 = has(words, "pt100"); !out.ohms && (of100 || has(words, "pt1000"))) {
        constexpr double to25 = 1 + 0.00385 * 25;
        out.ohms = StatedFigure{(of100 ? 100 : 1000) * to25, (of100 ? 100 : 1000) * to25};
    }
    const bool slides = hasAny(words, "potentiometer", "pot", "joystick", "pedal", "wires");
    const bool isMade = out.supply.empty() && !slides && !parseStated(first, Unit::Volt);
    out.isSender = isMade && ((out.kind == FarEnd::Kind::Sensor && hasAny(words, "sender", "rheostat")) ||
                              (out.ohms && (out.kind == FarEnd::Kind::Sensor || out.kind == FarEnd::Kind::Unknown)));
    out.isClosedAtRest = says({"closed at rest", "normally closed", "rests closed"}) || hasAny(all, "nc", "n/c");
    out.isRestTold = out.isClosedAtRest || says({"open at rest", "normally open", "rests open"});
    out.name = nameOf(first);
    const auto nameWords = loweredWords(out.name);
    out.isNamed = std::any_of(nameWords.begin(), nameWords.end(), tellsName);
    return out;
}

std::string clausesOfPart(std::string_view remarks)
{
    std::string out;
    for (const std::string& clause : clausesOf(remarks)) {
        if (!otherWireOf(clause).empty() || parseFarEnd("switch, " + clause).isRestTold) out += ", " + clause;
    }
    return out;
}

Result<std::vector<ExpectedFigure>> parseExpectedFigures(std::string_view text)
{
    std::vector<ExpectedFigure> out;
    std::string part;
    std::vector<std::string> parts;
    for (const char c : text) {
        if (c == '/' || c == '|' || c == '+')
            parts.push_back(std::move(part)), part.clear();
        else
            part += c;
    }
    parts.push_back(std::move(part));
    for (const std::string& raw : parts) {
        std::string one(trimmed(raw));
        if (one.empty() || saysNoFigure(one)) continue;
        ExpectedFigure e;
        if (const auto open = one.rfind('('); open != std::string::npos && open > 0 && one.back() == ')') {
            e.source = std::string(trimmed(std::string_view(one).substr(open + 1, one.size() - open - 2)));
            one = std::string(trimmed(std::string_view(one).substr(0, open)));
        }
        std::optional<Range> range;
        for (const Unit unit : {Unit::Volt, Unit::Ampere, Unit::Ohm, Unit::Percent, Unit::Hertz}) {
            if ((range = rangeIn(one, unit))) {
                e.unit = unit;
                break;
            }
        }
        if (!range) return fail(one, "there is no figure with its unit; write as “key on 4.8..5.2 V”");
        std::string before(trimmed(one.substr(0, range->begin)));
        e.low = range->figure.low, e.high = range->figure.high;
        const auto strip = [&](std::initializer_list<std::string_view> signs) {
            for (const std::string_view sign : signs) {
                if (!lowered(before).ends_with(sign)) continue;
                before = std::string(trimmed(std::string_view(before).substr(0, before.size() - sign.size())));
                return true;
            }
            return false;
        };
        if (strip({"<", "≤", "below", "under", "at most", "max", "max."}))
            e.low.reset();
        else if (strip({">", "≥", "above", "over", "at least", "min", "min."}))
            e.high.reset();
        else
            strip({"about", "approx", "approx.", "ca.", "~", "≈", ":", "="});
        strip({":", "="});
        e.state = before;
        out.push_back(std::move(e));
    }
    return out;
}

}  // namespace ilvek
