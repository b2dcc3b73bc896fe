#include "widgets/text_dialog.h"

#include <QDialogButtonBox>
#include <QPushButton>
#include <QShortcut>
#include <QVBoxLayout>

#include "theme.h"
#include "widgets/labels.h"
#include "widgets/text_area.h"

namespace ilvek::app {

TextDialog::TextDialog(const QString& title, const QString& question, const QString& before, Take take, QWidget* parent)
    : QDialog(parent),
      text_(new TextArea(this)),
      refusal_(wrappedLabel("refusal", face(15, QFont::Bold), this)),
      take_(std::move(take))
{
    setObjectName(QStringLiteral("textDialog"));
    setWindowTitle(title);
    resize(560, 300);
    auto* asked = wrappedLabel("question", face(16), this);
    asked->setText(question);
    text_->setObjectName(QStringLiteral("textAnswer"));
    text_->setAccessibleName(question);
    text_->setFont(face(16));
    text_->setPlainText(before);
    text_->moveCursor(QTextCursor::End);
    refusal_->hide();
    setTextColour(refusal_, Theme::current().bad);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
    connect(buttons, &QDialogButtonBox::accepted, this, &TextDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &TextDialog::reject);
    for (const int key : {Qt::Key_Return, Qt::Key_Enter})
        connect(new QShortcut(QKeySequence(Qt::CTRL | static_cast<Qt::Key>(key)), this), &QShortcut::activated, this,
                &TextDialog::accept);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(asked);
    layout->addWidget(text_, 1);
    layout->addWidget(refusal_);
    layout->addWidget(buttons);
    text_->setFocus();
}

void TextDialog::accept()
{
    const QString refusal = take_(text_->toPlainText().trimmed());
    if (refusal.isEmpty()) return QDialog::accept();
    refusal_->setText(refusal);
    refusal_->show();
}

}  // namespace ilvek::app
