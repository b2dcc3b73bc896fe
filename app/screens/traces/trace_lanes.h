// The channels of a recording as lanes on one time base: pulses and their cylinders marked, features as labelled pins,
// two markers.
#pragma once

#include <QWidget>
#include <memory>

#include "models/trace_model.h"

namespace ilvek::app {

class TraceLanes : public QWidget {
    Q_OBJECT
public:
    explicit TraceLanes(QWidget* parent = nullptr);
    void show(std::shared_ptr<const TraceView> view);

    // Seconds from the first sample.
    double from() const { return from_s_; }
    double to() const { return to_s_; }
    void look(double from_s, double to_s);
    void zoom(double factor, double about_s);
    // 0 or 1; nothing when it lies outside.
    void placeMarker(int which, double at_s);
    std::optional<double> marker(int which) const { return markers_[which]; }
    QString markerWords() const;
    // + − zoom, arrows pan, Home all, [ and ] the markers at the middle; true when the key was used.
    bool key(int key);

signals:
    void markersMoved();

protected:
    void paintEvent(QPaintEvent*) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    QSize minimumSizeHint() const override { return {400, 200}; }

private:
    QRectF plot() const;
    double timeAt(double x) const;
    double xAt(double t_s) const;
    void drawLane(QPainter& p, const QRectF& lane, std::size_t channel);
    void drawCurve(QPainter& p, const QRectF& lane, std::size_t channel, double low, double high);
    void drawGaps(QPainter& p, const QRectF& lane, std::size_t channel);
    void drawPulses(QPainter& p, const QRectF& lane, double low, double high);
    void drawExpected(QPainter& p, const QRectF& lane, double low, double high);
    void drawEvents(QPainter& p, const QRectF& lane);
    void drawTimes(QPainter& p);
    void drawMarkers(QPainter& p);

    std::shared_ptr<const TraceView> view_;
    double from_s_ = 0, to_s_ = 1;
    std::optional<double> markers_[2];
    double grabbedAt_s_ = 0;
    int dragging_ = -1;  // a marker, or 2 for the time base
    bool moved_ = false;
};

}  // namespace ilvek::app
