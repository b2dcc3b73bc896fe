#include "job/machine_file.h"

#include <gmock/gmock.h>

#include <fstream>

#include "base/file.h"
#include "bench_map/pin_sheet.h"
#include "bench_map/sheet_map.h"
#include "job/file_kind.h"
#include "job/job.h"
#include "support/maps.h"

namespace ilvek {
namespace {

using testing::HasSubstr;

std::string hauler(const std::string& variant)
{
    const auto sheet = readPinSheet(test::sourceText("data/sheets/hauler-24v.csv"), "hauler");
    return mapFromSheet(sheet->rows, {"nobody's", "hauler", "HC-1", 24, variant}).value();
}

std::string row(const char* cavity, std::string PinRow::*cell, const char* words)
{
    PinRow out;
    readCavity(cavity, out);
    out.*cell = words;
    return writePinRow(out);
}

TEST(MachineFile, CorrectionsOfAJobGoBackBesideTheDrawing)
{
    const test::TemporaryFolder folder;
    const std::string document = hauler("");
    auto first = Journal::create(folder / "first.ilvek", document);
    ASSERT_TRUE(first);
    ASSERT_TRUE(first->append(JobDetails{"first job", "", "", "", ""}, 1000));
    ASSERT_TRUE(first->append(MapCorrection{"A1", row("A1", &PinRow::current, "6.5 A")}, 2000));
    ASSERT_TRUE(first->append(MapCorrection{"A2", row("A2", &PinRow::asFound, "empty")}, 3000));
    ASSERT_TRUE(first->append(Undo{3}, 4000));
    const auto kept = keepMachine(folder / "machines", machineOf(*first));
    ASSERT_TRUE(kept);
    auto machine = readMachineFile(*kept);
    ASSERT_TRUE(machine) << machine.error().front().message();
    EXPECT_EQ(machine->document, document) << "as drawn";
    ASSERT_EQ(machine->found.size(), 1U) << "what was taken back was not found";
    EXPECT_EQ(machine->found[0].job, "first job");
    EXPECT_EQ(machine->found[0].time_ms, 2000);

    auto second = newJobOn(*machine, folder / "second.ilvek", 9000);
    ASSERT_TRUE(second);
    EXPECT_EQ(second->mapDocument(), document);
    ASSERT_TRUE(second->append(MapCorrection{"A3", row("A3", &PinRow::colour, "white")}, 9500));
    const auto job = foldJob(second->content());
    ASSERT_TRUE(job);
    const Terminal& a1 = job->map.terminal(job->map.terminalIndex("A1"));
    EXPECT_TRUE(job->map.isCurrentStated(a1));
    EXPECT_EQ(job->corrections.size(), 2U);
    const Machine now = machineOf(*second, &*machine);
    ASSERT_EQ(now.found.size(), 2U);
    EXPECT_EQ(now.found[0], machine->found[0]) << "found by the first job still";
}

TEST(MachineFile, WhatAnotherJobFoundMeanwhileIsNotLost)
{
    const test::TemporaryFolder folder;
    const Machine drawn{hauler(""), {}};
    auto one = newJobOn(drawn, folder / "one.ilvek", 1), two = newJobOn(drawn, folder / "two.ilvek", 1);
    ASSERT_TRUE(one && two);
    ASSERT_TRUE(one->append(MapCorrection{"A1", row("A1", &PinRow::current, "6.5 A")}, 2));
    ASSERT_TRUE(two->append(MapCorrection{"A3", row("A3", &PinRow::colour, "white")}, 3));
    const Machine first = machineOf(*one, &drawn), both = machineOf(*two, &first);
    EXPECT_EQ(both.found.size(), 2U);
    EXPECT_TRUE(
        isSameDrawing(test::pt9().document, readMachine(writeMachine({test::pt9().document, {}}), "m")->document));
    EXPECT_FALSE(isSameDrawing(hauler(""), hauler("second series")));
    ASSERT_TRUE(one->append(Undo{1}, 4));
    const Machine after = machineOf(*one, &both);
    ASSERT_EQ(after.found.size(), 1U) << "what the job took back, and only that";
    EXPECT_EQ(after.found[0].row, row("A3", &PinRow::colour, "white"));
}

TEST(MachineFile, MachinesAreToldApartByNameVariantAndModule)
{
    const test::TemporaryFolder folder;
    const auto one = keepMachine(folder / "m", {hauler("first series"), {}});
    const auto two = keepMachine(folder / "m", {hauler("second series"), {}});
    const auto same = keepMachine(folder / "m", {hauler("first series"), {}});
    // Names that differ only where a file's name cannot.
    const auto odd = keepMachine(folder / "m", {hauler("first / series"), {}});
    ASSERT_TRUE(one && two && same && odd);
    EXPECT_EQ(*one, *same);
    EXPECT_NE(*one, *odd);
    std::ofstream(folder / "m" / "other.json") << "{\"format\": \"something\"}";
    std::vector<std::string> titles;
    for (const KeptMachine& machine : machinesIn(folder / "m"))
        titles.push_back(machine.title);
    EXPECT_THAT(titles,
                testing::ElementsAre("nobody's hauler, first / series · HC-1", "nobody's hauler, first series · HC-1",
                                     "nobody's hauler, second series · HC-1"));
    EXPECT_EQ(fileKindOf(*one), FileKind::Machine);
}

TEST(MachineFile, WhatIsWrongIsNamed)
{
    const auto problem = [](const std::string& text) {
        const auto read = readMachine(text, "m.json");
        return read ? std::string() : read.error().front().message();
    };
    EXPECT_THAT(problem("[]"), HasSubstr("m.json"));
    EXPECT_THAT(problem(R"({"format": "ilvek-map"})"), HasSubstr("not a machine that Ilvek kept"));
    const std::string good = writeMachine({hauler(""), {{row("A1", &PinRow::current, "6.5 A"), 0, ""}}});
    EXPECT_EQ(problem(good), "");
    std::string bad = good;
    bad.replace(bad.find("\"6.5 A\""), 7, "\"plenty\"");
    EXPECT_THAT(problem(bad), HasSubstr("“plenty” is no current"));
    std::string late = good;
    late.replace(late.rfind("1970"), 4, "never");
    EXPECT_THAT(problem(late), HasSubstr("time"));
}

}  // namespace
}  // namespace ilvek
