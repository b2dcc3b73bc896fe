// Where a resistance lies, as the stretch that the readings leave.
#include <gmock/gmock.h>

#include "choice/stretch.h"
#include "support/complete.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using testing::AllOf;
using testing::AnyOf;
using testing::HasSubstr;
using testing::Not;
using testing::StartsWith;

class Stretch : public testing::Test {
protected:
    Reasoning after(std::initializer_list<std::pair<const char*, const char*>> readings)
    {
        for (const auto& [where, figure] : readings)
            job_.take(where, figure);
        reasoner_->forget(true);
        reasoner_->observe(job_.open().assessment, {});
        reasoner_->refine();
        while (reasoner_->buildNext()) {
        }
        return reasoner_->reason(job_.open().standing());
    }
    test::OneJob job_{test::washer()};
    std::unique_ptr<Reasoner> reasoner_ = test::complete(test::washer());
};

TEST_F(Stretch, ALoadedPairLeavesTheFeedAndTheReturnAndASwapHalvesThem)
{
    const auto pair = after({{"plus > minus; key off", "12.6 V"},
                             {"A1 > minus; key off; apart A", "12.59 V"},
                             {"A1 > A7; key off; apart A; load 55 W lamp", "7.2 V"}});
    EXPECT_THAT(pair.stretch,
                StartsWith("Between F3 and A1, or between A7 and battery minus: added resistance in one of 7"));
    const auto swapped = after({{"A1 > minus; key off; apart A; load 55 W lamp at A1 > A7", "7.3 V"}});
    EXPECT_THAT(swapped.stretch, AnyOf(std::string(), AllOf(HasSubstr("A1"), Not(HasSubstr("A7")))));
    const auto found = after({{"F3 out > minus; key off; apart A; load 55 W lamp at A1 > A7", "12.5 V"},
                              {"F3 out > A1; key off; apart A; load 55 W lamp at A1 > A7", "5.2 V"}});
    EXPECT_EQ(found.stretch, "") << "one wire is no stretch";
    EXPECT_EQ(found.conclusion.kind, Conclusion::Kind::Outside) << found.conclusion.words;
}

TEST_F(Stretch, AReadingOfTheCavityBesideIsSaidSo)
{
    // A2 is fed by a relay that is off; the lead stands on A2 instead of A1.
    const auto r = after({{"plus > minus; key off", "12.6 V"},
                          {"A1 > A7; key off", "12.57 V"},
                          {"A1 > A7; key off; apart A", "12.58 V"},
                          {"A1 > A7; key off", "0.0 V"}});
    ASSERT_FALSE(r.doubtful.empty());
    EXPECT_THAT(r.misplaced, AllOf(StartsWith("Reading "), HasSubstr("fits A2, the cavity beside A1")));
}

}  // namespace
}  // namespace ilvek
