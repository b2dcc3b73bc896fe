// A machine nobody has mapped, typed by hand in the real window: from the start screen to the first judged reading.
#include <gmock/gmock.h>

#include <QApplication>
#include <QPushButton>
#include <QTimer>

#include "app/window.h"
#include "open_job/setup_line.h"
#include "open_job/taking.h"
#include "screens/sheet/bench_table.h"
#include "screens/sheet/sheet_dialog.h"

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
        EXPECT_THAT(dialog->findChild<QLabel*>(QStringLiteral("sheetWay"))->text().toStdString(),
                    testing::HasSubstr("battery plus › K1 › F3 › A3"));
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

}  // namespace
}  // namespace ilvek::app
