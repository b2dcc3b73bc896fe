// Ilvek's window: options, theme, the first screen.
#include <spdlog/spdlog.h>

#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QElapsedTimer>
#include <QStandardPaths>
#include <QTimer>

#include "main_window.h"
#include "theme.h"

int main(int count, char** arguments)
{
    QElapsedTimer sinceStart;
    sinceStart.start();
    QApplication application(count, arguments);
    QApplication::setApplicationName(QStringLiteral("ilvek"));
    QApplication::setApplicationDisplayName(QStringLiteral("Ilvek"));
    QApplication::setApplicationVersion(QStringLiteral(ILVEK_VERSION));
    QCommandLineParser parser;
    parser.setApplicationDescription(QStringLiteral("Verify a control module's powers, grounds and signals before condemning it."));
    parser.addHelpOption();
    parser.addVersionOption();
    const QCommandLineOption demo(QStringLiteral("demo"), QStringLiteral("Open the demonstration job."));
    const QCommandLineOption job(QStringLiteral("job"), QStringLiteral("Open this job file."), QStringLiteral("FILE"));
    const QCommandLineOption map(QStringLiteral("map"), QStringLiteral("Start a new job on this map."), QStringLiteral("FILE"));
    const QCommandLineOption handOver(QStringLiteral("hand-over"), QStringLiteral("Open this hand-over file as a new job."), QStringLiteral("FILE"));
    const QCommandLineOption night(QStringLiteral("night"), QStringLiteral("Use the night theme."));
    const QCommandLineOption times(QStringLiteral("print-times"), QStringLiteral("Print how long the start took, then quit."));
    parser.addOptions({demo, job, map, handOver, night, times});
    parser.process(application);

    ilvek::app::loadFonts();
    QApplication::setStyle(ilvek::app::makeStyle());
    ilvek::app::Theme::use(parser.isSet(night));
    const QString folder = QDir(QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation)).filePath(QStringLiteral("ilvek/jobs"));
    ilvek::app::MainWindow window(folder);
    bool opened = true;
    if (parser.isSet(job)) opened = window.openJob(parser.value(job));
    else if (parser.isSet(handOver)) opened = window.openHandOver(parser.value(handOver));
    else if (parser.isSet(map)) opened = window.openMap(parser.value(map));
    else if (parser.isSet(demo)) opened = window.openDemo();
    if (!opened) spdlog::warn("what was asked for could not be opened; the window says why");
    window.show();
    if (parser.isSet(times)) {
        QTimer::singleShot(0, &window, [&] {
            window.repaint();
            spdlog::info("usable after {} ms", sinceStart.elapsed());
            QApplication::quit();
        });
    }
    return QApplication::exec();
}
