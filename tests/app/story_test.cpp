// The whole story of the first slice in the real window: from the open demonstration to the located fault, the gate's
// sentence and the report, by keys and mouse.
#include <gmock/gmock.h>

#include <QFile>
#include <QPushButton>
#include <QStackedWidget>

#include "app/window.h"
#include "screens/report/report_screen.h"

namespace ilvek::app {
namespace {

using test::Window;

std::string s(const QString& text)
{
    return text.toStdString();
}

TEST(Story, FromTheDemonstrationToTheLocatedFault)
{
    Window window;
    QTest::mouseClick(window.find<QPushButton>("openDemo"), Qt::LeftButton);
    ASSERT_EQ(window->screen(), MainWindow::Screen::Prove);

    // They see what is proven, and one thing is clearly next.
    EXPECT_EQ(s(window.text("ledgerCount")), "4 of 52 proven");
    EXPECT_EQ(s(window.text("gateTitle")), "May the DCU-54 be blamed?");
    EXPECT_EQ(s(window.text("gateSentence")), "Not proven. 11 of 11 lines are still open.");
    EXPECT_EQ(s(window.text("stepTitle")), "Next: Read the battery");
    window.figure("12.51");
    EXPECT_EQ(s(window->prove()->dock()->verdict()), "Battery noted");
    EXPECT_EQ(s(window.text("stepTitle")), "Next: Load the return J1-9");

    // They choose the drive supply with the mouse: leads, state, load, expectation and reason are on the card.
    window.pick("J2-1");
    EXPECT_EQ(s(window.text("stepTitle")), "Next: Read J2-1 open-circuit");
    EXPECT_THAT(s(window.text("stepSetUp")), testing::HasSubstr("connector J2 apart"));
    EXPECT_THAT(s(window.text("stepRed")), testing::HasSubstr("J2-1 (violet with white)"));
    EXPECT_THAT(s(window.text("stepBlack")), testing::HasSubstr("battery minus"));
    EXPECT_THAT(s(window.text("stepExpectation")), testing::HasSubstr("(VD-31)"));
    window.figure("12.50");
    EXPECT_EQ(s(window->prove()->dock()->verdict()), "Right, open-circuit");
    EXPECT_THAT(s(window.text("doubts")), testing::HasSubstr("one strand left"));

    // Loaded it collapses; the arithmetic is shown at once.
    EXPECT_EQ(s(window.text("stepTitle")), "Next: Load J2-1");
    EXPECT_THAT(s(window.text("stepCaution")), testing::HasSubstr("never into the module"));
    window.figure("3,336");
    EXPECT_EQ(s(window->prove()->dock()->verdict()), "Fails under load");
    EXPECT_THAT(s(window.text("arithmetic")), testing::HasSubstr("nothing would be left"));
    EXPECT_EQ(s(window.text("gateSentence")), "No. One supply fails before the module.");

    // The ground is swapped, then the segments are walked.
    EXPECT_EQ(s(window.text("stepTitle")), "Next: Swap the ground on J2-1");
    window.figure("3.354V");
    EXPECT_EQ(s(window->prove()->dock()->verdict()), "The feed is bad");
    const std::pair<const char*, const char*> answers[] = {{"F15, source side", "12.47"},  {"F15, far side", "12.46"},
                                                           {"X4-7, source side", "12.44"}, {"X4-7, far side", "3.367"},
                                                           {"K1 terminal 87", "12.47"},    {"K1 terminal 30", "12.48"}};
    int walked = 0;
    while (s(window.text("stepTitle")).starts_with("Next: Walk: ") && ++walked < 8) {
        const std::string place = s(window.text("stepTitle")).substr(12);
        const auto* answer =
            std::find_if(std::begin(answers), std::end(answers), [&](const auto& a) { return a.first == place; });
        ASSERT_NE(answer, std::end(answers)) << place;
        window.figure(QLatin1String(answer->second));
    }
    EXPECT_EQ(s(window->prove()->dock()->verdict()), "The step is found");
    EXPECT_LE(walked, 4);

    // The step stands on the staircase and in the gate.
    EXPECT_EQ(s(window->prove()->strip()->picture().stepWhere), "at X4-7");
    EXPECT_TRUE(window->prove()->strip()->picture().stepIsSingle);
    EXPECT_EQ(s(window.text("gateSentence")), "No. A fault is shown outside the DCU-54.");
    EXPECT_THAT(s(window.text("gateLocated")), testing::HasSubstr("lost at X4-7, from one side to the other"));
    EXPECT_THAT(s(window.text("gateLocated")), testing::HasSubstr("shown directly"));

    // The report is written.
    window.key(Qt::Key_F5);
    const QString pdf = window.path("report.pdf");
    ASSERT_TRUE(window->report()->writePdf(pdf));
    QFile file(pdf);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_TRUE(file.read(5) == "%PDF-");
    EXPECT_GT(file.size(), 20'000);

    // They quit without saving, start again, and everything is there.
    const auto entries = window->liveJob()->journal().events().size();
    window.close();
    window.open();
    QTest::mouseClick(window.find<QPushButton>("openDemo"), Qt::LeftButton);
    EXPECT_EQ(window->liveJob()->journal().events().size(), entries);
    EXPECT_EQ(s(window.text("gateSentence")), "No. A fault is shown outside the DCU-54.");
}

TEST(Story, TheFaultIsMendedAndTheSameTestsAreOwedAgain)
{
    Window window;
    ASSERT_TRUE(window->openDemo());
    window.figure("12.51");
    window.pick("J2-1");
    window.figure("12.50");
    window.figure("3.336");
    EXPECT_EQ(window->liveJob()->proof(window->liveJob()->map().terminalIndex("J2-1")).state, ProofState::FailedLoaded);
    // A pass without a repair is no proof.
    window.key(Qt::Key_L);
    window.figure("12.33");
    EXPECT_EQ(s(window->prove()->dock()->verdict()), "Failed before");
    window.key(Qt::Key_U);
    ASSERT_TRUE(window->liveJob()->enter(Repair{0, {"X4-7"}, "new terminal in X4-7"}));
    EXPECT_EQ(window->liveJob()->proof(window->liveJob()->map().terminalIndex("J2-1")).state, ProofState::Stale);
    window.figure("12.50");
    window.figure("12.33");
    EXPECT_EQ(s(window->prove()->dock()->verdict()), "Proven under load");
}

}  // namespace
}  // namespace ilvek::app
