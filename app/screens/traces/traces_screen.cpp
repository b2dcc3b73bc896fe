#include "screens/traces/traces_screen.h"

#include <fmt/format.h>
#include <QCheckBox>
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

#include "base/file.h"
#include "procedures/in_words.h"
#include "proving/trend.h"
#include "screens/traces/comparison_panel.h"
#include "screens/traces/cylinder_panels.h"
#include "screens/traces/import_dialog.h"
#include "screens/traces/trace_lanes.h"
#include "theme.h"
#include "trace/study/seen.h"
#include "widgets/labels.h"

namespace ilvek::app {

namespace {

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

const double clampScales[] = {0, 1, 10, 20, 50, 100, 200, 1000};
constexpr std::size_t mostRows = 60;
const char* const keptPart = "*kept";

std::vector<int> figuresIn(const QString& words)
{
    std::vector<int> out;
    for (const QString& part : words.split(QRegularExpression(QStringLiteral("[^0-9]+")), Qt::SkipEmptyParts))
        out.push_back(part.toInt());
    return out;
}

std::optional<double> quantityIn(const QLineEdit* edit, Unit unit)
{
    const auto read = parseQuantity(edit->text().trimmed().toStdString(), unit);
    return read ? std::optional(read->value) : std::nullopt;
}

}  // namespace

TracesScreen::TracesScreen(QWidget* parent) : WindowScreen(parent), model_(new TraceModel(this))
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
    name_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    progress_ = new QProgressBar(this);
    progress_->hide();
    cancel_ = new QPushButton(tr("Stop"), this);
    cancel_->hide();
    head->addWidget(open_);
    head->addWidget(name_, 1);
    head->addWidget(progress_);
    head->addWidget(cancel_);
    lanes_ = new TraceLanes(this);
    panels_ = new CylinderPanels(this);
    comparison_ = new ComparisonPanel(this);
    panels_->hide();
    comparison_->hide();
    markers_ = wrappedLabel("traceMarkers", face(14), this);
    left->addLayout(head);
    left->addWidget(lanes_, 3);
    left->addWidget(markers_);
    left->addWidget(panels_, 2);
    left->addWidget(comparison_, 2);
    all->addLayout(left, 1);
    all->addWidget(buildSide());

    connect(open_, &QPushButton::clicked, this, &TracesScreen::ask);
    connect(cancel_, &QPushButton::clicked, model_, &TraceModel::stop);
    connect(lanes_, &TraceLanes::markersMoved, this, [this] { markers_->setText(lanes_->markerWords()); });
    connect(model_, &TraceModel::progressed, this, [this](double share) {
        // Read; what is left is measuring, which has no share.
        progress_->setRange(0, share >= 1 ? 0 : 100);
        progress_->setValue(static_cast<int>(100 * share));
    });
    connect(model_, &TraceModel::ready, this, &TracesScreen::refresh);
    connect(model_, &TraceModel::previewed, this, [this] {
        refresh();
        progress_->show();
        cancel_->show();
    });
    connect(model_, &TraceModel::failed, this, [this](const QString& reason) {
        refresh();  // what was there before
        emit said(reason, true);
    });
    fillParts();  // there may be no job
    refresh();
}

QWidget* TracesScreen::buildSide()
{
    auto* side = new QWidget(this);
    side->setFixedWidth(352);
    auto* right = new QVBoxLayout(side);
    right->setContentsMargins(0, 0, 0, 0);
    verdict_ = wrappedLabel("traceVerdict", face(19, QFont::Bold), side);
    notes_ = wrappedLabel("traceNotes", face(14), side);
    table_ = new QTableWidget(0, 3, side);
    table_->setObjectName(QStringLiteral("traceTable"));
    table_->setHorizontalHeaderLabels({tr("Of"), tr("Measure"), tr("Figure, verdict")});
    table_->verticalHeader()->hide();
    table_->setColumnWidth(0, 34);
    table_->setColumnWidth(1, 120);
    table_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setFocusPolicy(Qt::NoFocus);
    table_->setWordWrap(true);
    table_->setFont(face(14));
    table_->setMinimumHeight(120);

    auto* grid = new QGridLayout;
    grid->setVerticalSpacing(3);
    grid->setColumnStretch(1, 1);
    kind_ = new QComboBox(side);
    for (const RecordedKind& k : recordedKinds())
        kind_->addItem(tr(k.name), static_cast<int>(k.kind));
    addChoice(grid, tr("It is of"), kind_, "traceKind");
    mainRow_ = addChoice(grid, tr("Current"), main_ = new QComboBox(side), "traceCurrent");
    clamp_ = new QComboBox(side);
    for (const double s : clampScales)
        clamp_->addItem(s == 0 ? tr("already in amperes") : tr("%1 mV per A").arg(s), s);
    clampRow_ = addChoice(grid, tr("Clamp"), clamp_, "traceClamp");
    zeroRow_ = addChoice(grid, tr("Its zero"), zero_ = new QPushButton(tr("nothing flows between [ ]  (Z)"), side),
                         "traceZero");
    besideRow_ = addChoice(grid, tr("Beside it"), beside_ = new QComboBox(side), "traceBeside");
    feedRow_ = addChoice(grid, tr("Feed side"), feed_ = new QComboBox(side), "traceFeed");
    syncRow_ = addChoice(grid, tr("Cylinder 1 on"), sync_ = new QComboBox(side), "traceSync");
    orderRow_ =
        addChoice(grid, tr("Firing order"), order_ = new QLineEdit(QStringLiteral("1-3-4-2"), side), "traceOrder");
    barsRow_ = addChoice(grid, tr("Bars"), bars_ = new QLineEdit(side), "traceBars");
    bars_->setPlaceholderText(tr("of the commutator, if known"));
    wheelRow_ = addChoice(grid, tr("Wheel"), wheel_ = new QLineEdit(side), "traceWheel");
    wheel_->setPlaceholderText(tr("teeth and gap, as 35 + 1"));
    supplyRow_ = addChoice(grid, tr("Supply"), supply_ = new QLineEdit(side), "traceSupply");
    supply_->setPlaceholderText(tr("as 13.2 V, if not recorded"));
    partRow_ = addChoice(grid, tr("Compare with"), part_ = new QComboBox(side), "tracePart");
    temperatureRow_ = addChoice(grid, tr("Winding at"), temperature_ = new QLineEdit(QStringLiteral("20 °C"), side),
                                "traceTemperature");
    leadRow_ = addChoice(grid, tr("Lead sits"), lead_ = new QComboBox(side), "traceLead");
    terminalRow_ = addChoice(grid, tr("At terminal"), terminal_ = new QComboBox(side), "traceTerminal");
    drivenLowRow_ =
        addChoice(grid, tr("Driven"), drivenLow_ = new QCheckBox(tr("while it is low"), side), "traceDrivenLow");
    trafficRow_ = addChoice(grid, tr("Nodes"), traffic_ = new QCheckBox(tr("are known to send"), side), "traceTraffic");
    import_ = new QPushButton(tr("How it was read  (I)"), side);
    import_->setObjectName(QStringLiteral("traceImport"));
    keep_ = new QPushButton(tr("Keep as good  (K)"), side);
    keep_->setObjectName(QStringLiteral("traceKeep"));
    attach_ = new QPushButton(tr("Take the verdict into the job  (J)"), side);
    attach_->setObjectName(QStringLiteral("traceAttach"));
    auto* pair = new QHBoxLayout;
    pair->addWidget(import_);
    pair->addWidget(keep_);
    right->addWidget(verdict_);
    right->addWidget(notes_);
    right->addWidget(table_, 1);
    right->addLayout(grid);
    right->addLayout(pair);
    right->addWidget(attach_);

    connect(attach_, &QPushButton::clicked, this, &TracesScreen::attach);
    connect(import_, &QPushButton::clicked, this, &TracesScreen::correct);
    connect(keep_, &QPushButton::clicked, this, &TracesScreen::keep);
    connect(zero_, &QPushButton::clicked, this, &TracesScreen::takeZero);
    for (QComboBox* box : {kind_, main_, clamp_, beside_, feed_, sync_, part_})
        connect(box, &QComboBox::currentIndexChanged, this, &TracesScreen::restudy);
    for (QLineEdit* edit : {order_, bars_, wheel_, supply_, temperature_})
        connect(edit, &QLineEdit::editingFinished, this, &TracesScreen::restudy);
    for (QCheckBox* box : {drivenLow_, traffic_})
        connect(box, &QCheckBox::toggled, this, &TracesScreen::restudy);
    return side;
}

TracesScreen::Row TracesScreen::addChoice(QGridLayout* grid, const QString& label, QWidget* field, const char* name)
{
    auto* words = new QLabel(label, field->parentWidget());
    words->setFont(face(14));
    words->setBuddy(field);
    field->setFont(face(14));
    field->setObjectName(QLatin1String(name));
    field->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    const int row = grid->rowCount();
    grid->addWidget(words, row, 0);
    grid->addWidget(field, row, 1);
    return {words, field};
}

void TracesScreen::show(const Row& row, bool shown, const QString& label)
{
    row.label->setVisible(shown);
    row.field->setVisible(shown);
    if (!label.isEmpty()) row.label->setText(label);
}

void TracesScreen::changeEvent(QEvent* event)
{
    if (event->type() == QEvent::PaletteChange) {
        setTextColour(verdict_, Theme::current().ink);
        setTextColour(notes_, Theme::current().dim);
    }
    QWidget::changeEvent(event);
}

void TracesScreen::setLiveJob(LiveJob* liveJob)
{
    liveJob_ = liveJob;
    map_ = liveJob ? std::make_shared<const Map>(liveJob->map()) : nullptr;
    fillParts();
    if (!liveJob_) return;
    // A correction makes another map of it.
    connect(liveJob_, &LiveJob::changed, this, [this] {
        if (map_->document == liveJob_->map().document) return;
        map_ = std::make_shared<const Map>(liveJob_->map());
        fillParts();
    });
}

void TracesScreen::ask()
{
    const QString path = QFileDialog::getOpenFileName(this, tr("Open a recording"), {},
                                                      tr("Recordings (*.csv *.txt *.tsv *.wav *.mat *.npy)"));
    if (!path.isEmpty()) open(path);
}

void TracesScreen::open(const QString& path, const ImportWish& import)
{
    progress_->setRange(0, 100);
    progress_->setValue(0);
    progress_->show();
    cancel_->show();
    model_->open(path, {}, import);
}

// The guess stands; this shows it, and reads the file anew with what was corrected.
void TracesScreen::correct()
{
    const auto view = model_->view();
    if (!view || !view->whole) return;
    ImportDialog dialog(*view, this);
    if (dialog.exec() == QDialog::Accepted) open(view->path, dialog.wish());
}

// Nothing where something that was typed cannot be meant; said in words.
std::optional<StudyWishes> TracesScreen::wishes()
{
    StudyWishes w;
    w.kind = static_cast<Recorded>(kind_->currentData().toInt());
    const RecordedKind& kind = kindOf(*w.kind);
    w.main = std::to_string(main_->currentIndex() + 1);
    const auto channel = [](const QComboBox* box) {
        return box->currentIndex() <= 0 ? std::string("-") : std::to_string(box->currentIndex());
    };
    w.beside = *kind.beside ? channel(beside_) : "-";
    w.sync = *kind.sync ? channel(sync_) : "-";
    w.feed = *kind.feed ? channel(feed_) : "-";
    if (map_) w.system_V = map_->systemVoltage_V;
    w.order.cylinders = figuresIn(order_->text());
    const auto& order = w.order.cylinders;
    if (std::find(order.begin(), order.end(), w.order.known) == order.end()) {
        emit said(tr("The firing order must contain cylinder 1, as in 1-3-4-2."), true);
        return std::nullopt;
    }
    if (const auto bars = figuresIn(bars_->text()); !bars.empty()) w.bars = bars.front();
    const auto wheel = figuresIn(wheel_->text());
    if (!wheel.empty()) w.teeth = wheel.front();
    if (wheel.size() > 1) w.missing = wheel[1];
    w.drivenLow = drivenLow_->isChecked(), w.traffic = traffic_->isChecked();
    if (!supply_->text().trimmed().isEmpty()) {
        w.supply_V = quantityIn(supply_, Unit::Volt);
        if (!w.supply_V) {
            emit said(tr("“%1” is no supply voltage; 13.2 V is.").arg(supply_->text()), true);
            return std::nullopt;
        }
    }
    const QString part = part_->currentData().toString();
    if (part == QLatin1String(keptPart)) {
        w.kept = kept_;
    } else if (!part.isEmpty() && map_) {
        const auto celsius = quantityIn(temperature_, Unit::Celsius);
        if (!celsius) {
            emit said(tr("“%1” is no temperature; 20 °C is.").arg(temperature_->text()), true);
            return std::nullopt;
        }
        w.part = ExpectedPart{map_, part.toStdString(), {*celsius, {}}};
    }
    return w;
}

void TracesScreen::restudy()
{
    if (filling_ || !model_->view() || !model_->view()->whole) return;
    if (sender() == part_ && part_->currentIndex() == part_->count() - 1) {
        const QString path =
            QFileDialog::getOpenFileName(this, tr("A kept recording"), {}, tr("Kept recordings (*.json)"));
        return takeKept(path);
    }
    const auto wanted = wishes();
    if (!wanted) return;
    // Another kind or channel: its clamp stays as it was read.
    const bool rescale = sender() == clamp_;
    model_->studyAgain(*wanted, rescale ? main_->currentIndex() : -1, clampChosen());
}

std::optional<double> TracesScreen::clampChosen() const
{
    const double mV = clamp_->currentData().toDouble();
    return mV > 0 ? std::optional(mV) : std::nullopt;
}

// A clamp's zero is not seen in a recording: who was there says when nothing flowed.
void TracesScreen::takeZero()
{
    if (!model_->view() || !model_->view()->whole || !zeroRow_.field->isVisibleTo(this)) return;
    const auto from = lanes_->marker(0), to = lanes_->marker(1);
    if (!from || !to || *from == *to) {
        emit said(tr("Set both markers first, with [ and ], around a stretch in which nothing flows."), true);
        return;
    }
    if (const auto wanted = wishes())
        model_->studyAgain(*wanted, main_->currentIndex(), clampChosen(),
                           TraceModel::Stretch{std::min(*from, *to), std::max(*from, *to)});
}

void TracesScreen::takeKept(const QString& path)
{
    const auto refuse = [this](const QString& why) {
        if (!why.isEmpty()) emit said(why, true);
        filling_ = true;
        part_->setCurrentIndex(0);
        filling_ = false;
    };
    if (path.isEmpty()) return refuse({});
    const auto document = readFile(path.toStdString());
    if (!document) return refuse(text(document.error().message()));
    auto kept = readReference(*document, path.toStdString());
    if (!kept) return refuse(text(kept.error().front().message()));
    kept_ = std::move(*kept);
    fillParts();
    part_->setCurrentIndex(part_->findData(QLatin1String(keptPart)));
}

void TracesScreen::keep()
{
    const auto view = model_->view();
    if (!view || !view->study || view->study->pulses.pulses.empty())
        return emit said(tr("Only pulses of a winding can be kept to compare with."), true);
    const Study& s = *view->study;
    WindingReference conditions;
    const QString part = part_->currentData().toString();
    conditions.of = part.isEmpty() || part == QLatin1String(keptPart) ? "any" : part.toStdString();
    conditions.name = conditions.of == "any" ? view->recording.name : part_->currentText().toStdString();
    conditions.temperature_C = quantityIn(temperature_, Unit::Celsius).value_or(20);
    if (liveJob_) conditions.state = liveJob_->job().state;
    conditions.source = fmt::format("kept from {}, {:.0f} °C{}", view->recording.name, conditions.temperature_C,
                                    conditions.state.empty() ? "" : ", " + conditions.state);
    const auto kept = keptFrom(view->recording, view->recording.channels[static_cast<std::size_t>(s.main)], s.pulses,
                               s.supply_V, conditions);
    if (!kept) return emit said(text(kept.error().message()), true);
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Keep these pulses as good"), QStringLiteral("known-good.json"), tr("Kept recordings (*.json)"));
    if (path.isEmpty()) return;
    auto written = checkOutput(path.toStdString(), {view->path.toStdString()});
    if (written) written = writeFile(path.toStdString(), writeReference(*kept));
    emit said(written ? tr("Kept in %1.").arg(path) : text(written.error().message()), !written);
}

void TracesScreen::refresh()
{
    progress_->hide();
    cancel_->hide();
    const auto view = model_->view();
    lanes_->show(view);
    panels_->show(view);
    comparison_->show(view);
    event_ = 0;
    attach_->setEnabled(view && view->study);
    import_->setEnabled(view && view->whole);
    keep_->setEnabled(view && view->study && !view->study->pulses.pulses.empty());
    fillChoices();
    fillTable();
    if (!view) {
        verdict_->setText(tr("Open a recording of a clamp, a voltage or a signal."));
        notes_->setText(tr(
            "Nothing is measured that the recording cannot bear: where a figure is missing, its reason stands there."));
        return;
    }
    name_->setText(
        tr("%1 · %2 · %L3 samples")
            .arg(text(view->recording.name), text(formatQuantity({view->recording.length_s(), Unit::Second})))
            .arg(view->recording.size()));
    name_->setToolTip(plainTip(view->path));
    verdict_->setText(view->study ? unbroken(view->study->verdict) : view->whyNot);
    // A long one in a smaller face: the measures keep their place.
    verdict_->setFont(face(verdict_->text().size() > 110 ? 16 : 19, QFont::Bold));
    QStringList notes;
    for (const std::string& n : view->recording.notes)
        notes << text(n);
    if (const auto& s = view->study) {
        if (s->supply_V && supply_->text().trimmed().isEmpty())
            notes << tr("Supply %1, from the drive's terminal.").arg(text(formatQuantity(volts(*s->supply_V))));
        for (const std::string& why : {s->notCylinders, s->notCompared}) {
            if (!why.empty()) notes << text(why);
        }
        if (s->cylinders)
            notes << tr("“Alike” says that nothing stands out here, not that a part is good. P1 is the first pulse.");
        if (!s->compared.empty()) notes << tr("M: against what it should be.");
        if (s->told.events.size() > 1) notes << tr("N goes from one place that differs to the next.");
    }
    notes_->setText(notes.join(QLatin1Char(' ')));
}

void TracesScreen::fillParts()
{
    filling_ = true;
    const QString was = part_->currentData().toString();
    part_->clear();
    part_->addItem(tr("nothing"), QString());
    if (map_) {
        for (const Element& e : map_->elements) {
            if (e.kind == ElementKind::Winding && e.value("inductance") > 0)
                part_->addItem(tr("%1, %2").arg(text(e.id), text(e.name)), text(e.id));
        }
    }
    if (kept_) part_->addItem(tr("kept: %1").arg(text(kept_->name)), QLatin1String(keptPart));
    part_->addItem(tr("a kept recording …"), QString());
    part_->setCurrentIndex(std::max(0, was.isEmpty() ? 0 : part_->findData(was)));
    const QString at = terminal_->currentData().toString();
    terminal_->clear();
    terminal_->addItem(tr("not said"), QString());
    for (const int t : map_ ? map_->moduleTerminals() : std::vector<int>{}) {
        const Terminal& terminal = map_->terminal(t);
        terminal_->addItem(tr("%1 %2").arg(text(terminal.id), text(terminal.circuit)), text(terminal.id));
    }
    terminal_->setCurrentIndex(std::max(0, terminal_->findData(at)));
    filling_ = false;
}

void TracesScreen::fillChoices()
{
    const auto view = model_->view();
    const bool there = view && view->study;
    filling_ = true;
    if (there) kind_->setCurrentIndex(kind_->findData(static_cast<int>(view->study->kind)));
    const auto kindNow = static_cast<Recorded>(kind_->currentData().toInt());
    const RecordedKind& kind = kindOf(kindNow);
    for (QComboBox* box : {main_, beside_, feed_, sync_}) {
        const int was = box->currentIndex();
        box->clear();
        if (box != main_) box->addItem(tr("not recorded"));
        for (std::size_t c = 0; view && c < view->recording.channels.size(); ++c)
            box->addItem(text(view->recording.channels[c].name));
        if (!there) box->setCurrentIndex(std::clamp(was, 0, box->count() - 1));
    }
    if (there) {
        main_->setCurrentIndex(view->study->main);
        beside_->setCurrentIndex(view->study->beside + 1);
        sync_->setCurrentIndex(view->study->sync + 1);
        feed_->setCurrentIndex(view->study->feed + 1);
    }
    if (view && main_->currentIndex() >= 0) {
        const auto& scale = view->recording.channels[static_cast<std::size_t>(main_->currentIndex())].scale;
        clamp_->setCurrentIndex(std::max(0, clamp_->findData(scale.clamp_mVPerA.value_or(0))));
    }
    const bool windings = kindNow == Recorded::Windings, current = std::string_view(kind.main) == "Current";
    const bool mapped = windings && !part_->currentData().toString().isEmpty() &&
                        part_->currentData().toString() != QLatin1String(keptPart);
    show(mainRow_, true, tr(kind.main));
    show(clampRow_, current);
    show(besideRow_, *kind.beside != 0, tr(kind.beside));
    show(zeroRow_, current && view && main_->currentIndex() >= 0 && clamp_->currentIndex() > 0);
    show(feedRow_, *kind.feed != 0, tr(kind.feed));
    show(syncRow_, *kind.sync != 0, windings ? tr("Cylinder 1 on") : tr(kind.sync));
    show(orderRow_, windings && sync_->currentIndex() > 0);
    show(barsRow_, kindNow == Recorded::Motor);
    show(wheelRow_, kindNow == Recorded::PickUp);
    show(supplyRow_, current && beside_->currentIndex() <= 0 && feed_->currentIndex() <= 0);
    show(partRow_, windings);
    show(temperatureRow_, mapped);
    show(leadRow_, mapped && beside_->currentIndex() > 0);
    show(terminalRow_, kindNow == Recorded::Level || kindNow == Recorded::PickUp);
    show(drivenLowRow_, kindNow == Recorded::ChargingField);
    show(trafficRow_, kindNow == Recorded::BusPair);
    if (lead_->count() == 0) {
        lead_->addItem(tr("not said"));
        lead_->addItem(tr("at the module's terminal"));
        lead_->addItem(tr("at the part itself"));
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
    const auto finding = [&](const QString& of, const TraceFinding& f) {
        const bool odd = !f.words.empty();
        if (f.feature == "firing" && !odd) return;
        const QString alike = f.verdict == TraceFinding::Verdict::CannotTell
                                  ? text(words(f.verdict))
                                  : tr("%1, %2 times").arg(text(words(f.verdict))).arg(f.ratio, 0, 'f', 2);
        add(of, text(f.feature), odd ? text(f.words) : alike, odd);
    };
    for (const Compared& c : s.compared) {
        for (const TraceFinding& f : c.result.findings)
            finding(f.cylinder > 0 ? tr("%1 M").arg(f.cylinder) : tr("M"), f);
    }
    if (s.cylinders) {
        for (const TraceFinding& f : s.cylinders->findings)
            finding(QString::number(f.cylinder), f);
    }
    for (const TraceMeasure& m : s.told.measures)
        add({}, text(m.name), unbroken(m.words()), false);
    // Events alike in a row are one line.
    const auto& events = s.told.events;
    for (std::size_t i = 0, rows = 0; i < events.size() && rows < mostRows; ++rows) {
        std::size_t next = i + 1;
        while (next < events.size() && events[next].words == events[i].words)
            ++next;
        const QString often =
            next - i > 1 ? tr("%1, %2 times").arg(text(events[i].words)).arg(next - i) : text(events[i].words);
        add(tr("!"), tr("at %1").arg(text(formatQuantity({events[i].at_s, Unit::Second}))), often, true);
        i = next;
    }
    const std::size_t shown = s.cylinders ? std::min<std::size_t>(1, s.pulses.pulses.size()) : s.pulses.pulses.size();
    for (std::size_t i = 0; i < std::min<std::size_t>(shown, 40); ++i) {
        for (const TraceMeasure& m : s.pulses.pulses[i].measures)
            add(tr("P%1").arg(i + 1), text(m.name), unbroken(m.words()), false);
    }
    table_->resizeRowsToContents();
}

void TracesScreen::nextEvent()
{
    const auto view = model_->view();
    if (!view || !view->study || view->study->told.events.empty())
        return emit said(tr("Nothing in this recording differs from the rest."), false);
    const auto& events = view->study->told.events;
    const TraceEvent& e = events[event_ % events.size()];
    ++event_;
    const double span = std::max({5 * e.length_s, 60 * view->recording.interval_s, 0.02 * view->recording.length_s()});
    lanes_->look(e.at_s + 0.5 * e.length_s - 0.5 * span, e.at_s + 0.5 * e.length_s + 0.5 * span);
    emit said(tr("%1 of %2, at %3: %4")
                  .arg((event_ - 1) % events.size() + 1)
                  .arg(events.size())
                  .arg(text(formatQuantity({e.at_s, Unit::Second})), text(e.words)),
              false);
}

void TracesScreen::attach()
{
    const auto view = model_->view();
    if (!liveJob_ || !view || !view->study) return;
    const Study& s = *view->study;
    const auto main = static_cast<std::size_t>(s.main);
    TraceSeen whole = seenOf(view->recording, s, view->pyramids[main], lanes_->from(), lanes_->to());
    const QString part = part_->currentData().toString();
    const bool single = !s.cylinders && !part.isEmpty() && part != QLatin1String(keptPart);
    const std::string state = liveJob_->job().state;
    if (terminal_->isVisibleTo(this)) whole.terminal = terminal_->currentData().toString().toStdString();
    if (single)
        addEvidence(*map_, s, part.toStdString(), state, static_cast<LeadAt>(std::max(0, lead_->currentIndex())),
                    whole);
    if (!liveJob_->enter(whole)) return;
    int parts = whole.current_A || whole.off_V ? 1 : 0;
    for (const TraceSeen& t : s.cylinders ? seenOfCylinders(*map_, s, state, whole) : std::vector<TraceSeen>{})
        parts += liveJob_->enter(t) ? 1 : 0;
    // What it tells beside those before it counts more than itself.
    for (const Trend& trend : trendsOf(liveJob_->job().evidence)) {
        if (trend.recordings.back()->element == whole.element && whole.current_A)
            return emit said(text(trendWords(*map_, trend)), false);
    }
    emit said(parts > 0 ? tr("Taken into the job, as evidence on %n part(s): %1", nullptr, parts).arg(text(s.verdict))
                        : tr("Taken into the job: %1").arg(text(s.verdict)),
              false);
}

bool TracesScreen::key(int key, Qt::KeyboardModifiers, const QString&)
{
    switch (key) {
        case Qt::Key_O:
            return ask(), true;
        case Qt::Key_I:
            return correct(), true;
        case Qt::Key_N:
            return nextEvent(), true;
        case Qt::Key_Z:
            return takeZero(), true;
        case Qt::Key_K:
            return keep(), true;
        case Qt::Key_J:
            return attach(), true;
        default:
            return lanes_->key(key);
    }
}

}  // namespace ilvek::app
