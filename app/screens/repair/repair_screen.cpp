#include "screens/repair/repair_screen.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "repair/closing.h"
#include "repair/repeated.h"
#include "theme.h"
#include "widgets/labels.h"

namespace ilvek::app {

namespace {

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

// A verdict is a word and a shape.
QString marked(Repeated::State state)
{
    static const char* const shapes[] = {"□", "✓", "▲", "?"};
    return QStringLiteral("%1  %2").arg(QString::fromUtf8(shapes[static_cast<std::size_t>(state)]),
                                        QString::fromUtf8(repeatedWord(state).data()));
}

QLabel* heading(const char* name, const QString& words, QWidget* parent)
{
    QLabel* label = wrappedLabel(name, face(20, QFont::Bold), parent);
    label->setText(words);
    return label;
}

}  // namespace

RepairScreen::RepairScreen(QWidget* parent) : WindowScreen(parent)
{
    setObjectName(QStringLiteral("repairScreen"));
    setFocusPolicy(Qt::StrongFocus);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 12);
    layout->setSpacing(22);
    layout->addWidget(makeProof(), 6);
    layout->addWidget(makeEnd(), 4);
}

QWidget* RepairScreen::makeProof()
{
    auto* box = new QWidget(this);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(heading("repairHeading", tr("What was mended"), box));
    auto* row = new QHBoxLayout;
    part_ = new QComboBox(box);
    part_->setObjectName(QStringLiteral("mendedPart"));
    part_->setEditable(true);
    part_->setInsertPolicy(QComboBox::NoInsert);
    part_->setMinimumWidth(150);
    part_->setAccessibleName(tr("Part that was mended"));
    done_ = new QLineEdit(box);
    done_->setObjectName(QStringLiteral("mended"));
    done_->setAccessibleName(tr("What was done"));
    done_->setPlaceholderText(tr("what was done to it, then Enter"));
    connect(done_, &QLineEdit::returnPressed, this, &RepairScreen::enterRepair);
    row->addWidget(part_);
    row->addWidget(done_, 1);
    column->addLayout(row);
    column->addSpacing(8);
    column->addWidget(heading("testsHeading", tr("Read again what failed"), box));
    tests_ = wrappedLabel("testsHint", face(15), box);
    column->addWidget(tests_);
    table_ = new QTableWidget(0, 4, box);
    table_->setObjectName(QStringLiteral("repeatedTests"));
    table_->setHorizontalHeaderLabels({tr("Test"), tr("Before"), tr("After"), tr("Now")});
    table_->verticalHeader()->hide();
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setFocusPolicy(Qt::NoFocus);  // the digits are its keys
    table_->setWordWrap(true);
    table_->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    table_->verticalHeader()->setDefaultSectionSize(38);
    connect(table_, &QTableWidget::cellDoubleClicked, this, [this](int r) { takeAgain(r); });
    column->addWidget(table_, 1);
    return box;
}

QWidget* RepairScreen::makeEnd()
{
    auto* box = new QWidget(this);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(heading("debtsHeading", tr("Owed to the machine"), box));
    debts_ = new QListWidget(box);
    debts_->setObjectName(QStringLiteral("debts"));
    debts_->setAccessibleName(tr("Owed to the machine"));
    debts_->setWordWrap(true);
    column->addWidget(debts_);
    auto* owed = new QHBoxLayout;
    debt_ = new QLineEdit(box);
    debt_->setObjectName(QStringLiteral("debt"));
    debt_->setPlaceholderText(tr("wire cut, bridge, panel off …"));
    debt_->setAccessibleName(tr("What is owed"));
    place_ = new QLineEdit(box);
    place_->setObjectName(QStringLiteral("debtPlace"));
    place_->setPlaceholderText(tr("where, then Enter"));
    place_->setAccessibleName(tr("Where it is owed"));
    for (QLineEdit* edit : {debt_, place_})
        connect(edit, &QLineEdit::returnPressed, this, &RepairScreen::enterDebt);
    good_ = new QPushButton(tr("&Made good …"), box);
    good_->setObjectName(QStringLiteral("madeGood"));
    connect(good_, &QPushButton::clicked, this, &RepairScreen::makeGood);
    owed->addWidget(debt_, 3);
    owed->addWidget(place_, 3);
    owed->addWidget(good_);
    column->addLayout(owed);
    column->addSpacing(10);
    column->addWidget(heading("endHeading", tr("The end of the job"), box));
    ended_ = wrappedLabel("jobEnded", face(17, QFont::Bold), box);
    column->addWidget(ended_);
    open_ = wrappedLabel("openBeforeClosing", face(16), box);
    column->addWidget(open_);
    verdict_ = new QComboBox(box);
    verdict_->setObjectName(QStringLiteral("endVerdict"));
    verdict_->setAccessibleName(tr("How it ends"));
    for (int v = 0; v <= static_cast<int>(JobClosed::Verdict::AskedForHelp); ++v)
        verdict_->addItem(QString::fromUtf8(verdictWords(static_cast<JobClosed::Verdict>(v)).data()), v);
    reasons_ = new QLineEdit(box);
    reasons_->setObjectName(QStringLiteral("endReasons"));
    reasons_->setPlaceholderText(tr("reasons, in your words"));
    reasons_->setAccessibleName(tr("Reasons"));
    connect(reasons_, &QLineEdit::returnPressed, this, &RepairScreen::closeJob);
    close_ = new QPushButton(tr("&Close the job"), box);
    close_->setObjectName(QStringLiteral("closeJob"));
    close_->setMinimumHeight(40);
    close_->setFont(face(17));
    connect(close_, &QPushButton::clicked, this, &RepairScreen::closeJob);
    column->addWidget(verdict_);
    column->addWidget(reasons_);
    column->addWidget(close_);
    column->addStretch(1);
    return box;
}

void RepairScreen::setLiveJob(LiveJob* liveJob)
{
    liveJob_ = liveJob;
    for (QLineEdit* edit : {done_, debt_, place_, reasons_})
        edit->clear();
    part_->clear();
    if (!liveJob_) return;
    for (const Element& e : liveJob_->map().elements) {
        if (e.place != "inside the module") part_->addItem(text(e.id));
    }
    part_->setCurrentIndex(-1);
    part_->lineEdit()->setPlaceholderText(tr("part"));
    connect(liveJob_, &LiveJob::changed, this, [this] {
        if (isVisible()) refresh();
    });
    connect(liveJob_, &LiveJob::reasoned, this, [this] {
        if (isVisible()) fillEnd();
    });
}

void RepairScreen::showEvent(QShowEvent*)
{
    setFocus();  // the digits are keys here, until a field is chosen
    refresh();
}

void RepairScreen::refresh()
{
    if (!liveJob_) return;
    fillTests();
    fillDebts();
    fillEnd();
}

void RepairScreen::fillTests()
{
    const Assessment& a = liveJob_->assessment();
    const auto all = repeatedAfterRepair(liveJob_->map(), a);
    const bool repaired = !liveJob_->job().repairs.empty();
    tests_->setText(!repaired ? tr("Nothing was mended yet.")
                    : all.empty()
                        ? tr("Nothing had failed before it.")
                        : tr("The same leads, load and state, or nothing is proven. 1 to 9 places the leads."));
    table_->setRowCount(static_cast<int>(all.size()));
    table_->setVisible(!all.empty());
    const auto loads = loadCatalogue(liveJob_->map().systemVoltage_V);
    for (int r = 0; r < static_cast<int>(all.size()); ++r) {
        const Repeated& one = all[static_cast<std::size_t>(r)];
        const Reading& before = a.evidence.readings[one.before];
        QString test =
            tr("%1  %2, %3").arg(r + 1).arg(text(before.terminal), QString::fromUtf8(testName(before.test).data()));
        if (const SubstituteLoad* load = findLoad(loads, before.load)) test += tr(", %1").arg(text(load->name));
        const QString after = one.after ? text(figureOf(a.evidence.readings[*one.after])) : QStringLiteral("–");
        const QString words[] = {test, text(figureOf(before)), after, marked(one.state)};
        for (int c = 0; c < 4; ++c) {
            auto* item = new QTableWidgetItem(words[c]);
            item->setFont(face(c == 0 ? 15 : 18, c == 2 || c == 3 ? QFont::Bold : QFont::Normal));
            item->setToolTip(text(repeatedWords(a, one)));
            if (c == 3 && one.state == Repeated::State::StillFails) item->setForeground(Theme::current().bad);
            if (c == 3 && one.state == Repeated::State::Right) item->setForeground(Theme::current().good);
            table_->setItem(r, c, item);
        }
    }
}

void RepairScreen::fillDebts()
{
    debts_->clear();
    bool some = false;
    for (const Owed& owed : liveJob_->job().debts) {
        const QString what = text(owed.debt.what + (owed.debt.place.empty() ? "" : ", " + owed.debt.place));
        auto* item = new QListWidgetItem(owed.cleared ? tr("✓  %1: %2").arg(what, text(owed.cleared->text))
                                                      : tr("▲  %1").arg(what));
        item->setData(Qt::UserRole, QVariant::fromValue<qlonglong>(owed.cleared ? 0 : owed.id));
        item->setFont(face(16, owed.cleared ? QFont::Normal : QFont::Bold));
        if (!owed.cleared) item->setForeground(Theme::current().bad), some = true;
        debts_->addItem(item);
        if (!owed.cleared) debts_->setCurrentItem(item);
    }
    constexpr int rowHeight = 27, most = 5;
    debts_->setFixedHeight(rowHeight * std::min(most, debts_->count()) + 6);
    debts_->setVisible(debts_->count() > 0);
    good_->setEnabled(some);
}

void RepairScreen::fillEnd()
{
    const Job& job = liveJob_->job();
    ended_->setVisible(job.closed.has_value());
    if (job.closed) {
        const JobClosed& how = job.closed->how;
        const QString grade = how.grade.empty() ? QString() : tr(" (%1)").arg(text(how.grade));
        ended_->setText(
            tr("Closed: %1%2. %3").arg(QString::fromUtf8(verdictWords(how.verdict).data()), grade, text(how.reasons)));
    }
    QStringList lines;
    for (const std::string& line : openBeforeClosing(job, liveJob_->assessment()))
        lines << QStringLiteral("▲  ") + text(line);
    // The fields below keep their place; all of it stands in the tooltip.
    constexpr int mostLines = 6;
    open_->setToolTip(lines.size() > mostLines ? plainTip(lines.join(QLatin1Char('\n'))) : QString());
    if (const auto more = lines.size() - mostLines; more > 0)
        lines = lines.mid(0, mostLines) << tr("and %n more", nullptr, static_cast<int>(more));
    open_->setText(lines.isEmpty() ? tr("Nothing is left open.") : lines.join(QLatin1Char('\n')));
    setTextColour(open_, lines.isEmpty() ? Theme::current().ink : Theme::current().bad);
    close_->setText(job.closed ? tr("&Close it anew") : tr("&Close the job"));
}

void RepairScreen::enterRepair()
{
    const QString done = done_->text().trimmed(), part = part_->currentText().trimmed();
    if (!liveJob_ || done.isEmpty()) return;
    if (part.isEmpty()) return emit said(tr("Which part was it? What it touched is read again."), true);
    if (liveJob_->map().elementIndex(part.toStdString()) < 0 && liveJob_->map().terminalIndex(part.toStdString()) < 0)
        return emit said(tr("“%1” is no part of this machine.").arg(part), true);
    done_->clear();
    if (!liveJob_->enter(Repair{0, {part.toStdString()}, (part + QStringLiteral(": ") + done).toStdString()}))
        done_->setText(done);
}

void RepairScreen::enterDebt()
{
    const QString what = debt_->text().trimmed();
    if (!liveJob_ || what.isEmpty()) return;
    if (liveJob_->enter(Debt{what.toStdString(), place_->text().trimmed().toStdString()}))
        debt_->clear(), place_->clear();
}

void RepairScreen::makeGood()
{
    const QListWidgetItem* item = debts_->currentItem();
    const auto debt = item ? item->data(Qt::UserRole).toLongLong() : 0;
    if (!liveJob_ || debt == 0) return emit said(tr("Choose what was made good."), true);
    bool taken = false;
    const QString how =
        QInputDialog::getText(this, tr("Made good"), tr("How was it made good?"), QLineEdit::Normal, {}, &taken)
            .trimmed();
    if (taken && !how.isEmpty()) liveJob_->enter(DebtCleared{debt, how.toStdString()});
}

void RepairScreen::closeJob()
{
    if (!liveJob_) return;
    const auto verdict = static_cast<JobClosed::Verdict>(verdict_->currentData().toInt());
    auto closed = closing(liveJob_->job(), liveJob_->assessment(), liveJob_->gate(), verdict,
                          reasons_->text().trimmed().toStdString());
    if (!closed) return emit said(text(closed.error().message()), true);
    if (liveJob_->enter(std::move(*closed))) {
        reasons_->clear();
        emit said(tr("The job is closed. A new reading opens it again."), false);
    }
}

void RepairScreen::takeAgain(int row)
{
    const auto all = repeatedAfterRepair(liveJob_->map(), liveJob_->assessment());
    if (row < 0 || row >= static_cast<int>(all.size())) return;
    SetUp setUp = liveJob_->assessment().evidence.readings[all[static_cast<std::size_t>(row)].before];
    setUp.touched.clear();
    liveJob_->placeLeads(setUp);
    emit testWanted();
}

bool RepairScreen::key(int key, Qt::KeyboardModifiers modifiers, const QString&)
{
    if (!liveJob_ || modifiers != Qt::NoModifier || key < Qt::Key_1 || key > Qt::Key_9) return false;
    if (key - Qt::Key_1 >= table_->rowCount()) return false;
    takeAgain(key - Qt::Key_1);
    return true;
}

}  // namespace ilvek::app
