// The potential staircase as a stand-alone drawing: readings along the loop, the step named.
#include <fmt/format.h>
#include <algorithm>

#include "proving/walk.h"
#include "report/report.h"

namespace ilvek {

namespace {

constexpr double width = 900, height = 330, left = 50, right = 880, top = 60, bottom = 280;

struct Drawn {
    std::string label;
    double x = 0;
    std::optional<double> open_V, loaded_V;
};

std::vector<Drawn> drawnPoints(const Walk& walk)
{
    std::vector<Drawn> points;
    for (const WalkPoint& p : walk.points) {
        if (p.reachable || p.loaded_V || p.open_V) points.push_back({p.label, 0, p.open_V, p.loaded_V});
    }
    for (std::size_t i = 0; i < points.size(); ++i)
        points[i].x = left + (right - left) * (static_cast<double>(i) + 0.5) / static_cast<double>(points.size());
    return points;
}

std::string words(double x, double y, std::string_view text, std::string_view more = "")
{
    return fmt::format("<text x=\"{:.1f}\" y=\"{:.1f}\" {}>{}</text>\n", x, y, more, escapedHtml(text));
}

}  // namespace

std::string staircaseSvg(const Map& map, const Evidence& evidence, int terminal)
{
    const Walk walk = walkOf(map, evidence, terminal);
    const std::vector<Drawn> points = drawnPoints(walk);
    if (points.empty()) return "";
    double most = map.systemVoltage_V * 1.1;
    for (const Drawn& d : points)
        most = std::max({most, d.open_V.value_or(0), d.loaded_V.value_or(0)});
    const auto y = [&](double v) { return bottom - (bottom - top) * v / most; };
    std::string out = fmt::format(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {} {}\" font-family=\"Lato,sans-serif\" "
        "font-size=\"12\" role=\"img\">\n",
        width, height);
    for (double v = 0; v <= most; v += map.systemVoltage_V / 3) {
        out += fmt::format("<line x1=\"{}\" x2=\"{}\" y1=\"{:.1f}\" y2=\"{:.1f}\" stroke=\"#bdb8aa\"/>\n", left, right,
                           y(v), y(v));
        out += words(left - 8, y(v) + 4, fmt::format("{:.0f} V", v), "text-anchor=\"end\" fill=\"#46505a\"");
    }
    std::string line, previous;
    for (const Drawn& d : points) {
        if (d.label != previous) out += words(d.x, bottom + 22, d.label, "text-anchor=\"middle\"");
        previous = d.label;
        if (d.loaded_V) line += fmt::format("{:.1f},{:.1f} ", d.x, y(*d.loaded_V));
    }
    out += fmt::format("<polyline points=\"{}\" fill=\"none\" stroke=\"#1a2126\" stroke-width=\"2\"/>\n", line);
    for (const Drawn& d : points) {
        if (d.open_V)
            out += fmt::format(
                "<circle cx=\"{:.1f}\" cy=\"{:.1f}\" r=\"5\" fill=\"#fff\" stroke=\"#1a2126\" stroke-width=\"2\"/>\n",
                d.x, y(*d.open_V));
        if (d.loaded_V)
            out += fmt::format("<circle cx=\"{:.1f}\" cy=\"{:.1f}\" r=\"5\" fill=\"#1a2126\"/>\n", d.x, y(*d.loaded_V));
    }
    if (walk.located) out += words(left, 24, walk.sentence, "font-size=\"16\" font-weight=\"bold\" fill=\"#8f1d17\"");
    out += words(left, height - 8, "filled: read loaded; hollow: read open-circuit", "fill=\"#46505a\"");
    return out + "</svg>";
}

}  // namespace ilvek
