#include "widgets/place_panel.h"

#include <QAbstractItemView>
#include <QComboBox>
#include <QCompleter>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QStandardItemModel>

#include "open_job/places.h"
#include "open_job/setup_line.h"
#include "open_job/taking.h"
#include "theme.h"
#include "widgets/labels.h"
#include "widgets/shapes.h"

namespace ilvek::app {

namespace {

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

// Found by any of its words, entered by its name.
class PlaceCompleter : public QCompleter {
public:
    PlaceCompleter(const Map& map, QObject* parent) : QCompleter(parent)
    {
        auto* model = new QStandardItemModel(this);
        const auto add = [&](const std::string& name, const std::string& words) {
            auto* item = new QStandardItem(words == name ? text(name) : text(name + "  –  " + words));
            item->setData(text(name), Qt::UserRole);
            model->appendRow(item);
        };
        for (const Place& p : placesOf(map)) {
            if (p.reachable) add(p.name, p.words);
        }
        // Several fuses on one bus: each has its two sides.
        for (const Element& e : map.elements) {
            if (e.kind != ElementKind::Fuse) continue;
            const std::string source = e.id + " source side", far = e.id + " far side";
            if (placeName(map, e.nodes[0]) != source) add(source, source);
            if (placeName(map, e.nodes[1]) != far) add(far, far);
        }
        setModel(model);
        setCaseSensitivity(Qt::CaseInsensitive);
        setFilterMode(Qt::MatchContains);
        setMaxVisibleItems(9);
        popup()->setMinimumWidth(380);
    }
    QString pathFromIndex(const QModelIndex& index) const override { return index.data(Qt::UserRole).toString(); }
};

template <class List, class Name>
QStringList namesOf(const List& list, const Name& name)
{
    QStringList out;
    for (const auto& x : list) {
        const QString n = name(x);
        if (!n.isEmpty()) out << n;
    }
    return out;
}

}  // namespace

PlacePanel::PlacePanel(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("placePanel"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(22, 10, 14, 10);
    layout->setSpacing(6);
    auto* title = wrappedLabel("placeTitle", face(20, QFont::Bold), this);
    title->setText(tr("A reading anywhere"));
    layout->addWidget(title);

    auto* leads = new QHBoxLayout;
    const auto field = [&](const char* name, const QString& label, const QString& hint) {
        auto* edit = new QLineEdit(this);
        edit->setObjectName(QLatin1String(name));
        edit->setFont(face(18));
        edit->setPlaceholderText(hint);
        edit->setAccessibleName(label);
        auto* words = new QLabel(label, this);
        words->setFont(face(16, QFont::Bold));
        words->setBuddy(edit);
        leads->addWidget(words);
        leads->addWidget(edit, 2);
        connect(edit, &QLineEdit::textChanged, this, &PlacePanel::check);
        connect(edit, &QLineEdit::returnPressed, this, &PlacePanel::accept);
        return edit;
    };
    red_ = field("placeRed", tr("Red"), tr("A2, F5 out …"));
    black_ = field("placeBlack", tr("Black"), tr("its return, minus …"));
    state_ = new QComboBox(this);
    state_->setObjectName(QStringLiteral("placeState"));
    state_->setFont(face(16));
    state_->setAccessibleName(tr("Operating state"));
    connect(state_, &QComboBox::currentIndexChanged, this, &PlacePanel::check);
    leads->addWidget(state_, 1);
    layout->addLayout(leads);

    done_ = new QLineEdit(this);
    done_->setObjectName(QStringLiteral("placeDone"));
    done_->setFont(face(18));
    done_->setPlaceholderText(tr("What is done to the machine for it, from the buttons below; empty: nothing"));
    done_->setAccessibleName(tr("What is done to the machine"));
    connect(done_, &QLineEdit::textChanged, this, &PlacePanel::check);
    connect(done_, &QLineEdit::returnPressed, this, &PlacePanel::accept);
    layout->addWidget(done_);

    auto* grid = new QGridLayout;
    grid->setSpacing(4);
    const std::pair<QString, const char*> kinds[] = {
        {tr("Apart"), "apart"},     {tr("Pulled"), "pulled"},      {tr("Unpinned"), "unpinned"},
        {tr("Load"), "load"},       {tr("Bridged"), "bridged"},    {tr("Command"), "commanded"},
        {tr("Clamp"), "clamp"},     {tr("Warmed"), "warmed"},      {tr("Leads Ω"), "leads"},
        {tr("Touched"), "touched"}, {tr("Shut down"), "shut down"}};
    constexpr int inRow = 6;
    for (const auto& [label, word] : kinds) {
        auto* button = new QPushButton(label, this);
        button->setObjectName(QStringLiteral("place-") + QLatin1String(word));
        button->setFont(face(14));
        button->setMinimumWidth(20);
        button->setFocusPolicy(Qt::TabFocus);
        const int at = static_cast<int>(buttons_.size());
        grid->addWidget(button, at / inRow, at % inRow);
        buttons_.emplace_back(button, QLatin1String(word));
    }
    layout->addLayout(grid);
    says_ = wrappedLabel("placeSays", face(14), this);
    layout->addWidget(says_);
}

// A list to choose from behind a button; without choices the word itself, to be completed by typing.
void PlacePanel::addLists(QPushButton* button, const QString& word, const QStringList& choices)
{
    delete button->menu();
    button->disconnect(this);
    if (choices.isEmpty()) {
        connect(button, &QPushButton::clicked, this, [this, word] { append(word); });
        return;
    }
    auto* menu = new QMenu(button);
    menu->setFont(face(15));
    menu->setStyleSheet(QStringLiteral("QMenu { menu-scrollable: 1; }"));
    for (const QString& choice : choices)
        connect(menu->addAction(choice), &QAction::triggered, this,
                [this, word, choice] { append(word + QLatin1Char(' ') + choice); });
    button->setMenu(menu);
}

void PlacePanel::fillMenus()
{
    const Map& map = liveJob_->map();
    const auto ids = [&](auto keep) {
        return namesOf(map.elements, [&](const Element& e) { return keep(e) ? text(e.id) : QString(); });
    };
    const auto inside = [](const Element& e) { return e.place == "inside the module"; };
    const QStringList terminals = namesOf(
        map.moduleTerminals(), [&](int t) { return map.terminal(t).a < 0 ? QString() : text(map.terminal(t).id); });
    for (const auto& [button, word] : buttons_) {
        QStringList choices;
        if (word == QLatin1String("apart"))
            choices = namesOf(map.connectors, [](const Connector& c) { return text(c.id); });
        else if (word == QLatin1String("pulled"))
            choices = ids([&](const Element& e) {
                return e.kind == ElementKind::Fuse || e.kind == ElementKind::Relay ||
                       (specOf(e.kind).isLoad && e.kind != ElementKind::SupplyPort && !inside(e));
            });
        else if (word == QLatin1String("unpinned"))
            choices = terminals;
        else if (word == QLatin1String("load"))
            choices = namesOf(loadCatalogue(map.systemVoltage_V), [](const SubstituteLoad& l) { return text(l.name); });
        else if (word == QLatin1String("commanded"))
            choices = namesOf(map.moduleTerminals(), [&](int t) {
                const auto role = map.terminal(t).role;
                return role && groupOf(*role) == Group::Drives ? text(map.terminal(t).id) : QString();
            });
        else if (word == QLatin1String("clamp"))
            choices = terminals + ids([&](const Element& e) { return e.kind == ElementKind::Fuse; });
        else if (word == QLatin1String("warmed"))
            choices = ids([&](const Element& e) {
                return (e.kind == ElementKind::Thermistor || e.kind == ElementKind::Winding) && !inside(e);
            });
        addLists(button, word, choices);
    }
}

void PlacePanel::append(const QString& clause)
{
    QString now = done_->text().trimmed();
    // More of the same kind goes to the same list.
    const QString word = clause.section(QLatin1Char(' '), 0, 0), choice = clause.section(QLatin1Char(' '), 1);
    const QString last = now.section(QLatin1Char(';'), -1).trimmed();
    const bool isList =
        word == QLatin1String("apart") || word == QLatin1String("pulled") || word == QLatin1String("unpinned");
    if (isList && last.startsWith(word + QLatin1Char(' ')))
        now += QStringLiteral(", ") + choice;
    else
        now += (now.isEmpty() ? QString() : QStringLiteral("; ")) + clause;
    // What is still to be typed: between which places, how much, to how many degrees.
    if (word == QLatin1String("bridged") || word == QLatin1String("touched") || word == QLatin1String("leads") ||
        word == QLatin1String("warmed"))
        now += QLatin1Char(' ');
    done_->setText(now);
    done_->setFocus();
    done_->end(false);
}

void PlacePanel::open(const LiveJob& liveJob)
{
    liveJob_ = &liveJob;
    const Map& map = liveJob.map();
    state_->blockSignals(true);
    state_->clear();
    for (const OperatingState& s : map.states)
        state_->addItem(text(s.name), text(s.id));
    for (QLineEdit* edit : {red_, black_}) {
        delete edit->completer();
        edit->setCompleter(new PlaceCompleter(map, edit));
    }
    fillMenus();
    SetUp now;
    now.state = liveJob.job().state;
    if (liveJob.placed())
        now = *liveJob.placed();
    else if (liveJob.step())
        now = *liveJob.step();
    const auto name = [&](const std::string& node) {
        const int index = map.nodeIndex(node);
        return index < 0 ? QString() : text(placeName(map, index));
    };
    red_->setText(name(now.red));
    black_->setText(name(now.black));
    state_->setCurrentIndex(std::max(0, map.stateIndex(now.state)));
    // A load between the leads stays there when they move only if it is said where it hangs.
    SetUp rest = now;
    rest.red.clear(), rest.black.clear(), rest.state.clear();
    done_->setText(text(setUpLine(map, rest)).replace(QStringLiteral(" · "), QStringLiteral("; ")));
    state_->blockSignals(false);
    check();
    red_->setFocus();
    red_->selectAll();
}

void PlacePanel::take(int node)
{
    QLineEdit* into = window()->focusWidget() == black_ ? black_ : red_;
    into->setText(text(placeName(liveJob_->map(), node)));
    QLineEdit* next = into == red_ ? black_ : done_;
    next->setFocus();
    next->selectAll();
}

Result<SetUp> PlacePanel::typed() const
{
    const Map& map = liveJob_->map();
    QStringList parts;
    if (!done_->text().trimmed().isEmpty()) parts << done_->text();
    if (!red_->text().trimmed().isEmpty()) parts.prepend(QStringLiteral("red ") + red_->text());
    if (!black_->text().trimmed().isEmpty()) parts.prepend(QStringLiteral("black ") + black_->text());
    return parseSetUp(map, parts.join(QStringLiteral("; ")).toStdString(),
                      state_->currentData().toString().toStdString());
}

void PlacePanel::check()
{
    if (!liveJob_) return;
    const auto setUp = typed();
    if (!setUp) {
        says_->setText(text(setUp.error().message()));
        setTextColour(says_, Theme::current().warn);
        emit saysOtherwise();
        return;
    }
    const Step step = stepAnywhere(liveJob_->map(), *setUp);
    QStringList lines;
    for (const std::string& caution : step.cautions)
        lines << text(caution);
    setTextColour(says_, lines.isEmpty() ? Theme::current().dim : Theme::current().warn);
    if (!step.expectation.empty()) lines << text(step.expectation);
    lines << tr("Enter places the leads; Esc leaves it.");
    says_->setText(lines.join(QLatin1Char(' ')));
    emit saysOtherwise();
}

void PlacePanel::accept()
{
    const auto setUp = typed();
    if (!setUp) return check();
    emit placed(*setUp);
}

void PlacePanel::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Escape) return emit closed();
    QWidget::keyPressEvent(event);
}

void PlacePanel::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    drawCard(p, rect());
    p.fillRect(QRectF(0, 1, 7, height() - 2), Theme::current().accent);
}

}  // namespace ilvek::app
