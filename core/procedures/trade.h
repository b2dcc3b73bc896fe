// Figures of the trade that procedures go by where nobody stated better ones: the maker's come first. What a figure of
// this machine is stands in its map, what holds for every reading in proving/rules.h, what is expected of a role that
// nobody stated in bench_map/sheet_expected.h.
#pragma once

namespace ilvek::trade {

// Battery of 12 V, others in proportion. SOURCE: customary limits of the trade, flooded cells at 25 °C.
constexpr double fullFrom_V = 12.60, usableFrom_V = 12.24;
constexpr double crankingAtLeast_V = 9.6;
constexpr double chargedAtLeast_V = 13.2, chargedAtMost_V = 15.0, loadedAtLeast_V = 12.6, chargerAbove_V = 13.0;
// Six cells of 0.2 mV/K. SOURCE: thermodynamics of the lead-acid cell, customary figure.
constexpr double restPerKelvin_V = 0.0012;
// An evening with the key on: ten millivolts a minute, and it is another battery.
constexpr double longKeyOn_min = 15;

// What a clamp may show around nothing.
constexpr double clampZeroAtMost_A = 0.05;

// Across a closed contact under its own load. SOURCE: customary limit of the trade.
constexpr double contactDropAtMost_V = 0.2;
// Of the battery: every relay of that system pulls in there. SOURCE: usual sheets of relays, 60 to 70 % when warm.
constexpr double pullsInFrom = 0.75;

// A wire on its own: end to end by a meter, to ground, and what no wire of a loom has.
constexpr double endToEndAtMost_ohm = 1.0, toGroundAtLeast_ohm = 1e5, muchForAWire_ohm = 0.5;
// Of a lamp's own feed, that it may lose with the lamp's current.
constexpr double lampLossAtMost = 0.05;
// Two places of one conductor at a meter's current.
constexpr double alike_V = 0.08;

// A winding or part to its case. SOURCE: custom of the trade for parts of these voltages.
constexpr double insulated_ohm = 1e5;
// A junction in diode mode, from germanium to two in a row.
constexpr double junctionFrom_V = 0.15, junctionTo_V = 1.2;

// A level this near to either end of the supply is that end; above the supply by so much it is lifted. Shares of it.
constexpr double rail = 0.04, lifted = 1.15;
// Of what a sensor should be fed with.
constexpr double fedFrom = 0.9;
// A line that a module pulls up: its level open, none at all, and closed and open as shares of that level.
constexpr double pulledUpFrom_V = 3, notPulledUpBelow_V = 1, closedShare = 0.25, openShare = 0.75;
// Pull-ups that modules have. SOURCE: usual circuits of inputs for thermistors.
constexpr double leastPullUp_ohm = 470, mostPullUp_ohm = 33e3;
// No thermistor that is whole has as little.
constexpr double shortedThermistor_ohm = 8;
// Where parts of a machine may be, and what a person may be wrong by about one's warmth.
constexpr double coldest_C = -40, hottest_C = 150, told_K = 12;

// A pick-up at cranking speed, alternating; and how much more from cranking to running. SOURCE: custom of the trade.
constexpr double pickUpAtLeast_V = 0.2, pickUpGrows = 1.2;

// A pair of lines: its two terminations, asleep. SOURCE: ISO 11898-2, 120 Ω at each end.
constexpr double termination_ohm = 120;
// Between the lines where no termination is left; a line to ground, transceivers have tens of kilohms.
constexpr double bareFrom_ohm = 1000, lineToGround_ohm = 500;
// Awake. SOURCE: ISO 11898-2: both lines recessive at 2 V to 3 V, dominant 3.5 V and 1.5 V; a meter shows the mean
// between.
constexpr double highFrom_V = 1.8, highTo_V = 3.9, lowFrom_V = 1.1, lowTo_V = 3.2;
constexpr double sum_V = 5, sumWithin_V = 1.2;
// No level; and nothing of a module that makes five volts stands above.
constexpr double none_V = 0.5, supplyFrom_V = 5.3;
// One wire, of what it is pulled up to. SOURCE: ISO 17987, recessive above 0.6, dominant below 0.4 of the supply.
constexpr double recessiveFrom = 0.6, dominantTo = 0.4;

// How long a module that dislikes what it senses mostly waits before it switches off. SOURCE: customary.
constexpr double shutDownAfter_s = 10;

}  // namespace ilvek::trade
