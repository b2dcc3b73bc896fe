#include "screens/prove/prove_screen.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QScrollArea>
#include <QScrollBar>

#include "keys.h"
#include "theme.h"
#include "widgets/connector_face.h"
#include "widgets/gate_panel.h"
#include "widgets/ledger_view.h"
#include "widgets/loop_strip.h"
#include "widgets/place_panel.h"
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

ProveScreen::ProveScreen(QWidget* parent) : WindowScreen(parent)
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
    placing_ = new PlacePanel(this);
    placing_->hide();
    middle->addWidget(stepArea_);
    middle->addWidget(placing_);
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
        if (!liveJob_) return;
        if (placing_->isVisible())
            placing_->take(liveJob_->map().terminal(terminal).a);
        else
            liveJob_->choose(terminal);
    });
    connect(strip_, &LoopStrip::placeClicked, this, [this](int node) {
        if (!liveJob_) return;
        if (!placing_->isVisible()) openPlacing();
        placing_->take(node);
    });
    connect(placing_, &PlacePanel::closed, this, &ProveScreen::closePlacing);
    connect(placing_, &PlacePanel::saysOtherwise, this, [this] { resizeEvent(nullptr); });
    connect(placing_, &PlacePanel::placed, this, [this](const SetUp& setUp) {
        closePlacing();
        liveJob_->placeLeads(setUp);
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
    connect(step_, &StepCard::figureWanted, this, &ProveScreen::figureWanted);
    connect(gate_, &GatePanel::checkWanted, this, &ProveScreen::checkWanted);
}

void ProveScreen::setLiveJob(LiveJob* liveJob)
{
    liveJob_ = liveJob;
    dock_->clear();
    closePlacing();
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
    const bool placing = placing_->isVisible();
    const int stepNeeds =
        placing ? placing_->layout()->heightForWidth(middle) : step_->layout()->heightForWidth(middle);
    const int dockNeeds = dock_->layout()->heightForWidth(middle);
    const int most = height() - 22 - 20;
    const int strip = std::clamp(height() * 30 / 100, 128, 400);
    const int step = std::min(stepNeeds, (most - strip) * 48 / 100);
    const int dock = std::min(dockNeeds, most - strip - step);
    const int stepGets = std::min(stepNeeds, most - strip - dock);
    (placing ? static_cast<QWidget*>(placing_) : stepArea_)->setFixedHeight(placing ? stepNeeds : stepGets);
    dockArea_->setFixedHeight(dock);
}

void ProveScreen::showActions(const QPoint& place)
{
    if (!liveJob_) return;
    QMenu menu(this);
    menu.setObjectName(QStringLiteral("actions"));
    for (const KeyLine& line : keyTable()) {
        if (line.key == 0) continue;
        QString words = line.words.section(QLatin1Char(':'), 0, 0);
        words.replace(0, 1, words.left(1).toUpper());
        auto* action = menu.addAction(QStringLiteral("%1\t%2").arg(words, line.shown));
        connect(action, &QAction::triggered, this, [this, key = line.key] { command(key); });
    }
    menu.exec(place);
}

void ProveScreen::openPlacing()
{
    stepArea_->hide();
    placing_->show();
    placing_->open(*liveJob_);
    resizeEvent(nullptr);
}

void ProveScreen::closePlacing()
{
    placing_->hide();
    stepArea_->show();
    setFocus();
    resizeEvent(nullptr);
}

// A list under the step, chosen with its number, an arrow or a click.
int ProveScreen::chosenFrom(const char* name, const QStringList& lines)
{
    QMenu menu(this);
    menu.setObjectName(QLatin1String(name));
    menu.setFont(face(17));
    for (int i = 0; i < lines.size(); ++i)
        menu.addAction(QStringLiteral("&%1  %2").arg((i + 1) % 10).arg(lines[i]))->setData(i);
    const QAction* chosen = menu.exec(stepArea_->mapToGlobal(QPoint(20, 40)));
    return chosen ? chosen->data().toInt() : -1;
}

void ProveScreen::askState()
{
    const auto& states = liveJob_->map().states;
    QStringList lines;
    for (const OperatingState& s : states) {
        QString line = QString::fromStdString(s.name);
        if (!s.how.empty()) line += QStringLiteral("  –  ") + QString::fromStdString(s.how);
        if (!s.caution.empty())
            line += QStringLiteral("  –  ") + tr("Caution: %1").arg(QString::fromStdString(s.caution));
        lines << line;
    }
    const int state = chosenFrom("states", lines);
    if (state >= 0) liveJob_->setState(states[static_cast<std::size_t>(state)].id);
}

void ProveScreen::askSeen()
{
    const std::pair<QString, const char*> seen[] = {{tr("Lamp bright"), "bright"},
                                                    {tr("Lamp dim"), "dim"},
                                                    {tr("Lamp dark"), "dark"},
                                                    {tr("Breaker tripped"), "tripped"},
                                                    {tr("Breaker holds"), "holds"},
                                                    {tr("The signal moves"), "moves"},
                                                    {tr("Stuck high"), "stuck high"},
                                                    {tr("Stuck low"), "stuck low"},
                                                    {tr("The module itself reports …"), "module "},
                                                    {tr("Diode mode …"), "diode "}};
    QStringList lines;
    for (const auto& [words, typed] : seen)
        lines << words;
    const int chosen = chosenFrom("seen", lines);
    if (chosen < 0) return;
    const QString typed = QLatin1String(seen[chosen].second);
    if (typed.endsWith(QLatin1Char(' ')))
        dock_->begin(typed);
    else
        liveJob_->take(typed);
}

void ProveScreen::askTouched()
{
    const QStringList places = liveJob_->touchable();
    if (places.isEmpty()) return;  // nothing is watched
    const int chosen = chosenFrom("touched", places);
    if (chosen >= 0) liveJob_->touch(places[chosen]);
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
        case Qt::Key_H:
            emit proceduresWanted();
            return true;
        case Qt::Key_P:
            openPlacing();
            return true;
        case Qt::Key_S:
            askState();
            return true;
        case Qt::Key_I:
            askSeen();
            return true;
        case Qt::Key_Y:
            askTouched();
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
        case Qt::Key_K:
            emit figureWanted(liveJob_->shownTerminal());
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
    // A hand is at the loom: one key for each place of a watch.
    if (liveJob_ && modifiers == Qt::AltModifier && key >= Qt::Key_1 && key <= Qt::Key_9) {
        const QStringList places = liveJob_->touchable();
        return key - Qt::Key_1 < places.size() && liveJob_->touch(places[key - Qt::Key_1]);
    }
    if (!liveJob_ || (modifiers & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier))) return false;
    const bool enters = key == Qt::Key_Return || key == Qt::Key_Enter;
    if (enters && !dock_->isTyping() && liveJob_->asked()) {
        emit tellWanted();
        return true;
    }
    if (dock_->isTyping()) return dock_->typed(key, text) || command(key);
    return command(key) || dock_->typed(key, text);
}

}  // namespace ilvek::app
