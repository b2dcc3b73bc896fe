// A reading anywhere, in the real window by keys and mouse: the silent module with four feeds, from its pin sheet to
// the wire that was found.
#include <gmock/gmock.h>

#include <QAbstractItemView>
#include <QApplication>
#include <QCompleter>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QSignalSpy>
#include <QTimer>

#include <QFile>

#include "app/window.h"
#include "bench_map/pin_sheet.h"
#include "bench_map/sheet_map.h"
#include "widgets/place_panel.h"

namespace ilvek::app {
namespace {

using test::Window;
using testing::HasSubstr;

std::string s(const QString& text)
{
    return text.toStdString();
}

// The panel opened with its key and filled as a person would: place, place, what is done, Enter.
void place(Window& window, const char* red, const char* black, const char* done)
{
    auto* panel = window.find<PlacePanel>("placePanel");
    // The first key after a window came up may be lost to its activation, as on a desk.
    for (int n = 0; n < 5 && !panel->isVisible(); ++n) {
        QCoreApplication::processEvents();
        window.key(Qt::Key_P);
    }
    ASSERT_TRUE(panel->isVisible());
    const auto into = [&](const char* field, const char* text) {
        auto* edit = window.find<QLineEdit>(field);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClick(edit, Qt::Key_Delete);
        QTest::keyClicks(edit, QLatin1String(text));
        if (edit->completer()) edit->completer()->popup()->hide();
        return edit;
    };
    into("placeRed", red);
    into("placeBlack", black);
    auto* last = into("placeDone", done);
    for (int n = 0; n < 5 && panel->isVisible(); ++n) {
        QTest::keyClick(last, Qt::Key_Return);
        QCoreApplication::processEvents();
    }
    ASSERT_FALSE(panel->isVisible()) << s(window.text("placeSays"));
}

// The menu that the next key opens is answered with its number; it is closed in any case.
void answer(Window& window, Qt::Key opens, const char* name, int number)
{
    bool answered = false;
    QTimer::singleShot(50, [&] {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        ASSERT_NE(menu, nullptr);
        EXPECT_EQ(s(menu->objectName()), name);
        const QString begins = QStringLiteral("&%1 ").arg(number);
        for (QAction* action : menu->actions()) {
            if (!action->text().startsWith(begins)) continue;
            menu->setActiveAction(action);
            QTest::keyClick(menu, Qt::Key_Return);
            answered = true;
        }
        if (!answered) menu->close();
    });
    window.key(opens);
    EXPECT_TRUE(answered) << name << " " << number;
}

std::string sheetPath()
{
    return std::string(ILVEK_SOURCE_DIR) + "/data/stories/harvester-header.csv";
}

class Harvester : public testing::Test {
protected:
    void SetUp() override
    {
        const auto rows = readPinSheet(test_text(), "sheet");
        ASSERT_TRUE(rows);
        NewMachine machine;
        machine.module = "HCU";
        const auto map = mapFromSheet(rows->rows, machine);
        ASSERT_TRUE(map);
        ASSERT_TRUE(window->startJob(*map, QStringLiteral("header")));
        window->show(MainWindow::Screen::Prove);
    }
    static std::string test_text()
    {
        QFile file(QString::fromStdString(sheetPath()));
        return file.open(QIODevice::ReadOnly) ? file.readAll().toStdString() : std::string();
    }
    std::string word() { return s(window->prove()->dock()->verdict()); }
    const Reading& last() { return window->liveJob()->assessment().evidence.readings.back(); }

    Window window;
};

TEST_F(Harvester, IsFoundByKeysAndMouse)
{
    answer(window, Qt::Key_S, "states", 2);
    EXPECT_EQ(s(window->liveJob()->stateId()), "key-on");
    place(window, "plus", "minus", "");
    window.figure("12.6");
    EXPECT_EQ(word(), "Battery noted");
    place(window, "A4", "A9", "apart A, B");
    EXPECT_EQ(s(window.text("stepTitle")), "Next: Read A4 to A9");
    window.figure("11.5");
    EXPECT_EQ(word(), "Low, hardly loaded");
    // What stands stays for the next reading; only the load is new.
    place(window, "A4", "A9", "apart A, B; load heavy blower motor");
    window.figure("0.01");
    EXPECT_EQ(word(), "Fails under load");
    EXPECT_EQ(last().load, "motor");
    window.figure("0.02");
    EXPECT_EQ(last().unplugged, (std::vector<std::string>{"A", "B"})) << "the set-up stands";

    // The place is clicked on the loop strip, and the other lead on the connector's face.
    window.key(Qt::Key_P);
    auto* strip = window->prove()->strip();
    const auto& symbols = strip->picture().symbols;
    const auto f4 = std::find_if(symbols.begin(), symbols.end(),
                                 [](const auto& symbol) { return symbol.label == QLatin1String("F4"); });
    ASSERT_NE(f4, symbols.end());
    QPointF at;
    for (int x = 0; x < strip->width(); x += 4) {
        if (strip->placeAt({static_cast<double>(x), 60}) == f4->nodeOut) at = {static_cast<double>(x), 60};
    }
    ASSERT_FALSE(at.isNull());
    QTest::mouseClick(strip, Qt::LeftButton, Qt::NoModifier, at.toPoint());
    EXPECT_EQ(s(window.find<QLineEdit>("placeRed")->text()), "F4 far side");
    EXPECT_EQ(window->focusWidget(), window.find<QLineEdit>("placeBlack"));
    QTest::keyClick(window.find<QLineEdit>("placeRed"), Qt::Key_Escape);

    place(window, "F4 out", "minus", "apart A, B; load heavy blower motor");
    window.figure("12.2");
    EXPECT_EQ(word(), "As a sound circuit");
    place(window, "A4", "A9", "bridged plus > F4 out 20 A");
    window.figure("0.02");
    place(window, "A4", "A9", "bridged plus > A4 20 A");
    window.figure("12.4");
    window.figure("12.4");  // the case rests on it
    const int a4 = window->liveJob()->map().terminalIndex("A4");
    EXPECT_EQ(window->liveJob()->proof(a4).state, ProofState::FailedLoaded) << "a bridge proves nothing of the wire";
    place(window, "A4", "A9", "apart A, B; load 21 W lamp; touched loom at the sill");
    window.figure("0.1..11.6");
    EXPECT_EQ(last().most, 11.6);
    answer(window, Qt::Key_I, "seen", 3);
    EXPECT_EQ(last().shows, Shown::Dark);

    QSignalSpy answered(window->liveJob(), &LiveJob::reasoned);
    const auto located = [&] {
        const auto* r = window->liveJob()->reasoning();
        return r && r->revision == static_cast<std::int64_t>(window->liveJob()->journal().events().back().id) &&
               r->conclusion.kind != Conclusion::Kind::Open;
    };
    while (!located())
        ASSERT_TRUE(answered.wait(60'000));
    EXPECT_EQ(window->liveJob()->gate().outcome, Outcome::Cleared);
    EXPECT_THAT(window->liveJob()->gate().located, HasSubstr("F4 to A4"));
}

TEST_F(Harvester, WhatCannotBeMeantStaysWithTheReasonAndEscapeLeavesIt)
{
    window.key(Qt::Key_P);
    auto* panel = window.find<PlacePanel>("placePanel");
    auto* red = window.find<QLineEdit>("placeRed");
    QTest::keyClicks(red, QStringLiteral("Z9"));
    QTest::keyClick(red, Qt::Key_Return);
    EXPECT_TRUE(panel->isVisible());
    EXPECT_THAT(s(window.text("placeSays")), HasSubstr("no place of this machine"));
    QTest::keyClick(red, Qt::Key_Escape);
    EXPECT_FALSE(panel->isVisible());
    EXPECT_FALSE(window->liveJob()->placed());
}

TEST_F(Harvester, DangerIsSaidBeforeTheFigureIsTaken)
{
    place(window, "A4", "A9", "bridged plus > B1 20 A");
    EXPECT_THAT(s(window.text("stepCaution")), HasSubstr("can kill it"));
    place(window, "A4", "A9", "bridged plus > A4 30 A");
    EXPECT_THAT(s(window.text("stepCaution")), HasSubstr("never a larger one"));
    window.figure("12.3");
    EXPECT_EQ(word(), "Not to be done so");
}

TEST_F(Harvester, ButtonsPutTogetherWhatIsDone)
{
    window.key(Qt::Key_P);
    const auto choose = [&](const char* button, const char* choice) {
        const auto actions = window.find<QPushButton>(button)->menu()->actions();
        const auto at = std::find_if(actions.begin(), actions.end(),
                                     [&](const QAction* a) { return a->text() == QLatin1String(choice); });
        ASSERT_NE(at, actions.end()) << choice;
        (*at)->trigger();
    };
    window.find<QLineEdit>("placeDone")->clear();
    choose("place-apart", "A");
    choose("place-apart", "B");
    choose("place-load", "21 W lamp");
    choose("place-pulled", "F8");
    EXPECT_EQ(s(window.find<QLineEdit>("placeDone")->text()), "apart A, B; load 21 W lamp; pulled F8");
}

}  // namespace
}  // namespace ilvek::app
