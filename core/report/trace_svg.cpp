// A recording as a stand-alone drawing: one channel, least and most in columns.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "report/report.h"
#include "trace/signal/axis.h"

namespace ilvek {

namespace {

constexpr double parts = 4;  // of an axis
constexpr double width = 900, height = 240, left = 70, right = 885, top = 15, bottom = 205;

bool isGap(const TraceSeen& t, std::size_t column)
{
    return !std::isfinite(t.least[column]) || !std::isfinite(t.most[column]);
}

std::string words(double x, double y, const std::string& text, const char* anchor)
{
    return fmt::format("<text x=\"{:.1f}\" y=\"{:.1f}\" text-anchor=\"{}\" fill=\"#46505a\">{}</text>\n", x, y, anchor,
                       escapedHtml(text));
}

}  // namespace

std::string traceSvg(const TraceSeen& t)
{
    if (t.least.empty() || t.least.size() != t.most.size() || !(t.to_s > t.from_s)) return "";
    double low = 0, high = -HUGE_VAL;
    for (std::size_t k = 0; k < t.least.size(); ++k) {
        if (isGap(t, k)) continue;
        low = std::min({low, t.least[k], t.most[k]});
        high = std::max({high, t.least[k], t.most[k]});
    }
    high = std::max(high, low + 1e-9 * std::max(1.0, std::abs(low)));
    if (!std::isfinite(high - low)) return "";
    const auto y = [&](double v) { return bottom - (v - low) / (1.05 * (high - low)) * (bottom - top); };
    const auto x = [&](double share) { return left + share * (right - left); };
    std::string out = fmt::format(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {} {}\" font-family=\"Lato,sans-serif\" "
        "font-size=\"12\" role=\"img\">\n",
        width, height);
    for (const double v : ticks(low, high, niceStep(high - low, parts))) {
        out += fmt::format("<line x1=\"{}\" x2=\"{}\" y1=\"{:.1f}\" y2=\"{:.1f}\" stroke=\"#bdb8aa\"/>\n", left, right,
                           y(v), y(v));
        out += words(left - 8, y(v) + 4, fmt::format("{:.4g} {}", std::abs(v) < 1e-9 * (high - low) ? 0.0 : v, t.unit),
                     "end");
    }
    const double span = t.to_s - t.from_s;
    for (const double s : ticks(t.from_s, t.to_s, niceStep(span, parts)))
        out += words(x((s - t.from_s) / span), bottom + 22, fmt::format("{:.4g} ms", 1e3 * s), "middle");
    // Stretch by stretch between gaps, down one side and up the other.
    const double n = static_cast<double>(t.least.size());
    const auto corner = [&](std::size_t k, double v) {
        return fmt::format("{:.1f},{:.1f} ", x((static_cast<double>(k) + 0.5) / n), y(v));
    };
    for (std::size_t first = 0; first < t.least.size();) {
        if (isGap(t, first)) {
            ++first;
            continue;
        }
        std::size_t last = first;
        while (last < t.least.size() && !isGap(t, last))
            ++last;
        std::string outline;
        for (std::size_t k = first; k < last; ++k)
            outline += corner(k, t.most[k]);
        for (std::size_t k = last; k-- > first;)
            outline += corner(k, t.least[k]);
        out += "<polygon points=\"" + outline +
               "\" fill=\"#1d2a36\" stroke=\"#1d2a36\" stroke-width=\"1\" stroke-linejoin=\"round\"/>\n";
        first = last;
    }
    return out + "</svg>\n";
}

}  // namespace ilvek
