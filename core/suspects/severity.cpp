#include "suspects/severity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "circuit/blown_fuses.h"
#include "wording/words.h"

namespace ilvek {

namespace {

constexpr double open_ohm = 1e9;

std::string ohmsAbout(double r)
{
    if (r <= 0) return "about 0 Ω";
    const double digit = std::pow(10.0, std::floor(std::log10(r)) - 1);  // two figures are enough
    return "about " + formatQuantity(ohms(std::round(r / digit) * digit));
}

// Of a fault that lies between two, `share` of the way from one to the next.
std::string wordsBetween(const Fault& a, const Fault& b, double share)
{
    const auto between = [&](double x, double y) {
        return x > 0 && y > 0 ? std::exp((1 - share) * std::log(x) + share * std::log(y)) : x;
    };
    switch (a.kind) {
        case Fault::Kind::Open:
            return "open";
        case Fault::Kind::AddedResistance:
        case Fault::Kind::AddedCoilResistance:
            if (b.kind == Fault::Kind::Open && share > 0.3) return inWords("severity.nearly-open");
            return ohmsAbout(between(a.resistance_ohm, b.resistance_ohm)) + " added";
        case Fault::Kind::ShortBetween:
            return ohmsAbout(between(a.resistance_ohm, b.resistance_ohm));
        case Fault::Kind::OutOfValue:
            return inWords("severity.about-times-should", between(a.factor, b.factor));
        case Fault::Kind::StuckClosed:
            return inWords("suspect.stuck-closed");
        case Fault::Kind::Dead:
            return "dead";
        case Fault::Kind::Blown:
            break;
    }
    return "";
}

}  // namespace

double severityNumber(const std::vector<Fault>& faults)
{
    if (faults.empty()) return 0;
    const Fault& f = faults.front();
    switch (f.kind) {
        case Fault::Kind::Open:
            return open_ohm;
        case Fault::Kind::ShortBetween:
            return 1.0 / f.resistance_ohm;
        case Fault::Kind::OutOfValue:
            return f.factor - 1.0;
        default:
            return f.resistance_ohm;
    }
}

namespace {

// Between two severities of one fault, evenly by ratio; only what grades it differs.
Fault faultBetween(const Fault& a, const Fault& b, double share)
{
    const auto evenly = [&](double x, double y) { return std::exp((1 - share) * std::log(x) + share * std::log(y)); };
    Fault f = a;
    const bool nearlyOpen = b.kind == Fault::Kind::Open;
    switch (a.kind) {
        case Fault::Kind::OutOfValue:
            f.factor = evenly(a.factor, b.factor);
            break;
        case Fault::Kind::ShortBetween:
            f.resistance_ohm = evenly(a.resistance_ohm, b.resistance_ohm);
            break;
        case Fault::Kind::AddedResistance:
        case Fault::Kind::AddedCoilResistance:
            f.resistance_ohm = evenly(a.resistance_ohm, nearlyOpen ? open_ohm : b.resistance_ohm);
            break;
        default:
            break;
    }
    return f;
}

}  // namespace

double numberBetween(const Suspect& s, std::size_t low, double share)
{
    return severityNumber({faultBetween(s.severities[low].front(), s.severities[low + 1].front(), share)});
}

std::vector<Fault> faultsBetween(const Suspect& s, std::size_t low, double share)
{
    std::vector<Fault> faults = s.severities[low];
    if (share <= 0 || low + 1 >= s.severities.size()) return faults;
    const std::vector<Fault>& next = s.severities[low + 1];
    // With a fuse blown and without: there is nothing between.
    if (faults.size() != next.size()) return share < 0.5 ? faults : next;
    // One cause may stand on several parts alike.
    for (std::size_t i = 0; i < std::min(faults.size(), next.size()); ++i)
        faults[i] = faultBetween(faults[i], next[i], share);
    return faults;
}

void thinOut(std::vector<Suspect>& suspects, std::size_t mostCases)
{
    std::size_t cases = 0;
    for (const Suspect& s : suspects)
        cases += s.severities.size();
    if (cases <= mostCases) return;
    for (Suspect& s : suspects) {
        const std::size_t n = s.severities.size();
        const std::size_t kept = std::max<std::size_t>(2, n * mostCases / cases);
        if (!s.graded || kept >= n) continue;
        std::vector<std::vector<Fault>> some;
        for (std::size_t i = 0; i < kept; ++i)
            some.push_back(std::move(s.severities[i * (n - 1) / (kept - 1)]));
        s.severities = std::move(some);
    }
}

bool mayGrow(const Suspect& s)
{
    const bool opens = s.kind == SuspectKind::Resistance || s.kind == SuspectKind::Coil || s.kind == SuspectKind::High;
    return opens && s.graded && s.severities.size() > 1 && s.sentences.empty();
}

bool mayBlow(const Suspect& s)
{
    const auto& last = s.severities.back();
    return s.sentences.empty() && ownFaults(last) < last.size();
}

std::optional<double> withOrWithoutBlown(const Suspect& s, double severity)
{
    // The blown ones repeat the last of the others.
    const std::size_t own = ownFaults(s.severities.front());
    const auto begin = std::ranges::find_if(s.severities, [&](const auto& f) { return f.size() > own; });
    const auto blown = static_cast<double>(s.severities.end() - begin);
    const auto whole = static_cast<double>(begin - s.severities.begin());
    if (blown == 0) return std::nullopt;
    return std::max(0.0, severity < whole ? std::max(severity, whole - blown) + blown : severity - blown);
}

std::vector<Fault> faultsAt(const Suspect& s, double severity)
{
    const double last = static_cast<double>(s.severities.size()) - 1;
    const double at = std::clamp(s.graded ? severity : std::round(severity), 0.0, last);
    const auto low = static_cast<std::size_t>(at);
    return faultsBetween(s, low, at - static_cast<double>(low));
}

std::string severityWords(const Suspect& s, double at)
{
    // Where there is but one, or the map is wrong, the suspect's own words say it all.
    if (s.severities.size() < 2 || !isFault(s)) return "";
    const auto low = std::min(static_cast<std::size_t>(std::max(0.0, at)), s.severities.size() - 1);
    const auto high = std::min(low + 1, s.severities.size() - 1);
    if (!s.graded) return "";
    return wordsBetween(s.severities[low].front(), s.severities[high].front(), at - static_cast<double>(low));
}

std::string wordsAt(const Suspect& s, double at)
{
    const auto joined = [](const std::string& words, const std::string& severity) {
        return severity.empty() || words.find(severity) != std::string::npos ? words : words + ", " + severity;
    };
    if (s.sentences.size() != 2) return joined(s.words, severityWords(s, at));
    const std::vector<Fault> faults = faultsAt(s, at);
    const Fault& second = faults[std::min(s.secondAt, faults.size() - 1)];
    const bool isPart = s.element >= 0 && second.element != s.element;  // of what is held back nothing is open
    return joined(s.sentences[0], wordsBetween(faults.front(), faults.front(), 0)) + ". And " +
           (isPart ? s.sentences[1] : joined(s.sentences[1], wordsBetween(second, second, 0)));
}

}  // namespace ilvek
