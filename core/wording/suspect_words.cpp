// Suspects, what speaks for them, and what a test tells of them.
#include "wording/tables.h"

namespace ilvek {

const std::vector<Words>& suspectWords()
{
    static const std::vector<Words> table{
        // severity
        {"severity.nearly-open", "nearly open"},
        {"severity.about-times-should", "about {:.2g} times what it should be"},
        {"suspect.stuck-closed", "stuck closed"},

        // suspects
        {"suspects.fault-present-now", "No fault is present now"},
        {"suspects.added-resistance", "added resistance"},
        {"suspects.blown-bad-contact", "blown or bad contact"},
        {"suspects.bad-contact", "bad contact"},
        {"suspects.coil-bad", "coil bad"},
        {"suspects.coil-shorted", "coil shorted"},
        {"suspects.shorted-protects", "shorted, and its drive shuts itself down"},
        {"suspects.held-back", "therefore {} stays off"},
        {"suspects.has-blown", ". And therefore {} has blown"},
        {"suspects.without-function", "without function"},
        {"suspects.voltage-too", "voltage too"},
        {"suspects.resistance-too", "resistance too"},
        {"suspects.shorted-inside", "shorted inside"},
        {"suspects.shorted-case", "shorted to its case"},
        {"suspects.output-stuck-low", "output stuck low"},
        {"suspects.stuck-on", "stuck on"},
        {"suspects.weak", "weak"},
        {"suspects.too-low", "too low"},
        {"suspects.too-high", "too high"},
        {"suspects.draws-too-much", "draws too much"},
        {"suspects.fed-drives-nothing", ": fed, and drives nothing"},
        {"suspects.holds-high-line-down", "holds the high line down"},
        {"suspects.holds-line-down", "holds the line down"},
        {"suspects.holds-low-line-down", "holds the low line down"},
        {"suspects.joins-two-lines", "joins its two lines"},
        {"suspects.to-ground", " to ground"},
        {"suspects.to-supply", " to supply"},
        {"suspects.short-to", "{}: short to {}"},
        {"suspects.touches-in-the", "{} touches {} in the {}"},
        {"suspects.connector-wet-terminals-leak", "connector {}: wet, its terminals leak to one another"},
        {"suspects.map-figure", "the map's figure of "},
        {"suspects.map-figure-parts", "{}: the map's figure is not that of these parts"},
        {"suspects.more-parts", "{} more"},
        {"suspects.map-figure-part", "{}: the map's figure is not that of this part"},
        {"suspects.is-fed-from", "{} is fed from {}"},
        {"suspects.wires-exchanged-connector-map", "{} and {}: wires exchanged, in the connector or on the map"},
        {"suspects.map-may-wrong-here", "{}: the map may be wrong here"},
        {"suspects.wire-here-machine-against", "{}: no wire here on this machine, against what the map shows"},
        {"suspects.not-on-the-map", "not on the map"},
        {"suspects.something-map", "something that is not on this map"},
        {"suspects.something-map-2", "Something that is not on this map"},
        {"suspects.the-wire-from-to", "the wire from {} to {}"},
        {"suspects.far-end-of", "the far end of {}"},

        // in-doubt
        {"in-doubt.about-not", "about {}, not {}"},
        {"in-doubt.stands-at", "{} stands at {}"},
        {"in-doubt.stands-elsewhere-assumed", "{} stands elsewhere than assumed"},
        {"in-doubt.is-than-assumed", "{} is {} than assumed"},
        {"in-doubt.times-assumed", "{} is {:.2g} times what was assumed"},
        {"in-doubt.a-clamp-on", "a clamp on "},
        {"in-doubt.ohmmeter-unplugged", "an ohmmeter on {}, unplugged"},
        {"in-doubt.its-temperature", "its temperature"},
        {"in-doubt.fits-if", "fits if "},
        {"in-doubt.in-state", " ({})"},
        {"in-doubt.figure-doubt-perhaps-would", "A figure in doubt: perhaps {}; {} would settle it."},

        // observations
        {"observations.module-reports", ", as the module reports it"},
        {"observations.ends-differ", "{}, two places of its wire"},
        {"observations.is-pulsed", "{} is pulsed"},
        {"observations.is-short", "{}, shorted"},
        {"observations.is-no-short", "{}, not shorted"},
        {"observations.line-is-up", "{}, the line is up"},
        {"observations.line-is-down", "{}, the line is down"},
        {"observations.stands-between-rails", "{}, nothing holds its level"},
        {"observations.recorded-current-weaker-since", ", recorded current, weaker since"},
        {"observations.recorded-current", ", recorded current"},
        {"observations.recorded-before-driven", ", recorded before it is driven"},
        {"observations.recorded-while-driven", ", recorded while it is driven"},
        {"observations.is-weak", " is weak"},

        // other-ends
        {"other-ends.wire-ends-where-does", "{}: its wire ends where that of {} does, against what the map shows"},

        // candidates
        {"candidates.with-unplugged", " with {} unplugged"},
        {"candidates.unplugged-network", "{}: unplugged from the network"},

        // exclusion
        {"exclusion.more-than", "more than "},
        {"exclusion.less-than", "less than "},
        {"exclusion.less-more", "less than {} or more than {}"},
        {"exclusion.excluded-if-finds-drawn", "Excluded if “{}” finds it as drawn"},
        {"exclusion.excluded-if-reads", "Excluded if “{}” ({}) reads {}"},
        {"exclusion.if-fault-another-one", " – {:.0f} in 100 if the fault is another one."},

        // groups
        {"groups.fault-test-map-shows", "No fault that a test of this map shows now"},
        {"groups.other-places-beside", "{}, or {} other places beside it"},
        {"groups.anything-else", "anything else"},
        {"groups.or-or", "{}, or {} or {}"},

        // next-test
        {"next-test.in-if-it-is", "{} {:.0f} in 100 if it is “{}” ({:.0f} %)"},
        {"next-test.shows-something", "Shows something in"},
        {"next-test.about-min", "{}; about {:.0f} min."},
        {"next-test.once-more-case-rests", "Once more, for the case rests on this reading. "},
        {"next-test.once-more-read-slip", "Once more, for what it read is a slip, or the likeliest is wrong. "},
        {"next-test.about-if", "about {} if it is “{}” ({:.0f} %)"},
        {"next-test.over-limit-if", "OL if it is “{}” ({:.0f} %)"},
        {"next-test.reads-something-else-less", "Reads {}, and something else for less likely faults"},
        {"next-test.about-min-2", "{}{}; about {:.0f} min."},

        // stretch
        {"stretch.between", "Between {} and {}"},
        {"stretch.or-between", ", or between {} and {}"},
        {"stretch.added-resistance-one-places", "{}: added resistance in one of {} places ({:.0f} %)."},
    };
    return table;
}

}  // namespace ilvek
