#include "base/file.h"

#include <gtest/gtest.h>
#include <unistd.h>

#include <fstream>

#include "support/maps.h"

namespace ilvek {
namespace {

TEST(File, WritesWholeAndReadsBack)
{
    const test::TemporaryFolder folder;
    const std::string bytes("a\0b\n", 4);
    ASSERT_TRUE(writeFile(folder / "x", bytes));
    EXPECT_EQ(readFile(folder / "x").value_or(""), bytes);
    EXPECT_FALSE(std::filesystem::exists((folder / "x").string() + ".part"));
}

TEST(File, NamesWhatCannotBeRead)
{
    const test::TemporaryFolder folder;
    EXPECT_EQ(readFile(folder / "none").error().reason, "there is no such file");
    EXPECT_EQ(readFile(folder.path()).error().reason, "this is a folder, not a file");
    EXPECT_EQ(readFile("/dev/zero").error().reason, "this is not an ordinary file");
}

TEST(File, RefusesWhatIsTooLargeToBeMeant)
{
    const test::TemporaryFolder folder;
    std::ofstream(folder / "huge").put('x');
    std::filesystem::resize_file(folder / "huge", largestTextFile_bytes + 1);
    EXPECT_FALSE(readFile(folder / "huge"));
}

TEST(File, KeepsTheOldFileWhenTheNewOneCannotBeWritten)
{
    EXPECT_FALSE(writeFile("/proc/none/x", "y"));
    EXPECT_FALSE(writeFile("/no/such/folder/x", "y"));
}

}  // namespace
}  // namespace ilvek
