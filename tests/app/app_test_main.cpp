// One application for all tests of the window, on the offscreen platform with a screen of 1280×800.
#include <gtest/gtest.h>

#include <QApplication>
#include <QFile>
#include <QTemporaryDir>

#include "theme.h"

int main(int count, char** arguments)
{
    testing::InitGoogleTest(&count, arguments);
    static QTemporaryDir folder;
    QFile screen(folder.filePath(QStringLiteral("screen.json")));
    if (screen.open(QIODevice::WriteOnly))
        screen.write(
            R"({"synchronousWindowSystemEvents":true,"windowFrameMargins":false,"screens":[{"name":"one","x":0,"y":0,"width":1920,"height":1200,"logicalDpi":96,"logicalBaseDpi":96,"dpr":1}]})");
    screen.close();
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM"))
        qputenv("QT_QPA_PLATFORM", "offscreen:configfile=" + screen.fileName().toUtf8());
    qputenv("XDG_RUNTIME_DIR", folder.path().toUtf8());
    QCoreApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
    QApplication application(count, arguments);
    ilvek::app::loadFonts();
    QApplication::setStyle(ilvek::app::makeStyle());
    ilvek::app::Theme::use(false);
    return RUN_ALL_TESTS();
}
