#include "screens/repair/ways_page.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "repair/repeated.h"
#include "repair/ways.h"
#include "theme.h"
#include "widgets/labels.h"

namespace ilvek::app {

namespace {

enum Column { Name, Expected, Cures, Mends, Labour, Part, Wait, Again, Lasts, Columns };

constexpr int nameWidth = 190;

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

QString number(double x)
{
    return x == 0 ? QString() : QString::number(x, 'g', 6);
}

QString cell(const QTableWidget* table, int row, int column)
{
    const auto* item = table->item(row, column);
    return item ? item->text().trimmed() : QString();
}

// Comma or point; empty: nothing.
std::optional<double> figure(QString words)
{
    words.replace(QLatin1Char(','), QLatin1Char('.'));
    bool good = true;
    const double x = words.isEmpty() ? 0 : words.toDouble(&good);
    if (!good || x < 0) return std::nullopt;
    return x;
}

}  // namespace

WaysPage::WaysPage(QWidget* parent) : QWidget(parent)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 8, 0, 0);
    hint_ = wrappedLabel("waysHint", face(15), this);
    hint_->setText(tr("Each way in a line, what it mends by the names of the map: A1, F3, X4, or the module."));
    column->addWidget(hint_);
    auto* rates = new QHBoxLayout;
    const auto field = [&](const char* name, const QString& words) {
        auto* edit = new QLineEdit(this);
        edit->setObjectName(QLatin1String(name));
        edit->setAccessibleName(words);
        edit->setMaximumWidth(100);
        rates->addWidget(new QLabel(words, this));
        rates->addWidget(edit);
        connect(edit, &QLineEdit::textEdited, this, [this] { touched_ = true; });
        connect(edit, &QLineEdit::editingFinished, this, &WaysPage::takeOver);
        return edit;
    };
    hour_ = field("waysHour", tr("An hour of labour costs"));
    waiting_ = field("waysWaiting", tr("an hour that the machine stands"));
    rates->addStretch(1);
    column->addLayout(rates);
    table_ = new QTableWidget(4, Columns, this);
    table_->setObjectName(QStringLiteral("ways"));
    table_->setAccessibleName(tr("Ways to mend it"));
    table_->setHorizontalHeaderLabels({tr("Way"), tr("Likely cost"), tr("Cures"), tr("Mends"), tr("Labour h"),
                                       tr("Part"), tr("Wait h"), tr("Fails again %"), tr("Lasts")});
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(36);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(Name, QHeaderView::Interactive);
    table_->setColumnWidth(Name, nameWidth);
    table_->verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->verticalHeader()->setMinimumSectionSize(36);
    table_->setTabKeyNavigation(true);
    table_->setFont(face(16));
    connect(table_, &QTableWidget::itemChanged, this, [this] {
        if (filling_) return;
        touched_ = true;
        takeOver();
    });
    column->addWidget(table_, 1);
    sums_ = wrappedLabel("waysSums", face(16), this);
    column->addWidget(sums_);
    decided_ = wrappedLabel("waysDecided", face(17, QFont::Bold), this);
    column->addWidget(decided_);
    auto* row = new QHBoxLayout;
    reasons_ = new QLineEdit(this);
    reasons_->setObjectName(QStringLiteral("waysReasons"));
    reasons_->setAccessibleName(tr("Reasons for the chosen way"));
    reasons_->setPlaceholderText(tr("why this way, in your words"));
    reasons_->setMinimumHeight(34);
    auto* decide = new QPushButton(tr("&Decide for the chosen line"), this);
    decide->setObjectName(QStringLiteral("waysDecide"));
    connect(decide, &QPushButton::clicked, this, &WaysPage::decide);
    connect(reasons_, &QLineEdit::returnPressed, this, &WaysPage::decide);
    row->addWidget(reasons_, 1);
    row->addWidget(decide);
    column->addLayout(row);
}

void WaysPage::show(LiveJob* liveJob)
{
    if (liveJob != liveJob_) touched_ = false, reasons_->clear();
    liveJob_ = liveJob;
    fill();
}

// What was typed and is not yet a way stays as it stands; what is computed is brought up to date beside it.
void WaysPage::fill()
{
    if (!liveJob_) return;
    filling_ = true;
    if (!touched_) fillTyped();
    fillCosts();
    const auto& decided = liveJob_->job().decided;
    decided_->setVisible(decided.has_value());
    if (decided)
        decided_->setText(tr("Decided: %1%2")
                              .arg(text(decided->choice),
                                   decided->reasons.empty() ? QString() : tr(". %1").arg(text(decided->reasons))));
    filling_ = false;
}

void WaysPage::fillTyped()
{
    const RepairChoices& choices = liveJob_->job().choices;
    hour_->setText(number(choices.hour)), waiting_->setText(number(choices.waitingHour));
    table_->setRowCount(std::max(4, static_cast<int>(choices.choices.size()) + 1));
    for (int r = 0; r < table_->rowCount(); ++r) {
        QStringList words;
        for (int c = 0; c < Columns; ++c)
            words << QString();
        if (r < static_cast<int>(choices.choices.size())) {
            const RepairChoice& c = choices.choices[static_cast<std::size_t>(r)];
            QStringList mends;
            for (const std::string& name : c.mends)
                mends << text(name);
            words = {text(c.name),
                     {},
                     {},
                     mends.join(QStringLiteral(", ")),
                     number(c.labour_h),
                     number(c.part),
                     number(c.wait_h),
                     number(100 * c.returns),
                     text(c.lasts)};
        }
        for (int c = 0; c < Columns; ++c) {
            auto* item = new QTableWidgetItem(words[c]);
            if (c == Cures || c == Expected) {
                item->setFlags(item->flags() & ~Qt::ItemIsEditable);
                item->setFont(face(17, QFont::Bold));
            }
            table_->setItem(r, c, item);
        }
    }
}

void WaysPage::fillCosts()
{
    const RepairChoices& choices = liveJob_->job().choices;
    // Once it is mended the belief is about another machine: what stood then stands with the decision.
    const bool mended = lastRepairOf(liveJob_->assessment().evidence) > 0;
    const auto costs = waysOf(liveJob_->map(), choices, belief());
    const auto least = std::min_element(costs.begin(), costs.end(),
                                        [](const WayCost& a, const WayCost& b) { return a.expected < b.expected; });
    QStringList sums;
    for (int r = 0; r < table_->rowCount(); ++r) {
        const std::string name = cell(table_, r, Name).toStdString();
        const auto at = std::find_if(choices.choices.begin(), choices.choices.end(),
                                     [&](const RepairChoice& c) { return !name.empty() && c.name == name; });
        const bool known = at != choices.choices.end() && !mended;
        const auto cost = costs.begin() + (at - choices.choices.begin());
        table_->item(r, Cures)->setText(known ? tr("%1 %").arg(100 * cost->cures, 0, 'f', 0) : QString());
        table_->item(r, Expected)
            ->setText(known
                          ? (cost == least ? QStringLiteral("✓ ") : QString()) + QString::number(cost->expected, 'f', 0)
                          : QString());
        if (known) sums << tr("%1: %2").arg(text(name), text(cost->sums));
    }
    const auto& decided = liveJob_->job().decided;
    if (mended && decided && !decided->table.empty()) sums = {tr("When it was decided:"), text(decided->table)};
    sums_->setText(sums.isEmpty() ? tr("Likely cost: labour, part and wait; what another way costs where this one does "
                                       "not cure; and itself again where it fails again.")
                                  : sums.join(QLatin1Char('\n')));
}

std::vector<PartBelief> WaysPage::belief() const
{
    const Reasoning* reasoning = liveJob_->reasoning();
    return reasoning ? partBeliefs(liveJob_->map(), *reasoning) : std::vector<PartBelief>{};
}

// A line that has figures and no name yet.
bool WaysPage::isUnfinished() const
{
    for (int r = 0; r < table_->rowCount(); ++r) {
        for (int c = Mends; c <= Lasts && cell(table_, r, Name).isEmpty(); ++c) {
            if (!cell(table_, r, c).isEmpty()) return true;
        }
    }
    return false;
}

Result<RepairChoices> WaysPage::typed() const
{
    RepairChoices out;
    const auto hour = figure(hour_->text().trimmed()), waiting = figure(waiting_->text().trimmed());
    if (!hour || !waiting)
        return fail("An hour", "“" + (hour ? waiting_ : hour_)->text().toStdString() + "” is no sum of money");
    out.hour = *hour, out.waitingHour = *waiting;
    for (int r = 0; r < table_->rowCount(); ++r) {
        RepairChoice choice;
        choice.name = cell(table_, r, Name).toStdString();
        if (choice.name.empty()) continue;
        for (const QString& name : cell(table_, r, Mends).split(QLatin1Char(','), Qt::SkipEmptyParts))
            choice.mends.push_back(name.trimmed().toStdString());
        double again = 0;
        const std::pair<Column, double*> figures[] = {
            {Labour, &choice.labour_h}, {Part, &choice.part}, {Wait, &choice.wait_h}, {Again, &again}};
        for (const auto& [column, into] : figures) {
            const auto x = figure(cell(table_, r, column));
            if (!x || (column == Again && *x > 100))
                return fail(choice.name, "“" + cell(table_, r, column).toStdString() + "” cannot be meant");
            *into = *x;
        }
        choice.returns = again / 100;
        choice.lasts = cell(table_, r, Lasts).toStdString();
        for (const std::string& name : unknownIn(liveJob_->map(), choice))
            return fail(choice.name, "“" + name + "” is no part, terminal or connector of this machine");
        out.choices.push_back(std::move(choice));
    }
    return out;
}

void WaysPage::takeOver()
{
    if (!liveJob_ || filling_ || !touched_) return;
    auto choices = typed();
    if (!choices) return emit said(text(choices.error().message()), true);
    touched_ = isUnfinished();
    if (*choices == liveJob_->job().choices) return;
    if (!liveJob_->enter(std::move(*choices))) touched_ = true;
}

void WaysPage::decide()
{
    if (!liveJob_) return;
    takeOver();
    const auto& choices = liveJob_->job().choices;
    const std::string name = cell(table_, table_->currentRow(), Name).toStdString();
    if (std::none_of(choices.choices.begin(), choices.choices.end(),
                     [&](const RepairChoice& c) { return c.name == name; }))
        return emit said(tr("Choose a line that has a way."), true);
    const auto costs = waysOf(liveJob_->map(), choices, belief());
    if (liveJob_->enter(Decided{name, reasons_->text().trimmed().toStdString(), waysTable(choices, costs)}))
        reasons_->clear();
}

}  // namespace ilvek::app
