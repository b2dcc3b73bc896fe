// One procedure of one job, followed stage by stage with figures as they are typed.
#pragma once

#include "open_job/procedure_step.h"
#include "support/one_job.h"

namespace ilvek::test {

class TypedProcedure {
public:
    TypedProcedure(const Map& map, std::string id, std::string subject)
        : job(map), id_(std::move(id)), subject_(std::move(subject))
    {
    }

    Procedure now() const
    {
        const auto p = procedureOf(job.open(), id_, subject_, job.now());
        EXPECT_TRUE(p) << id_ << " " << subject_;
        return p.value_or(Procedure{});
    }
    // Takes the figure, or the words, for what is next, which must be that stage.
    void next(const std::string& stage, const std::string& figure)
    {
        const Procedure p = now();
        ASSERT_TRUE(p.next()) << stage << ", but it ended: " << (p.ending ? p.ending->fact.id : "not");
        EXPECT_EQ(p.next()->id, stage);
        const Asked& asked = *p.next()->asked;
        if (asked.kind == Asked::Kind::Statement) return job.enter(CheckMade{asked.statement, figure});
        job.take(*stepOf(job.map(), asked), figure, 3);
    }
    std::string ending() const
    {
        const Procedure p = now();
        return p.ending ? p.ending->fact.id : "none";
    }
    // Whether some stage says this.
    bool says(const std::string& fact) const
    {
        for (const Stage& s : now().stages) {
            for (const Fact& f : s.says) {
                if (f.id == fact) return true;
            }
        }
        return false;
    }

    OneJob job;

private:
    std::string id_, subject_;
};

}  // namespace ilvek::test
