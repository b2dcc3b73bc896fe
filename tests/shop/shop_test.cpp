// A shop's server: two benches, refused where they would write over each other, nothing lost when it dies.
#include "shop/shop.h"

#include "base/file.h"
#include "experience/known_good.h"
#include "job/journal.h"
#include "shop/shared_files.h"

#include <gtest/gtest.h>

#include <fmt/format.h>
#include <sys/wait.h>

#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <thread>

#include "support/maps.h"

namespace ilvek {
namespace {

// A server of its own for the test, in a folder that PostgreSQL's user can reach.
class Server {
public:
    Server()
    {
        folder_ = std::filesystem::temp_directory_path() / ("ilvek-shop-" + std::to_string(::getpid()));
        std::filesystem::remove_all(folder_);
        port_ = 20000 + static_cast<int>(::getpid()) % 20000;
        start();
    }
    ~Server()
    {
        run("kill");
        std::filesystem::remove_all(folder_);
    }
    void start() { line_ = run("start"); }
    void kill() { run("kill"); }
    const std::string& line() const { return line_; }

private:
    std::string run(const std::string& what)
    {
        const std::string command = std::string(ILVEK_SOURCE_DIR) + "/scripts/shop-server.sh " + what + " " +
                                    folder_.string() + " " + std::to_string(port_);
        std::string out;
        FILE* pipe = ::popen(command.c_str(), "r");
        for (int c = std::fgetc(pipe); c != EOF; c = std::fgetc(pipe))
            out += static_cast<char>(c);
        ::pclose(pipe);
        while (!out.empty() && out.back() == '\n')
            out.pop_back();
        return out;
    }
    std::filesystem::path folder_;
    int port_ = 0;
    std::string line_;
};

JobContent jobOf(int entries)
{
    JobContent content;
    content.mapDocument = test::smallMap().document;
    for (int i = 1; i <= entries; ++i)
        content.events.push_back({i, 1000 * i, Note{"entry " + std::to_string(i)}});
    return content;
}

TEST(Shop, KeepsNoPasswordAndSaysWhereItBelongs)
{
    EXPECT_TRUE(checkServerLine("host=shop dbname=ilvek sslmode=verify-full"));
    for (const char* line : {"host=shop password=x", "postgresql://anna:x@shop/ilvek"}) {
        const auto checked = checkServerLine(line);
        ASSERT_FALSE(checked) << line;
        EXPECT_NE(checked.error().message().find(".pgpass"), std::string::npos);
    }
    EXPECT_TRUE(checkServerLine("postgresql://anna@shop/ilvek"));
}

TEST(Shop, AServerThatIsNotThereIsAnErrorInWords)
{
    const auto shop = Shop::connect("host=127.0.0.1 port=1 connect_timeout=2 dbname=x", "bench 1");
    ASSERT_FALSE(shop);
    EXPECT_NE(shop.error().message().find("the shop's server"), std::string::npos);
}

TEST(Shop, ACopyThatWasHandedOverHasTheSameKey)
{
    EXPECT_EQ(jobKey(jobOf(3)), jobKey(jobOf(9)));
    JobContent other = jobOf(3);
    other.events.front().time_ms += 1;
    EXPECT_NE(jobKey(other), jobKey(jobOf(3)));
    EXPECT_EQ(jobKey(jobOf(0)), "");
}

TEST(Shop, TwoBenchesShareAJobAndNeitherWritesOverTheOther)
{
    Server server;
    auto one = Shop::connect(server.line(), "bench 1"), two = Shop::connect(server.line(), "bench 2");
    ASSERT_TRUE(one) << one.error().message();
    ASSERT_TRUE(two) << two.error().message();
    const std::string key = jobKey(jobOf(3));
    EXPECT_EQ(*one->push(jobOf(3), "Lights", "open"), 3);
    EXPECT_EQ(*one->push(jobOf(3), "Lights", "open"), 0) << "what is there is not pushed again";
    EXPECT_EQ(*one->push(jobOf(5), "Lights", "open"), 2);

    const auto refused = two->push(jobOf(6), "Lights", "open");
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.error().message().find("bench 1 works on this job since"), std::string::npos);
    EXPECT_FALSE(two->fetch(key, true));
    ASSERT_TRUE(two->fetch(key, false)) << "reading along is allowed";
    EXPECT_FALSE(two->release(key)) << "it is not theirs to give back";

    ASSERT_TRUE(one->release(key));
    const auto taken = two->fetch(key, true);
    ASSERT_TRUE(taken);
    ASSERT_EQ(taken->events.size(), 5U);
    EXPECT_EQ(taken->mapDocument, jobOf(5).mapDocument);
    EXPECT_EQ(std::get<Note>(taken->events[4].body).text, "entry 5");
    EXPECT_EQ(two->jobs()->front().holder, "bench 2");

    // Both went on with copies: the second is told, and nothing is written.
    JobContent mine = *taken, theirs = *taken;
    mine.events.push_back({6, 6000, Note{"at bench 2"}}), theirs.events.push_back({6, 6001, Note{"at bench 1"}});
    EXPECT_EQ(*two->push(mine, "Lights", "open"), 1);
    ASSERT_TRUE(two->release(key));
    const auto differs = one->push(theirs, "Lights", "open");
    ASSERT_FALSE(differs);
    EXPECT_NE(differs.error().message().find("another entry 6"), std::string::npos);
    EXPECT_EQ(std::get<Note>(two->fetch(key, false)->events.back().body).text, "at bench 2");
}

TEST(Shop, NothingIsLostWhenTheServerDiesInTheMiddle)
{
    Server server;
    constexpr int all = 4000;
    const JobContent whole = jobOf(all);
    auto shop = Shop::connect(server.line(), "bench 1");
    ASSERT_TRUE(shop) << shop.error().message();
    ASSERT_EQ(*shop->push(jobOf(10), "Long", "open"), 10);
    Result<std::int64_t> pushed = 0;
    std::thread pushing([&] { pushed = shop->push(whole, "Long", "open"); });
    std::this_thread::sleep_for(std::chrono::milliseconds(30));
    server.kill();
    pushing.join();
    server.start();
    auto again = Shop::connect(server.line(), "bench 1");
    ASSERT_TRUE(again) << again.error().message();
    const auto there = again->fetch(jobKey(whole), false);
    ASSERT_TRUE(there);
    // All of a push or nothing of it.
    EXPECT_EQ(there->events.size(), pushed ? static_cast<std::size_t>(all) : 10U);
    EXPECT_EQ(*again->push(whole, "Long", "open"),
              static_cast<std::int64_t>(all - static_cast<int>(there->events.size())));
    const auto complete = again->fetch(jobKey(whole), false);
    ASSERT_EQ(complete->events.size(), static_cast<std::size_t>(all));
    for (int i = 0; i < all; i += 371)
        EXPECT_EQ(writeBody(complete->events[static_cast<std::size_t>(i)].body),
                  writeBody(whole.events[static_cast<std::size_t>(i)].body));
}

// As it is in a shop: two programs, one server.
TEST(Shop, TwoProcessesOnOneJobAreRefusedClearly)
{
    Server server;
    const test::TemporaryFolder folder;
    const auto file = folder / "lights.ilvek";
    ASSERT_TRUE(Journal::create(file, jobOf(4)));
    const auto cli = [&](const std::string& bench, const std::string& what) {
        const std::string command =
            fmt::format("ILVEK_SHOP='{}' ILVEK_BENCH='{}' {} shop {} 2>&1", server.line(), bench, ILVEK_CLI, what);
        std::string out;
        FILE* pipe = ::popen(command.c_str(), "r");
        for (int c = std::fgetc(pipe); c != EOF; c = std::fgetc(pipe))
            out += static_cast<char>(c);
        return std::pair(WEXITSTATUS(::pclose(pipe)), out);
    };
    const auto first = cli("bench 1", "push " + file.string());
    EXPECT_EQ(first.first, 0) << first.second;
    EXPECT_NE(first.second.find("4 entries pushed"), std::string::npos) << first.second;
    const auto second = cli("bench 2", "push " + file.string());
    EXPECT_NE(second.first, 0);
    EXPECT_NE(second.second.find("bench 1 works on this job"), std::string::npos) << second.second;
    EXPECT_EQ(cli("bench 1", "release " + jobKey(jobOf(4))).first, 0);
    const auto copy = folder / "copy.ilvek";
    const auto fetched = cli("bench 2", "fetch " + jobKey(jobOf(4)) + " " + copy.string() + " --take");
    EXPECT_EQ(fetched.first, 0) << fetched.second;
    const auto journal = Journal::open(copy, Access::ReadOnly);
    ASSERT_TRUE(journal);
    EXPECT_EQ(journal->events().size(), 4U);
    EXPECT_NE(cli("bench 1", "list").second.find("at bench 2"), std::string::npos);
    server.kill();
    const auto gone = cli("bench 2", "push " + copy.string());
    EXPECT_NE(gone.first, 0);
    EXPECT_NE(gone.second.find("the shop's server"), std::string::npos) << gone.second;
    EXPECT_EQ(Journal::open(copy, Access::ReadOnly)->events().size(), 4U);
}

TEST(Shop, BenchesComeTogetherInMachinesAndKnownGoodFigures)
{
    Server server;
    const test::TemporaryFolder here, there;
    const auto good = [&](const test::TemporaryFolder& at, const std::string& machine, double figure) {
        Reading r;
        r.test = TestKind::Level, r.terminal = "A1", r.state = "key-on", r.red = "A1.a", r.black = "BAT.-";
        r.value = volts(figure);
        auto known = KnownGood::read(at / "known-good" / "loader.json");
        known->add({{machine, r}});
        std::filesystem::create_directories(at / "known-good");
        ASSERT_TRUE(known->write(at / "known-good" / "loader.json"));
    };
    std::filesystem::create_directories(here / "machines");
    std::filesystem::create_directories(there / "machines");
    ASSERT_TRUE(writeFile(here / "machines" / "loader.json", "{\"here\": 1}"));
    ASSERT_TRUE(writeFile(there / "machines" / "mixer.json", "{\"there\": 1}"));
    ASSERT_TRUE(writeFile(there / "machines" / "loader.json", "{\"there\": 2}"));
    good(here, "1", 4.8), good(there, "2", 5.1);
    auto one = Shop::connect(server.line(), "bench 1"), two = Shop::connect(server.line(), "bench 2");
    ASSERT_TRUE(one && two);
    const auto share = [&](Shop& shop, const test::TemporaryFolder& at) {
        return *shareFiles(shop, at / "machines", at / "known-good");
    };
    EXPECT_EQ(share(*one, here), 0);
    EXPECT_EQ(share(*two, there), 1) << "the figures of bench 1; its loader is not written over";
    EXPECT_EQ(share(*one, here), 2) << "the mixer, and the figures of bench 2";
    EXPECT_EQ(share(*two, there), 0);
    EXPECT_EQ(*readFile(there / "machines" / "loader.json"), "{\"there\": 2}");
    EXPECT_EQ(*readFile(here / "machines" / "mixer.json"), "{\"there\": 1}");
    for (const auto* at : {&here, &there})
        EXPECT_EQ(KnownGood::read(*at / "known-good" / "loader.json")->readings().size(), 2U);
}

TEST(Shop, MachinesAndFiguresAreThereForEveryBench)
{
    Server server;
    auto one = Shop::connect(server.line(), "bench 1"), two = Shop::connect(server.line(), "bench 2");
    ASSERT_TRUE(one && two);
    ASSERT_TRUE(one->put({"machine", "loader.json", "{\"a\": 1}"}));
    ASSERT_TRUE(two->put({"machine", "loader.json", "{\"a\": 2}"}));
    ASSERT_TRUE(one->put({"known-good", "loader.json", "{}"}));
    const auto files = one->files("machine");
    ASSERT_TRUE(files);
    ASSERT_EQ(files->size(), 1U);
    EXPECT_EQ(files->front().body, "{\"a\": 2}");
}

}  // namespace
}  // namespace ilvek
