#include "screens/sheet/bench_table.h"

#include <QApplication>
#include <QClipboard>
#include <QCompleter>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLineEdit>
#include <QRegularExpression>
#include <QStyledItemDelegate>
#include <algorithm>
#include <array>
#include <functional>

#include "base/text.h"
#include "bench_map/sheet_words.h"
#include "machine/vocabulary.h"
#include "theme.h"

namespace ilvek::app {

namespace {

enum Column {
    Cavity,
    Circuit,
    Role,
    Colour,
    Route,
    FarEnd,
    Current,
    Expected,
    Source,
    OwnReturn,
    Hazard,
    AsFound,
    Section,
    Columns
};

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

QStringList completions(int column)
{
    if (column == Role) {
        QStringList roles{QStringLiteral("always"),
                          QStringLiteral("key"),
                          QStringLiteral("supply, by relay "),
                          QStringLiteral("drive, low side"),
                          QStringLiteral("drive, high side"),
                          QStringLiteral("drive, duty"),
                          QStringLiteral("consumer"),
                          QStringLiteral("source"),
                          QStringLiteral("splice"),
                          QStringLiteral("bus node"),
                          QStringLiteral("function"),
                          QStringLiteral("code")};
        for (const std::string& name : roleNames())
            roles << text(name);
        return roles;
    }
    if (column == Colour) {
        QStringList colours;
        for (const std::string& name : colourNames())
            colours << text(name);
        return colours;
    }
    if (column == FarEnd)
        return {QStringLiteral("solenoid "), QStringLiteral("lamp "),       QStringLiteral("motor "),
                QStringLiteral("heater "),   QStringLiteral("thermistor "), QStringLiteral("switch, ground "),
                QStringLiteral("coil of "),  QStringLiteral("termination")};
    return {};
}

// What is typed is completed in the line; Tab and Enter take it.
class Completing : public QStyledItemDelegate {
public:
    Completing(QObject* parent, std::function<void()> onEnter)
        : QStyledItemDelegate(parent), onEnter_(std::move(onEnter))
    {
    }
    QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        QWidget* editor = QStyledItemDelegate::createEditor(parent, option, index);
        auto* line = qobject_cast<QLineEdit*>(editor);
        QStringList words = completions(index.column());
        // What stands in the column already may be meant again.
        const QAbstractItemModel* model = index.model();
        for (int r = 0; index.column() != Cavity && index.column() != Role && r < model->rowCount(); ++r) {
            const QString named = model->index(r, index.column()).data().toString().trimmed();
            if (r != index.row() && !named.isEmpty() && !words.contains(named)) words << named;
        }
        if (!line || words.isEmpty()) return editor;
        auto* completer = new QCompleter(words, line);
        completer->setCompletionMode(QCompleter::InlineCompletion);
        completer->setCaseSensitivity(Qt::CaseInsensitive);
        line->setCompleter(completer);
        return editor;
    }

protected:
    // What a supply or a drive carries matters; where nobody stated it, it is not known.
    void initStyleOption(QStyleOptionViewItem* option, const QModelIndex& index) const override
    {
        QStyledItemDelegate::initStyleOption(option, index);
        if (index.column() != Current || !option->text.isEmpty()) return;
        const auto role = parseRole(index.siblingAtColumn(Role).data().toString().toStdString());
        const bool carries = role && (isSupply(role->role) || groupOf(role->role) == Group::Drives);
        if (!carries) return;
        option->text = BenchTable::tr("not known");
        option->palette.setColor(QPalette::Text, Theme::current().dim);
    }

    // Enter is one key with a completion and without.
    bool eventFilter(QObject* object, QEvent* event) override
    {
        auto* editor = qobject_cast<QWidget*>(object);
        const bool enter =
            event->type() == QEvent::KeyPress && (static_cast<QKeyEvent*>(event)->key() == Qt::Key_Return ||
                                                  static_cast<QKeyEvent*>(event)->key() == Qt::Key_Enter);
        if (!editor || !enter) return QStyledItemDelegate::eventFilter(object, event);
        emit commitData(editor);
        emit closeEditor(editor);
        onEnter_();
        return true;
    }

private:
    std::function<void()> onEnter_;
};

std::string joined(const std::string& a, const char* between, const std::string& b)
{
    return a.empty() || b.empty() ? a + b : a + between + b;
}

// A row as it is typed here: the columns of fuse, relay, splice and ground become a route and words.
std::array<std::string, Columns> cellsOf(const PinRow& row)
{
    const auto role = roleFromText(row.role);
    const bool drive = role && groupOf(*role) == Group::Drives;
    std::string roleWords = row.role, route = row.route, far = row.otherEnd;
    if (role && isSupply(*role) && !row.relay.empty()) roleWords = "supply, by relay " + row.relay;
    if (drive && !row.relay.empty())
        roleWords =
            (*role == ilvek::Role::HighSideDrive ? "drive, high side, coil of " : "drives coil of ") + row.relay;
    if (drive && !row.fedBy.empty()) roleWords += ", fed by " + row.fedBy;
    const std::string fuse = row.fuse.empty() ? "" : row.fuse + (row.fuseRating.empty() ? "" : " " + row.fuseRating);
    const std::string feed = joined(row.splice, " > ", fuse);
    if (drive && !feed.empty()) far = joined(far, ", ", "other wire " + feed);
    if (!drive) route = joined(route, " > ", feed);
    if (!row.ground.empty() && role == ilvek::Role::Return) route = joined(route, " > ", "ground " + row.ground);
    if (!row.ground.empty() && drive) far = joined(far, ", ", "ground " + row.ground);
    if (!row.side.empty()) roleWords += ", " + row.side;
    if (!row.loose.empty()) roleWords = row.loose;
    const std::string cavity = row.isTerminal() ? row.id() : "";
    return {cavity,       row.circuit, roleWords,     row.colour, route,       far,        row.current,
            row.expected, row.source,  row.ownReturn, row.hazard, row.asFound, row.section};
}

// "A6" after "A5"; empty where the name ends with no number.
QString following(const QString& cavity)
{
    static const QRegularExpression number(QStringLiteral("^(.*?)(\\d+)$"));
    const auto match = number.match(cavity);
    return match.hasMatch() ? match.captured(1) + QString::number(match.captured(2).toInt() + 1) : QString();
}

}  // namespace

BenchTable::BenchTable(QWidget* parent) : QTableWidget(parent)
{
    setColumnCount(Columns);
    setHorizontalHeaderLabels({tr("Cavity"), tr("Circuit"), tr("Role"), tr("Colour"), tr("Route, from the pin"),
                               tr("Far end"), tr("Current"), tr("Expected"), tr("Source"), tr("Own return"),
                               tr("Never probe"), tr("As found"), tr("Section, mm²")});
    setTabKeyNavigation(true);
    setEditTriggers(QAbstractItemView::AnyKeyPressed | QAbstractItemView::DoubleClicked |
                    QAbstractItemView::EditKeyPressed);
    setItemDelegate(new Completing(this, [this] { goOn(); }));
    setAccessibleName(tr("Bench map, a row a terminal"));
    const int widths[Columns] = {70, 150, 170, 100, 200, 260, 80, 170, 110, 90, 110, 90, 90};
    for (int c = 0; c < Columns; ++c)
        setColumnWidth(c, widths[c]);
    growTo(1);
    connect(this, &QTableWidget::cellChanged, this, [this](int row, int) { onChanged(row); });
}

QString BenchTable::cell(int row, int column) const
{
    const QTableWidgetItem* at = item(row, column);
    return at ? at->text().trimmed() : QString();
}

void BenchTable::put(int row, int column, const QString& words)
{
    if (!item(row, column)) setItem(row, column, new QTableWidgetItem);
    item(row, column)->setText(words);
}

void BenchTable::growTo(int rows)
{
    setRowCount(std::max(rows, rowCount()));
    // As beside a spreadsheet, where the head is row 1.
    for (int r = 0; r < rowCount(); ++r)
        setVerticalHeaderItem(r, new QTableWidgetItem(QString::number(r + 2)));
}

void BenchTable::mark(const std::set<int>& wrong)
{
    for (int r = 0; r < rowCount(); ++r) {
        const bool isWrong = wrong.contains(r + 2);
        verticalHeaderItem(r)->setText(isWrong ? QStringLiteral("! %1").arg(r + 2) : QString::number(r + 2));
        verticalHeaderItem(r)->setForeground(isWrong ? Theme::current().bad : Theme::current().dim);
    }
}

void BenchTable::fill(const PinSheet& sheet)
{
    filling_ = true;
    clearContents();
    setRowCount(0);
    std::vector<PinRow> rows = sheet.rows;
    rows.insert(rows.end(), sheet.faulty.begin(), sheet.faulty.end());
    std::stable_sort(rows.begin(), rows.end(), [](const PinRow& a, const PinRow& b) { return a.line < b.line; });
    growTo(static_cast<int>(rows.size()) + 1);
    for (std::size_t r = 0; r < rows.size(); ++r) {
        const auto cells = cellsOf(rows[r]);
        for (int c = 0; c < Columns; ++c)
            put(static_cast<int>(r), c, text(cells[static_cast<std::size_t>(c)]));
    }
    filling_ = false;
    setCurrentCell(0, 0);
    emit edited();
}

std::string BenchTable::csv() const
{
    std::string out =
        "cavity\tcircuit\trole\tcolour\troute\tfar end\tcurrent\texpected\tsource\town return\thazard\tas "
        "found\tsection\n";
    for (int r = 0; r < rowCount(); ++r) {
        for (int c = 0; c < Columns; ++c) {
            QString words = cell(r, c);
            words.replace(QLatin1Char('\n'), QLatin1Char(' '));
            words.replace(QLatin1Char('"'), QStringLiteral("\"\""));
            out += "\"" + words.toStdString() + "\"" + (c + 1 < Columns ? "\t" : "\n");
        }
    }
    return out;
}

void BenchTable::paste(const QString& clip)
{
    const int row = std::max(0, currentRow()), column = std::max(0, currentColumn());
    filling_ = true;
    QStringList lines = clip.split(QLatin1Char('\n'));
    while (!lines.isEmpty() && lines.back().trimmed().isEmpty())
        lines.removeLast();
    growTo(row + static_cast<int>(lines.size()) + 1);
    for (int r = 0; r < lines.size(); ++r) {
        const QStringList cells =
            lines[r].split(lines[r].contains(QLatin1Char('\t')) ? QLatin1Char('\t') : QLatin1Char(';'));
        for (int c = 0; c < cells.size() && column + c < Columns; ++c)
            put(row + r, column + c, cells[c].trimmed());
    }
    filling_ = false;
    emit edited();
}

void BenchTable::onChanged(int row)
{
    if (filling_) return;
    filling_ = true;
    growTo(row + 2);
    // A new row's cavity is the next one, unless it is told otherwise.
    if (row > 0 && cell(row, Cavity).isEmpty() && !cell(row, Circuit).isEmpty() && cell(row, Role).isEmpty())
        put(row, Cavity, following(cell(row - 1, Cavity)));
    filling_ = false;
    emit edited();
}

// To the next row's circuit: its cavity follows by itself.
void BenchTable::goOn()
{
    growTo(currentRow() + 2);
    const bool follows = !following(cell(currentRow(), Cavity)).isEmpty();
    setCurrentCell(currentRow() + 1, follows ? Circuit : Cavity);
}

void BenchTable::keyPressEvent(QKeyEvent* event)
{
    if (event->matches(QKeySequence::Paste)) return paste(QApplication::clipboard()->text());
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return goOn();
    if (event->key() == Qt::Key_Delete) {
        for (QTableWidgetItem* at : selectedItems())
            at->setText(QString());
        return;
    }
    QTableWidget::keyPressEvent(event);
}

}  // namespace ilvek::app
