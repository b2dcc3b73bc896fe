// The circuit under test as one unrolled line from battery plus to battery minus, the probe flags where they stand, and
// under it on the same positions the potential staircase: expected as a band, readings as marks, a bad joint as a step.
#pragma once

#include <QWidget>
#include <vector>

#include "models/live_job.h"
#include "proving/walk.h"

namespace ilvek::app {

// What is drawn, prepared apart from the drawing so that the report draws the same.
struct LoopPicture {
    struct Symbol {
        QString label;
        enum class Kind { Battery, Box, Splice, Load } kind = Kind::Box;
        int nodeIn = -1, nodeOut = -1;  // entered and left; equal for a single point
        std::optional<double> expectedIn, expectedOut;
        std::optional<double> suspectedIn, suspectedOut;             // with the likeliest suspect's fault
        std::optional<double> openIn, openOut, loadedIn, loadedOut;  // read potentials
        std::optional<double> toReturn;  // read loaded against the own return: a mark, but no potential
        bool red = false, black = false;
        bool isTarget = false;
        bool isLower = false;  // its label stands in the second line
    };
    QString title;
    QString current;    // "2.27 A computed"
    QString suspected;  // the suspect that the dashed line stands for, with its loss and where; empty: no such line
    std::vector<Symbol> symbols;
    double top_V = 12;
    int stepFrom = -1, stepTo = -1;  // symbols between which the located step lies; may be the same one
    bool stepIsSingle = false;
    double stepFrom_V = 0, stepTo_V = 0;
    QString stepWords, stepWhere;
};

// The battery with the module on it where no terminal is shown (−1); an empty picture where nothing is connected.
LoopPicture loopPicture(const LiveJob& liveJob, int terminal);
// The circuit of a terminal as the map has it, without a job.
LoopPicture wayPicture(const Map& map, int terminal);
void drawLoop(QPainter& painter, const QRectF& box, const LoopPicture& picture);

class LoopStrip : public QWidget {
    Q_OBJECT
public:
    explicit LoopStrip(QWidget* parent = nullptr);
    void show(const LiveJob& liveJob);
    // Of a map without a job; −1: nothing.
    void showWay(const Map& map, int terminal);
    const LoopPicture& picture() const { return picture_; }
    // The place under a point of the widget: the nearer side of the nearest symbol; −1 where none is near.
    int placeAt(const QPointF& at) const;

signals:
    void placeClicked(int node);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    LoopPicture picture_;
};

}  // namespace ilvek::app
