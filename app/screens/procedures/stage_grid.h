// Stages of a procedure that are read side by side: the truth table of a drive, the three places of a sensor.
#pragma once

#include <QWidget>

#include <vector>

#include "procedures/procedure.h"
#include "widgets/shapes.h"

namespace ilvek::app {

Mark markOfStage(Stage::State state);

class StageGrid : public QWidget {
    Q_OBJECT

public:
    explicit StageGrid(QWidget* parent);

    // Hides itself where the procedure has none. `figureOf`: of an entry of the job.
    void show(const Procedure& procedure, const std::function<QString(std::int64_t)>& figureOf);
    // As a person would read it aloud: "feed side, off: 12.4 V, shown".
    QStringList lines() const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    struct Cell {
        bool isThere = false;  // something is read there
        std::optional<Stage::State> state;
        QString figure;
    };
    QStringList columns_, rows_;
    std::vector<std::vector<Cell>> cells_;
};

}  // namespace ilvek::app
