#include "screens/traces/import_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>
#include <QVBoxLayout>

#include "theme.h"
#include "widgets/labels.h"

namespace ilvek::app {

namespace {

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

struct UnitChoice {
    const char* words;
    Unit unit;
    double scale;
};
constexpr UnitChoice units[] = {{"V", Unit::Volt, 1},       {"mV", Unit::Volt, 1e-3},   {"kV", Unit::Volt, 1e3},
                                {"A", Unit::Ampere, 1},     {"mA", Unit::Ampere, 1e-3}, {"s", Unit::Second, 1},
                                {"ms", Unit::Second, 1e-3}, {"µs", Unit::Second, 1e-6}, {"Hz", Unit::Hertz, 1},
                                {"°C", Unit::Celsius, 1},   {"–", Unit::None, 1}};

const std::pair<char, const char*> separators[] = {{',', "comma"}, {';', "semicolon"}, {'\t', "tab"}, {' ', "space"}};

}  // namespace

ImportDialog::ImportDialog(const TraceView& view, QWidget* parent) : QDialog(parent), view_(view)
{
    setObjectName(QStringLiteral("importDialog"));
    setWindowTitle(tr("How %1 was read").arg(text(view.recording.name)));
    setMinimumSize(900, 420);
    auto* layout = new QVBoxLayout(this);
    auto* form = new QFormLayout;
    interval_ = new QLineEdit(this);
    interval_->setObjectName(QStringLiteral("importInterval"));
    interval_->setText(text(formatQuantity({view.recording.interval_s, Unit::Second})));
    if (view.csv) {
        separator_ = new QComboBox(this);
        separator_->setObjectName(QStringLiteral("importSeparator"));
        for (const auto& [sign, words] : separators)
            separator_->addItem(tr(words), QChar::fromLatin1(sign));
        separator_->setCurrentIndex(std::max(0, separator_->findData(QChar::fromLatin1(view.csv->separator))));
        decimal_ = new QComboBox(this);
        decimal_->addItem(tr("point"), QChar(u'.'));
        decimal_->addItem(tr("comma"), QChar(u','));
        decimal_->setCurrentIndex(view.csv->decimal == ',' ? 1 : 0);
        head_ = new QSpinBox(this);
        head_->setRange(1, 100000);
        head_->setValue(static_cast<int>(view.csv->headLines) + 1);
        form->addRow(tr("Columns are separated by"), separator_);
        form->addRow(tr("Decimal sign"), decimal_);
        form->addRow(tr("Figures begin on line"), head_);
    }
    form->addRow(tr("Time between two samples"), interval_);
    layout->addLayout(form);
    table_ = new QTableWidget(0, 8, this);
    table_->setTabKeyNavigation(false);
    table_->setObjectName(QStringLiteral("importTable"));
    table_->setHorizontalHeaderLabels({tr("Name"), tr("Used as"), tr("Unit"), tr("Clamp, mV/A"), tr("Lead divides by"),
                                       tr("Turned"), tr("Zero"), tr("First figures")});
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->setColumnHidden(Use, !view.csv);
    const int widths[] = {150, 100, 70, 100, 120, 64, 90};
    for (int c = 0; c < 7; ++c)
        table_->setColumnWidth(c, widths[c]);
    std::size_t channel = 0;
    if (view.csv) {
        for (std::size_t c = 0; c < view.csv->columns.size(); ++c) {
            const CsvGuess::Column& column = view.csv->columns[c];
            QStringList figures;
            for (const auto& row : view.csv->firstRows) {
                if (figures.size() < 4 && c < row.size()) figures << text(row[c]);
            }
            const bool value = column.use == CsvGuess::Use::Value && channel < view.recording.channels.size();
            const Channel* of = value ? &view.recording.channels[channel++] : nullptr;
            addRow(static_cast<int>(c), of ? text(of->name) : text(column.name), column.unit, column.unitScale, of,
                   figures.join(QStringLiteral("   ")));
            useBox(static_cast<int>(c))
                ->setCurrentIndex(column.use == CsvGuess::Use::Time    ? 0
                                  : column.use == CsvGuess::Use::Value ? 1
                                                                       : 2);
        }
    } else {
        for (const Channel& c : view.recording.channels) {
            QStringList figures;
            for (std::size_t i = 0; i < std::min<std::size_t>(4, c.samples.size()); ++i)
                figures << text(formatQuantity({c.samples.at(i), c.unit()}));
            addRow(static_cast<int>(channel++), text(c.name), c.recordedUnit, 1, &c,
                   figures.join(QStringLiteral("   ")));
        }
    }
    layout->addWidget(table_, 1);
    auto* hint = wrappedLabel("importHint", face(14), this);
    hint->setText(
        tr("A clamp's channel is in volts as it was recorded; its zero is what it shows when nothing flows: "
           "empty, none is taken off. “Turned”: leads or clamp the other way round."));
    layout->addWidget(hint);
    problem_ = wrappedLabel("importProblem", face(14, QFont::DemiBold), this);
    setTextColour(problem_, Theme::current().bad);
    layout->addWidget(problem_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
    buttons->button(QDialogButtonBox::Ok)->setText(tr("Read it so"));
    connect(buttons, &QDialogButtonBox::accepted, this, &ImportDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(buttons);
}

void ImportDialog::addRow(int row, const QString& name, Unit unit, double unitScale, const Channel* channel,
                          const QString& figures)
{
    table_->insertRow(row);
    const auto item = [&](Column column, const QString& words, bool editable = true) {
        auto* i = new QTableWidgetItem(words);
        if (!editable) i->setFlags(i->flags() & ~Qt::ItemIsEditable);
        i->setToolTip(plainTip(words));
        table_->setItem(row, column, i);
        return i;
    };
    item(Name, name);
    auto* use = new QComboBox(table_);
    use->addItems({tr("time"), tr("channel"), tr("left out")});
    table_->setCellWidget(row, Use, use);
    auto* box = new QComboBox(table_);
    for (const UnitChoice& u : units) {
        // Other files hold base units: their samples are not written anew.
        if (view_.csv || u.scale == 1) box->addItem(QString::fromUtf8(u.words));
    }
    for (const UnitChoice& u : units) {
        if (u.unit == unit && std::abs(u.scale / unitScale - 1) < 1e-9) box->setCurrentText(QString::fromUtf8(u.words));
    }
    table_->setCellWidget(row, UnitColumn, box);
    const ChannelScale scale = channel ? channel->scale : ChannelScale{};
    item(Clamp, scale.clamp_mVPerA ? QString::number(*scale.clamp_mVPerA) : QString());
    item(Divides, QString::number(scale.attenuation));
    auto* turned = item(Turned, {}, false);
    turned->setCheckState(scale.inverted ? Qt::Checked : Qt::Unchecked);
    item(Zero, scale.zero == 0 ? QString() : QString::number(scale.zero, 'g', 4));
    item(Figures, figures, false);
}

QComboBox* ImportDialog::useBox(int row) const
{
    return qobject_cast<QComboBox*>(table_->cellWidget(row, Use));
}

QComboBox* ImportDialog::unitBox(int row) const
{
    return qobject_cast<QComboBox*>(table_->cellWidget(row, UnitColumn));
}

void ImportDialog::complain(const QString& what)
{
    problem_->setText(what);
}

std::optional<double> ImportDialog::figureIn(int row, Column column, double empty, const QString& what)
{
    const QString words = table_->item(row, column)->text().trimmed();
    if (words.isEmpty()) return empty;
    const auto read = parseQuantity(words.toStdString(), Unit::None);
    if (read) return read->value;
    complain(tr("%1, %2: “%3” is no figure.").arg(table_->item(row, Name)->text(), what, words));
    return std::nullopt;
}

bool ImportDialog::takeLead(int row, ImportWish::Lead& lead)
{
    lead.name = table_->item(row, Name)->text().trimmed().toStdString();
    for (const UnitChoice& u : units) {
        if (unitBox(row)->currentText() == QString::fromUtf8(u.words)) lead.unit = u.unit;
    }
    const auto clamp = figureIn(row, Clamp, 0, tr("clamp")), divides = figureIn(row, Divides, 1, tr("lead")),
               zero = figureIn(row, Zero, 0, tr("zero"));
    if (!clamp || !divides || !zero) return false;
    if (*clamp < 0 || *divides <= 0) {
        complain(tr("%1: a clamp's scale and a lead's ratio are above nothing; tick “Turned” for the other direction.")
                     .arg(table_->item(row, Name)->text()));
        return false;
    }
    if (*clamp > 0) lead.scale.clamp_mVPerA = *clamp;
    lead.scale.attenuation = *divides;
    lead.scale.inverted = table_->item(row, Turned)->checkState() == Qt::Checked;
    lead.scale.zero = *zero;
    return true;
}

bool ImportDialog::takeColumns()
{
    CsvGuess guess = *view_.csv;
    guess.separator = separator_->currentData().toChar().toLatin1();
    guess.decimal = decimal_->currentData().toChar().toLatin1();
    guess.headLines = static_cast<std::size_t>(head_->value() - 1);
    int times = 0;
    for (int row = 0; row < table_->rowCount(); ++row) {
        CsvGuess::Column& column = guess.columns[static_cast<std::size_t>(row)];
        column.name = table_->item(row, Name)->text().trimmed().toStdString();
        constexpr CsvGuess::Use uses[] = {CsvGuess::Use::Time, CsvGuess::Use::Value, CsvGuess::Use::Ignore};
        column.use = uses[useBox(row)->currentIndex()];
        for (const UnitChoice& u : units) {
            if (unitBox(row)->currentText() == QString::fromUtf8(u.words))
                column.unit = u.unit, column.unitScale = u.scale;
        }
        times += column.use == CsvGuess::Use::Time ? 1 : 0;
        if (column.use == CsvGuess::Use::Time && column.unit != Unit::Second) {
            complain(tr("%1 is used as the time: its unit is s, ms or µs.").arg(text(column.name)));
            return false;
        }
    }
    if (times > 1) {
        complain(tr("Only one column can be the time."));
        return false;
    }
    guess.interval_s.reset();
    if (times == 0) guess.interval_s = wish_.interval_s;
    wish_.csv = std::move(guess);
    return true;
}

void ImportDialog::accept()
{
    wish_ = {};
    const auto interval = parseQuantity(interval_->text().trimmed().toStdString(), Unit::Second);
    if (!interval || !(interval->value > 0))
        return complain(tr("Time between two samples: a time above nothing is expected, as 20 µs."));
    const bool changed = interval_->text() != text(formatQuantity({view_.recording.interval_s, Unit::Second}));
    wish_.interval_s = changed ? interval->value : view_.recording.interval_s;
    if (view_.csv && !takeColumns()) return;
    for (int row = 0; row < table_->rowCount(); ++row) {
        if (view_.csv && useBox(row)->currentIndex() != 1) continue;
        ImportWish::Lead lead;
        if (!takeLead(row, lead)) return;
        wish_.leads.push_back(std::move(lead));
    }
    if (wish_.leads.empty()) return complain(tr("At least one column must be a channel."));
    // A time column says the interval itself unless another one was typed.
    if (view_.csv && !wish_.csv->interval_s && !changed) wish_.interval_s.reset();
    QDialog::accept();
}

}  // namespace ilvek::app
