// The page for the customer and the schedule to take to the machine.
#include <gmock/gmock.h>

#include "report/report.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;
using testing::AllOf;
using testing::HasSubstr;
using testing::Not;

std::string customerPage(const OneJob& job)
{
    const Gate gate = job.gate();
    return customerHtml({job.open().job, job.open().assessment, gate, job.now()});
}

TEST(CustomerPage, SaysWhatWasWrongDoneAndLeft)
{
    OneJob job(test::hauler());
    Complaint complaint;
    complaint.text = "tips only when it likes";
    job.enter(complaint);
    EXPECT_THAT(customerPage(job), AllOf(HasSubstr("tips only when it likes"), HasSubstr("Not known yet.")));
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.take("A1 > A6; key on; apart A", "24.9 V");
    job.take("A1 > A6; key on; apart A; load 21 W lamp", "17.2 V");
    job.enter(Repair{0, {"F3"}, "contact of fuse F3 cleaned"});
    job.enter(Debt{"cover off", "cab"});
    EXPECT_THAT(customerPage(job),
                AllOf(HasSubstr("contact of fuse F3 cleaned"), HasSubstr("cover off, cab: still to be")));
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.take("A1 > A6; key on; apart A", "24.9 V");
    job.take("A1 > A6; key on; apart A; load 21 W lamp", "24.6 V");
    job.enter(DebtCleared{job.open().job.debts[0].id, "back on"});
    job.enter(JobClosed{JobClosed::Verdict::Repaired, "shown directly", "The fuse F3 had a burnt contact.", "", {}});
    const std::string page = customerPage(job);
    EXPECT_THAT(page, AllOf(HasSubstr("The fuse F3 had a burnt contact."), HasSubstr("measured directly"),
                            HasSubstr("17.2 V"), HasSubstr("24.6 V"), HasSubstr("in order"), HasSubstr("Nothing.")));
    for (const char* workshop : {"gate", "grade", "suspect", "stale", "Ω", "R B"})
        EXPECT_THAT(page.substr(page.find("<body>")), Not(HasSubstr(workshop))) << "no words of the workshop";
}

TEST(CustomerPage, TextOfUsersIsEscaped)
{
    OneJob job(test::hauler());
    Complaint complaint;
    complaint.text = "<script>alert(1)</script>";
    job.enter(complaint);
    EXPECT_THAT(customerPage(job), Not(HasSubstr("<script>")));
}

TEST(Schedule, ListsEveryTerminalWithWhatItMustReadAndItsWay)
{
    OneJob job(test::hauler());
    const std::string page = scheduleHtml(job.map(), job.open().assessment);
    for (const int t : job.map().moduleTerminals()) {
        if (!job.map().terminal(t).role || *job.map().terminal(t).role == Role::Empty) continue;
        EXPECT_THAT(page, HasSubstr("<b>" + job.map().terminal(t).id + "</b>"));
    }
    EXPECT_THAT(page, AllOf(HasSubstr("F3 25"), HasSubstr("below the battery"), HasSubstr("not read yet"),
                            HasSubstr("customary")));
    job.take("battery plus > battery minus; key on", "25.1 V");
    job.take("A1 > A6; key on; apart A; load 21 W lamp", "24.7 V");
    EXPECT_NE(scheduleHtml(job.map(), job.open().assessment), page) << "what is proven stands in it";
}

}  // namespace
}  // namespace ilvek
