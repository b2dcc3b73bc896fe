// The potential staircase as a stand-alone drawing: readings along the loop, the step named.
#include <fmt/format.h>
#include <algorithm>

#include "proving/walk.h"
#include "repair/repeated.h"
#include "report/report.h"

namespace ilvek {

namespace {

constexpr double width = 900, height = 330, left = 50, right = 880, top = 60, bottom = 280;

// What was read at one place, now and before the last repair.
struct Place {
    std::string label;
    double x = 0;
    std::optional<double> open_V, loaded_V, before_V;
};

// Both walks are along the same loop: points stand below each other by their nodes.
std::vector<Place> placesOf(const Walk& now, const Walk* before)
{
    std::vector<Place> out;
    for (std::size_t i = 0; i < now.points.size(); ++i) {
        const WalkPoint& p = now.points[i];
        Place place{p.label, 0, p.open_V, p.loaded_V, std::nullopt};
        if (before) place.before_V = before->points[i].loaded_V;
        if (p.reachable || p.loaded_V || p.open_V || place.before_V) out.push_back(std::move(place));
    }
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i].x = left + (right - left) * (static_cast<double>(i) + 0.5) / static_cast<double>(out.size());
    return out;
}

std::string words(double x, double y, std::string_view text, std::string_view more = "")
{
    return fmt::format("<text x=\"{:.1f}\" y=\"{:.1f}\" {}>{}</text>\n", x, y, more, escapedHtml(text));
}

// What was located, in two lines where one is too short.
std::string title(const std::string& sentence)
{
    constexpr std::size_t oneLine = 100;
    constexpr std::string_view look = "font-size=\"16\" font-weight=\"bold\" fill=\"#8f1d17\"";
    const auto cut = sentence.size() > oneLine ? sentence.rfind(' ', oneLine) : std::string::npos;
    if (cut == std::string::npos) return words(left, 24, sentence, look);
    return words(left, 22, sentence.substr(0, cut), look) + words(left, 44, sentence.substr(cut + 1), look);
}

// The line through the loaded readings.
template <class Y, class Of>
std::string lineThrough(const std::vector<Place>& places, Y y, Of of, std::string_view look)
{
    std::string points;
    for (const Place& p : places) {
        if (const auto v = of(p)) points += fmt::format("{:.1f},{:.1f} ", p.x, y(*v));
    }
    return fmt::format("<polyline points=\"{}\" fill=\"none\" {}/>\n", points, look);
}

template <class Y>
std::string marks(const std::vector<Place>& places, Y y)
{
    std::string out;
    for (const Place& p : places) {
        if (p.before_V)
            out += fmt::format("<path d=\"M{0:.1f},{1:.1f} l6,-10 l-12,0 z\" fill=\"#8f1d17\"/>\n", p.x,
                               y(*p.before_V) + 5);
        if (p.open_V)
            out += fmt::format(
                "<circle cx=\"{:.1f}\" cy=\"{:.1f}\" r=\"5\" fill=\"#fff\" stroke=\"#1a2126\" stroke-width=\"2\"/>\n",
                p.x, y(*p.open_V));
        if (p.loaded_V)
            out += fmt::format("<circle cx=\"{:.1f}\" cy=\"{:.1f}\" r=\"5\" fill=\"#1a2126\"/>\n", p.x, y(*p.loaded_V));
    }
    return out;
}

}  // namespace

std::string staircaseSvg(const Map& map, const Evidence& evidence, int terminal)
{
    const Walk walk = walkOf(map, evidence, terminal);
    std::optional<Walk> before;
    if (lastRepairOf(evidence) > 0) before = walkOf(map, beforeRepair(evidence), terminal);
    if (before && before->points.size() != walk.points.size()) before.reset();
    const std::vector<Place> places = placesOf(walk, before ? &*before : nullptr);
    if (places.empty()) return "";
    double most = map.systemVoltage_V * 1.1;
    for (const Place& p : places)
        most = std::max({most, p.open_V.value_or(0), p.loaded_V.value_or(0), p.before_V.value_or(0)});
    const auto y = [&](double v) { return bottom - (bottom - top) * v / most; };
    std::string out = fmt::format(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {} {}\" font-family=\"Lato\" "
        "font-size=\"12\" role=\"img\">\n",
        width, height);
    for (double v = 0; v <= most; v += map.systemVoltage_V / 3) {
        out += fmt::format("<line x1=\"{}\" x2=\"{}\" y1=\"{:.1f}\" y2=\"{:.1f}\" stroke=\"#bdb8aa\"/>\n", left, right,
                           y(v), y(v));
        out += words(left - 8, y(v) + 4, fmt::format("{:.0f} V", v), "text-anchor=\"end\" fill=\"#46505a\"");
    }
    std::string previous;
    for (const Place& p : places) {
        if (p.label != previous) out += words(p.x, bottom + 22, p.label, "text-anchor=\"middle\"");
        previous = p.label;
    }
    if (before)
        out += lineThrough(
            places, y, [](const Place& p) { return p.before_V; },
            "stroke=\"#8f1d17\" stroke-width=\"2\" stroke-dasharray=\"7 4\"");
    out += lineThrough(
        places, y, [](const Place& p) { return p.loaded_V; }, "stroke=\"#1a2126\" stroke-width=\"2\"");
    out += marks(places, y);
    if (walk.located || (before && before->located))
        out += title(walk.located ? walk.sentence : "Before the repair: " + before->sentence);
    out += words(left, height - 8,
                 std::string("filled: read loaded; hollow: read open-circuit") +
                     (before ? "; dashed with triangles: loaded, before the repair" : ""),
                 "fill=\"#46505a\"");
    return out + "</svg>";
}

}  // namespace ilvek
