// What the offscreen window takes: from the Enter key to the verdict on screen, to the first suggestion of a job, to
// the first picture of a long recording, and for a frame of it.
#include <QApplication>
#include <QElapsedTimer>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <algorithm>
#include <cstdio>
#include <fstream>
#include <vector>

#include "main_window.h"
#include "screens/prove/prove_screen.h"
#include "screens/traces/traces_screen.h"
#include "theme.h"
#include "widgets/reading_dock.h"

namespace {

using namespace ilvek::app;

double median(std::vector<double> x)
{
    std::sort(x.begin(), x.end());
    return x[x.size() / 2];
}

double since_ms(const QElapsedTimer& timer)
{
    return static_cast<double>(timer.nsecsElapsed()) / 1e6;
}

void figures(MainWindow& window)
{
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
        times_ms.push_back(since_ms(timer));
    }
    std::sort(times_ms.begin(), times_ms.end());
    std::printf(
        "figure typed to verdict on screen, with the entry on disk: median %.1f ms, 95th percentile %.1f ms, of %zu\n",
        median(times_ms), times_ms[times_ms.size() * 95 / 100], times_ms.size());
}

void suggestion(MainWindow& window)
{
    std::vector<double> times_ms;
    for (int n = 0; n < 3; ++n) {
        QElapsedTimer timer;
        timer.start();
        if (!window.openDemo()) return;
        QSignalSpy reasoned(window.liveJob(), &LiveJob::reasoned);
        if (!reasoned.wait(60000)) return;
        times_ms.push_back(since_ms(timer));
    }
    std::printf("job opened to first suggestion: median %.0f ms\n", median(times_ms));
}

void recording(MainWindow& window, const QString& path)
{
    constexpr int rows = 10'000'000;
    {
        std::ofstream out(path.toStdString(), std::ios::binary);
        out << "time,current,voltage\ns,A,V\n";
        char line[64];
        for (int i = 0; i < rows; ++i) {
            const int n = std::snprintf(line, sizeof line, "%.6f,%.4f,%.3f\n", 1e-6 * i,
                                        i % 80000 < 5000 ? 1.9 : 0.01 * (i % 7), i % 80000 < 5000 ? 0.3 : 13.2);
            out.write(line, n);
        }
    }
    QTest::keyClick(&window, Qt::Key_F8);
    TraceModel* model = window.traces()->model();
    QSignalSpy first(model, &TraceModel::previewed), ready(model, &TraceModel::ready);
    QElapsedTimer timer;
    timer.start();
    window.traces()->open(path);
    if (!first.wait(60000)) return;
    window.grab();
    const double picture_ms = since_ms(timer);
    if (!ready.wait(120000)) return;
    std::printf("ten million rows: first picture after %.0f ms, measured after %.1f s\n", picture_ms,
                since_ms(timer) / 1e3);
    std::vector<double> frames_ms;
    for (int n = 0; n < 40; ++n) {
        QTest::keyClick(&window, n % 4 < 2 ? Qt::Key_Plus : Qt::Key_Minus);
        timer.restart();
        window.grab();
        frames_ms.push_back(since_ms(timer));
    }
    std::printf("a frame of the whole window with them: median %.1f ms\n", median(frames_ms));
}

}  // namespace

int main(int count, char** arguments)
{
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
    figures(window);
    suggestion(window);
    recording(window, folder.filePath(QStringLiteral("rows.csv")));
    return 0;
}
