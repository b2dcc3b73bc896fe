// What functions share, drawn as lines from the battery to each function that pass through what they have in common.
#pragma once

#include <QWidget>
#include <vector>

#include "papers/shared_branches.h"
#include "papers/told.h"

namespace ilvek::app {

class SharedPaths : public QWidget {
    Q_OBJECT
public:
    explicit SharedPaths(QWidget* parent = nullptr);
    // What was told and stored first; of the other functions a few.
    void show(const Job& job, const std::vector<Branch>& branches);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return {320, 80}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    struct Line {
        int function = -1;
        QString name;
        Does does = Does::NotTried;
    };
    struct Station {
        QString parts;            // in words, a few
        std::vector<bool> joins;  // by line
        bool best = false;
        QString verdict;  // "explains 3 of 3, none against"
    };
    int legendTop() const;
    int legendRow(std::size_t station) const;

    std::vector<Line> lines_;
    std::vector<Station> stations_;
};

}  // namespace ilvek::app
