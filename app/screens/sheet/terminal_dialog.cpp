#include "screens/sheet/terminal_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>

#include <set>

#include "bench_map/kept_sheet.h"
#include "bench_map/map_correction.h"
#include "machine/map_reader.h"
#include "theme.h"
#include "widgets/labels.h"

namespace ilvek::app {

namespace {

QString text(std::string_view s)
{
    return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}

}  // namespace

TerminalDialog::TerminalDialog(const Map& map, int terminal, QWidget* parent, std::optional<double> measured_A)
    : QDialog(parent), map_(map), terminal_(terminal)
{
    setObjectName(QStringLiteral("terminalDialog"));
    setWindowTitle(terminal < 0 ? tr("Add a terminal")
                                : tr("Correct terminal %1").arg(text(map.terminal(terminal).id)));
    setMinimumWidth(520);
    auto* form = new QFormLayout;
    const auto line = [&](const char* name, const QString& label, const QString& value) {
        auto* edit = new QLineEdit(value);
        edit->setObjectName(QLatin1String(name));
        form->addRow(label, edit);
        return edit;
    };
    const Terminal* t = terminal < 0 ? nullptr : &map.terminal(terminal);
    const auto sheet = sheetOf(map.document);
    const bool keepsSheet = sheet && *sheet;
    for (const PinRow& row : keepsSheet ? **sheet : std::vector<PinRow>{}) {
        if (t && row.isTerminal() && row.cavity == t->number &&
            row.connector == map.connectors[static_cast<std::size_t>(t->connector)].id)
            before_ = row;
    }
    cavity_ = line("cavity", tr("Ca&vity"), t ? text(t->id) : QString());
    cavity_->setReadOnly(t != nullptr);
    circuit_ = line("circuit", tr("&Circuit"), t ? text(t->circuit) : QString());
    role_ = new QComboBox;
    role_->setObjectName(QStringLiteral("role"));
    for (const std::string& name : roleNames())
        role_->addItem(text(name));
    if (t && t->role) role_->setCurrentText(text(roleName(*t->role)));
    form->addRow(tr("&Role"), role_);
    colour_ =
        line("colour", tr("Wire co&lour (base/stripe)"),
             t ? text(t->colour.stripe.empty() ? t->colour.base : t->colour.base + "/" + t->colour.stripe) : QString());
    found_ = new QComboBox;
    found_->setObjectName(QStringLiteral("asFound"));
    found_->addItems({tr("as drawn"), tr("found empty"), tr("found wired")});
    found_->setCurrentIndex(t && t->asFound == AsFound::Empty ? 1 : t && t->asFound == AsFound::Wired ? 2 : 0);
    form->addRow(tr("As &found"), found_);
    if (t) askWhichSourceHolds(*t, form);
    route_ = line("route", tr("Rou&te, from the pin"), text(before_.route));
    fuse_ = line("fuse", tr("F&use and rating"), text(before_.fuse));
    relay_ = line("relay", tr("Rela&y"), text(before_.relay));
    ground_ = line("ground", tr("&Ground point"), text(before_.ground));
    splice_ = line("splice", tr("&Splice"), text(before_.splice));
    otherEnd_ = line("otherEnd", tr("At the oth&er end"), text(before_.otherEnd));
    section_ = line("section", tr("Section of its w&ire, mm²"), text(before_.section));
    section_->setPlaceholderText(tr("not known"));
    current_ = line("current", tr("Current at full wor&k"), text(before_.current));
    current_->setPlaceholderText(tr("not known"));
    expected_ = line("expected", tr("Ex&pected"), text(before_.expected));
    ownReturn_ = line("ownReturn", tr("Its own retur&n"), text(before_.ownReturn));
    source_ = line("source", tr("Source or &why"), text(before_.source));
    // The wiring of a cavity that has one stays as it is on a map that was made by hand.
    const bool wired = t && t->a >= 0 && t->role != Role::Empty;
    for (QLineEdit* edit : {fuse_, ground_, splice_})
        form->setRowVisible(edit, !wired || !edit->text().isEmpty());
    for (QLineEdit* edit : {relay_, otherEnd_})
        form->setRowVisible(edit, !wired || keepsSheet);
    for (QLineEdit* edit : {route_, section_, current_, expected_, ownReturn_})
        form->setRowVisible(edit, keepsSheet);
    if (measured_A && keepsSheet) offer(*measured_A);
    problem_ = new QLabel;
    problem_->setObjectName(QStringLiteral("terminalProblem"));
    problem_->setWordWrap(true);
    setTextColour(problem_, Theme::current().bad);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    connect(buttons, &QDialogButtonBox::accepted, this, &TerminalDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    auto* layout = new QVBoxLayout(this);
    layout->addLayout(form);
    layout->addWidget(problem_);
    layout->addWidget(buttons);
}

void TerminalDialog::offer(double measured_A)
{
    current_->setText(text(formatQuantity(amperes(measured_A))));
    const QString known = source_->text().trimmed();
    source_->setText(known.isEmpty() ? tr("by clamp") : tr("%1; current by clamp").arg(known));
    current_->setFocus();
    current_->selectAll();
}

void TerminalDialog::askWhichSourceHolds(const Terminal& t, QFormLayout* form)
{
    std::set<int> disagreeing;
    for (const Expected& a : t.expected) {
        for (const Expected& b : t.expected) {
            const bool same = a.state == b.state && a.measure == b.measure && a.loaded == b.loaded;
            if (same && a.source != b.source) disagreeing.insert(a.source);
        }
    }
    if (disagreeing.empty()) return;
    holds_ = new QComboBox;
    holds_->setObjectName(QStringLiteral("holds"));
    holds_->addItem(tr("all of its sources, which must agree"), QString());
    for (const int source : disagreeing) {
        const Source& s = map_.sources[static_cast<std::size_t>(source)];
        holds_->addItem(tr("%1, %2").arg(text(s.id), text(s.title)), text(s.id));
    }
    form->addRow(tr("E&xpected values from"), holds_);
}

PinRow TerminalDialog::row() const
{
    const auto s = [](const QLineEdit* edit) { return edit->text().trimmed().toStdString(); };
    PinRow row;
    const Terminal* t = terminal_ < 0 ? nullptr : &map_.terminal(terminal_);
    if (t) {
        row.connector = map_.connectors[static_cast<std::size_t>(t->connector)].id;
        row.cavity = t->number;
    } else if (!readCavity(s(cavity_), row)) {
        row.cavity = 0;
    }
    if (!t || t->circuit != s(circuit_)) row.circuit = s(circuit_);
    const std::string role = role_->currentText().toStdString();
    if (!t || !t->role || roleName(*t->role) != role) row.role = role;
    if (!t || text(t->colour.stripe.empty() ? t->colour.base : t->colour.base + "/" + t->colour.stripe) !=
                  colour_->text().trimmed())
        row.colour = s(colour_);
    const AsFound before = t ? t->asFound : AsFound::AsDrawn;
    const AsFound now = static_cast<AsFound>(found_->currentIndex());
    if (now != before) row.asFound = now == AsFound::Empty ? "empty" : now == AsFound::Wired ? "wired" : "as drawn";
    // Only what was changed.
    const std::pair<QLineEdit*, std::string PinRow::*> cells[] = {
        {fuse_, &PinRow::fuse},       {relay_, &PinRow::relay},       {ground_, &PinRow::ground},
        {splice_, &PinRow::splice},   {otherEnd_, &PinRow::otherEnd}, {route_, &PinRow::route},
        {current_, &PinRow::current}, {expected_, &PinRow::expected}, {ownReturn_, &PinRow::ownReturn},
        {source_, &PinRow::source},   {section_, &PinRow::section}};
    for (const auto& [edit, cell] : cells) {
        if (s(edit) != before_.*cell) row.*cell = s(edit);
    }
    if (holds_) row.holds = holds_->currentData().toString().toStdString();
    return row;
}

void TerminalDialog::accept()
{
    const PinRow wanted = row();
    if (wanted.cavity < 1 || wanted.connector.empty()) return problem_->setText(tr("The cavity is written as J1-14."));
    if (const auto colour = parseColour(wanted.colour); !colour)
        return problem_->setText(text(colour.error().message()));
    const auto changed = withCorrection(map_.document, writePinRow(wanted));
    const auto map = changed ? readMap(*changed, "the map") : Result<Map, Problems>(tl::unexpected(changed.error()));
    if (!map) return problem_->setText(text(map.error().front().message()));
    QDialog::accept();
}

}  // namespace ilvek::app
