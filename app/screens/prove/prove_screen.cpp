#include "screens/prove/prove_screen.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QScrollArea>
#include <QScrollBar>

#include "theme.h"
#include "widgets/connector_face.h"
#include "widgets/gate_panel.h"
#include "widgets/ledger_view.h"
#include "widgets/loop_strip.h"
#include "widgets/reading_dock.h"
#include "widgets/step_card.h"

namespace ilvek::app {

namespace {

QScrollArea* scrolling(QWidget* inside, const char* name, QWidget* parent)
{
    auto* area = new QScrollArea(parent);
    area->setObjectName(QLatin1String(name));
    area->setWidgetResizable(true);
    area->setFrameShape(QFrame::NoFrame);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setFocusPolicy(Qt::NoFocus);
    area->setWidget(inside);
    return area;
}

}  // namespace

ProveScreen::ProveScreen(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("proveScreen"));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 12);
    layout->setSpacing(12);

    left_ = new QWidget(this);
    auto* leftLayout = new QVBoxLayout(left_);
    leftLayout->setContentsMargins(0, 0, 0, 0);
    leftLayout->setSpacing(4);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Ledger"), left_);
    title->setFont(face(18, QFont::Bold));
    count_ = new QLabel(left_);
    count_->setObjectName(QStringLiteral("ledgerCount"));
    head->addWidget(title);
    head->addStretch(1);
    head->addWidget(count_);
    ledger_ = new LedgerView(left_);
    leftLayout->addLayout(head);
    leftLayout->addWidget(ledger_, 1);

    auto* middle = new QVBoxLayout;
    middle->setSpacing(10);
    step_ = new StepCard(this);
    strip_ = new LoopStrip(this);
    dock_ = new ReadingDock(this);
    stepArea_ = scrolling(step_, "stepArea", this);
    dockArea_ = scrolling(dock_, "dockArea", this);
    middle->addWidget(stepArea_);
    middle->addWidget(strip_, 1);
    middle->addWidget(dockArea_);

    auto* rightInside = new QWidget;
    auto* rightLayout = new QVBoxLayout(rightInside);
    rightLayout->setContentsMargins(0, 0, 0, 0);
    rightLayout->setSpacing(10);
    face_ = new ConnectorFace(rightInside);
    gate_ = new GatePanel(rightInside);
    rightLayout->addWidget(face_);
    rightLayout->addWidget(gate_, 1);
    right_ = scrolling(rightInside, "rightArea", this);

    layout->addWidget(left_);
    layout->addLayout(middle, 1);
    layout->addWidget(right_);

    connect(ledger_, &LedgerView::chosen, this, [this](int terminal) {
        if (liveJob_) liveJob_->choose(terminal);
    });
    connect(face_, &ConnectorFace::chosen, this, [this](int terminal) {
        if (liveJob_) liveJob_->choose(terminal);
    });
    connect(dock_, &ReadingDock::entered, this, [this](const QString& text) {
        if (liveJob_ && liveJob_->take(text)) dock_->clear();
    });
    for (QWidget* part : {static_cast<QWidget*>(ledger_), static_cast<QWidget*>(step_), static_cast<QWidget*>(strip_),
                          static_cast<QWidget*>(dock_)}) {
        part->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(part, &QWidget::customContextMenuRequested, this,
                [this, part](const QPoint& at) { showActions(part->mapToGlobal(at)); });
    }
    connect(gate_, &GatePanel::checkWanted, this, &ProveScreen::checkWanted);
}

void ProveScreen::setLiveJob(LiveJob* liveJob)
{
    liveJob_ = liveJob;
    dock_->clear();
    if (!liveJob_) return;
    connect(liveJob_, &LiveJob::changed, this, &ProveScreen::refresh);
    connect(liveJob_, &LiveJob::refused, dock_, &ReadingDock::refuse);
    refresh();
}

void ProveScreen::refresh()
{
    if (!liveJob_) return;
    ledger_->show(*liveJob_);
    const auto [proven, all] = static_cast<const LedgerModel*>(ledger_->model())->proven();
    count_->setText(tr("%1 of %2 proven").arg(proven).arg(all));
    step_->setLow(height() < 700);
    step_->show(*liveJob_);
    strip_->show(*liveJob_);
    dock_->show(*liveJob_);
    face_->show(*liveJob_);
    gate_->show(*liveJob_);
    resizeEvent(nullptr);
}

void ProveScreen::resizeEvent(QResizeEvent* event)
{
    if (liveJob_ && event) {
        step_->setLow(height() < 700);
        step_->show(*liveJob_);
    }
    // Side columns give way on a narrow screen, and grow a little on a wide one.
    const int side = std::clamp(width() * 23 / 100, 242, 420);
    left_->setFixedWidth(side);
    right_->setFixedWidth(side);
    const int middle = width() - 2 * side - 48;
    if (height() < 300 || middle < 200) return;  // not laid out yet
    // The step and the dock take what their words need; the strip keeps at least what makes a staircase readable.
    const int stepNeeds = step_->layout()->heightForWidth(middle);
    const int dockNeeds = dock_->layout()->heightForWidth(middle);
    const int most = height() - 22 - 20;
    const int strip = std::clamp(height() * 30 / 100, 128, 400);
    const int step = std::min(stepNeeds, (most - strip) * 48 / 100);
    const int dock = std::min(dockNeeds, most - strip - step);
    stepArea_->setFixedHeight(std::min(stepNeeds, most - strip - dock));
    dockArea_->setFixedHeight(dock);
}

void ProveScreen::showActions(const QPoint& place)
{
    if (!liveJob_) return;
    const std::pair<Qt::Key, QString> actions[] = {{Qt::Key_N, tr("Next step of the job")},
                                                   {Qt::Key_T, tr("The test that tells most")},
                                                   {Qt::Key_B, tr("Read the battery")},
                                                   {Qt::Key_R, tr("Read open-circuit")},
                                                   {Qt::Key_L, tr("Load the supply or the return")},
                                                   {Qt::Key_C, tr("Change the load")},
                                                   {Qt::Key_G, tr("Swap the ground")},
                                                   {Qt::Key_W, tr("Walk the segments")},
                                                   {Qt::Key_F, tr("Fuse, both sides")},
                                                   {Qt::Key_D, tr("Dead when it must be?")},
                                                   {Qt::Key_V, tr("Look at the terminal")},
                                                   {Qt::Key_A, tr("Assume good, with the reason")},
                                                   {Qt::Key_E, tr("Correct on the map, or mark as found")},
                                                   {Qt::Key_U, tr("Undo the last entry")}};
    QMenu menu(this);
    menu.setObjectName(QStringLiteral("actions"));
    for (const auto& [key, words] : actions) {
        auto* action = menu.addAction(QStringLiteral("%1\t%2").arg(words, QKeySequence(key).toString()));
        connect(action, &QAction::triggered, this, [this, key = key] { command(key); });
    }
    menu.exec(place);
}

bool ProveScreen::command(int key)
{
    switch (key) {
        case Qt::Key_N:
            liveJob_->follow();
            return true;
        case Qt::Key_T:
            liveJob_->takeSuggestion(0);
            return true;
        case Qt::Key_B:
            liveJob_->demand(TestKind::Battery);
            return true;
        case Qt::Key_R:
            liveJob_->demand(TestKind::OpenSupply);
            return true;
        case Qt::Key_L:
            liveJob_->demand(TestKind::LoadedSupply);
            return true;
        case Qt::Key_G:
            liveJob_->demand(TestKind::GroundSwap);
            return true;
        case Qt::Key_W:
            liveJob_->demand(TestKind::SegmentWalk);
            return true;
        case Qt::Key_F:
            liveJob_->demand(TestKind::FuseCheck);
            return true;
        case Qt::Key_D:
            liveJob_->demand(TestKind::AbsentSupply);
            return true;
        case Qt::Key_V:
            liveJob_->demand(TestKind::Look);
            return true;
        case Qt::Key_C:
            liveJob_->changeLoad();
            return true;
        case Qt::Key_M:
            face_->mirror();
            return true;
        case Qt::Key_U:
            liveJob_->undo();
            return true;
        case Qt::Key_A:
            emit assumptionWanted(liveJob_->shownTerminal());
            return true;
        case Qt::Key_E:
            emit correctionWanted(liveJob_->shownTerminal());
            return true;
        case Qt::Key_Down:
            ledger_->moveBy(1);
            return true;
        case Qt::Key_Up:
            ledger_->moveBy(-1);
            return true;
        default:
            return false;
    }
}

bool ProveScreen::key(int key, Qt::KeyboardModifiers modifiers, const QString& text)
{
    if (!liveJob_ || (modifiers & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier))) return false;
    if (dock_->isTyping()) return dock_->typed(key, text) || command(key);
    return command(key) || dock_->typed(key, text);
}

}  // namespace ilvek::app
