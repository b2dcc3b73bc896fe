// One job, one truth: window, command line, report and practice say the same of the same journal, word for word.
#include <gmock/gmock.h>

#include <QProcess>
#include <QSignalSpy>
#include <QTextDocument>

#include "app/window.h"
#include "base/file.h"
#include "job/hand_over.h"
#include "machine/map_reader.h"
#include "practice/story.h"

namespace ilvek::app {
namespace {

using test::Window;

QString cli(const QStringList& arguments)
{
    QProcess process;
    process.start(QStringLiteral(ILVEK_CLI), arguments);
    EXPECT_TRUE(process.waitForFinished(120'000));
    return QString::fromUtf8(process.readAllStandardOutput());
}

// Ten of the stories, evenly from the list by name.
std::vector<std::string> stories()
{
    std::vector<std::string> all;
    for (const auto& entry : std::filesystem::directory_iterator(std::string(ILVEK_SOURCE_DIR) + "/data/stories")) {
        if (entry.path().extension() == ".json") all.push_back(entry.path().string());
    }
    std::sort(all.begin(), all.end());
    constexpr std::size_t many = 10;
    std::vector<std::string> out;
    for (std::size_t i = 0; i < many && !all.empty(); ++i)
        out.push_back(all[i * all.size() / many]);
    return out;
}

class OneTruth : public testing::TestWithParam<std::string> {};
INSTANTIATE_TEST_SUITE_P(Of, OneTruth, testing::ValuesIn(stories()), [](const auto& p) {
    std::string name = std::filesystem::path(p.param).stem().string();
    std::erase_if(name, [](char c) { return std::isalnum(static_cast<unsigned char>(c)) == 0; });
    return name;
});

// The story's journal at its middle and at its end.
TEST_P(OneTruth, WindowCommandLineAndReportSayTheSame)
{
    const auto story = practice::readStory(GetParam());
    ASSERT_TRUE(story);
    for (const std::size_t share : {2U, 1U}) {
        practice::Story part = *story;
        part.steps.resize((part.steps.size() + share - 1) / share);
        const practice::StoryRun told = practice::run(part);
        const JobContent& content = told.content;
        Window window;
        const QString path = window.path(QStringLiteral("job.ilvek"));
        ASSERT_TRUE(Journal::create(path.toStdString(), content));
        ASSERT_TRUE(window->openJob(path));
        QSignalSpy answered(window->liveJob(), &LiveJob::reasoned);
        const auto weighed = [&] {
            const Reasoning* r = window->liveJob()->reasoning();
            return r && r->revision == content.events.back().id && r->built == r->toBuild;
        };
        while (!weighed())
            ASSERT_TRUE(answered.wait(60'000));
        const Gate& gate = window->liveJob()->gate();
        const Reasoning& r = *window->liveJob()->reasoning();
        EXPECT_EQ(told.gate.sentence, gate.sentence);
        EXPECT_EQ(told.gate.located, gate.located);
        EXPECT_EQ(told.gate.alternative, gate.alternative);
        ASSERT_FALSE(told.reasoning.groups.empty());
        EXPECT_EQ(told.reasoning.groups.front().words, r.groups.front().words);
        EXPECT_EQ(told.reasoning.conclusion.words, r.conclusion.words);

        const QString copy = window.path(QStringLiteral("copy.json"));
        ASSERT_TRUE(exportContent(content, copy.toStdString(), {}));
        const QString said = cli({QStringLiteral("job"), QStringLiteral("gate"), copy});
        EXPECT_TRUE(said.startsWith(QString::fromStdString(gate.sentence))) << said.toStdString();
        if (!gate.located.empty()) {
            EXPECT_TRUE(said.contains(QString::fromStdString("Located so far: " + gate.located))) << said.toStdString();
        }
        for (const GateLine& line : gate.lines)
            EXPECT_TRUE(said.contains(QString::fromStdString(line.title)));

        const QString suspects = cli({QStringLiteral("job"), QStringLiteral("suspects"), copy});
        for (std::size_t g = 0; g < r.groups.size() && g < 3 && r.groups[g].probability > 0.01; ++g) {
            const QString line = QString::asprintf("%6.1f %%  ", 100 * r.groups[g].probability) +
                                 QString::fromStdString(r.groups[g].words);
            EXPECT_TRUE(suspects.contains(line)) << line.toStdString() << "\n" << suspects.toStdString();
        }

        const QString out = window.path(QStringLiteral("report.html"));
        cli({QStringLiteral("job"), QStringLiteral("report"), copy, out});
        const auto html = readFile(out.toStdString());
        ASSERT_TRUE(html);
        QTextDocument document;
        document.setHtml(QString::fromStdString(*html));
        EXPECT_TRUE(document.toPlainText().contains(QString::fromStdString(gate.sentence)));
    }
}

}  // namespace
}  // namespace ilvek::app
