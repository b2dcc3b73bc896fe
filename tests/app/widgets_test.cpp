// The drawn parts by themselves: what the ledger lists, what the strip holds, what the dock takes, what the card says.
#include <gmock/gmock.h>

#include <QFile>
#include <QListWidget>
#include <QPainter>
#include <QPushButton>

#include "app/window.h"
#include "models/ledger_model.h"
#include "practice/demo_job.h"
#include "practice/simulated_machine.h"
#include "screens/job/job_screen.h"
#include "screens/report/report_screen.h"
#include "screens/start/start_screen.h"
#include "theme.h"
#include "widgets/connector_face.h"
#include "widgets/shapes.h"
#include "widgets/step_card.h"

namespace ilvek::app {
namespace {

using test::Window;
using testing::HasSubstr;

std::string s(const QString& text)
{
    return text.toStdString();
}

TEST(Ledger, ListsEveryTerminalUnderItsHeadingInProvingOrder)
{
    Window window;
    window->openDemo();
    LedgerModel model;
    model.show(*window->liveJob());
    std::vector<std::string> headings;
    int terminals = 0;
    for (int row = 0; row < model.rowCount(); ++row) {
        if (model.row(row).isHeading)
            headings.push_back(s(model.row(row).heading));
        else
            ++terminals;
        EXPECT_EQ(model.flags(model.index(row)) == Qt::NoItemFlags, model.row(row).isHeading)
            << "a heading cannot be chosen";
    }
    EXPECT_EQ(headings,
              (std::vector<std::string>{"Returns", "Supplies", "References", "Inputs", "Drives", "Networks"}));
    EXPECT_EQ(terminals, 52);
    EXPECT_EQ(s(model.data(model.index(1), Qt::DisplayRole).toString()),
              "J1-7, power return, proven under load, 28.3 mV");
    EXPECT_EQ(model.rowOf(window->liveJob()->map().terminalIndex("J1-7")), 1);
    EXPECT_EQ(model.rowOf(9999), -1);
}

TEST(Ledger, SaysWhenItsShapeChangesAndWhenOnlyItsValues)
{
    Window window;
    window->openDemo();
    LedgerModel model;
    model.show(*window->liveJob());
    int resets = 0, changes = 0;
    QObject::connect(&model, &QAbstractItemModel::modelReset, &model, [&] { ++resets; });
    QObject::connect(&model, &QAbstractItemModel::dataChanged, &model, [&] { ++changes; });
    window.figure("12.51");
    model.show(*window->liveJob());
    EXPECT_EQ(resets, 0);
    EXPECT_EQ(changes, 1);
}

TEST(Strip, UnrollsTheCircuitWithItsFlags)
{
    Window window;
    window->openDemo();
    window.figure("12.51");
    window.pick("J2-1");
    const LoopPicture& picture = window->prove()->strip()->picture();
    std::vector<std::string> labels;
    std::string red, black;
    for (const auto& symbol : picture.symbols) {
        labels.push_back(s(symbol.label));
        if (symbol.red) red = labels.back();
        if (symbol.black) black = labels.back();
    }
    EXPECT_EQ(labels, (std::vector<std::string>{"Bat +", "F1", "K1", "F15", "S3", "X4-7", "S4", "J2-1", "DCU-54",
                                                "J2-3", "G3", "Bat −"}));
    EXPECT_EQ(red, "J2-1");
    EXPECT_EQ(black, "Bat −");
    EXPECT_EQ(picture.stepFrom, -1);
}

// With nothing read under load there is no loaded line, however right the battery stands.
TEST(Strip, TheBatteryAloneIsNoLoadedReading)
{
    Window window;
    window->openDemo();
    window.figure("12.51");
    window.pick("J2-1");
    for (const auto& symbol : window->prove()->strip()->picture().symbols)
        EXPECT_FALSE(symbol.loadedIn || symbol.loadedOut) << s(symbol.label);
    const auto battery = [&] { return window->prove()->strip()->picture().symbols.front(); };
    ASSERT_TRUE(battery().openIn) << s(window.text("stepTitle"));
    EXPECT_DOUBLE_EQ(*battery().openIn, 12.51);
    window.figure("12.50");
    window.figure("3.336");
    ASSERT_TRUE(battery().loadedIn) << s(window.text("stepTitle")) << ", " << s(window->prove()->dock()->verdict());
    EXPECT_DOUBLE_EQ(*battery().loadedIn, 12.51);
}

TEST(Strip, TheBandIsTheHealthyCircuitInTheSetUpOfTheStep)
{
    Window window;
    window->openDemo();
    window.figure("12.51");
    window.pick("J2-1");
    window.key(Qt::Key_L);
    const Map& map = window->liveJob()->map();
    const auto healthy = healthyReading(map, readingOf(*window->liveJob()->step(), map, volts(0), {}, 0));
    const auto& potentials = window->liveJob()->expected().potentials;
    const double expected = potentials[static_cast<std::size_t>(map.nodeIndex("J2-1.a"))] -
                            potentials[static_cast<std::size_t>(map.nodeIndex("J2-3.a"))];
    ASSERT_TRUE(healthy);
    EXPECT_NEAR(expected, *healthy, 0.02) << "lifted to the battery that was read";
}

TEST(Strip, DrawsAnythingFromNothingToTheWholeMachine)
{
    Window window;
    window->openDemo();
    QImage image(900, 300, QImage::Format_RGB32);
    for (const int terminal : window->liveJob()->map().moduleTerminals()) {
        for (const QSizeF size : {QSizeF(900, 300), QSizeF(300, 130), QSizeF(40, 20)}) {
            image.fill(Qt::white);
            QPainter painter(&image);
            drawLoop(painter, QRectF(QPointF(0, 0), size), loopPicture(*window->liveJob(), terminal));
        }
    }
    QPainter painter(&image);
    drawLoop(painter, QRectF(0, 0, 300, 200), LoopPicture{});
}

TEST(Strip, ShowsTheBatteryWithTheLeadsOnItsPostsBeforeAnyTerminal)
{
    Window window;
    window->openMap(QStringLiteral(ILVEK_SOURCE_DIR "/data/maps/pt-9.json"));
    ASSERT_EQ(window->liveJob()->shownTerminal(), -1);
    const LoopPicture& picture = window.find<LoopStrip>("loopStrip")->picture();
    ASSERT_EQ(picture.symbols.size(), 3U);
    EXPECT_TRUE(picture.symbols.front().red);
    EXPECT_TRUE(picture.symbols.back().black);
    EXPECT_GT(picture.symbols.front().expectedIn.value_or(0), 12.0);
    EXPECT_NEAR(picture.symbols.back().expectedIn.value_or(1), 0.0, 1e-9);
}

TEST(Strip, HasACircuitForEveryTerminalThatIsConnected)
{
    Window window;
    window->openDemo();
    const Map& map = window->liveJob()->map();
    for (const int terminal : map.moduleTerminals()) {
        const bool connected = map.terminal(terminal).a >= 0 && map.terminal(terminal).asFound != AsFound::Empty;
        EXPECT_EQ(loopPicture(*window->liveJob(), terminal).symbols.empty(), !connected) << map.terminal(terminal).id;
    }
}

TEST(Dock, TakesOnlyWhatCanBeginAFigure)
{
    ReadingDock dock;
    EXPECT_FALSE(dock.typed(Qt::Key_X, QStringLiteral("x")));
    EXPECT_FALSE(dock.typed(Qt::Key_Return, {}));
    EXPECT_FALSE(dock.typed(Qt::Key_Escape, {}));
    EXPECT_FALSE(dock.typed(Qt::Key_Backspace, {}));
    for (const char* first : {"1", "-", "+", ".", ",", "O", "o"}) {
        EXPECT_TRUE(dock.typed(0, QLatin1String(first))) << first;
        dock.clear();
    }
    for (int i = 0; i < 60; ++i)
        dock.typed(Qt::Key_1, QStringLiteral("1"));
    EXPECT_LE(dock.typedText().size(), 32);
}

TEST(Dock, ALongFigureAndALongRefusalAreDrawnInside)
{
    ReadingDock dock;
    dock.resize(480, 200);
    for (int i = 0; i < 24; ++i)
        dock.typed(Qt::Key_8, QStringLiteral("8"));
    dock.refuse(QStringLiteral(
        "a very long reason that goes on and on, as reasons do, until it has filled more than one line"));
    EXPECT_FALSE(dock.grab().isNull());
    EXPECT_TRUE(dock.isTyping()) << "kept";
}

TEST(Card, SaysWhatToDoOnceTheFaultIsLocated)
{
    Window window;
    window->openDemo();
    // The simulated machine answers each step until nothing is asked any more.
    practice::SimulatedMachine machine(window->liveJob()->map(), practice::demoFaults(window->liveJob()->map()));
    window->liveJob()->choose(window->liveJob()->map().terminalIndex("J2-1"));
    for (int n = 0; n < 20 && window->liveJob()->step(); ++n) {
        const auto value = machine.read(*window->liveJob()->step());
        ASSERT_TRUE(value);
        ASSERT_TRUE(window->liveJob()->take(QString::fromStdString(exactQuantity(*value))));
    }
    EXPECT_EQ(s(window.text("stepTitle")), "Next: mend it, then prove it");
    EXPECT_THAT(s(window.text("stepSetUp")), HasSubstr("lost at X4-7"));
    EXPECT_THAT(s(window.text("stepBlack")), HasSubstr("Repair screen"));
    EXPECT_EQ(window->liveJob()->gate().outcome, Outcome::Cleared);
}

TEST(Card, LeadsThroughAWholeSoundMachineAndSaysWhatStaysOpen)
{
    Window window;
    ASSERT_TRUE(window->openMap(QStringLiteral(ILVEK_SOURCE_DIR "/data/maps/pt-9.json")));
    LiveJob& job = *window->liveJob();
    practice::SimulatedMachine machine(job.map(), {});
    int readings = 0;
    for (; readings < 200 && job.step(); ++readings) {
        const auto value = machine.read(*job.step());
        ASSERT_TRUE(value);
        ASSERT_TRUE(job.take(QString::fromStdString(exactQuantity(*value)))) << job.step()->title;
    }
    EXPECT_LT(readings, 150);
    EXPECT_EQ(s(window.text("stepTitle")), "All is read; still open: J2-26");
    EXPECT_THAT(s(window.text("stepSetUp")), HasSubstr("Sources disagree"));
}

TEST(Card, NamesWhatUnpluggingTakesAwayOnlyWhenItIsNew)
{
    Window window;
    window->openDemo();
    window.figure("12.51");
    window.pick("J2-1");
    EXPECT_THAT(s(window.text("stepCaution")), HasSubstr("these are dead too"));
    window.figure("12.50");
    EXPECT_THAT(s(window.text("stepCaution")), testing::Not(HasSubstr("these are dead too"))) << "J2 is apart already";
}

TEST(Face, AClickChoosesACavityAndAClickOnItsHeadMirrors)
{
    Window window;
    window->openDemo();
    window.pick("J2-1");
    auto* face = window.find<ConnectorFace>("connectorFace");
    const QString before = face->words();
    QTest::mouseClick(face, Qt::LeftButton, Qt::NoModifier, QPoint(face->width() / 2, 10));
    EXPECT_NE(face->words(), before);
    QTest::mouseClick(face, Qt::LeftButton, Qt::NoModifier, QPoint(face->width() / 2, 10));
    int chosen = -1;
    QObject::connect(face, &ConnectorFace::chosen, face, [&](int terminal) { chosen = terminal; });
    QTest::mouseClick(face, Qt::LeftButton, Qt::NoModifier, QPoint(14 + 32 + 16, 34 + 8 + 12));
    ASSERT_GE(chosen, 0);
    EXPECT_EQ(window->liveJob()->map().terminal(chosen).id, "J2-2");
}

TEST(Reports, AreWrittenAndAFailureIsSaid)
{
    Window window;
    window->openDemo();
    const auto* report = window->report();
    for (const auto& [write, name] :
         {std::pair{&ReportScreen::writePdf, "r.pdf"}, std::pair{&ReportScreen::writeHtml, "r.html"},
          std::pair{&ReportScreen::writeCsv, "r.csv"}, std::pair{&ReportScreen::writeHandOverFile, "r.json"}}) {
        EXPECT_TRUE((report->*write)(window.path(QLatin1String(name)))) << name;
        EXPECT_GT(QFile(window.path(QLatin1String(name))).size(), 500) << name;
        const auto failed = (report->*write)(QStringLiteral("/no/such/place/") + QLatin1String(name));
        ASSERT_FALSE(failed) << name;
        EXPECT_THAT(failed.error().message(), HasSubstr("cannot be written")) << name;
    }
    Window other;
    EXPECT_TRUE(other->openHandOver(window.path(QStringLiteral("r.json")))) << "what is handed over can be opened";
    EXPECT_EQ(other->liveJob()->journal().events().size(), window->liveJob()->journal().events().size());
}

TEST(Reports, ArePaperInTheNightThemeToo)
{
    Window window;
    window->openDemo();
    window->setNight(true);
    EXPECT_TRUE(window->report()->writePdf(window.path(QStringLiteral("night.pdf"))));
    EXPECT_TRUE(Theme::current().night) << "and the window stays as it was";
    window->setNight(false);
}

TEST(JobScreen, AnyEntryCanBeWithdrawn)
{
    Window window;
    window->openDemo();
    window.key(Qt::Key_F2);
    const auto readings = window->liveJob()->assessment().evidence.readings.size();
    auto* journal = window.find<QListWidget>("journal");
    for (int row = 0; row < journal->count(); ++row) {
        if (journal->item(row)->text().contains(QStringLiteral("J1-8"))) journal->setCurrentRow(row);
    }
    window.find<QPushButton>("withdraw")->click();
    EXPECT_EQ(window->liveJob()->assessment().evidence.readings.size(), readings - 1);
    EXPECT_EQ(window->liveJob()->proof(window->liveJob()->map().terminalIndex("J1-8")).state, ProofState::Untouched);
    window.find<QPushButton>("withdraw")->click();
}

TEST(Start, ListsTheJobsKeptHere)
{
    Window window;
    window->openDemo();
    window.key(Qt::Key_F6);
    EXPECT_EQ(window->screen(), MainWindow::Screen::Start);
    auto* jobs = window.find<QListWidget>("jobs");
    QTRY_COMPARE(jobs->count(), 1);
    EXPECT_THAT(s(jobs->item(0)->text()), HasSubstr("open"));
    EXPECT_THAT(s(jobs->item(0)->text()), HasSubstr("PT-9"));
    auto* search = window.find<QLineEdit>("jobSearch");
    search->setText(QStringLiteral("no such word"));
    EXPECT_EQ(jobs->count(), 0);
    EXPECT_TRUE(search->isVisible()) << "it can be cleared again";
    search->setText(QStringLiteral("groom"));
    ASSERT_EQ(jobs->count(), 1);
    emit jobs->itemActivated(jobs->item(0));
    EXPECT_EQ(window->screen(), MainWindow::Screen::Prove);
}

TEST(LiveJob, ABatteryOfAnotherStateIsNotTheBatteryNow)
{
    Window window;
    window->openDemo();
    window.figure("12.51");
    EXPECT_TRUE(window->liveJob()->batteryNow());
    ASSERT_TRUE(window->liveJob()->enter(StateChange{"key-off"}));
    EXPECT_FALSE(window->liveJob()->batteryNow());
}

TEST(LiveJob, TheClockMakesABatteryStale)
{
    Window window;
    window->openDemo();
    std::int64_t now = 1'900'000'000'000;
    window->liveJob()->setClock([&] { return now; });
    window.figure("12.51");
    window.pick("J2-1");
    EXPECT_EQ(window->liveJob()->step()->test, TestKind::OpenSupply);
    now += 61'000;
    window.pick("J2-2");
    window.pick("J2-1");
    EXPECT_EQ(window->liveJob()->step()->test, TestKind::Battery) << "a minute is over";
}

}  // namespace
}  // namespace ilvek::app
