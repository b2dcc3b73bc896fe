#include "belief/severity_grid.h"

#include "belief/likelihood.h"
#include "suspects/severity.h"

namespace ilvek {

namespace {

// With the same blown behind it: what lies between two such severities is a fault too.
bool isAlike(const Suspect& s, std::size_t k, std::size_t l)
{
    return s.severities[k].size() == s.severities[l].size();
}

}  // namespace

SeverityGrid::SeverityGrid(const std::vector<Suspect>& suspects)
    : suspects_(suspects), first_(ilvek::firstCases(suspects))
{
    for (std::size_t i = 0; i < suspects.size(); ++i) {
        firstFine_.push_back(fine_.size());
        const Suspect& s = suspects[i];
        for (std::size_t k = 0; k < s.severities.size(); ++k) {
            Fine f;
            f.suspect = static_cast<int>(i);
            f.fed = s.kind == SuspectKind::BackFeed;
            f.low = f.high = first_[i] + static_cast<int>(k);
            f.begins = k > 0 && !isAlike(s, k - 1, k);
            fine_.push_back(f);
            f.begins = false;
            if (!s.graded || k + 1 == s.severities.size()) continue;
            if (!isAlike(s, k, k + 1)) {
                addBreak(f);
                continue;
            }
            ++f.high;
            f.x1 = severityNumber(s.severities[k]);
            f.x2 = severityNumber(s.severities[k + 1]);
            const bool after = k + 2 < s.severities.size() && isAlike(s, k, k + 2);
            if (after || (k > 0 && isAlike(s, k - 1, k))) {
                f.third = first_[i] + static_cast<int>(after ? k + 2 : k - 1);
                f.x3 = severityNumber(s.severities[after ? k + 2 : k - 1]);
            }
            for (int n = 1; n < between; ++n) {
                f.share = static_cast<double>(n) / between;
                f.x = numberBetween(s, k, f.share);
                fine_.push_back(f);
            }
        }
    }
    firstFine_.push_back(fine_.size());
}

// As the one severity up to half way, then as the next.
void SeverityGrid::addBreak(Fine f)
{
    for (int n = 1; n < between; ++n) {
        if (n == between / 2) ++f.low, ++f.high;
        fine_.push_back(f);
    }
}

Suspect SeverityGrid::dense(int suspect, const std::vector<std::size_t>& severities) const
{
    const auto i = static_cast<std::size_t>(suspect);
    Suspect out = suspects_[i];
    out.severities.clear();
    for (const std::size_t k : severities) {
        const Fine& f = fine_[begin(suspect) + k];
        out.severities.push_back(faultsBetween(suspects_[i], static_cast<std::size_t>(f.low - first_[i]), f.share));
    }
    return out;
}

int SeverityGrid::steps(int suspect) const
{
    return suspects_[static_cast<std::size_t>(suspect)].graded ? between : 1;
}

double curveThrough(const Fine& f, double v1, double v2, double v3)
{
    // Moved so that the third stands at x = 0: such curves stay such curves.
    return between3(v3, f.x1 - f.x3, v1, f.x2 - f.x3, v2, f.x - f.x3, f.share);
}

}  // namespace ilvek
