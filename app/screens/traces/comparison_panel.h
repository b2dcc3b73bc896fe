// The pulses against what they should look like: their mean over the band of tolerance, and the deviation below it in
// units of that tolerance.
#pragma once

#include <QWidget>
#include <memory>

#include "models/trace_model.h"

namespace ilvek::app {

class ComparisonPanel : public QWidget {
    Q_OBJECT
public:
    explicit ComparisonPanel(QWidget* parent = nullptr);
    // Hidden when nothing with a shape was compared.
    void show(std::shared_ptr<const TraceView> view);

protected:
    void paintEvent(QPaintEvent*) override;
    QSize minimumSizeHint() const override { return {400, 190}; }

private:
    void drawCurrents(QPainter& p, const QRectF& area);
    void drawDeviation(QPainter& p, const QRectF& area);
    const Compared* compared() const;
    double shareOf(std::size_t sample) const;

    std::shared_ptr<const TraceView> view_;
};

}  // namespace ilvek::app
