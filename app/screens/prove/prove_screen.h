// The Prove screen: ledger, step card, loop strip with staircase, reading dock, connector face, gate.
#pragma once

#include "models/live_job.h"
#include "screens/window_screen.h"

class QLabel;
class QScrollArea;

namespace ilvek::app {

class ConnectorFace;
class GatePanel;
class LedgerView;
class LoopStrip;
class PlacePanel;
class ReadingDock;
class StepCard;

class ProveScreen : public WindowScreen {
    Q_OBJECT
public:
    explicit ProveScreen(QWidget* parent = nullptr);
    void setLiveJob(LiveJob* liveJob) override;
    // A key pressed anywhere in the window; true when it was used here.
    bool key(int key, Qt::KeyboardModifiers modifiers, const QString& text) override;
    ReadingDock* dock() const { return dock_; }
    LoopStrip* strip() const { return strip_; }

public slots:
    void refresh() override;

signals:
    void checkWanted(const QString& id);
    void assumptionWanted(int terminal);
    void correctionWanted(int terminal);
    void figureWanted(int terminal);
    void proceduresWanted();
    void tellWanted();

protected:
    void resizeEvent(QResizeEvent*) override;

private:
    bool command(int key);
    void openPlacing();
    void closePlacing();
    void askState();
    void askSeen();
    void askTouched();
    int chosenFrom(const char* name, const QStringList& lines);
    // Everything that can be done here, each with its key, at a place on the screen.
    void showActions(const QPoint& place);

    LiveJob* liveJob_ = nullptr;
    QLabel* count_;
    LedgerView* ledger_;
    StepCard* step_;
    LoopStrip* strip_;
    PlacePanel* placing_;
    ReadingDock* dock_;
    ConnectorFace* face_;
    GatePanel* gate_;
    QWidget* left_;
    QScrollArea* right_;
    QScrollArea* stepArea_;
    QScrollArea* dockArea_;
};

}  // namespace ilvek::app
