// What a reasoner makes of one job: every prediction built and all of it weighed.
#pragma once

#include <memory>

#include "support/one_job.h"
#include "verdict/reasoner.h"

namespace ilvek::test {

inline std::unique_ptr<Reasoner> weighed(const OneJob& job, bool complaint = true)
{
    auto reasoner = std::make_unique<Reasoner>(job.map(), WayOfWorking{}, complaint);
    while (reasoner->buildNext()) {
    }
    reasoner->observe(job.open().assessment, {}, job.open().revision);
    reasoner->refine();
    return reasoner;
}

}  // namespace ilvek::test
