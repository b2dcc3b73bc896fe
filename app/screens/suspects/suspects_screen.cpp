#include "screens/suspects/suspects_screen.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPainter>
#include <QTableWidget>
#include <algorithm>
#include <limits>

#include "machine/paths.h"
#include "prediction/shown_ohms.h"
#include "theme.h"
#include "widgets/labels.h"
#include "widgets/shapes.h"

namespace ilvek::app {

namespace {

constexpr int mostRows = 9;
constexpr double worthShowing = 0.002;
constexpr int fewOthers = 2;

QString percent(double p)
{
    // The figure and its sign stay on one line.
    return p > 0.995  ? SuspectsScreen::tr("over 99\u00A0%")
           : p < 0.01 ? SuspectsScreen::tr("under 1\u00A0%")
                      : SuspectsScreen::tr("%1\u00A0%").arg(100 * p, 0, 'f', 0);
}

QString verdictWords(const Reasoning& r, const QString& module)
{
    using Kind = Conclusion::Kind;
    const QString place = QString::fromStdString(r.conclusion.words);
    switch (r.conclusion.kind) {
        case Kind::Outside:
            return SuspectsScreen::tr("Outside the %1: %2.").arg(module, place);
        case Kind::Inside:
            return SuspectsScreen::tr("Likeliest inside the %1: %2. It is not blamed before the gate is earned.")
                .arg(module, place);
        case Kind::Either:
            return SuspectsScreen::
                tr("The %1 or what plugs into it: %2. Look at the terminal, pull at it, before the module is blamed.")
                    .arg(module, place);
        case Kind::MapWrong:
            return SuspectsScreen::tr("%1. Look at it or measure it, and correct the map (E).").arg(place);
        case Kind::Nothing:
            return SuspectsScreen::tr("No fault is present now that a test of this map would show.");
        case Kind::NotOnMap:
            return SuspectsScreen::tr(
                "Nothing on this map is at fault: what fails is on no page that was entered, or is absent now.");
        case Kind::Open:
            break;
    }
    if (!r.misplaced.empty()) return QString::fromStdString(r.misplaced);
    if (!r.doubtful.empty()) return SuspectsScreen::tr("A reading contradicts the likeliest: take it again.");
    return r.tests.empty() && r.built == r.toBuild
               ? SuspectsScreen::tr("More than one is left, and no test of this map tells them apart.")
               : SuspectsScreen::tr("More than one is left; the tests at the right tell them apart.");
}

const RankedSuspect* ranked(const Reasoning& r, int suspect)
{
    const auto at = std::find_if(r.suspects.begin(), r.suspects.end(),
                                 [&](const RankedSuspect& s) { return s.suspect == suspect; });
    return at == r.suspects.end() ? nullptr : &*at;
}

// All members of a group but the first, each with its share of the belief; while set-ups are still computed, and
// parting them, the likeliest.
QString othersOf(const Reasoning& r, const std::vector<int>& members)
{
    const int most = r.built < r.toBuild ? fewOthers : std::numeric_limits<int>::max();
    QStringList others;
    int unlikely = 0;
    for (std::size_t i = 1; i < members.size(); ++i) {
        const RankedSuspect* other = ranked(r, members[i]);
        if (other && others.size() < most)
            others << SuspectsScreen::tr("%1 (%2)").arg(unbroken(other->words), percent(other->probability));
        else
            ++unlikely;
    }
    if (unlikely > 0) others << SuspectsScreen::tr("%n less likely", nullptr, unlikely);
    return others.join(QStringLiteral("; "));
}

// How much of it is on one place, and how much on nothing that the map knows; what of the map is in doubt.
QString glanceWords(const Reasoning& r)
{
    if (r.groups.empty() || r.groups.front().members.empty() || r.readings == 0) return {};
    QString words =
        (r.alike == 1 ? SuspectsScreen::tr("On one place: %1.")
                      : SuspectsScreen::tr("On %n suspects that no test tells apart: %1.", nullptr, r.alike))
            .arg(percent(r.groups.front().probability));
    if (r.notOnMap >= 0.005)
        words += SuspectsScreen::tr(" On nothing that is on this map: %1.").arg(percent(r.notOnMap));
    if (!r.stretch.empty()) words = unbroken(r.stretch) + QLatin1Char(' ') + words;
    if (!r.inDoubt.empty()) words += QLatin1Char(' ') + unbroken(r.inDoubt);
    return words;
}

QLabel* heading(const QString& words, QWidget* parent)
{
    auto* label = new QLabel(words, parent);
    label->setFont(face(18, QFont::Bold));
    return label;
}

}  // namespace

SuspectRow::SuspectRow(QWidget* parent) : QPushButton(parent)
{
    setCheckable(true);
    setFixedHeight(58);
    setCursor(Qt::PointingHandCursor);
}

void SuspectRow::show(const SuspectGroup& group, bool chosen)
{
    group_ = group;
    setChecked(chosen);
    const QString words = QString::fromStdString(group.words);
    setAccessibleName(tr("%1, %2").arg(words, percent(group.probability)));
    setToolTip(plainTip(words));
    update();
}

void SuspectRow::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = Theme::current();
    const QRectF box = QRectF(rect()).adjusted(1, 1, -1, -3);
    drawCard(p, box);
    if (isChecked() || hasFocus()) {
        p.setPen(QPen(t.accent, isChecked() ? 3 : 2));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(box, 6, 6);
    }
    const bool module = group_.insideModule || group_.partlyInside;
    if (module) drawMark(p, QRectF(12, 11, 16, 16), group_.insideModule ? Mark::Diamond : Mark::Half);
    p.setFont(face(16, QFont::Bold));
    p.setPen(t.ink);
    const QString figure = percent(group_.probability);
    const int figureWidth = QFontMetrics(p.font()).horizontalAdvance(tr("over 99 %")) + 6;
    p.drawText(QRectF(box.right() - figureWidth - 10, 6, figureWidth, 26), Qt::AlignRight | Qt::AlignVCenter, figure);
    p.setFont(face(16, isChecked() ? QFont::Bold : QFont::Normal));
    const int left = module ? 34 : 12;
    const int room = static_cast<int>(box.right()) - figureWidth - 18 - left;
    p.drawText(QRectF(left, 6, room, 26), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(QString::fromStdString(group_.words), Qt::ElideRight, room));
    // The likelihood as a length.
    const QRectF track(12, 38, box.width() - 22, 8);
    p.setPen(Qt::NoPen);
    p.setBrush(t.line);
    p.drawRoundedRect(track, 3, 3);
    p.setBrush(t.accent);
    p.drawRoundedRect(
        QRectF(track.left(), track.top(), std::max(3.0, track.width() * group_.probability), track.height()), 3, 3);
}

TestCard::TestCard(QWidget* parent) : QPushButton(parent)
{
    setCursor(Qt::PointingHandCursor);
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Preferred);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

void TestCard::show(int number, const Step& step, const RankedTest& test)
{
    number_ = QString::number(number);
    title_ = QString::fromStdString(step.title);
    reason_ = unbroken(test.reason);
    if (!step.cautions.empty()) reason_ += tr(" Caution: %1").arg(unbroken(step.cautions.front()));
    setAccessibleName(tr("Test %1: %2").arg(number_, title_));
    setAccessibleDescription(reason_);
    updateGeometry();
    update();
}

int TestCard::heightForWidth(int width) const
{
    const QRect room(0, 0, std::max(60, width - 66), 4000);
    return 40 + QFontMetrics(face(15)).boundingRect(room, Qt::TextWordWrap, reason_).height() + 12;
}

void TestCard::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = Theme::current();
    drawCard(p, QRectF(rect()).adjusted(1, 1, -1, -1));
    if (hasFocus()) {
        p.setPen(QPen(t.accent, 2));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(QRectF(rect()).adjusted(2, 2, -2, -2), 6, 6);
    }
    p.setPen(QPen(t.ink, 1.5));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(12, 10, 28, 28), 5, 5);
    p.setFont(face(17, QFont::Bold));
    p.setPen(t.ink);
    p.drawText(QRectF(12, 10, 28, 28), Qt::AlignCenter, number_);
    p.drawText(QRectF(52, 8, width() - 62, 30), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(title_, Qt::ElideRight, width() - 62));
    p.setFont(face(15));
    p.drawText(QRectF(52, 40, width() - 66, height() - 44), Qt::TextWordWrap, reason_);
}

SuspectsScreen::SuspectsScreen(QWidget* parent) : WindowScreen(parent)
{
    setObjectName(QStringLiteral("suspectsScreen"));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 12);
    layout->setSpacing(16);
    auto* left = new QVBoxLayout;
    left->setSpacing(6);
    left->addWidget(heading(tr("Suspects"), this));
    verdict_ = wrappedLabel("suspectsVerdict", face(16, QFont::Bold), this);
    left->addWidget(verdict_);
    glance_ = wrappedLabel("suspectsGlance", face(15), this);
    left->addWidget(glance_);
    rows_ = new QVBoxLayout;
    rows_->setSpacing(2);
    left->addLayout(rows_);
    left->addStretch(1);
    progress_ = wrappedLabel("suspectsProgress", face(14), this);
    left->addWidget(progress_);
    auto* right = new QVBoxLayout;
    right->setSpacing(6);
    right->addWidget(heading(tr("Predicted against measured"), this));
    suspect_ = wrappedLabel("suspectChosen", face(16), this);
    right->addWidget(suspect_);
    members_ = wrappedLabel("suspectMembers", face(15), this);
    right->addWidget(members_);
    readings_ = new QTableWidget(0, 4, this);
    readings_->setObjectName(QStringLiteral("suspectReadings"));
    readings_->setHorizontalHeaderLabels({tr("Seen"), tr("Measured"), tr("Predicted"), tr("Says")});
    readings_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    readings_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    readings_->verticalHeader()->hide();
    readings_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    readings_->setSelectionMode(QAbstractItemView::NoSelection);
    readings_->setFocusPolicy(Qt::NoFocus);
    readings_->setFont(face(15));
    readings_->horizontalHeader()->setFont(face(15));
    readings_->horizontalHeader()->setDefaultAlignment(Qt::AlignVCenter | Qt::AlignLeft);
    right->addWidget(readings_, 1);
    auto* excluding = new QHBoxLayout;
    excluding->setSpacing(10);
    exclusion_ = wrappedLabel("suspectExclusion", face(15), this);
    excluding->addWidget(exclusion_, 1);
    exclude_ = new QPushButton(tr("Take it (X)"), this);
    exclude_->setObjectName(QStringLiteral("suspectExclude"));
    exclude_->setFont(face(15));
    exclude_->setFocusPolicy(Qt::NoFocus);  // X is its key
    connect(exclude_, &QPushButton::clicked, this, &SuspectsScreen::takeExclusion);
    excluding->addWidget(exclude_, 0, Qt::AlignTop);
    right->addLayout(excluding);
    right->addSpacing(6);
    tests_ = heading(tr("Tests that tell most per minute"), this);
    right->addWidget(tests_);
    cards_ = new QVBoxLayout;
    cards_->setSpacing(6);
    right->addLayout(cards_);
    layout->addLayout(left, 5);
    layout->addLayout(right, 6);
}

void SuspectsScreen::setLiveJob(LiveJob* liveJob)
{
    liveJob_ = liveJob;
    chosen_ = 0;
    if (!liveJob_) return;
    connect(liveJob_, &LiveJob::reasoned, this, &SuspectsScreen::refresh);
    refresh();
}

void SuspectsScreen::choose(int group)
{
    chosen_ = group;
    refresh();
}

void SuspectsScreen::refresh()
{
    const Reasoning* r = liveJob_ ? liveJob_->reasoning() : nullptr;
    int rows = 0;
    for (std::size_t g = 0; r && g < r->groups.size() && rows < mostRows; ++g)
        rows += r->groups[g].probability >= worthShowing;
    while (rows_->count() < rows) {
        auto* row = new SuspectRow(this);
        row->setObjectName(QStringLiteral("suspect-%1").arg(rows_->count()));
        const int index = rows_->count();
        connect(row, &QPushButton::clicked, this, [this, index] { choose(index); });
        rows_->addWidget(row);
    }
    chosen_ = std::clamp(chosen_, 0, std::max(0, rows - 1));
    for (int i = 0; i < rows_->count(); ++i) {
        auto* row = static_cast<SuspectRow*>(rows_->itemAt(i)->widget());
        row->setVisible(i < rows);
        if (i < rows) row->show(r->groups[static_cast<std::size_t>(i)], i == chosen_);
    }
    verdict_->setText(r ? verdictWords(*r, QString::fromStdString(liveJob_->map().module)) : tr("Thinking …"));
    glance_->setText(r ? glanceWords(*r) : QString());
    glance_->setVisible(!glance_->text().isEmpty());
    const bool whole = r && r->built >= r->toBuild;
    progress_->setText(!r      ? QString()
                       : whole ? tr("Every test of the map is weighed.")
                               : tr("%1 of %2 set-ups of the machine are computed; better tests may follow.")
                                     .arg(r->built)
                                     .arg(r->toBuild));
    if (r && r->leftOut > 0)
        progress_->setText(tr("%1 Of the many readings %2 that repeat others are not weighed.")
                               .arg(progress_->text())
                               .arg(r->leftOut));
    const int tests = r ? static_cast<int>(std::min(r->steps.size(), r->tests.size())) : 0;
    while (cards_->count() < tests) {
        auto* card = new TestCard(this);
        const int index = cards_->count();
        card->setObjectName(QStringLiteral("suggestion-%1").arg(index + 1));
        connect(card, &QPushButton::clicked, this, [this, index] {
            if (liveJob_->takeSuggestion(static_cast<std::size_t>(index))) emit testTaken();
        });
        cards_->addWidget(card);
    }
    for (int i = 0; i < cards_->count(); ++i) {
        auto* card = static_cast<TestCard*>(cards_->itemAt(i)->widget());
        card->setVisible(i < tests);
        if (i < tests) card->show(i + 1, r->steps[static_cast<std::size_t>(i)], r->tests[static_cast<std::size_t>(i)]);
    }
    tests_->setText(tests > 0 ? tr("Tests that tell most per minute")
                    : r       ? tr("No test of the map tells more")
                              : QString());
    if (r) fillReadings(*r);
    if (r) showExclusion(*r);
    exclusion_->setVisible(r);
    if (!r) exclude_->hide();
}

void SuspectsScreen::showExclusion(const Reasoning& r)
{
    const auto group = static_cast<std::size_t>(chosen_);
    const bool some = group < r.exclusions.size() && r.exclusions[group];
    exclusion_->setText(some ? unbroken(r.exclusions[group]->words)
                             : tr("No single test that is computed excludes it."));
    exclude_->setVisible(some);
}

void SuspectsScreen::takeExclusion()
{
    if (liveJob_ && liveJob_->takeExclusion(static_cast<std::size_t>(chosen_))) emit testTaken();
}

void SuspectsScreen::fillReadings(const Reasoning& r)
{
    std::vector<int> members;
    if (chosen_ < static_cast<int>(r.groups.size())) members = r.groups[static_cast<std::size_t>(chosen_)].members;
    const RankedSuspect* shown = members.empty() ? nullptr : ranked(r, members.front());
    const QString others = othersOf(r, members);
    const QString named = r.built < r.toBuild ? tr("Not told apart so far from: %1.") : tr("Not told apart from: %1.");
    members_->setText(others.isEmpty() ? QString() : named.arg(others));
    members_->setVisible(!others.isEmpty());
    suspect_->setText(shown
                          ? unbroken(shown->words) + (shown->intermittent > 0.5 ? tr(" – comes and goes") : QString()) +
                                (shown->growing > 0.5 ? tr(" – at times far worse") : QString()) +
                                (shown->fitsIf.empty() ? QString() : QStringLiteral("; ") + unbroken(shown->fitsIf))
                          : tr("Not worked out in detail: too unlikely."));
    readings_->setRowCount(0);
    if (!shown) return;
    const Theme& t = Theme::current();
    for (auto it = shown->readings.rbegin(); it != shown->readings.rend(); ++it) {
        const int row = readings_->rowCount();
        readings_->insertRow(row);
        const auto figure = [&](double value) {
            if (!it->isReading) return value > 0.5 ? tr("yes") : tr("no");
            return QString::fromStdString(formatQuantity(it->ohms      ? shownOhms(value)
                                                         : it->current ? amperes(value)
                                                                       : volts(value)));
        };
        const bool against = std::abs(it->z) > 3;
        const QString cells[] = {QString::fromStdString(it->words), it->isReading ? figure(it->measured) : tr("seen"),
                                 it->isReading ? figure(it->predicted) : percent(it->predicted),
                                 against ? tr("against it") : tr("fits")};
        for (int c = 0; c < 4; ++c) {
            // A little air beside the grid lines.
            auto* item = new QTableWidgetItem(QChar(0x2002) + cells[c] + QChar(0x2002));
            if (c > 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            if (c == 3 && against) item->setForeground(t.bad);
            readings_->setItem(row, c, item);
        }
    }
}

// Of the group that is chosen, by the ids of the map.
QStringList SuspectsScreen::placesOfChosen() const
{
    QStringList out;
    const Reasoning& r = *liveJob_->reasoning();
    if (chosen_ >= static_cast<int>(r.groups.size())) return out;
    const Map& map = liveJob_->map();
    for (const int member : r.groups[static_cast<std::size_t>(chosen_)].members) {
        const RankedSuspect* suspect = ranked(r, member);
        for (const Fault& f : suspect ? suspect->faults : std::vector<Fault>{}) {
            if (f.element >= 0) out << QString::fromStdString(map.element(f.element).id);
            for (const Terminal& t : map.terminals) {
                const bool here = f.element >= 0 && passesThrough(map, map.terminalIndex(t.id), f.element);
                if (here || (f.nodeA >= 0 && (t.a == f.nodeA || t.a == f.nodeB))) out << QString::fromStdString(t.id);
            }
        }
    }
    return out;
}

bool SuspectsScreen::key(int key, Qt::KeyboardModifiers, const QString&)
{
    if (!liveJob_ || !liveJob_->reasoning()) return false;
    if (key >= Qt::Key_1 && key <= Qt::Key_3) {
        if (liveJob_->takeSuggestion(static_cast<std::size_t>(key - Qt::Key_1))) emit testTaken();
        return true;
    }
    if (key == Qt::Key_X) return takeExclusion(), true;
    if (key == Qt::Key_H) return emit proceduresWanted(placesOfChosen()), true;
    if (key == Qt::Key_Down || key == Qt::Key_Up) {
        choose(chosen_ + (key == Qt::Key_Down ? 1 : -1));
        return true;
    }
    return false;
}

}  // namespace ilvek::app
