#include "trace/study/drive_table.h"

#include <gtest/gtest.h>

#include "practice/waveforms.h"
#include "trace/study/study.h"

namespace ilvek {
namespace {

using Current = DriveSeen::Current;

struct Row {
    std::optional<bool> feed, off, on;
    Current current;
    DriveFault fault;
};

class DriveTable : public testing::TestWithParam<Row> {};

TEST_P(DriveTable, EachRowHasItsOwnMeaning)
{
    const Row& r = GetParam();
    EXPECT_EQ(driveFault({r.feed, r.off, r.on, r.current}), r.fault)
        << words(driveFault({r.feed, r.off, r.on, r.current}));
    EXPECT_FALSE(words(r.fault).empty());
}

INSTANTIATE_TEST_SUITE_P(
    Rows, DriveTable,
    testing::Values(Row{true, true, false, Current::Right, DriveFault::None},
                    Row{true, true, false, Current::High, DriveFault::ShortedWinding},
                    Row{true, true, false, Current::Low, DriveFault::TooMuchResistance},
                    Row{true, true, false, Current::None, DriveFault::Contradiction},
                    Row{true, true, true, Current::None, DriveFault::NoDrive},
                    Row{true, true, true, Current::Right, DriveFault::Contradiction},
                    Row{true, false, false, Current::None, DriveFault::OpenWinding},
                    Row{true, false, false, Current::Always, DriveFault::StuckOn},
                    Row{true, false, true, Current::None, DriveFault::Contradiction},
                    Row{false, false, false, Current::None, DriveFault::OpenFeed},
                    Row{false, true, false, Current::Right, DriveFault::Contradiction},
                    Row{true, true, false, Current::Always, DriveFault::Contradiction},
                    // Without the control side a missing current says nothing of whose fault it is.
                    Row{true, {}, {}, Current::None, DriveFault::None},
                    Row{{}, {}, {}, Current::Unknown, DriveFault::None}));

// No current on a known cylinder: the voltage at its drive says why.
TEST(Study, SaysWhyTheKnownCylinderIsMissing)
{
    for (const bool driverDead : {false, true}) {
        auto pulses = practice::firedInOrder({1, 3, 4, 2}, std::vector<practice::Winding>(4), 0.08, 5e-3, 4, {1});
        for (auto& p : pulses)
            p.driverDead = driverDead;
        practice::Recorder recorder;
        recorder.interval_s = 2e-5;
        recorder.current_A = 2;
        const auto made = practice::makeWinding(pulses, {}, recorder, 0.32, 1);
        const auto s = study(made.recording, {});
        ASSERT_TRUE(s) << s.error().message();
        EXPECT_NE(s->verdict.find("Cylinder 1: no pulse at all"), std::string::npos) << s->verdict;
        EXPECT_NE(s->verdict.find(words(driverDead ? DriveFault::NoDrive : DriveFault::OpenWinding)), std::string::npos)
            << s->verdict;
    }
}

}  // namespace
}  // namespace ilvek
