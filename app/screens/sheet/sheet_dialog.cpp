#include "screens/sheet/sheet_dialog.h"

#include <QDialogButtonBox>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QRegularExpression>
#include <QScreen>
#include <QVBoxLayout>

#include "base/file.h"
#include "bench_map/kept_sheet.h"
#include "bench_map/spoken_voltage.h"
#include "machine/map_reader.h"
#include "machine/schedule_gaps.h"
#include "screens/sheet/bench_table.h"
#include "theme.h"
#include "widgets/labels.h"
#include "widgets/loop_strip.h"

namespace ilvek::app {

namespace {

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

QString rowsWords(std::size_t rows, std::size_t leftOut)
{
    const QString made = rows == 1 ? SheetDialog::tr("1 row makes a working map")
                                   : SheetDialog::tr("%1 rows make a working map").arg(rows);
    if (leftOut == 0) return made + QLatin1Char('.');
    return made +
           (leftOut == 1 ? SheetDialog::tr("; 1 is left out.") : SheetDialog::tr("; %1 are left out.").arg(leftOut));
}

}  // namespace

SheetDialog::SheetDialog(QWidget* parent) : QDialog(parent)
{
    setObjectName(QStringLiteral("sheetDialog"));
    setWindowTitle(tr("Bench map"));
    const QSize room = screen() ? screen()->availableSize() : QSize(1280, 800);
    resize(std::min(1180, room.width() - 24), std::min(700, room.height() - 60));
    auto* layout = new QVBoxLayout(this);
    auto* form = new QHBoxLayout;
    const auto field = [&](const QString& words, QWidget* edit, int stretch) {
        auto* label = new QLabel(words);
        label->setBuddy(edit);
        form->addWidget(label);
        form->addWidget(edit, stretch);
    };
    field(tr("Ma&ker"), maker_ = new QLineEdit(tr("unknown maker")), 3);
    field(tr("M&odel"), model_ = new QLineEdit(tr("unknown model")), 3);
    field(tr("Va&riant"), variant_ = new QLineEdit, 2);
    field(tr("Mod&ule"), module_ = new QLineEdit(tr("module")), 2);
    field(tr("System &voltage"), volts_ = new QDoubleSpinBox, 1);
    module_->setObjectName(QStringLiteral("sheetModule"));
    model_->setObjectName(QStringLiteral("sheetModel"));
    variant_->setObjectName(QStringLiteral("sheetVariant"));
    variant_->setToolTip(tr("Series, equipment or serial number, where machines of one model differ"));
    volts_->setObjectName(QStringLiteral("sheetVolts"));
    volts_->setRange(5, 56);
    volts_->setDecimals(0);
    volts_->setValue(12);
    volts_->setSuffix(QStringLiteral(" V"));
    layout->addLayout(form);
    summary_ = new QLabel;
    summary_->setObjectName(QStringLiteral("sheetSummary"));
    summary_->setWordWrap(true);
    summary_->setFont(face(16, QFont::Bold));
    layout->addWidget(summary_);
    rows_ = new BenchTable;
    rows_->setObjectName(QStringLiteral("sheetRows"));
    layout->addWidget(rows_, 5);
    way_ = new LoopStrip;
    way_->setObjectName(QStringLiteral("sheetWay"));
    way_->setMinimumHeight(0);
    way_->setFixedHeight(108);
    layout->addWidget(way_);
    auto* below = new QLabel(tr("What to put right, row by row, and what a module of this kind should have"));
    layout->addWidget(below);
    problems_ = new QListWidget;
    problems_->setObjectName(QStringLiteral("sheetProblems"));
    problems_->setWordWrap(true);
    layout->addWidget(problems_, 2);
    buttons_ = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    buttons_->button(QDialogButtonBox::Ok)->setText(tr("&Make the map"));
    auto* keep = buttons_->addButton(tr("&Keep as a sheet …"), QDialogButtonBox::ActionRole);
    // Enter goes on in the table; the map is made when it is asked for.
    for (QAbstractButton* button : buttons_->buttons())
        qobject_cast<QPushButton*>(button)->setAutoDefault(false);
    buttons_->button(QDialogButtonBox::Ok)->setDefault(false);
    connect(keep, &QPushButton::clicked, this, &SheetDialog::keepSheet);
    connect(buttons_, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons_, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(buttons_);
    for (QLineEdit* edit : {maker_, model_, variant_, module_})
        connect(edit, &QLineEdit::textChanged, this, &SheetDialog::rebuild);
    connect(volts_, &QDoubleSpinBox::valueChanged, this, &SheetDialog::rebuild);
    connect(rows_, &BenchTable::edited, this, &SheetDialog::readTable);
    connect(rows_, &QTableWidget::currentCellChanged, this, &SheetDialog::showWay);
    readTable();
    rows_->setFocus();
    rows_->setCurrentCell(0, 0);
}

bool SheetDialog::load(const QString& path)
{
    sheet_ = {};
    const auto bytes = readFile(path.toStdString());
    auto sheet = bytes ? readPinSheet(*bytes, QFileInfo(path).fileName().toStdString())
                       : Result<PinSheet>(tl::unexpected(bytes.error()));
    if (!sheet) {
        summary_->setText(text(sheet.error().message()));
        buttons_->button(QDialogButtonBox::Ok)->setEnabled(false);
        return false;
    }
    model_->setText(QFileInfo(path).completeBaseName());
    rows_->fill(*sheet);
    sheet_.remarks.insert(sheet_.remarks.begin(), sheet->remarks.begin(), sheet->remarks.end());
    rebuild();
    return true;
}

// What stands in the table, understood anew.
void SheetDialog::readTable()
{
    auto sheet = readPinSheet(rows_->csv(), "the table");
    sheet_ = sheet ? std::move(*sheet) : PinSheet{};
    rebuild();
    showWay();
}

// Rows of which something is said that must be put right.
void SheetDialog::markRows()
{
    static const QRegularExpression row(QStringLiteral("row (\\d+)"));
    std::set<int> wrong;
    for (int i = 0; i < problems_->count(); ++i) {
        const auto match = row.match(problems_->item(i)->text());
        if (match.hasMatch()) wrong.insert(match.captured(1).toInt());
    }
    rows_->mark(wrong);
}

void SheetDialog::keepSheet()
{
    const QString path = QFileDialog::getSaveFileName(this, tr("Keep as a sheet"),
                                                      QDir::home().filePath(module_->text() + QStringLiteral(".csv")));
    if (path.isEmpty()) return;
    auto done = checkOutput(path.toStdString(), {});
    if (done) done = writeFile(path.toStdString(), rows_->csv());
    if (done) return;
    summary_->setText(text(done.error().message()));
    setTextColour(summary_, Theme::current().bad);
}

// The circuit of the row in hand, as far as the map knows it.
void SheetDialog::showWay()
{
    const int row = rows_->currentRow();
    const QTableWidgetItem* cavity = row < 0 ? nullptr : rows_->item(row, 0);
    const int terminal = map_ && cavity ? map_->terminalIndex(cavity->text().trimmed().toStdString()) : -1;
    if (map_)
        way_->showWay(*map_, terminal);
    else
        way_->showWay({}, -1);
}

bool SheetDialog::edit(const std::string& document)
{
    const auto rows = sheetOf(document);
    if (!rows || !*rows) return false;
    const NewMachine machine = machineNamedIn(document);
    maker_->setText(text(machine.maker));
    model_->setText(text(machine.model));
    variant_->setText(text(machine.variant));
    module_->setText(text(machine.module));
    volts_->setValue(machine.systemVoltage_V);
    for (QWidget* fixed : std::initializer_list<QWidget*>{maker_, model_, variant_, module_, volts_})
        fixed->setEnabled(false);
    buttons_->button(QDialogButtonBox::Ok)->setText(tr("&Take the changes"));
    PinSheet sheet;
    sheet.rows = **rows;
    rows_->fill(sheet);
    // As the table gives them back: the same words in the columns that it has.
    before_ = sheet_.rows;
    rows_->setCurrentCell(static_cast<int>(before_.size()), 0);
    return true;
}

std::vector<PinRow> SheetDialog::corrections() const
{
    return correctionsBetween(before_, sheet_.rows);
}

void SheetDialog::rebuild()
{
    problems_->clear();
    map_.reset();
    document_.clear();
    buttons_->button(QDialogButtonBox::Ok)->setEnabled(false);
    setTextColour(summary_, Theme::current().ink);
    if (sheet_.rows.empty() && sheet_.problems.empty()) {
        summary_->setText(
            tr("Type the module's pins, a row each: cavity, circuit, role. What is not known stays empty. "
               "Enter goes to the next row, Ctrl+V takes cells of a spreadsheet."));
        return;
    }
    const auto add = [this](const QString& label, const std::string& words) {
        problems_->addItem(tr("%1: %2").arg(label, text(words)));
    };
    if (const auto spoken = spokenSystemVoltage_V(sheet_.rows); spoken && *spoken != volts_->value())
        problems_->addItem(
            tr("System voltage: the sheet speaks of %1 V, and %2 V is set above.").arg(*spoken).arg(volts_->value()));
    for (const Error& problem : sheet_.problems)
        add(tr("Left out"), problem.message());
    NewMachine machine{maker_->text().trimmed().toStdString(), model_->text().trimmed().toStdString(),
                       module_->text().trimmed().toStdString(), volts_->value(),
                       variant_->text().trimmed().toStdString()};
    auto made = mapFromSheet(sheet_.rows, machine);
    auto map = made ? readMap(*made, "the sheet") : Result<Map, Problems>(tl::unexpected(made.error()));
    if (map) {
        document_ = *made;
        map_ = *map;
        for (const std::string& gap : scheduleGaps(*map))
            add(tr("Schedule"), gap);
    } else {
        for (const Error& problem : map.error())
            add(tr("Map"), problem.message());
    }
    for (const Error& remark : sheet_.remarks)
        add(tr("Remark"), remark.message());
    markRows();
    if (problems_->count() == 0)
        problems_->addItem(tr("Nothing is wrong, and the schedule has every kind of feed, return and reference."));
    summary_->setText(
        map ? rowsWords(sheet_.rows.size(), sheet_.problems.size()) +
                  tr(" What they do not state is not known: it widens what is expected and decides nothing.")
            : tr("No map can be made of this yet; see below."));
    buttons_->button(QDialogButtonBox::Ok)->setEnabled(map.has_value());
}

QString SheetDialog::name() const
{
    return model_->text().trimmed() + QLatin1Char(' ') + module_->text().trimmed();
}

QStringList SheetDialog::problems() const
{
    QStringList out;
    for (int i = 0; i < problems_->count(); ++i)
        out << problems_->item(i)->text();
    return out;
}

}  // namespace ilvek::app
