// The window and the files of its jobs: any file opened, moved files, places that cannot be written to, clocks set
// back.
#include <gmock/gmock.h>
#include <sys/stat.h>

#include <QComboBox>
#include <QFile>
#include <QListWidget>
#include <QPushButton>
#include <QSignalSpy>
#include <random>

#include "app/window.h"
#include "base/file.h"
#include "job/hand_over.h"
#include "screens/report/report_screen.h"
#include "screens/traces/traces_screen.h"
#include "support/random_entries.h"
#include "theme.h"

namespace ilvek::app {
namespace {

using test::Window;

std::string s(const QString& text)
{
    return text.toStdString();
}

TEST(JobFiles, AFileThatIsDeletedIsSaidAndTheJobIsSavedElsewhere)
{
    Window window;
    ASSERT_TRUE(window->openDemo());
    const auto before = window->liveJob()->journal().events().size();
    ASSERT_TRUE(QFile::remove(window.path(QStringLiteral("demonstration.ilvek"))));
    window.figure("12.51");
    EXPECT_EQ(window->liveJob()->journal().events().size(), before);
    EXPECT_EQ(s(window->prove()->dock()->typedText()), "12.51") << "what was typed stays";
    EXPECT_TRUE(window.find<QWidget>("noticeBar")->isVisible());
    EXPECT_THAT(s(window.text("notice")), testing::HasSubstr("deleted"));
    EXPECT_TRUE(window.find<QPushButton>("saveElsewhere")->isVisible());
    ASSERT_TRUE(window->saveElsewhere(window.path(QStringLiteral("other.ilvek"))));
    EXPECT_EQ(window->liveJob()->journal().events().size(), before);
    EXPECT_FALSE(window.find<QWidget>("noticeBar")->isVisible());
    window.figure("12.51");
    EXPECT_EQ(window->liveJob()->journal().events().size(), before + 1);
}

TEST(JobFiles, ADamagedJobIsShownAndSaidAndGoesOnElsewhere)
{
    Window window;
    ASSERT_TRUE(window->openDemo());
    const auto before = window->liveJob()->journal().events().size();
    window.close();
    const auto path = window.path(QStringLiteral("demonstration.ilvek")).toStdString();
    const std::string whole = *readFile(path);
    ASSERT_TRUE(writeFile(path, whole.substr(0, whole.size() - 4096)));
    window.open();
    ASSERT_TRUE(window->openJob(QString::fromStdString(path)));
    EXPECT_GE(window->liveJob()->journal().events().size(), before / 2);
    EXPECT_THAT(s(window.text("notice")), testing::HasSubstr("damaged"));
    window.figure("12.51");
    EXPECT_TRUE(window->prove()->dock()->isTyping()) << "nothing is entered into a damaged file";
    ASSERT_TRUE(window->saveElsewhere(window.path(QStringLiteral("mended.ilvek"))));
    window.figure("12.52");
    EXPECT_FALSE(window->prove()->dock()->isTyping());
}

TEST(JobFiles, EntriesThatCannotBeReadAreNamedOnScreenAndInTheReport)
{
    Window window;
    ASSERT_TRUE(window->openDemo());
    JobContent content = window->liveJob()->journal().content();
    content.setAside.push_back({900, "yesterday", "reading", "{", "Its time cannot be read."});
    ASSERT_TRUE(Journal::create(window.path(QStringLiteral("b.ilvek")).toStdString(), content));
    ASSERT_TRUE(window->openJob(window.path(QStringLiteral("b.ilvek"))));
    EXPECT_THAT(s(window.text("notice")), testing::HasSubstr("Entry 900 cannot be read"));
    EXPECT_THAT(s(window.find<QListWidget>("journal")->item(0)->text()), testing::HasSubstr("Entry 900"));
    ASSERT_TRUE(window->report()->writeHtml(window.path(QStringLiteral("r.html"))));
    EXPECT_THAT(*readFile(window.path(QStringLiteral("r.html")).toStdString()),
                testing::HasSubstr("Entry 900 cannot be read"));
}

TEST(JobFiles, AClockSetBackHarmsNothing)
{
    Window window;
    ASSERT_TRUE(window->openDemo());
    std::int64_t now = window->liveJob()->now();
    window->liveJob()->setClock([&now] { return now; });
    window->liveJob()->demand(TestKind::Battery);
    window.figure("12.51");
    for (const std::int64_t step : {1LL, 3'600'000LL, 400LL * 86'400'000LL}) {
        now -= step;
        window.pick("J2-1");
        window.figure("12.50");
        ASSERT_FALSE(window->prove()->dock()->isTyping()) << step;
        EXPECT_FALSE(window->liveJob()->lastReading()->batteryAge_s) << "not known";
    }
    const auto count = window->liveJob()->journal().events().size();
    window.close();
    window.open();
    ASSERT_TRUE(window->openDemo());
    EXPECT_EQ(window->liveJob()->journal().events().size(), count);
    EXPECT_TRUE(window->liveJob()->journal().content().setAside.empty());
}

TEST(JobFiles, TheClockOfAnOpenJobOnlyGoesForward)
{
    Window window;
    ASSERT_TRUE(window->openDemo());
    std::int64_t last = window->liveJob()->now();
    for (int n = 0; n < 1000; ++n) {
        const auto now = window->liveJob()->now();
        ASSERT_GE(now, last);
        last = now;
    }
}

// The window's own path: whatever is typed, what it shows as taken is there tomorrow.
TEST(JobFiles, WhateverIsTypedAndShownAsTakenIsThereTomorrow)
{
    std::mt19937 random(7);
    int taken = 0, tried = 0;
    for (int job = 0; job < 40; ++job) {
        Window window;
        ASSERT_TRUE(window->openDemo());
        std::int64_t now = window->liveJob()->now();
        window->liveJob()->setClock([&] { return now += static_cast<std::int64_t>(random() % 20000) - 5000; });
        std::vector<std::string> shown;
        for (int n = 0; n < 60; ++n) {
            ++tried;
            const auto before = window->liveJob()->journal().events().size();
            const auto terminals = window->liveJob()->map().moduleTerminals();
            bool done = false;
            if (random() % 3 == 0) {
                done = window->liveJob()->enter(ilvek::test::randomEntry(random, &window->liveJob()->map()));
            } else {
                if (random() % 2 == 0) window->liveJob()->choose(terminals[random() % terminals.size()]);
                if (random() % 2 == 0) window->liveJob()->demand(static_cast<TestKind>(random() % 14));
                done = window->liveJob()->take(QString::fromStdString(ilvek::test::randomTyping(random)));
            }
            const auto& events = window->liveJob()->journal().events();
            EXPECT_EQ(done, events.size() > before);
            for (std::size_t i = before; i < events.size(); ++i)
                shown.push_back(std::string(eventKind(events[i].body)) + writeBody(events[i].body));
            taken += done ? 1 : 0;
        }
        const auto path = window->liveJob()->journal().path();
        window.close();
        const auto journal = Journal::open(path);
        ASSERT_TRUE(journal) << journal.error().message();
        EXPECT_TRUE(journal->content().setAside.empty());
        const auto& events = journal->events();
        ASSERT_GE(events.size(), shown.size());
        const auto json = window.path(QStringLiteral("handed-over.json")).toStdString();
        ASSERT_TRUE(exportJob(*journal, json));
        const auto imported = importJob(json, window.path(QStringLiteral("taken-back.ilvek")).toStdString());
        ASSERT_TRUE(imported) << imported.error().front().message();
        for (const auto* there : {&events, &imported->events()}) {
            ASSERT_EQ(there->size(), events.size());
            const std::size_t first = there->size() - shown.size();
            for (std::size_t i = 0; i < shown.size(); ++i) {
                const EventBody& body = (*there)[first + i].body;
                ASSERT_EQ(std::string(eventKind(body)) + writeBody(body), shown[i]);
            }
        }
    }
    EXPECT_GT(taken, tried / 4);
}

TEST(JobFiles, AnyFileIsOpenedByWhatIsInIt)
{
    Window window;
    ASSERT_TRUE(window->openFile(QStringLiteral(ILVEK_SOURCE_DIR "/data/maps/pt-9.json")));
    EXPECT_EQ(window->screen(), MainWindow::Screen::Job);
    const auto job = QString::fromStdString(window->liveJob()->journal().path().string());
    ASSERT_TRUE(window->openFile(QStringLiteral(ILVEK_SOURCE_DIR "/data/demo/reduced-power.json")));
    EXPECT_GT(window->liveJob()->journal().events().size(), 3U);
    ASSERT_TRUE(window->openFile(job));
    EXPECT_EQ(window->liveJob()->journal().events().size(), 0U);
    EXPECT_FALSE(window->openFile(window.path(QStringLiteral("none"))));
}

TEST(JobFiles, ARecordingIsOpenedWithoutAJob)
{
    Window window;
    QSignalSpy ready(window->traces()->model(), &TraceModel::ready);
    ASSERT_TRUE(window->openFile(QStringLiteral(ILVEK_SOURCE_DIR "/data/traces/tiller-down.csv")));
    EXPECT_EQ(window->screen(), MainWindow::Screen::Traces);
    ASSERT_TRUE(ready.wait(30000));
    EXPECT_TRUE(window->traces()->model()->view()->study);
    EXPECT_EQ(window.find<QComboBox>("tracePart")->count(), 2) << "nothing, or a kept recording";
}

TEST(JobFiles, ANoticeCanBeReadInBothThemes)
{
    Window window;
    ASSERT_TRUE(window->openDemo());
    ASSERT_TRUE(QFile::remove(window.path(QStringLiteral("demonstration.ilvek"))));
    window.figure("12.51");
    const auto* notice = window.find<QLabel>("notice");
    for (const bool night : {true, false}) {
        window->setNight(night);
        EXPECT_GE(contrast(notice->palette().color(QPalette::WindowText), Theme::current().paper), 6.99) << night;
    }
}

TEST(JobFiles, AReportThatCannotBeWrittenIsSaidInRedAndStays)
{
    Window window;
    ASSERT_TRUE(window->openDemo());
    window->show(MainWindow::Screen::Report);
    QSignalSpy said(window->report(), &ReportScreen::said);
    const QString path = QStringLiteral("/proc/none/report.pdf");
    window->report()->writeBehind(path,
                                  [&]() -> Result<void> { return fail(path.toStdString(), "cannot be written"); });
    while (said.size() < 2)
        ASSERT_TRUE(said.wait(20000));
    EXPECT_TRUE(said.last().at(1).toBool()) << "bad";
    EXPECT_THAT(s(window.text("message")), testing::HasSubstr("cannot be written"));
    EXPECT_FALSE(window->report()->writePdf(QString::fromStdString(window->liveJob()->journal().path().string())))
        << "never over the job itself";
}

TEST(JobFiles, TheReportIsMadeInPagesBehindTheWindow)
{
    Window window;
    ASSERT_TRUE(window->openDemo());
    QSignalSpy built(window->report(), &ReportScreen::built);
    EXPECT_EQ(window->report()->pages(), 0U) << "only when it is shown";
    window->show(MainWindow::Screen::Report);
    ASSERT_TRUE(built.wait(20000));
    EXPECT_GE(window->report()->pages(), 3U);
    EXPECT_EQ(s(window.text("pageShown")), "Page 1 of 3");
    window.find<QPushButton>("pageNext")->click();
    EXPECT_EQ(s(window.text("pageShown")), "Page 2 of 3");
}

// A word of a million letters: the report is written all the same.
TEST(JobFiles, ANoteWithoutBlanksDoesNotStopThePdf)
{
    Window window;
    ASSERT_TRUE(window->openDemo());
    ASSERT_TRUE(window->liveJob()->enter(Note{std::string(1'000'000, 'x')}));
    const QString path = window.path(QStringLiteral("r.pdf"));
    ASSERT_TRUE(window->report()->writePdf(path));
    EXPECT_GT(QFile(path).size(), 10'000);
}

}  // namespace
}  // namespace ilvek::app
