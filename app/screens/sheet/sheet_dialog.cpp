#include "screens/sheet/sheet_dialog.h"

#include <QDialogButtonBox>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "base/file.h"
#include "machine/map_reader.h"
#include "machine/schedule_gaps.h"
#include "theme.h"
#include "widgets/labels.h"

namespace ilvek::app {

namespace {

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

}  // namespace

SheetDialog::SheetDialog(QWidget* parent) : QDialog(parent)
{
    setObjectName(QStringLiteral("sheetDialog"));
    setWindowTitle(tr("New map from a pin sheet"));
    resize(1000, 660);
    auto* layout = new QVBoxLayout(this);
    auto* form = new QFormLayout;
    form->addRow(tr("&Maker"), maker_ = new QLineEdit(tr("unknown maker")));
    form->addRow(tr("M&odel"), model_ = new QLineEdit(tr("unknown model")));
    form->addRow(tr("Mod&ule"), module_ = new QLineEdit(tr("module")));
    form->addRow(tr("System &voltage"), volts_ = new QDoubleSpinBox);
    module_->setObjectName(QStringLiteral("sheetModule"));
    model_->setObjectName(QStringLiteral("sheetModel"));
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
    rows_ = new QTableWidget;
    rows_->setTabKeyNavigation(false);
    rows_->setObjectName(QStringLiteral("sheetRows"));
    rows_->setColumnCount(10);
    rows_->setHorizontalHeaderLabels({tr("Cavity"), tr("Circuit"), tr("Role"), tr("Colour"), tr("Fuse"), tr("Relay"),
                                      tr("Ground"), tr("Splice"), tr("Other end"), tr("Source")});
    rows_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    rows_->verticalHeader()->hide();
    layout->addWidget(rows_, 3);
    auto* below =
        new QLabel(tr("Row by row: what is wrong, what was assumed, and what a module of this kind should have"));
    layout->addWidget(below);
    problems_ = new QListWidget;
    problems_->setObjectName(QStringLiteral("sheetProblems"));
    problems_->setWordWrap(true);
    layout->addWidget(problems_, 2);
    buttons_ = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    buttons_->button(QDialogButtonBox::Ok)->setText(tr("&Make the map"));
    auto* sample = buttons_->addButton(tr("Write an empty &template …"), QDialogButtonBox::ActionRole);
    connect(sample, &QPushButton::clicked, this, [this] {
        const QString path = QFileDialog::getSaveFileName(this, tr("Write a template"),
                                                          QDir::home().filePath(QStringLiteral("pin-sheet.csv")));
        if (path.isEmpty()) return;
        auto done = checkOutput(path.toStdString(), {});
        if (done) done = writeFile(path.toStdString(), pinSheetTemplate());
        if (done) return;
        summary_->setText(text(done.error().message()));
        setTextColour(summary_, Theme::current().bad);
    });
    connect(buttons_, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons_, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(buttons_);
    for (QLineEdit* edit : {maker_, model_, module_})
        connect(edit, &QLineEdit::textChanged, this, &SheetDialog::rebuild);
    connect(volts_, &QDoubleSpinBox::valueChanged, this, &SheetDialog::rebuild);
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
    sheet_ = std::move(*sheet);
    fillTable();
    rebuild();
    return true;
}

void SheetDialog::fillTable()
{
    rows_->setRowCount(static_cast<int>(sheet_.rows.size()));
    for (int i = 0; i < rows_->rowCount(); ++i) {
        const PinRow& r = sheet_.rows[static_cast<std::size_t>(i)];
        const std::string fuse = r.fuseRating.empty() ? r.fuse : r.fuse + " " + r.fuseRating;
        const std::string cells[] = {r.id(),  r.circuit, r.role,   r.colour,   fuse,
                                     r.relay, r.ground,  r.splice, r.otherEnd, r.source};
        for (int c = 0; c < 10; ++c)
            rows_->setItem(i, c, new QTableWidgetItem(text(cells[c])));
    }
    rows_->resizeColumnsToContents();
}

void SheetDialog::rebuild()
{
    if (sheet_.rows.empty() && sheet_.problems.empty()) return;
    problems_->clear();
    const auto add = [this](const QString& label, const std::string& words) {
        problems_->addItem(tr("%1: %2").arg(label, text(words)));
    };
    for (const Error& problem : sheet_.problems)
        add(tr("Left out"), problem.message());
    NewMachine machine{maker_->text().trimmed().toStdString(), model_->text().trimmed().toStdString(),
                       module_->text().trimmed().toStdString(), volts_->value()};
    document_.clear();
    auto made = mapFromSheet(sheet_.rows, machine);
    auto map = made ? readMap(*made, "the sheet") : Result<Map, Problems>(tl::unexpected(made.error()));
    if (map) {
        document_ = *made;
        for (const std::string& gap : scheduleGaps(*map))
            add(tr("Schedule"), gap);
    } else {
        for (const Error& problem : map.error())
            add(tr("Map"), problem.message());
    }
    for (const Error& remark : sheet_.remarks)
        add(tr("Remark"), remark.message());
    if (problems_->count() == 0)
        problems_->addItem(tr("Nothing is wrong, and the schedule has every kind of feed, return and reference."));
    summary_->setText(map ? tr("%1 rows make a working map; %2 are left out. Wires, currents and limits are assumed by "
                               "role, with wide tolerances.")
                                .arg(sheet_.rows.size())
                                .arg(sheet_.problems.size())
                          : tr("No map can be made of this yet; see below."));
    buttons_->button(QDialogButtonBox::Ok)->setEnabled(map.has_value());
}

QStringList SheetDialog::problems() const
{
    QStringList out;
    for (int i = 0; i < problems_->count(); ++i)
        out << problems_->item(i)->text();
    return out;
}

}  // namespace ilvek::app
