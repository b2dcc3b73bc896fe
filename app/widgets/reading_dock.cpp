#include "widgets/reading_dock.h"

#include <QAccessible>
#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>

#include "open_job/setup_line.h"
#include "proving/traps.h"
#include "theme.h"
#include "widgets/labels.h"
#include "widgets/shapes.h"

namespace ilvek::app {

namespace {

constexpr int headHeight = 116;
constexpr int figureSize = 74;

// "7.90 V" apart: the figure large, the unit beside it.
void splitFigure(const QString& text, QString& figure, QString& unit)
{
    const auto cut = text.lastIndexOf(QLatin1Char(' '));
    figure = cut < 0 ? text : text.left(cut);
    unit = cut < 0 ? QString() : text.mid(cut + 1);
}

}  // namespace

ReadingDock::ReadingDock(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("readingDock"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, headHeight, 16, 10);
    layout->setSpacing(2);
    arithmetic_ = wrappedLabel("arithmetic", face(16), this);
    proves_ = wrappedLabel("proves", face(14), this);
    doubts_ = wrappedLabel("doubts", face(14, QFont::Bold), this);
    layout->addWidget(arithmetic_);
    layout->addWidget(proves_);
    layout->addWidget(doubts_);
    layout->addStretch(1);
    setMinimumHeight(headHeight + 20);
}

void ReadingDock::setTexts(const Judgement& judgement)
{
    arithmetic_->setText(unbroken(judgement.arithmetic));
    const auto joined = [](const std::vector<std::string>& sentences) {
        QStringList list;
        for (const std::string& s : sentences)
            list << unbroken(s);
        return list.join(QLatin1Char(' '));
    };
    const QString proves = joined(judgement.proves);
    proves_->setText(proves.isEmpty() ? QString() : tr("Proves: %1").arg(proves));
    QString doubts = joined(judgement.doesNotProve);
    if (!doubts.isEmpty()) doubts = tr("Does not prove: %1").arg(doubts);
    for (const Trap& trap : judgement.traps)
        doubts += (doubts.isEmpty() ? QString() : QStringLiteral("\n")) +
                  unbroken(std::string(trapName(trap.id)) + ": " + trap.line);
    doubts_->setText(doubts);
    setTextColour(doubts_, Theme::current().warn);
}

void ReadingDock::show(const LiveJob& liveJob)
{
    liveJob_ = &liveJob;
    const auto last = liveJob.lastReading();
    const Judgement* judgement = liveJob.lastJudgement();
    placed_ = liveJob.placed() ? unbroken(setUpLine(liveJob.map(), *liveJob.placed())) : QString();
    heading_ = tr("No reading yet");
    word_.clear();
    limits_.clear();
    verdict_.reset();
    figure_ = QStringLiteral("– – –");
    unit_.clear();
    if (last && judgement) {
        const auto name = testName(last->test);
        const QString test = QString::fromUtf8(name.data(), static_cast<qsizetype>(name.size()));
        heading_ = last->terminal.empty()
                       ? tr("Last reading: %1").arg(test)
                       : tr("Last reading: %1, %2").arg(QString::fromStdString(last->terminal), test);
        if (last->found || last->shows)
            figure_ = QString::fromStdString(figureOf(*last));
        else
            splitFigure(QString::fromStdString(figureOf(*last)), figure_, unit_);
        word_ = QString::fromStdString(judgement->word);
        limits_ = judgement->limits.empty() ? QString() : tr("limit: %1").arg(unbroken(judgement->limits));
        verdict_ = judgement->verdict;
        setTexts(*judgement);
    } else {
        setTexts({});
        arithmetic_->setText(tr("Type the figure the meter shows; Enter takes it."));
    }
    setAccessibleName(heading_);
    setAccessibleDescription(figure_ + QLatin1Char(' ') + unit_ + QStringLiteral(", ") + word_ + QStringLiteral(". ") +
                             arithmetic_->text());
    QAccessibleValueChangeEvent event(this, accessibleDescription());
    QAccessible::updateAccessibility(&event);
    update();
}

bool ReadingDock::typed(int key, const QString& text)
{
    if (key == Qt::Key_Return || key == Qt::Key_Enter) {
        if (typed_.isEmpty()) return false;
        emit entered(typed_);
        return true;
    }
    if (key == Qt::Key_Escape && !typed_.isEmpty()) {
        clear();
        return true;
    }
    if (key == Qt::Key_Backspace && !typed_.isEmpty()) {
        typed_.chop(1);
        refusal_.clear();
        update();
        return true;
    }
    if (text.isEmpty() || !text.at(0).isPrint()) return false;
    const QChar c = text.at(0);
    const bool starts = c.isDigit() || QStringLiteral("-+.,−~").contains(c) || c.toUpper() == QLatin1Char('O');
    if (typed_.isEmpty() && !starts) return false;
    if (typed_.size() >= 32) return true;
    typed_ += text;
    refusal_.clear();
    update();
    return true;
}

void ReadingDock::clear()
{
    typed_.clear();
    refusal_.clear();
    update();
}

void ReadingDock::begin(const QString& text)
{
    typed_ = text;
    refusal_.clear();
    update();
}

void ReadingDock::refuse(const QString& message)
{
    refusal_ = message;
    update();
}

void ReadingDock::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    drawCard(p, rect());
    const Theme& t = Theme::current();
    const bool typing = !typed_.isEmpty();
    p.setFont(face(14));
    p.setPen(t.dim);
    const auto& step = liveJob_ ? liveJob_->step() : std::optional<Step>{};
    const QString target = step ? QString::fromStdString(step->title) : QString();
    const QString heading = !placed_.isEmpty()           ? tr("Placed: %1").arg(placed_)
                            : typing && target.isEmpty() ? tr("Typing: Esc clears it")
                            : typing ? tr("Typing for “%1”: Enter takes it, Esc clears it").arg(target)
                                     : heading_;
    if (!placed_.isEmpty()) {
        p.setFont(face(15, QFont::Bold));
        p.setPen(t.accent);
    }
    p.drawText(QRect(16, 8, width() - 32, 22), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(heading, Qt::ElideRight, width() - 32));

    QString figure = figure_, unit = unit_;
    if (typing) {
        figure = typed_;
        const bool hasUnit =
            std::any_of(typed_.begin(), typed_.end(), [](QChar c) { return c.isLetter() || c == QLatin1Char('%'); });
        const auto found = step && step->test == TestKind::Look ? parseFound(typed_.toStdString()) : std::nullopt;
        if (found) figure = QString::fromStdString(std::string(foundWords(*found)));
        const auto symbol = step ? unitSymbol(unitAsked(step->test)) : std::string_view();
        unit = hasUnit ? QString() : QString::fromUtf8(symbol.data(), static_cast<qsizetype>(symbol.size()));
    }
    QFont big = face(figureSize, QFont::Bold);
    const int room = width() * 52 / 100;
    while (QFontMetrics(big).horizontalAdvance(figure) > room - 70 && big.pixelSize() > 30)
        big.setPixelSize(big.pixelSize() - 2);
    const QFontMetrics fm(big);
    const int baseline = 28 + 70;
    p.setFont(big);
    p.setPen(typing ? t.accent : t.ink);
    p.drawText(16, baseline, figure);
    const int end = 16 + fm.horizontalAdvance(figure);
    if (typing) p.fillRect(QRect(end + 3, baseline - fm.capHeight(), 3, fm.capHeight()), t.accent);
    p.setFont(face(34));
    p.setPen(t.dim);
    p.drawText(end + 14, baseline, unit);

    const QRect right(room + 8, 32, width() - room - 24, headHeight - 40);
    if (!refusal_.isEmpty()) {
        drawMark(p, QRectF(right.left(), right.top() + 6, 40, 40), Mark::Question);
        p.setPen(t.warn);
        p.setFont(face(16, QFont::Bold));
        p.drawText(right.adjusted(52, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft | Qt::TextWordWrap, refusal_);
        return;
    }
    if (typing || !verdict_) return;
    const Mark mark = markOf(*verdict_);
    drawMark(p, QRectF(right.left(), right.top() + 6, 42, 42), mark);
    QFont wordFont = face(28, QFont::Bold);
    while (QFontMetrics(wordFont).horizontalAdvance(word_) > right.width() - 56 && wordFont.pixelSize() > 17)
        wordFont.setPixelSize(wordFont.pixelSize() - 1);
    p.setFont(wordFont);
    p.setPen(colourOf(mark));
    p.drawText(right.adjusted(54, 0, 0, 0), Qt::AlignTop | Qt::AlignLeft, word_);
    const QRect below = right.adjusted(54, QFontMetrics(wordFont).height() + 2, 0, 8);
    constexpr int flags = Qt::AlignTop | Qt::AlignLeft | Qt::TextWordWrap;
    QFont limitFont = face(14);
    while (QFontMetrics(limitFont).boundingRect(below, flags, limits_).height() > below.height() &&
           limitFont.pixelSize() > 12)
        limitFont.setPixelSize(limitFont.pixelSize() - 1);
    p.setFont(limitFont);
    p.setPen(t.dim);
    p.drawText(below, flags, limits_);
}

}  // namespace ilvek::app
