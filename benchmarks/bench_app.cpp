// From the Enter key to the verdict on screen, in the offscreen window: prints the median and the 95th percentile.
#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>
#include <algorithm>
#include <cstdio>
#include <vector>

#include "main_window.h"
#include "screens/prove/prove_screen.h"
#include "theme.h"
#include "widgets/reading_dock.h"

int main(int count, char** arguments)
{
    using namespace ilvek::app;
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(count, arguments);
    loadFonts();
    QApplication::setStyle(makeStyle());
    Theme::use(false);
    const QTemporaryDir folder;
    MainWindow window(folder.path());
    window.resize(1280, 800);
    window.show();
    if (!window.openDemo()) return 1;
    std::vector<double> times_ms;
    const char* figures[] = {"12.51", "12.50", "3.336", "3.354", "12.46", "12.44"};
    for (int n = 0; n < 60; ++n) {
        if (n % 6 == 0) window.liveJob()->demand(ilvek::TestKind::Battery);
        if (n % 6 == 1) window.liveJob()->choose(window.liveJob()->map().terminalIndex("J2-1"));
        QTest::keyClicks(&window, QLatin1String(figures[n % 6]));
        QElapsedTimer timer;
        timer.start();
        QTest::keyClick(&window, Qt::Key_Return);
        window.grab();  // everything is drawn
        times_ms.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
    }
    std::sort(times_ms.begin(), times_ms.end());
    std::printf(
        "figure typed to verdict on screen, with the entry on disk: median %.1f ms, 95th percentile %.1f ms, of %zu\n",
        times_ms[times_ms.size() / 2], times_ms[times_ms.size() * 95 / 100], times_ms.size());
    return 0;
}
