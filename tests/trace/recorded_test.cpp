// What a recording is taken for, and what must be said of it before anything is measured.
#include "trace/study/recorded.h"

#include <gmock/gmock.h>

#include "practice/drives.h"
#include "practice/waveforms.h"
#include "trace/study/study.h"

namespace ilvek {
namespace {

using practice::Track;
using testing::HasSubstr;

constexpr int samples = 10000;

Track steady(const char* name, Unit unit, double level, double full)
{
    return {name, unit, std::vector<double>(samples, level), full, 0.003};
}

Recording recordedOf(const std::vector<Track>& tracks)
{
    practice::Recorder r;
    r.interval_s = 5e-5;
    return practice::recorded(tracks, r);
}

std::string verdictOf(const Recording& r, const StudyWishes& wishes = {})
{
    const auto s = study(r, wishes);
    return s ? s->verdict : s.error().message();
}

TEST(Recorded, FiveShortsInAFeedAreNoMotor)
{
    Track feed = steady("Feed current", Unit::Ampere, 6, 60);
    for (const std::size_t at : {3000U, 4100U, 4900U, 7000U, 8800U})
        std::fill_n(feed.values.begin() + static_cast<std::ptrdiff_t>(at), 60, 30.0);
    const Recording r = recordedOf({feed});
    EXPECT_EQ(guessRecorded(r), Recorded::Level);
    EXPECT_THAT(verdictOf(r), HasSubstr("5 times"));
}

TEST(Recorded, ALampIsNoAmpereAndVoltsAreNoCoil)
{
    EXPECT_EQ(guessRecorded(recordedOf({steady("Lamp", Unit::Volt, 12, 20)})), Recorded::Level);
    EXPECT_FALSE(isNamedCurrent(recordedOf({steady("Amplitude", Unit::Volt, 12, 20)}).channels[0]));
    EXPECT_TRUE(isNamedCurrent(recordedOf({steady("Probe amp", Unit::Volt, 12, 20)}).channels[0]));
    EXPECT_TRUE(isNamedCurrent(recordedOf({steady("Amps", Unit::Volt, 12, 20)}).channels[0]));
    EXPECT_EQ(guessRecorded(recordedOf({steady("Coil primary", Unit::Volt, 12, 20)})), Recorded::Level);
    EXPECT_EQ(guessRecorded(recordedOf({steady("Duty terminal", Unit::Volt, 12, 20)})), Recorded::PulseWidth);
}

TEST(Recorded, VoltsOfAClampAreNoAmperesUntilItsScaleIsSaid)
{
    practice::Fired f;
    f.on_s = 2e-3, f.off_s = 7e-3;
    practice::Recorder recorder;
    Recording r = practice::makeWinding({f}, {}, recorder, 0.012).recording;
    Channel& clamp = r.channels[0];
    clamp.name = "Injector current", clamp.recordedUnit = Unit::Volt;
    const std::string why = verdictOf(r);
    EXPECT_THAT(why, HasSubstr("Injector current"));
    EXPECT_THAT(why, HasSubstr("clamp's scale"));
    clamp.scale.clamp_mVPerA = 1000;
    applyScale(clamp);
    EXPECT_THAT(verdictOf(r), HasSubstr("1 pulse found"));
}

// One lead in ten was called a winding with a tenth of its resistance.
TEST(Study, ALeadThatDividesIsAskedForBeforeAnythingIsCompared)
{
    practice::Fired f;
    f.on_s = 2e-3, f.off_s = 7e-3;
    Recording r = practice::makeWinding({f}, {}, {}, 0.012).recording;
    StudyWishes wishes;
    wishes.resistance_ohm = 14.65;
    EXPECT_THAT(verdictOf(r, wishes), HasSubstr("Nothing out of tolerance"));
    Channel& control = r.channels[1];
    control.unitScale /= 10;
    applyScale(control);
    for (const bool known : {false, true}) {
        if (known) wishes.system_V = 12;
        const auto s = study(r, wishes);
        ASSERT_TRUE(s);
        EXPECT_THAT(s->verdict, HasSubstr("The lead first"));
        EXPECT_FALSE(s->told.odd);
        EXPECT_TRUE(s->compared.empty());
        EXPECT_EQ(s->verdict.find("divide by 10") != std::string::npos, known);
    }
    control.scale.attenuation = 10;
    applyScale(control);
    EXPECT_THAT(verdictOf(r, wishes), HasSubstr("Nothing out of tolerance"));
}

struct Row {
    double current_A, control_V, feed_V;
    DriveFault fault;
};
class DriveRows : public testing::TestWithParam<Row> {};
TEST_P(DriveRows, OfACurrentThatStandsStillAreTold)
{
    const Row row = GetParam();
    const auto s = study(recordedOf({steady("Injector current", Unit::Ampere, row.current_A, 4),
                                     steady("Control voltage", Unit::Volt, row.control_V, 40),
                                     steady("Feed voltage", Unit::Volt, row.feed_V, 40)}),
                         {});
    ASSERT_TRUE(s) << s.error().message();
    EXPECT_EQ(s->driveFault, row.fault) << s->verdict;
    EXPECT_TRUE(s->told.odd);
}
INSTANTIATE_TEST_SUITE_P(All, DriveRows,
                         testing::Values(Row{0, 0.05, 0.02, DriveFault::OpenFeed},
                                         Row{0, 0.05, 12.6, DriveFault::OpenWinding},
                                         Row{0, 12.6, 12.6, DriveFault::NoDrive},
                                         Row{0.85, 0.25, 12.6, DriveFault::StuckOn},
                                         Row{0.85, 12.6, 12.6, DriveFault::Contradiction}));

// The mean of all hid those few that the recording was made for: "4 differ", and "nothing out of tolerance".
TEST(Study, PulsesThatDifferAreComparedByThemselves)
{
    std::vector<practice::Fired> pulses;
    for (int k = 0; k < 20; ++k) {
        practice::Fired f;
        f.on_s = 2e-3 + 0.02 * k, f.off_s = f.on_s + 6e-3;
        if (k % 5 == 3) f.winding.resistance_ohm *= 1.6;
        pulses.push_back(f);
    }
    const Recording r = practice::makeWinding(pulses, {}, {}, 0.41).recording;
    StudyWishes wishes;
    wishes.kind = Recorded::Windings;
    wishes.resistance_ohm = 14.65;
    const auto s = study(r, wishes);
    ASSERT_TRUE(s);
    EXPECT_THAT(s->verdict, HasSubstr("of the 4 that differ: Too much resistance"));
    EXPECT_THAT(s->verdict, HasSubstr("The other 16: Nothing out of tolerance"));
    EXPECT_TRUE(s->told.odd);
}

}  // namespace
}  // namespace ilvek
