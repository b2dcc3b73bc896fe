#include "screens/traces/traces_screen.h"

#include <fmt/format.h>
#include <QComboBox>
#include <QEvent>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QRegularExpression>
#include <QTableWidget>

#include "screens/traces/trace_lanes.h"
#include "theme.h"
#include "widgets/labels.h"

namespace ilvek::app {

namespace {

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

const double clampScales[] = {0, 1, 10, 20, 50, 100, 200, 1000};

}  // namespace

TracesScreen::TracesScreen(QWidget* parent) : QWidget(parent), model_(new TraceModel(this))
{
    setObjectName(QStringLiteral("traces"));
    auto* all = new QHBoxLayout(this);
    all->setContentsMargins(12, 10, 12, 10);
    all->setSpacing(12);
    auto* left = new QVBoxLayout;
    auto* head = new QHBoxLayout;
    open_ = new QPushButton(tr("Open a recording  (O)"), this);
    open_->setObjectName(QStringLiteral("openTrace"));
    name_ = new QLabel(this);
    name_->setObjectName(QStringLiteral("traceName"));
    name_->setTextFormat(Qt::PlainText);
    name_->setFont(face(16, QFont::DemiBold));
    progress_ = new QProgressBar(this);
    progress_->setRange(0, 100);
    progress_->hide();
    cancel_ = new QPushButton(tr("Stop"), this);
    cancel_->hide();
    head->addWidget(open_);
    head->addWidget(name_, 1);
    head->addWidget(progress_);
    head->addWidget(cancel_);
    lanes_ = new TraceLanes(this);
    panels_ = new CylinderPanels(this);
    panels_->hide();
    markers_ = wrappedLabel("traceMarkers", face(14), this);
    left->addLayout(head);
    left->addWidget(lanes_, 3);
    left->addWidget(markers_);
    left->addWidget(panels_, 2);
    all->addLayout(left, 1);

    auto* side = new QWidget(this);
    side->setFixedWidth(344);
    auto* right = new QVBoxLayout(side);
    right->setContentsMargins(0, 0, 0, 0);
    verdict_ = wrappedLabel("traceVerdict", face(19, QFont::Bold), side);
    notes_ = wrappedLabel("traceNotes", face(14), side);
    table_ = new QTableWidget(0, 3, side);
    table_->setObjectName(QStringLiteral("traceTable"));
    table_->setHorizontalHeaderLabels({tr("Of"), tr("Measure"), tr("Figure, verdict")});
    table_->verticalHeader()->hide();
    table_->setColumnWidth(0, 34);
    table_->setColumnWidth(1, 112);
    table_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setFocusPolicy(Qt::NoFocus);
    table_->setWordWrap(true);
    table_->setFont(face(14));
    auto* choices = new QGridLayout;
    current_ = new QComboBox(side);
    current_->setObjectName(QStringLiteral("traceCurrent"));
    clamp_ = new QComboBox(side);
    clamp_->setObjectName(QStringLiteral("traceClamp"));
    for (const double s : clampScales)
        clamp_->addItem(s == 0 ? tr("already in amperes") : tr("%1 mV per A").arg(s), s);
    sync_ = new QComboBox(side);
    sync_->setObjectName(QStringLiteral("traceSync"));
    order_ = new QLineEdit(QStringLiteral("1-3-4-2"), side);
    order_->setObjectName(QStringLiteral("traceOrder"));
    const std::pair<QString, QWidget*> rows[] = {
        {tr("Current"), current_}, {tr("Clamp"), clamp_}, {tr("Cylinder 1 on"), sync_}, {tr("Firing order"), order_}};
    int row = 0;
    for (const auto& [label, widget] : rows) {
        auto* l = new QLabel(label, side);
        l->setFont(face(14));
        l->setBuddy(widget);
        widget->setFont(face(14));
        choices->addWidget(l, row, 0);
        choices->addWidget(widget, row++, 1);
    }
    attach_ = new QPushButton(tr("Take the verdict into the job  (J)"), side);
    attach_->setObjectName(QStringLiteral("traceAttach"));
    right->addWidget(verdict_);
    right->addWidget(notes_);
    right->addWidget(table_, 1);
    right->addLayout(choices);
    right->addWidget(attach_);
    all->addWidget(side);

    connect(open_, &QPushButton::clicked, this, &TracesScreen::ask);
    connect(attach_, &QPushButton::clicked, this, &TracesScreen::attach);
    connect(cancel_, &QPushButton::clicked, model_, &TraceModel::stop);
    connect(lanes_, &TraceLanes::markersMoved, this, [this] { markers_->setText(lanes_->markerWords()); });
    for (QComboBox* box : {current_, sync_, clamp_})
        connect(box, &QComboBox::currentIndexChanged, this, &TracesScreen::restudy);
    connect(order_, &QLineEdit::editingFinished, this, &TracesScreen::restudy);
    connect(model_, &TraceModel::progressed, this,
            [this](double share) { progress_->setValue(static_cast<int>(100 * share)); });
    connect(model_, &TraceModel::ready, this, &TracesScreen::refresh);
    connect(model_, &TraceModel::failed, this, [this](const QString& reason) {
        progress_->hide();
        cancel_->hide();
        emit said(reason, true);
    });
    refresh();
}

void TracesScreen::changeEvent(QEvent* event)
{
    if (event->type() == QEvent::PaletteChange) {
        setTextColour(verdict_, Theme::current().ink);
        setTextColour(notes_, Theme::current().dim);
    }
    QWidget::changeEvent(event);
}

void TracesScreen::ask()
{
    const QString path = QFileDialog::getOpenFileName(this, tr("Open a recording"), {},
                                                      tr("Recordings (*.csv *.txt *.tsv *.wav *.mat *.npy)"));
    if (!path.isEmpty()) open(path);
}

void TracesScreen::open(const QString& path)
{
    path_ = path;
    progress_->setValue(0);
    progress_->show();
    cancel_->show();
    model_->open(path);
}

StudyWishes TracesScreen::wishes() const
{
    StudyWishes w;
    w.main = std::to_string(current_->currentIndex() + 1);
    w.sync = sync_->currentIndex() <= 0 ? "-" : std::to_string(sync_->currentIndex());
    std::vector<int> order;
    for (const QString& part : order_->text().split(QRegularExpression(QStringLiteral("[^0-9]+")), Qt::SkipEmptyParts))
        order.push_back(part.toInt());
    w.order.cylinders = order;
    return w;
}

void TracesScreen::restudy()
{
    if (filling_ || !model_->view()) return;
    const StudyWishes wanted = wishes();
    const auto& order = wanted.order.cylinders;
    if (std::find(order.begin(), order.end(), wanted.order.known) == order.end())
        return emit said(tr("The firing order must contain cylinder 1, as in 1-3-4-2."), true);
    ChannelScale scale;
    if (const double mV = clamp_->currentData().toDouble(); mV > 0) scale.clamp_mVPerA = mV;
    model_->studyAgain(wanted, current_->currentIndex(), scale);
}

void TracesScreen::refresh()
{
    progress_->hide();
    cancel_->hide();
    const auto view = model_->view();
    lanes_->show(view);
    panels_->show(view);
    attach_->setEnabled(view && view->study);
    if (!view) {
        verdict_->setText(tr("Open a recording of a clamp, a voltage or a signal."));
        notes_->setText(tr(
            "Nothing is measured that the recording cannot bear: where a figure is missing, its reason stands there."));
        return fillTable();
    }
    name_->setText(
        tr("%1 · %2 · %L3 samples")
            .arg(text(view->recording.name), text(formatQuantity({view->recording.length_s(), Unit::Second})))
            .arg(view->recording.size()));
    verdict_->setText(view->study ? unbroken(view->study->verdict) : view->whyNot);
    QStringList notes;
    for (const std::string& n : view->recording.notes)
        notes << text(n);
    if (view->study && view->study->supply_V)
        notes << tr("Supply %1, taken before the pulses at the drive.")
                     .arg(text(formatQuantity(volts(*view->study->supply_V))));
    if (view->study && !view->study->notCylinders.empty()) notes << text(view->study->notCylinders);
    if (view->study && view->study->cylinders)
        notes << tr("“Alike” says that nothing stands out here, not that a part is good. P1 is the first pulse.");
    notes_->setText(notes.join(QLatin1Char(' ')));
    fillChoices();
    fillTable();
}

void TracesScreen::fillChoices()
{
    filling_ = true;
    const auto view = model_->view();
    current_->clear();
    sync_->clear();
    sync_->addItem(tr("not recorded"));
    for (const Channel& c : view->recording.channels) {
        current_->addItem(text(c.name));
        sync_->addItem(text(c.name));
    }
    if (view->study) {
        current_->setCurrentIndex(view->study->main);
        sync_->setCurrentIndex(view->study->sync + 1);
        const auto& scale = view->recording.channels[static_cast<std::size_t>(view->study->main)].scale;
        const int at = clamp_->findData(scale.clamp_mVPerA.value_or(0));
        clamp_->setCurrentIndex(std::max(0, at));
    }
    filling_ = false;
}

void TracesScreen::fillTable()
{
    table_->setRowCount(0);
    const auto view = model_->view();
    if (!view || !view->study) return;
    const Study& s = *view->study;
    const auto add = [&](const QString& of, const QString& what, const QString& figure, bool odd) {
        const int row = table_->rowCount();
        table_->insertRow(row);
        int column = 0;
        for (const QString& words : {of, what, figure}) {
            auto* item = new QTableWidgetItem(words);
            item->setToolTip(plainTip(words));
            if (odd) item->setFont(face(14, QFont::Bold));
            table_->setItem(row, column++, item);
        }
    };
    if (s.cylinders) {
        for (const TraceFinding& f : s.cylinders->findings) {
            const bool odd = !f.words.empty();
            if (f.feature == "firing" && !odd) continue;
            const QString verdict =
                odd ? text(f.words) : tr("%1, %2 times").arg(text(words(f.verdict))).arg(f.ratio, 0, 'f', 2);
            add(QString::number(f.cylinder), text(f.feature), verdict, odd);
        }
    }
    const std::size_t shown = s.cylinders ? std::min<std::size_t>(1, s.pulses.pulses.size()) : s.pulses.pulses.size();
    for (std::size_t i = 0; i < std::min<std::size_t>(shown, 40); ++i) {
        for (const TraceMeasure& m : s.pulses.pulses[i].measures)
            add(tr("P%1").arg(i + 1), text(m.name), unbroken(m.words()), false);
    }
    table_->resizeRowsToContents();
}

// The journal keeps which recording said what.
void TracesScreen::attach()
{
    const auto view = model_->view();
    if (!liveJob_ || !view || !view->study) return;
    const std::string note = fmt::format("Recording {}: {}", view->recording.name, view->study->verdict);
    if (liveJob_->enter(Note{note})) emit said(tr("Taken into the job: %1").arg(text(view->study->verdict)), false);
}

bool TracesScreen::key(int key)
{
    if (key == Qt::Key_O) return ask(), true;
    if (key == Qt::Key_J) return attach(), true;
    return lanes_->key(key);
}

}  // namespace ilvek::app
