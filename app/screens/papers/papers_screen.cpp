#include "screens/papers/papers_screen.h"

#include <QAction>
#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "job/own_cases.h"
#include "models/paper_work.h"
#include "theme.h"
#include "widgets/labels.h"
#include "widgets/shared_paths.h"

namespace ilvek::app {

namespace {

QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

// A verdict is a word and a shape.
QString marked(Does does)
{
    static const char* const shapes[] = {"–", "✗", "◐", "?", "✓"};
    return QStringLiteral("%1  %2").arg(QString::fromUtf8(shapes[static_cast<std::size_t>(does)]),
                                        QString::fromUtf8(doesWord(does).data()));
}

// As many as a tired person reads; how many more there are.
QString few(const std::vector<std::string>& all, std::size_t most)
{
    QStringList words;
    for (std::size_t i = 0; i < all.size() && i < most; ++i)
        words << text(all[i]).toHtmlEscaped();
    const auto more = static_cast<int>(all.size()) - static_cast<int>(most);
    return words.join(QStringLiteral("; ")) + (more > 0 ? PapersScreen::tr("; and %1 more").arg(more) : QString());
}

QString codeHtml(const CodeOnPaper& c)
{
    constexpr std::size_t most = 5;
    QString out = QStringLiteral("<p style='margin-top:6px'><b>%1</b> %2")
                      .arg(text(c.code).toHtmlEscaped(), text(c.text).toHtmlEscaped());
    if (c.kept)
        return out + PapersScreen::tr("<br>Set by %1. No circuit shows that: it weighs nothing.</p>")
                         .arg(text(c.setBy).toHtmlEscaped());
    if (!c.known) return out + PapersScreen::tr("<br>Nobody said what sets it: it weighs nothing.</p>");
    out += PapersScreen::tr("<br>Set by %1.").arg(text(c.setBy).toHtmlEscaped());
    if (c.always) out += PapersScreen::tr("<br>By the map's figures a sound machine sets it too: it says nothing.");
    if (!c.can.empty()) out += PapersScreen::tr("<br><b>Can be</b> %1.").arg(few(c.can, most));
    if (!c.cannot.empty()) out += PapersScreen::tr("<br><b>Rules out</b> %1.").arg(few(c.cannot, most));
    if (!c.unlikely.empty())
        out += PapersScreen::tr("<br><b>Unlikely</b>, by figures nobody stated: %1.").arg(few(c.unlikely, most));
    return out + QStringLiteral("</p>");
}

}  // namespace

PapersScreen::PapersScreen(QWidget* parent) : WindowScreen(parent), work_(new PaperWork(this))
{
    setObjectName(QStringLiteral("papersScreen"));
    setFocusPolicy(Qt::StrongFocus);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 12);
    layout->setSpacing(22);
    layout->addWidget(makeTold(), 9);
    layout->addWidget(makePaper(), 11);
    connect(work_, &PaperWork::ready, this, [this] {
        if (liveJob_ && isVisible()) fillShared(), fillCodes();
    });
}

QWidget* PapersScreen::makeTold()
{
    auto* box = new QWidget(this);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(headingLabel("toldHeading", tr("What fails, what works"), box));
    QLabel* keys = wrappedLabel("toldKeys", face(15), box);
    keys->setText(tr("↑ ↓ choose. F fails, K is weak, G comes and goes, W works, N not tried."));
    column->addWidget(keys);
    functions_ = new QTreeWidget(box);
    functions_->setObjectName(QStringLiteral("toldFunctions"));
    functions_->setAccessibleName(tr("Functions of the machine"));
    functions_->setColumnCount(2);
    functions_->setHeaderHidden(true);
    functions_->setRootIsDecorated(false);
    functions_->setUniformRowHeights(true);
    functions_->setFocusPolicy(Qt::NoFocus);  // the letters and the arrows are keys of the screen
    functions_->header()->setStretchLastSection(false);
    functions_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    functions_->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    connect(functions_, &QTreeWidget::itemDoubleClicked, this, [this](QTreeWidgetItem* item) {
        const int now = item->data(1, Qt::UserRole).toInt();
        functions_->setCurrentItem(item);
        tell(static_cast<Does>((now + 1) % 5));
    });
    column->addWidget(functions_, 1);
    auto* row = new QHBoxLayout;
    newFunction_ = new QLineEdit(box);
    newFunction_->setObjectName(QStringLiteral("newFunction"));
    newFunction_->setAccessibleName(tr("Another function"));
    newFunction_->setPlaceholderText(tr("another function, then what it needs"));
    needs_ = new QPushButton(tr("&Needs …"), box);
    needs_->setObjectName(QStringLiteral("needs"));
    needs_->setMenu(new QMenu(needs_));
    take_ = new QPushButton(tr("&Add"), box);
    take_->setObjectName(QStringLiteral("addFunction"));
    connect(newFunction_, &QLineEdit::returnPressed, this, &PapersScreen::addFunction);
    connect(take_, &QPushButton::clicked, this, &PapersScreen::addFunction);
    row->addWidget(newFunction_, 1);
    row->addWidget(needs_);
    row->addWidget(take_);
    column->addLayout(row);
    today_ = new QComboBox(box);
    today_->setObjectName(QStringLiteral("today"));
    today_->setAccessibleName(tr("Whether it was there today"));
    today_->addItems(
        {tr("Not tried yet today"), tr("It was there today"), tr("It is absent today: it is watched for")});
    connect(today_, &QComboBox::activated, this, [this](int index) {
        if (!liveJob_) return;
        Complaint complaint = liveJob_->job().complaint;
        complaint.today = static_cast<Complaint::Today>(index);
        if (liveJob_->enter(complaint) && complaint.today == Complaint::Today::Absent) emit watchWanted();
    });
    column->addWidget(today_);
    unweighed_ = wrappedLabel("notWeighed", face(14), box);
    column->addWidget(unweighed_);
    own_ = wrappedLabel("ownCases", face(14), box);
    column->addWidget(own_);
    return box;
}

QWidget* PapersScreen::makePaper()
{
    auto* inside = new QWidget(this);
    auto* column = new QVBoxLayout(inside);
    column->setContentsMargins(0, 0, 6, 0);
    first_ = wrappedLabel("firstTest", face(18, QFont::Bold), inside);
    column->addWidget(headingLabel("firstHeading", tr("Where to begin"), inside));
    column->addWidget(first_);
    column->addSpacing(8);
    column->addWidget(headingLabel("sharedHeading", tr("What they share"), inside));
    sharedHint_ = wrappedLabel("sharedHint", face(15), inside);
    column->addWidget(sharedHint_);
    shared_ = new SharedPaths(inside);
    column->addWidget(shared_);
    column->addSpacing(8);
    column->addWidget(headingLabel("codesHeading", tr("What the codes can mean"), inside));
    codesText_ = new QLabel(inside);
    codesText_->setObjectName(QStringLiteral("codesOnPaper"));
    codesText_->setFont(face(15));
    codesText_->setWordWrap(true);
    codesText_->setTextFormat(Qt::RichText);
    column->addWidget(codesText_);
    codeRow_ = new QWidget(inside);
    auto* row = new QHBoxLayout(codeRow_);
    row->setContentsMargins(0, 0, 0, 0);
    const auto choice = [&](const char* name, const QString& words) {
        auto* one = new QComboBox(codeRow_);
        one->setObjectName(QLatin1String(name));
        one->setAccessibleName(words);
        one->setToolTip(words);
        row->addWidget(one);
        return one;
    };
    code_ = choice("unknownCode", tr("Code that the map does not know"));
    codeAt_ = choice("codeTerminal", tr("Terminal that it is about"));
    codeSets_ = choice("codeSets", tr("What sets it"));
    codeSets_->addItem(tr("set by low"), QStringLiteral("low"));
    codeSets_->addItem(tr("set by high"), QStringLiteral("high"));
    codeSets_->addItem(tr("no activity"), QStringLiteral("no activity"));
    codeSets_->addItem(tr("implausible"), QStringLiteral("implausible"));
    auto* keep = new QPushButton(tr("&Keep it"), codeRow_);
    keep->setObjectName(QStringLiteral("keepCode"));
    connect(keep, &QPushButton::clicked, this, &PapersScreen::addCodeMeaning);
    row->addWidget(keep);
    row->addStretch(1);
    column->addWidget(codeRow_);
    column->addStretch(1);
    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(inside);
    return scroll;
}

void PapersScreen::setLiveJob(LiveJob* liveJob)
{
    liveJob_ = liveJob;
    functions_->clear();
    newFunction_->clear();
    needs_->menu()->clear();
    codeAt_->clear();
    if (!liveJob_) return;
    connect(liveJob_, &LiveJob::changed, this, [this] {
        if (isVisible()) refresh();
    });
    connect(liveJob_, &LiveJob::reasoned, this, [this] {
        if (isVisible()) fillFirst();
    });
    for (const int t : liveJob_->map().moduleTerminals()) {
        const Terminal& terminal = liveJob_->map().terminal(t);
        if (terminal.role == Role::Empty) continue;
        QAction* action = needs_->menu()->addAction(text(terminal.id + "  " + terminal.circuit));
        action->setCheckable(true);
        action->setData(text(terminal.id));
        codeAt_->addItem(text(terminal.id), text(terminal.id));
    }
}

void PapersScreen::showEvent(QShowEvent*)
{
    setFocus();  // the letters are keys here, until a field is chosen
    refresh();
}

void PapersScreen::refresh()
{
    if (!liveJob_) return;
    work_->want(liveJob_->job());
    fillFunctions();
    fillShared();
    fillCodes();
    fillFirst();
}

void PapersScreen::fillFunctions()
{
    const Job& job = liveJob_->job();
    const auto told = toldOf(job.map, job.complaint);
    const int at = functions_->currentItem() ? functions_->indexOfTopLevelItem(functions_->currentItem()) : 0;
    constexpr int rowHeight = 28;
    functions_->clear();
    for (std::size_t i = 0; i < told.size(); ++i) {
        auto* item = new QTreeWidgetItem({text(job.map.functions[i].name), marked(told[i])});
        item->setData(1, Qt::UserRole, static_cast<int>(told[i]));
        item->setFont(0, face(17));
        item->setFont(1, face(17, told[i] == Does::NotTried ? QFont::Normal : QFont::Bold));
        const Theme& t = Theme::current();
        item->setForeground(1, told[i] == Does::NotTried ? t.dim : told[i] == Does::Works ? t.good : t.bad);
        item->setToolTip(0, plainTip(text(job.map.functions[i].name)));
        item->setSizeHint(0, QSize(0, rowHeight));
        functions_->addTopLevelItem(item);
    }
    if (functions_->topLevelItemCount() > 0)
        functions_->setCurrentItem(functions_->topLevelItem(std::clamp(at, 0, functions_->topLevelItemCount() - 1)));
    today_->setCurrentIndex(static_cast<int>(job.complaint.today));
    QStringList lines;
    for (const std::string& words : notWeighed(job))
        lines << text(words);
    constexpr int mostLines = 4;
    unweighed_->setToolTip(lines.size() > mostLines ? plainTip(lines.join(QLatin1Char('\n'))) : QString());
    if (const auto more = lines.size() - mostLines; more > 0)
        lines = lines.mid(0, mostLines) << tr("and %n more", nullptr, static_cast<int>(more));
    unweighed_->setVisible(!lines.isEmpty());
    unweighed_->setText(tr("Not weighed:\n%1").arg(lines.join(QLatin1Char('\n'))));
    own_->setVisible(job.ownCases.jobs > 0);
    QStringList cases;
    for (const std::string& words : ownCaseWords(job.ownCases))
        cases << text(words);
    own_->setToolTip(plainTip(cases.join(QLatin1Char('\n'))));
    own_->setText(
        tr("Closed jobs of your own weigh along: %1. Point here to see which parts failed.").arg(job.ownCases.jobs));
}

void PapersScreen::fillShared()
{
    const Job& job = liveJob_->job();
    const auto told = toldOf(job.map, job.complaint);
    const bool some = std::any_of(told.begin(), told.end(), [](Does d) { return d != Does::NotTried; });
    const bool busy = work_->isBusy() && work_->branches().empty();
    sharedHint_->setText(job.map.functions.empty() ? tr("The map names no function yet.")
                         : busy                    ? tr("Each conductor is opened in turn to see what stops …")
                         : some ? tr("One thing that explains all that fails and nothing that works goes first.")
                                : tr("Tell what fails and what works: it clears what they share."));
    shared_->setVisible(!busy && !job.map.functions.empty());
    if (!busy) shared_->show(job, work_->branches());
}

void PapersScreen::fillCodes()
{
    const Job& job = liveJob_->job();
    QString html;
    code_->clear();
    for (CodeOnPaper c : work_->codes()) {
        const auto stored =
            std::find_if(job.codes.begin(), job.codes.end(), [&](const Code& k) { return k.code == c.code; });
        if (c.text.empty() && stored != job.codes.end()) c.text = stored->text;
        html += codeHtml(c);
        if (!c.known && !c.kept) code_->addItem(text(c.code));
    }
    if (job.codes.empty()) html = tr("No codes were entered. They stand on the Job screen (F2).");
    if (!job.codes.empty() && work_->codes().empty()) html = tr("The codes are being looked at …");
    codesText_->setText(html);
    codeRow_->setVisible(code_->count() > 0);
}

void PapersScreen::fillFirst()
{
    const Reasoning* reasoning = liveJob_->reasoning();
    first_->setText(reasoning && !reasoning->steps.empty()
                        ? tr("%1. T takes it.").arg(text(reasoning->steps.front().title))
                        : tr("The plan of the Prove screen (F3) begins with the battery."));
}

void PapersScreen::tell(Does does)
{
    QTreeWidgetItem* item = functions_->currentItem();
    if (!liveJob_ || !item) return;
    const int row = functions_->indexOfTopLevelItem(item);
    const Complaint complaint = withTold(liveJob_->map(), liveJob_->job().complaint, row, does);
    const int next = std::min(row + 1, functions_->topLevelItemCount() - 1);
    if (!(complaint == liveJob_->job().complaint) && !liveJob_->enter(complaint)) return;
    functions_->setCurrentItem(functions_->topLevelItem(next));
}

void PapersScreen::addFunction()
{
    if (!liveJob_ || newFunction_->text().trimmed().isEmpty()) return;
    std::vector<std::string> terminals;
    for (const QAction* action : needs_->menu()->actions()) {
        if (action->isChecked()) terminals.push_back(action->data().toString().toStdString());
    }
    const std::string name = newFunction_->text().trimmed().toStdString();
    const auto row = functionRow(liveJob_->map(), name, terminals);
    if (!row) return emit said(text(row.error().message()), true);
    const QString typed = newFunction_->text();
    newFunction_->clear();
    if (!liveJob_->enter(MapCorrection{name, *row})) return newFunction_->setText(typed);
    for (QAction* action : needs_->menu()->actions())
        action->setChecked(false);
    functions_->setCurrentItem(functions_->topLevelItem(functions_->topLevelItemCount() - 1));
    setFocus();
}

void PapersScreen::addCodeMeaning()
{
    if (!liveJob_ || code_->currentIndex() < 0) return;
    const std::string code = code_->currentText().toStdString();
    std::string says;
    for (const Code& c : liveJob_->job().codes) {
        if (c.code == code) says = c.text;
    }
    const auto row = codeRow(liveJob_->map(), code, codeAt_->currentData().toString().toStdString(),
                             codeSets_->currentData().toString().toStdString(), says);
    if (!row) return emit said(text(row.error().message()), true);
    liveJob_->enter(MapCorrection{code, *row});
}

bool PapersScreen::key(int key, Qt::KeyboardModifiers modifiers, const QString&)
{
    if (!liveJob_ || modifiers & ~Qt::KeypadModifier) return false;
    const auto move = [&](int by) {
        const int at = functions_->indexOfTopLevelItem(functions_->currentItem());
        if (QTreeWidgetItem* item = functions_->topLevelItem(at + by)) functions_->setCurrentItem(item);
        return true;
    };
    switch (key) {
        case Qt::Key_Up:
            return move(-1);
        case Qt::Key_Down:
            return move(1);
        case Qt::Key_F:
            return tell(Does::Fails), true;
        case Qt::Key_K:
            return tell(Does::Weak), true;
        case Qt::Key_G:
            return tell(Does::ComesAndGoes), true;
        case Qt::Key_W:
            return tell(Does::Works), true;
        case Qt::Key_N:
            return tell(Does::NotTried), true;
        case Qt::Key_T:
            if (liveJob_->takeSuggestion(0)) emit testWanted();
            return true;
        default:
            return false;
    }
}

}  // namespace ilvek::app
