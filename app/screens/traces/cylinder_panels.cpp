#include "screens/traces/cylinder_panels.h"

#include <QPainter>
#include <algorithm>

#include "theme.h"
#include "widgets/shapes.h"

namespace ilvek::app {

namespace {

constexpr double gutter = 78;

}  // namespace

CylinderPanels::CylinderPanels(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("cylinderPanels"));
}

void CylinderPanels::show(std::shared_ptr<const TraceView> view)
{
    shapes_.clear();
    setVisible(view && view->study && view->study->cylinders);
    if (!isVisibleTo(parentWidget())) return;
    const Study& s = *view->study;
    const Recording& r = view->recording;
    const Samples& samples = r.channels[static_cast<std::size_t>(s.main)].samples;
    double longest = 0;
    for (const Pulse& p : s.pulses.pulses)
        longest = std::max(longest, p.off_s - p.on_s);
    const auto before = static_cast<std::size_t>(0.1 * longest / r.interval_s),
               length = static_cast<std::size_t>(1.35 * longest / r.interval_s);
    for (const Turn& turn : s.cylinders->turns) {
        auto at =
            std::find_if(shapes_.begin(), shapes_.end(), [&](const Shape& x) { return x.cylinder == turn.cylinder; });
        if (at == shapes_.end()) at = shapes_.insert(shapes_.end(), {turn.cylinder, {}, {}, false});
        const double on = turn.pulse ? s.pulses.pulses[*turn.pulse].on_s : turn.expected_s;
        const auto first = static_cast<std::size_t>(std::max(0.0, on / r.interval_s - static_cast<double>(before)));
        if (first + length >= samples.size()) continue;
        auto pulse = samples.read(first, length);
        for (double& v : pulse)
            v -= s.pulses.zero_A;
        at->pulses.push_back(std::move(pulse));
    }
    std::sort(shapes_.begin(), shapes_.end(), [](const Shape& a, const Shape& b) { return a.cylinder < b.cylinder; });
    QStringList all;
    for (Shape& shape : shapes_) {
        QStringList words;
        for (const TraceFinding& f : s.cylinders->findings) {
            if (f.cylinder == shape.cylinder && !f.words.empty()) words << QString::fromStdString(f.words);
        }
        shape.odd = !words.isEmpty();
        shape.words = words.isEmpty() ? tr("alike") : words.front().section(QLatin1Char(':'), 0, 0);
        all << tr("cylinder %1: %2").arg(shape.cylinder).arg(shape.words);
    }
    setAccessibleName(all.join(QStringLiteral("; ")));
    update();
}

void CylinderPanels::paintEvent(QPaintEvent*)
{
    if (shapes_.empty()) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), Theme::current().paper);
    double most = 1e-9;
    for (const Shape& s : shapes_) {
        for (const auto& pulse : s.pulses)
            most = std::max(most, *std::max_element(pulse.begin(), pulse.end()));
    }
    const double w = (width() - gutter - 10) / static_cast<double>(shapes_.size());
    for (std::size_t i = 0; i < shapes_.size(); ++i)
        draw(p, QRectF(gutter + static_cast<double>(i) * w, 2, w - 8, height() - 6), shapes_[i], most);
    p.setFont(face(13));
    p.setPen(Theme::current().dim);
    p.drawText(QRectF(4, 2, gutter - 10, 70), Qt::AlignRight | Qt::TextWordWrap,
               tr("side by side, over the band of the others"));
}

void CylinderPanels::draw(QPainter& p, const QRectF& box, const Shape& shape, double most)
{
    const Theme& t = Theme::current();
    drawCard(p, box);
    const QRectF area = box.adjusted(6, 40, -6, -6);
    const auto y = [&](double v) { return area.bottom() - std::clamp(v / (1.1 * most), -0.05, 1.0) * area.height(); };
    // Least and most of the others at each moment, and the deviation from their middle below.
    std::size_t length = 0;
    for (const Shape& s : shapes_) {
        for (const auto& pulse : s.pulses)
            length = std::max(length, pulse.size());
    }
    const auto x = [&](std::size_t i) {
        return area.left() +
               area.width() * static_cast<double>(i) / static_cast<double>(std::max<std::size_t>(1, length));
    };
    QPolygonF upper, lower;
    const std::size_t stride =
        std::max<std::size_t>(1, length / static_cast<std::size_t>(std::max(20.0, area.width())));
    for (std::size_t i = 0; i < length; i += stride) {
        double low = 1e300, high = -1e300;
        for (const Shape& s : shapes_) {
            if (s.cylinder == shape.cylinder || s.odd) continue;
            for (const auto& pulse : s.pulses)
                low = std::min(low, pulse[i]), high = std::max(high, pulse[i]);
        }
        if (low > high) continue;
        upper << QPointF(x(i), y(high));
        lower.prepend(QPointF(x(i), y(low)));
    }
    upper += lower;
    p.setPen(Qt::NoPen);
    p.setBrush(t.band);
    p.drawPolygon(upper);
    for (const auto& pulse : shape.pulses) {
        QPolygonF line;
        for (std::size_t i = 0; i < pulse.size(); i += stride)
            line << QPointF(x(i), y(pulse[i]));
        p.setPen(QPen(shape.odd ? t.bad : t.ink, 1.4));
        p.drawPolyline(line);
    }
    drawMark(p, QRectF(box.left() + 8, box.top() + 7, 16, 16), shape.odd ? Mark::Triangle : Mark::Dot);
    p.setPen(t.ink);
    p.setFont(face(18, QFont::Bold));
    p.drawText(QRectF(box.left() + 30, box.top() + 3, 24, 24), Qt::AlignLeft | Qt::AlignVCenter,
               QString::number(shape.cylinder));
    p.setFont(face(14, shape.odd ? QFont::Bold : QFont::Normal));
    p.drawText(QRectF(box.left() + 50, box.top() + 6, box.width() - 56, 56), Qt::AlignLeft | Qt::TextWordWrap,
               shape.words);
}

}  // namespace ilvek::app
