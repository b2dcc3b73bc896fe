#include "screens/repair/repair_screen.h"

#include <QBuffer>
#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QImageReader>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>
#include <QVBoxLayout>

#include "experience/known_good.h"
#include "repair/closing.h"
#include "repair/repeated.h"
#include "report/report.h"
#include "screens/repair/behind_page.h"
#include "screens/repair/ways_page.h"
#include "theme.h"
#include "widgets/labels.h"
#include "widgets/staircase_picture.h"
#include "widgets/tell_dialogs.h"

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

}  // namespace

RepairScreen::RepairScreen(QWidget* parent) : WindowScreen(parent)
{
    setObjectName(QStringLiteral("repairScreen"));
    setFocusPolicy(Qt::StrongFocus);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 12);
    layout->setSpacing(22);
    pages_ = new QTabWidget(this);
    pages_->setObjectName(QStringLiteral("repairPages"));
    pages_->setDocumentMode(true);
    pages_->setFont(face(17));
    behind_ = new BehindPage(this);
    ways_ = new WaysPage(this);
    pages_->addTab(makeProof(), tr("Mended and proven"));
    pages_->addTab(behind_, tr("What lies behind"));
    pages_->addTab(ways_, tr("Repair or replace"));
    connect(behind_, &BehindPage::testWanted, this, &RepairScreen::testWanted);
    connect(ways_, &WaysPage::said, this, &RepairScreen::said);
    connect(pages_, &QTabWidget::currentChanged, this, [this] {
        setFocus();  // the keys of the page
        refresh();
    });
    layout->addWidget(pages_, 6);
    layout->addWidget(makeEnd(), 4);
}

QWidget* RepairScreen::makeProof()
{
    auto* box = new QWidget(this);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 8, 0, 0);
    column->addWidget(headingLabel("repairHeading", tr("What was mended"), box));
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
    column->addWidget(headingLabel("testsHeading", tr("Read again what failed"), box));
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
    staircase_ = new StaircasePicture(box);
    column->addWidget(staircase_, 1);
    worked_ = wrappedLabel("workTested", face(16), box);
    column->addWidget(worked_);
    auto* tried = new QHBoxLayout;
    work_ = new QLineEdit(box);
    work_->setObjectName(QStringLiteral("workTest"));
    work_->setAccessibleName(tr("Road or work test"));
    work_->setPlaceholderText(tr("road or work test: what, how long"));
    values_ = new QLineEdit(box);
    values_->setObjectName(QStringLiteral("workValues"));
    values_->setAccessibleName(tr("Values while it worked"));
    values_->setPlaceholderText(tr("values, then Enter"));
    connect(values_, &QLineEdit::returnPressed, this, [this] { enterWork(true); });
    connect(work_, &QLineEdit::returnPressed, values_, qOverload<>(&QLineEdit::setFocus));
    auto* failed = new QPushButton(tr("Not in order"), box);
    failed->setObjectName(QStringLiteral("workFailed"));
    connect(failed, &QPushButton::clicked, this, [this] { enterWork(false); });
    tried->addWidget(work_, 3);
    tried->addWidget(values_, 2);
    tried->addWidget(failed);
    column->addLayout(tried);
    auto* row2 = new QHBoxLayout;
    auto* functions = new QPushButton(tr("&Functions tried …"), box);
    functions->setObjectName(QStringLiteral("functionsTried"));
    functions->setToolTip(tr("Which of them work now (F)"));
    connect(functions, &QPushButton::clicked, this, &RepairScreen::tryFunctions);
    auto* codes = new QPushButton(tr("Codes cleared, &none came back"), box);
    codes->setObjectName(QStringLiteral("codesAway"));
    codes->setToolTip(tr("Codes that came back stand on the Job screen (F2)"));
    connect(codes, &QPushButton::clicked, this, [this] {
        if (liveJob_) liveJob_->enter(CodesRead{});
    });
    row2->addWidget(functions);
    row2->addWidget(codes);
    row2->addStretch(1);
    column->addLayout(row2);
    return box;
}

QWidget* RepairScreen::makeEnd()
{
    auto* box = new QWidget(this);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(headingLabel("debtsHeading", tr("Owed to the machine"), box));
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
    column->addWidget(headingLabel("endHeading", tr("The end of the job"), box));
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
    auto* photo = new QPushButton(tr("Keep a &photo …"), box);
    photo->setObjectName(QStringLiteral("keepPhoto"));
    photo->setToolTip(tr("A picture of what was looked at, kept in the job"));
    connect(photo, &QPushButton::clicked, this, &RepairScreen::attachPhoto);
    keep_ = new QPushButton(box);
    keep_->setObjectName(QStringLiteral("keepGood"));
    keep_->setToolTip(tr("Next time they stand beside what the map expects"));
    connect(keep_, &QPushButton::clicked, this, &RepairScreen::keepWanted);
    auto* kept = new QHBoxLayout;
    kept->addWidget(keep_);
    kept->addWidget(photo);
    kept->addStretch(1);
    column->addLayout(kept);
    column->addStretch(1);
    return box;
}

void RepairScreen::setLiveJob(LiveJob* liveJob)
{
    liveJob_ = liveJob;
    for (QLineEdit* edit : {done_, debt_, place_, reasons_, work_, values_})
        edit->clear();
    behind_->show(nullptr), ways_->show(nullptr);
    part_->clear();
    if (!liveJob_) return;
    part_->addItem(text(liveJob_->map().module));
    for (const Element& e : liveJob_->map().elements) {
        if (e.place != "inside the module") part_->addItem(text(e.id));
    }
    part_->setCurrentIndex(-1);
    part_->lineEdit()->setPlaceholderText(tr("part"));
    connect(liveJob_, &LiveJob::changed, this, [this] {
        if (isVisible()) refresh();
    });
    connect(liveJob_, &LiveJob::reasoned, this, [this] {
        if (!isVisible()) return;
        fillEnd();
        if (pages_->currentWidget() == behind_) behind_->show(liveJob_);
        if (pages_->currentWidget() == ways_) ways_->show(liveJob_);
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
    if (pages_->currentWidget() == behind_) behind_->show(liveJob_);
    if (pages_->currentWidget() == ways_) ways_->show(liveJob_);
    fillTests();
    fillStaircase();
    fillWork();
    fillDebts();
    fillEnd();
}

void RepairScreen::takeOver()
{
    if (liveJob_) ways_->takeOver();
}

// Of the first that was read again, or failed.
void RepairScreen::fillStaircase()
{
    const Assessment& a = liveJob_->assessment();
    const auto all = repeatedAfterRepair(a);
    std::string svg;
    QString words;
    for (const Repeated& r : all) {
        const std::string& terminal = a.evidence.readings[r.before].terminal;
        const int at = liveJob_->map().terminalIndex(terminal);
        if (at < 0 || !svg.empty()) continue;
        svg = staircaseSvg(liveJob_->map(), a.evidence, at);
        words = tr("Staircase of %1, before and after").arg(text(terminal));
    }
    staircase_->show(svg, words);
}

void RepairScreen::fillWork()
{
    QStringList lines;
    for (const WorkDone& w : liveJob_->job().workTests)
        lines << tr("%1  %2: %3")
                     .arg(w.tried.held ? QStringLiteral("✓") : QStringLiteral("▲"), text(w.tried.what),
                          text(w.tried.values.empty() ? (w.tried.held ? "in order" : "not in order") : w.tried.values));
    worked_->setText(lines.join(QLatin1Char('\n')));
    worked_->setVisible(!lines.isEmpty());
}

void RepairScreen::enterWork(bool held)
{
    if (!liveJob_ || work_->text().trimmed().isEmpty()) return emit said(tr("What was done with the machine?"), true);
    if (liveJob_->enter(
            WorkTried{work_->text().trimmed().toStdString(), values_->text().trimmed().toStdString(), held}))
        work_->clear(), values_->clear();
}

// As built, each in the state that it is tried in.
void RepairScreen::tryFunctions()
{
    if (!liveJob_) return;
    FunctionsDialog dialog(tr("Which functions work now?"), liveJob_->map().functions, this);
    if (dialog.exec() != QDialog::Accepted || !dialog.isAnyTried()) return;
    SetUp asBuilt;
    asBuilt.state = liveJob_->job().state;
    liveJob_->enter(dialog.seenIn(asBuilt));
}

// Smaller than it was taken: a job stays a file that can be sent.
void RepairScreen::attachPhoto()
{
    if (!liveJob_) return;
    const QString path = QFileDialog::getOpenFileName(this, tr("A photo"), {}, tr("Photos (*.jpg *.jpeg *.png)"));
    if (path.isEmpty()) return;
    keepPhoto(path);
}

void RepairScreen::keepPhoto(const QString& path)
{
    QImageReader reader(path);
    reader.setAutoTransform(true);
    QImage image = reader.read();
    if (image.isNull()) return emit said(tr("%1: %2").arg(path, reader.errorString()), true);
    constexpr int mostPixels = 1600, quality = 80;
    if (std::max(image.width(), image.height()) > mostPixels)
        image = image.scaled(mostPixels, mostPixels, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "JPEG", quality);
    Photo photo{QFileInfo(path).fileName().toStdString(), QFileInfo(path).completeBaseName().toStdString(),
                bytes.toBase64().toStdString()};
    const auto& events = liveJob_->journal().content().events;
    photo.of = events.empty() ? 0 : events.back().id;
    if (liveJob_->enter(std::move(photo)))
        emit said(tr("The photo is kept in the job; it stands on the report."), false);
}

void RepairScreen::fillTests()
{
    const Assessment& a = liveJob_->assessment();
    const auto all = repeatedAfterRepair(a);
    const bool repaired = !liveJob_->job().repairs.empty();
    tests_->setText(!repaired ? tr("Nothing was mended yet.")
                    : all.empty()
                        ? tr("Nothing had failed before it.")
                        : tr("The same leads, load and state, or nothing is proven. 1 to 9 places the leads."));
    table_->setRowCount(static_cast<int>(all.size()));
    table_->setVisible(!all.empty());
    for (int r = 0; r < static_cast<int>(all.size()); ++r) {
        const Repeated& one = all[static_cast<std::size_t>(r)];
        const Reading& before = a.evidence.readings[one.before];
        QString test =
            tr("%1  %2, %3")
                .arg(r + 1)
                .arg(text(repeatedPlace(liveJob_->map(), before)), QString::fromUtf8(testName(before.test).data()));
        if (const auto load = findLoad(liveJob_->map().systemVoltage_V, before.load))
            test += tr(", %1").arg(text(load->name));
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
    if (const auto behind = openBehind(job, liveJob_->assessment()); !behind.empty())
        lines << tr("□  What lies behind it: %1 questions have no answer.").arg(behind.size());
    // The fields below keep their place; all of it stands in the tooltip.
    constexpr int mostLines = 6;
    open_->setToolTip(lines.size() > mostLines ? plainTip(lines.join(QLatin1Char('\n'))) : QString());
    if (const auto more = lines.size() - mostLines; more > 0)
        lines = lines.mid(0, mostLines) << tr("and %n more", nullptr, static_cast<int>(more));
    const bool unmended = job.repairs.empty() && !liveJob_->gate().located.empty();
    if (unmended) lines.prepend(tr("□  What was found is not mended yet."));
    open_->setText(lines.isEmpty() ? tr("Nothing is left open.") : lines.join(QLatin1Char('\n')));
    setTextColour(open_, lines.isEmpty() ? Theme::current().ink : Theme::current().bad);
    const auto good = goodReadings(job, liveJob_->assessment(), {}).size();
    keep_->setVisible(good > 0);
    keep_->setText(tr("Keep the %1 &good figures for this machine type").arg(good));
    close_->setText(job.closed ? tr("&Close it anew") : tr("&Close the job"));
}

void RepairScreen::enterRepair()
{
    const QString done = done_->text().trimmed(), part = part_->currentText().trimmed();
    if (!liveJob_ || done.isEmpty()) return;
    if (part.isEmpty()) return emit said(tr("Which part was it? What it touched is read again."), true);
    const std::string mended = mendedName(liveJob_->map(), part.toStdString());
    if (mended.empty()) return emit said(tr("“%1” is no part of this machine.").arg(part), true);
    done_->clear();
    if (!liveJob_->enter(Repair{0, {mended}, (part + QStringLiteral(": ") + done).toStdString()})) done_->setText(done);
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
        emit jobClosed();
    }
}

void RepairScreen::takeAgain(int row)
{
    const auto all = repeatedAfterRepair(liveJob_->assessment());
    if (row < 0 || row >= static_cast<int>(all.size())) return;
    SetUp setUp = liveJob_->assessment().evidence.readings[all[static_cast<std::size_t>(row)].before];
    setUp.touched.clear();
    liveJob_->placeLeads(setUp);
    emit testWanted();
}

bool RepairScreen::key(int key, Qt::KeyboardModifiers modifiers, const QString&)
{
    if (!liveJob_ || modifiers & ~Qt::KeypadModifier) return false;
    if (key == Qt::Key_Left || key == Qt::Key_Right) {
        pages_->setCurrentIndex(pages_->currentIndex() + (key == Qt::Key_Left ? -1 : 1));
        return true;
    }
    if (pages_->currentWidget() == behind_) return behind_->key(key);
    if (pages_->currentIndex() == 0 && key == Qt::Key_F) return tryFunctions(), true;
    if (pages_->currentIndex() != 0 || key < Qt::Key_1 || key > Qt::Key_9) return false;
    if (key - Qt::Key_1 >= table_->rowCount()) return false;
    takeAgain(key - Qt::Key_1);
    return true;
}

}  // namespace ilvek::app
