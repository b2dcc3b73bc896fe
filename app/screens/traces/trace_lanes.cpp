#include "screens/traces/trace_lanes.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>
#include <cmath>

#include "theme.h"
#include "trace/signal/axis.h"
#include "widgets/shapes.h"

namespace ilvek::app {

namespace {

constexpr double gutter = 78, timesHeight = 26, laneGap = 20, headHeight = 22;
constexpr double grabs_px = 8;
constexpr int mostPinnedPulses = 3;
const char* const pinned[] = {"lift", "peak", "end current", "turn-off"};

bool isPair(const TraceView& view, std::size_t channel)
{
    const int c = static_cast<int>(channel);
    return view.study && view.study->kind == Recorded::BusPair && (c == view.study->main || c == view.study->beside);
}

// Room above and below what a lane shows. The lines of a pair share one scale: a line that hardly moves must look so.
std::pair<double, double> rangeOf(const TraceView& view, std::size_t channel)
{
    Extent e = view.pyramids[channel].extent(0, view.recording.size());
    for (std::size_t c = 0; isPair(view, channel) && c < view.pyramids.size(); ++c) {
        if (!isPair(view, c)) continue;
        const Extent other = view.pyramids[c].extent(0, view.recording.size());
        e.low = std::min(e.low, other.low), e.high = std::max(e.high, other.high);
    }
    const double margin = 0.12 * std::max(1e-9, e.high - e.low);
    return {e.low - margin, e.high + margin};
}

// On an axis: no more digits than its steps need.
QString axisFigure(double value, Unit unit)
{
    const double size = std::abs(value);
    const double scale = size == 0 || size >= 1 ? 1 : size >= 1e-3 ? 1e-3 : 1e-6;
    const char* prefix = scale == 1 ? "" : scale == 1e-3 ? "m" : "µ";
    return QStringLiteral("%1 %2%3")
        .arg(value / scale, 0, 'g', 5)
        .arg(QString::fromUtf8(prefix), QString::fromUtf8(unitSymbol(unit).data()));
}

QString figure(double value, Unit unit)
{
    return QString::fromStdString(formatQuantity({value, unit}));
}

}  // namespace

TraceLanes::TraceLanes(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("traceLanes"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
}

void TraceLanes::show(std::shared_ptr<const TraceView> view)
{
    const bool other = !view_ || !view || view->recording.name != view_->recording.name ||
                       view->recording.size() != view_->recording.size();
    view_ = std::move(view);
    if (other) {
        markers_[0].reset();
        markers_[1].reset();
        if (view_) look(0, view_->recording.length_s());
    }
    setAccessibleName(
        view_ ? tr("Recording %1, %n channel(s)", nullptr, static_cast<int>(view_->recording.channels.size()))
                    .arg(QString::fromStdString(view_->recording.name))
              : tr("No recording"));
    update();
    emit markersMoved();
}

void TraceLanes::look(double from_s, double to_s)
{
    if (!view_) return;
    const double all = view_->recording.length_s();
    const double span = std::clamp(to_s - from_s, 8 * view_->recording.interval_s, all);
    from_s_ = std::clamp(from_s, 0.0, all - span);
    to_s_ = from_s_ + span;
    update();
}

void TraceLanes::zoom(double factor, double about_s)
{
    look(about_s - (about_s - from_s_) * factor, about_s + (to_s_ - about_s) * factor);
}

void TraceLanes::placeMarker(int which, double at_s)
{
    markers_[which] = at_s;
    update();
    emit markersMoved();
}

QString TraceLanes::markerWords() const
{
    if (!view_ || !markers_[0] || !markers_[1])
        return tr("Click into the lanes: marker A, with Shift marker B. The wheel zooms, dragging moves.");
    const double dt = *markers_[1] - *markers_[0];
    QString words = tr("A to B %1").arg(figure(dt, Unit::Second));
    if (dt != 0) words += tr(" (%1)").arg(figure(1 / std::abs(dt), Unit::Hertz));
    for (const Channel& c : view_->recording.channels) {
        const auto at = [&](int m) {
            const double i =
                std::clamp(*markers_[m] / view_->recording.interval_s, 0.0, static_cast<double>(c.samples.size() - 1));
            return c.samples.at(static_cast<std::size_t>(i));
        };
        words +=
            tr("   %1 %2, %3").arg(QString::fromStdString(c.name), figure(at(0), c.unit()), figure(at(1), c.unit()));
    }
    return words;
}

bool TraceLanes::key(int key)
{
    if (!view_) return false;
    const double middle = 0.5 * (from_s_ + to_s_), span = to_s_ - from_s_;
    switch (key) {
        case Qt::Key_Plus:
            return zoom(0.5, middle), true;
        case Qt::Key_Minus:
            return zoom(2, middle), true;
        case Qt::Key_Left:
            return look(from_s_ - 0.2 * span, to_s_ - 0.2 * span), true;
        case Qt::Key_Right:
            return look(from_s_ + 0.2 * span, to_s_ + 0.2 * span), true;
        case Qt::Key_Home:
            return look(0, view_->recording.length_s()), true;
        case Qt::Key_BracketLeft:
            return placeMarker(0, middle - 0.1 * span), true;
        case Qt::Key_BracketRight:
            return placeMarker(1, middle + 0.1 * span), true;
        default:
            return false;
    }
}

QRectF TraceLanes::plot() const
{
    return QRectF(gutter, headHeight, width() - gutter - 10, height() - headHeight - timesHeight);
}

double TraceLanes::timeAt(double x) const
{
    return from_s_ + (x - plot().left()) / plot().width() * (to_s_ - from_s_);
}

double TraceLanes::xAt(double t_s) const
{
    return plot().left() + (t_s - from_s_) / (to_s_ - from_s_) * plot().width();
}

void TraceLanes::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = Theme::current();
    p.fillRect(rect(), t.paper);
    if (!view_) {
        p.setFont(face(18));
        p.setPen(t.dim);
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
                   tr("No recording is open.\nO opens one: CSV, WAV, MATLAB level 5 or NumPy."));
        return;
    }
    const auto& channels = view_->recording.channels;
    // The current gets twice the room of the others.
    double shares = 0;
    const auto shareOf = [&](std::size_t c) {
        return isPair(*view_, c) || (view_->study && view_->study->main == static_cast<int>(c)) ? 2.0 : 1.0;
    };
    for (std::size_t c = 0; c < channels.size(); ++c)
        shares += shareOf(c);
    const QRectF area = plot();
    double top = area.top();
    for (std::size_t c = 0; c < channels.size(); ++c) {
        const double h = area.height() * shareOf(c) / shares;
        drawLane(p, QRectF(area.left(), top, area.width(), h - laneGap), c);
        top += h;
    }
    drawTimes(p);
    drawMarkers(p);
}

void TraceLanes::drawLane(QPainter& p, const QRectF& lane, std::size_t channel)
{
    const Theme& t = Theme::current();
    const Channel& c = view_->recording.channels[channel];
    const auto [low, high] = rangeOf(*view_, channel);
    p.setPen(Qt::NoPen);
    p.setBrush(t.panel);
    p.drawRoundedRect(lane, 4, 4);
    const auto y = [&, l = low, h = high](double v) { return lane.bottom() - (v - l) / (h - l) * lane.height(); };
    p.setFont(face(13));
    const double step = niceStep(high - low, std::max(2.0, lane.height() / 26));
    for (const double v : ticks(low, high, step)) {
        const double at = std::abs(v) < 1e-9 * step ? 0 : v;
        p.setPen(QPen(t.line, at == 0 ? 1.4 : 0.7));
        p.drawLine(QPointF(lane.left(), y(at)), QPointF(lane.right(), y(at)));
        if (y(at) < lane.top() + 4 || y(at) > lane.bottom() - 6) continue;
        p.setPen(t.dim);
        p.drawText(QRectF(0, y(at) - 9, gutter - 6, 18), Qt::AlignRight | Qt::AlignVCenter, axisFigure(at, c.unit()));
    }
    p.save();
    p.setClipRect(lane);
    if (view_->study && view_->study->main == static_cast<int>(channel)) drawExpected(p, lane, low, high);
    drawCurve(p, lane, channel, low, high);
    drawGaps(p, lane, channel);
    p.restore();
    if (view_->study && view_->study->main == static_cast<int>(channel)) {
        drawPulses(p, lane, low, high);
        drawEvents(p, lane);
    }
    p.setFont(face(14, QFont::DemiBold));
    p.setPen(t.ink);
    const QString name = QString::fromStdString(c.name);
    // A long name runs on above its lane; above the first one stand the cylinders.
    const bool fits = QFontMetrics(p.font()).horizontalAdvance(name) <= gutter - 8;
    const double room = fits || channel == 0 ? gutter - 8 : gutter + 220;
    const int side = fits ? Qt::AlignRight : Qt::AlignLeft;
    p.drawText(QRectF(2, lane.top() - 19, room, 18), side | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(name, Qt::ElideRight, static_cast<int>(room)));
}

void TraceLanes::drawCurve(QPainter& p, const QRectF& lane, std::size_t channel, double low, double high)
{
    const Recording& r = view_->recording;
    const Samples& samples = r.channels[channel].samples;
    const auto y = [&](double v) { return lane.bottom() - (v - low) / (high - low) * lane.height(); };
    const double first = from_s_ / r.interval_s,
                 last = std::min(static_cast<double>(samples.size()), to_s_ / r.interval_s);
    p.setPen(QPen(Theme::current().ink, 1.3));
    const auto columns = static_cast<std::size_t>(std::max(1.0, lane.width()));
    if (last - first > 2 * static_cast<double>(columns)) {
        const auto extents = view_->pyramids[channel].columns(first, last, columns);
        QVector<QLineF> lines;
        lines.reserve(static_cast<int>(2 * columns));
        for (std::size_t c = 0; c < extents.size(); ++c) {
            const double x = lane.left() + static_cast<double>(c) + 0.5;
            lines << QLineF(x, y(extents[c].low), x, y(extents[c].high) - 0.8);
            if (c > 0 && extents[c].low > extents[c - 1].high)
                lines << QLineF(x - 1, y(extents[c - 1].high), x, y(extents[c].low));
            if (c > 0 && extents[c].high < extents[c - 1].low)
                lines << QLineF(x - 1, y(extents[c - 1].low), x, y(extents[c].high));
        }
        p.setRenderHint(QPainter::Antialiasing, false);
        p.drawLines(lines);
        p.setRenderHint(QPainter::Antialiasing, true);
        return;
    }
    QPolygonF line;
    for (auto i = static_cast<std::size_t>(std::max(0.0, first - 1));
         i < std::min(samples.size(), static_cast<std::size_t>(last + 2)); ++i)
        line << QPointF(xAt(static_cast<double>(i) * r.interval_s), y(samples.at(i)));
    // Smoothing a dense line costs more than it shows.
    p.setRenderHint(QPainter::Antialiasing, line.size() < 400);
    p.drawPolyline(line);
    p.setRenderHint(QPainter::Antialiasing, true);
}

// Where nothing was recorded the curve is hatched over, and a dash stands on top.
void TraceLanes::drawGaps(QPainter& p, const QRectF& lane, std::size_t channel)
{
    const Theme& t = Theme::current();
    const double interval = view_->recording.interval_s;
    double drawn = lane.left() - 1;  // many gaps share a pixel
    for (const Gap& gap : view_->recording.channels[channel].gaps) {
        const double from = std::max(xAt((static_cast<double>(gap.first) - 0.5) * interval), lane.left());
        const double to =
            std::min(std::max(xAt((static_cast<double>(gap.last) - 0.5) * interval), from + 2), lane.right());
        if (to < std::max(from, drawn + 1)) continue;
        const QRectF place(from, lane.top(), to - from, lane.height());
        p.fillRect(place, t.panel);
        p.fillRect(place, QBrush(t.warn, Qt::BDiagPattern));
        p.fillRect(QRectF(from, lane.top(), to - from, 4), t.warn);
        if (place.width() > 110) {
            p.setFont(face(13));
            p.setPen(t.ink);
            p.drawText(place, Qt::AlignCenter, tr("not recorded"));
        }
        drawn = to;
    }
}

// Which cylinder each pulse is, where one is missing, and what was measured of it once it is looked at closely.
void TraceLanes::drawPulses(QPainter& p, const QRectF& lane, double low, double high)
{
    const Theme& t = Theme::current();
    const Study& s = *view_->study;
    const auto y = [&](double v) { return lane.bottom() - (v - low) / (high - low) * lane.height(); };
    const auto number = [&](double x, const QString& words, bool odd) {
        p.setFont(face(15, QFont::Bold));
        const double w = QFontMetrics(p.font()).horizontalAdvance(words) + 12;
        const QRectF tag(std::clamp(x - w / 2, lane.left(), lane.right() - w), 1, w, 20);
        p.setPen(QPen(odd ? t.bad : t.line, odd ? 2 : 1));
        p.setBrush(t.panel);
        p.drawRoundedRect(tag, 4, 4);
        p.setPen(t.ink);
        p.drawText(tag, Qt::AlignCenter, words);
    };
    if (s.cylinders) {
        const double length =
            s.pulses.pulses.empty() ? 0 : s.pulses.pulses.front().off_s - s.pulses.pulses.front().on_s;
        for (const Turn& turn : s.cylinders->turns) {
            const double on = turn.pulse ? s.pulses.pulses[*turn.pulse].on_s : turn.expected_s;
            const double x = xAt(on + 0.5 * length);
            if (x < lane.left() || x > lane.right()) continue;
            number(x, turn.pulse ? QString::number(turn.cylinder) : tr("%1 missing").arg(turn.cylinder), !turn.pulse);
            if (turn.pulse) continue;
            p.setPen(QPen(t.bad, 2, Qt::DashLine));
            p.setBrush(Qt::NoBrush);
            p.drawRect(QRectF(QPointF(xAt(on), lane.top() + 0.3 * lane.height()), QPointF(xAt(on + length), y(0))));
        }
    }
    int seen = 0;
    for (const Pulse& pulse : s.pulses.pulses)
        seen += pulse.off_s > from_s_ && pulse.on_s < to_s_ ? 1 : 0;
    if (seen > mostPinnedPulses) return;
    p.setFont(face(13, QFont::DemiBold));
    for (const Pulse& pulse : s.pulses.pulses) {
        int row = 0;
        for (const char* id : pinned) {
            const TraceMeasure* m = pulse.find(id);
            if (!m || !m->value || std::isnan(m->at_s) || m->at_s < from_s_ || m->at_s > to_s_) continue;
            const double x = xAt(m->at_s);
            const auto i = static_cast<std::size_t>(m->at_s / view_->recording.interval_s);
            const double at = y(view_->recording.channels[static_cast<std::size_t>(s.main)].samples.at(
                std::min(i, view_->recording.size() - 1)));
            const QString words = tr("%1 %2").arg(QString::fromLatin1(id), figure(*m->value, m->unit));
            const double w = QFontMetrics(p.font()).horizontalAdvance(words) + 10;
            const double flag = lane.bottom() - 28 - 22 * (row++ % 4);
            p.setPen(QPen(t.accent, 1.4));
            p.drawLine(QPointF(x, at), QPointF(x, flag));
            p.setBrush(t.accent);
            p.drawEllipse(QPointF(x, at), 3.5, 3.5);
            p.setBrush(t.panel);
            const QRectF tag(std::min(x - 4, lane.right() - w), flag, w, 19);
            p.drawRoundedRect(tag, 3, 3);
            p.setPen(t.ink);
            p.drawText(tag, Qt::AlignCenter, words);
        }
    }
}

// The band that the pulses should lie in, behind the curve, brought to the recording's supply.
void TraceLanes::drawExpected(QPainter& p, const QRectF& lane, double low, double high)
{
    const Study& s = *view_->study;
    const auto at = std::find_if(s.compared.begin(), s.compared.end(),
                                 [](const Compared& c) { return !c.reference.current_A.empty(); });
    if (at == s.compared.end()) return;
    const WindingReference& w = at->reference;
    const double ratio = at->result.supplyRatio, zero = s.pulses.zero_A;
    const auto y = [&](double v) { return lane.bottom() - (v - low) / (high - low) * lane.height(); };
    p.setPen(Qt::NoPen);
    p.setBrush(Theme::current().band);
    for (const Pulse& pulse : s.pulses.pulses) {
        if (pulse.off_s < from_s_ || pulse.on_s > to_s_) continue;
        QPolygonF band;
        const std::size_t stride = std::max<std::size_t>(1, w.current_A.size() / 120);
        const auto point = [&](std::size_t k, double side) {
            const double t = pulse.on_s - w.before_s + w.interval_s * static_cast<double>(k);
            band << QPointF(xAt(t), y(zero + ratio * (w.current_A[k] + side * w.tolerance_A[k])));
        };
        for (std::size_t k = 0; k < w.current_A.size(); k += stride)
            point(k, 1);
        for (std::size_t k = (w.current_A.size() - 1) / stride * stride + stride; k >= stride; k -= stride)
            point(k - stride, -1);
        p.drawPolygon(band);
    }
}

// Where something differs from the rest: a flag at the top, with its words where there is room.
void TraceLanes::drawEvents(QPainter& p, const QRectF& lane)
{
    const Theme& t = Theme::current();
    const Study& s = *view_->study;
    if (s.cylinders) return;  // they are drawn with the pulses
    p.setFont(face(13, QFont::DemiBold));
    double free = lane.left();
    QString said;
    for (const TraceEvent& e : s.told.events) {
        const double a = xAt(e.at_s), b = std::max(a + 2, xAt(e.at_s + e.length_s));
        if (b < lane.left() || a > lane.right()) continue;
        const double left = std::max(lane.left(), a), right = std::min(lane.right(), b);
        p.fillRect(QRectF(left, lane.top(), right - left, 5), t.bad);
        p.setPen(QPen(t.bad, 1, Qt::DotLine));
        p.drawLine(QPointF(left, lane.top()), QPointF(left, lane.bottom()));
        const QString words = QString::fromStdString(e.words);
        const double w = QFontMetrics(p.font()).horizontalAdvance(words) + 10;
        if (words == said || left < free || left + w > lane.right() + 4) continue;
        said = words;
        const QRectF tag(left, lane.top() + 8, w, 19);
        p.setPen(QPen(t.bad, 1));
        p.setBrush(t.panel);
        p.drawRoundedRect(tag, 3, 3);
        p.setPen(t.ink);
        p.drawText(tag, Qt::AlignCenter, words);
        free = left + w + 8;
    }
}

void TraceLanes::drawTimes(QPainter& p)
{
    const Theme& t = Theme::current();
    const QRectF area = plot();
    const double step = niceStep(to_s_ - from_s_, std::max(2.0, area.width() / 110));
    p.setFont(face(13));
    for (const double s : ticks(from_s_, to_s_, step)) {
        p.setPen(QPen(t.line, 0.7));
        p.drawLine(QPointF(xAt(s), area.top()), QPointF(xAt(s), area.bottom()));
        p.setPen(t.dim);
        const QString words = axisFigure(std::abs(s) < 1e-9 * step ? 0 : s, Unit::Second);
        const double w = QFontMetrics(p.font()).horizontalAdvance(words) + 4;
        p.drawText(QRectF(std::min(xAt(s) - w / 2, width() - w), area.bottom() + 2, w, 20), Qt::AlignCenter, words);
    }
}

void TraceLanes::drawMarkers(QPainter& p)
{
    const Theme& t = Theme::current();
    for (int m = 0; m < 2; ++m) {
        if (!markers_[m] || *markers_[m] < from_s_ || *markers_[m] > to_s_) continue;
        const double x = xAt(*markers_[m]);
        p.setPen(QPen(t.accent, 2, m == 0 ? Qt::SolidLine : Qt::DashLine));
        p.drawLine(QPointF(x, plot().top()), QPointF(x, plot().bottom()));
        const QRectF flag(x - 10, plot().bottom() + 2, 20, 20);
        p.setPen(Qt::NoPen);
        p.setBrush(t.accent);
        p.drawRoundedRect(flag, 4, 4);
        p.setPen(t.onAccent);
        p.setFont(face(13, QFont::Bold));
        p.drawText(flag, Qt::AlignCenter, m == 0 ? tr("A") : tr("B"));
    }
}

void TraceLanes::wheelEvent(QWheelEvent* event)
{
    if (!view_) return;
    if (event->modifiers() & Qt::ShiftModifier) {
        const double by = -0.1 * (to_s_ - from_s_) * event->angleDelta().y() / 120;
        look(from_s_ + by, to_s_ + by);
    } else {
        zoom(std::pow(0.8, event->angleDelta().y() / 120.0), timeAt(event->position().x()));
    }
    event->accept();
}

void TraceLanes::mousePressEvent(QMouseEvent* event)
{
    if (!view_ || event->button() != Qt::LeftButton) return;
    moved_ = false;
    grabbedAt_s_ = timeAt(event->position().x());
    dragging_ = 2;
    for (int m = 0; m < 2; ++m) {
        if (markers_[m] && std::abs(xAt(*markers_[m]) - event->position().x()) < grabs_px) dragging_ = m;
    }
}

void TraceLanes::mouseMoveEvent(QMouseEvent* event)
{
    if (dragging_ < 0) return;
    moved_ = true;
    const double now = timeAt(event->position().x());
    if (dragging_ < 2) return placeMarker(dragging_, now);
    look(from_s_ + grabbedAt_s_ - now, to_s_ + grabbedAt_s_ - now);
}

void TraceLanes::mouseReleaseEvent(QMouseEvent* event)
{
    if (dragging_ == 2 && !moved_)
        placeMarker(event->modifiers() & Qt::ShiftModifier ? 1 : 0, timeAt(event->position().x()));
    dragging_ = -1;
}

}  // namespace ilvek::app
