// Labels that the cards share.
#pragma once

#include <QColor>
#include <QFont>
#include <QLabel>

namespace ilvek::app {

// Wraps its words and shows them as they are. `name` is the object name.
QLabel* wrappedLabel(const char* name, const QFont& font, QWidget* parent);
// Over a part of a screen.
QLabel* headingLabel(const char* name, const QString& words, QWidget* parent);
void setTextColour(QLabel* label, const QColor& colour);

}  // namespace ilvek::app
