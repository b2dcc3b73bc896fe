// Keys, refusals, undo, opening and failing to open, sizes and themes.
#include <gmock/gmock.h>

#include <QAccessible>
#include <QComboBox>
#include <QDialog>
#include <QFile>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPainter>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QTableWidget>
#include <QTimer>

#include "app/window.h"
#include "screens/job/job_screen.h"
#include "screens/sheet/sheet_dialog.h"
#include "screens/sheet/terminal_dialog.h"
#include "theme.h"
#include "widgets/connector_face.h"
#include "widgets/shapes.h"
#include "widgets/step_card.h"

namespace ilvek::app {
namespace {

using test::Window;

std::string s(const QString& text)
{
    return text.toStdString();
}

std::size_t entries(const Window& window)
{
    return window->liveJob()->journal().events().size();
}

TEST(Typing, DigitsGoToTheReadingFromAnywhereAndEnterTakesThem)
{
    Window window;
    window->openDemo();
    const auto before = entries(window);
    window.keys("12");
    EXPECT_TRUE(window->prove()->dock()->isTyping());
    window.key(Qt::Key_Backspace);
    window.keys("2.5V");
    EXPECT_EQ(s(window->prove()->dock()->typedText()), "12.5V");
    EXPECT_EQ(entries(window), before) << "nothing is taken before Enter";
    window.key(Qt::Key_Return);
    EXPECT_EQ(entries(window), before + 1);
    EXPECT_FALSE(window->prove()->dock()->isTyping());
}

TEST(Typing, ARefusalKeepsWhatWasTyped)
{
    Window window;
    window->openDemo();
    const auto before = entries(window);
    window.figure("12.5 A");
    EXPECT_EQ(entries(window), before);
    EXPECT_EQ(s(window->prove()->dock()->typedText()), "12.5 A");
    window.key(Qt::Key_Escape);
    EXPECT_FALSE(window->prove()->dock()->isTyping());
    window.figure("OL");
    EXPECT_EQ(entries(window), before + 1) << "over limit is a reading";
}

TEST(Typing, ACurrentFromAClampGoesWithTheFigure)
{
    Window window;
    window->openDemo();
    Instrument clamp;
    clamp.clampScale_mVPerA = 10;
    ASSERT_TRUE(window->liveJob()->enter(InstrumentChange{clamp}));
    window.figure("12.51");
    window.pick("J2-1");
    window.figure("12.50");
    window.figure("7.90 @ 14 mV");
    ASSERT_TRUE(window->liveJob()->lastReading()->measuredCurrent_A);
    EXPECT_DOUBLE_EQ(*window->liveJob()->lastReading()->measuredCurrent_A, 1.4);
    EXPECT_THAT(s(window.text("arithmetic")), testing::HasSubstr("1.4 A"));
    const auto before = entries(window);
    window.figure("7.90 @ plenty");
    EXPECT_EQ(entries(window), before);
}

TEST(Typing, AReadingInAnotherStateMovesTheMachineThere)
{
    Window window;
    window->openDemo();
    window.pick("J2-1");
    window.key(Qt::Key_D);
    window.figure("0.02");
    EXPECT_EQ(window->liveJob()->job().state, "key-off");
}

TEST(Typing, ALetterAmongDigitsIsNoCommand)
{
    Window window;
    window->openDemo();
    const auto before = window.text("stepTitle");
    window.keys("12.5mB");
    EXPECT_EQ(window.text("stepTitle"), before);
    EXPECT_EQ(s(window->prove()->dock()->typedText()), "12.5mB");
}

TEST(Keys, UndoWithdrawsTheLastReadingAndTheJournalKeepsBoth)
{
    Window window;
    window->openDemo();
    const auto before = entries(window);
    const auto readings = window->liveJob()->assessment().evidence.readings.size();
    window.figure("12.51");
    EXPECT_EQ(window->liveJob()->assessment().evidence.readings.size(), readings + 1);
    window.key(Qt::Key_U);
    EXPECT_EQ(window->liveJob()->assessment().evidence.readings.size(), readings);
    EXPECT_EQ(entries(window), before + 2);
    window.figure("12.52");
    window.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(window->liveJob()->assessment().evidence.readings.size(), readings);
}

TEST(Keys, EveryTestHasOne)
{
    Window window;
    window->openDemo();
    window.pick("J2-1");
    const std::pair<Qt::Key, TestKind> keys[] = {
        {Qt::Key_B, TestKind::Battery},    {Qt::Key_R, TestKind::OpenSupply}, {Qt::Key_L, TestKind::LoadedSupply},
        {Qt::Key_G, TestKind::GroundSwap}, {Qt::Key_F, TestKind::FuseCheck},  {Qt::Key_D, TestKind::AbsentSupply}};
    for (const auto& [key, test] : keys) {
        window.key(key);
        ASSERT_TRUE(window->liveJob()->step());
        EXPECT_EQ(window->liveJob()->step()->test, test) << s(QKeySequence(key).toString());
    }
    const std::string load = (window.key(Qt::Key_L), window->liveJob()->step()->load);
    window.key(Qt::Key_C);
    window.key(Qt::Key_L);
    EXPECT_NE(window->liveJob()->step()->load, load);
    window.key(Qt::Key_N);
    EXPECT_EQ(window->liveJob()->step()->test, TestKind::Battery) << "the plan's own next step";
    const auto words = window.find<ConnectorFace>("connectorFace")->words();
    window.key(Qt::Key_M);
    EXPECT_NE(window.find<ConnectorFace>("connectorFace")->words(), words) << "mirrored";
}

TEST(Keys, TheSameCanBeDoneByMouse)
{
    Window window;
    window->openDemo();
    window.figure("12.51");
    window.pick("J2-1");
    QTimer::singleShot(0, [] {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        ASSERT_NE(menu, nullptr);
        for (QAction* action : menu->actions()) {
            if (action->text().startsWith(QStringLiteral("Load"))) action->trigger();
        }
        menu->close();
    });
    auto* strip = window.find<QWidget>("loopStrip");
    emit strip->customContextMenuRequested(QPoint(20, 20));
    EXPECT_EQ(window->liveJob()->step()->test, TestKind::LoadedSupply);
}

TEST(Keys, ArrowsWalkTheLedger)
{
    Window window;
    window->openDemo();
    window.pick("J1-7");
    window.key(Qt::Key_Down);
    EXPECT_EQ(window->liveJob()->map().terminal(window->liveJob()->shownTerminal()).id, "J1-8");
    window.key(Qt::Key_Up);
    EXPECT_EQ(window->liveJob()->map().terminal(window->liveJob()->shownTerminal()).id, "J1-7");
}

TEST(Keys, TheOverviewNamesThem)
{
    Window window;
    window->openDemo();
    bool seen = false;
    QTimer::singleShot(0, [&] {
        auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget());
        seen = dialog && dialog->objectName() == QStringLiteral("keys");
        if (dialog) dialog->reject();
    });
    window.key(Qt::Key_F1);
    EXPECT_TRUE(seen);
}

TEST(Gate, ALineOfTheTechniciansOwnIsToldAndEarned)
{
    Window window;
    window->openDemo();
    auto* line = window.find<QPushButton>("gate-codes");
    QTimer::singleShot(0, [] {
        auto* dialog = QApplication::activeModalWidget();
        ASSERT_NE(dialog, nullptr);
        dialog->findChild<QPlainTextEdit*>()->setPlainText(QStringLiteral("cleared, none came back"));
        qobject_cast<QDialog*>(dialog)->accept();
    });
    line->setFocus();
    QTest::keyClick(line, Qt::Key_Space);
    for (const GateLine& l : window->liveJob()->gate().lines) {
        if (l.id == "codes") {
            EXPECT_EQ(l.state, LineState::Earned);
        }
    }
}

TEST(Opening, SaysWhyAndLeavesTheOpenJobAlone)
{
    Window window;
    EXPECT_FALSE(window->openJob(window.path("none.ilvek")));
    EXPECT_THAT(s(window.text("startMessage")), testing::HasSubstr("there is no such file"));
    ASSERT_TRUE(window->openDemo());
    const auto before = entries(window);
    QFile broken(window.path("broken.json"));
    ASSERT_TRUE(broken.open(QIODevice::WriteOnly));
    broken.write("{\"format\":");
    broken.close();
    EXPECT_FALSE(window->openHandOver(broken.fileName()));
    EXPECT_FALSE(window->openMap(broken.fileName()));
    EXPECT_THAT(s(window.text("message")), testing::HasSubstr("broken.json, line 1"));
    EXPECT_EQ(entries(window), before);
}

TEST(Opening, ASecondWindowOnTheSameJobIsTold)
{
    Window first, second;
    ASSERT_TRUE(first->openDemo());
    EXPECT_FALSE(second->openJob(first.path("demonstration.ilvek")));
    EXPECT_THAT(s(second.text("startMessage")), testing::HasSubstr("open in another Ilvek"));
    EXPECT_TRUE(first->openDemo()) << "the same window may ask for it again";
}

TEST(Opening, ANewJobFromAMapStartsWithTheComplaint)
{
    Window window;
    ASSERT_TRUE(window->openMap(QStringLiteral(ILVEK_SOURCE_DIR "/data/maps/pt-9.json")));
    EXPECT_EQ(window->screen(), MainWindow::Screen::Job);
    window.find<QPlainTextEdit>("complaintText")->setPlainText(QStringLiteral("does not lift"));
    window.find<QLineEdit>("jobTitle")->setText(QStringLiteral("Tiller"));
    window.key(Qt::Key_F3);
    EXPECT_EQ(window->liveJob()->job().complaint.text, "does not lift") << "leaving the screen takes it over";
    EXPECT_EQ(window->liveJob()->job().details.title, "Tiller");
    EXPECT_EQ(s(window.text("gateSentence")), "Not proven. 11 of 11 lines are still open.");
}

TEST(JobScreen, CodesNotesAndRepairsGoToTheJournal)
{
    Window window;
    ASSERT_TRUE(window->openMap(QStringLiteral(ILVEK_SOURCE_DIR "/data/maps/pt-9.json")));
    EXPECT_THAT(s(window.text("jobMachine")), testing::HasSubstr("Vintergarn PT-9, with tiller"));
    auto* codes = window.find<QTableWidget>("codes");
    codes->setItem(0, 0, new QTableWidgetItem(QStringLiteral("41-3")));
    EXPECT_EQ(window->liveJob()->job().codes.size(), 1U);
    auto* note = window.find<QLineEdit>("note");
    note->setFocus();
    QTest::keyClicks(note, QStringLiteral("12 wires moved"));
    QTest::keyClick(note, Qt::Key_Return);
    EXPECT_EQ(window->liveJob()->job().notes.size(), 1U) << "digits typed into a note stay there";
    window.find<QComboBox>("repairedPart")->setCurrentText(QStringLiteral("X4-7"));
    auto* repair = window.find<QLineEdit>("repair");
    QTest::keyClicks(repair, QStringLiteral("new terminal"));
    QTest::keyClick(repair, Qt::Key_Return);
    EXPECT_EQ(window->liveJob()->job().repairs.size(), 1U);
    EXPECT_GE(window.find<QListWidget>("journal")->count(), 3);
}

TEST(Sheet, APreviewShowsRowsAndProblemsRowByRow)
{
    SheetDialog dialog;
    ASSERT_TRUE(dialog.load(QStringLiteral(ILVEK_SOURCE_DIR "/data/sheets/hauler-24v.csv")));
    EXPECT_FALSE(dialog.document().empty());
    EXPECT_EQ(dialog.findChild<QTableWidget*>()->rowCount(), 21) << "and one to type in";
    QTemporaryDir folder;
    QFile bad(folder.filePath(QStringLiteral("bad.csv")));
    ASSERT_TRUE(bad.open(QIODevice::WriteOnly));
    bad.write("cavity,circuit,role\n1,supply,B+\n2,ground,wizardry\n");
    bad.close();
    ASSERT_TRUE(dialog.load(bad.fileName()));
    EXPECT_THAT(s(dialog.problems().join('\n')), testing::HasSubstr("row 3, role"));
    EXPECT_THAT(s(dialog.problems().join('\n')), testing::HasSubstr("Schedule: No return is listed"));
    EXPECT_FALSE(dialog.load(folder.filePath(QStringLiteral("none.csv"))));
}

TEST(Sheet, ATerminalIsMarkedAsFound)
{
    Window window;
    ASSERT_TRUE(window->openDemo());
    const Map& map = window->liveJob()->map();
    TerminalDialog dialog(map, map.terminalIndex("J2-27"));
    dialog.findChild<QComboBox*>(QStringLiteral("asFound"))->setCurrentIndex(1);
    dialog.accept();
    EXPECT_EQ(dialog.result(), QDialog::Accepted);
    const PinRow row = dialog.row();
    EXPECT_EQ(row.asFound, "empty");
    EXPECT_TRUE(row.circuit.empty()) << "only what was changed";
    ASSERT_TRUE(window->liveJob()->enter(MapCorrection{row.id(), writePinRow(row)}));
    const Map& now = window->liveJob()->map();
    EXPECT_EQ(now.terminal(now.terminalIndex("J2-27")).asFound, AsFound::Empty);
    EXPECT_EQ(s(window.text("ledgerCount")), "4 of 51 proven");
}

TEST(Sheet, WhereSourcesDisagreeItIsChosenWhichHolds)
{
    Window window;
    ASSERT_TRUE(window->openDemo());
    const Map& map = window->liveJob()->map();
    TerminalDialog dialog(map, map.terminalIndex("J2-26"));
    auto* holds = dialog.findChild<QComboBox*>(QStringLiteral("holds"));
    ASSERT_TRUE(holds);
    EXPECT_EQ(dialog.row().holds, "") << "nothing is chosen for the technician";
    holds->setCurrentIndex(holds->findData(QStringLiteral("PT9-M")));
    dialog.accept();
    EXPECT_EQ(dialog.result(), QDialog::Accepted);
    ASSERT_TRUE(window->liveJob()->enter(MapCorrection{"J2-26", writePinRow(dialog.row())}));
    const Map& now = window->liveJob()->map();
    EXPECT_EQ(now.terminal(now.terminalIndex("J2-26")).expected.size(), 1U);
    EXPECT_FALSE(TerminalDialog(now, now.terminalIndex("J2-26")).findChild<QComboBox*>(QStringLiteral("holds")));
}

TEST(Sheet, ACorrectionThatCannotBeIsRefused)
{
    Window window;
    ASSERT_TRUE(window->openDemo());
    TerminalDialog dialog(window->liveJob()->map(), -1);
    dialog.findChild<QLineEdit*>(QStringLiteral("cavity"))->setText(QStringLiteral("nothing"));
    dialog.accept();
    EXPECT_NE(dialog.result(), QDialog::Accepted);
    EXPECT_FALSE(dialog.findChild<QLabel*>(QStringLiteral("terminalProblem"))->text().isEmpty());
}

TEST(Sizes, NothingOverlapsFromSmallToLarge)
{
    Window window;
    window->openDemo();
    window.figure("12.51");
    window.pick("J2-1");
    for (const QSize size : {QSize(1024, 700), QSize(1280, 800), QSize(1920, 1080), QSize(3840, 2160)}) {
        window->resize(size);
        QCoreApplication::processEvents();
        const auto place = [&](const char* name) {
            const auto* widget = window.find<QWidget>(name);
            return QRect(widget->mapTo(&*window, QPoint()), widget->size());
        };
        const char* parts[] = {"ledger", "stepArea", "loopStrip", "dockArea", "rightArea"};
        for (const char* a : parts) {
            EXPECT_TRUE(QRect(QPoint(), size).contains(place(a))) << a << " at " << size.width();
            for (const char* b : parts) {
                if (a != b) {
                    EXPECT_FALSE(place(a).intersects(place(b))) << a << " and " << b << " at " << size.width();
                }
            }
        }
        EXPECT_GE(place("dockArea").height(), 116) << "the figure is whole at " << size.width();
        EXPECT_GE(place("loopStrip").height(), 128);
    }
}

TEST(Themes, EveryTextStandsAtSevenToOne)
{
    for (const Theme* theme : {&Theme::light(), &Theme::nightly()}) {
        for (const QColor& colour : {theme->ink, theme->dim, theme->accent, theme->good, theme->warn, theme->bad}) {
            EXPECT_GE(contrast(colour, theme->panel), 7.0) << s(colour.name()) << " on the panel";
            EXPECT_GE(contrast(colour, theme->paper), 6.99) << s(colour.name()) << " on the paper";
        }
        EXPECT_GE(contrast(theme->ink, theme->bar), 7.0);
        EXPECT_GE(contrast(theme->ink, theme->band), 7.0) << "a selected row";
        EXPECT_GE(contrast(theme->onAccent, theme->accent), 7.0);
    }
    EXPECT_NEAR(contrast(Qt::black, Qt::white), 21.0, 1e-9);
}

TEST(Themes, AVerdictSurvivesWithoutColour)
{
    // Every mark has a picture of its own once all colours are one.
    std::vector<QImage> pictures;
    for (int m = 0; m <= static_cast<int>(Mark::Note); ++m) {
        QImage image(40, 40, QImage::Format_RGB32);
        image.fill(Qt::white);
        QPainter painter(&image);
        drawMark(painter, QRectF(4, 4, 32, 32), static_cast<Mark>(m));
        painter.end();
        const QImage grey = image.convertToFormat(QImage::Format_Mono, Qt::ThresholdDither);
        for (const QImage& other : pictures)
            EXPECT_NE(grey, other) << "mark " << m;
        pictures.push_back(grey);
    }
}

TEST(Accessibility, DrawnPartsHaveNamesAndValues)
{
    Window window;
    window->openDemo();
    window.figure("12.51");
    for (const char* name : {"stepCard", "loopStrip", "readingDock", "connectorFace", "gatePanel", "ledger"}) {
        auto* interface = QAccessible::queryAccessibleInterface(window.find<QWidget>(name));
        ASSERT_NE(interface, nullptr) << name;
        EXPECT_FALSE(interface->text(QAccessible::Name).isEmpty()) << name;
    }
    auto* dock = QAccessible::queryAccessibleInterface(window.find<QWidget>("readingDock"));
    ASSERT_NE(dock->valueInterface(), nullptr);
    EXPECT_THAT(s(dock->valueInterface()->currentValue().toString()), testing::HasSubstr("12.51 V, Battery noted"));
    EXPECT_EQ(QAccessible::queryAccessibleInterface(window.find<QWidget>("loopStrip"))->role(), QAccessible::Chart);
}

TEST(Accessibility, TheFocusCanBeSeen)
{
    Window window;
    window->openDemo();
    auto* line = window.find<QPushButton>("gate-codes");
    line->clearFocus();
    const QImage without = line->grab().toImage();
    line->setFocus(Qt::TabFocusReason);
    EXPECT_NE(line->grab().toImage(), without);
}

}  // namespace
}  // namespace ilvek::app
