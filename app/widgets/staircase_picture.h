// The staircase of a terminal as the report shows it, before and after a repair in one picture.
#pragma once

#include <QSvgRenderer>
#include <QWidget>

namespace ilvek::app {

class StaircasePicture : public QWidget {
public:
    explicit StaircasePicture(QWidget* parent = nullptr);
    // An SVG; empty: nothing is drawn.
    void show(const std::string& svg, const QString& words);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QSvgRenderer svg_;
};

}  // namespace ilvek::app
