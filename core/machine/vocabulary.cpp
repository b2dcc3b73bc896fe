#include "machine/vocabulary.h"

#include <array>

#include "base/text.h"

namespace ilvek {

namespace {

struct RoleWords {
    Role role;
    std::string_view name;
    std::vector<std::string_view> shortForms;
};

const std::vector<RoleWords>& roleWords()
{
    static const std::vector<RoleWords> words{
        {Role::PermanentFeed, "permanent feed", {"b+", "battery", "permanent", "memory feed", "kl30", "constant feed"}},
        {Role::SwitchedFeed, "switched feed", {"ign", "ignition", "key feed", "switched", "key on feed"}},
        {Role::RelayFedSupply,
         "relay-fed supply",
         {"relay fed", "relay-fed", "relay supply", "main supply", "supply", "feed"}},
        {Role::Return, "return", {"gnd", "ground", "earth", "power return", "power ground", "b-"}},
        {Role::Reference,
         "reference",
         {"5v", "5v ref", "vref", "ref", "reference voltage", "5v reference", "sensor supply"}},
        {Role::ReferenceReturn, "reference return", {"sensor ground", "sensor return", "ref return", "signal ground"}},
        {Role::AnalogueInput, "analogue input", {"analog", "analog input", "analogue", "sensor", "signal"}},
        {Role::ThermistorInput, "thermistor input", {"ntc", "thermistor", "temperature", "temp"}},
        {Role::SwitchInput, "switch input", {"switch", "pulled-up input", "digital input"}},
        {Role::SenseInput, "sense input", {"sense", "feedback input"}},
        {Role::ReluctanceInput, "reluctance input", {"vr", "reluctance", "inductive pickup", "pick-up"}},
        {Role::HallInput, "Hall input", {"hall"}},
        {Role::DutyInput, "duty input", {"pwm input"}},
        {Role::DifferentialBus, "differential bus", {"bus", "bus high", "bus low", "network"}},
        {Role::SingleWireBus, "single-wire bus", {"single wire bus", "one-wire bus"}},
        {Role::LowSideDrive,
         "low-side drive",
         {"low side", "low-side", "driver", "output", "ground switched", "relay control"}},
        {Role::HighSideDrive, "high-side drive", {"high side", "high-side", "supply switched"}},
        {Role::DutyDrive, "duty drive", {"pwm", "low-side pwm", "pwm output"}},
        {Role::DriveReturn, "drive return", {"output return", "actuator return"}},
        {Role::Empty, "empty", {"-", "–", "nc", "n/c", "not used", "spare", "blank"}}};
    return words;
}

struct NamedColour {
    std::string_view name;
    unsigned rgb;
    std::string_view shortForm;
    std::string_view longerForm;
};

constexpr std::array colours{
    NamedColour{"black", 0x222222, "bk", "blk"},      NamedColour{"brown", 0x6b4226, "bn", "brn"},
    NamedColour{"red", 0xc0392b, "rd", "red"},        NamedColour{"orange", 0xe08a1e, "og", "orn"},
    NamedColour{"yellow", 0xe3c21a, "ye", "yel"},     NamedColour{"green", 0x3f8f4f, "gn", "grn"},
    NamedColour{"blue", 0x2a6db5, "bu", "blu"},       NamedColour{"violet", 0x8e5bb5, "vt", "vio"},
    NamedColour{"grey", 0x8a8a8a, "gy", "gry"},       NamedColour{"white", 0xf4f4f0, "wh", "wht"},
    NamedColour{"pink", 0xe48fb1, "pk", "pnk"},       NamedColour{"tan", 0xc8a273, "tn", "tan"},
    NamedColour{"pale green", 0x8fc58f, "lg", "pgn"}, NamedColour{"pale blue", 0x86b9e0, "lb", "pbl"}};

std::optional<std::string> colourNamed(std::string_view text)
{
    const std::string low = lowered(trimmed(text));
    for (const NamedColour& colour : colours) {
        if (low == colour.name || low == colour.shortForm || low == colour.longerForm) return std::string(colour.name);
    }
    if (low == "gray") return "grey";
    if (low == "br") return "brown";
    if (low == "or") return "orange";
    if (low == "purple" || low == "vi" || low == "pu") return "violet";
    if (low == "light green") return "pale green";
    if (low == "light blue") return "pale blue";
    return std::nullopt;
}

constexpr std::array<std::string_view, 6> measureNames{"below battery", "level", "drop",
                                                       "resistance",    "duty",  "frequency"};
constexpr std::array<Unit, 6> measureUnits{Unit::Volt, Unit::Volt, Unit::Volt, Unit::Ohm, Unit::Percent, Unit::Hertz};
constexpr std::array<std::string_view, 7> groupNames{"Returns", "Supplies", "References", "Inputs",
                                                     "Drives",  "Networks", "Empty"};

}  // namespace

std::string_view roleName(Role role)
{
    for (const RoleWords& words : roleWords()) {
        if (words.role == role) return words.name;
    }
    return "";
}

std::optional<Role> roleFromText(std::string_view text)
{
    const std::string low = lowered(trimmed(text));
    for (const RoleWords& words : roleWords()) {
        if (low == lowered(words.name)) return words.role;
        for (const std::string_view shortForm : words.shortForms) {
            if (low == shortForm) return words.role;
        }
    }
    return std::nullopt;
}

std::vector<std::string> roleNames()
{
    std::vector<std::string> out;
    for (const RoleWords& words : roleWords())
        out.emplace_back(words.name);
    return out;
}

Group groupOf(Role role)
{
    switch (role) {
        case Role::Return:
            return Group::Returns;
        case Role::PermanentFeed:
        case Role::SwitchedFeed:
        case Role::RelayFedSupply:
            return Group::Supplies;
        case Role::Reference:
        case Role::ReferenceReturn:
            return Group::References;
        case Role::AnalogueInput:
        case Role::ThermistorInput:
        case Role::SwitchInput:
        case Role::SenseInput:
        case Role::ReluctanceInput:
        case Role::HallInput:
        case Role::DutyInput:
            return Group::Inputs;
        case Role::LowSideDrive:
        case Role::HighSideDrive:
        case Role::DutyDrive:
        case Role::DriveReturn:
            return Group::Drives;
        case Role::DifferentialBus:
        case Role::SingleWireBus:
            return Group::Networks;
        case Role::Empty:
            return Group::Empty;
    }
    return Group::Empty;
}

std::string_view groupName(Group group)
{
    return groupNames[static_cast<std::size_t>(group)];
}

bool isSupply(Role role)
{
    return groupOf(role) == Group::Supplies;
}

std::string_view measureName(Measure measure)
{
    return measureNames[static_cast<std::size_t>(measure)];
}

std::optional<Measure> measureFromText(std::string_view text)
{
    for (std::size_t i = 0; i < measureNames.size(); ++i) {
        if (measureNames[i] == text) return static_cast<Measure>(i);
    }
    return std::nullopt;
}

Unit unitOf(Measure measure)
{
    return measureUnits[static_cast<std::size_t>(measure)];
}

std::string Colour::words() const
{
    return stripe.empty() ? base : base + " with " + stripe;
}

Result<Colour> parseColour(std::string_view text)
{
    const std::string_view whole = trimmed(text);
    if (whole.empty()) return Colour{};
    if (const auto one = colourNamed(whole)) return Colour{*one, ""};
    const std::size_t cut = whole.find_first_of("/-");
    if (cut != std::string_view::npos) {
        const auto base = colourNamed(whole.substr(0, cut));
        const auto stripe = colourNamed(whole.substr(cut + 1));
        if (base && stripe) return Colour{*base, *stripe == *base ? "" : *stripe};
    }
    return fail(std::string(whole), "is no wire colour that is known here");
}

std::vector<std::string> colourNames()
{
    std::vector<std::string> out;
    for (const NamedColour& colour : colours)
        out.emplace_back(colour.name);
    return out;
}

std::optional<unsigned> colourRgb(std::string_view name)
{
    for (const NamedColour& colour : colours) {
        if (colour.name == name) return colour.rgb;
    }
    return std::nullopt;
}

}  // namespace ilvek
