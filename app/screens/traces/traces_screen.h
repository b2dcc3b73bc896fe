// The Traces screen: a recording in lanes, what it is of, a verdict and the measures behind it, compared with siblings,
// with the map and with kept recordings.
#pragma once

#include "models/live_job.h"
#include "models/trace_model.h"
#include "screens/window_screen.h"

class QCheckBox;
class QComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QTableWidget;

namespace ilvek::app {

class ComparisonPanel;
class CylinderPanels;
class TraceLanes;

class TracesScreen : public WindowScreen {
    Q_OBJECT
public:
    explicit TracesScreen(QWidget* parent = nullptr);
    void setLiveJob(LiveJob* liveJob) override;
    void open(const QString& path, const ImportWish& import = {});
    TraceModel* model() const { return model_; }
    TraceLanes* lanes() const { return lanes_; }
    // O opens, I shows how it was read, Z: nothing flows between the markers, N goes to the next event, K keeps it, J
    // takes the verdict into the job, else the lanes' keys; true when the key was used.
    bool key(int key, Qt::KeyboardModifiers modifiers, const QString& text) override;

signals:
    void said(const QString& message, bool bad);

protected:
    void changeEvent(QEvent* event) override;

private:
    struct Row {  // of the choices
        QLabel* label = nullptr;
        QWidget* field = nullptr;
    };
    QWidget* buildSide();
    Row addChoice(QGridLayout* grid, const QString& label, QWidget* field, const char* name);
    void show(const Row& row, bool shown, const QString& label = {});
    void ask();
    void correct();
    void keep();
    void takeKept(const QString& path);
    void restudy();
    void refresh() override;
    void fillChoices();
    void fillParts();
    void fillTable();
    void nextEvent();
    void takeZero();
    std::optional<double> clampChosen() const;
    void attach();
    std::optional<StudyWishes> wishes();

    LiveJob* liveJob_ = nullptr;
    TraceModel* model_;
    TraceLanes* lanes_;
    CylinderPanels* panels_;
    ComparisonPanel* comparison_;
    QLabel *name_, *verdict_ = nullptr, *markers_, *notes_ = nullptr;
    QTableWidget* table_ = nullptr;
    QComboBox *kind_ = nullptr, *main_ = nullptr, *clamp_ = nullptr, *beside_ = nullptr, *sync_ = nullptr,
              *feed_ = nullptr, *part_ = nullptr, *lead_ = nullptr, *terminal_ = nullptr;
    QLineEdit *order_ = nullptr, *wheel_ = nullptr, *bars_ = nullptr, *temperature_ = nullptr, *supply_ = nullptr;
    QCheckBox *drivenLow_ = nullptr, *traffic_ = nullptr;
    Row mainRow_, clampRow_, zeroRow_, besideRow_, feedRow_, syncRow_, orderRow_, wheelRow_, barsRow_, partRow_,
        temperatureRow_, supplyRow_, leadRow_, terminalRow_, drivenLowRow_, trafficRow_;
    QPushButton *open_, *zero_ = nullptr, *attach_ = nullptr, *import_ = nullptr, *keep_ = nullptr, *cancel_;
    QProgressBar* progress_;
    std::shared_ptr<const Map> map_;  // of the open job
    std::optional<WindingReference> kept_;
    std::size_t event_ = 0;  // that is looked at next
    bool filling_ = false;
};

}  // namespace ilvek::app
