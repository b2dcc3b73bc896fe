// A machine nobody has mapped, typed by hand in the real window: from the start screen to the first judged reading.
#include <gmock/gmock.h>

#include <QApplication>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTimer>

#include "app/window.h"
#include "open_job/setup_line.h"
#include "open_job/taking.h"
#include "proving/judge.h"
#include "screens/sheet/bench_table.h"
#include "screens/sheet/sheet_dialog.h"
#include "screens/sheet/terminal_dialog.h"

namespace ilvek::app {
namespace {

using test::Window;

// Keys as a person presses them, counted; \t and \n are keys too.
class Typist {
public:
    explicit Typist(QWidget* first) : first_(first) {}
    void type(const char* keys)
    {
        for (const char* k = keys; *k != 0; ++k) {
            QWidget* at = QApplication::focusWidget() ? QApplication::focusWidget() : first_;
            if (*k == '\t')
                QTest::keyClick(at, Qt::Key_Tab);
            else if (*k == '\n')
                QTest::keyClick(at, Qt::Key_Return);
            else
                QTest::keyClick(at, *k, *k >= 'A' && *k <= 'Z' ? Qt::ShiftModifier : Qt::NoModifier);
            ++pressed;
        }
    }
    int pressed = 0;

private:
    QWidget* first_;
};

TEST(BenchMap, SixTerminalsAreTypedWithUnderAHundredAndTwentyKeys)
{
    Window window;
    int pressed = 0;
    QString said;
    QTimer::singleShot(200, [&] {
        auto* dialog = qobject_cast<SheetDialog*>(QApplication::activeModalWidget());
        ASSERT_TRUE(dialog) << "the table stands in a dialog";
        // Whatever is wrong, the window goes on.
        QTimer::singleShot(5000, dialog, &QDialog::reject);
        auto* table = dialog->findChild<BenchTable*>();
        Typist typist(table);
        typist.type("A1\tmemory\tal\tred\tF1 5 A\n");
        typist.type("key\tkey\tblack\tF2 5 A\n");
        typist.type("main\trelay K1\tred\tF3 20 A\n");
        typist.type("coil\tdrives\n");
        typist.type("gnd\tgnd\tbrown\tG1\n");
        typist.type("gnd\tgnd\tbrown\tG2\n");
        pressed = typist.pressed;
        said = dialog->problems().join(QLatin1Char('\n'));
        ASSERT_TRUE(table->item(5, 0) && table->item(0, 2)) << table->csv();
        EXPECT_EQ(table->item(5, 0)->text(), QStringLiteral("A6")) << "the cavity follows by itself";
        EXPECT_EQ(table->item(0, 2)->text(), QStringLiteral("always")) << "completed";
        EXPECT_THAT(dialog->findChild<QLabel*>(QStringLiteral("sheetSummary"))->text().toStdString(),
                    testing::HasSubstr("6 rows make a working map"))
            << said.toStdString();
        table->setCurrentCell(2, 0);
        EXPECT_THAT(dialog->findChild<LoopStrip*>(QStringLiteral("sheetWay"))->accessibleDescription().toStdString(),
                    testing::HasSubstr("K1 › F3 › A3"));
        dialog->accept();
    });
    ASSERT_TRUE(window->typePins());
    EXPECT_LT(pressed, 120) << said.toStdString();
    ASSERT_TRUE(window->liveJob());
    const Map& map = window->liveJob()->map();
    EXPECT_EQ(map.moduleTerminals().size(), 6U);
    EXPECT_EQ(map.terminal(map.terminalIndex("A3")).role, Role::RelayFedSupply);
    EXPECT_FALSE(map.isCurrentStated(map.terminal(map.terminalIndex("A3"))));
}

TEST(BenchMap, ARowThatCannotBeUnderstoodSaysWhatToWriteAndStaysInTheTable)
{
    SheetDialog dialog;
    auto* table = dialog.findChild<BenchTable*>();
    table->paste(
        QStringLiteral("A1\tfeed\tsupply, always\tred\tZ9 > F1\nA2\tgnd\twizardry\nA7\tground\treturn\tbrown\tG1"));
    const std::string all = dialog.problems().join(QLatin1Char('\n')).toStdString();
    EXPECT_THAT(all, testing::HasSubstr("row 2, route"));
    EXPECT_THAT(all, testing::HasSubstr("Write as “fuse Z9”"));
    EXPECT_THAT(all, testing::HasSubstr("row 3, role"));
    EXPECT_EQ(table->item(1, 2)->text(), QStringLiteral("wizardry"));
    EXPECT_TRUE(dialog.document().empty()) << "no map of half a circuit";
    table->item(0, 4)->setText(QStringLiteral("F1 10 A"));
    EXPECT_FALSE(dialog.document().empty()) << "the good rows make one";
}

TEST(BenchMap, ASheetOfOldColumnsIsShownAsRoutesAndIsTheSameMachine)
{
    SheetDialog dialog;
    ASSERT_TRUE(dialog.load(QStringLiteral(ILVEK_SOURCE_DIR "/data/sheets/hauler-24v.csv")));
    auto* table = dialog.findChild<BenchTable*>();
    EXPECT_EQ(table->item(0, 4)->text(), QStringLiteral("SP1 > F3 25 A"));
    EXPECT_EQ(table->item(0, 2)->text(), QStringLiteral("supply, by relay K7"));
    const auto read = readPinSheet(table->csv(), "again");
    ASSERT_TRUE(read);
    EXPECT_TRUE(read->problems.empty());
    EXPECT_EQ(read->rows.size(), 20U);
    const std::string before = dialog.document();
    table->item(0, 8)->setText(QStringLiteral("page 5"));
    EXPECT_NE(dialog.document(), before);
    for (const char* file : {"washer-12v.csv"}) {
        SheetDialog other;
        ASSERT_TRUE(other.load(QStringLiteral(ILVEK_SOURCE_DIR "/data/sheets/") + QLatin1String(file)));
        EXPECT_FALSE(other.document().empty()) << other.problems().join(QLatin1Char('\n')).toStdString();
    }
}

// Accepts the next dialog once something was done in it.
template <class Dialog, class Do>
void inDialog(Do what)
{
    QTimer::singleShot(200, [what] {
        auto* dialog = qobject_cast<Dialog*>(QApplication::activeModalWidget());
        ASSERT_TRUE(dialog);
        QTimer::singleShot(5000, dialog, &QDialog::reject);
        what(*dialog);
        dialog->accept();
    });
}

TEST(BenchMap, AMachineIsTypedProvenStatedBetterAndKeptForTheNextJob)
{
    Window window;
    inDialog<SheetDialog>([](SheetDialog& dialog) {
        Typist typist(dialog.findChild<BenchTable*>());
        typist.type("A1\tmain\trelay K1\tred\tF3 20 A\n");
        typist.type("key\tkey\tblack\tF2 5 A\n");
        typist.type("gnd\tgnd\tbrown\tG1\n");
    });
    ASSERT_TRUE(window->typePins());
    LiveJob* job = window->liveJob();
    window->show(MainWindow::Screen::Prove);
    ASSERT_TRUE(job->setState("key-on"));
    window.key(Qt::Key_B);
    window.figure(QStringLiteral("12.5"));
    window.pick("A1");
    auto* offer = window.find<QPushButton>("stateFigure");
    EXPECT_TRUE(offer->isVisible());
    EXPECT_TRUE(offer->text().contains(QStringLiteral("what A1 draws is not known"))) << offer->text().toStdString();
    window.key(Qt::Key_L);
    window.figure(QStringLiteral("12.2"));
    ASSERT_TRUE(job->lastJudgement());
    EXPECT_EQ(job->lastReading()->test, TestKind::LoadedSupply);

    // A clamp on the wire: the figure is offered, and kept.
    job->placeLeads(parseSetUp(job->map(), "clamp A1; key on", "key-on").value());
    window.figure(QStringLiteral("2.4 A"));
    window.pick("A1");
    EXPECT_TRUE(offer->text().replace(QChar(0xA0), QLatin1Char(' ')).contains(QStringLiteral("2.4 A by clamp")))
        << offer->text().toStdString();
    const std::size_t readings = job->job().evidence.readings.size();
    inDialog<TerminalDialog>([](TerminalDialog& dialog) {
        EXPECT_TRUE(dialog.findChild<QLineEdit*>(QStringLiteral("current"))->text().startsWith(QStringLiteral("2.4")));
        EXPECT_EQ(dialog.findChild<QLineEdit*>(QStringLiteral("source"))->text(), QStringLiteral("by clamp"));
    });
    window.key(Qt::Key_K);
    const auto a1 = [&] { return window->liveJob()->map().terminal(window->liveJob()->map().terminalIndex("A1")); };
    EXPECT_TRUE(job->map().isCurrentStated(a1()));
    EXPECT_FALSE(offer->isVisible()) << "it is known now";
    EXPECT_EQ(job->assessment().evidence.readings.size(), readings);
    EXPECT_FALSE(isStale(job->map(), job->assessment().evidence, *job->lastReading())) << "readings stand";

    // One more terminal in the middle of the job is one line.
    inDialog<SheetDialog>([](SheetDialog& dialog) {
        Typist typist(dialog.findChild<BenchTable*>());
        typist.type("A4\tsensor\tanalogue\n");
    });
    window.key(Qt::Key_F7);
    EXPECT_GE(job->map().terminalIndex("A4"), 0);
    EXPECT_EQ(job->job().corrections.size(), 2U);

    window.find<QPushButton>("keepMachine")->click();
    window->show(MainWindow::Screen::Start);
    auto* machines = window.find<QListWidget>("machines");
    ASSERT_EQ(machines->count(), 1);
    emit machines->itemActivated(machines->item(0));
    ASSERT_TRUE(window->liveJob());
    EXPECT_TRUE(window->liveJob()->job().evidence.readings.empty()) << "a second job";
    EXPECT_DOUBLE_EQ(a1().current_A.value_or(0), 2.4);
    EXPECT_GE(window->liveJob()->map().terminalIndex("A4"), 0);
    EXPECT_EQ(window->liveJob()->job().corrections.size(), 2U) << "as drawn and as found are both kept";
}

}  // namespace
}  // namespace ilvek::app
