// Procedures in the real window, by keys: the short on a shared feed to the load that holds it, and one request that
// kills two functions to the wire and the module that is proven good.
#include <gmock/gmock.h>

#include <QApplication>
#include <QFile>
#include <QLineEdit>
#include <QMenu>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTimer>

#include "app/window.h"
#include "bench_map/pin_sheet.h"
#include "bench_map/sheet_map.h"
#include "screens/job/job_screen.h"
#include "screens/procedures/procedures_screen.h"
#include "widgets/tell_dialogs.h"

namespace ilvek::app {
namespace {

using test::Window;
using testing::HasSubstr;

std::string s(const QString& text)
{
    return text.toStdString();
}

class Procedures : public testing::Test {
protected:
    void open(const std::string& sheet, const std::string& module, double volts)
    {
        QFile file(QString::fromStdString(std::string(ILVEK_SOURCE_DIR) + "/data/stories/" + sheet));
        ASSERT_TRUE(file.open(QIODevice::ReadOnly));
        const auto rows = readPinSheet(file.readAll().toStdString(), sheet);
        ASSERT_TRUE(rows);
        NewMachine machine;
        machine.module = module;
        machine.systemVoltage_V = volts;
        const auto map = mapFromSheet(rows->rows, machine);
        ASSERT_TRUE(map);
        ASSERT_TRUE(window->startJob(*map, QStringLiteral("procedures")));
        window->show(MainWindow::Screen::Prove);
    }
    // Found by its name, followed with Enter.
    void follow(const char* name)
    {
        for (int n = 0; n < 5 && window->screen() != MainWindow::Screen::Procedures; ++n) {
            QCoreApplication::processEvents();
            window.key(Qt::Key_F11);
        }
        ASSERT_EQ(window->screen(), MainWindow::Screen::Procedures);
        QTest::keyClicks(window->centralWidget(), QLatin1String(name));
        EXPECT_EQ(s(window.text("procedureTitle")), name);
        window.key(Qt::Key_Return);
        EXPECT_EQ(window->screen(), MainWindow::Screen::Prove);
        ASSERT_TRUE(window->liveJob()->procedure());
    }
    void tell(const char* words)
    {
        bool told = false;
        QTimer::singleShot(50, [&] {
            auto* dialog = qobject_cast<TellDialog*>(QApplication::activeModalWidget());
            ASSERT_NE(dialog, nullptr);
            QTimer::singleShot(5000, dialog, &QDialog::reject);
            auto* edit = dialog->findChild<QLineEdit*>(QStringLiteral("tellAnswer"));
            QTest::keyClicks(edit, QLatin1String(words));
            QTest::keyClick(edit, Qt::Key_Return);
            told = true;
        });
        window.key(Qt::Key_Return);
        EXPECT_TRUE(told);
    }
    const Stage* next() { return window->liveJob()->procedure() ? window->liveJob()->procedure()->next() : nullptr; }
    std::string ending()
    {
        const auto& p = window->liveJob()->procedure();
        return p && p->ending ? p->ending->fact.id : "";
    }

    Window window;
};

TEST_F(Procedures, TheShortIsHalvedToTheLoadThatHoldsIt)
{
    open("excavator-fuse.csv", "ECB", 24);
    follow("Short on F14");
    EXPECT_THAT(s(window.text("stepProcedure")), HasSubstr("Short on F14"));
    EXPECT_THAT(s(window.text("stepTitle")), HasSubstr("What else can feed"));
    tell("none");
    // The truth: the travel valve. While it is plugged the lamp takes all, and nothing once it is not.
    int asked = 0;
    for (; asked < 14 && ending().empty(); ++asked) {
        ASSERT_NE(next(), nullptr);
        const auto& step = window->liveJob()->step();
        ASSERT_TRUE(step) << next()->id;
        const Map& map = window->liveJob()->map();
        std::set<int> out;
        for (const std::string& e : step->removed)
            out.insert(map.elementIndex(e));
        const auto named = [&](const char* name) {
            return std::any_of(out.begin(), out.end(), [&](int e) { return map.element(e).name == name; });
        };
        window.figure(named("travel valve") ? "0.3" : "24.5");  // across the lamp
    }
    EXPECT_EQ(ending(), "short.end.part") << asked;
    EXPECT_EQ(window->liveJob()->procedure()->ending->places, std::vector<std::string>{"load A6"});
    EXPECT_THAT(s(window.text("stepTitle")), HasSubstr("travel valve"));
    // Left with N; it stands where it was.
    window.key(Qt::Key_N);
    EXPECT_FALSE(window->liveJob()->procedure());
}

TEST_F(Procedures, FusedPowerProvesTheModuleAndAllElseGood)
{
    open("pallet-lift.csv", "PLC", 24);
    const Map& map = window->liveJob()->map();
    std::vector<std::string> all;
    for (const ilvek::Function& f : map.functions)
        all.push_back(f.name);
    ASSERT_GE(all.size(), 2U);
    Complaint complaint;
    complaint.text = "One request kills two functions";
    complaint.fails = all;
    ASSERT_TRUE(window->liveJob()->enter(complaint));
    follow("Fused power to 1 unit feed");
    window.figure("0.1");  // at the source end: nothing arrives
    EXPECT_EQ(next()->id, "module-end");
    window.figure("25.0");
    ASSERT_EQ(next()->id, "functions");
    bool ticked = false;
    QTimer::singleShot(50, [&] {
        auto* dialog = qobject_cast<FunctionsDialog*>(QApplication::activeModalWidget());
        ASSERT_NE(dialog, nullptr);
        QTimer::singleShot(5000, dialog, &QDialog::reject);
        auto* table = dialog->findChild<QTableWidget*>(QStringLiteral("functions"));
        for (std::size_t i = 0; i < all.size(); ++i)
            QTest::keyClick(table, Qt::Key_W);
        ticked = true;
        QTest::keyClick(table, Qt::Key_Return);
    });
    window.key(Qt::Key_Return);
    EXPECT_TRUE(ticked);
    EXPECT_EQ(ending(), "substitution.end.conductor");
    EXPECT_EQ(window->liveJob()->gate().outcome, Outcome::ProvenGood);
    EXPECT_THAT(s(window.text("stepTitle")), HasSubstr("proven good"));
}

TEST_F(Procedures, TheWindowOfAShutDownCountsDown)
{
    open("boom-lift.csv", "BLC", 24);
    std::int64_t now = 1'700'000'000'000;
    window->liveJob()->setClock([&] { return now; });
    follow("Protective shut-down of B1 extend valve");
    ASSERT_EQ(next()->id, "cycle");
    window.key(Qt::Key_Return);
    ASSERT_EQ(next()->id, "window");
    now += 4000;
    EXPECT_NEAR(window->liveJob()->remaining_s().value_or(0), 6, 0.1);
    window.figure("0.3");
    EXPECT_EQ(next()->id, "after");
}

// An input that never opens: the wire is shorted to ground.
TEST_F(Procedures, ASwitchInputIsFollowedToTheWireThatHoldsItDown)
{
    open("scissor-lift.csv", "PCU", 12);
    follow("Switch input 7 tilt switch");
    EXPECT_THAT(s(window.text("stepTitle")), HasSubstr("tilt switch open"));
    window.figure("0.02");
    EXPECT_EQ(next()->id, "closed");
    window.figure("0.02");
    EXPECT_EQ(next()->id, "unplugged");
    window.figure("0.01");
    EXPECT_EQ(next()->id, "free");
    EXPECT_THAT(s(window.text("stepTitle")), HasSubstr("Free the wire"));
    window.figure("4.96");
    EXPECT_EQ(ending(), "line.end.harness");
    EXPECT_THAT(s(window.text("stepTitle")), HasSubstr("shorted to ground"));
}

// A feed that shorts now and then: a breaker, and what was touched when it tripped.
TEST_F(Procedures, ABreakerIsWatchedWhileTheLoomIsMoved)
{
    open("cabin-socket.csv", "CSU", 24);
    follow("Watch F6 for what comes and goes");
    EXPECT_EQ(next()->id, "untouched");
    const auto answer = [&](Shown shown) {
        QTimer::singleShot(50, [shown] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            ASSERT_NE(menu, nullptr);
            const QString begins = QStringLiteral("&%1 ").arg(static_cast<int>(shown) + 1);
            for (QAction* action : menu->actions()) {
                if (!action->text().startsWith(begins)) continue;
                menu->setActiveAction(action);
                QTest::keyClick(menu, Qt::Key_Return);
                return;
            }
            menu->close();
        });
        window.key(Qt::Key_I);
    };
    std::string first;
    for (int i = 0; i < 20 && ending().empty() && next(); ++i) {
        const std::string touched = window->liveJob()->step()->touched;
        if (first.empty() && touched != "nothing") first = touched;
        answer(touched == first ? Shown::Tripped : Shown::Holds);
        if (::testing::Test::HasFatalFailure()) return;
    }
    EXPECT_EQ(ending(), "watch.end.place");
    EXPECT_THAT(s(window.text("stepTitle")), HasSubstr(first));
}

TEST_F(Procedures, AMakersChartIsTakenFromAFileAndFollowed)
{
    open("scissor-lift.csv", "PCU", 12);
    QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("bulletin.txt"));
    const auto write = [&](const char* text) {
        QFile file(path);
        ASSERT_TRUE(file.open(QIODevice::WriteOnly));
        file.write(text);
    };
    auto* job = window->findChild<JobScreen*>();
    ASSERT_NE(job, nullptr);
    write("1 | Z7 > 2; key on | below 11 V | a | b\n");
    job->takeChart(path);
    EXPECT_TRUE(window->liveJob()->assessment().evidence.chart.empty()) << "nothing of a faulty one is taken";
    write(
        "1 | 1 > 2; key on | below 11 V | 2 | Replace the unit\n2 | F1 out > battery minus; key on | below 11 V | Fuse "
        "| Wire\n");
    job->takeChart(path);
    follow("The maker's chart");
    EXPECT_EQ(next()->id, "1");
    window.figure("8.2");
    EXPECT_EQ(next()->id, "2");
    window.figure("12.4");
    EXPECT_EQ(ending(), "chart.end");
    EXPECT_THAT(s(window.text("stepTitle")), HasSubstr("Wire"));
}

TEST_F(Procedures, WhatIsFoundByNameIsChosenAndEscapeShowsAll)
{
    open("excavator-fuse.csv", "ECB", 24);
    window.key(Qt::Key_F11);
    QTest::keyClicks(window->centralWidget(), QStringLiteral("no such thing"));
    EXPECT_TRUE(window.find<QLabel>("procedureTitle")->isHidden());
    window.key(Qt::Key_Return);
    EXPECT_EQ(window->screen(), MainWindow::Screen::Procedures) << "nothing is followed";
    window.key(Qt::Key_Escape);
    EXPECT_FALSE(window.find<QLabel>("procedureTitle")->isHidden());
}

// One key for each place: what is touched need not be what the watch would ask next.
TEST_F(Procedures, AWatchedPlaceIsChosenByOneKey)
{
    open("cabin-socket.csv", "CSU", 24);
    follow("Watch F6 for what comes and goes");
    const QStringList places = window->liveJob()->touchable();
    ASSERT_GE(places.size(), 3);
    EXPECT_EQ(places.front(), QStringLiteral("nothing"));
    window.key(Qt::Key_3, Qt::AltModifier);
    EXPECT_EQ(QString::fromStdString(window->liveJob()->step()->touched), places[2]);
    EXPECT_TRUE(window->liveJob()->take(QStringLiteral("tripped")));
    // It counts there, and the watch goes on with what is next.
    EXPECT_EQ(QString::fromStdString(window->liveJob()->lastReading()->touched), places[2]);
    EXPECT_EQ(window->liveJob()->step()->touched, "nothing");
    EXPECT_TRUE(window->liveJob()->touch(places[2])) << "once more, at any time";
    EXPECT_FALSE(window->liveJob()->touch(QStringLiteral("the moon")));
}

}  // namespace
}  // namespace ilvek::app
