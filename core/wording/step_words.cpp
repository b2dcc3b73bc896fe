// What to do next and why: the steps of the plan and of a hunt.
#include "wording/tables.h"

namespace ilvek {

const std::vector<Words>& stepWords()
{
    static const std::vector<Words> table{
        // absent-supply
        {"absent-supply.probe-spreads-sockets-touch",
         "A probe spreads the sockets of {}: touch beside them, or use an adapter."},
        {"absent-supply.live-before-contact-dead",
         "Live before the contact and dead behind it: the relay does not close, or is not driven."},
        {"absent-supply.dead-here-too-fault",
         "Dead here too: the fault lies before the relay. Live here: its contact or its coil."},
        {"absent-supply.coil-of", "Coil of {}"},
        {"absent-supply.battery-voltage-across-coil",
         "The battery's voltage across the coil and a contact that passes nothing is the relay itself. Nothing across "
         "it: it is not fed, or not driven."},
        {"absent-supply.dead-here-coil-fed",
         "Dead here: the coil is not fed. Live here: the other end is not switched."},
        {"absent-supply.switched-here-wire-between",
         "Switched here and not at {}: the wire between them. Not switched here either: the module does not drive it, "
         "and first its own needs are proven."},
        {"absent-supply.against-read-equal-both",
         "Against what was read at {}: equal at both ends, or the wire between is open."},
        {"absent-supply.lead-place", " with a lead in place of {}"},
        {"absent-supply.fed-does-switch-lead",
         "{} is fed and {} does not switch it. With a lead that stands in for the module the relay has to close: then "
         "what it feeds can be proven, and what is left is whether the module has all that it needs. A click proves "
         "the coil only."},
        {"absent-supply.across-coil-before-contact",
         "{} across the coil of {}, {} before its contact and {} behind it: the relay does not close."},
        {"absent-supply.two-ends-one-conductor",
         "{} at {} and {} at {}, the two ends of one conductor: it does not carry."},
        {"absent-supply.lead-fuse", "; a lead with a {} fuse from {} to {}"},
        {"absent-supply.switched-end-coil-only",
         "To the switched end of the coil only: the fed end would be a short. What hangs on the relay comes alive."},

        // hunt-step
        {"hunt-step.in-place-of", "{} in place of {}"},
        {"hunt-step.out-place", "; {} out, the {} in its place"},
        {"hunt-step.lamp-limits-current-shows",
         "The lamp limits the current and shows the fault: bright while the short is fed, dimmer once what was "
         "unplugged took the current. Then go on beyond that connector."},
        {"hunt-step.never-larger-fuse-never",
         "Never a larger fuse, never foil. Keep the hot lamp off plastic and out of the way."},
        {"hunt-step.disconnect-first-may-feed", "Disconnect {} first: it may feed the branch from behind."},
        {"hunt-step.wire-own", "Wire from {} to {} on its own, with the {}"},
        {"hunt-step.prove-both-ends-go", "{}; {}. Prove that both ends go nowhere else"},
        {"hunt-step.lead-fuse-battery-plus",
         "A lead with a {} fuse from battery plus to {}; the {} from {} to battery minus"},
        {"hunt-step.red-lead-black-lead", "Red lead on {}, black lead on battery minus"},
        {"hunt-step.only-current-shows-wire",
         "Only current shows what a wire can carry: one strand left reads the same as seven at a meter's microampere."},
        {"hunt-step.never-into-module-both", "Never into a module: both ends are free before the feed goes on."},
        {"hunt-step.fused-lead-lamp-gets", "Fused lead; the lamp gets hot."},
        {"hunt-step.probe-pushed-into-female", "A probe pushed into a female terminal spreads it."},

        // plan
        {"plan.after-repair", "After the repair: "},
        {"plan.then", " Then: {}."},
        {"plan.read-before-same-test",
         "It read {} before, {}. The same test with the same load proves the repair; less proves nothing."},

        // step
        {"step.sound-circuit-reads-over", "A sound circuit reads over limit."},
        {"step.sound-circuit-reads", "A sound circuit reads {}."},
        {"step.own-return", ", its own return"},
        {"step.battery-minus", "battery minus"},
        {"step.its-own", "its own"},
        {"step.an-assumed", "an assumed"},
        {"step.all-connectors-mated-probe", ", all connectors mated, probe from the wire side"},
        {"step.connector-apart", "{}, connector {} apart"},
        {"step.drive-protected-itself-stays",
         "A drive that protected itself stays off until the key is cycled: key off, on again, and read at once."},
        {"step.fused-leads-only-load", "Fused leads only; the load goes to the harness side, never into the module."},
        {"step.key-off-before-parting",
         "Key off before parting the connector; a probe pushed into a female terminal spreads it."},
        {"step.back-probe-beside-seal", "Back-probe beside the seal; insulation that was pierced is sealed again."},
        {"step.source-map", "no source in the map"},
        {"step.from-to", "{} from {} to {}"},
        {"step.module-load-clamp-conductor",
         "; the module is the load: clamp on the conductor of {}, and type both, as 12.34 @ 1.2 A"},
        {"step.wire-side", ", wire side"},
        {"step.read-battery", "Read the battery"},
        {"step.leads-they-will-used", ", leads as they will be used, extensions included"},
        {"step.red-lead-battery-plus", "Red lead on battery plus, on the post itself"},
        {"step.black-lead-battery-minus", "Black lead on battery minus, on the post itself"},
        {"step.every-feed-compared-battery",
         "Every feed is compared with the battery of the same minute; and a right figure here proves the leads and the "
         "meter."},
        {"step.at-least", "At least {} ({})."},
        {"step.metal-tool-across-posts", "No metal tool across the posts; no flame or spark near a charging battery."},
        {"step.red-lead", "Red lead on "},
        {"step.black-lead-battery-minus-2", "Black lead on battery minus"},
        {"step.most-below-battery", "At most {} below battery ({}). {}"},
        {"step.open-circuit-first-other",
         "Open-circuit first: the other half of the load test, and it finds what is fully open. A right figure proves "
         "little."},
        {"step.dead-when-must", " dead when it must be?"},
        {"step.at-most", "At most {} ({}). {}"},
        {"step.lamp-tells-whether-fed",
         "A little stands there. Lamp dark: the module holds the wire weakly, and nothing feeds it. Lamp lit: a relay "
         "or another source does."},
        {"step.supply-stays-means-relay",
         "A supply that stays on means a relay that sticks or a feed from another source; the module then never "
         "resets."},
        {"step.black-lead", "Black lead on "},
        {"step.most-lost", "At most {} lost at {} ({}). {}"},
        {"step.only-current-proves-conductor",
         "Only current proves a conductor. With the open-circuit figure this gives the resistance of feed and return "
         "together."},
        {"step.swap-ground", "Swap the ground on "},
        {"step.as-before", ", as before"},
        {"step.red-lead-stays", "Red lead stays on "},
        {"step.black-lead-moves-battery", "Black lead moves to battery minus"},
        {"step.if-figure-recovers-return", "If the figure recovers, the return is bad; if it stays low, the feed is."},
        {"step.red-lead-2", "Red lead to "},
        {"step.black-lead-stays-battery", "Black lead stays on battery minus"},
        {"step.touch-relay-socket-side",
         "Touch the relay socket from the side: pull-out sockets must not be spread by a probe."},
        {"step.voltage-still-stands-here",
         "Voltage that still stands here is lost behind this point; next to none puts the fault before it. Each "
         "reading cuts the conductor."},
        {"step.full-voltage-here-puts",
         "Full voltage here puts the fault behind this point; low already puts it before. Each reading cuts the "
         "conductor."},
        {"step.fuse-side", "Fuse {}, {} side"},
        {"step.fuse-place-circuit-switched", ", fuse in place, circuit switched on"},
        {"step.red-lead-test-point", "Red lead on the {} test point of {} ({})"},
        {"step.both-test-points-powered",
         "Both test points, powered: an eye alone is no proof. Voltage before and none behind is a blown fuse."},
        {"step.blown-fuse-symptom-short",
         "A blown fuse is a symptom: the short is found before power is restored. Never a larger fuse, never foil."},
        {"step.load-return", "Load the return"},
        {"step.through-fused-lead", " through a fused lead"},
        {"step.black-lead-battery-minus-3", "Black lead on battery minus, on the post"},
        {"step.at-most-at", "At most {} at {} ({}). {}"},
        {"step.returns-first-bad-ground",
         "Returns first: a bad ground looks like a bad feed everywhere else. A beep or an ohm figure proves nothing "
         "about current."},
        {"step.alternating-volts-at", "Alternating volts at"},
        {"step.pick-up-alternates",
         "A pick-up gives alternating volts while it turns, some tenths when cranking and more when faster. On DC a "
         "meter shows nothing of them."},
        {"step.resistance-at", "Resistance at"},
        {"step.other-end-circuit", ", the other end of its circuit"},
        {"step.ohms-dead-circuit-only", "Ohms on a dead circuit only: key off, and no other source connected."},
        {"step.below-battery", " below battery"},
        {"step.at-least-2", "at least"},
        {"step.at-most-2", "at most"},
        {"step.nobody-stated-figure-one", "Nobody stated a figure: this is one of two levels, the other comes next."},
        {"step.nobody-stated-figure-must", "Nobody stated a figure: it must differ from its other level."},
        {"step.nobody-stated-figure-must-2",
         "Nobody stated a figure: it must move. Change what it measures meanwhile and type the lowest and highest "
         "figure, as 1.2..3.4, or “moves”."},
        {"step.reference-dragged-down-one",
         "A reference dragged down by one consumer makes every sensor on it read wrong; the module's feeds come "
         "first."},
        {"step.level-terminal-last-thing", "The level at the terminal is the last thing outside the module."},
        {"step.with-apart", " with {} apart"},
        {"step.one-more-potential-circuit",
         "One more potential of the circuit; what it means is computed from the map."},
        {"step.taken-out", " taken out"},
        {"step.resistance-at-2", "Resistance at "},
        {"step.figure-ohms-says-nothing",
         "A figure in ohms says nothing about current, but it finds parts out of value and shorts."},
        {"step.ohms-dead-circuit-only-2",
         "Ohms on a dead circuit only: key off, and no other source connected. Zero the leads first."},
        {"step.look-at", "Look at "},
        {"step.key-off-connector", "Key off, connector "},
        {"step.apart-mated-again-afterwards", " apart; mated again afterwards"},
        {"step.wire-side-2", "Wire side: "},
        {"step.mating-side-metal-clean", "Mating side: metal clean, tight, pushed home? Pull gently"},
        {"step.drawn-damaged-another-wire", "1 as drawn · 2 damaged · 3 another wire · 4 empty"},
        {"step.corrosion-terminal-pushed-back",
         "Corrosion, a terminal that was pushed back and a wire that is not the drawn one are seen, not measured."},
        {"step.key-off-before-parting-2", "Key off before parting it; push nothing into a female terminal."},
    };
    return table;
}

}  // namespace ilvek
