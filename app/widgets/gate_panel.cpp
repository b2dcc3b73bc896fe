#include "widgets/gate_panel.h"

#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>

#include "theme.h"
#include "widgets/labels.h"
#include "widgets/shapes.h"

namespace ilvek::app {

namespace {

bool isOwnStatement(const std::string& id)
{
    for (const GateCheck& check : gateChecks()) {
        if (check.id == id) return true;
    }
    return false;
}

QColor outcomeColour(Outcome outcome, const Gate& gate)
{
    const Theme& t = Theme::current();
    const bool failed = std::any_of(gate.lines.begin(), gate.lines.end(),
                                    [](const GateLine& l) { return l.state == LineState::Failed; });
    return outcome == Outcome::NotProven && !failed ? t.ink : t.bad;
}

}  // namespace

void GateLineButton::show(const GateLine& line, bool pressable)
{
    line_ = line;
    setEnabled(true);
    setFocusPolicy(pressable ? Qt::StrongFocus : Qt::NoFocus);
    setCursor(pressable ? Qt::PointingHandCursor : Qt::ArrowCursor);
    setToolTip(plainTip(QString::fromStdString(line.detail)));
    const QString state = line.state == LineState::Earned   ? tr("earned")
                          : line.state == LineState::Failed ? tr("failed")
                                                            : tr("missing");
    setAccessibleName(
        tr("%1: %2, %3").arg(QString::fromStdString(line.title), state, QString::fromStdString(line.detail)));
    update();
}

void GateLineButton::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    const Theme& t = Theme::current();
    if (hasFocus()) {
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(t.accent, 2));
        p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
    }
    drawMark(p, QRectF(4, height() / 2.0 - 7.5, 15, 15), markOf(line_.state));
    QString right = line_.total > 0 ? tr("%1 of %2").arg(line_.earned).arg(line_.total)
                    : focusPolicy() == Qt::StrongFocus && line_.state != LineState::Earned ? tr("tell …")
                                                                                           : QString();
    if (line_.assumed > 0) right += tr(", %1 assumed").arg(line_.assumed);
    p.setFont(face(14));
    p.setPen(t.dim);
    p.drawText(rect().adjusted(0, 0, -4, 0), Qt::AlignRight | Qt::AlignVCenter, right);
    p.setPen(line_.state == LineState::Failed ? t.bad : t.ink);
    p.setFont(face(14, line_.state == LineState::Failed ? QFont::Bold : QFont::Normal));
    p.drawText(rect().adjusted(28, 0, -4, 0), Qt::AlignLeft | Qt::AlignVCenter, QString::fromStdString(line_.title));
}

GatePanel::GatePanel(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("gatePanel"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 12, 14, 12);
    layout->setSpacing(4);
    title_ = wrappedLabel("gateTitle", face(16, QFont::Bold), this);
    sentence_ = wrappedLabel("gateSentence", face(15, QFont::Bold), this);
    lines_ = new QVBoxLayout;
    lines_->setSpacing(0);
    located_ = wrappedLabel("gateLocated", face(14), this);
    alternative_ = wrappedLabel("gateAlternative", face(13), this);
    layout->addWidget(title_);
    layout->addWidget(sentence_);
    layout->addWidget(located_);
    layout->addLayout(lines_);
    layout->addWidget(alternative_);
    layout->addStretch(1);
}

void GatePanel::show(const LiveJob& liveJob)
{
    const Gate& gate = liveJob.gate();
    title_->setText(tr("May the %1 be blamed?").arg(QString::fromStdString(liveJob.map().module)));
    sentence_->setText(QString::fromStdString(gate.sentence));
    setTextColour(sentence_, outcomeColour(gate.outcome, gate));
    while (lines_->count() < static_cast<int>(gate.lines.size())) {
        auto* button = new GateLineButton(this);
        connect(button, &QPushButton::clicked, this, [this, button] {
            if (button->focusPolicy() == Qt::StrongFocus) emit checkWanted(button->objectName().mid(5));
        });
        lines_->addWidget(button);
    }
    for (int i = 0; i < lines_->count(); ++i) {
        auto* button = static_cast<GateLineButton*>(lines_->itemAt(i)->widget());
        button->setVisible(i < static_cast<int>(gate.lines.size()));
        if (!button->isVisibleTo(this)) continue;
        const GateLine& line = gate.lines[static_cast<std::size_t>(i)];
        button->setObjectName(QStringLiteral("gate-") + QString::fromStdString(line.id));
        button->show(line, isOwnStatement(line.id));
    }
    QStringList below;
    if (!gate.located.empty()) below << tr("Located so far: %1").arg(unbroken(gate.located));
    if (!gate.grade.empty()) below << tr("Grade: %1.").arg(QString::fromStdString(gate.grade));
    // A verdict is not the end of the job.
    if (!gate.grade.empty() && !liveJob.job().closed) below << tr("F12: what lies behind it, repair, proof.");
    located_->setText(below.join(QLatin1Char('\n')));
    located_->setVisible(!below.isEmpty());
    QStringList last;
    if (!gate.cheapest.empty() && gate.outcome == Outcome::NotProven)
        last << tr("Cheapest open: %1.").arg(QString::fromStdString(gate.cheapest));
    if (!gate.alternative.empty()) last << tr("Still possible: %1").arg(QString::fromStdString(gate.alternative));
    alternative_->setText(last.join(QLatin1Char('\n')));
    setAccessibleName(title_->text());
    setAccessibleDescription(sentence_->text());
}

void GatePanel::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    drawCard(p, rect());
}

}  // namespace ilvek::app
