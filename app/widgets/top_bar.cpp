#include "widgets/top_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QResizeEvent>
#include <QStyle>

#include "theme.h"
#include "widgets/labels.h"

namespace ilvek::app {

namespace {

// A label that gives way instead of pushing its neighbours out.
class Elided : public QLabel {
public:
    using QLabel::QLabel;
    QSize minimumSizeHint() const override { return {40, QLabel::minimumSizeHint().height()}; }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter p(this);
        p.setPen(palette().color(QPalette::WindowText));
        p.drawText(rect(), static_cast<int>(alignment()), fontMetrics().elidedText(text(), Qt::ElideRight, width()));
    }
};

template <class Label>
QLabel* label(const char* name, const QFont& font, Qt::Alignment alignment, QWidget* parent)
{
    auto* l = new Label(parent);
    l->setObjectName(QLatin1String(name));
    l->setFont(font);
    l->setAlignment(alignment | Qt::AlignVCenter);
    l->setTextFormat(Qt::PlainText);
    return l;
}

}  // namespace

BarButton::BarButton(const QString& text, QWidget* parent) : QPushButton(text, parent)
{
    setCheckable(true);
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
}

QSize BarButton::sizeHint() const
{
    return {QFontMetrics(face(narrow_ ? 17 : 19, QFont::Bold)).horizontalAdvance(text()) + (narrow_ ? 16 : 26), 54};
}

void BarButton::setNarrow(bool narrow)
{
    if (narrow == narrow_) return;
    narrow_ = narrow;
    updateGeometry();
}

void BarButton::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    const Theme& t = Theme::current();
    p.setFont(face(narrow_ ? 17 : 19, isChecked() ? QFont::Bold : QFont::Normal));
    p.setPen(!isEnabled() ? t.dim : isChecked() ? t.ink : t.dim);
    p.drawText(rect(), Qt::AlignCenter, text());
    if (isChecked()) p.fillRect(QRect(12, height() - 9, width() - 24, 4), t.accent);
    if (hasFocus()) {
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(t.accent, 2));
        p.drawRoundedRect(QRectF(rect()).adjusted(2, 5, -2, -5), 5, 5);
    }
}

TopBar::TopBar(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("topBar"));
    setFixedHeight(56);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(10, 0, 16, 0);
    layout->setSpacing(4);
    const QString names[] = {tr("Job"),      tr("Papers"), tr("Prove"),  tr("Procedures"),
                             tr("Suspects"), tr("Traces"), tr("Repair"), tr("Report")};
    const char* objects[] = {"barJob",      "barPapers", "barProve",  "barProcedures",
                             "barSuspects", "barTraces", "barRepair", "barReport"};
    const char* keys[] = {"F2", "Shift+F2", "F3", "F11", "F4", "F8", "F12", "F5"};
    for (int i = 0; i < screens; ++i) {
        buttons_[i] = new BarButton(names[i], this);
        buttons_[i]->setObjectName(QLatin1String(objects[i]));
        buttons_[i]->setToolTip(QLatin1String(keys[i]));
        connect(buttons_[i], &QPushButton::clicked, this, [this, i] { emit screenWanted(i); });
        layout->addWidget(buttons_[i]);
    }
    auto* middle = new QVBoxLayout;
    middle->setSpacing(0);
    machine_ = label<Elided>("barMachine", face(14), Qt::AlignHCenter, this);
    title_ = label<Elided>("barTitle", face(16, QFont::Bold), Qt::AlignHCenter, this);
    middle->addStretch(1);
    middle->addWidget(machine_);
    middle->addWidget(title_);
    middle->addStretch(1);
    layout->addLayout(middle, 3);
    auto* right = new QVBoxLayout;
    right->setSpacing(0);
    battery_ = label<QLabel>("barBattery", face(17, QFont::Bold), Qt::AlignRight, this);
    age_ = label<QLabel>("barAge", face(14), Qt::AlignRight, this);
    right->addStretch(1);
    right->addWidget(battery_);
    right->addWidget(age_);
    right->addStretch(1);
    layout->addLayout(right);
    const auto small = [&](const QString& words, const QString& tip, void (TopBar::*signal)()) {
        auto* b = new BarButton(words, this);
        b->setCheckable(false);
        b->setToolTip(tip);
        b->setAccessibleName(tip);
        connect(b, &QPushButton::clicked, this, signal);
        layout->addWidget(b);
    };
    small(tr("Keys"), tr("All keys (F1)"), &TopBar::keysWanted);
}

void TopBar::resizeEvent(QResizeEvent* event)
{
    constexpr int roomy = 1180;
    for (BarButton* button : buttons_)
        button->setNarrow(event->size().width() < roomy);
    QWidget::resizeEvent(event);
}

void TopBar::setScreen(int index)
{
    for (int i = 0; i < screens; ++i)
        buttons_[i]->setChecked(i == index);
}

void TopBar::setJobOpen(bool open)
{
    for (BarButton* button : buttons_)
        button->setVisible(open);
}

void TopBar::setJob(const QString& machine, const QString& title)
{
    machine_->setText(machine);
    title_->setText(title);
    machine_->setToolTip(plainTip(machine));
    title_->setToolTip(plainTip(title));
}

void TopBar::setBattery(const QString& figure, const QString& age, bool stale)
{
    battery_->setText(figure);
    age_->setText(age);
    setTextColour(age_, stale ? Theme::current().warn : Theme::current().dim);
}

void TopBar::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    const Theme& t = Theme::current();
    p.fillRect(rect(), t.bar);
    p.fillRect(QRect(0, height() - 1, width(), 1), t.line);
}

}  // namespace ilvek::app
