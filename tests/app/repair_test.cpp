// From the found fault to the closed job, in the real window: mended, read again with the leads that are placed by one
// key, what is owed made good, the end with its reasons.
#include <gmock/gmock.h>

#include <QComboBox>
#include <QFile>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>
#include <QTextBrowser>

#include "app/window.h"
#include "bench_map/pin_sheet.h"
#include "bench_map/sheet_map.h"
#include "open_job/setup_line.h"
#include "screens/report/report_screen.h"
#include "support/maps.h"

namespace ilvek::app {
namespace {

using testing::HasSubstr;

class RepairScreen : public testing::Test {
protected:
    void SetUp() override
    {
        ASSERT_TRUE(window->startJob(test_map().document, QStringLiteral("mended")));
        take("battery plus > battery minus; key on", "25.0 V");
        take("1 > 7; key on; apart C1", "24.98 V");
        take("1 > 7; key on; apart C1; load 55 W lamp", "5.1 V");
        window.key(Qt::Key_F12);
        ASSERT_EQ(window->screen(), MainWindow::Screen::Repair);
    }
    static const Map& test_map() { return ilvek::test::storyMap("milking-arm"); }
    void take(const char* line, const char* figure)
    {
        const auto setUp = parseSetUp(window->liveJob()->map(), line, "key-on");
        ASSERT_TRUE(setUp);
        window->liveJob()->placeLeads(*setUp);
        ASSERT_TRUE(window->liveJob()->take(QLatin1String(figure)));
    }
    void type(const char* field, const char* words)
    {
        auto* edit = window.find<QLineEdit>(field);
        edit->setFocus();
        edit->setText(QLatin1String(words));
        QTest::keyClick(edit, Qt::Key_Return);
    }
    void mend()
    {
        window.find<QComboBox>("mendedPart")->setEditText(QStringLiteral("wire 7.a to G2.ring"));
        type("mended", "strand crimped anew");
    }
    std::string cell(int row, int column)
    {
        const auto* item = window.find<QTableWidget>("repeatedTests")->item(row, column);
        return item ? item->text().toStdString() : "";
    }
    std::string open() { return window.text("openBeforeClosing").toStdString(); }

    test::Window window;
};

TEST_F(RepairScreen, OneKeyPlacesTheLeadsOfWhatFailed)
{
    mend();
    ASSERT_EQ(window.find<QTableWidget>("repeatedTests")->rowCount(), 1);
    EXPECT_THAT(cell(0, 0), HasSubstr("supply under load"));
    EXPECT_EQ(cell(0, 1), "5.1 V");
    EXPECT_THAT(cell(0, 3), HasSubstr("not read again"));
    window->centralWidget()->setFocus();
    window.key(Qt::Key_1);
    ASSERT_EQ(window->screen(), MainWindow::Screen::Prove);
    ASSERT_TRUE(window->liveJob()->placed());
    EXPECT_EQ(window->liveJob()->placed()->load, "lamp-55w");
    take("battery plus > battery minus; key on", "25.0 V");
    take("1 > 7; key on; apart C1", "24.95 V");
    take("1 > 7; key on; apart C1; load 55 W lamp", "24.3 V");
    window.key(Qt::Key_F12);
    EXPECT_EQ(cell(0, 2), "24.3 V");
    EXPECT_THAT(cell(0, 3), HasSubstr("in order"));
    EXPECT_THAT(open(), testing::Not(HasSubstr("not read again")));
    EXPECT_THAT(open(), HasSubstr("What lies behind"));
}

TEST_F(RepairScreen, AJobIsNotClosedWithoutAWordForWhatIsOwed)
{
    mend();
    type("debt", "loom cover off");
    EXPECT_THAT(open(), HasSubstr("loom cover off"));
    auto* close = window.find<QPushButton>("closeJob");
    close->click();
    EXPECT_FALSE(window->liveJob()->job().closed);
    EXPECT_THAT(window.text("message").toStdString(), HasSubstr("a word is needed"));
    window.find<QComboBox>("endVerdict")->setCurrentIndex(1);
    window.find<QLineEdit>("endReasons")->setText(QStringLiteral("it must be"));
    close->click();
    EXPECT_FALSE(window->liveJob()->job().closed) << "the gate does not call the module bad";
    window.find<QComboBox>("endVerdict")->setCurrentIndex(0);
    window.find<QLineEdit>("endReasons")->setText(QStringLiteral("goes to the next shift"));
    close->click();
    ASSERT_TRUE(window->liveJob()->job().closed);
    EXPECT_EQ(window->liveJob()->job().closed->how.left.size(), 3U);
    EXPECT_THAT(window.text("jobEnded").toStdString(), HasSubstr("goes to the next shift"));
    // What is read afterwards opens it again.
    take("battery plus > battery minus; key on", "25.0 V");
    EXPECT_FALSE(window->liveJob()->job().closed);
}

TEST_F(RepairScreen, APartThatIsNoneIsRefusedAndNothingIsLost)
{
    window.find<QComboBox>("mendedPart")->setEditText(QStringLiteral("the thing"));
    type("mended", "bent back");
    EXPECT_TRUE(window->liveJob()->job().repairs.empty());
    EXPECT_EQ(window.find<QLineEdit>("mended")->text(), QStringLiteral("bent back"));
}

// One screen, three readers; what is written is what is shown.
TEST_F(RepairScreen, TheReportIsForWhoReadsIt)
{
    mend();
    window.key(Qt::Key_F5);
    auto* preview = window.find<QTextBrowser>("reportPreview");
    auto* reader = window.find<QComboBox>("reportFor");
    ASSERT_TRUE(QTest::qWaitFor([&] { return preview->toPlainText().contains(QStringLiteral("May the")); }, 5000));
    reader->setCurrentIndex(1);
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return preview->toPlainText().contains(QStringLiteral("What was wrong")); }, 5000));
    EXPECT_FALSE(preview->toPlainText().contains(QStringLiteral("May the")));
    ASSERT_TRUE(window->report()->writePdf(window.path(QStringLiteral("customer.pdf"))));
    ASSERT_TRUE(window->report()->writeHtml(window.path(QStringLiteral("customer.html"))));
    QFile html(window.path(QStringLiteral("customer.html")));
    ASSERT_TRUE(html.open(QIODevice::ReadOnly));
    EXPECT_TRUE(html.readAll().contains("strand crimped anew"));
    reader->setCurrentIndex(2);
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return preview->toPlainText().contains(QStringLiteral("Test schedule")); }, 5000));
}

}  // namespace
}  // namespace ilvek::app
