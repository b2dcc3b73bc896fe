#include "widgets/connector_face.h"

#include <QAccessible>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "machine/paths.h"
#include "theme.h"
#include "widgets/shapes.h"

namespace ilvek::app {

namespace {

constexpr int margin = 14;
constexpr int headHeight = 34;

QFont wordsFont()
{
    return face(14);
}

}  // namespace

struct ConnectorFace::Grid {
    double cell = 0, left = 0, top = 0;
    int numberHeight = 14;
    double bottom = 0;
    double rowHeight() const { return cell + numberHeight; }
    QRectF round(const CavityPlace& at) const
    {
        const double d = std::min(24.0, cell - 4);
        return {left + at.column * cell + (cell - d) / 2, top + at.row * rowHeight(), d, d};
    }
};

ConnectorFace::ConnectorFace(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("connectorFace"));
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Preferred);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

void ConnectorFace::show(const LiveJob& liveJob)
{
    liveJob_ = &liveJob;
    terminal_ = liveJob.shownTerminal();
    // While a walk stands at another connector, that one is shown.
    if (liveJob.step()) {
        const int red = liveJob.map().nodeIndex(liveJob.step()->red);
        for (std::size_t i = 0; i < liveJob.map().terminals.size(); ++i) {
            const Terminal& t = liveJob.map().terminals[i];
            if (t.a >= 0 && (t.a == red || t.b == red)) terminal_ = static_cast<int>(i);
        }
    }
    connector_ = terminal_ >= 0                     ? liveJob.map().terminal(terminal_).connector
                 : liveJob.map().connectors.empty() ? -1
                                                    : 0;
    describe();
    updateGeometry();
    update();
}

void ConnectorFace::mirror()
{
    seen_ = seen_ == Seen::WireSide ? Seen::MatingSide : Seen::WireSide;
    describe();
    update();
}

void ConnectorFace::describe()
{
    words_.clear();
    if (!liveJob_ || terminal_ < 0) return;
    const Map& map = liveJob_->map();
    const Terminal& t = map.terminal(terminal_);
    words_ = tr("Cavity %1: %2.").arg(t.number).arg(QString::fromStdString(findingWords(map, terminal_, seen_)));
    if (t.asFound == AsFound::Empty) words_ += tr(" As drawn wired, as found empty.");
    if (t.asFound == AsFound::Wired) words_ += tr(" As found: wired.");
    if (t.assumed) words_ += tr(" Its figures are assumed by role.");
    QStringList siblings;
    for (const int s : siblingsOf(map, terminal_))
        siblings << QString::fromStdString(map.terminal(s).id);
    if (!siblings.isEmpty()) words_ += tr("\nSame source: %1.").arg(siblings.join(QStringLiteral(", ")));
    const Connector& connector = map.connectors[static_cast<std::size_t>(connector_)];
    setAccessibleName(
        tr("%1 from the %2")
            .arg(QString::fromStdString(connector.id), seen_ == Seen::WireSide ? tr("wire side") : tr("mating side")));
    setAccessibleDescription(words_);
    QAccessibleEvent event(this, QAccessible::DescriptionChanged);
    QAccessible::updateAccessibility(&event);
}

ConnectorFace::Grid ConnectorFace::grid(int width) const
{
    Grid g;
    if (!liveJob_ || connector_ < 0) return g;
    const Connector& connector = liveJob_->map().connectors[static_cast<std::size_t>(connector_)];
    g.cell = std::min(32.0, (width - 2.0 * margin) / connector.columns);
    g.numberHeight = g.cell < 24 ? 13 : 14;
    g.left = margin;
    g.top = headHeight + 8;
    g.bottom = g.top + connector.rows * g.rowHeight();
    return g;
}

int ConnectorFace::heightForWidth(int width) const
{
    const Grid g = grid(width);
    const QRect words =
        QFontMetrics(wordsFont()).boundingRect(0, 0, width - 2 * margin, 4000, Qt::TextWordWrap, words_);
    return static_cast<int>(g.bottom) + 8 + words.height() + margin;
}

QSize ConnectorFace::sizeHint() const
{
    return {280, heightForWidth(280)};
}

void ConnectorFace::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    drawCard(p, rect());
    if (!liveJob_ || connector_ < 0) return;
    const Theme& t = Theme::current();
    const Map& map = liveJob_->map();
    const Connector& connector = map.connectors[static_cast<std::size_t>(connector_)];
    p.setFont(face(16, QFont::Bold));
    p.setPen(t.ink);
    p.drawText(QRect(margin, 8, width() - 2 * margin, headHeight), Qt::AlignLeft | Qt::AlignVCenter,
               tr("%1, %2").arg(QString::fromStdString(connector.id),
                                seen_ == Seen::WireSide ? tr("wire side") : tr("mating side")));
    p.setFont(face(13));
    p.setPen(t.dim);
    p.drawText(QRect(margin, 8, width() - 2 * margin, headHeight), Qt::AlignRight | Qt::AlignVCenter, tr("mirror M"));
    const Grid g = grid(width());
    for (int number = 1; number <= connector.rows * connector.columns; ++number) {
        const QRectF box = g.round(placeOf(connector, number, seen_));
        const int index = connector.terminals[static_cast<std::size_t>(number - 1)];
        const bool empty =
            index < 0 || map.terminal(index).role == Role::Empty || map.terminal(index).asFound == AsFound::Empty;
        if (empty) {
            p.setPen(QPen(t.dim, 1.2, Qt::DashLine));
            p.setBrush(Qt::NoBrush);
            p.drawEllipse(box);
        } else {
            drawWireRound(p, box, map.terminal(index).colour);
        }
        if (index >= 0 && index == terminal_) {
            p.setPen(QPen(t.accent, 3));
            p.setBrush(Qt::NoBrush);
            p.drawEllipse(box.adjusted(-3.5, -3.5, 3.5, 3.5));
        }
        // Where there is no room for all numbers, the ends of the rows and the one looked for are enough to count from.
        const int column = placeOf(connector, number, seen_).column;
        if (g.cell < 17 && column != 0 && column != connector.columns - 1 && !(index >= 0 && index == terminal_))
            continue;
        p.setFont(face(g.numberHeight - 2, index == terminal_ && index >= 0 ? QFont::Bold : QFont::Normal));
        p.setPen(t.ink);
        p.drawText(QRectF(box.center().x() - 16, box.bottom() + 1, 32, g.numberHeight), Qt::AlignCenter,
                   QString::number(number));
    }
    p.setFont(wordsFont());
    p.setPen(t.ink);
    p.drawText(QRectF(margin, g.bottom + 8, width() - 2 * margin, height() - g.bottom - 8), Qt::TextWordWrap, words_);
}

void ConnectorFace::mousePressEvent(QMouseEvent* event)
{
    if (!liveJob_ || connector_ < 0) return;
    const Connector& connector = liveJob_->map().connectors[static_cast<std::size_t>(connector_)];
    if (event->position().y() < headHeight) return mirror();
    const Grid g = grid(width());
    for (int number = 1; number <= connector.rows * connector.columns && connector.ofModule; ++number) {
        const int index = connector.terminals[static_cast<std::size_t>(number - 1)];
        if (index >= 0 &&
            g.round(placeOf(connector, number, seen_)).adjusted(-4, -4, 4, 12).contains(event->position()))
            emit chosen(index);
    }
}

}  // namespace ilvek::app
