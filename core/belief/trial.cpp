#include "belief/trial.h"

namespace ilvek {

namespace {

std::vector<Suspect> behindSound(const std::vector<Suspect>& suspects)
{
    std::vector<Suspect> all(1);
    all.front().severities = {{}};
    all.front().prior = 1;
    all.insert(all.end(), suspects.begin(), suspects.end());
    return all;
}

}  // namespace

Trial::Trial(const Search& search, const std::vector<Suspect>& suspects, const std::vector<Wanted>& wanted)
    : suspects_(behindSound(suspects)), belief_(suspects_)
{
    for (const Wanted& w : wanted) {
        auto prediction = predict(search.map, suspects_, w.setup, w.probes, false);
        if (!prediction) continue;
        for (Column& column : prediction->columns) {
            const Column* known = search.table.find(w.setup, column.probe);
            if (!known) continue;
            column.parts = known->parts;
            column.tolerance = known->tolerance;
        }
        table_.add(std::move(*prediction));
    }
    for (const Observation& o : search.observations)
        belief_.take(table_, o);
}

}  // namespace ilvek
