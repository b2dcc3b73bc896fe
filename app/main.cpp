// Ilvek's window: options, theme, the first screen.
#include <spdlog/spdlog.h>

#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QElapsedTimer>
#include <QScreen>
#include <QStandardPaths>
#include <QTimer>
#include <algorithm>
#include <fstream>
#include <string>

#include "base/file.h"
#include "main_window.h"
#include "theme.h"

namespace {

// A window laid out for 1280×800 is read from a metre and a half away; on a large screen that the desktop does not
// scale itself everything grows with it. SOURCE of the bounds: 1600×1000 is where the layout begins to look empty.
void scaleForLargeScreens(int& count, char** arguments)
{
    if (qEnvironmentVariableIsSet("QT_SCALE_FACTOR") || qEnvironmentVariableIsSet("QT_SCREEN_SCALE_FACTORS")) return;
    const QGuiApplication look(count, arguments);
    const QScreen* screen = QGuiApplication::primaryScreen();
    if (!screen || screen->devicePixelRatio() > 1.0) return;
    const double factor = std::min(screen->size().width() / 1600.0, screen->size().height() / 1000.0);
    if (factor > 1.2) qputenv("QT_SCALE_FACTOR", QByteArray::number(std::min(factor, 3.0), 'f', 2));
}

// Resident memory, MB, as the kernel counts it.
long residentMegabytes()
{
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);) {
        if (line.starts_with("VmRSS:")) return std::stol(line.substr(6)) / 1024;
    }
    return 0;
}

}  // namespace

int main(int count, char** arguments)
{
    QElapsedTimer sinceStart;
    sinceStart.start();
    ilvek::surviveFailedWrites();
    scaleForLargeScreens(count, arguments);
    QApplication application(count, arguments);
    QApplication::setApplicationName(QStringLiteral("ilvek"));
    QApplication::setApplicationDisplayName(QStringLiteral("Ilvek"));
    QApplication::setApplicationVersion(QStringLiteral(ILVEK_VERSION));
    QCommandLineParser parser;
    parser.setApplicationDescription(
        QStringLiteral("Verify a control module's powers, grounds and signals before condemning it."));
    parser.addHelpOption();
    parser.addVersionOption();
    const QCommandLineOption demo(QStringLiteral("demo"), QStringLiteral("Open the demonstration job."));
    const QCommandLineOption job(QStringLiteral("job"), QStringLiteral("Open this job file."), QStringLiteral("FILE"));
    const QCommandLineOption map(QStringLiteral("map"), QStringLiteral("Start a new job on this map."),
                                 QStringLiteral("FILE"));
    const QCommandLineOption handOver(QStringLiteral("hand-over"),
                                      QStringLiteral("Open this hand-over file as a new job."), QStringLiteral("FILE"));
    const QCommandLineOption night(QStringLiteral("night"), QStringLiteral("Use the night theme."));
    const QCommandLineOption times(QStringLiteral("print-times"),
                                   QStringLiteral("Print how long the start took, then quit."));
    parser.addOptions({demo, job, map, handOver, night, times});
    parser.addPositionalArgument(QStringLiteral("FILE"),
                                 QStringLiteral("A job, hand-over file, map, pin sheet or recording to open."),
                                 QStringLiteral("[FILE]"));
    parser.process(application);

    ilvek::app::loadFonts();
    QApplication::setStyle(ilvek::app::makeStyle());
    ilvek::app::Theme::use(parser.isSet(night));
    const QString folder = QDir(QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation))
                               .filePath(QStringLiteral("ilvek/jobs"));
    ilvek::app::MainWindow window(folder);
    bool opened = true;
    if (!parser.positionalArguments().isEmpty())
        opened = window.openFile(parser.positionalArguments().first());
    else if (parser.isSet(job))
        opened = window.openJob(parser.value(job));
    else if (parser.isSet(handOver))
        opened = window.openHandOver(parser.value(handOver));
    else if (parser.isSet(map))
        opened = window.openMap(parser.value(map));
    else if (parser.isSet(demo))
        opened = window.openDemo();
    if (!opened) spdlog::warn("what was asked for could not be opened; the window says why");
    window.show();
    if (parser.isSet(times)) {
        QTimer::singleShot(0, &window, [&] {
            window.repaint();
            spdlog::info("usable after {} ms, {} MB resident", sinceStart.elapsed(), residentMegabytes());
            QApplication::quit();
        });
    }
    return QApplication::exec();
}
