// A whole job in the real window: functions ticked, the code asked about, the test taken, the fault found, what lies
// behind it, the way decided, mended, proven and closed; and what the next job has of it.
#include <gmock/gmock.h>

#include <QAction>
#include <QComboBox>
#include <QFile>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>
#include <QTreeWidget>

#include "app/window.h"
#include "models/shop_link.h"
#include "open_job/setup_line.h"
#include "papers/told.h"
#include "screens/repair/repair_screen.h"
#include "support/maps.h"

namespace ilvek::app {
namespace {

using testing::HasSubstr;

class WholeJob : public testing::Test {
protected:
    void take(const char* line, const char* figure)
    {
        const auto setUp = parseSetUp(window->liveJob()->map(), line, "key-on");
        ASSERT_TRUE(setUp) << line;
        window->liveJob()->placeLeads(*setUp);
        ASSERT_TRUE(window->liveJob()->take(QLatin1String(figure))) << line;
    }
    void type(const char* field, const QString& words)
    {
        auto* edit = window.find<QLineEdit>(field);
        edit->setFocus();
        edit->setText(words);
        QTest::keyClick(edit, Qt::Key_Return);
    }
    const Job& job() { return window->liveJob()->job(); }
    QTreeWidget* functions() { return window.find<QTreeWidget>("toldFunctions"); }
    void chooseFunction(const QString& name)
    {
        for (int i = 0; i < functions()->topLevelItemCount(); ++i) {
            if (functions()->topLevelItem(i)->text(0) == name)
                return functions()->setCurrentItem(functions()->topLevelItem(i));
        }
        ADD_FAILURE() << name.toStdString() << " is not listed";
    }
    void tickFunctions()
    {
        window.key(Qt::Key_F2, Qt::ShiftModifier);
        ASSERT_EQ(window->screen(), MainWindow::Screen::Papers);
        window->centralWidget()->setFocus();
        chooseFunction(QStringLiteral("left lamps"));
        window.key(Qt::Key_F);
        chooseFunction(QStringLiteral("right lamps"));
        window.key(Qt::Key_W);
    }

    test::Window window;
};

TEST_F(WholeJob, FromTickingFunctionsToTheClosedJob)
{
    const Map& map = ilvek::test::storyMap("sweeper-lamps");
    ASSERT_TRUE(window->startJob(map.document, QStringLiteral("lamps")));
    window->liveJob()->enter(JobDetails{"Half of the lamps", "", "SW-1", "", "bench 2"});
    tickFunctions();
    EXPECT_THAT(job().complaint.fails, testing::ElementsAre("left lamps"));
    EXPECT_THAT(job().complaint.stillWorks, testing::ElementsAre("right lamps"));
    auto* shared = window.find<QWidget>("sharedPaths");
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return shared->accessibleDescription().contains(QStringLiteral("fuse F2")); }, 60000));
    EXPECT_THAT(shared->accessibleDescription().toStdString(), HasSubstr("explains 1 of 1, nothing against it"));

    // Found, by what was read.
    window->liveJob()->enter(CodesRead{{{"C14", "second battery feed open", ""}}});
    take("battery plus > battery minus; key on", "25.3 V");
    take("1 > battery minus; key on; apart C1", "25.28 V");
    take("1 > battery minus; key on; apart C1; load 55 W lamp", "24.98 V");
    take("2 > battery minus; key on; apart C1", "25.28 V");
    take("2 > battery minus; key on; apart C1; load 55 W lamp", "0.62 V");
    take("F2 in > battery minus; key on; apart C1; load 55 W lamp at F2 in > battery minus", "25.24 V");
    take("F2 out > battery minus; key on; apart C1; load 55 W lamp at F2 out > battery minus", "25.21 V");
    take("X1-3 source side > battery minus; key on; apart C1; load 55 W lamp at X1-3 source side > battery minus",
         "0.64 V");
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
            return window->liveJob()->reasoning() &&
                   window->liveJob()->reasoning()->conclusion.kind == Conclusion::Kind::Outside;
        },
        60000));

    // What lies behind it is asked before anything is mended; the way is decided.
    window.key(Qt::Key_F12);
    window->centralWidget()->setFocus();
    window.key(Qt::Key_Right);
    auto* asked = window.find<QTreeWidget>("behindQuestions");
    ASSERT_GT(asked->topLevelItemCount(), 0);
    EXPECT_THAT(asked->topLevelItem(0)->text(0).toStdString(), HasSubstr("What rubs"));
    type("behindAnswer", QStringLiteral("the clip at the box was gone"));
    EXPECT_THAT(asked->topLevelItem(0)->text(1).toStdString(), HasSubstr("the clip at the box"));
    window->centralWidget()->setFocus();
    window.key(Qt::Key_Right);
    auto* ways = window.find<QTableWidget>("ways");
    const char* const rows[2][6] = {{"new strand", "wire F2.out to X1-3.a", "1.5", "12", "0", "10"},
                                    {"new fuse box", "wire F2.out to X1-3.a, F1, F2", "3", "420", "48", "2"}};
    window.find<QLineEdit>("waysHour")->setText(QStringLiteral("85"));
    for (int r = 0; r < 2; ++r) {
        for (int c = 1; c < 6; ++c)
            ways->item(r, c + 2)->setText(QLatin1String(rows[r][c]));
        ways->item(r, 0)->setText(QLatin1String(rows[r][0]));
    }
    ASSERT_EQ(job().choices.choices.size(), 2U);
    EXPECT_THAT(ways->item(0, 1)->text().toStdString(), HasSubstr("✓"));
    ways->setCurrentCell(0, 0);
    type("waysReasons", QStringLiteral("the box comes in autumn"));
    ASSERT_TRUE(job().decided);
    EXPECT_EQ(job().decided->choice, "new strand");
    EXPECT_THAT(job().decided->table, HasSubstr("new fuse box"));

    // Mended, read again, worked, closed.
    window->centralWidget()->setFocus();
    window.key(Qt::Key_Left);
    window.key(Qt::Key_Left);
    window.find<QComboBox>("mendedPart")->setEditText(QStringLiteral("wire F2.out to X1-3.a"));
    type("mended", QStringLiteral("new strand"));
    take("battery plus > battery minus; key on", "25.3 V");
    take("2 > battery minus; key on; apart C1", "25.28 V");
    take("2 > battery minus; key on; apart C1; load 55 W lamp", "24.97 V");
    window.key(Qt::Key_F12);
    EXPECT_TRUE(window.find<QWidget>("staircase")->isVisible());
    window.find<QLineEdit>("workTest")->setText(QStringLiteral("an hour at night"));
    type("workValues", QStringLiteral("24.8 V"));
    ASSERT_EQ(job().workTests.size(), 1U);
    window.find<QPushButton>("codesAway")->click();
    take("X1-3 source side > battery minus; key on; apart C1; load 55 W lamp at X1-3 source side > battery minus",
         "25.10 V");
    window->liveJob()->enter([&] {
        FunctionsSeen seen;
        seen.state = "key-on";
        for (const Function& f : job().map.functions) {
            if (f.name == "left lamps") seen.works.push_back(f.id);
        }
        return seen;
    }());
    type("endReasons", QStringLiteral("the wire of the second feed"));
    ASSERT_TRUE(job().closed);
    EXPECT_TRUE(job().closed->how.left.empty()) << job().closed->how.left.front();

    // What it teaches: the next job on such a machine has the own case, and what was good stands beside the map.
    window.find<QPushButton>("keepGood")->click();
    ASSERT_TRUE(window->startJob(map.document, QStringLiteral("the next")));
    EXPECT_EQ(job().ownCases.jobs, 1);
    const ilvek::SetUp at = *parseSetUp(map, "2 > battery minus; key on; apart C1; load 55 W lamp", "key-on");
    window->liveJob()->placeLeads(at);
    EXPECT_THAT(window->liveJob()->knownGoodWords().toStdString(), HasSubstr("24.97"));
}

TEST_F(WholeJob, TypedFunctionsCodesAndWhatIsAbsent)
{
    ASSERT_TRUE(window->startJob(ilvek::test::hauler().document, QStringLiteral("typed")));
    window->liveJob()->enter(CodesRead{{{"X-77", "sensor low", ""}}});
    window.key(Qt::Key_F2, Qt::ShiftModifier);
    window.find<QLineEdit>("newFunction")->setText(QStringLiteral("the siren sounds"));
    window.find<QPushButton>("addFunction")->click();
    EXPECT_THAT(window.text("message").toStdString(), HasSubstr("needs at least one terminal"));
    EXPECT_EQ(window.find<QLineEdit>("newFunction")->text(), QStringLiteral("the siren sounds"));
    const auto actions = window.find<QPushButton>("needs")->menu()->actions();
    ASSERT_FALSE(actions.isEmpty());
    actions.front()->setChecked(true);
    window.find<QPushButton>("addFunction")->click();
    ASSERT_EQ(functions()->currentItem()->text(0), QStringLiteral("the siren sounds"));
    window->centralWidget()->setFocus();
    window.key(Qt::Key_G);
    EXPECT_THAT(job().complaint.comesAndGoes, testing::ElementsAre("the siren sounds"));
    EXPECT_THAT(window.text("notWeighed").toStdString(), HasSubstr("comes and goes"));

    auto* code = window.find<QComboBox>("unknownCode");
    ASSERT_TRUE(QTest::qWaitFor([&] { return code->count() == 1; }, 60000));
    window.find<QPushButton>("keepCode")->click();
    EXPECT_THAT(notWeighed(job()), testing::Not(testing::Contains(HasSubstr("X-77"))));

    auto* today = window.find<QComboBox>("today");
    today->setCurrentIndex(2);
    emit today->activated(2);
    EXPECT_EQ(job().complaint.today, Complaint::Today::Absent);
    EXPECT_EQ(window->screen(), MainWindow::Screen::Procedures);
}

// Before another module goes in its loads are measured: one key places the leads, the reading answers the question.
TEST_F(WholeJob, TheLoadsOfADeadModuleAreMeasuredByOneKey)
{
    const Map& map = ilvek::test::storyMap("sprayer-heater");
    ASSERT_TRUE(window->startJob(map.document, QStringLiteral("module")));
    window.key(Qt::Key_F12);
    window.find<QComboBox>("mendedPart")->setEditText(QStringLiteral("module"));
    type("mended", QStringLiteral("exchanged"));
    ASSERT_EQ(job().repairs.size(), 1U);
    window->centralWidget()->setFocus();
    window.key(Qt::Key_Right);
    auto* asked = window.find<QTreeWidget>("behindQuestions");
    ASSERT_GT(asked->topLevelItemCount(), 3);
    EXPECT_THAT(asked->topLevelItem(0)->text(0).toStdString(), HasSubstr("Ohms of what hangs on 6"));
    asked->setCurrentItem(asked->topLevelItem(0));
    window.key(Qt::Key_L);
    ASSERT_EQ(window->screen(), MainWindow::Screen::Prove);
    ASSERT_TRUE(window->liveJob()->placed());
    EXPECT_EQ(window->liveJob()->placed()->unplugged.size(), 1U);
    ASSERT_TRUE(window->liveJob()->take(QStringLiteral("1.2 ohm")));
    window.key(Qt::Key_F12);
    EXPECT_THAT(asked->topLevelItem(0)->text(1).toStdString(), HasSubstr("1.2"));
    EXPECT_THAT(asked->topLevelItem(0)->text(1).toStdString(), HasSubstr("in order"));
}

// Offline first: a server that is not there changes nothing, and says so; a password is not kept.
TEST_F(WholeJob, AShopThatIsNotReachableKeepsNobodyFromWorking)
{
    ShopLink link(window.path(QStringLiteral("place.json")), nullptr);
    EXPECT_FALSE(link.setPlace({QStringLiteral("host=shop password=x"), QStringLiteral("bench 1")}));
    EXPECT_FALSE(QFile::exists(window.path(QStringLiteral("place.json"))));
    ASSERT_TRUE(link.setPlace({QStringLiteral("host=127.0.0.1 port=1 connect_timeout=2"), QStringLiteral("bench 1")}));
    JobContent content;
    content.mapDocument = ilvek::test::smallMap().document;
    content.events = {{1, 1000, Note{"a"}}};
    link.want(content, QStringLiteral("a job"), QStringLiteral("open"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return link.state().contains(QStringLiteral("not reachable")); }, 120'000));
    EXPECT_FALSE(link.isRefused());
    EXPECT_EQ(ShopLink(window.path(QStringLiteral("place.json")), nullptr).place().bench, QStringLiteral("bench 1"));
}

TEST_F(WholeJob, APhotoIsKeptInTheJobAndStandsOnTheReport)
{
    ASSERT_TRUE(window->startJob(ilvek::test::hauler().document, QStringLiteral("photo")));
    QImage image(3000, 1000, QImage::Format_RGB32);
    image.fill(Qt::darkGreen);
    const QString path = window.path(QStringLiteral("plug.png"));
    ASSERT_TRUE(image.save(path));
    window->repair()->keepPhoto(path);
    ASSERT_EQ(job().photos.size(), 1U);
    EXPECT_EQ(job().photos.front().words, "plug");
    const auto& photo = std::get<Photo>(window->liveJob()->journal().events().back().body);
    const QImage kept = QImage::fromData(QByteArray::fromBase64(QByteArray::fromStdString(photo.base64)));
    EXPECT_EQ(kept.width(), 1600);
    window->repair()->keepPhoto(window.path(QStringLiteral("none.png")));
    EXPECT_EQ(job().photos.size(), 1U);
}

}  // namespace
}  // namespace ilvek::app
