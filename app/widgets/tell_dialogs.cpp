#include "widgets/tell_dialogs.h"

#include <QDialogButtonBox>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLineEdit>
#include <QTableWidget>
#include <QVBoxLayout>

#include "theme.h"
#include "widgets/labels.h"

namespace ilvek::app {

TellDialog::TellDialog(const QString& question, TextDialog::Take take, QWidget* parent)
    : QDialog(parent),
      text_(new QLineEdit(this)),
      refusal_(wrappedLabel("refusal", face(15, QFont::Bold), this)),
      take_(std::move(take))
{
    setObjectName(QStringLiteral("tellDialog"));
    setWindowTitle(tr("What was found"));
    resize(600, 200);
    auto* asked = wrappedLabel("question", face(18), this);
    asked->setText(question);
    text_->setObjectName(QStringLiteral("tellAnswer"));
    text_->setAccessibleName(question);
    text_->setFont(face(18));
    refusal_->hide();
    setTextColour(refusal_, Theme::current().bad);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
    connect(buttons, &QDialogButtonBox::accepted, this, &TellDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &TellDialog::reject);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(asked);
    layout->addWidget(text_);
    layout->addWidget(refusal_);
    layout->addStretch(1);
    layout->addWidget(buttons);
    text_->setFocus();
}

void TellDialog::accept()
{
    const QString found = text_->text().trimmed();
    const QString refusal = found.isEmpty() ? tr("Say it in a word or two, or cancel.") : take_(found);
    if (refusal.isEmpty()) return QDialog::accept();
    refusal_->setText(refusal);
    refusal_->show();
}

FunctionsDialog::FunctionsDialog(const QString& question, const std::vector<Function>& functions, QWidget* parent)
    : QDialog(parent), table_(new QTableWidget(static_cast<int>(functions.size()), 2, this))
{
    setObjectName(QStringLiteral("functionsDialog"));
    setWindowTitle(tr("Functions"));
    resize(620, 420);
    auto* asked = wrappedLabel("question", face(18), this);
    asked->setText(functions.empty() ? tr("The map names no functions. Add them with F7: they are rows of their own.")
                                     : question);
    auto* keys = wrappedLabel("functionKeys", face(15), this);
    keys->setText(tr("↑ ↓ choose; W works, F fails, N not tried; Enter takes them all."));
    keys->setVisible(!functions.empty());
    table_->setObjectName(QStringLiteral("functions"));
    table_->setAccessibleName(question);
    table_->setHorizontalHeaderLabels({tr("Function"), tr("Found")});
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    table_->verticalHeader()->hide();
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setFont(face(17));
    for (std::size_t i = 0; i < functions.size(); ++i) {
        ids_.push_back(functions[i].id);
        tried_.push_back(Tried::Not);
        const int row = static_cast<int>(i);
        table_->setItem(row, 0, new QTableWidgetItem(QString::fromStdString(functions[i].name)));
        table_->setItem(row, 1, new QTableWidgetItem);
        set(row, Tried::Not);
    }
    connect(table_, &QTableWidget::cellClicked, this, [this](int row, int) {
        const Tried now = tried_[static_cast<std::size_t>(row)];
        set(row, now == Tried::Not ? Tried::Works : now == Tried::Works ? Tried::Fails : Tried::Not);
    });
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
    connect(buttons, &QDialogButtonBox::accepted, this, &FunctionsDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &FunctionsDialog::reject);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(asked);
    layout->addWidget(keys);
    layout->addWidget(table_, 1);
    layout->addWidget(buttons);
    table_->installEventFilter(this);
    if (!functions.empty()) table_->setCurrentCell(0, 0);
    table_->setFocus();
}

// The word carries it; the shape before it is seen from further away.
void FunctionsDialog::set(int row, Tried tried)
{
    tried_[static_cast<std::size_t>(row)] = tried;
    table_->item(row, 1)->setText(tried == Tried::Works   ? tr("✓ works")
                                  : tried == Tried::Fails ? tr("✗ fails")
                                                          : tr("– not tried"));
}

bool FunctionsDialog::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() != QEvent::KeyPress) return QDialog::eventFilter(watched, event);
    const int key = static_cast<QKeyEvent*>(event)->key(), row = table_->currentRow();
    if (key == Qt::Key_Return || key == Qt::Key_Enter) return accept(), true;
    if (row < 0) return QDialog::eventFilter(watched, event);
    const auto say = [&](Tried tried) {
        set(row, tried);
        if (row + 1 < table_->rowCount()) table_->setCurrentCell(row + 1, 0);
        return true;
    };
    if (key == Qt::Key_W) return say(Tried::Works);
    if (key == Qt::Key_F) return say(Tried::Fails);
    if (key == Qt::Key_N) return say(Tried::Not);
    return QDialog::eventFilter(watched, event);
}

bool FunctionsDialog::isAnyTried() const
{
    return std::any_of(tried_.begin(), tried_.end(), [](Tried t) { return t != Tried::Not; });
}

FunctionsSeen FunctionsDialog::seenIn(const SetUp& setUp) const
{
    FunctionsSeen seen;
    static_cast<SetUp&>(seen) = setUp;
    for (std::size_t i = 0; i < ids_.size(); ++i) {
        if (tried_[i] == Tried::Works) seen.works.push_back(ids_[i]);
        if (tried_[i] == Tried::Fails) seen.fails.push_back(ids_[i]);
    }
    return seen;
}

}  // namespace ilvek::app
