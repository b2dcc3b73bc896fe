#include "screens/procedures/stage_grid.h"

#include <QPainter>

#include "procedures/in_words.h"
#include "theme.h"

namespace ilvek::app {

namespace {

constexpr int headHeight = 26, rowHeight = 38, nameWidth = 150;

}  // namespace

Mark markOfStage(Stage::State state)
{
    switch (state) {
        case Stage::State::Shown:
            return Mark::Tick;
        case Stage::State::Failed:
            return Mark::Triangle;
        case Stage::State::Undecided:
            return Mark::Question;
        case Stage::State::Next:
            return Mark::Half;
        case Stage::State::Later:
            return Mark::Hollow;
        case Stage::State::NotNeeded:
            return Mark::Dot;
    }
    return Mark::Hollow;
}

StageGrid::StageGrid(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("stageGrid"));
    setMaximumWidth(760);
}

void StageGrid::show(const Procedure& p, const std::function<QString(std::int64_t)>& figureOf)
{
    columns_.clear(), rows_.clear(), cells_.clear();
    hide();
    if (!p.grid) return;
    for (const Fact& c : p.grid->columns)
        columns_ << QString::fromStdString(sentence(c));
    for (const Fact& r : p.grid->rows)
        rows_ << QString::fromStdString(sentence(r));
    for (const auto& row : p.grid->stages) {
        auto& cells = cells_.emplace_back();
        for (const std::string& id : row) {
            Cell& cell = cells.emplace_back();
            cell.isThere = !id.empty();
            for (const Stage& s : p.stages) {
                if (s.id != id || id.empty()) continue;
                cell.state = s.state;
                if (!s.entries.empty()) cell.figure = figureOf(s.entries.back());
            }
        }
    }
    // Another way was gone, as by two lamps: an empty table says nothing.
    const bool some = std::any_of(cells_.begin(), cells_.end(), [](const auto& row) {
        return std::any_of(row.begin(), row.end(), [](const Cell& c) { return c.state.has_value(); });
    });
    setVisible(some);
    setFixedHeight(headHeight + rowHeight * static_cast<int>(rows_.size()) + 2);
    setAccessibleDescription(lines().join(QLatin1String("; ")));
    update();
}

QStringList StageGrid::lines() const
{
    QStringList out;
    for (int r = 0; r < rows_.size(); ++r) {
        for (int c = 0; c < columns_.size(); ++c) {
            const Cell& cell = cells_[static_cast<std::size_t>(r)][static_cast<std::size_t>(c)];
            if (!cell.state) continue;
            const QString state = QString::fromUtf8(stageWord(*cell.state).data());
            out << tr("%1, %2: %3")
                       .arg(rows_[r], columns_[c],
                            cell.figure.isEmpty() ? state : tr("%1, %2").arg(cell.figure, state));
        }
    }
    return out;
}

void StageGrid::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = Theme::current();
    drawCard(p, rect());
    if (columns_.isEmpty()) return;
    const int width = (this->width() - nameWidth - 8) / static_cast<int>(columns_.size());
    const auto box = [&](int row, int column) {
        return QRect(nameWidth + column * width, headHeight + row * rowHeight, width, rowHeight);
    };
    p.setFont(face(14));
    p.setPen(t.dim);
    for (int c = 0; c < columns_.size(); ++c)
        p.drawText(QRect(nameWidth + c * width + 10, 2, width - 12, headHeight), Qt::AlignLeft | Qt::AlignVCenter,
                   columns_[c]);
    for (int r = 0; r < rows_.size(); ++r) {
        p.setFont(face(15));
        p.setPen(t.ink);
        p.drawText(QRect(12, headHeight + r * rowHeight, nameWidth - 14, rowHeight), Qt::AlignLeft | Qt::AlignVCenter,
                   QFontMetrics(p.font()).elidedText(rows_[r], Qt::ElideRight, nameWidth - 14));
        for (int c = 0; c < columns_.size(); ++c) {
            const Cell& cell = cells_[static_cast<std::size_t>(r)][static_cast<std::size_t>(c)];
            const QRect at = box(r, c).adjusted(4, 3, -4, -3);
            if (!cell.isThere) continue;
            p.setPen(QPen(t.line, 1));
            p.setBrush(Qt::NoBrush);
            if (cell.state == Stage::State::Next) p.setPen(QPen(t.accent, 3));
            p.drawRoundedRect(at, 5, 5);
            if (!cell.state) continue;
            drawMark(p, QRectF(at.left() + 8, at.top() + 7, 18, 18), markOfStage(*cell.state));
            const bool isNext = cell.state == Stage::State::Next;
            p.setFont(face(cell.figure.isEmpty() ? 15 : 19, cell.figure.isEmpty() ? QFont::Normal : QFont::Bold));
            p.setPen(cell.figure.isEmpty() && !isNext ? t.dim : t.ink);
            const QString words =
                cell.figure.isEmpty() ? QString::fromUtf8(stageWord(*cell.state).data()) : cell.figure;
            p.drawText(at.adjusted(34, 0, -4, 0), Qt::AlignLeft | Qt::AlignVCenter,
                       QFontMetrics(p.font()).elidedText(words, Qt::ElideRight, at.width() - 38));
        }
    }
}

}  // namespace ilvek::app
