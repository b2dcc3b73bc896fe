// The bar on top: screens at the left, the job in the middle, the battery at the right.
#pragma once

#include <QPushButton>
#include <QWidget>

class QLabel;

namespace ilvek::app {

// A screen's name; the one shown is bold and underlined.
class BarButton : public QPushButton {
    Q_OBJECT
public:
    explicit BarButton(const QString& text, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    // Smaller, where there is little room.
    void setNarrow(bool narrow);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    bool narrow_ = false;
};

class TopBar : public QWidget {
    Q_OBJECT
public:
    explicit TopBar(QWidget* parent = nullptr);
    void setScreen(int index);  // of the buttons; -1 for none
    void setJob(const QString& machine, const QString& title);
    void setBattery(const QString& figure, const QString& age, bool stale);
    void setJobOpen(bool open);

signals:
    void screenWanted(int index);
    void keysWanted();

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    static constexpr int screens = 8;
    BarButton* buttons_[screens];
    QLabel *machine_, *title_, *battery_, *age_;
};

}  // namespace ilvek::app
