// SIGKILL between readings, many times: every reading that the window had shown as taken is found afterwards.
#include <gtest/gtest.h>

#include <QProcess>
#include <QTemporaryDir>
#include <map>

#include "job/journal.h"

namespace ilvek {
namespace {

TEST(Killed, EveryReadingShownAsTakenIsFoundAgain)
{
    const QTemporaryDir folder;
    std::map<long long, std::string> shown;
    for (int round = 0; round < 12; ++round) {
        QProcess victim;
        victim.start(QStringLiteral(ILVEK_KILL_VICTIM), {folder.path()});
        const int wanted = 1 + round % 4;
        for (int lines = 0; lines < wanted; ++lines) {
            while (!victim.canReadLine())
                ASSERT_TRUE(victim.waitForReadyRead(60'000))
                    << "round " << round << ": " << victim.readAllStandardError().toStdString();
            const QByteArray line = victim.readLine().trimmed();
            shown[line.left(line.indexOf(' ')).toLongLong()] = line.mid(line.indexOf(' ') + 1).toStdString();
        }
        victim.kill();  // SIGKILL
        ASSERT_TRUE(victim.waitForFinished(60'000));
        for (const QByteArray& line : victim.readAll().trimmed().split('\n')) {
            if (line.contains(' '))
                shown[line.left(line.indexOf(' ')).toLongLong()] = line.mid(line.indexOf(' ') + 1).toStdString();
        }
        const auto journal = Journal::open(folder.filePath(QStringLiteral("demonstration.ilvek")).toStdString());
        ASSERT_TRUE(journal) << journal.error().message();
        for (const auto& [id, figure] : shown) {
            ASSERT_LE(static_cast<std::size_t>(id), journal->events().size()) << "round " << round;
            const auto* reading = std::get_if<Reading>(&journal->events()[static_cast<std::size_t>(id - 1)].body);
            ASSERT_NE(reading, nullptr);
            EXPECT_EQ(formatQuantity(reading->value), figure);
        }
    }
    EXPECT_GE(shown.size(), 24U);
}

}  // namespace
}  // namespace ilvek
