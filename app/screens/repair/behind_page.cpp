#include "screens/repair/behind_page.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>

#include "machine/paths.h"
#include "theme.h"
#include "widgets/labels.h"

namespace ilvek::app {

namespace {

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

// A verdict is a word and a shape.
QString stateOf(const BehindQuestion& q)
{
    if (q.leftOpen) return BehindPage::tr("○  left open");
    if (q.isOpen()) return BehindPage::tr("□  open");
    return (q.good ? QStringLiteral("✓  ") : QStringLiteral("▲  ")) + text(q.answer);
}

}  // namespace

BehindPage::BehindPage(QWidget* parent) : QWidget(parent)
{
    constexpr int answerWidth = 230;
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 8, 0, 0);
    hint_ = wrappedLabel("behindHint", face(15), this);
    column->addWidget(hint_);
    list_ = new QTreeWidget(this);
    list_->setObjectName(QStringLiteral("behindQuestions"));
    list_->setAccessibleName(tr("What lies behind it"));
    list_->setColumnCount(2);
    list_->setHeaderLabels({tr("Before the new part goes in"), tr("Answer")});
    list_->setRootIsDecorated(false);
    list_->setWordWrap(true);
    list_->setFocusPolicy(Qt::NoFocus);  // the keys are the screen's
    list_->header()->setStretchLastSection(false);
    list_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    list_->header()->setSectionResizeMode(1, QHeaderView::Interactive);
    list_->setColumnWidth(1, answerWidth);
    connect(list_, &QTreeWidget::currentItemChanged, this, &BehindPage::showChosen);
    column->addWidget(list_, 1);
    why_ = wrappedLabel("behindWhy", face(17), this);
    column->addWidget(why_);
    auto* row = new QHBoxLayout;
    answer_ = new QLineEdit(this);
    answer_->setObjectName(QStringLiteral("behindAnswer"));
    answer_->setAccessibleName(tr("Answer"));
    answer_->setPlaceholderText(tr("what was found, then Enter"));
    answer_->setMinimumHeight(34);
    connect(answer_, &QLineEdit::returnPressed, this, [this] { answer(false); });
    open_ = new QPushButton(tr("Leave it &open"), this);
    open_->setObjectName(QStringLiteral("behindOpen"));
    connect(open_, &QPushButton::clicked, this, [this] { answer(true); });
    place_ = new QPushButton(tr("Place the &leads"), this);
    place_->setObjectName(QStringLiteral("behindPlace"));
    connect(place_, &QPushButton::clicked, this, [this] { (void)key(Qt::Key_L); });
    row->addWidget(answer_, 1);
    row->addWidget(place_);
    row->addWidget(open_);
    column->addLayout(row);
}

void BehindPage::show(LiveJob* liveJob)
{
    liveJob_ = liveJob;
    const int at = list_->currentItem() ? list_->indexOfTopLevelItem(list_->currentItem()) : 0;
    list_->clear();
    questions_.clear();
    if (liveJob_) {
        const Reasoning* reasoning = liveJob_->reasoning();
        questions_ = behindQuestions(liveJob_->job(), liveJob_->assessment(),
                                     reasoning ? locatedParts(*reasoning) : std::vector<int>{});
    }
    constexpr int rowHeight = 32;
    const Theme& t = Theme::current();
    for (const BehindQuestion& q : questions_) {
        auto* item = new QTreeWidgetItem({text(q.question), stateOf(q)});
        item->setFont(0, face(17));
        item->setFont(1, face(17, QFont::Bold));
        item->setForeground(1, q.isOpen() || !q.good ? t.bad : t.good);
        item->setToolTip(0, plainTip(text(q.why)));
        item->setToolTip(1, plainTip(stateOf(q)));
        item->setSizeHint(0, QSize(0, rowHeight));
        list_->addTopLevelItem(item);
    }
    hint_->setText(questions_.empty()
                       ? tr("Nothing was found or mended yet. What stands behind a fault is asked here then.")
                       : tr("What was found may have a cause of its own. ↑ ↓ choose, L places the leads, O leaves it "
                            "open; it stands on the report."));
    if (!questions_.empty())
        list_->setCurrentItem(list_->topLevelItem(std::clamp(at, 0, list_->topLevelItemCount() - 1)));
    showChosen();
}

const BehindQuestion* BehindPage::chosen() const
{
    const int at = list_->currentItem() ? list_->indexOfTopLevelItem(list_->currentItem()) : -1;
    return at >= 0 && at < static_cast<int>(questions_.size()) ? &questions_[static_cast<std::size_t>(at)] : nullptr;
}

void BehindPage::showChosen()
{
    const BehindQuestion* q = chosen();
    // What the list has no room for stands whole here.
    why_->setText(q ? text(q->question) + QLatin1Char('\n') +
                          (q->answer.empty() ? QString() : text(q->answer) + QLatin1Char('\n')) + text(q->why)
                    : QString());
    answer_->setEnabled(q);
    open_->setEnabled(q);
    place_->setVisible(q && q->test);
}

void BehindPage::choose(int by)
{
    const int at = list_->currentItem() ? list_->indexOfTopLevelItem(list_->currentItem()) : 0;
    if (QTreeWidgetItem* item = list_->topLevelItem(at + by)) list_->setCurrentItem(item);
}

void BehindPage::answer(bool leftOpen)
{
    const BehindQuestion* q = chosen();
    const QString words = answer_->text().trimmed();
    if (!liveJob_ || !q || (!leftOpen && words.isEmpty())) return;
    const std::string id = q->id;
    if (!liveJob_->enter(CauseAnswered{id, leftOpen ? std::string() : words.toStdString(), leftOpen})) return;
    answer_->clear();
    choose(1);
}

// Ohms from the module's plug across what hangs on it, the rest as the plan reads it.
void BehindPage::placeFor(const BehindQuestion& q)
{
    const Map& map = liveJob_->map();
    if (q.terminal < 0) return liveJob_->demand(*q.test);
    const Terminal& t = map.terminal(q.terminal);
    const int far = *q.test == TestKind::Resistance ? farEndOf(map, q.terminal) : -1;
    if (far >= 0) {
        SetUp setUp;
        setUp.red = map.node(t.a), setUp.black = map.node(far);
        setUp.state = map.stateIndex("key-off") >= 0 ? "key-off" : liveJob_->job().state;
        setUp.unplugged = {map.connectors[static_cast<std::size_t>(t.connector)].id};
        return liveJob_->placeLeads(setUp);
    }
    liveJob_->choose(q.terminal);
    if (*q.test == TestKind::ReturnDrop) liveJob_->demand(TestKind::LoadedSupply);
}

bool BehindPage::key(int key)
{
    const BehindQuestion* q = chosen();
    if (!liveJob_ || !q) return false;
    switch (key) {
        case Qt::Key_Up:
            return choose(-1), true;
        case Qt::Key_Down:
            return choose(1), true;
        case Qt::Key_O:
            return answer(true), true;
        case Qt::Key_L:
            if (!q->test) return false;
            placeFor(*q);
            emit testWanted();
            return true;
        default:
            return false;
    }
}

}  // namespace ilvek::app
