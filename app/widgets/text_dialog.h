// Asks for a text in words. What is typed stays until it is taken or cancelled.
#pragma once

#include <QDialog>
#include <functional>

class QLabel;

namespace ilvek::app {

class TextArea;

class TextDialog : public QDialog {
    Q_OBJECT
public:
    // Takes the trimmed text; an empty answer when it was taken, else why not.
    using Take = std::function<QString(const QString&)>;
    TextDialog(const QString& title, const QString& question, const QString& before, Take take, QWidget* parent);

    // Tab goes from the text to OK; Ctrl+Enter takes it from anywhere.
    void accept() override;

private:
    TextArea* text_;
    QLabel* refusal_;
    Take take_;
};

}  // namespace ilvek::app
