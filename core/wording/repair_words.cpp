// After the fault was found: proof, causes, choices, the end of a job.
#include "wording/tables.h"

namespace ilvek {

const std::vector<Words>& repairWords()
{
    static const std::vector<Words> table{
        // behind
        {"behind.ohms-hangs", "Ohms of what hangs on {} ({})?"},
        {"behind.load-takes-too-much", "A load that takes too much kills the new driver as it killed the old one."},
        {"behind.insulation-case-both-plugs", "Insulation of {} to its case, both plugs off?"},
        {"behind.winding-touches-case-now", "A winding that touches its case now and then shows its right ohms."},
        {"behind.every-feed-return-module", "Is every feed and return of the module proven under load?"},
        {"behind.module-starved-lost-ground",
         "A module that was starved or lost its ground looks dead; the new one would too."},
        {"behind.does-new-need-coding", "What does a new {} need: coding, adaptation, a key taught?"},
        {"behind.part-told-does-work",
         "A part that was not told what it is in does not work, and looks like a bad one."},
        {"behind.what-blew", "What blew {}?"},
        {"behind.blown-fuse-symptom-follow",
         "A blown fuse is a symptom. Follow the short on this fuse before another goes in."},
        {"behind.rating-diagram-says", "Is the rating of {} what the diagram says: {}?"},
        {"behind.larger-one-lets-loom", "A larger one lets the loom burn; a smaller one blows by itself."},
        {"behind.water-corrosion-where-does", "Water or corrosion in {}: where does it come from?"},
        {"behind.contact-cleaned-corrodes-again",
         "A contact that was cleaned corrodes again where the water still comes in."},
        {"behind.how-do-neighbours-look", "How do the neighbours of {} look: {}?"},
        {"behind.reached-one-contact-reached", "What reached one contact reached those beside it."},
        {"behind.does-socket-still-hold", "Does the socket of {} still hold a single pin by itself?"},
        {"behind.socket-spread-probe-heat", "A socket that was spread by a probe or by heat opens again."},
        {"behind.rubs-pulls-bends", "What rubs, pulls or bends {}{}?"},
        {"behind.wire-breaks-where-something", "A wire breaks where something moves. A new one breaks there again."},
        {"behind.else-loom-suffered-same", "What else in this loom suffered the same: {}?"},
        {"behind.chafed-one-wire-chafes", "What chafed one wire chafes the next."},
        {"behind.clean-metal-under-kept", "Is there clean metal under {}, and is it kept from water?"},
        {"behind.paint-rust-under-lug", "Paint and rust under a lug come back."},
        {"behind.returns-too-drop-under", "{} returns there too: its drop under load?"},
        {"behind.all-ends-bad-point", "All that ends at a bad point suffers with it."},
        {"behind.does-carry-clamp-rated", "What does {} carry, by clamp, and what is it rated for?"},
        {"behind.contacts-weld-burn-where", "Contacts weld or burn where the load takes more than they are made for."},
        {"behind.diode-resistor-across-coil",
         "Is there a diode or a resistor across the coil of {}, the right way round?"},
        {"behind.without-coil-voltage-wears", "Without it the coil's voltage wears the driver that switches it."},
        {"behind.drops-both-cables-while", "The drops of both cables of {}, while it works?"},
        {"behind.new-one-behind-bad", "A new one behind a bad cable does no better."},
        {"behind.battery-while-engine-runs", "The battery while the engine runs: is it within its limits?"},
        {"behind.too-much-voltage-burns", "Too much voltage burns windings and lamps one after the other."},
        {"behind.new-ohms", "new ohms "},
        {"behind.ohms-new-before-goes", "Ohms of the new {}, before it goes in?"},
        {"behind.they-figure-compare-next",
         "They are the figure to compare with next time; the old part's say nothing of it."},
        {"behind.did-driver-behind-survive", "Did the driver behind {} survive it?"},
        {"behind.load-shorted-may-have", "A load that was shorted may have taken its driver along."},
        {"behind.supply-return-own-plug", "The supply and the return of {}, at its own plug?"},
        {"behind.sensor-fed-wrongly-cause",
         "A sensor that was fed wrongly is not the cause, and the new one reads as wrong."},
        {"behind.does-new-need-adaptation", "What does a new {} need: adaptation, zero, bleeding, a stroke taught?"},
        {"behind.part-set-looks-like", "A part that was not set looks like a bad one."},
        {"behind.does-new-fit-connector", "Does the new {} fit: connector, terminals, variant, ratings?"},
        {"behind.part-another-variant-works", "A part for another variant works nearly, which is worse than not."},
        {"behind.not-stated", "not stated"},
        {"behind.and-more", " and {} more"},
        {"behind.in-order", "in order"},
        {"behind.not-in-order", "not in order"},

        // closing
        {"closing.owed-machine", "Owed to the machine: {}{}{}."},
        {"closing.failed-before-repair-read", "failed before the repair, not read again"},
        {"closing.fails-still-after-repair", "fails still after the repair"},
        {"closing.read-again-decided", "read again, and not decided"},
        {"closing.shares-mended-read-again", "Shares what was mended, not read again: "},
        {"closing.failed-tried-since-repair", "“{}” failed and was not tried since the repair."},
        {"closing.codes-were-cleared-read", "Codes were not cleared and read again since."},
        {"closing.code-came-back-after", "Code {} came back after the repair."},
        {"closing.work-test-order", "Work test, {}: not in order."},
        {"closing.lies-behind", "What lies behind: "},
        {"closing.shown-directly", "shown directly"},
        {"closing.on-likelihood", "on likelihood"},
        {"closing.why-ends-here", "why it ends here"},

        // repeated
        {"repeated.the-module", "the module "},
        {"repeated.before-read-again-yet", "{} before, not read again yet"},

        // time-spent
        {"time-spent.less-minute", "less than a minute"},

        // ways
        {"ways.part-wait-fails-again", "{}: {} h, part {}, wait {} h, fails again {:.0f} %, cures {:.0f} %{}; {}"},
    };
    return table;
}

}  // namespace ilvek
