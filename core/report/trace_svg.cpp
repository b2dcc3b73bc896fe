// A recording as a stand-alone drawing: one channel, least and most in columns.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "report/report.h"

namespace ilvek {

namespace {

constexpr double width = 900, height = 240, left = 70, right = 885, top = 15, bottom = 205;

double niceStep(double span)
{
    const double rough = span / 4, power = std::pow(10.0, std::floor(std::log10(rough)));
    for (const double m : {1.0, 2.0, 5.0}) {
        if (m * power >= rough) return m * power;
    }
    return 10 * power;
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
    const double low = std::min(0.0, *std::min_element(t.least.begin(), t.least.end()));
    const double high = std::max(low + 1e-9, *std::max_element(t.most.begin(), t.most.end()));
    const auto y = [&](double v) { return bottom - (v - low) / (1.05 * (high - low)) * (bottom - top); };
    const auto x = [&](double share) { return left + share * (right - left); };
    std::string out = fmt::format(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {} {}\" font-family=\"Lato,sans-serif\" "
        "font-size=\"12\" role=\"img\">\n",
        width, height);
    const double step = niceStep(high - low);
    for (double v = std::ceil(low / step) * step; v <= high; v += step) {
        out += fmt::format("<line x1=\"{}\" x2=\"{}\" y1=\"{:.1f}\" y2=\"{:.1f}\" stroke=\"#bdb8aa\"/>\n", left, right,
                           y(v), y(v));
        out += words(left - 8, y(v) + 4, fmt::format("{:.4g} {}", std::abs(v) < 1e-9 * step ? 0.0 : v, t.unit), "end");
    }
    const double span = t.to_s - t.from_s, tick = niceStep(span);
    for (double s = std::ceil(t.from_s / tick) * tick; s <= t.to_s; s += tick)
        out += words(x((s - t.from_s) / span), bottom + 22, fmt::format("{:.4g} ms", 1e3 * s), "middle");
    // Down one side and up the other.
    std::string outline;
    const double n = static_cast<double>(t.least.size());
    for (std::size_t k = 0; k < t.least.size(); ++k)
        outline += fmt::format("{:.1f},{:.1f} ", x((static_cast<double>(k) + 0.5) / n), y(t.most[k]));
    for (std::size_t k = t.least.size(); k-- > 0;)
        outline += fmt::format("{:.1f},{:.1f} ", x((static_cast<double>(k) + 0.5) / n), y(t.least[k]));
    return out + "<polygon points=\"" + outline +
           "\" fill=\"#1d2a36\" stroke=\"#1d2a36\" stroke-width=\"1\" stroke-linejoin=\"round\"/>\n</svg>\n";
}

}  // namespace ilvek
