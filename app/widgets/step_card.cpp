#include "widgets/step_card.h"

#include <fmt/format.h>

#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QTimer>
#include <cmath>

#include "bench_map/kept_sheet.h"
#include "procedures/in_words.h"
#include "proving/own_current.h"
#include "proving/plan.h"
#include "theme.h"
#include "widgets/labels.h"
#include "widgets/shapes.h"

namespace ilvek::app {

namespace {

// A step number in a round, drawn so that it keeps its shape in every theme.
class Round : public QWidget {
public:
    Round(int number, QWidget* parent) : QWidget(parent), number_(number) { setFixedSize(24, 22); }
    // Leads are red and black with their letter; plain steps carry their number.
    void setLeads(bool leads) { leads_ = leads; }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const Theme& t = Theme::current();
        p.setPen(Qt::NoPen);
        p.setBrush(!leads_ ? t.accent : number_ == 2 ? t.bad : number_ == 3 ? t.ink : t.accent);
        p.drawEllipse(QRectF(1, 1, 20, 20));
        p.setPen(t.panel);
        p.setFont(face(13, QFont::Bold));
        p.drawText(QRectF(1, 1, 20, 20), Qt::AlignCenter,
                   !leads_ || number_ == 1 ? QString::number(number_)
                   : number_ == 2          ? QStringLiteral("R")
                                           : QStringLiteral("B"));
    }

private:
    int number_;
    bool leads_ = true;
};

QString minutes(double seconds)
{
    return seconds < 90 ? StepCard::tr("about 1 min") : StepCard::tr("about %1 min").arg(std::lround(seconds / 60.0));
}

}  // namespace

StepCard::StepCard(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("stepCard"));
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(22, 10, 14, 10);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(3);
    procedure_ = wrappedLabel("stepProcedure", face(14, QFont::Bold), this);
    procedure_->hide();
    clock_ = new QTimer(this);
    clock_->setInterval(250);
    connect(clock_, &QTimer::timeout, this, &StepCard::countDown);
    title_ = wrappedLabel("stepTitle", face(22, QFont::Bold), this);
    effort_ = wrappedLabel("stepEffort", face(14), this);
    effort_->setWordWrap(false);
    effort_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    grid->addWidget(procedure_, 0, 0, 1, 3);
    grid->addWidget(title_, 1, 0, 1, 2);
    grid->addWidget(effort_, 1, 2);
    const char* names[] = {"stepSetUp", "stepRed", "stepBlack"};
    for (int i = 0; i < 3; ++i) {
        lines_[i] = wrappedLabel(names[i], face(17), this);
        rounds_[i] = new Round(i + 1, this);
        grid->addWidget(rounds_[i], i + 2, 0, Qt::AlignTop);
        grid->addWidget(lines_[i], i + 2, 1, 1, 2);
    }
    expectation_ = wrappedLabel("stepExpectation", face(14), this);
    caution_ = wrappedLabel("stepCaution", face(14, QFont::Bold), this);
    grid->addWidget(caution_, 5, 0, 1, 3);
    grid->addWidget(expectation_, 6, 0, 1, 3);
    figure_ = new QPushButton(this);
    figure_->setObjectName(QStringLiteral("stateFigure"));
    figure_->setFont(face(14));
    figure_->setFocusPolicy(Qt::NoFocus);
    figure_->hide();
    connect(figure_, &QPushButton::clicked, this, [this] { emit figureWanted(figureOf_); });
    grid->addWidget(figure_, 7, 0, 1, 3, Qt::AlignLeft);
    grid->setColumnStretch(1, 1);
}

// A current that nobody stated is unknown, and says so where it matters; one that was clamped since is offered.
void StepCard::offerFigure(const LiveJob& liveJob)
{
    figureOf_ = liveJob.shownTerminal();
    figure_->hide();
    const Map& map = liveJob.map();
    if (figureOf_ < 0 || !map.isOfSheet() || !sheetOf(map.document)) return;
    const Terminal& t = map.terminal(figureOf_);
    const bool carries = t.role && (isSupply(*t.role) || groupOf(*t.role) == Group::Drives);
    if (!carries || map.isCurrentStated(t)) return;
    const auto measured = measuredCurrent_A(map, liveJob.assessment().evidence, figureOf_);
    const QString id = QString::fromStdString(t.id);
    if (measured)
        figure_->setText(tr("K: %1 by clamp on %2. Keep it for this machine?")
                             .arg(unbroken(formatQuantity(amperes(*measured))), id));
    else
        figure_->setText(tr("K: what %1 draws is not known; state it").arg(id));
    figure_->setVisible(measured || !isLow_);
}

void StepCard::hideEmpty()
{
    for (int i = 0; i < 3; ++i) {
        rounds_[i]->setVisible(!lines_[i]->text().isEmpty());
        lines_[i]->setVisible(!lines_[i]->text().isEmpty());
    }
    for (QLabel* label : {expectation_, caution_})
        label->setVisible(!label->text().isEmpty());
}

// All is read, and some of it failed or decided nothing: what that was, and what is left to do about it. False when all
// is proven.
bool StepCard::showOpen(const LiveJob& liveJob)
{
    const Map& map = liveJob.map();
    std::vector<int> open;
    for (const int terminal : provingOrder(map, liveJob.assessment().evidence.working)) {
        if (map.terminal(terminal).hazard.empty() && !liveJob.proof(terminal).missing.empty()) open.push_back(terminal);
    }
    if (open.empty()) return false;
    QStringList names;
    for (std::size_t i = 0; i < open.size() && i < 4; ++i)
        names << QString::fromStdString(map.terminal(open[i]).id);
    const auto more = static_cast<int>(open.size()) - 4;
    title_->setText(tr("All is read; still open: %1%2")
                        .arg(names.join(QStringLiteral(", ")), more > 0 ? tr(" and %1 more").arg(more) : QString()));
    const auto& readings = liveJob.assessment().evidence.readings;
    for (std::size_t i = readings.size(); i-- > 0;) {
        if (readings[i].terminal != map.terminal(open.front()).id) continue;
        lines_[0]->setText(
            unbroken(fmt::format("{}: {}. {}", readings[i].terminal, liveJob.assessment().judgements[i].word,
                                 liveJob.assessment().judgements[i].arithmetic)));
        break;
    }
    lines_[1]->setText(tr("T takes the test that tells most about the suspects"));
    lines_[2]->setText(tr("Chosen in the ledger, E corrects it on the map; A takes it as good, with the reason"));
    return true;
}

// Either the fault is located and waits to be mended (W33), or all is read.
void StepCard::showNothingToRead(const LiveJob& liveJob)
{
    const int shown = liveJob.shownTerminal();
    const auto located = shown >= 0 ? locatedFault(liveJob.map(), liveJob.assessment(), shown) : std::nullopt;
    const bool mend = located || !liveJob.gate().grade.empty();
    expectation_->clear();
    caution_->clear();
    effort_->clear();
    if (mend && (liveJob.gate().outcome == Outcome::Cleared || liveJob.gate().outcome == Outcome::ProvenGood)) {
        title_->setText(tr("Next: mend it, then prove it"));
        lines_[0]->setText(unbroken(located.value_or(liveJob.gate().located)));
        lines_[1]->setText(tr("Look for the cause behind the cause: water, heat, a spread terminal, an old repair"));
        lines_[2]->setText(tr("Enter it on the Repair screen (F12): the readings before it become stale"));
        expectation_->setText(
            tr("Then the same tests again under the same load: a repair that is not proven is no repair. Other "
               "terminals can be chosen in the ledger."));
        return;
    }
    const QString id = shown >= 0 ? QString::fromStdString(liveJob.map().terminal(shown).id) : QString();
    if (shown >= 0 && !liveJob.map().terminal(shown).hazard.empty()) {
        title_->setText(tr("%1: not to be probed").arg(id));
        lines_[0]->setText(QString::fromStdString(liveJob.map().terminal(shown).hazard));
        caution_->setText(tr("Follow the maker's procedure and licensed practice. N goes on with the job."));
        return setTextColour(caution_, Theme::current().warn);
    }
    if (liveJob.isFollowing() && showOpen(liveJob)) return;
    title_->setText(liveJob.isFollowing() || id.isEmpty() ? tr("Nothing is left to read")
                                                          : tr("%1: nothing more to read").arg(id));
    lines_[0]->setText(
        tr("N goes on with the job; the lines of the gate that only you can earn are reached with Tab."));
}

// Above the step: which procedure leads, and how far it is.
void StepCard::showProcedure(const LiveJob& liveJob)
{
    procedure_->setVisible(liveJob.procedure().has_value());
    clock_->stop();
    if (!liveJob.procedure()) return;
    const Procedure& p = *liveJob.procedure();
    const QString title = QString::fromStdString(procedureTitle(liveJob.map(), p));
    const auto done = std::count_if(p.stages.begin(), p.stages.end(), [](const Stage& s) {
        return s.state != Stage::State::Next && s.state != Stage::State::Later;
    });
    procedure_->setText(liveJob.leads() ? tr("%1 · %2 done · H shows all its stages, N leaves it").arg(title).arg(done)
                                        : tr("%1 waits · N goes back to it").arg(title));
    setTextColour(procedure_, Theme::current().accent);
    if (liveJob.remaining_s()) clock_->start();
}

// What the procedure wants that is no reading, or what stands at its end.
void StepCard::showAsked(const LiveJob& liveJob)
{
    const Procedure& p = *liveJob.procedure();
    expectation_->clear(), effort_->clear();
    QStringList cautions;
    for (const Fact& caution : p.cautions)
        cautions << unbroken(sentence(caution));
    caution_->setText(cautions.isEmpty() || p.ending ? QString()
                                                     : tr("Caution: %1").arg(cautions.join(QLatin1Char(' '))));
    setTextColour(caution_, Theme::current().warn);
    if (const Stage* stage = liveJob.asked()) {
        title_->setText(tr("Next: %1").arg(unbroken(sentence(stage->title))));
        QStringList said;
        for (const Fact& fact : stage->says)
            said << unbroken(sentence(fact));
        lines_[0]->setText(said.join(QLatin1Char(' ')));
        const auto kind = stage->asked ? stage->asked->kind : Asked::Kind::Statement;
        expectation_->setText(kind == Asked::Kind::States      ? tr("Leads on first. Enter, when it is done.")
                              : kind == Asked::Kind::Functions ? tr("Enter lists the functions of the machine.")
                                                               : tr("Enter, to tell what was found."));
    } else if (p.ending) {
        title_->setText(tr("End: %1").arg(unbroken(sentence(p.ending->fact))));
        lines_[0]->setText(tr("Grade: %1.").arg(QString::fromUtf8(gradeWords(p.ending->grade).data())));
        lines_[1]->setText(tr("H shows its stages with every reading; N goes on with the job"));
    } else {
        title_->setText(tr("Nothing more to do here"));
        lines_[0]->setText(tr("H shows its stages; N goes on with the job"));
    }
    const QFont large = face(17, QFont::Bold);
    expectation_->setFont(liveJob.asked() ? large : face(14));
    setTextColour(expectation_, Theme::current().ink);
}

void StepCard::countDown()
{
    const auto left = liveJob_ ? liveJob_->remaining_s() : std::nullopt;
    if (!left) return clock_->stop();
    const long seconds = std::lround(std::ceil(*left));
    effort_->setText(seconds > 0 ? tr("%1 s left").arg(seconds) : tr("too late: key again"));
    effort_->setFont(face(20, QFont::Bold));
    setTextColour(effort_, seconds > 0 ? Theme::current().ink : Theme::current().warn);
}

void StepCard::show(const LiveJob& liveJob)
{
    liveJob_ = &liveJob;
    const auto& step = liveJob.step();
    effort_->setFont(face(14));
    setTextColour(effort_, Theme::current().dim);
    showProcedure(liveJob);
    for (int i = 0; i < 3; ++i) {
        lines_[i]->setText({});
        static_cast<Round*>(rounds_[i])->setLeads(step && step->test != TestKind::Look);
    }
    if (!step && liveJob.leads()) {
        for (QWidget* round : rounds_)
            static_cast<Round*>(round)->setLeads(false);
        showAsked(liveJob);
        offerFigure(liveJob);
        return hideEmpty();
    }
    if (!step) {
        showNothingToRead(liveJob);
        offerFigure(liveJob);
        return hideEmpty();
    }
    title_->setText(tr("Next: %1").arg(QString::fromStdString(step->title)));
    effort_->setText(minutes(step->effort_s));
    if (liveJob.remaining_s()) countDown();
    for (std::size_t i = 0; i < 3 && i < step->instructions.size(); ++i)
        lines_[i]->setText(unbroken(step->instructions[i]));
    QString expectation = unbroken(step->expectation);
    // What a look found is chosen from here: as large as what is to be done.
    const bool look = step->test == TestKind::Look;
    expectation_->setFont(look ? face(17, QFont::Bold) : face(14));
    expectation_->setToolTip(plainTip(QString::fromStdString(step->why)));
    if (const QString known = liveJob.knownGoodWords(); !known.isEmpty())
        expectation += (expectation.isEmpty() ? QString() : QStringLiteral(" ")) + known + QStringLiteral(".");
    if (!step->why.empty() && !isLow_ && !look)
        expectation += (expectation.isEmpty() ? QString() : QStringLiteral(" ")) + QString::fromStdString(step->why);
    expectation_->setText(expectation);
    setTextColour(expectation_, look ? Theme::current().ink : Theme::current().dim);
    QStringList cautions;
    for (const std::string& caution : step->cautions)
        cautions << unbroken(caution);
    const auto last = liveJob.lastReading();
    const bool apartAlready = last && last->unplugged == step->unplugged;
    if (!step->alsoUnplugged.empty() && !apartAlready) {
        QStringList some;
        for (std::size_t i = 0; i < step->alsoUnplugged.size() && i < 3; ++i)
            some << QString::fromStdString(step->alsoUnplugged[i]);
        const auto more = static_cast<int>(step->alsoUnplugged.size()) - 3;
        cautions << tr("Apart, these are dead too: %1%2.")
                        .arg(some.join(QStringLiteral(", ")), more > 0 ? tr(" and %1 more").arg(more) : QString());
    }
    caution_->setText(cautions.isEmpty() ? QString() : tr("Caution: %1").arg(cautions.join(QLatin1Char(' '))));
    setTextColour(caution_, Theme::current().warn);
    hideEmpty();
    offerFigure(liveJob);
    setAccessibleName(title_->text());
    setAccessibleDescription(lines_[0]->text() + QStringLiteral(". ") + lines_[1]->text() + QStringLiteral(". ") +
                             lines_[2]->text());
}

void StepCard::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    drawCard(p, rect());
    p.fillRect(QRectF(0, 1, 7, height() - 2), Theme::current().accent);
}

}  // namespace ilvek::app
