#include "widgets/ledger_view.h"

#include <QPainter>
#include <QStyledItemDelegate>

#include "theme.h"
#include "widgets/shapes.h"

namespace ilvek::app {

namespace {

constexpr int rowHeight = 29;
constexpr int headingHeight = 30;

class Delegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override
    {
        return {100, rowAt(index).isHeading ? headingHeight : rowHeight};
    }

    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const LedgerRow& row = rowAt(index);
        const Theme& t = Theme::current();
        const QRect r = option.rect;
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        if (row.isHeading) {
            painter->setFont(face(14, QFont::Bold));
            painter->setPen(t.dim);
            painter->drawText(r.adjusted(8, 4, -8, -4), Qt::AlignLeft | Qt::AlignBottom, row.heading);
            painter->setPen(QPen(t.line, 1));
            painter->drawLine(r.left() + 8, r.bottom() - 1, r.right() - 8, r.bottom() - 1);
            painter->restore();
            return;
        }
        if (option.state & QStyle::State_Selected) {
            painter->setPen(QPen(t.accent, option.state & QStyle::State_HasFocus ? 3 : 2));
            painter->setBrush(t.band);
            painter->drawRoundedRect(QRectF(r).adjusted(2, 1.5, -2, -1.5), 4, 4);
        }
        drawMark(*painter, QRectF(r.left() + 9, r.center().y() - 7, 15, 15), markOf(row.state));
        painter->setFont(face(15, QFont::Bold));
        painter->setPen(t.ink);
        painter->drawText(QRect(r.left() + 30, r.top(), 52, r.height()), Qt::AlignVCenter | Qt::AlignLeft, row.id);
        drawWireBar(*painter, QRectF(r.left() + 80, r.center().y() - 4.5, 20, 10), row.colour);
        const bool bad = row.state == ProofState::FailedLoaded || row.state == ProofState::OutOfLimits;
        painter->setFont(face(14, bad ? QFont::Bold : QFont::Normal));
        painter->setPen(bad ? t.bad : t.dim);
        const int figureWidth =
            row.figure.isEmpty() ? 0 : QFontMetrics(painter->font()).horizontalAdvance(row.figure) + 4;
        painter->drawText(r.adjusted(0, 0, -10, 0), Qt::AlignVCenter | Qt::AlignRight, row.figure);
        painter->setFont(face(14));
        painter->setPen(t.ink);
        const QRect name(r.left() + 106, r.top(), r.width() - 106 - 12 - figureWidth, r.height());
        painter->drawText(name, Qt::AlignVCenter | Qt::AlignLeft,
                          QFontMetrics(painter->font()).elidedText(row.circuit, Qt::ElideRight, name.width()));
        painter->restore();
    }

private:
    static const LedgerRow& rowAt(const QModelIndex& index)
    {
        return static_cast<const LedgerModel*>(index.model())->row(index.row());
    }
};

}  // namespace

LedgerView::LedgerView(QWidget* parent) : QListView(parent), model_(new LedgerModel(this))
{
    setObjectName(QStringLiteral("ledger"));
    setAccessibleName(tr("Ledger of terminals"));
    setModel(model_);
    setItemDelegate(new Delegate(this));
    setFrameShape(QFrame::NoFrame);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setUniformItemSizes(false);
    setResizeMode(QListView::Adjust);
    viewport()->setAutoFillBackground(false);
    const auto choose = [this](const QModelIndex& index) {
        if (const int terminal = index.data(Qt::UserRole).toInt(); terminal >= 0) emit chosen(terminal);
    };
    connect(this, &QListView::clicked, this, choose);
    connect(this, &QListView::activated, this, choose);
}

void LedgerView::show(const LiveJob& liveJob)
{
    model_->show(liveJob);
    const int row = model_->rowOf(liveJob.shownTerminal());
    if (row >= 0) {
        setCurrentIndex(model_->index(row));
        scrollTo(model_->index(row));
    }
}

void LedgerView::moveBy(int rows)
{
    const int step = rows > 0 ? 1 : -1;
    for (int row = currentIndex().row() + step; row >= 0 && row < model_->rowCount(); row += step) {
        if (model_->row(row).isHeading) continue;
        setCurrentIndex(model_->index(row));
        emit chosen(model_->row(row).terminal);
        return;
    }
}

}  // namespace ilvek::app
