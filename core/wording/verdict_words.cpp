// The gate, and what may be concluded.
#include "wording/tables.h"

namespace ilvek {

const std::vector<Words>& verdictWords()
{
    static const std::vector<Words> table{
        // gate
        {"gate.by-substitution",
         "Supply by substitution: a fused external feed to the suspect terminal, all else as built, would exclude the "
         "harness once more."},
        {"gate.and-more", "{} and {} more"},
        {"gate.not-proven", " not proven"},
        {"gate.only-assumed", ", {} only assumed"},
        {"gate.told-before-repair", "Told before the repair: "},
        {"gate.tell-anew", ". Tell it anew."},
        {"gate.something-feeds-when-must", "Something feeds {} when it must be dead."},
        {"gate.feed-between-battery-plus", "The feed of {}, between battery plus and the terminal."},
        {"gate.the-return-of", "The return of {}."},
        {"gate.feeds-switches-relay", "What feeds {}, or what switches its relay."},
        {"gate.feed-return", "Feed and return of {}."},
        {"gate.feed-return-2", "Feed or return of {}."},
        {"gate.return-fails", "return fails"},
        {"gate.returns-fail", "returns fail"},
        {"gate.before-module", " before the module."},
        {"gate.supply-fails", "supply fails"},
        {"gate.supplies-fail", "supplies fail"},
        {"gate.reading-is", "reading is"},
        {"gate.readings-are", "readings are"},
        {"gate.out-limits-yet-explained", " out of limits and not yet explained."},
        {"gate.fault-shown-outside", "No. A fault is shown outside the "},
        {"gate.shown-directly", "shown directly"},
        {"gate.second-fault-behind-one",
         "A second fault behind this one: repair it, then run the failed tests again under the same load."},
        {"gate.meter-leads-load-ground",
         "The meter, the leads or the load: the ground swap and a second reading exclude them."},
        {"gate.may-condemned-all-needs",
         "The {} may be condemned: all it needs is proven under load and its output is still wrong."},
        {"gate.by-elimination", "by elimination"},
        {"gate.proven-lines-still-open", "Not proven. {} of {} lines are still open."},
        {"gate.any-conductor-yet-read",
         "Any conductor not yet read under load: wires and terminals fail often, modules seldom."},
        {"gate.not-proven-2", "not proven"},
        {"gate.may-condemned", "may be condemned"},
        {"gate.proven-good", "proven good"},
        {"gate.output-still-wrong", "Output still wrong"},
        {"gate.output-wrong-reproduced-today", "Which output is wrong, reproduced today, and how was it read?"},
        {"gate.shut-down-excluded", "Shut-down excluded"},
        {"gate.key-cycled-read-inside", "Key cycled and read inside the window: what was seen?"},
        {"gate.codes-read-last", "Codes read last"},
        {"gate.codes-cleared-read-again",
         "Codes cleared and read again after everything else was put right: which remain?"},
        {"gate.network-tried", "Network tried"},
        {"gate.nodes-unplugged-one-time", "Nodes unplugged one at a time, terminations measured: what was found?"},
        {"gate.alternatives-named", "Alternatives named"},
        {"gate.other-causes-fit-reading", "Which other causes fit, and which reading rules each out?"},
        {"gate.map-lists-none", "the map lists none"},
        {"gate.about-min", "{}, {} (about {} min)"},
        {"gate.none-tests-computed-far", "None of the tests computed so far excludes it."},
        {"gate.test-map-excludes", "No test of this map excludes it."},
        {"gate.proven-lies-outside-still", "Not proven. What lies outside the {} still explains the readings with {}."},
        {"gate.on-likelihood", "on likelihood"},
        {"gate.fault-lies-outside", "No. The fault lies outside the {} with {}."},
        {"gate.may-condemned-all-needs-2",
         "The {} may be condemned: all it needs is proven under load, and only a fault inside it explains what is out "
         "of limits ({})."},
        {"gate.proven-yet-likeliest-all",
         "Not proven yet. The {} is the likeliest ({}), but not all that it needs is proven under load."},
        {"gate.proven-test-tells-apart",
         "Not proven. No test tells apart what is left ({}), and part of it lies inside the {}: see that its terminals "
         "are clean and tight."},
        {"gate.proven-map-likelier-wrong", "Not proven. The map is likelier wrong than the machine: "},
        {"gate.proven-all-read-sound",
         "Not proven. All that was read is as on a sound machine: what fails is on no page that was entered, or is "
         "absent now."},
        {"gate.proven-failed-right-again",
         "Not proven. What failed was right when it was read again: likelier a slip of the leads than a fault."},
        {"gate.proven-failed-likelier-slip",
         "Not proven. What failed is likelier a slip of the leads than a fault: read it again."},
        {"gate.proven-good-fused-power", "No. The {} is proven good: with fused power at {} all that failed works."},
        {"gate.conductor-feeds", "The conductor that feeds {}."},
        {"gate.second-fault-absent-now",
         "A second fault that is absent now: mend the conductor, take the lead off, and run the same tests again."},
        {"gate.yet-last-entries-still", "Not yet. The last entries are still being weighed."},

        // reasoner
        {"reasoner.figure-beside", "Beside it, {}: it is reckoned with. Correct the sheet."},
        {"reasoner.reading-fits-cavity-beside",
         "Reading {} fits {}, the cavity beside {}: see where the lead stands, and read again."},
    };
    return table;
}

}  // namespace ilvek
