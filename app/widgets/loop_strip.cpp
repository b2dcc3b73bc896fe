#include "widgets/loop_strip.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPolygonF>
#include <cmath>

#include "theme.h"
#include "widgets/shapes.h"

namespace ilvek::app {

namespace {

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

QString voltsText(double v)
{
    return text(formatQuantity(volts(v)));
}

std::optional<double> potentialAt(const SolvedLoop& loop, int node)
{
    const auto& all = loop.potentials;
    if (node < 0 || static_cast<std::size_t>(node) >= all.size() || std::isnan(all[static_cast<std::size_t>(node)]))
        return std::nullopt;
    return all[static_cast<std::size_t>(node)];
}

// Of a map without a job nothing is expected yet.
std::optional<double> expectedAt(const LiveJob* liveJob, int node)
{
    return liveJob ? potentialAt(liveJob->expected(), node) : std::nullopt;
}

std::optional<double> suspectedAt(const LiveJob* liveJob, int node)
{
    return liveJob ? potentialAt(liveJob->suspected(), node) : std::nullopt;
}

bool isSplice(const Map& map, int node)
{
    return std::any_of(map.splices.begin(), map.splices.end(), [&](const Splice& s) { return s.node == node; });
}

// A part that a sheet only names in words has no short name of its own.
QString labelOf(const Map& map, const std::string& label)
{
    const int element = map.isOfSheet() ? map.elementIndex(label) : -1;
    const bool isLoad = element >= 0 && specOf(map.element(element).kind).isLoad && !map.element(element).name.empty();
    return text(isLoad ? map.element(element).name : label);
}

// Two neighbouring points of one part (fuse, relay contact, mated terminal) become one symbol with two sides.
void addPoint(const Map& map, const LiveJob* liveJob, const WalkPoint& point, std::vector<LoopPicture::Symbol>& symbols)
{
    const QString label = labelOf(map, point.label);
    const bool splice = isSplice(map, point.node);
    if (!point.reachable && !splice) return;  // busbars and wire ends that no lead reaches
    if (!symbols.empty() && symbols.back().label == label && symbols.back().nodeIn == symbols.back().nodeOut) {
        auto& s = symbols.back();
        s.nodeOut = point.node;
        s.expectedOut = expectedAt(liveJob, point.node);
        s.suspectedOut = suspectedAt(liveJob, point.node);
        s.openOut = point.open_V;
        s.loadedOut = point.loaded_V;
        return;
    }
    LoopPicture::Symbol s;
    s.label = label;
    s.nodeIn = s.nodeOut = point.node;
    s.expectedIn = s.expectedOut = expectedAt(liveJob, point.node);
    s.suspectedIn = s.suspectedOut = suspectedAt(liveJob, point.node);
    s.openIn = s.openOut = point.open_V;
    s.loadedIn = s.loadedOut = point.loaded_V;
    if (!point.loaded_V) s.toReturn = point.toReturn_V;
    using Kind = LoopPicture::Symbol::Kind;
    const bool battery = point.node == map.batteryPlus() || point.node == map.batteryMinus();
    s.kind = battery ? Kind::Battery : splice ? Kind::Splice : Kind::Box;
    symbols.push_back(s);
}

int symbolOf(const std::vector<LoopPicture::Symbol>& symbols, int node)
{
    for (std::size_t i = 0; i < symbols.size(); ++i) {
        if (symbols[i].nodeIn == node || symbols[i].nodeOut == node) return static_cast<int>(i);
    }
    return -1;
}

void placeStep(const Map& map, const Walk& walk, LoopPicture& picture)
{
    if (!walk.located) return;
    const WalkPoint& from = walk.points[static_cast<std::size_t>(walk.located->from)];
    const WalkPoint& to = walk.points[static_cast<std::size_t>(walk.located->to)];
    picture.stepFrom = symbolOf(picture.symbols, from.node);
    picture.stepTo = symbolOf(picture.symbols, to.node);
    picture.stepIsSingle = walk.isSingleElement;
    picture.stepFrom_V = from.loaded_V.value_or(0);
    picture.stepTo_V = to.loaded_V.value_or(0);
    picture.stepWords = LoopStrip::tr("%1 lost").arg(voltsText(walk.located->lost_V));
    const bool samePart = picture.stepFrom == picture.stepTo && picture.stepFrom >= 0;
    picture.stepWhere =
        samePart ? LoopStrip::tr("at %1").arg(picture.symbols[static_cast<std::size_t>(picture.stepFrom)].label)
                 : LoopStrip::tr("between %1 and %2").arg(labelOf(map, from.label), labelOf(map, to.label));
}

// What flows if all is sound and with the likeliest suspect, and where that one loses voltage that a sound loop keeps.
void describeCurrents(const LiveJob& liveJob, LoopPicture& picture)
{
    const auto amperesText = [](double a) {
        const double step = std::abs(a) < 0.01 ? 1e-5 : 1e-3;  // a signal's current and a load's
        return text(formatQuantity(amperes(std::round(a / step) * step)));
    };
    const SolvedLoop &sound = liveJob.expected(), &faulty = liveJob.suspected();
    if (sound.current_A) picture.current = LoopStrip::tr("%1 computed").arg(amperesText(*sound.current_A));
    // Once the place is measured it needs no suspect beside it; one that changes nothing here is not drawn either.
    if (picture.stepIsSingle && picture.stepFrom >= 0) return;
    const bool shows = std::any_of(picture.symbols.begin(), picture.symbols.end(), [](const auto& s) {
        return (s.suspectedIn && s.expectedIn && std::abs(*s.suspectedIn - *s.expectedIn) > 0.1) ||
               (s.suspectedOut && s.expectedOut && std::abs(*s.suspectedOut - *s.expectedOut) > 0.1);
    });
    if (faulty.potentials.empty() || !shows) return;
    double most = 0.1;
    QString where;
    const auto lost = [&](const std::optional<double>& a, const std::optional<double>& b,
                          const std::optional<double>& soundA, const std::optional<double>& soundB, const QString& at) {
        if (!a || !b || !soundA || !soundB) return;
        const double more = std::abs(*a - *b) - std::abs(*soundA - *soundB);
        if (more <= most) return;
        most = more;
        where = at;
    };
    for (std::size_t i = 0; i < picture.symbols.size(); ++i) {
        const auto& s = picture.symbols[i];
        if (s.kind == LoopPicture::Symbol::Kind::Load) continue;
        lost(s.suspectedIn, s.suspectedOut, s.expectedIn, s.expectedOut, LoopStrip::tr("at %1").arg(s.label));
        if (i == 0 || picture.symbols[i - 1].kind == LoopPicture::Symbol::Kind::Load) continue;
        const auto& before = picture.symbols[i - 1];
        lost(before.suspectedOut, s.suspectedIn, before.expectedOut, s.expectedIn,
             LoopStrip::tr("between %1 and %2").arg(before.label, s.label));
    }
    picture.suspected =
        LoopStrip::tr("if %1 (%2 %)").arg(faulty.words).arg(static_cast<int>(std::lround(100 * faulty.probability)));
    if (faulty.current_A) picture.suspected += LoopStrip::tr(": %1").arg(amperesText(*faulty.current_A));
    if (!where.isEmpty()) picture.suspected += LoopStrip::tr(", %1 lost %2").arg(voltsText(most), where);
}

QString nameOf(const Terminal& t)
{
    const bool loop = t.role && (isSupply(*t.role) || *t.role == Role::Return);
    return (loop ? LoopStrip::tr("Loop of %1, %2") : LoopStrip::tr("Circuit of %1, %2"))
        .arg(text(t.id), text(t.circuit));
}

QString titleOf(const LiveJob& liveJob, int terminal)
{
    if (terminal < 0) return LoopStrip::tr("The battery: every feed is compared with it");
    const auto& step = liveJob.step();
    const QString name = nameOf(liveJob.map().terminal(terminal));
    if (!step || step->load.empty() || step->terminal != terminal) return name;
    const auto load = findLoad(liveJob.map().systemVoltage_V, step->load);
    return load ? LoopStrip::tr("%1, with the %2").arg(name, text(load->name)) : name;
}

// Geometry of the strip inside its box.
struct Frame {
    QRectF box;
    double left, right, lineY, top, bottom, top_V;
    bool low;
    std::size_t count;

    double spacing() const { return (right - left) / static_cast<double>(count); }
    double x(int symbol) const { return left + (right - left) * (symbol + 0.5) / static_cast<double>(count); }
    double half() const { return std::min(9.0, (right - left) / static_cast<double>(count) * 0.25); }
    double y(double v) const { return bottom - (bottom - top) * v / top_V; }
};

Frame frameOf(const QRectF& box, const LoopPicture& picture)
{
    Frame f{};
    f.box = box;
    f.left = box.left() + 34;
    f.right = box.right() - 10;
    // In a low box the legend and some air give way to the staircase.
    f.low = box.height() < 230;
    f.lineY = box.top() + (f.low ? 64 : 66);
    f.top = box.top() + (f.low ? 102 : 108);
    f.bottom = box.bottom() - (f.low ? 14 : 30);
    f.top_V = picture.top_V;
    f.count = std::max<std::size_t>(1, picture.symbols.size());
    return f;
}

void drawFlag(QPainter& p, const QPointF& foot, const QString& letter, const QColor& colour, const QColor& onColour)
{
    p.setPen(QPen(colour, 2));
    p.drawLine(foot, QPointF(foot.x(), foot.y() - 28));
    p.setBrush(colour);
    p.drawPolygon(QPolygonF{{foot.x(), foot.y() - 28},
                            {foot.x() + 25, foot.y() - 28},
                            {foot.x() + 19, foot.y() - 20},
                            {foot.x() + 25, foot.y() - 12},
                            {foot.x(), foot.y() - 12}});
    p.setPen(onColour);
    p.setFont(face(13, QFont::Bold));
    p.drawText(QRectF(foot.x(), foot.y() - 28, 19, 16), Qt::AlignCenter, letter);
}

void drawSymbol(QPainter& p, const Frame& f, const LoopPicture::Symbol& s, int index, bool isStep)
{
    const Theme& t = Theme::current();
    const QPointF c(f.x(index), f.lineY);
    const double h = f.half();
    p.setPen(QPen(isStep ? t.bad : t.wire, isStep ? 2.5 : 1.8));
    p.setBrush(t.panel);
    using Kind = LoopPicture::Symbol::Kind;
    switch (s.kind) {
        case Kind::Battery:
            p.setBrush(t.wire);
            p.drawEllipse(c, 7, 7);
            break;
        case Kind::Splice:
            p.setBrush(t.wire);
            p.drawEllipse(c, 4, 4);
            break;
        case Kind::Load:
            p.drawEllipse(c, 11, 11);
            p.drawLine(QPointF(c.x() - 7.5, c.y() - 7.5), QPointF(c.x() + 7.5, c.y() + 7.5));
            p.drawLine(QPointF(c.x() - 7.5, c.y() + 7.5), QPointF(c.x() + 7.5, c.y() - 7.5));
            break;
        case Kind::Box:
            p.drawRect(QRectF(c.x() - h, c.y() - 7, 2 * h, 14));
            break;
    }
    p.setFont(face(13, isStep || s.isTarget ? QFont::Bold : QFont::Normal));
    p.setPen(isStep ? t.bad : t.ink);
    // One that stands lower has its neighbours' room too.
    const double room = std::max(80.0, f.spacing() * (s.isLower ? 2 : 1) - 6);
    const QString label = QFontMetrics(p.font()).elidedText(s.label, Qt::ElideRight, static_cast<int>(room));
    p.drawText(QRectF(c.x() - room / 2, f.lineY + (s.isLower ? 22 : 9), room, 16), Qt::AlignCenter, label);
}

// In a crowd every other label stands lower, and a single wide one below its neighbours.
void placeLabels(const Frame& f, std::vector<LoopPicture::Symbol>& symbols)
{
    const QFontMetrics metrics(face(13, QFont::Bold));
    const double room = (f.right - f.left) / static_cast<double>(f.count) - 4;
    for (std::size_t i = 0; i < symbols.size(); ++i) {
        const bool wide = metrics.horizontalAdvance(symbols[i].label) > room;
        symbols[i].isLower = wide && !(i > 0 && symbols[i - 1].isLower);
    }
}

void drawGrid(QPainter& p, const Frame& f)
{
    const Theme& t = Theme::current();
    p.setFont(face(12));
    const double step = (f.top_V > 30 ? 8 : f.top_V > 8 ? 4 : 2) * (f.low ? 2 : 1);
    for (double v = 0; v <= f.top_V + 0.01; v += step) {
        p.setPen(QPen(t.line, 1));
        p.drawLine(QPointF(f.left, f.y(v)), QPointF(f.right, f.y(v)));
        p.setPen(t.dim);
        p.drawText(QRectF(f.box.left() + 2, f.y(v) - 9, 26, 18), Qt::AlignRight | Qt::AlignVCenter, QString::number(v));
    }
    p.drawText(QRectF(f.box.left() + 2, f.top - 24, 26, 16), Qt::AlignRight | Qt::AlignVCenter, QStringLiteral("V"));
}

// A line through two potentials of each symbol, broken where one is not known.
template <typename In, typename Out>
QPainterPath staircase(const Frame& f, const LoopPicture& picture, In in, Out out)
{
    QPainterPath path;
    bool open = false;
    for (std::size_t i = 0; i < picture.symbols.size(); ++i) {
        const auto& s = picture.symbols[i];
        if (!(s.*in) || !(s.*out)) {
            open = false;
            continue;
        }
        const double x = f.x(static_cast<int>(i));
        const double half = s.kind == LoopPicture::Symbol::Kind::Load ? 0 : f.half();
        const QPointF begin(x - half, f.y(*(s.*in)));
        if (open)
            path.lineTo(begin);
        else
            path.moveTo(begin);
        path.lineTo(QPointF(x + half, f.y(*(s.*out))));
        open = true;
    }
    return path;
}

// The band is as wide as 1.5 % of the supply to either side.
void drawBand(QPainter& p, const Frame& f, const LoopPicture& picture)
{
    using Symbol = LoopPicture::Symbol;
    const Theme& t = Theme::current();
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(t.band, std::max(9.0, (f.bottom - f.top) * 0.045), Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.drawPath(staircase(f, picture, &Symbol::expectedIn, &Symbol::expectedOut));
    if (picture.suspected.isEmpty()) return;
    p.setPen(QPen(t.dim, 2, Qt::DotLine, Qt::FlatCap, Qt::MiterJoin));
    p.drawPath(staircase(f, picture, &Symbol::suspectedIn, &Symbol::suspectedOut));
}

struct Point {
    double x, y;
    int symbol;
};

std::vector<Point> loadedPoints(const Frame& f, const LoopPicture& picture)
{
    std::vector<Point> points;
    for (std::size_t i = 0; i < picture.symbols.size(); ++i) {
        const auto& s = picture.symbols[i];
        const int index = static_cast<int>(i);
        const bool two = s.nodeIn != s.nodeOut;
        if (s.loadedIn) points.push_back({f.x(index) - (two ? f.half() : 0), f.y(*s.loadedIn), index});
        if (two && s.loadedOut) points.push_back({f.x(index) + f.half(), f.y(*s.loadedOut), index});
    }
    return points;
}

// What was read under load, joined: solid where neighbours agree, dashed where the place of a step is not known yet.
void drawMeasured(QPainter& p, const Frame& f, const LoopPicture& picture)
{
    const Theme& t = Theme::current();
    const auto points = loadedPoints(f, picture);
    int load = -1;
    for (std::size_t i = 0; i < picture.symbols.size(); ++i) {
        if (picture.symbols[i].kind == LoopPicture::Symbol::Kind::Load) load = static_cast<int>(i);
    }
    for (std::size_t i = 1; i < points.size(); ++i) {
        const Point &a = points[i - 1], &b = points[i];
        if (load >= 0 && a.symbol < load && b.symbol > load) {
            // Across the load only from the terminal itself: what lies between was not read otherwise.
            if (!picture.symbols[static_cast<std::size_t>(a.symbol)].isTarget) continue;
            const QPointF corners[] = {{a.x, a.y}, {f.x(load), a.y}, {f.x(load), b.y}, {b.x, b.y}};
            p.setPen(QPen(t.ink, 2));
            p.drawPolyline(corners, 4);
            continue;
        }
        const bool isStep = picture.stepFrom >= 0 && std::abs(a.y - b.y) > 6;
        const bool vague = isStep && !picture.stepIsSingle;
        p.setPen(QPen(isStep ? t.bad : t.ink, isStep ? 3 : 2, vague ? Qt::DashLine : Qt::SolidLine));
        if (isStep && !vague) {
            const double middle = (a.x + b.x) / 2;
            const QPointF corners[] = {{a.x, a.y}, {middle, a.y}, {middle, b.y}, {b.x, b.y}};
            p.drawPolyline(corners, 4);
        } else {
            p.drawLine(QPointF(a.x, a.y), QPointF(b.x, b.y));
        }
    }
}

void drawMarks(QPainter& p, const Frame& f, const LoopPicture& picture)
{
    const Theme& t = Theme::current();
    for (std::size_t i = 0; i < picture.symbols.size(); ++i) {
        const auto& s = picture.symbols[i];
        const bool two = s.nodeIn != s.nodeOut;
        const double x = f.x(static_cast<int>(i));
        const auto open = [&](const std::optional<double>& v, double at) {
            if (!v) return;
            p.setPen(QPen(t.ink, 2));
            p.setBrush(t.panel);
            p.drawEllipse(QPointF(at, f.y(*v)), 6, 6);
        };
        open(s.openIn, x - (two ? f.half() : 0));
        if (two) open(s.openOut, x + f.half());
        if (!s.toReturn) continue;
        p.setPen(QPen(t.panel, 1));
        p.setBrush(t.ink);
        p.drawEllipse(QPointF(x, f.y(*s.toReturn)), 5.5, 5.5);
    }
    for (const Point& point : loadedPoints(f, picture)) {
        p.setPen(QPen(t.panel, 1));
        p.setBrush(t.ink);
        p.drawEllipse(QPointF(point.x, point.y), 5.5, 5.5);
    }
}

void drawStepWords(QPainter& p, const Frame& f, const LoopPicture& picture)
{
    if (picture.stepFrom < 0 || picture.stepTo < 0) return;
    const Theme& t = Theme::current();
    const double x = (f.x(picture.stepFrom) + f.x(picture.stepTo)) / 2;
    const QFont bold = face(f.low ? 15 : 18, QFont::Bold), plain = face(f.low ? 13 : 14);
    const int width = std::max(QFontMetrics(bold).horizontalAdvance(picture.stepWords),
                               QFontMetrics(plain).horizontalAdvance(picture.stepWhere)) +
                      8;
    // Beside the step, on the side that has room; a step not yet placed is a slanting line with room below its start.
    const bool toLeft = x + 18 + width > f.right;
    const double left = !picture.stepIsSingle ? f.x(picture.stepFrom) + 4 : toLeft ? x - 18 - width : x + 18;
    const double middle = (f.y(picture.stepFrom_V) + f.y(picture.stepTo_V)) / 2 - 22;
    const double y = picture.stepIsSingle ? std::min(std::max(middle, f.top), f.bottom - 46) : f.bottom - 48;
    p.setPen(Qt::NoPen);
    p.setBrush(t.panel);
    p.drawRect(QRectF(left - 2, y, width + 4, 44));
    p.setPen(t.bad);
    p.setFont(bold);
    p.drawText(QRectF(left, y, width, 24), Qt::AlignLeft | Qt::AlignVCenter, picture.stepWords);
    p.setFont(plain);
    p.drawText(QRectF(left, y + 23, width, 20), Qt::AlignLeft | Qt::AlignVCenter, picture.stepWhere);
}

// What the dotted line stands for, in the empty corner of the staircase.
void drawSuspected(QPainter& p, const Frame& f, const LoopPicture& picture)
{
    if (picture.suspected.isEmpty()) return;
    const Theme& t = Theme::current();
    const double x = f.left + 8, y = f.bottom - 18;
    p.setFont(face(13));
    const int room = static_cast<int>(f.right - x - 40);
    const QString words = QFontMetrics(p.font()).elidedText(picture.suspected, Qt::ElideRight, room);
    p.setPen(Qt::NoPen);
    p.setBrush(t.panel);
    p.drawRect(QRectF(x - 2, y - 10, QFontMetrics(p.font()).horizontalAdvance(words) + 44, 20));
    p.setPen(QPen(t.dim, 2, Qt::DotLine));
    p.drawLine(QPointF(x, y), QPointF(x + 28, y));
    p.setPen(t.ink);
    p.drawText(QRectF(x + 36, y - 10, room, 20), Qt::AlignLeft | Qt::AlignVCenter, words);
}

void drawLegend(QPainter& p, const Frame& f)
{
    const Theme& t = Theme::current();
    double x = f.left + 6;
    const double y = f.box.bottom() - 14;
    p.setFont(face(13));
    const auto words = [&](const QString& s) {
        p.setPen(t.ink);
        p.drawText(QRectF(x, y - 10, 200, 20), Qt::AlignLeft | Qt::AlignVCenter, s);
        x += QFontMetrics(p.font()).horizontalAdvance(s) + 24;
    };
    p.setPen(Qt::NoPen);
    p.setBrush(t.ink);
    p.drawEllipse(QPointF(x, y), 5, 5);
    x += 11;
    words(LoopStrip::tr("read loaded"));
    p.setPen(QPen(t.ink, 2));
    p.setBrush(t.panel);
    p.drawEllipse(QPointF(x, y), 5, 5);
    x += 11;
    words(LoopStrip::tr("read open-circuit"));
    p.fillRect(QRectF(x, y - 5, 28, 10), t.band);
    x += 35;
    words(LoopStrip::tr("expected, from the map"));
}

Walk shownWalk(const Map& map, const Evidence& evidence, int terminal)
{
    Walk walk;
    if (terminal < 0)
        walk.points = {pointAt(map, map.batteryPlus(), false), pointAt(map, map.batteryMinus(), true)};
    else
        walk = walkOf(map, evidence, terminal);
    return walk.points.empty() ? circuitOf(map, evidence, terminal) : walk;
}

// The symbols of a walk with the load between feed and return; without a job no figures.
void addSymbols(const Map& map, const LiveJob* liveJob, const Walk& walk, LoopPicture& picture)
{
    const bool isReturn = !walk.points.front().onReturn ? false : true;
    bool loadPlaced = false;
    for (const WalkPoint& point : walk.points) {
        if (point.onReturn && !loadPlaced) {
            // Between feed and return stands the load; for a return alone it hangs on battery plus.
            loadPlaced = true;
            if (isReturn)
                addPoint(map, liveJob, {map.batteryPlus(), "Bat +", 20, true, false, {}, {}, {}}, picture.symbols);
            LoopPicture::Symbol load;
            load.kind = LoopPicture::Symbol::Kind::Load;
            const bool substitute = liveJob && liveJob->step() && !liveJob->step()->load.empty();
            load.label = substitute ? LoopStrip::tr("load") : text(map.module);
            if (!picture.symbols.empty()) load.expectedIn = picture.symbols.back().expectedOut;
            load.expectedOut = expectedAt(liveJob, point.node);
            if (!picture.symbols.empty()) load.suspectedIn = picture.symbols.back().suspectedOut;
            load.suspectedOut = suspectedAt(liveJob, point.node);
            picture.symbols.push_back(load);
        }
        addPoint(map, liveJob, point, picture.symbols);
    }
}

}  // namespace

LoopPicture wayPicture(const Map& map, int terminal)
{
    LoopPicture picture;
    const Walk walk = shownWalk(map, {}, terminal);
    if (walk.points.empty()) return picture;
    picture.title = nameOf(map.terminal(terminal));
    addSymbols(map, nullptr, walk, picture);
    for (auto& s : picture.symbols)
        s.isTarget = s.label == text(map.terminal(terminal).id);
    return picture;
}

LoopPicture loopPicture(const LiveJob& liveJob, int terminal)
{
    LoopPicture picture;
    const Map& map = liveJob.map();
    const Walk walk = shownWalk(map, liveJob.assessment().evidence, terminal);
    if (walk.points.empty()) return picture;
    picture.title = titleOf(liveJob, terminal);
    addSymbols(map, &liveJob, walk, picture);
    // The battery's own reading is part of the loaded line only once something was read under load.
    using Kind = LoopPicture::Symbol::Kind;
    const bool anyLoaded = std::any_of(picture.symbols.begin(), picture.symbols.end(), [](const auto& s) {
        return s.kind != Kind::Battery && (s.loadedIn || s.loadedOut || s.toReturn);
    });
    for (auto& s : picture.symbols) {
        if (anyLoaded || s.kind != Kind::Battery) continue;
        if (s.nodeIn == map.batteryPlus()) s.openIn = s.openOut = s.loadedIn;
        s.loadedIn = s.loadedOut = std::nullopt;
    }
    const auto battery = liveJob.batteryNow();
    picture.top_V = std::max({map.systemVoltage_V * 1.1, battery ? battery->volts * 1.03 : 0.0});
    const auto& step = liveJob.step();
    for (auto& s : picture.symbols) {
        s.isTarget = terminal >= 0 && s.label == text(map.terminal(terminal).id);
        if (!step || s.nodeIn < 0 || step->test == TestKind::Look) continue;
        const int red = map.nodeIndex(step->red), black = map.nodeIndex(step->black);
        s.red = s.nodeIn == red || s.nodeOut == red;
        s.black = s.nodeIn == black || s.nodeOut == black;
    }
    placeStep(map, walk, picture);
    describeCurrents(liveJob, picture);
    return picture;
}

void drawLoop(QPainter& p, const QRectF& box, const LoopPicture& picture)
{
    const Theme& t = Theme::current();
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(t.ink);
    p.setFont(face(16, QFont::Bold));
    const int side = picture.current.isEmpty() ? 0 : QFontMetrics(p.font()).horizontalAdvance(picture.current) + 16;
    p.drawText(
        QRectF(box.left() + 12, box.top() + 6, box.width() - 24 - side, 22), Qt::AlignLeft | Qt::AlignVCenter,
        QFontMetrics(p.font()).elidedText(picture.title, Qt::ElideRight, static_cast<int>(box.width()) - 24 - side));
    p.drawText(QRectF(box.right() - 12 - side, box.top() + 6, side, 22), Qt::AlignRight | Qt::AlignVCenter,
               picture.current);
    if (picture.symbols.empty()) return;
    const Frame f = frameOf(box, picture);
    std::vector<LoopPicture::Symbol> symbols = picture.symbols;
    placeLabels(f, symbols);
    if (f.bottom - f.top > 40) {
        drawGrid(p, f);
        drawBand(p, f, picture);
    }
    p.setPen(QPen(t.wire, 2.5));
    p.drawLine(QPointF(f.x(0), f.lineY), QPointF(f.x(static_cast<int>(f.count) - 1), f.lineY));
    for (std::size_t i = 0; i < picture.symbols.size(); ++i) {
        const int index = static_cast<int>(i);
        const bool isStep =
            picture.stepIsSingle && picture.stepFrom >= 0 && index >= picture.stepFrom && index <= picture.stepTo;
        drawSymbol(p, f, symbols[i], index, isStep);
        const QPointF foot(f.x(index), f.lineY - 7);
        if (picture.symbols[i].black) drawFlag(p, foot, QStringLiteral("B"), t.ink, t.panel);
        if (picture.symbols[i].red) drawFlag(p, foot, QStringLiteral("R"), t.bad, t.panel);
    }
    if (f.bottom - f.top <= 40) return;
    drawSuspected(p, f, picture);
    drawStepWords(p, f, picture);
    drawMeasured(p, f, picture);
    drawMarks(p, f, picture);
    if (!f.low) drawLegend(p, f);
}

LoopStrip::LoopStrip(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("loopStrip"));
    setMinimumHeight(128);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void LoopStrip::show(const LiveJob& liveJob)
{
    picture_ = loopPicture(liveJob, liveJob.shownTerminal());
    if (picture_.symbols.empty()) picture_.title = tr("The map shows no circuit for this terminal");
    setAccessibleName(picture_.title);
    setAccessibleDescription(picture_.stepWords.isEmpty() ? tr("no step located")
                                                          : picture_.stepWords + QLatin1Char(' ') + picture_.stepWhere);
    setToolTip(plainTip(picture_.suspected));
    update();
}

void LoopStrip::showWay(const Map& map, int terminal)
{
    picture_ = terminal < 0 ? LoopPicture{} : wayPicture(map, terminal);
    if (terminal >= 0 && picture_.symbols.empty()) picture_.title = tr("The map shows no circuit for this terminal");
    QStringList places;
    for (const auto& s : picture_.symbols)
        places << s.label;
    setAccessibleName(picture_.title);
    setAccessibleDescription(places.join(QStringLiteral(" › ")));
    update();
}

int LoopStrip::placeAt(const QPointF& at) const
{
    if (picture_.symbols.empty()) return -1;
    const Frame f = frameOf(QRectF(rect()), picture_);
    constexpr double near = 40;
    int nearest = -1;
    for (int i = 0; i < static_cast<int>(picture_.symbols.size()); ++i) {
        if (std::abs(f.x(i) - at.x()) > near) continue;
        if (nearest < 0 || std::abs(f.x(i) - at.x()) < std::abs(f.x(nearest) - at.x())) nearest = i;
    }
    if (nearest < 0) return -1;
    const LoopPicture::Symbol& s = picture_.symbols[static_cast<std::size_t>(nearest)];
    return at.x() < f.x(nearest) ? s.nodeIn : s.nodeOut;
}

void LoopStrip::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton) return QWidget::mousePressEvent(event);
    if (const int node = placeAt(event->position()); node >= 0) emit placeClicked(node);
}

void LoopStrip::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    drawCard(p, rect());
    drawLoop(p, QRectF(rect()), picture_);
}

}  // namespace ilvek::app
