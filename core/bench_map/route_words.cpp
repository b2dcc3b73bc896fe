// The way of a wire in the words of a diagram: connectors, splices, fuses, relays, grounds, from the pin outwards.
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <regex>

#include "base/text.h"
#include "bench_map/letters.h"
#include "bench_map/sheet_words.h"
#include "quantity/quantity.h"

namespace ilvek {

namespace {

using Kind = RoutePlace::Kind;

bool hasDigit(const std::string& word)
{
    return std::any_of(word.begin(), word.end(), isDigit);
}

std::vector<std::string> partedAt(const std::string& text, std::string_view sign)
{
    std::vector<std::string> parts;
    std::size_t from = 0;
    for (std::size_t at = text.find(sign); at != std::string::npos; at = text.find(sign, from)) {
        parts.emplace_back(trimmed(std::string_view(text).substr(from, at - from)));
        from = at + sign.size();
    }
    parts.emplace_back(trimmed(std::string_view(text).substr(from)));
    return parts;
}

// A comma before a figure stands before a rating, "F5, 7,5 A", or in it.
std::string commasAsArrows(std::string text)
{
    for (std::size_t at = 0; (at = text.find_first_of(",;", at)) != std::string::npos; ++at) {
        const std::size_t next = text.find_first_not_of(' ', at + 1);
        const bool isPlace = next != std::string::npos && lowered(text.substr(next)).starts_with("0v");
        if (next != std::string::npos && (isPlace || !isDigit(text[next]))) text[at] = '>';
    }
    return text;
}

std::vector<std::string> placesIn(std::string_view text)
{
    std::string plain(text);
    const auto replaceAll = [&](std::string_view sign) {
        for (std::size_t at = 0; (at = plain.find(sign, at)) != std::string::npos;)
            plain.replace(at, sign.size(), ">");
    };
    for (const std::string_view arrow : {"->", "→", "»"})
        replaceAll(arrow);
    if (plain.find('>') == std::string::npos) {
        for (const std::string_view sign : {" / ", " - ", " – ", " via ", " then ", "|"})
            replaceAll(sign);
        plain = commasAsArrows(std::move(plain));
    }
    return partedAt(plain, ">");
}

std::optional<Kind> kindByWord(std::string_view word)
{
    if (isOneOf(word, "ground", "earth", "gnd", "chassis", "frame")) return Kind::Ground;
    if (isOneOf(word, "fuse", "breaker", "link", "fusible")) return Kind::Fuse;
    if (isOneOf(word, "relay", "contactor")) return Kind::Relay;
    // A hand switch on the way is a place like a stud: closed while anything is measured behind it.
    if (isOneOf(word, "splice", "joint", "stud", "isolator", "busbar", "switch", "disconnect", "e-stop", "estop"))
        return Kind::Splice;
    if (isOneOf(word, "connector", "plug", "coupler", "coupling", "block", "strip")) return Kind::Connector;
    return std::nullopt;
}

std::optional<Kind> kindByLetters(const std::string& id)
{
    std::size_t letters = 0;
    while (letters < id.size() && isLetter(id[letters]))
        ++letters;
    const std::string low = lowered(id.substr(0, letters));
    const bool hasCavity = id.find_first_of("-.:/", letters) != std::string::npos;
    if (low.empty()) return std::nullopt;
    if (hasCavity && !isOneOf(low, "f", "k")) return Kind::Connector;
    if (isOneOf(low, "f", "fu", "fl", "cb", "mf", "fb")) return Kind::Fuse;
    if (isOneOf(low, "k", "r", "ry", "rl")) return Kind::Relay;
    if (isOneOf(low, "s", "sp", "j")) return Kind::Splice;
    if (isOneOf(low, "g", "gp", "gnd", "e", "m")) return Kind::Ground;
    if (isOneOf(low, "x", "xt", "c", "p", "w")) return Kind::Connector;
    // "GB2", "GS-1": a ground bolt, a ground stud.
    if (low.front() == 'g' && low.size() <= 3 && hasDigit(id)) return Kind::Ground;
    return std::nullopt;
}

std::optional<RoutePlace> placeByName(const std::string& low)
{
    if (isOneOf(low, "battery", "battery plus", "battery +", "battery+", "b+", "plus", "psu", "power supply",
                "battery positive"))
        return RoutePlace{Kind::Battery, "plus", std::nullopt};
    if (isOneOf(low, "battery minus", "battery -", "battery-", "b-", "minus"))
        return RoutePlace{Kind::Battery, "minus", std::nullopt};
    if (isOneOf(low, "key", "key switch", "ignition", "ignition switch", "key on"))
        return RoutePlace{Kind::KeySwitch, "KEY", std::nullopt};
    if (isOneOf(low, "body", "chassis", "frame", "ground", "earth", "gnd", "engine block", "0v", "0 v", "negative",
                "negative bus", "negative busbar", "negative bus bar", "bus bar minus", "busbar minus", "minus bus bar",
                "minus busbar", "minus bus", "minus bar"))
        return RoutePlace{Kind::Ground, "G", std::nullopt};
    return std::nullopt;
}

// "40 A" or "20A" anywhere in the text, taken out of it.
std::optional<double> takeRating(std::string& text)
{
    static const std::regex rating(R"((^|[\s(,])([0-9]+([.,][0-9]+)?)\s*(A|a|amp|amps|Amp|Amps)($|[\s),]))");
    std::smatch found;
    if (!std::regex_search(text, found, rating)) return std::nullopt;
    std::string figure = found[2];
    std::replace(figure.begin(), figure.end(), ',', '.');
    text = std::string(trimmed(found.prefix().str() + " " + found.suffix().str()));
    while (!text.empty() && (text.back() == '(' || text.back() == ',' || text.back() == ' '))
        text.pop_back();
    return std::stod(figure);
}

// "C101 pin 3" is C101-3.
std::string withCavity(const std::string& text)
{
    static const std::regex pin(R"(^(\S+)\s+(pin|cavity|terminal|way|pos)\.?\s*([0-9A-Za-z]+)$)",
                                std::regex_constants::icase);
    std::smatch found;
    return std::regex_match(text, found, pin) ? found[1].str() + "-" + found[3].str() : text;
}

// With a word for what it is: "fuse 12" keeps its word, for 12 alone would say nothing; "left frame ground" is all of
// its name; of "left ground G101" the name is G101.
RoutePlace wordedPlace(const std::vector<std::string>& words, Kind kind, std::size_t kindAt)
{
    RoutePlace place;
    place.kind = kind;
    const auto named = std::find_if(words.begin(), words.end(), hasDigit);
    if (named == words.end()) {
        const bool two = words.size() == 2 && kindAt == 0;
        for (std::size_t i = two ? 1 : 0; i < words.size(); ++i)
            place.id += (place.id.empty() ? "" : " ") + words[i];
    } else {
        place.id = isDigit(named->front()) ? words[kindAt] + " " + *named : *named;
    }
    return place;
}

Result<RoutePlace> unclear(const std::string& text, const std::string& id)
{
    return fail(text, fmt::format("is it a fuse, a relay, a splice, a ground or a connector? Write as “fuse {0}” or "
                                  "“splice {0}”",
                                  id));
}

Result<RoutePlace> parsePlace(const std::string& text)
{
    if (const auto named = placeByName(lowered(text))) return *named;
    std::string left = withCavity(text);
    const std::optional<double> rating_A = takeRating(left);
    const auto words = wordsIn(left);
    if (words.empty()) return rating_A ? unclear(text, text) : fail("route", "two arrows with nothing between them");
    // The ground outranks the stud it sits on.
    std::optional<Kind> byWord;
    std::size_t kindAt = 0;
    for (std::size_t i = 0; i < words.size(); ++i) {
        const auto kind = kindByWord(lowered(words[i]));
        if (!kind || (byWord && *kind != Kind::Ground)) continue;
        byWord = kind, kindAt = i;
    }
    if (byWord) {
        RoutePlace place = wordedPlace(words, *byWord, kindAt);
        place.rating_A = rating_A;
        if (place.kind == Kind::Connector && !hasDigit(place.id))
            return fail(text, "which cavity of it? Write as “X3-5”");
        return place;
    }
    RoutePlace place;
    place.id = words.front();
    place.rating_A = rating_A;
    std::string rest;
    for (std::size_t i = 1; i < words.size(); ++i)
        rest += (rest.empty() ? "" : " ") + words[i];
    if (const auto figure = parseQuantity(rest, Unit::Ampere); !rating_A && figure && !figure->overLimit)
        place.rating_A = figure->value, rest.clear();
    const auto kind = place.rating_A ? std::optional(Kind::Fuse) : kindByLetters(place.id);
    if (!kind) return unclear(text, place.id);
    place.kind = *kind;
    if (!rest.empty()) return fail(text, fmt::format("“{}” behind {} is no rating in amperes", rest, place.id));
    return place;
}

}  // namespace

Result<std::vector<RoutePlace>> parseRoute(std::string_view text)
{
    std::vector<RoutePlace> out;
    if (trimmed(text).empty()) return out;
    for (const std::string& part : placesIn(text)) {
        auto place = parsePlace(part);
        if (!place) return tl::unexpected(place.error());
        out.push_back(std::move(*place));
    }
    // "battery via F1": told from its far end.
    if (out.front().kind == Kind::Battery) std::reverse(out.begin(), out.end());
    return out;
}

}  // namespace ilvek
