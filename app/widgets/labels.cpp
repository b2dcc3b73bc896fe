#include "widgets/labels.h"

#include "theme.h"

namespace ilvek::app {

QLabel* wrappedLabel(const char* name, const QFont& font, QWidget* parent)
{
    auto* label = new QLabel(parent);
    label->setObjectName(QLatin1String(name));
    label->setWordWrap(true);
    label->setTextFormat(Qt::PlainText);
    label->setFont(font);
    return label;
}

QLabel* headingLabel(const char* name, const QString& words, QWidget* parent)
{
    QLabel* label = wrappedLabel(name, face(20, QFont::Bold), parent);
    label->setText(words);
    return label;
}

void setTextColour(QLabel* label, const QColor& colour)
{
    QPalette palette = label->palette();
    palette.setColor(QPalette::WindowText, colour);
    label->setPalette(palette);
}

}  // namespace ilvek::app
