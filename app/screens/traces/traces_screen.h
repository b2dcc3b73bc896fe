// The Traces screen: a recording in lanes, its cylinders side by side, a verdict and the measures behind it.
#pragma once

#include <QWidget>

#include "models/live_job.h"
#include "models/trace_model.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QTableWidget;

namespace ilvek::app {

class CylinderPanels;
class TraceLanes;

class TracesScreen : public QWidget {
    Q_OBJECT
public:
    explicit TracesScreen(QWidget* parent = nullptr);
    void setLiveJob(LiveJob* liveJob) { liveJob_ = liveJob; }
    void open(const QString& path);
    TraceModel* model() const { return model_; }
    TraceLanes* lanes() const { return lanes_; }
    // O opens, J takes the verdict into the job, else the lanes' keys; true when the key was used.
    bool key(int key);

signals:
    void said(const QString& message, bool bad);

protected:
    void changeEvent(QEvent* event) override;

private:
    void ask();
    void restudy();
    void refresh();
    void fillChoices();
    void fillTable();
    void attach();
    StudyWishes wishes() const;

    LiveJob* liveJob_ = nullptr;
    TraceModel* model_;
    TraceLanes* lanes_;
    CylinderPanels* panels_;
    QLabel *name_, *verdict_, *markers_, *notes_;
    QTableWidget* table_;
    QComboBox *current_, *sync_, *clamp_;
    QLineEdit* order_;
    QPushButton *open_, *attach_, *cancel_;
    QProgressBar* progress_;
    QString path_;
    bool filling_ = false;
};

}  // namespace ilvek::app
