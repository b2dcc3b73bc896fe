// Several lines of text; Tab leaves it, and leaving it is told.
#pragma once

#include <QPlainTextEdit>

namespace ilvek::app {

class TextArea : public QPlainTextEdit {
    Q_OBJECT
public:
    explicit TextArea(QWidget* parent = nullptr);

signals:
    void left();

protected:
    // An empty clipboard has no content at all, which QPlainTextEdit of this Qt does not expect when it pastes.
    bool canInsertFromMimeData(const QMimeData* source) const override;
    void insertFromMimeData(const QMimeData* source) override;
    void focusOutEvent(QFocusEvent* event) override;
};

}  // namespace ilvek::app
