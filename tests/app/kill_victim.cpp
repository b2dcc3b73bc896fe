// A window that takes one reading after the other and reports each only once it is shown as taken, until it is killed.
#include <QApplication>
#include <QTest>
#include <cstdio>

#include "main_window.h"
#include "screens/prove/prove_screen.h"
#include "theme.h"
#include "widgets/reading_dock.h"

int main(int count, char** arguments)
{
    using namespace ilvek::app;
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(count, arguments);
    loadFonts();
    Theme::use(false);
    MainWindow window(QString::fromLocal8Bit(arguments[1]));
    window.show();
    if (!window.openDemo()) return 1;
    for (int n = 0;; ++n) {
        window.liveJob()->demand(ilvek::TestKind::Battery);
        QTest::keyClicks(&window, QStringLiteral("12.%1").arg(n % 100, 2, 10, QLatin1Char('0')));
        QTest::keyClick(&window, Qt::Key_Return);
        if (window.prove()->dock()->isTyping() || window.prove()->dock()->verdict().isEmpty()) return 2;
        std::printf("%lld %s\n", static_cast<long long>(window.liveJob()->journal().events().back().id),
                    ilvek::formatQuantity(window.liveJob()->lastReading()->value).c_str());
        std::fflush(stdout);
    }
}
