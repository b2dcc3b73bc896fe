#include "screens/job/job_screen.h"

#include <QComboBox>
#include <QFormLayout>
#include <QGroupBox>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QTableWidget>
#include <QVBoxLayout>
#include <functional>

#include "theme.h"

namespace ilvek::app {

namespace {

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

QPlainTextEdit* area(const char* name, int lines)
{
    auto* edit = new QPlainTextEdit;
    edit->setObjectName(QLatin1String(name));
    edit->setTabChangesFocus(true);
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

std::vector<std::string> linesOf(const QPlainTextEdit* edit)
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

}  // namespace

JobScreen::JobScreen(QWidget* parent) : QWidget(parent)
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
    form->addRow(tr("&Title"), title_ = line("jobTitle"));
    form->addRow(tr("C&ustomer"), customer_ = line("jobCustomer"));
    form->addRow(tr("S&erial number"), serial_ = line("jobSerial"));
    form->addRow(tr("&Hours or distance"), hours_ = line("jobHours"));
    form->addRow(tr("Technic&ian"), technician_ = line("jobTechnician"));
    for (QLineEdit* edit : {title_, customer_, serial_, hours_, technician_})
        connect(edit, &QLineEdit::editingFinished, this, &JobScreen::takeOver);
    return group(tr("Job"), form);
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
    for (QPlainTextEdit* edit : {fails_, works_})
        edit->setToolTip(tr("Functions by the names of the map count as evidence; other words are kept as they are."));
    form->addRow(tr("What was &replaced already, one a line"), replaced_ = area("complaintReplaced", 2));
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
    state_ = new QComboBox;
    state_->setObjectName(QStringLiteral("operatingState"));
    for (QComboBox* box : {mated_, order_, state_}) {
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(18);
        box->setMinimumHeight(30);
    }
    auto* form = new QFormLayout;
    form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
    form->addRow(tr("&State now"), state_);
    form->addRow(tr("&Probe"), mated_);
    form->addRow(tr("&Order"), order_);
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
    const auto school = [this] {
        if (filling_ || !liveJob_) return;
        School wanted = liveJob_->job().evidence.school;
        wanted.mated = mated_->currentIndex() == 1;
        wanted.signalFirst = order_->currentIndex() == 1;
        liveJob_->enter(SchoolChange{wanted});
    };
    connect(mated_, &QComboBox::activated, this, school);
    connect(order_, &QComboBox::activated, this, school);
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
    connect(note_, &QLineEdit::returnPressed, this, &JobScreen::enterNote);
    connect(repair_, &QLineEdit::returnPressed, this, &JobScreen::enterRepair);
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
    if (!liveJob_) return;
    connect(liveJob_, &LiveJob::changed, this, &JobScreen::refresh);
    filling_ = true;
    repaired_->clear();
    for (const Element& e : liveJob_->map().elements)
        repaired_->addItem(text(e.id));
    repaired_->setCurrentIndex(-1);
    repaired_->lineEdit()->setPlaceholderText(tr("part"));
    state_->clear();
    for (const OperatingState& s : liveJob_->map().states)
        state_->addItem(text(s.name));
    filling_ = false;
    refresh();
}

void JobScreen::refresh()
{
    if (!liveJob_) return;
    filling_ = true;
    const Job& job = liveJob_->job();
    const auto fill = [](QLineEdit* edit, const std::string& value) {
        if (edit->hasFocus() || edit->text() == text(value)) return;
        edit->setText(text(value));
        edit->setCursorPosition(0);
    };
    const std::string variant = job.map.variant.empty() ? "" : ", " + job.map.variant;
    machine_->setText(
        tr("%1%2. Suspected module: %3.").arg(text(job.map.title()), text(variant), text(job.map.module)));
    fill(title_, job.details.title);
    fill(customer_, job.details.customer);
    fill(serial_, job.details.serial);
    fill(hours_, job.details.hours);
    fill(technician_, job.details.technician);
    fill(when_, job.complaint.when);
    const Instrument& instrument = job.evidence.instrument;
    fill(meter_, instrument.name);
    fill(inputResistance_, formatQuantity(ohms(instrument.inputResistance_ohm)));
    fill(clamp_, instrument.clampScale_mVPerA > 0
                     ? formatQuantity({instrument.clampScale_mVPerA, Unit::MilliVoltPerAmpere})
                     : "");
    const auto fillArea = [](QPlainTextEdit* edit, const QString& value) {
        if (!edit->hasFocus() && edit->toPlainText() != value) edit->setPlainText(value);
    };
    fillArea(complaint_, text(job.complaint.text));
    fillArea(fails_, joined(job.complaint.fails));
    fillArea(works_, joined(job.complaint.stillWorks));
    fillArea(replaced_, joined(job.complaint.replaced));
    const int rows = static_cast<int>(job.codes.size()) + 2;
    if (codes_->rowCount() < rows) codes_->setRowCount(rows);
    for (int i = 0; i < static_cast<int>(job.codes.size()); ++i) {
        const Code& code = job.codes[static_cast<std::size_t>(i)];
        const QString cells[] = {text(code.code), text(code.text), text(code.condition)};
        for (int c = 0; c < 3; ++c) {
            if (cell(codes_, i, c) != cells[c]) codes_->setItem(i, c, new QTableWidgetItem(cells[c]));
        }
    }
    codes_->resizeRowsToContents();
    mated_->setCurrentIndex(job.evidence.school.mated ? 1 : 0);
    order_->setCurrentIndex(job.evidence.school.signalFirst ? 1 : 0);
    state_->setCurrentIndex(liveJob_->map().stateIndex(job.state));
    journal_->clear();
    for (const Event& event : liveJob_->journal().events()) {
        const bool withdrawn = job.withdrawn.contains(event.id);
        auto* item = new QListWidgetItem(tr("%1  %2%3")
                                             .arg(text(writeTime(event.time_ms)).mid(11, 5), text(entryWords(event)),
                                                  withdrawn ? tr("  (withdrawn)") : QString()));
        QFont font = face(14);
        font.setStrikeOut(withdrawn);
        item->setFont(font);
        item->setData(Qt::UserRole, QVariant::fromValue(static_cast<qlonglong>(event.id)));
        journal_->addItem(item);
    }
    journal_->scrollToBottom();
    filling_ = false;
}

void JobScreen::takeOver()
{
    if (!liveJob_ || filling_) return;
    const auto s = [](const QLineEdit* edit) { return edit->text().trimmed().toStdString(); };
    const JobDetails details{s(title_), s(customer_), s(serial_), s(hours_), s(technician_)};
    const Complaint complaint{complaint_->toPlainText().trimmed().toStdString(), s(when_), linesOf(works_),
                              linesOf(replaced_), linesOf(fails_)};
    CodesRead codes;
    for (int i = 0; i < codes_->rowCount(); ++i) {
        if (!cell(codes_, i, 0).isEmpty())
            codes.codes.push_back(
                {cell(codes_, i, 0).toStdString(), cell(codes_, i, 1).toStdString(), cell(codes_, i, 2).toStdString()});
    }
    // All is read before anything is entered: an entry fills the fields anew.
    if (details != liveJob_->job().details) liveJob_->enter(details);
    if (complaint != liveJob_->job().complaint) liveJob_->enter(complaint);
    if (codes.codes != liveJob_->job().codes) liveJob_->enter(codes);
}

void JobScreen::enterNote()
{
    if (!liveJob_ || note_->text().trimmed().isEmpty()) return;
    if (liveJob_->enter(Note{note_->text().trimmed().toStdString()})) note_->clear();
}

void JobScreen::enterInstrument()
{
    if (!liveJob_ || filling_) return;
    Instrument instrument = liveJob_->job().evidence.instrument;
    instrument.name = meter_->text().trimmed().toStdString();
    const auto input = parseQuantity(inputResistance_->text().toStdString(), Unit::Ohm);
    const auto clamp = parseQuantity(clamp_->text().toStdString(), Unit::MilliVoltPerAmpere);
    const bool noClamp = clamp_->text().trimmed().isEmpty();
    if (input && !input->overLimit && input->value >= 1e3) instrument.inputResistance_ohm = input->value;
    if (noClamp)
        instrument.clampScale_mVPerA = 0;
    else if (clamp && clamp->value > 0)
        instrument.clampScale_mVPerA = clamp->value;
    if (!instrument.name.empty() && instrument != liveJob_->job().evidence.instrument)
        liveJob_->enter(InstrumentChange{instrument});
    else
        refresh();
}

void JobScreen::enterRepair()
{
    if (!liveJob_ || repair_->text().trimmed().isEmpty()) return;
    const std::string part = repaired_->currentText().trimmed().toStdString();
    if (liveJob_->map().elementIndex(part) < 0) return repaired_->setFocus();
    if (liveJob_->enter(Repair{0, {part}, part + ": " + repair_->text().trimmed().toStdString()})) repair_->clear();
}

}  // namespace ilvek::app
