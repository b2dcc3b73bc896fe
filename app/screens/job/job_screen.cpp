#include "screens/job/job_screen.h"

#include <QApplication>
#include <QComboBox>
#include <QDateTime>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QGroupBox>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <functional>

#include "base/file.h"
#include "job/entry_words.h"
#include "open_job/chart_text.h"
#include "repair/repeated.h"
#include "theme.h"
#include "widgets/text_area.h"

namespace ilvek::app {

namespace {

// In the order of the list.
constexpr const char* schoolsOfShort[] = {"", "breaker", "ohms", "fuse"};

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

TextArea* area(const char* name, int lines)
{
    auto* edit = new TextArea;
    edit->setObjectName(QLatin1String(name));
    edit->setFixedHeight(lines * 21 + 14);
    return edit;
}

QLineEdit* line(const char* name)
{
    auto* edit = new QLineEdit;
    edit->setObjectName(QLatin1String(name));
    edit->setMinimumHeight(30);
    edit->setTextMargins(5, 0, 5, 0);
    return edit;
}

std::vector<std::string> linesOf(const TextArea* edit)
{
    std::vector<std::string> out;
    for (const QString& l : edit->toPlainText().split(QLatin1Char('\n'))) {
        if (!l.trimmed().isEmpty()) out.push_back(l.trimmed().toStdString());
    }
    return out;
}

QString joined(const std::vector<std::string>& lines)
{
    QStringList out;
    for (const std::string& l : lines)
        out << text(l);
    return out.join(QLatin1Char('\n'));
}

QGroupBox* group(const QString& title, QLayout* layout)
{
    auto* box = new QGroupBox(title);
    box->setLayout(layout);
    return box;
}

QString cell(const QTableWidget* table, int row, int column)
{
    const auto* item = table->item(row, column);
    return item ? item->text().trimmed() : QString();
}

// What a field shows, as one text.
QString contentOf(const QWidget* field)
{
    if (const auto* edit = qobject_cast<const QLineEdit*>(field)) return edit->text();
    if (const auto* edit = qobject_cast<const QPlainTextEdit*>(field)) return edit->toPlainText();
    QStringList cells;
    if (const auto* table = qobject_cast<const QTableWidget*>(field)) {
        for (int row = 0; row < table->rowCount(); ++row) {
            for (int column = 0; column < table->columnCount(); ++column)
                cells << cell(table, row, column);
        }
    }
    while (!cells.isEmpty() && cells.last().isEmpty())
        cells.removeLast();
    return cells.join(QChar(0x1F));
}

}  // namespace

JobScreen::JobScreen(QWidget* parent) : WindowScreen(parent)
{
    setObjectName(QStringLiteral("jobScreen"));
    auto* inside = new QWidget;
    auto* columns = new QHBoxLayout(inside);
    columns->setContentsMargins(12, 10, 12, 12);
    columns->setSpacing(14);
    auto* left = new QVBoxLayout;
    left->addWidget(makeDetails());
    left->addWidget(makeComplaint());
    left->addStretch(1);
    auto* right = new QVBoxLayout;
    right->addWidget(makeCodes());
    right->addWidget(makeWay());
    right->addWidget(makeJournal(), 1);
    columns->addLayout(left, 1);
    columns->addLayout(right, 1);
    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidget(inside);
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->addWidget(scroll);
}

QWidget* JobScreen::makeDetails()
{
    auto* form = new QFormLayout;
    form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
    machine_ = new QLabel;
    machine_->setObjectName(QStringLiteral("jobMachine"));
    machine_->setWordWrap(true);
    machine_->setTextFormat(Qt::PlainText);
    form->addRow(tr("Machine"), machine_);
    found_ = new QLabel;
    found_->setObjectName(QStringLiteral("jobFound"));
    found_->setWordWrap(true);
    found_->setTextFormat(Qt::PlainText);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const char* name, const QString& words, const QString& tip, void (JobScreen::*signal)()) {
        auto* b = new QPushButton(words);
        b->setObjectName(QLatin1String(name));
        b->setToolTip(tip);
        connect(b, &QPushButton::clicked, this, signal);
        buttons->addWidget(b);
    };
    button("benchPins", tr("&Pins …"), tr("The rows of the map: add, correct, state what was not known (F7)"),
           &JobScreen::pinsWanted);
    button("keepMachine", tr("&Keep for the next job"),
           tr("The map as drawn and what this job found are kept in the list of machines"), &JobScreen::keepWanted);
    button("makersChart", tr("Maker's chart …"),
           tr("A text table, one step a line: step | test | if | then | else. It is followed on the Procedures screen"),
           &JobScreen::chooseChart);
    buttons->addStretch(1);
    form->addRow(QString(), found_);
    form->addRow(QString(), buttons);
    form->addRow(tr("&Title"), title_ = line("jobTitle"));
    form->addRow(tr("C&ustomer"), customer_ = line("jobCustomer"));
    form->addRow(tr("S&erial number"), serial_ = line("jobSerial"));
    form->addRow(tr("&Hours or distance"), hours_ = line("jobHours"));
    form->addRow(tr("Technic&ian"), technician_ = line("jobTechnician"));
    for (QLineEdit* edit : {title_, customer_, serial_, hours_, technician_})
        connect(edit, &QLineEdit::editingFinished, this, &JobScreen::takeOver);
    return group(tr("Job"), form);
}

void JobScreen::chooseChart()
{
    if (!liveJob_) return;
    const QString path =
        QFileDialog::getOpenFileName(this, tr("A maker's chart"), {}, tr("Charts (*.txt *.csv);;All files (*)"));
    if (!path.isEmpty()) takeChart(path);
}

void JobScreen::takeChart(const QString& path)
{
    const auto text = readFile(path.toStdString());
    auto steps = text ? parseChart(liveJob_->map(), *text, liveJob_->job().state)
                      : Result<std::vector<ChartStep>>(tl::unexpected(text.error()));
    if (!steps) {
        emit said(QString::fromStdString(steps.error().message()), true);
        return;
    }
    const auto count = static_cast<int>(steps->size());
    if (liveJob_->enter(ChartEntered{QFileInfo(path).fileName().toStdString(), std::move(*steps)}))
        emit said(tr("Chart taken, %n step(s): F11 follows it.", nullptr, count), false);
}

QWidget* JobScreen::makeComplaint()
{
    auto* form = new QFormLayout;
    form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
    form->setRowWrapPolicy(QFormLayout::WrapAllRows);
    form->addRow(tr("What &fails"), complaint_ = area("complaintText", 3));
    form->addRow(tr("&When: hot, wet, over bumps, after how long"), when_ = line("complaintWhen"));
    form->addRow(tr("Functions that fail, one a line"), fails_ = area("complaintFails", 3));
    form->addRow(tr("What still wor&ks, one a line"), works_ = area("complaintWorks", 4));
    for (TextArea* edit : {fails_, works_})
        edit->setToolTip(tr("Functions by the names of the map count as evidence; other words are kept as they are."));
    form->addRow(tr("What was &replaced already, one a line"), replaced_ = area("complaintReplaced", 2));
    for (TextArea* edit : {complaint_, fails_, works_, replaced_})
        connect(edit, &TextArea::left, this, &JobScreen::takeOver);
    connect(when_, &QLineEdit::editingFinished, this, &JobScreen::takeOver);
    return group(tr("Complaint"), form);
}

QWidget* JobScreen::makeCodes()
{
    codes_ = new QTableWidget(4, 3);
    codes_->setObjectName(QStringLiteral("codes"));
    codes_->setHorizontalHeaderLabels({tr("Code"), tr("Says"), tr("Set by, and stored conditions")});
    codes_->horizontalHeader()->setSectionResizeMode(2, QHeaderView::Stretch);
    codes_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    codes_->horizontalHeader()->setMinimumSectionSize(100);  // room to type in
    codes_->verticalHeader()->hide();
    codes_->setTabKeyNavigation(false);
    codes_->setWordWrap(true);
    codes_->setFixedHeight(150);
    connect(codes_, &QTableWidget::itemChanged, this, [this] {
        if (!filling_) takeOver();
    });
    auto* layout = new QVBoxLayout;
    layout->addWidget(codes_);
    auto* hint =
        new QLabel(tr("A code is evidence with a strength, not a verdict: note which electrical condition sets it."));
    hint->setWordWrap(true);
    layout->addWidget(hint);
    return group(tr("Fault codes"), layout);
}

QWidget* JobScreen::makeWay()
{
    mated_ = new QComboBox;
    mated_->setObjectName(QStringLiteral("wayMated"));
    mated_->addItems(
        {tr("unmated, substitute load (spares the module)"), tr("mated, back-probed (true current and contact)")});
    order_ = new QComboBox;
    order_->setObjectName(QStringLiteral("wayOrder"));
    order_->addItems({tr("supply first (nothing is assumed)"), tr("signal first (it proves feed and return)")});
    short_ = new QComboBox;
    short_->setObjectName(QStringLiteral("wayShort"));
    short_->addItems({tr("lamp (limits the current, stays lit)"), tr("breaker of the same rating (allows repeats)"),
                      tr("ohmmeter first (nothing is switched on)"), tr("a new fuse to see (heats the fault)")});
    full_ = new QComboBox;
    full_->setObjectName(QStringLiteral("wayBattery"));
    full_->addItems({tr("customary (half charged will do)"), tr("strict (full before anything is judged)")});
    state_ = new QComboBox;
    state_->setObjectName(QStringLiteral("operatingState"));
    for (QComboBox* box : {mated_, order_, short_, full_, state_}) {
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(18);
        box->setMinimumHeight(30);
    }
    auto* form = new QFormLayout;
    form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
    form->addRow(tr("&State now"), state_);
    form->addRow(tr("&Probe"), mated_);
    form->addRow(tr("&Order"), order_);
    form->addRow(tr("S&hort on a fuse"), short_);
    form->addRow(tr("&Full battery"), full_);
    meter_ = line("meterName");
    inputResistance_ = line("meterInput");
    clamp_ = line("clampScale");
    clamp_->setPlaceholderText(tr("shows A"));
    inputResistance_->setMaximumWidth(90);
    clamp_->setMaximumWidth(110);
    auto* meterRow = new QHBoxLayout;
    meterRow->addWidget(meter_, 1);
    meterRow->addWidget(inputResistance_);
    meterRow->addWidget(clamp_);
    auto* meterLabel = new QLabel(tr("&Meter, input, clamp"));
    meterLabel->setBuddy(meter_);
    form->addRow(meterLabel, meterRow);
    clamp_->setToolTip(tr("Clamp scale, as 10 mV/A; then millivolts typed after @ become amperes: 7.90 @ 14 mV"));
    for (QLineEdit* edit : {meter_, inputResistance_, clamp_})
        connect(edit, &QLineEdit::editingFinished, this, &JobScreen::enterInstrument);
    const auto working = [this] {
        if (filling_ || !liveJob_) return;
        WayOfWorking wanted = liveJob_->job().evidence.working;
        wanted.mated = mated_->currentIndex() == 1;
        wanted.signalFirst = order_->currentIndex() == 1;
        wanted.shortBy = schoolsOfShort[static_cast<std::size_t>(short_->currentIndex())];
        wanted.strictBattery = full_->currentIndex() == 1;
        liveJob_->enter(WayOfWorkingChange{wanted});
    };
    connect(mated_, &QComboBox::activated, this, working);
    connect(order_, &QComboBox::activated, this, working);
    connect(short_, &QComboBox::activated, this, working);
    connect(full_, &QComboBox::activated, this, working);
    connect(state_, &QComboBox::activated, this, [this](int index) {
        if (liveJob_ && !filling_) liveJob_->enter(StateChange{liveJob_->map().state(index).id});
    });
    return group(tr("Way of working"), form);
}

QWidget* JobScreen::makeJournal()
{
    journal_ = new QListWidget;
    journal_->setObjectName(QStringLiteral("journal"));
    journal_->setAccessibleName(tr("Journal"));
    journal_->setMinimumHeight(150);
    journal_->setSpacing(2);
    journal_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    note_ = line("note");
    note_->setPlaceholderText(tr("a note, then Enter"));
    repair_ = line("repair");
    repair_->setPlaceholderText(tr("what was done, then Enter"));
    repaired_ = new QComboBox;
    repaired_->setObjectName(QStringLiteral("repairedPart"));
    repaired_->setEditable(true);
    repaired_->setInsertPolicy(QComboBox::NoInsert);
    repaired_->setMinimumWidth(110);
    connect(note_, &QLineEdit::editingFinished, this, &JobScreen::enterNote);
    connect(repair_, &QLineEdit::editingFinished, this, &JobScreen::enterRepair);
    auto* layout = new QVBoxLayout;
    layout->addWidget(journal_, 1);
    auto* withdraw = new QPushButton(tr("Withdraw the chosen &entry"));
    withdraw->setObjectName(QStringLiteral("withdraw"));
    withdraw->setToolTip(tr("The journal keeps both: the entry and that it was withdrawn"));
    connect(withdraw, &QPushButton::clicked, this, [this] {
        const auto* item = journal_->currentItem();
        const auto id = item ? item->data(Qt::UserRole).toLongLong() : 0;
        if (liveJob_ && id > 0 && !liveJob_->job().withdrawn.contains(id)) liveJob_->enter(Undo{id});
    });
    layout->addWidget(withdraw, 0, Qt::AlignLeft);
    auto* form = new QFormLayout;
    form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
    form->addRow(tr("&Note"), note_);
    auto* row = new QHBoxLayout;
    row->addWidget(repaired_);
    row->addWidget(repair_, 1);
    auto* label = new QLabel(tr("Repaire&d"));
    label->setBuddy(repair_);
    form->addRow(label, row);
    layout->addLayout(form);
    return group(tr("Journal"), layout);
}

void JobScreen::setLiveJob(LiveJob* liveJob)
{
    liveJob_ = liveJob;
    reset();
    if (!liveJob_) return;
    connect(liveJob_, &LiveJob::changed, this, &JobScreen::refresh);
    filling_ = true;
    for (const Element& e : liveJob_->map().elements)
        repaired_->addItem(text(e.id));
    repaired_->setCurrentIndex(-1);
    repaired_->lineEdit()->setPlaceholderText(tr("part"));
    for (const OperatingState& s : liveJob_->map().states)
        state_->addItem(text(s.name));
    filling_ = false;
    refresh();
}

// Nothing of one job is left when another is opened.
void JobScreen::reset()
{
    filling_ = true;
    for (QLineEdit* edit :
         {title_, customer_, serial_, hours_, technician_, when_, note_, repair_, meter_, inputResistance_, clamp_})
        edit->clear();
    for (TextArea* edit : {complaint_, fails_, works_, replaced_})
        edit->clear();
    codes_->clearContents();
    repaired_->clear();
    state_->clear();
    journal_->clear();
    journalShown_ = 0;
    filled_.clear();
    codesSettled_.clear();
    filling_ = false;
}

bool JobScreen::isTouched(const QWidget* field) const
{
    return contentOf(field) != filled_.value(field);
}

// What these fields show was taken: from here on the job may change it.
void JobScreen::settle(std::initializer_list<QWidget*> fields)
{
    for (const QWidget* field : fields) {
        filled_[field] = contentOf(field);
        if (field == codes_) codesSettled_ = typedCodes().codes;
    }
}

void JobScreen::fill(QWidget* field, const QString& value)
{
    if (isTouched(field)) return;
    // Where one is typing the text stays as it is typed, but for another text that came from elsewhere.
    const bool sameWords = contentOf(field).trimmed() == value.trimmed();
    if (contentOf(field) != value && !(field->hasFocus() && sameWords)) {
        if (auto* edit = qobject_cast<QLineEdit*>(field)) {
            edit->setText(value);
            edit->setCursorPosition(0);
        } else if (auto* area = qobject_cast<TextArea*>(field)) {
            area->setPlainText(value);
        }
    }
    settle({field});
}

void JobScreen::fillCodes()
{
    const auto& codes = liveJob_->job().codes;
    const bool typing = codes_->viewport()->isAncestorOf(QApplication::focusWidget());
    if (isTouched(codes_) || typing) return;
    codes_->setRowCount(std::max(4, static_cast<int>(codes.size()) + 2));
    for (int i = 0; i < codes_->rowCount(); ++i) {
        const Code code = i < static_cast<int>(codes.size()) ? codes[static_cast<std::size_t>(i)] : Code{};
        const QString cells[] = {text(code.code), text(code.text), text(code.condition)};
        for (int c = 0; c < 3; ++c) {
            if (cell(codes_, i, c) != cells[c]) codes_->setItem(i, c, new QTableWidgetItem(cells[c]));
        }
    }
    codes_->resizeRowsToContents();
    settle({codes_});
}

void JobScreen::fillJournal()
{
    const JobContent& content = liveJob_->journal().content();
    const Job& job = liveJob_->job();
    // Entries only ever come after those that are there; what changes of an older one is that it was withdrawn.
    const auto shown = static_cast<int>(journalShown_);
    const auto all = static_cast<int>(content.events.size());
    const auto look = [&](QListWidgetItem* item, const Event& event) {
        const bool withdrawn = job.withdrawn.contains(event.id);
        item->setText(tr("%1  %2%3")
                          .arg(QDateTime::fromMSecsSinceEpoch(event.time_ms).toString(QStringLiteral("hh:mm")),
                               text(entryWords(liveJob_->map(), event)).left(400),
                               withdrawn ? tr("  (withdrawn)") : QString()));
        QFont font = face(14);
        font.setStrikeOut(withdrawn);
        item->setFont(font);
        item->setData(Qt::UserRole, QVariant::fromValue(static_cast<qlonglong>(event.id)));
    };
    if (shown == 0) {
        for (const SetAside& entry : content.setAside) {
            auto* item = new QListWidgetItem(text(setAsideWords(entry)), journal_);
            item->setFont(face(14, QFont::Bold));
        }
    }
    const int before = static_cast<int>(content.setAside.size());
    for (int i = shown; i < all; ++i) {
        const Event& event = content.events[static_cast<std::size_t>(i)];
        look(new QListWidgetItem(journal_), event);
        const auto* undo = std::get_if<Undo>(&event.body);
        if (!undo) continue;
        const auto at = std::lower_bound(content.events.begin(), content.events.end(), undo->event,
                                         [](const Event& e, std::int64_t id) { return e.id < id; });
        if (at != content.events.end() && at->id == undo->event && at - content.events.begin() < shown)
            look(journal_->item(before + static_cast<int>(at - content.events.begin())), *at);
    }
    journalShown_ = all;
    if (all > shown) journal_->scrollToBottom();
}

void JobScreen::refresh()
{
    if (!liveJob_) return;
    filling_ = true;
    const Job& job = liveJob_->job();
    const std::string variant = job.map.variant.empty() ? "" : ", " + job.map.variant;
    machine_->setText(
        tr("%1%2. Suspected module: %3.").arg(text(job.map.title()), text(variant), text(job.map.module)));
    QStringList found;
    for (const TimedNote& correction : job.corrections)
        found << text(correction.text);
    const int more = static_cast<int>(found.size()) - 3;
    found_->setVisible(!found.isEmpty());
    found_->setToolTip(found.join(QLatin1Char('\n')));
    found_->setText(
        tr("As found: %1%2")
            .arg(found.mid(0, 3).join(QStringLiteral("; ")), more > 0 ? tr("; and %1 more").arg(more) : QString()));
    fill(title_, text(job.details.title));
    fill(customer_, text(job.details.customer));
    fill(serial_, text(job.details.serial));
    fill(hours_, text(job.details.hours));
    fill(technician_, text(job.details.technician));
    fill(when_, text(job.complaint.when));
    const Instrument& instrument = job.evidence.instrument;
    fill(meter_, text(instrument.name));
    fill(inputResistance_, text(formatQuantity(ohms(instrument.inputResistance_ohm))));
    fill(clamp_, instrument.clampScale_mVPerA > 0
                     ? text(formatQuantity({instrument.clampScale_mVPerA, Unit::MilliVoltPerAmpere}))
                     : QString());
    fill(complaint_, text(job.complaint.text));
    fill(fails_, joined(job.complaint.fails));
    fill(works_, joined(job.complaint.stillWorks));
    fill(replaced_, joined(job.complaint.replaced));
    fillCodes();
    mated_->setCurrentIndex(job.evidence.working.mated ? 1 : 0);
    order_->setCurrentIndex(job.evidence.working.signalFirst ? 1 : 0);
    const auto at = std::find(std::begin(schoolsOfShort), std::end(schoolsOfShort), job.evidence.working.shortBy);
    short_->setCurrentIndex(
        at == std::end(schoolsOfShort) ? 0 : static_cast<int>(std::distance(std::begin(schoolsOfShort), at)));
    full_->setCurrentIndex(job.evidence.working.strictBattery ? 1 : 0);
    state_->setCurrentIndex(liveJob_->map().stateIndex(job.state));
    fillJournal();
    filling_ = false;
}

Complaint JobScreen::typedComplaint() const
{
    Complaint complaint = liveJob_->job().complaint;
    if (isTouched(complaint_)) complaint.text = complaint_->toPlainText().trimmed().toStdString();
    if (isTouched(when_)) complaint.when = when_->text().trimmed().toStdString();
    if (isTouched(works_)) complaint.stillWorks = linesOf(works_);
    if (isTouched(replaced_)) complaint.replaced = linesOf(replaced_);
    if (isTouched(fails_)) complaint.fails = linesOf(fails_);
    return complaint;
}

CodesRead JobScreen::typedCodes() const
{
    CodesRead codes;
    for (int i = 0; i < codes_->rowCount(); ++i) {
        if (!cell(codes_, i, 0).isEmpty())
            codes.codes.push_back(
                {cell(codes_, i, 0).toStdString(), cell(codes_, i, 1).toStdString(), cell(codes_, i, 2).toStdString()});
    }
    return codes;
}

void JobScreen::takeOver()
{
    if (!liveJob_ || filling_) return;
    JobDetails details = liveJob_->job().details;
    const auto take = [this](const QLineEdit* edit, std::string& into) {
        if (isTouched(edit)) into = edit->text().trimmed().toStdString();
    };
    take(title_, details.title), take(customer_, details.customer), take(serial_, details.serial);
    take(hours_, details.hours), take(technician_, details.technician);
    if (details == liveJob_->job().details || liveJob_->enter(details))
        settle({title_, customer_, serial_, hours_, technician_});
    const Complaint complaint = typedComplaint();
    const bool told = !(complaint == liveJob_->job().complaint);
    if (!told || liveJob_->enter(complaint)) settle({complaint_, when_, works_, replaced_, fails_});
    // What was worked on makes its place likelier; what names no place is kept, and that is said.
    const auto& unknown = liveJob_->job().notWeighed;
    if (told && !unknown.empty())
        emit said(tr("“%1” names nothing on this map: kept, and not weighed.").arg(text(unknown.front())), false);
    // A row is not complete before it has a code: what stands in it waits for that, and is nothing new till then.
    const CodesRead codes = typedCodes();
    if (codes.codes != codesSettled_ && codes.codes != liveJob_->job().codes && liveJob_->enter(codes))
        settle({codes_});
    refresh();
}

void JobScreen::takeOverAll()
{
    if (!liveJob_) return;
    takeOver();
    enterInstrument();
    enterNote();
    enterRepair();
    const QString left = repair_->text().trimmed();
    if (left.isEmpty()) return;
    if (liveJob_->enter(Note{tr("Repair, its part not named: %1").arg(left).toStdString()})) repair_->clear();
}

void JobScreen::enterNote()
{
    if (!liveJob_ || note_->text().trimmed().isEmpty()) return;
    const QString typed = note_->text();
    note_->clear();  // leaving it is told once more while it is being entered
    if (!liveJob_->enter(Note{typed.trimmed().toStdString()})) note_->setText(typed);
}

void JobScreen::enterInstrument()
{
    const auto touched = [this](const QLineEdit* edit) { return isTouched(edit); };
    if (!liveJob_ || filling_ || (!touched(meter_) && !touched(inputResistance_) && !touched(clamp_))) return;
    Instrument instrument = liveJob_->job().evidence.instrument;
    const auto figure = [&](const QLineEdit* edit, Unit unit, const QString& what, double& into) {
        if (!touched(edit)) return true;
        if (edit == clamp_ && edit->text().trimmed().isEmpty()) return into = 0, true;
        const auto read = parseQuantity(edit->text().toStdString(), unit);
        if (read && !read->overLimit && read->value > 0) return into = read->value, true;
        emit said(
            tr("%1: %2").arg(what, read ? tr("“%1” cannot be one").arg(edit->text()) : text(read.error().message())),
            true);
        return false;
    };
    instrument.name = meter_->text().trimmed().toStdString();
    if (!figure(inputResistance_, Unit::Ohm, tr("Meter input"), instrument.inputResistance_ohm) ||
        !figure(clamp_, Unit::MilliVoltPerAmpere, tr("Clamp scale"), instrument.clampScale_mVPerA))
        return;
    if (instrument == liveJob_->job().evidence.instrument || liveJob_->enter(InstrumentChange{instrument}))
        settle({meter_, inputResistance_, clamp_});
    refresh();
}

void JobScreen::enterRepair()
{
    if (!liveJob_ || repair_->text().trimmed().isEmpty()) return;
    const std::string part = repaired_->currentText().trimmed().toStdString();
    const std::string mended = mendedName(liveJob_->map(), part);
    if (mended.empty()) return emit said(tr("Which part was mended? Choose it beside what was done."), true);
    const QString typed = repair_->text();
    repair_->clear();
    if (!liveJob_->enter(Repair{0, {mended}, part + ": " + typed.trimmed().toStdString()})) repair_->setText(typed);
}

}  // namespace ilvek::app
