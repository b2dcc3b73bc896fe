// Before the first probe: functions, codes, what they share.
#include "wording/tables.h"

namespace ilvek {

const std::vector<Words>& paperWords()
{
    static const std::vector<Words> table{
        // codes-on-paper
        {"codes-on-paper.no-current-in", "{}, no current in {}, {}"},

        // shared-branches
        {"shared-branches.explains-of", "explains {} of {}"},
        {"shared-branches.where-carries-too-little", " where it carries too little"},
        {"shared-branches.one-them-only-if", ", one of them only if it feeds that"},
        {"shared-branches.them-only-if-feeds", ", {} of them only if it feeds those"},
        {"shared-branches.nothing-against", ", nothing against it"},
        {"shared-branches.one-works-needs-too", ", but one that works needs it too"},
        {"shared-branches.work-need-too", ", but {} that work need it too"},

        // told
        {"told.function-map-say-needs", "“{}” is no function of this map: say what it needs."},
        {"told.comes-goes-counts-once", "“{}” comes and goes: it counts once something is read while it fails."},
        {"told.when-kept-watch-weighed", "When, “{}”: kept for the watch, weighed nowhere."},
        {"told.done-before-names-nothing", "“{}”, done before, names nothing on this map."},
        {"told.code-circuit-shows-kept", "Code {}, {}: no circuit shows that, so it is kept only."},
        {"told.code-nobody-said-sets", "Code {}: nobody said what sets it."},
    };
    return table;
}

}  // namespace ilvek
