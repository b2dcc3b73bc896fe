// Where the figure goes and the verdict comes: digits typed anywhere arrive here, Enter takes them.
#pragma once

#include <QWidget>

#include "models/live_job.h"

class QLabel;

namespace ilvek::app {

class ReadingDock : public QWidget {
    Q_OBJECT
public:
    explicit ReadingDock(QWidget* parent = nullptr);
    void show(const LiveJob& liveJob);
    // A key pressed anywhere. True when it belongs to the figure being typed.
    bool typed(int key, const QString& text);
    bool isTyping() const { return !typed_.isEmpty(); }
    QString typedText() const { return typed_; }
    void clear();
    // What is typed begins so, as "module ".
    void begin(const QString& text);
    // Keeps what was typed and says why it was not taken.
    void refuse(const QString& message);
    QString verdict() const { return word_; }

signals:
    void entered(const QString& text);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void setTexts(const Judgement& judgement);

    const LiveJob* liveJob_ = nullptr;
    QString typed_, refusal_, placed_, word_, limits_, heading_, figure_, unit_;
    std::optional<Verdict> verdict_;
    QLabel* arithmetic_;
    QLabel* proves_;
    QLabel* doubts_;
};

}  // namespace ilvek::app
