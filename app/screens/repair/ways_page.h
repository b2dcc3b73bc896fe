// Repair or replace: the ways to mend it, what each costs and is likely to cost, and the decision.
#pragma once

#include <QWidget>

#include "models/live_job.h"
#include "repair/ways.h"

class QLabel;
class QLineEdit;
class QTableWidget;

namespace ilvek::app {

class WaysPage : public QWidget {
    Q_OBJECT
public:
    explicit WaysPage(QWidget* parent = nullptr);
    void show(LiveJob* liveJob);
    // Enters what was typed.
    void takeOver();

signals:
    void said(const QString& message, bool bad);

private:
    void fill();
    void fillTyped();
    void fillCosts();
    bool isUnfinished() const;
    std::vector<PartBelief> belief() const;
    void decide();
    // What the table holds. ERRORS: the row and what cannot be meant.
    Result<RepairChoices> typed() const;

    LiveJob* liveJob_ = nullptr;
    bool filling_ = false, touched_ = false;
    QTableWidget* table_;
    QLineEdit *hour_, *waiting_, *reasons_;
    QLabel *hint_, *sums_, *decided_;
};

}  // namespace ilvek::app
