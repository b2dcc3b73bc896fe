// The program as a script sees it: exit codes, text and JSON.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <sys/wait.h>

#include <cstdio>
#include <nlohmann/json.hpp>

#include "base/file.h"
#include "job/journal.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using testing::HasSubstr;

struct Ran {
    int exit = -1;
    std::string out;
};

Ran run(const std::string& arguments)
{
    Ran ran;
    std::FILE* pipe = ::popen((std::string(ILVEK_CLI) + " " + arguments + " 2>&1").c_str(), "r");
    char buffer[4096];
    for (std::size_t n = 0; (n = std::fread(buffer, 1, sizeof buffer, pipe)) > 0;)
        ran.out.append(buffer, n);
    ran.exit = WEXITSTATUS(::pclose(pipe));
    return ran;
}

std::string source(const std::string& path)
{
    return std::string(ILVEK_SOURCE_DIR) + "/" + path;
}

TEST(Cli, KeepsAMachineForTheNextJob)
{
    const test::TemporaryFolder folder;
    const std::string map = (folder / "hauler.json").string(), job = (folder / "a.ilvek").string();
    const std::string machine = (folder / "machine.json").string(), next = (folder / "b.ilvek").string();
    ASSERT_EQ(run("map from-sheet " + source("data/sheets/hauler-24v.csv") + " " + map + " --system-voltage 24").exit,
              0);
    {
        auto journal = Journal::create(job, *readFile(map));
        ASSERT_TRUE(journal);
        const std::string row = R"({"connector": "A", "cavity": 1, "current": "6 A"})";
        ASSERT_TRUE(journal->append(MapCorrection{"A1", row}, 1));
    }
    const Ran kept = run("job keep-machine " + job + " " + machine);
    EXPECT_EQ(kept.exit, 0);
    EXPECT_THAT(kept.out, HasSubstr("as drawn, and 1 as found"));
    EXPECT_EQ(run("job on-machine " + machine + " " + next).exit, 0);
    EXPECT_EQ(run("job on-machine " + machine + " " + next).exit, 3) << "never over another job";
    EXPECT_EQ(run("job on-machine " + map + " " + (folder / "c.ilvek").string()).exit, 2) << "a map is no machine";
    const auto second = Journal::open(next);
    ASSERT_TRUE(second);
    EXPECT_EQ(second->events().size(), 1U);
}

TEST(Cli, ChecksAMap)
{
    const Ran good = run("map check " + source("data/maps/pt-9.json"));
    EXPECT_EQ(good.exit, 0);
    EXPECT_THAT(good.out, HasSubstr("Vintergarn PT-9: sound."));
    const test::TemporaryFolder folder;
    std::string broken = test::smallMapText();
    broken.replace(broken.find("10 A"), 4, "10 X");
    ASSERT_TRUE(writeFile(folder / "b.json", broken));
    const Ran bad = run("map check " + (folder / "b.json").string());
    EXPECT_EQ(bad.exit, 2);
    EXPECT_THAT(bad.out, HasSubstr("b.json: element F1, rating"));
    const Ran json = run("map check --json " + (folder / "b.json").string());
    EXPECT_EQ(json.exit, 2);
    EXPECT_FALSE(nlohmann::json::parse(json.out)["ok"].get<bool>());
}

TEST(Cli, PrintsThePathOfATerminal)
{
    const Ran path = run("map path " + source("data/maps/pt-9.json") + " J2-1");
    EXPECT_EQ(path.exit, 0);
    EXPECT_THAT(path.out, HasSubstr("battery plus"));
    EXPECT_THAT(path.out, HasSubstr("X4-7"));
    EXPECT_THAT(path.out, HasSubstr("battery minus"));
    const auto json = nlohmann::json::parse(run("map path --json " + source("data/maps/pt-9.json") + " J2-1").out);
    EXPECT_EQ(json["own_return"], "J2-3");
    EXPECT_EQ(run("map path " + source("data/maps/pt-9.json") + " Z9-9").exit, 2);
    EXPECT_EQ(run("map path " + source("data/maps/pt-9.json") + " J2-11").exit, 0) << "a drive, by way of its load";
}

TEST(Cli, ProbesLooksAndJudgesAPracticeCase)
{
    const std::string machine = source("data/maps/pt-9.json") + " ";
    const std::string variant = machine + source("data/practice/map-error-j2-28.json");
    const std::string loose = machine + source("data/practice/loose-stud-g2.json");
    const Ran list = run("practice list " + machine + source("data/practice"));
    EXPECT_EQ(list.exit, 0);
    EXPECT_THAT(list.out, HasSubstr("map-error-j2-28"));
    EXPECT_THAT(run("practice look " + variant + " J2-28").out, HasSubstr("empty cavity"));
    EXPECT_THAT(run("practice look " + variant + " J2-1").out, HasSubstr("as drawn"));
    EXPECT_EQ(run("practice look " + variant + " J9-1").exit, 2);
    const auto read = nlohmann::json::parse(run("practice probe --json " + variant + " --red B1.+").out);
    EXPECT_NEAR(read["value"].get<double>(), 12.5, 0.3);
    EXPECT_EQ(run("practice verdict " + loose + " DCU-54").exit, 4) << "a good module is not to be condemned";
}

TEST(Cli, ReasonsAboutAJob)
{
    const test::TemporaryFolder folder;
    const std::string job = (folder / "demo.ilvek").string();
    ASSERT_EQ(run("job import " + source("data/demo/reduced-power.json") + " " + job).exit, 0);
    // On paper: the joint before the drive supply explains all that fails, and contradicts nothing that works.
    const auto shared = nlohmann::json::parse(run("job common-cause --json " + job).out);
    ASSERT_FALSE(shared.empty());
    EXPECT_EQ(shared[0]["id"], "X4-7 added resistance");
    EXPECT_GE(shared[0]["explains"].size(), 3U);
    EXPECT_TRUE(shared[0]["contradicts"].empty());
    for (std::size_t i = 1; i < shared.size(); ++i)
        EXPECT_LE(shared[i]["probability"].get<double>(), shared[i - 1]["probability"].get<double>());
    // With the readings.
    const auto all = nlohmann::json::parse(run("job suspects --json " + job).out);
    double sum = 0;
    for (const auto& group : all["groups"]) {
        sum += group["probability"].get<double>();
        EXPECT_FALSE(group["words"].get<std::string>().empty());
    }
    EXPECT_NEAR(sum, 1, 1e-3);
    ASSERT_FALSE(all["suspects"].empty());
    EXPECT_GE(all["suspects"][0]["readings"].size(), 12U) << "predicted against measured, for every reading";
    const auto tests = nlohmann::json::parse(run("job next --json " + job).out);
    ASSERT_GE(tests.size(), 1U);
    EXPECT_LE(tests.size(), 3U);
    for (const auto& t : tests) {
        EXPECT_GT(t["bits"].get<double>(), 0);
        EXPECT_GT(t["minutes"].get<double>(), 0);
        EXPECT_FALSE(t["reason"].get<std::string>().empty());
    }
    EXPECT_EQ(run("job next " + job + ".not").exit, 2);
}

TEST(Cli, MakesAMapFromASheet)
{
    const test::TemporaryFolder folder;
    const std::string out = (folder / "m.json").string();
    EXPECT_EQ(run("map from-sheet " + source("data/sheets/hauler-24v.csv") + " " + out +
                  " --system-voltage 24 --module BHC-2")
                  .exit,
              0);
    EXPECT_EQ(run("map check " + out).exit, 0);
    EXPECT_THAT(run("map template").out, HasSubstr("cavity,circuit,role"));
    EXPECT_EQ(run("map from-sheet " + source("README.md") + " " + out).exit, 2);
}

TEST(Cli, JudgesGatesReportsExportsAndImports)
{
    const test::TemporaryFolder folder;
    const std::string job = (folder / "demo.ilvek").string();
    EXPECT_EQ(run("job import " + source("data/demo/reduced-power.json") + " " + job).exit, 0);
    EXPECT_EQ(run("job import " + source("data/demo/reduced-power.json") + " " + job).exit, 2) << "it exists already";
    EXPECT_THAT(run("job judge " + job).out, HasSubstr("J1-7"));
    const auto judged = nlohmann::json::parse(run("job judge --json " + job).out);
    EXPECT_GE(judged["readings"].size(), 12U);
    const Ran gate = run("job gate " + job);
    EXPECT_EQ(gate.exit, 4) << "not to be condemned";
    EXPECT_THAT(gate.out, HasSubstr("Not proven."));
    EXPECT_EQ(nlohmann::json::parse(run("job gate --json " + job).out)["outcome"], "not proven");
    EXPECT_EQ(run("job report " + job + " " + (folder / "r.html").string()).exit, 0);
    EXPECT_THAT(readFile(folder / "r.html").value_or(""), HasSubstr("<!DOCTYPE html>"));
    // The suspects have their say in both: what is still possible stands in the report as the gate says it.
    const auto said = nlohmann::json::parse(run("job gate --json " + job).out);
    const std::string alternative = said["alternative"];
    EXPECT_THAT(readFile(folder / "r.html").value_or(""), HasSubstr(alternative.substr(0, alternative.find(" ("))));
    EXPECT_EQ(run("job report --format csv " + job + " " + (folder / "r.csv").string()).exit, 0);
    EXPECT_EQ(run("job report " + job + " /no/such/place.html").exit, 3);
    EXPECT_EQ(run("job export " + job + " " + (folder / "again.json").string()).exit, 0);
    EXPECT_EQ(run("job judge --json " + (folder / "again.json").string()).out, run("job judge --json " + job).out);
}

TEST(Cli, AFiringOrderMayHaveMoreThanNineCylinders)
{
    const std::string file = source("data/traces/injectors-sound.csv");
    EXPECT_EQ(run("trace measure " + file + " --order 1342").out,
              run("trace measure " + file + " --order 1-3-4-2").out);
    EXPECT_EQ(run("trace measure " + file + " --order 1-10-9-4-3-6-5-8-7-2 --known 10").exit, 0);
    EXPECT_THAT(run("trace measure " + file + " --order 1-3-4-2 --known 10").out, HasSubstr("not in the firing order"));
    EXPECT_EQ(run("trace measure " + file + " --order 1-342").exit, 2) << "a number of three digits is no cylinder";
}

TEST(Cli, PredictsAReadingInACondition)
{
    const std::string map = source("data/maps/pt-9.json");
    EXPECT_EQ(run("predict " + map + " --red J2-1.a --state key-on").out, "12.50 V\n");
    EXPECT_EQ(run("predict " + map +
                  " --red J2-1.a --black J2-3.a --state key-on --unplug J2 --load lamp-55w --fault 'X4-7=4 Ω'")
                  .out,
              "3.34 V, 2.27 A in the load\n");
    EXPECT_EQ(run("predict " + map + " --red J2-1.a --state key-on --remove F15 --unplug J2").out, "floating\n");
    const auto json = nlohmann::json::parse(
        run("predict --json " + map + " --red J1-10.a --black J1-11.a --state key-on --fault THS.supply:G3=5").out);
    EXPECT_LT(json["voltage_V"].get<double>(), 2.0) << "reference 2 chafed to the frame drags reference 1 down";
    for (const char* wrong :
         {"--red nowhere", "--red J2-1.a --state asleep", "--red J2-1.a --fault X4-7", "--red J2-1.a --fault X4-7=much",
          "--red J2-1.a --load sun", "--red J2-1.a --unplug J9", "--red J2-1.a --fault A:B=1"})
        EXPECT_EQ(run("predict " + map + " " + wrong).exit, 2) << wrong;
}

TEST(Cli, PredictsWithCommandsJumpersAndOtherMeters)
{
    const std::string map = source("data/maps/pt-9.json");
    const auto predicted = [&](const std::string& rest) { return run("predict " + map + " " + rest).out; };
    EXPECT_EQ(predicted("--red J2-17.a --state key-on --command D-J2-17=on"), "12.50 V\n");
    EXPECT_EQ(predicted("--red J2-17.a --state key-on --command 'D-J2-17=40 %'"), "5.00 V\n") << "the mean";
    EXPECT_EQ(predicted("--red TD.control --state tiller-commanded --shut-down D-J2-19"),
              predicted("--red TD.control --state tiller-commanded --command D-J2-19=off"));
    EXPECT_EQ(predicted("--mode ohms --red TD.feed --black TD.control --state key-off --unplug X9"), "6.8 Ω\n");
    EXPECT_NE(predicted("--mode ohms --red TD.feed --state key-on").find("live"), std::string::npos);
    EXPECT_EQ(predicted("--red J2-1.a --state key-on --unplug J2 --remove F15 --jumper 'F15.in:F15.out=10 A'"),
              predicted("--red J2-1.a --state key-on --unplug J2"));
    EXPECT_NE(predicted("--red J2-1.a --state key-on --remove F15 --jumper 'F15.in:F15.out=10 A' --fault J2-1.a:G3=0.1")
                  .find("the jumper's fuse blows"),
              std::string::npos)
        << "and nothing else does";
    EXPECT_EQ(predicted("--mode amperes --clamp FMV FMV=backwards --state idle-warm"), "0 A\n");
    const auto json = nlohmann::json::parse(
        run("predict --json --mode amperes " + map + " --clamp FMV --state idle-warm --battery '13 V'").out);
    EXPECT_NEAR(json["current_A"].get<double>(), 0.99, 0.03);
    const auto trips = nlohmann::json::parse(
        run("predict --json " + map + " --red TD.control --state tiller-commanded --fault 'TDV=1 %'").out);
    EXPECT_FALSE(trips["shut_down"].empty() && trips["blown"].empty());
    for (const char* wrong :
         {"--red J2-1.a --jumper x", "--red J2-1.a --command W26=on", "--mode amperes",
          "--red J2-1.a --command D-J2-17=maybe", "--red J2-1.a --unpin J2-99", "--red J2-1.a --battery flat",
          "--red J2-1.a --shut-down nothing", "--mode amperes --clamp FMV=sideways"})
        EXPECT_EQ(run("predict " + map + " " + wrong).exit, 2) << wrong;
}

TEST(Cli, TellsWrongUsageFromWrongInput)
{
    EXPECT_EQ(run("").exit, 1);
    EXPECT_EQ(run("job dance x").exit, 1);
    EXPECT_EQ(run("--help").exit, 0);
    EXPECT_EQ(run("job judge /no/such/job").exit, 2);
}

TEST(Cli, MeasuresAndComparesARecording)
{
    const Ran info = run("trace info --json " + source("data/traces/injectors-3-weak.csv"));
    ASSERT_EQ(info.exit, 0) << info.out;
    EXPECT_EQ(nlohmann::json::parse(info.out)["channels"].size(), 3U);
    const Ran measured = run("trace measure --json " + source("data/traces/injectors-3-weak.csv"));
    ASSERT_EQ(measured.exit, 0) << measured.out;
    EXPECT_EQ(nlohmann::json::parse(measured.out)["pulses"].size(), 12U);
    const Ran weak = run("trace compare --json " + source("data/traces/injectors-3-weak.csv"));
    EXPECT_EQ(weak.exit, 4);
    EXPECT_EQ(nlohmann::json::parse(weak.out)["findings"][0]["cylinder"], 3);
    EXPECT_EQ(run("trace compare " + source("data/traces/injectors-sound.csv")).exit, 0);
    EXPECT_THAT(run("trace compare " + source("data/traces/injectors-3-missing-hot.csv")).out,
                HasSubstr("Cylinder 3: 2 of 3 pulses missing"));
    const Ran bad = run("trace info " + source("README.md"));
    EXPECT_EQ(bad.exit, 2);
    EXPECT_THAT(bad.out, HasSubstr("README.md"));
    const Ran signal =
        run("trace measure --as pulse-width --channel sync --json " + source("data/traces/injectors-sound.csv"));
    ASSERT_EQ(signal.exit, 0) << signal.out;
    EXPECT_THAT(signal.out, HasSubstr("\"id\": \"duty\""));
    const Ran part = run("trace compare --map " + source("data/maps/pt-9.json") + " --element INJ1 --json " +
                         source("data/traces/injectors-sound.csv"));
    EXPECT_EQ(part.exit, 0) << part.out;
    EXPECT_EQ(nlohmann::json::parse(part.out)["compared"].size(), 1U);
    EXPECT_EQ(run("trace compare --element INJ1 " + source("data/traces/injectors-sound.csv")).exit, 2);
}

// A level with a mark that was held while it fell, taken into a job at its terminal: the watch counts it.
TEST(Cli, TakesARecordingIntoAJob)
{
    const test::TemporaryFolder folder;
    const std::string map = (folder / "hauler.json").string(), job = (folder / "a.ilvek").string();
    ASSERT_EQ(run("map from-sheet " + source("data/sheets/hauler-24v.csv") + " " + map + " --system-voltage 24").exit,
              0);
    ASSERT_TRUE(Journal::create(job, *readFile(map)));
    std::string csv = "time s;A1 V;hinge V\n";
    for (int i = 0; i < 4000; ++i) {
        const bool touched = i % 1000 > 300 && i % 1000 < 500, drops = i % 1000 > 350 && i % 1000 < 360;
        csv += fmt::format("{:.3f};{:.2f};{}\n", 0.01 * i, (drops ? 17.0 : 25.0) + 0.01 * (i % 3), touched ? 5 : 0);
    }
    const std::string file = (folder / "loom.csv").string();
    ASSERT_TRUE(writeFile(file, csv));
    EXPECT_EQ(run("job recording " + job + " " + file + " --as level --channel A1 --terminal A99").exit, 2);
    const Ran taken = run("job recording " + job + " " + file + " --as level --channel A1 --terminal A1");
    EXPECT_EQ(taken.exit, 0) << taken.out;
    EXPECT_THAT(taken.out, HasSubstr("4 times"));
    const auto watch = nlohmann::json::parse(run("job procedures " + job + " watch A1 --json").out);
    std::string says;
    for (const auto& stage : watch[0]["stages"])
        says += stage.dump();
    EXPECT_THAT(says, HasSubstr("It happened 4 of 4 times there"));
}

TEST(Cli, MakesAndConvertsARecording)
{
    const test::TemporaryFolder folder;
    const std::string made = (folder / "made.csv").string(), npy = (folder / "made.npy").string();
    ASSERT_EQ(run("trace make injectors-3-missing-hot --noise 0.02 " + made).exit, 0);
    EXPECT_THAT(run("trace make").out, HasSubstr("crank-speed"));
    EXPECT_EQ(run("trace make no-such-one " + made).exit, 2);
    ASSERT_EQ(run("trace convert " + made + " " + npy).exit, 0);
    // Such a file holds no units: that its figures are amperes is said by the scale.
    EXPECT_THAT(run("trace compare --current 1 --control 2 --sync 3 " + npy).out, HasSubstr("clamp's scale"));
    EXPECT_THAT(run("trace compare --current 1 --clamp 1000 --control 2 --sync 3 " + npy).out,
                HasSubstr("Cylinder 3: 2 of 3 pulses missing"));
    const std::string kept = (folder / "kept.json").string();
    ASSERT_EQ(run("trace keep " + source("data/traces/injectors-sound.csv") + " " + kept).exit, 0);
    EXPECT_THAT(run("trace compare --sync - --known-good " + kept + " " + source("data/traces/tiller-down.csv")).out,
                HasSubstr("end current"));
    EXPECT_EQ(run("trace convert " + made + " " + (folder / "none/x.csv").string()).exit, 3);
}

// A job with one entry that cannot be read.
void makeDamagedJob(const std::filesystem::path& path)
{
    auto journal = Journal::create(path, test::smallMapText());
    ASSERT_TRUE(journal);
    for (int i = 1; i <= 5; ++i)
        ASSERT_TRUE(journal->append(Note{"note " + std::to_string(i)}, i));
    std::string bytes = *readFile(path);
    bytes[bytes.find("note 3") + 5] = 'x';
    ASSERT_TRUE(writeFile(path, bytes));
}

TEST(Cli, ChecksAndRescuesADamagedJob)
{
    const test::TemporaryFolder folder;
    const std::string job = (folder / "a.ilvek").string(), out = (folder / "b.ilvek").string();
    makeDamagedJob(job);
    const Ran check = run("job check " + job);
    EXPECT_EQ(check.exit, 2);
    EXPECT_THAT(check.out, HasSubstr("4 entries can be read"));
    EXPECT_THAT(check.out, HasSubstr("Entry 3 cannot be read"));
    const auto json = nlohmann::json::parse(run("job check --json " + job).out);
    EXPECT_EQ(json["set_aside"][0]["entry"], 3);
    EXPECT_EQ(run("job rescue " + job + " " + job).exit, 3) << "never onto itself";
    const std::string before = *readFile(job);
    const Ran rescue = run("job rescue " + job + " " + out);
    EXPECT_EQ(rescue.exit, 0) << rescue.out;
    EXPECT_THAT(rescue.out, HasSubstr("4 entries taken over, 1 that cannot be read kept beside them"));
    EXPECT_EQ(*readFile(job), before) << "left as it was";
    EXPECT_EQ(run("job check " + out).exit, 2) << "what cannot be read is still there";
    EXPECT_EQ(run("job judge " + out).exit, 0);
    EXPECT_EQ(run("job rescue " + job + " " + out).exit, 3) << "and never over another job";
}

TEST(Cli, RescuesEntriesWhoseMapIsGone)
{
    const test::TemporaryFolder folder;
    const std::string job = (folder / "a.ilvek").string(), out = (folder / "b.ilvek").string(),
                      map = (folder / "m.json").string();
    {
        auto journal = Journal::create(job, test::smallMapText());
        ASSERT_TRUE(journal->append(Note{"kept"}, 1));
    }
    std::string bytes = *readFile(job);
    for (auto at = bytes.find("ilvek-map"); at != std::string::npos; at = bytes.find("ilvek-map", at))
        bytes.replace(at, 9, "         ");
    ASSERT_TRUE(writeFile(job, bytes));
    ASSERT_TRUE(writeFile(map, test::smallMapText()));
    EXPECT_EQ(run("job check " + job).exit, 2);
    const Ran without = run("job rescue " + job + " " + out);
    EXPECT_EQ(without.exit, 2);
    EXPECT_THAT(without.out, HasSubstr("--map"));
    EXPECT_EQ(run("job rescue " + job + " " + out + " --map " + map).exit, 0);
    EXPECT_EQ(run("job export " + out + " " + (folder / "c.json").string()).exit, 0);
}

TEST(Cli, NeverWritesOntoWhatItReadsNorOverAJob)
{
    const test::TemporaryFolder folder;
    const std::string job = (folder / "a.ilvek").string(), other = (folder / "o.ilvek").string();
    {
        auto journal = Journal::create(job, test::smallMapText());
        ASSERT_TRUE(journal->append(Note{"x"}, 1));
        ASSERT_TRUE(Journal::create(other, test::smallMapText()));
    }
    const std::string before = *readFile(job);
    std::filesystem::create_symlink(job, folder / "link");
    const std::string trace = source("data/traces/tiller-down.csv"), sheet = source("data/sheets/hauler-24v.csv");
    for (const std::string& command :
         {"job report " + job + " " + job, "job report " + job + " " + other,
          "job report " + job + " " + (folder / "link").string(), "job export " + job + " " + job,
          "job export " + job + " " + other, "trace convert " + trace + " " + trace,
          "map from-sheet " + sheet + " " + sheet, "map from-sheet " + sheet + " " + other}) {
        const Ran ran = run(command);
        EXPECT_EQ(ran.exit, 3) << command << ": " << ran.out;
        EXPECT_THAT(ran.out, HasSubstr("another name")) << command;
    }
    EXPECT_EQ(*readFile(job), before);
}

TEST(Cli, AFullDiskIsSaidAndLeavesNothing)
{
    const test::TemporaryFolder folder;
    const std::string demo = source("data/demo/reduced-power.json");
    EXPECT_EQ(run("job report " + demo + " /dev/full").exit, 3);
    EXPECT_TRUE(std::filesystem::is_character_file("/dev/full")) << "a device is written into, not replaced";
    // Standard output onto a full disk.
    std::FILE* pipe =
        ::popen((std::string(ILVEK_CLI) + " job judge " + demo + " 2>/dev/null >/dev/full; echo $?").c_str(), "r");
    char answer[8] = "";
    ASSERT_TRUE(std::fgets(answer, sizeof answer, pipe));
    ::pclose(pipe);
    EXPECT_EQ(std::string(answer), "3\n");
    // A limit on the size of files does not end the program.
    for (const char* command : {"job import", "job report"}) {
        pipe = ::popen(("ulimit -f 2; " + std::string(ILVEK_CLI) + " " + command + " " + demo + " " +
                        (folder / "x").string() + " 2>/dev/null; echo $?")
                           .c_str(),
                       "r");
        ASSERT_TRUE(std::fgets(answer, sizeof answer, pipe));
        ::pclose(pipe);
        EXPECT_EQ(std::string(answer), "3\n") << command;
        EXPECT_TRUE(test::filesIn(folder.path()).empty()) << command;
    }
}

TEST(Cli, CellsThatASpreadsheetWouldRunAreNeutralised)
{
    const test::TemporaryFolder folder;
    ASSERT_TRUE(writeFile(folder / "a.csv", "time,=cmd()\ns,A\n0,0\n1e-5,1\n2e-5,2\n"));
    ASSERT_EQ(run("trace convert " + (folder / "a.csv").string() + " " + (folder / "b.csv").string()).exit, 0);
    EXPECT_THAT(*readFile(folder / "b.csv"), testing::StartsWith("time,\"'=cmd()\""));
    EXPECT_EQ(run("trace info " + (folder / "b.csv").string()).exit, 0) << "and is read again";
}

}  // namespace
}  // namespace ilvek
