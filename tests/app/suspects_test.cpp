// The Suspects screen in the real window: it answers behind the typing, and its first test is one key away.
#include "screens/suspects/suspects_screen.h"

#include <gtest/gtest.h>

#include <QSignalSpy>
#include <QTableWidget>
#include <algorithm>

#include "app/window.h"

namespace ilvek::app {
namespace {

// The reasoning runs in a thread of its own; a loaded machine may take its time.
constexpr int patience_ms = 60'000;

TEST(SuspectsScreen, NamesTheLikeliestAndOffersThreeTests)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    QSignalSpy answered(window->liveJob(), &LiveJob::reasoned);
    EXPECT_EQ(window->liveJob()->reasoning(), nullptr);
    // Typing is taken while it thinks.
    window->liveJob()->demand(TestKind::Battery);
    window.figure("12.50");
    EXPECT_EQ(window->liveJob()->lastReading()->test, TestKind::Battery);
    ASSERT_TRUE(answered.wait(patience_ms));
    while (window->liveJob()->reasoning()->steps.size() < 3)
        ASSERT_TRUE(answered.wait(patience_ms));
    window.key(Qt::Key_F4);
    ASSERT_EQ(window->screen(), MainWindow::Screen::Suspects);
    const auto* first = window.find<SuspectRow>("suspect-0");
    ASSERT_TRUE(first);
    EXPECT_TRUE(first->isVisible());
    EXPECT_TRUE(first->accessibleName().contains(QLatin1Char('%')));
    EXPECT_EQ(window.find<QTableWidget>("suspectReadings")->columnCount(), 4);
    // All that no test tells from the chosen one is named with it.
    for (std::size_t g = 0; g < 4; ++g) {
        const auto& groups = window->liveJob()->reasoning()->groups;
        ASSERT_LT(g, groups.size());
        EXPECT_EQ(window.text("suspectMembers").startsWith(QStringLiteral("Not told apart")),
                  groups[g].members.size() > 1)
            << groups[g].words;
        window.key(Qt::Key_Down);
    }
    const std::string title = window->liveJob()->reasoning()->steps[1].title;
    window.key(Qt::Key_2);
    EXPECT_EQ(window->screen(), MainWindow::Screen::Prove);
    ASSERT_TRUE(window->liveJob()->step());
    EXPECT_EQ(window->liveJob()->step()->title, title);
    // N goes back to the plan.
    window.key(Qt::Key_N);
    EXPECT_NE(window->liveJob()->step()->title, title);
    window.key(Qt::Key_T);
    EXPECT_EQ(window->liveJob()->step()->title, window->liveJob()->reasoning()->steps[0].title);
}

TEST(SuspectsScreen, DoesNotAskForWhatIsStillBeingWeighed)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    LiveJob* job = window->liveJob();
    QSignalSpy answered(job, &LiveJob::reasoned), refused(job, &LiveJob::refused);
    const auto isCounted = [&] { return job->reasoning()->readings == job->assessment().evidence.readings.size(); };
    ASSERT_TRUE(answered.wait(patience_ms));
    while (job->reasoning()->steps.empty() || !isCounted())
        ASSERT_TRUE(answered.wait(patience_ms));
    ASSERT_TRUE(job->takeSuggestion(0));
    const Step first = *job->step();
    // No event loop between: nothing can have been weighed.
    ASSERT_TRUE(job->enter(readingOf(first, job->map(), volts(1.0), {}, 0)));
    EXPECT_FALSE(job->takeSuggestion(0));
    ASSERT_EQ(refused.size(), 1);
    EXPECT_TRUE(refused.front().front().toString().contains(QStringLiteral("still being weighed")));
    while (!isCounted())
        ASSERT_TRUE(answered.wait(patience_ms));
    EXPECT_TRUE(job->reasoning()->steps.empty() || job->takeSuggestion(0));
}

TEST(SuspectsScreen, TakesTheReadingThatWouldExcludeTheChosenOne)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    QSignalSpy answered(window->liveJob(), &LiveJob::reasoned);
    ASSERT_TRUE(answered.wait(patience_ms));
    window.key(Qt::Key_F4);
    const auto excluded = [&]() -> int {
        const auto& all = window->liveJob()->reasoning()->exclusions;
        // Of those that the list shows.
        const auto shown = all.begin() + static_cast<std::ptrdiff_t>(std::min<std::size_t>(all.size(), 4));
        const auto at = std::find_if(all.begin(), shown, [](const auto& e) { return e.has_value(); });
        return at == shown ? -1 : static_cast<int>(at - all.begin());
    };
    while (excluded() < 0)
        ASSERT_TRUE(answered.wait(patience_ms));
    for (int down = 0; down < excluded(); ++down)
        window.key(Qt::Key_Down);
    const Exclusion& e = *window->liveJob()->reasoning()->exclusions[static_cast<std::size_t>(excluded())];
    EXPECT_TRUE(window.text("suspectExclusion").contains(QStringLiteral("Excluded if")));
    const std::string title = e.step.title;
    window.key(Qt::Key_X);
    EXPECT_EQ(window->screen(), MainWindow::Screen::Prove);
    ASSERT_TRUE(window->liveJob()->step());
    EXPECT_EQ(window->liveJob()->step()->title, title);
}

TEST(SuspectsScreen, AWindowThatClosesDoesNotWaitForTheThinking)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    QSignalSpy answered(window->liveJob(), &LiveJob::reasoned);
    ASSERT_TRUE(answered.wait(patience_ms));
    window.close();
    window.open();
    EXPECT_EQ(window->screen(), MainWindow::Screen::Start);
}

TEST(Job, LeavingTheScreenKeepsTheFunctionsThatFail)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    const Complaint before = window->liveJob()->job().complaint;
    ASSERT_FALSE(before.fails.empty());
    const auto entries = window->liveJob()->journal().events().size();
    window.key(Qt::Key_F2);
    window.key(Qt::Key_F3);
    EXPECT_EQ(window->liveJob()->job().complaint, before);
    EXPECT_EQ(window->liveJob()->journal().events().size(), entries) << "nothing was changed, nothing is entered";
}

}  // namespace
}  // namespace ilvek::app
