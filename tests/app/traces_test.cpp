// The Traces screen in the real window: load, zoom, markers, the verdict read and taken into the job.
#include "screens/traces/traces_screen.h"

#include <gtest/gtest.h>

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QTableWidget>
#include <QTemporaryDir>
#include <fstream>

#include "app/window.h"
#include "screens/traces/comparison_panel.h"
#include "screens/traces/cylinder_panels.h"
#include "screens/traces/import_dialog.h"
#include "screens/traces/trace_lanes.h"

namespace ilvek::app {
namespace {

constexpr int patience_ms = 60'000;

QString recording(const char* name)
{
    return QStringLiteral(ILVEK_SOURCE_DIR "/data/traces/") + QLatin1String(name);
}

bool load(test::Window& window, const char* name)
{
    QSignalSpy ready(window->traces()->model(), &TraceModel::ready);
    window->traces()->open(recording(name));
    return ready.wait(patience_ms);
}

TEST(TracesScreen, NamesTheMissingInjectorAndTakesItIntoTheJob)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    window.key(Qt::Key_F8);
    ASSERT_EQ(window->screen(), MainWindow::Screen::Traces);
    ASSERT_TRUE(load(window, "injectors-3-missing-hot.csv"));
    EXPECT_EQ(window.text("traceVerdict").toStdString(), "Cylinder 3: 2 of 3 pulses missing.");
    EXPECT_TRUE(window.find<CylinderPanels>("cylinderPanels")->isVisible());
    EXPECT_TRUE(
        window.find<CylinderPanels>("cylinderPanels")->accessibleName().contains(QStringLiteral("cylinder 3: 2 of 3")));
    const std::size_t before = window->liveJob()->journal().events().size();
    window.key(Qt::Key_J);
    // The recording with its picture, and what flows in each of the cylinders that come every time.
    const auto& events = window->liveJob()->journal().events();
    ASSERT_EQ(events.size(), before + 4);
    const auto* whole = std::get_if<TraceSeen>(&events[before].body);
    ASSERT_TRUE(whole);
    EXPECT_EQ(whole->recording, "injectors-3-missing-hot.csv");
    EXPECT_EQ(whole->verdict, "Cylinder 3: 2 of 3 pulses missing.");
    EXPECT_EQ(whole->least.size(), 400U);
    EXPECT_FALSE(whole->current_A);
    for (std::size_t i = before + 1; i < events.size(); ++i) {
        const auto* one = std::get_if<TraceSeen>(&events[i].body);
        ASSERT_TRUE(one);
        EXPECT_NE(one->element, "INJ3");
        EXPECT_TRUE(one->current_A);
        EXPECT_FALSE(one->drive.empty());
    }
}

TEST(TracesScreen, ZoomsPansAndMeasuresBetweenMarkers)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    window.key(Qt::Key_F8);
    ASSERT_TRUE(load(window, "injectors-3-weak.csv"));
    TraceLanes* lanes = window->traces()->lanes();
    const double all = lanes->to() - lanes->from();
    window.key(Qt::Key_Plus);
    EXPECT_NEAR(lanes->to() - lanes->from(), all / 2, 1e-9);
    const double from = lanes->from();
    window.key(Qt::Key_Right);
    EXPECT_NEAR(lanes->from(), from + 0.2 * all / 2, 1e-9);
    window.key(Qt::Key_Home);
    EXPECT_NEAR(lanes->to() - lanes->from(), all, 1e-9);
    // By mouse: a click for A, one with Shift for B; the distance is that of the pixels.
    QTest::mouseClick(lanes, Qt::LeftButton, {}, {300, 120});
    QTest::mouseClick(lanes, Qt::LeftButton, Qt::ShiftModifier, {400, 120});
    ASSERT_TRUE(lanes->marker(0) && lanes->marker(1));
    EXPECT_NEAR(*lanes->marker(1) - *lanes->marker(0), 100 * all / (lanes->width() - 88), 1e-4);
    EXPECT_TRUE(window.find<QLabel>("traceMarkers")->text().startsWith(QStringLiteral("A to B")));
    // The weak cylinder stands first in the table.
    const auto* table = window.find<QTableWidget>("traceTable");
    EXPECT_EQ(table->item(0, 0)->text(), QStringLiteral("3"));
    EXPECT_TRUE(table->item(0, 2)->text().contains(QStringLiteral("1.28 times the resistance")));
}

TEST(TracesScreen, SaysWhyAFileIsNotReadAndKeepsWhatWasThere)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    window.key(Qt::Key_F8);
    ASSERT_TRUE(load(window, "injectors-sound.csv"));
    const auto before = window->traces()->model()->view();
    QSignalSpy failed(window->traces()->model(), &TraceModel::failed);
    window->traces()->open(QStringLiteral(ILVEK_SOURCE_DIR "/README.md"));
    ASSERT_TRUE(failed.wait(patience_ms));
    EXPECT_TRUE(failed.front().front().toString().contains(QStringLiteral("README.md")));
    EXPECT_EQ(window->traces()->model()->view(), before);
    EXPECT_TRUE(window.find<QLabel>("message")->isVisible());
}

TEST(TracesScreen, StudiesAgainWhenAChannelOrTheClampIsCorrected)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    window.key(Qt::Key_F8);
    ASSERT_TRUE(load(window, "injectors-3-weak.csv"));
    QSignalSpy ready(window->traces()->model(), &TraceModel::ready);
    window.find<QComboBox>("traceSync")->setCurrentIndex(0);
    ASSERT_TRUE(ready.wait(patience_ms));
    EXPECT_FALSE(window->traces()->model()->view()->study->cylinders);
    EXPECT_FALSE(window.find<CylinderPanels>("cylinderPanels")->isVisible());
    // A clamp of 100 mV/A: ten times the figures.
    const double was = *window->traces()->model()->view()->study->pulses.pulses[0].value("peak");
    auto* clamp = window.find<QComboBox>("traceClamp");
    clamp->setCurrentIndex(clamp->findData(100.0));
    ASSERT_TRUE(ready.wait(patience_ms));
    EXPECT_NEAR(*window->traces()->model()->view()->study->pulses.pulses[0].value("peak"), 10 * was, 0.5);
}

TEST(TracesScreen, RecognisesWhatARecordingIsOfAndLetsItBeCorrected)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    window.key(Qt::Key_F8);
    auto* kind = window.find<QComboBox>("traceKind");
    const std::pair<const char*, Recorded> kinds[] = {{"bus.csv", Recorded::BusPair},
                                                      {"lift-pump.csv", Recorded::Motor},
                                                      {"crank-speed.csv", Recorded::PickUp},
                                                      {"metering-valve.csv", Recorded::PulseWidth},
                                                      {"alternator-field.csv", Recorded::ChargingField}};
    for (const auto& [name, is] : kinds) {
        ASSERT_TRUE(load(window, name));
        EXPECT_EQ(kind->currentData().toInt(), static_cast<int>(is)) << name;
        EXPECT_GT(window.find<QTableWidget>("traceTable")->rowCount(), 2) << name;
    }
    // The number of bars cannot be known: asked, and the speed follows.
    ASSERT_TRUE(load(window, "lift-pump.csv"));
    QSignalSpy ready(window->traces()->model(), &TraceModel::ready);
    auto* bars = window.find<QLineEdit>("traceBars");
    ASSERT_TRUE(bars->isVisible());
    bars->setText(QStringLiteral("8"));
    emit bars->editingFinished();
    ASSERT_TRUE(ready.wait(patience_ms));
    EXPECT_TRUE(window->traces()->model()->view()->study->told.value("speed"));
    kind->setCurrentIndex(kind->findData(static_cast<int>(Recorded::Level)));
    ASSERT_TRUE(ready.wait(patience_ms));
    EXPECT_EQ(window->traces()->model()->view()->study->kind, Recorded::Level);
}

TEST(TracesScreen, ComparesAValveWithTheMapAndTakesItAsEvidence)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    window.key(Qt::Key_F8);
    ASSERT_TRUE(load(window, "tiller-down-shorted.csv"));
    EXPECT_FALSE(window.find<ComparisonPanel>("comparisonPanel")->isVisible());
    auto* part = window.find<QComboBox>("tracePart");
    QSignalSpy ready(window->traces()->model(), &TraceModel::ready);
    part->setCurrentIndex(part->findData(QStringLiteral("TDV")));
    ASSERT_TRUE(ready.wait(patience_ms));
    EXPECT_TRUE(window.find<ComparisonPanel>("comparisonPanel")->isVisible());
    EXPECT_TRUE(window.text("traceVerdict").contains(QStringLiteral("Turns of the winding are shorted")));
    window.find<QComboBox>("traceLead")->setCurrentIndex(1);
    window.key(Qt::Key_J);
    const auto* seen = std::get_if<TraceSeen>(&window->liveJob()->journal().events().back().body);
    ASSERT_TRUE(seen);
    EXPECT_EQ(seen->element, "TDV");
    EXPECT_EQ(seen->drive, "D-J2-19");
    EXPECT_EQ(seen->lead, "J2-19.a");
    ASSERT_TRUE(seen->current_A && seen->off_V && seen->on_V);
    EXPECT_NEAR(*seen->current_A, 2.8, 0.2);
    // A temperature that is none is said, and nothing is studied anew.
    auto* temperature = window.find<QLineEdit>("traceTemperature");
    temperature->setText(QStringLiteral("warm"));
    emit temperature->editingFinished();
    EXPECT_TRUE(window.text("message").contains(QStringLiteral("no temperature")));
}

TEST(TracesScreen, ShowsAFirstPictureOfALongTableAndComesBackWhenTheRestIsFaulty)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    window.key(Qt::Key_F8);
    ASSERT_TRUE(load(window, "tiller-down.csv"));
    const auto before = window->traces()->model()->view();
    const QString path = window.path(QStringLiteral("long.csv"));
    {
        std::ofstream out(path.toStdString());
        out << "time,current\ns,A\n";
        for (int i = 0; i < 600000; ++i)
            out << 1e-5 * i << ',' << (i % 1000 < 400 ? 2.0 : 0.0) << '\n';
        out << "6.1,rust\n";
    }
    TraceModel* model = window->traces()->model();
    QSignalSpy first(model, &TraceModel::previewed), failed(model, &TraceModel::failed);
    window->traces()->open(path);
    ASSERT_TRUE(first.wait(patience_ms));
    EXPECT_FALSE(model->view()->whole);
    EXPECT_FALSE(window.find<QPushButton>("traceAttach")->isEnabled()) << "a part is no evidence";
    ASSERT_TRUE(failed.count() > 0 || failed.wait(patience_ms));
    EXPECT_EQ(model->view(), before) << "nothing is half loaded";
    EXPECT_TRUE(failed.front().front().toString().contains(QStringLiteral("line 600003")));
}

TEST(TracesScreen, GoesFromOneEventToTheNext)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    window.key(Qt::Key_F8);
    ASSERT_TRUE(load(window, "lift-pump-bad-bar.csv"));
    const auto& events = window->traces()->model()->view()->study->told.events;
    ASSERT_GT(events.size(), 2U);
    for (int k = 0; k < 2; ++k) {
        window.key(Qt::Key_N);
        EXPECT_LE(window->traces()->lanes()->from(), events[static_cast<std::size_t>(k)].at_s);
        EXPECT_GE(window->traces()->lanes()->to(), events[static_cast<std::size_t>(k)].at_s);
    }
}

TEST(ImportDialog, ShowsTheGuessAndReadsTheFileAsCorrected)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    window.key(Qt::Key_F8);
    ASSERT_TRUE(load(window, "tiller-down.csv"));
    const auto view = window->traces()->model()->view();
    ImportDialog dialog(*view, window->traces());
    QTableWidget* table = dialog.table();
    ASSERT_EQ(table->rowCount(), 3);
    EXPECT_EQ(table->item(1, 0)->text(), QStringLiteral("current"));
    EXPECT_FALSE(table->item(1, 7)->text().isEmpty());
    // Two times are refused with the reason; then a lead of ten to one the other way round, and another name.
    qobject_cast<QComboBox*>(table->cellWidget(2, 1))->setCurrentIndex(0);
    dialog.accept();
    EXPECT_EQ(dialog.result(), 0);
    EXPECT_FALSE(dialog.findChild<QLabel*>(QStringLiteral("importProblem"))->text().isEmpty());
    qobject_cast<QComboBox*>(table->cellWidget(2, 1))->setCurrentIndex(1);
    table->item(1, 3)->setText(QStringLiteral("much"));
    dialog.accept();
    EXPECT_TRUE(dialog.findChild<QLabel*>(QStringLiteral("importProblem"))->text().contains(QStringLiteral("much")));
    table->item(1, 3)->setText({});
    table->item(1, 0)->setText(QStringLiteral("clamp on the valve"));
    table->item(2, 4)->setText(QStringLiteral("10"));
    table->item(2, 5)->setCheckState(Qt::Checked);
    dialog.accept();
    ASSERT_EQ(dialog.result(), static_cast<int>(QDialog::Accepted));
    QSignalSpy ready(window->traces()->model(), &TraceModel::ready);
    window->traces()->open(view->path, dialog.wish());
    ASSERT_TRUE(ready.wait(patience_ms));
    const auto again = window->traces()->model()->view();
    EXPECT_EQ(again->recording.channels[0].name, "clamp on the valve");
    EXPECT_NEAR(again->recording.interval_s, view->recording.interval_s, 1e-12);
    EXPECT_NEAR(again->recording.channels[1].samples.at(5), -10 * view->recording.channels[1].samples.at(5), 1e-6);
}

TEST(TracesScreen, ALongReadingIsOvertakenAndNeverHoldsTheWindow)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    window.key(Qt::Key_F8);
    QSignalSpy ready(window->traces()->model(), &TraceModel::ready);
    for (const char* name : {"injectors-sound.csv", "bus.csv", "crank-speed.csv"})
        window->traces()->open(recording(name));
    ASSERT_TRUE(ready.wait(patience_ms));
    // Only what was asked last answers.
    EXPECT_EQ(window->traces()->model()->view()->recording.name, "crank-speed.csv");
    QTest::qWait(200);
    EXPECT_EQ(window->traces()->model()->view()->recording.name, "crank-speed.csv");
}

// A level is of a terminal, and its marks go along; pulses of a winding ask for none.
TEST(TracesScreen, ALevelIsTakenIntoTheJobAtItsTerminal)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    window.key(Qt::Key_F8);
    ASSERT_TRUE(load(window, "injectors-3-missing-hot.csv"));
    auto* terminal = window.find<QComboBox>("traceTerminal");
    EXPECT_FALSE(terminal->isVisible());
    QTemporaryDir folder;
    const QString file = folder.filePath(QStringLiteral("loom.csv"));
    {
        std::ofstream out(file.toStdString());
        out << "time s;seat V;plug V\n";
        for (int i = 0; i < 3000; ++i)
            out << 0.01 * i << ';' << (i % 1000 > 350 && i % 1000 < 360 ? 7.0 : 12.0 + 0.01 * (i % 3)) << ';'
                << (i % 1000 > 300 && i % 1000 < 500 ? 5 : 0) << '\n';
    }
    QSignalSpy ready(window->traces()->model(), &TraceModel::ready);
    window->traces()->open(file);
    ASSERT_TRUE(ready.wait(patience_ms));
    auto* kind = window.find<QComboBox>("traceKind");
    if (kind->currentData().toInt() != static_cast<int>(Recorded::Level)) {
        kind->setCurrentIndex(kind->findData(static_cast<int>(Recorded::Level)));
        ASSERT_TRUE(ready.wait(patience_ms));
    }
    ASSERT_TRUE(terminal->isVisible());
    terminal->setCurrentIndex(terminal->findData(QStringLiteral("J1-17")));
    window.key(Qt::Key_J);
    const auto* taken = std::get_if<TraceSeen>(&window->liveJob()->journal().events().back().body);
    ASSERT_TRUE(taken);
    EXPECT_EQ(taken->terminal, "J1-17");
    ASSERT_FALSE(taken->touched.empty());
    EXPECT_EQ(taken->touched[0], (TraceSeen::Touched{"plug", 3, 3}));
}

}  // namespace
}  // namespace ilvek::app
