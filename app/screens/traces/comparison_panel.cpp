#include "screens/traces/comparison_panel.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "theme.h"
#include "widgets/shapes.h"

namespace ilvek::app {

namespace {

constexpr double gutter = 78, stripHeight = 76, headHeight = 26;
constexpr double mostShown = 3;  // tolerances; what lies further off stands at the edge

}  // namespace

ComparisonPanel::ComparisonPanel(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("comparisonPanel"));
}

const Compared* ComparisonPanel::compared() const
{
    if (!view_ || !view_->study) return nullptr;
    for (const Compared& c : view_->study->compared) {
        if (!c.result.current_A.empty()) return &c;
    }
    return nullptr;
}

void ComparisonPanel::show(std::shared_ptr<const TraceView> view)
{
    view_ = std::move(view);
    const Compared* c = compared();
    setVisible(c && !view_->study->cylinders);
    if (c)
        setAccessibleName(
            tr("Against %1: %2")
                .arg(QString::fromStdString(c->reference.name), QString::fromStdString(c->result.verdict)));
    update();
}

double ComparisonPanel::shareOf(std::size_t sample) const
{
    return static_cast<double>(sample) /
           static_cast<double>(std::max<std::size_t>(1, compared()->reference.current_A.size() - 1));
}

void ComparisonPanel::paintEvent(QPaintEvent*)
{
    const Compared* c = compared();
    if (!c) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = Theme::current();
    p.fillRect(rect(), t.paper);
    p.setFont(face(14, QFont::DemiBold));
    p.setPen(t.ink);
    const QString title =
        tr("Mean pulse over %1, %2")
            .arg(QString::fromStdString(c->reference.name), QString::fromStdString(c->reference.source));
    p.drawText(QRectF(gutter, 0, width() - gutter - 10, headHeight - 4), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(title, Qt::ElideRight, width() - static_cast<int>(gutter) - 10));
    const QRectF all(gutter, headHeight, width() - gutter - 10, height() - headHeight - 4);
    drawCurrents(p, all.adjusted(0, 0, 0, -stripHeight - 8));
    drawDeviation(p, QRectF(all.left(), all.bottom() - stripHeight, all.width(), stripHeight));
}

void ComparisonPanel::drawCurrents(QPainter& p, const QRectF& area)
{
    const Theme& t = Theme::current();
    const Compared& c = *compared();
    const auto& w = c.reference;
    p.setPen(Qt::NoPen);
    p.setBrush(t.panel);
    p.drawRoundedRect(area, 4, 4);
    double most = 1e-9;
    for (std::size_t k = 0; k < w.current_A.size(); ++k)
        most = std::max(most, w.current_A[k] + w.tolerance_A[k]);
    for (const double i : c.result.current_A)
        most = std::max(most, i);
    const auto y = [&](double i) { return area.bottom() - std::max(0.0, i) / (1.08 * most) * area.height(); };
    const auto x = [&](std::size_t k) { return area.left() + shareOf(k) * area.width(); };
    QPolygonF band, line;
    for (std::size_t k = 0; k < w.current_A.size(); ++k)
        band << QPointF(x(k), y(w.current_A[k] + w.tolerance_A[k]));
    for (std::size_t k = w.current_A.size(); k-- > 0;)
        band << QPointF(x(k), y(w.current_A[k] - w.tolerance_A[k]));
    p.setBrush(t.band);
    p.drawPolygon(band);
    for (std::size_t k = 0; k < c.result.current_A.size(); ++k)
        line << QPointF(x(k), y(c.result.current_A[k]));
    p.setPen(QPen(t.ink, 1.8));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(line);
    p.setFont(face(13));
    p.setPen(t.dim);
    const QString top = QString::fromStdString(formatQuantity(amperes(most)));
    p.drawText(QRectF(0, area.top(), gutter - 6, 18), Qt::AlignRight | Qt::AlignVCenter, top);
    p.drawText(QRectF(0, area.bottom() - 16, gutter - 6, 18), Qt::AlignRight | Qt::AlignVCenter, tr("0 A"));
    p.drawText(area.adjusted(8, 4, -8, -4), Qt::AlignRight | Qt::AlignBottom,
               std::abs(c.result.supplyRatio - 1) < 0.02
                   ? tr("at %1").arg(QString::fromStdString(formatQuantity(volts(w.supply_V))))
                   : tr("brought to %1").arg(QString::fromStdString(formatQuantity(volts(w.supply_V)))));
}

// Outside ±1 the fill is hatched: it must not need a colour.
void ComparisonPanel::drawDeviation(QPainter& p, const QRectF& area)
{
    const Theme& t = Theme::current();
    const auto& deviation = compared()->result.deviation;
    p.setPen(Qt::NoPen);
    p.setBrush(t.panel);
    p.drawRoundedRect(area, 4, 4);
    const auto y = [&](double d) {
        return area.center().y() - std::clamp(d, -mostShown, mostShown) / mostShown * 0.48 * area.height();
    };
    const auto x = [&](std::size_t k) { return area.left() + shareOf(k) * area.width(); };
    p.fillRect(QRectF(QPointF(area.left(), y(1)), QPointF(area.right(), y(-1))), t.band);
    const std::size_t stride =
        std::max<std::size_t>(1, deviation.size() / static_cast<std::size_t>(std::max(40.0, area.width() / 2)));
    const double bar = std::max(1.0, area.width() * shareOf(stride));
    for (std::size_t k = 0; k < deviation.size(); k += stride) {
        double d = 0;
        for (std::size_t j = k; j < std::min(deviation.size(), k + stride); ++j)
            d = std::abs(deviation[j]) > std::abs(d) ? deviation[j] : d;
        const QRectF column(QPointF(x(k), y(std::max(0.0, d))), QPointF(x(k) + bar, y(std::min(0.0, d))));
        const bool out = std::abs(d) > 1;
        p.fillRect(column, out ? t.bad : t.dim);
        if (out) p.fillRect(column, QBrush(t.panel, Qt::BDiagPattern));
    }
    p.setPen(QPen(t.ink, 1));
    p.drawLine(QPointF(area.left(), y(0)), QPointF(area.right(), y(0)));
    p.setFont(face(13));
    p.setPen(t.dim);
    // The edges of tolerance, and how far the strip reaches.
    for (const double d : {mostShown, 1.0, -1.0, -mostShown}) {
        const double at = std::clamp(y(d), area.top() + 7, area.bottom() - 7);
        p.drawText(QRectF(gutter - 40, at - 9, 34, 18), Qt::AlignRight | Qt::AlignVCenter,
                   QStringLiteral("%1%2").arg(d > 0 ? QStringLiteral("+") : QStringLiteral("−")).arg(std::abs(d)));
    }
    p.drawText(QRectF(0, area.center().y() - 18, gutter - 34, 36), Qt::AlignLeft | Qt::AlignVCenter,
               tr("toler-\nances"));
}

}  // namespace ilvek::app
