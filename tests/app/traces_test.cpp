// The Traces screen in the real window: load, zoom, markers, the verdict read and taken into the job.
#include "screens/traces/traces_screen.h"

#include <gtest/gtest.h>

#include <QComboBox>
#include <QLabel>
#include <QSignalSpy>
#include <QTableWidget>

#include "app/window.h"
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
    ASSERT_EQ(window->liveJob()->journal().events().size(), before + 1);
    const auto* note = std::get_if<Note>(&window->liveJob()->journal().events().back().body);
    ASSERT_TRUE(note);
    EXPECT_NE(note->text.find("injectors-3-missing-hot.csv: Cylinder 3"), std::string::npos);
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

}  // namespace
}  // namespace ilvek::app
