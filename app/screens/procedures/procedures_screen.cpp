#include "screens/procedures/procedures_screen.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>

#include "procedures/in_words.h"
#include "screens/procedures/stage_grid.h"
#include "theme.h"
#include "widgets/labels.h"
#include "widgets/shapes.h"

namespace ilvek::app {

namespace {

// A mark as a widget.
class MarkBox : public QWidget {
public:
    MarkBox(Mark mark, QWidget* parent) : QWidget(parent), mark_(mark) { setFixedSize(22, 22); }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        drawMark(p, QRectF(2, 2, 18, 18), mark_);
    }

private:
    Mark mark_;
};

// The stage that is next stands on a card.
class StageBox : public QWidget {
public:
    StageBox(bool isNext, QWidget* parent) : QWidget(parent), isNext_(isNext) {}

protected:
    void paintEvent(QPaintEvent*) override
    {
        if (!isNext_) return;
        QPainter p(this);
        drawCard(p, rect());
        p.fillRect(QRectF(0, 1, 5, height() - 2), Theme::current().accent);
    }

private:
    bool isNext_;
};

QScrollArea* scrolling(const char* name, QVBoxLayout*& rows, QWidget* parent)
{
    auto* area = new QScrollArea(parent);
    area->setObjectName(QLatin1String(name));
    area->setWidgetResizable(true);
    area->setFrameShape(QFrame::NoFrame);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setFocusPolicy(Qt::NoFocus);
    auto* inside = new QWidget(area);
    rows = new QVBoxLayout(inside);
    rows->setContentsMargins(0, 0, 6, 0);
    rows->setSpacing(3);
    rows->addStretch(1);
    area->setWidget(inside);
    return area;
}

void empty(QVBoxLayout* rows)
{
    while (rows->count() > 1) {
        QLayoutItem* item = rows->takeAt(0);
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
}

QString standOf(const Procedure& p)
{
    if (p.ending) return QString::fromStdString(sentence(p.ending->fact));
    if (p.calledBy) return QString::fromStdString(sentence(*p.calledBy));
    return p.isBegun() ? ProceduresScreen::tr("Begun") : QString::fromStdString(procedurePurpose(p));
}

}  // namespace

ProcedureRow::ProcedureRow(QWidget* parent) : QPushButton(parent)
{
    setCheckable(true);
    setFixedHeight(56);
    setFocusPolicy(Qt::NoFocus);  // moved by ↑ and ↓
    setCursor(Qt::PointingHandCursor);
}

void ProcedureRow::show(const QString& title, const Procedure& p, bool chosen, bool isFollowed)
{
    title_ = title;
    stand_ = standOf(p);
    using Kind = Ending::Kind;
    const Mark mark = !p.ending                           ? p.isBegun() ? Mark::Half : Mark::Hollow
                      : p.ending->kind == Kind::Sound     ? Mark::Tick
                      : p.ending->kind == Kind::Found     ? Mark::Diamond
                      : p.ending->kind == Kind::Elsewhere ? Mark::Triangle
                                                          : Mark::Question;
    mark_ = static_cast<int>(mark);
    isFollowed_ = isFollowed;
    setChecked(chosen);
    setAccessibleName(tr("%1. %2").arg(title_, stand_));
    setToolTip(plainTip(stand_));
    update();
}

void ProcedureRow::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = Theme::current();
    const QRectF box = QRectF(rect()).adjusted(1, 1, -1, -3);
    drawCard(p, box);
    if (isChecked()) {
        p.setPen(QPen(t.accent, 3));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(box, 6, 6);
    }
    drawMark(p, QRectF(12, 17, 20, 20), static_cast<Mark>(mark_));
    const int left = 44, room = static_cast<int>(box.width()) - left - 12;
    p.setPen(t.ink);
    p.setFont(face(17, isChecked() || isFollowed_ ? QFont::Bold : QFont::Normal));
    const QString title = isFollowed_ ? ProceduresScreen::tr("%1 – followed").arg(title_) : title_;
    p.drawText(QRectF(left, 5, room, 24), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(title, Qt::ElideRight, room));
    p.setPen(t.dim);
    p.setFont(face(14));
    p.drawText(QRectF(left, 28, room, 20), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(stand_, Qt::ElideRight, room));
}

ProceduresScreen::ProceduresScreen(QWidget* parent) : WindowScreen(parent)
{
    setObjectName(QStringLiteral("proceduresScreen"));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 12);
    layout->setSpacing(18);
    auto* left = new QVBoxLayout;
    left->setSpacing(6);
    auto* heading = wrappedLabel("proceduresHeading", face(18, QFont::Bold), this);
    heading->setText(tr("Procedures"));
    found_ = wrappedLabel("proceduresFound", face(15), this);
    listArea_ = scrolling("proceduresList", rows_, this);
    left->addWidget(heading);
    left->addWidget(found_);
    left->addWidget(listArea_, 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(6);
    title_ = wrappedLabel("procedureTitle", face(22, QFont::Bold), this);
    purpose_ = wrappedLabel("procedurePurpose", face(16), this);
    called_ = wrappedLabel("procedureCalled", face(15), this);
    caution_ = wrappedLabel("procedureCaution", face(15, QFont::Bold), this);
    grid_ = new StageGrid(this);
    stageArea_ = scrolling("procedureStages", stages_, this);
    stages_->setSpacing(6);
    end_ = wrappedLabel("procedureEnd", face(18, QFont::Bold), this);
    follow_ = new QPushButton(this);
    follow_->setObjectName(QStringLiteral("procedureFollow"));
    follow_->setFont(face(17));
    follow_->setMinimumSize(210, 44);
    follow_->setFocusPolicy(Qt::NoFocus);  // Enter is its key
    connect(follow_, &QPushButton::clicked, this, &ProceduresScreen::followChosen);
    for (QWidget* widget : {static_cast<QWidget*>(title_), static_cast<QWidget*>(purpose_),
                            static_cast<QWidget*>(called_), static_cast<QWidget*>(caution_)})
        right->addWidget(widget);
    right->addWidget(grid_);
    right->addWidget(stageArea_, 1);
    right->addWidget(end_);
    right->addWidget(follow_, 0, Qt::AlignLeft);
    layout->addLayout(left, 4);
    layout->addLayout(right, 6);
}

void ProceduresScreen::setLiveJob(LiveJob* liveJob)
{
    liveJob_ = liveJob;
    filter_.clear();
    chosen_ = 0;
    about_.clear();
    all_.clear(), shown_.clear();
    if (!liveJob_) return;
    connect(liveJob_, &LiveJob::changed, this, [this] {
        if (isVisible()) refresh();
    });
}

void ProceduresScreen::showEvent(QShowEvent*)
{
    if (!liveJob_) return;
    refresh();
    // What is followed is what one comes back to, unless it was asked for something else.
    const auto& followed = liveJob_->procedure();
    if (!about_.isEmpty()) choose(0);
    for (std::size_t i = 0; about_.isEmpty() && followed && i < shown_.size(); ++i) {
        if (shown_[i].id == followed->id && shown_[i].subject == followed->subject) return choose(static_cast<int>(i));
    }
}

void ProceduresScreen::refresh()
{
    if (!liveJob_) return;
    all_ = liveJob_->procedures();
    // Those about the suspect that was chosen come first, and of the many others those about the terminal in hand.
    const int terminal = liveJob_->shownTerminal();
    const std::string id = terminal >= 0 ? liveJob_->map().terminal(terminal).id : "";
    const auto begun =
        std::stable_partition(all_.begin(), all_.end(), [](const Procedure& p) { return p.calledBy || p.isBegun(); });
    std::stable_partition(begun, all_.end(), [&](const Procedure& p) { return p.subject.empty() || p.subject == id; });
    std::stable_partition(all_.begin(), all_.end(), [this](const Procedure& p) {
        return !p.subject.empty() && about_.contains(QString::fromStdString(p.subject));
    });
    list();
}

void ProceduresScreen::list()
{
    shown_.clear();
    const Map& map = liveJob_->map();
    const auto& followed = liveJob_->procedure();
    empty(rows_);
    for (const Procedure& p : all_) {
        const QString title = QString::fromStdString(procedureTitle(map, p));
        const auto words = filter_.split(QLatin1Char(' '), Qt::SkipEmptyParts);
        if (!std::all_of(words.begin(), words.end(),
                         [&](const QString& word) { return title.contains(word, Qt::CaseInsensitive); }))
            continue;
        const int index = static_cast<int>(shown_.size());
        auto* row = new ProcedureRow(this);
        row->setObjectName(
            QStringLiteral("procedure-%1-%2").arg(QString::fromStdString(p.id), QString::fromStdString(p.subject)));
        row->show(title, p, index == chosen_, followed && followed->id == p.id && followed->subject == p.subject);
        connect(row, &QPushButton::clicked, this, [this, index] { choose(index); });
        rows_->insertWidget(index, row);
        shown_.push_back(p);
    }
    found_->setText(filter_.isEmpty()
                        ? tr("Type a name to find one: F5, K2, A4, battery …")
                        : tr("“%1”: %n found. Esc shows all.", nullptr, static_cast<int>(shown_.size())).arg(filter_));
    chosen_ = std::clamp(chosen_, 0, std::max(0, static_cast<int>(shown_.size()) - 1));
    showChosen();
}

void ProceduresScreen::choose(int index)
{
    if (index < 0 || index >= static_cast<int>(shown_.size())) return;
    chosen_ = index;
    for (int i = 0; i + 1 < rows_->count(); ++i)
        static_cast<ProcedureRow*>(rows_->itemAt(i)->widget())->setChecked(i == chosen_);
    listArea_->ensureWidgetVisible(rows_->itemAt(chosen_)->widget());
    showChosen();
}

void ProceduresScreen::showChosen()
{
    empty(stages_);
    const bool some = !shown_.empty();
    grid_->setVisible(some);
    for (QWidget* widget :
         {static_cast<QWidget*>(title_), static_cast<QWidget*>(purpose_), static_cast<QWidget*>(called_),
          static_cast<QWidget*>(caution_), static_cast<QWidget*>(end_), static_cast<QWidget*>(follow_)})
        widget->setVisible(some);
    if (!some) return;
    const Procedure& p = shown_[static_cast<std::size_t>(chosen_)];
    const Theme& t = Theme::current();
    title_->setText(QString::fromStdString(procedureTitle(liveJob_->map(), p)));
    purpose_->setText(QString::fromStdString(procedurePurpose(p)));
    called_->setText(p.calledBy ? tr("Why now: %1").arg(unbroken(sentence(*p.calledBy))) : QString());
    called_->setVisible(p.calledBy.has_value());
    QStringList cautions;
    for (const Fact& caution : p.cautions)
        cautions << unbroken(sentence(caution));
    caution_->setText(tr("Caution: %1").arg(cautions.join(QLatin1Char(' '))));
    setTextColour(caution_, t.warn);
    caution_->setVisible(!cautions.isEmpty());
    grid_->show(p, [this](std::int64_t entry) {
        const auto& readings = liveJob_->assessment().evidence.readings;
        const auto at = std::find_if(readings.begin(), readings.end(), [&](const Reading& r) { return r.id == entry; });
        return at == readings.end() ? QString() : QString::fromStdString(figureOf(*at));
    });
    for (std::size_t i = 0; i < p.stages.size(); ++i)
        addStage(p.stages[i], static_cast<int>(i));
    end_->setVisible(p.ending.has_value());
    if (p.ending)
        end_->setText(tr("%1 (%2)").arg(unbroken(sentence(p.ending->fact)),
                                        QString::fromUtf8(gradeWords(p.ending->grade).data())));
    const auto& followed = liveJob_->procedure();
    const bool isFollowed = followed && followed->id == p.id && followed->subject == p.subject;
    follow_->setText(isFollowed    ? tr("Go on with it (Enter)")
                     : p.isBegun() ? tr("Take it up (Enter)")
                                   : tr("Follow it (Enter)"));
    follow_->setVisible(p.next() != nullptr);
}

void ProceduresScreen::addStage(const Stage& stage, int number)
{
    const bool isNext = stage.state == Stage::State::Next;
    auto* box = new StageBox(isNext, stageArea_->widget());
    box->setObjectName(QStringLiteral("stage-%1").arg(number));
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(12, 6, 10, 6);
    row->setSpacing(10);
    row->addWidget(new MarkBox(markOfStage(stage.state), box), 0, Qt::AlignTop);
    auto* state = wrappedLabel("", face(15, isNext ? QFont::Bold : QFont::Normal), box);
    state->setText(QString::fromUtf8(stageWord(stage.state).data()));
    state->setFixedWidth(88);
    state->setWordWrap(false);
    row->addWidget(state, 0, Qt::AlignTop);
    auto* words = new QVBoxLayout;
    words->setSpacing(1);
    auto* title = wrappedLabel("stageTitle", face(17, isNext ? QFont::Bold : QFont::Normal), box);
    title->setText(unbroken(sentence(stage.title)));
    words->addWidget(title);
    for (const Fact& fact : stage.says) {
        auto* says = wrappedLabel("stageSays", face(15), box);
        says->setText(unbroken(sentence(fact)));
        setTextColour(says, stage.state == Stage::State::Failed ? Theme::current().bad : Theme::current().dim);
        words->addWidget(says);
    }
    row->addLayout(words, 1);
    stages_->insertWidget(stages_->count() - 1, box);
}

void ProceduresScreen::followChosen()
{
    if (!liveJob_ || shown_.empty()) return;
    const Procedure p = shown_[static_cast<std::size_t>(chosen_)];
    if (p.next() && liveJob_->followProcedure(p.id, p.subject)) emit followed();
}

bool ProceduresScreen::key(int key, Qt::KeyboardModifiers modifiers, const QString& text)
{
    if (!liveJob_ || (modifiers & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier))) return false;
    if (key == Qt::Key_Return || key == Qt::Key_Enter) return followChosen(), true;
    if (key == Qt::Key_Down || key == Qt::Key_Up) return choose(chosen_ + (key == Qt::Key_Down ? 1 : -1)), true;
    const auto find = [&](const QString& filter) {
        filter_ = filter;
        chosen_ = 0;
        list();
        return true;
    };
    if (key == Qt::Key_Escape && !filter_.isEmpty()) return find({});
    if (key == Qt::Key_Backspace && !filter_.isEmpty()) return find(filter_.chopped(1));
    if (text.isEmpty() || !text.at(0).isPrint() || (filter_.isEmpty() && text.at(0).isSpace())) return false;
    return find(filter_ + text);
}

}  // namespace ilvek::app
