// The cylinders of a set beside each other.
#pragma once

#include <QWidget>
#include <memory>

#include "models/trace_model.h"

namespace ilvek::app {

// The cylinders side by side, each from its switching on: its own pulses over the band of its siblings.
class CylinderPanels : public QWidget {
    Q_OBJECT
public:
    explicit CylinderPanels(QWidget* parent = nullptr);
    void show(std::shared_ptr<const TraceView> view);

protected:
    void paintEvent(QPaintEvent*) override;
    QSize minimumSizeHint() const override { return {400, 150}; }

private:
    struct Shape {
        int cylinder = 0;
        std::vector<std::vector<double>> pulses;  // of one length, from a little before switching on
        QString words;
        bool odd = false;
    };
    void draw(QPainter& p, const QRectF& box, const Shape& shape, double most);
    std::vector<Shape> shapes_;
};

}  // namespace ilvek::app
