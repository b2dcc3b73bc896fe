// Figures of the trade: what holds for machines of every kind where nobody stated a better one. The maker's figure and
// what was measured on the machine stand in its map and come first; how sharply a method works stands beside the
// method. One table, so that judge, belief, procedures, maps and the simulated machine go by the same ones. Each block
// says where its figures are from.
//
// `Of`, `share` and figures without a unit are shares of what is named, mostly the system voltage.
#pragma once

namespace ilvek::trade {

// -- Copper -----------------------------------------------------------------------------------------------------------

// R = ρ l / A at 20 °C. SOURCE: IEC 60028, annealed copper.
constexpr double copperResistivity_ohm_mm2_per_m = 0.01724;
// R = R₂₀ (1 + α (T − 20 °C)). SOURCE: IEC 60028.
constexpr double copperPerKelvin = 0.0039;

// -- Battery and charging ---------------------------------------------------------------------------------------------

// At rest; 12 V, others in proportion. SOURCE: customary limits of the trade, flooded cells at 25 °C.
constexpr double fullFrom_V = 12.60, usableFrom_V = 12.24;
constexpr double crankingAtLeast_V = 9.6;
constexpr double chargedAtLeast_V = 13.2, chargedAtMost_V = 15.0, loadedAtLeast_V = 12.6, chargerAbove_V = 13.0;
// Six cells of 0.2 mV/K. SOURCE: thermodynamics of the lead-acid cell, customary figure.
constexpr double restPerKelvin_V = 0.0012;
// An evening with the key on: ten millivolts a minute, and it is another battery.
constexpr double longKeyOn_min = 15;
// A feed is compared with a battery reading of the same minute: at key-on a battery falls by some 10 mV a minute, and a
// charger or a consumer that switches moves it by more.
constexpr double batteryFreshFor_s = 60.0;
// Two readings of a pair taken further apart than this may differ by battery drift alone.
constexpr double pairWithin_s = 600.0;
// What the cable from the alternator to the battery may lose, as a share of the system voltage: a feed that branches
// off nearer to it stands so far above the posts. SOURCE: customary limit of the trade, 0.5 V on 12 V.
constexpr double chargingCableLoses = 0.5 / 12;
// What a battery rests at and an alternator or charger holds, of the system voltage; and what these have inside, of a
// machine that nobody measured. SOURCE: customary figures, lead-acid, 2.09 V and 2.35 V a cell; data sheets of usual
// sizes.
constexpr double batteryRests = 1.045, alternatorHolds = 1.175, chargerHolds = 1.17;
constexpr double batteryInside_ohm = 0.01, batteryTakesCharge_ohm = 0.08;
// Up to so much of the system voltage stands on posts that a charger feeds or just left. SOURCE: customary, 2.4 V a
// cell.
constexpr double chargerLeaves = 1.2;
// A battery is made for what it feeds: it loses no more than this share of its volts inside.
constexpr double batteryLoses = 0.012;
constexpr double alternatorInside_ohm = 0.02, alternatorAtMost_A = 60, chargerInside_ohm = 0.05, chargerAtMost_A = 20;
// To what share of its resting volts a starter pulls the battery; a sound one stands within a good tenth of it. SOURCE:
// customary: 10 to 11 V of 12 while cranking.
constexpr double cranksAt = 0.86, starterAtMost_A = 800, starterContact_ohm = 0.0008;
// What a second battery takes while it is charged.
constexpr double secondBatteryTakes_A = 15.0;

// -- Feeds, returns and the loom --------------------------------------------------------------------------------------

// Of a feed below the battery, open and with its own current or the largest load that it is made for; and where it must
// be absent. SOURCE: customary limits of the trade.
constexpr double openShortfall = 0.025, loadedShortfall = 0.05, absentAtMost_V = 1.0;
// Below this a supply is absent rather than low, of the battery.
constexpr double absentShare = 0.08;
// Of a return under its current; a sensor's return read against battery minus holds the wider one too. SOURCE:
// customary limits of the trade.
constexpr double returnDrop_V = 0.2, sensorReturnDrop_V = 0.1;
// A return at more than this share of the battery carries nothing: it is open, or the lead stands on a feed.
constexpr double returnReadsSupply = 0.7;
// A load test proves a conductor only when at least this share of the circuit's own current was tried: below it one
// strand left of seven still passes.
constexpr double leastShareOfCurrent = 0.25;
// Terminals fed from one fuse agree within hundredths of a volt when sound.
constexpr double siblingsAgreeWithin_V = 0.05;
// A loaded reading above the open-circuit one by more than this cannot be (two readings, two last digits each).
constexpr double impossibleRise_V = 0.06;
// Both test points of a sound fuse agree within this, whatever flows.
constexpr double fuseDropAtMost_V = 0.15;
// What a fuse loses at its rating, and the share of it at which it opens. SOURCE: ISO 8820, blade fuses.
constexpr double fuseDropAtRating_V = 0.09, fuseOpensAt = 1.35;
// A fuse is not loaded with more than this share of its rating for long. SOURCE: customary.
constexpr double fuseShare = 0.8;
// A contact of a plug, and a ground point with its lug. SOURCE: data sheets of usual contacts when new.
constexpr double connectorContact_ohm = 0.003, groundPoint_ohm = 0.001;
// Across a closed contact under its own load. SOURCE: customary limit of the trade.
constexpr double contactDropAtMost_V = 0.2;
// A loom whose lengths nobody stated: what a sound one loses at most, as a share of the system voltage. SOURCE:
// customary bound of the trade for feed and return together.
constexpr double soundLoomLoses = 0.05;
// A wire on its own: end to end by a meter, to ground, and what no wire of a loom has.
constexpr double endToEndAtMost_ohm = 1.0, toGroundAtLeast_ohm = 1e5, muchForAWire_ohm = 0.5;
// Of a lamp's own feed, that it may lose with the lamp's current.
constexpr double lampLossAtMost = 0.05;
// Two places of one conductor at a meter's current.
constexpr double alike_V = 0.08;

// -- Meters -----------------------------------------------------------------------------------------------------------

// Leads that show more than this with their tips together are bad, and nothing to take off a reading.
constexpr double leadsAtMost_ohm = 1.0;
// Ohmmeters of the trade end between this and some 60 MΩ: from here on a figure and OL are the same.
constexpr double ohmmeterEndsFrom_ohm = 2e6;
// Of a place that should be live, read in ohms with its feed off: shorted below the one, free between the others.
// Beyond them it may be electronics, or a meter that leads its own volts into them.
constexpr double liveShortBelow_ohm = 5, liveFreeFrom_ohm = 500, liveFreeTo_ohm = 1e6;
// The fuse of a lead that carries a lamp or a coil, of one that pulls a coil alone, and of one that stands in for a
// feed of which no fuse is known. SOURCE: customary.
constexpr double fusedLead_A = 5, fusedCoilLead_A = 2, fusedFeedLead_A = 20;
// What a clamp may show around nothing.
constexpr double clampZeroAtMost_A = 0.05;

// -- References and what hangs on them --------------------------------------------------------------------------------

// A sensor supply that nobody stated, how far it may be off, and what others are made for. SOURCE: customary; data
// sheets of usual regulators and sensors.
constexpr double reference_V = 5.0, referenceShare = 0.05;
constexpr double otherReferences_V[] = {3.3, 8, 9, 10, 12};
// Such a regulator's inside, the current at which it limits, and what it needs above its level.
constexpr double regulatorInside_ohm = 0.2, regulatorLimit_A = 0.15, regulatorDropout_V = 0.5;
// Below this a Hall sensor's own electronics draw in proportion; their supplies are 5 V or more.
constexpr double hallWorksAbove_V = 4.0;
// A track from supply to return, and what its wiper shows behind it.
constexpr double sensorTrack_ohm = 5000, sensorOutput_ohm = 1000;
// Of what a sensor should be fed with.
constexpr double fedFrom = 0.9;

// -- Inputs -----------------------------------------------------------------------------------------------------------

// A level this near to either end of the supply is that end; above the supply by so much it is lifted. Shares of it.
constexpr double rail = 0.04, lifted = 1.15;
// The coldest and the warmest that a sound machine lets a thermistor be.
constexpr double coldest_K = 253, warmest_K = 393;
// Of a thermistor between −20 and 120 °C, at the widest, on 5 V; of a pulled-up switch, closed and open.
constexpr double inputFrom_V = 0.1, inputTo_V = 4.9, switchedLow_V = 1.0, switchedHigh_V = 2.5;
// A line that a module pulls up: its level open, none at all, and closed and open as shares of that level.
constexpr double pulledUpFrom_V = 3, notPulledUpBelow_V = 1, closedShare = 0.25, openShare = 0.75;
// Pull-ups that modules have, at the widest, usual ones and the one that is drawn. SOURCE: usual circuits of inputs for
// thermistors and switches.
constexpr double leastPullUp_ohm = 470, mostPullUp_ohm = 33e3;
constexpr double pullUpFrom_ohm = 1000, pullUpTo_ohm = 4700, pullUp_ohm = 2200;
// What an input that only listens has to ground.
constexpr double inputInside_ohm = 1e5;
// Levels that set a code: of a feed, of the system voltage; of an input on 5 V. SOURCE: customary.
constexpr double codeFeedLow = 0.75, codeFeedHigh = 1.33, codeInputLow_V = 0.25, codeInputHigh_V = 4.75;
// A pick-up at cranking speed, alternating; and how much more from cranking to running. SOURCE: custom of the trade.
constexpr double pickUpAtLeast_V = 0.2, pickUpGrows = 1.2;

// -- Drives and their parts -------------------------------------------------------------------------------------------

// A drive's place, of the system voltage: at rest and commanded, of one to ground; commanded and at rest, of one on the
// plus side. SOURCE: customary limits of the trade, two volts of twelve.
constexpr double released = 0.7, pulledDown = 0.17, pulledUp = 0.8, resting = 0.12;
// A driver's own ohms, and what it may keep of the supply.
constexpr double driver_ohm = 0.2, driverKeeps = 0.04;
// Of the battery: every relay of that system pulls in there; what a drawn one pulls in and drops out at. SOURCE: usual
// sheets of relays, 60 to 70 % when warm.
constexpr double pullsInFrom = 0.75, pullsInAt = 0.6, dropsOutAt = 0.2;
// A sound contact loses less than the limit at what it is made for.
constexpr double relayCoil_ohmPerVolt = 7.0, relayContact_ohm = 0.005, relayContactLoses_V = 0.08;
// Closed contacts of a key switch and of a switch at an input.
constexpr double keySwitch_ohm = 0.01, switch_ohm = 0.05;
// The commonest lamp. SOURCE: usual sheets of lamps.
constexpr double lampPower_W = 21;
// R ~ U^0.55 above a cold tenth. SOURCE: customary approximation for tungsten filaments.
constexpr double filamentExponent = 0.55, coldShareOfHot = 0.1;
// What a motor that stands takes, of its running current. SOURCE: customary, small permanent-magnet motors.
constexpr double stallRatio = 6.0;
// In ohms at rest a motor has its winding and brushes: of volts by running current at least and at most.
constexpr double motorAtRestLeast = 1.0 / 15, motorAtRestMost = 10;
// What electronics at rest may show an ohmmeter, at the least.
constexpr double electronicsAtRest_ohm = 20;
// A winding or part to its case. SOURCE: custom of the trade for parts of these voltages.
constexpr double insulated_ohm = 1e5;
// A junction in diode mode, from germanium to two in a row.
constexpr double junctionFrom_V = 0.15, junctionTo_V = 1.2;

// -- Thermistors and senders ------------------------------------------------------------------------------------------

// R = R₂₅ exp(β (1/T − 1/298 K)), falling and, with a negative β, rising. SOURCE: customary of sensors on machines,
// between 25 and 85 °C; IEC 60751, platinum gains 0.385 % of its ohms at 0 °C per kelvin.
constexpr double thermistorAt25_ohm = 2500, thermistorBeta_K = 3435, risingBeta_K = -315;
// No thermistor that is whole has as little.
constexpr double shortedThermistor_ohm = 8;
// Where parts of a machine may be, and what a person may be wrong by about one's warmth.
constexpr double coldest_C = -40, hottest_C = 150, told_K = 12;

// -- Buses ------------------------------------------------------------------------------------------------------------

// A pair of lines: its two terminations, asleep. SOURCE: ISO 11898-2, 120 Ω at each end.
constexpr double termination_ohm = 120;
// Between the lines where no termination is left; a line to ground, transceivers have tens of kilohms; what holds a
// line about its middle while awake.
constexpr double bareFrom_ohm = 1000, lineToGround_ohm = 500, node_ohm = 50e3, transceiver_ohm = 30e3;
constexpr double bias_ohm = 15e3;
// Awake. SOURCE: ISO 11898-2: both lines recessive at 2 V to 3 V, dominant 3.5 V and 1.5 V; a meter shows the mean
// between. At the widest, either line:
constexpr double highFrom_V = 1.8, highTo_V = 3.9, lowFrom_V = 1.1, lowTo_V = 3.2, busFrom_V = 1.2, busTo_V = 3.8;
constexpr double sum_V = 5, sumWithin_V = 1.2;
// No level; and nothing of a module that makes five volts stands above.
constexpr double none_V = 0.5, supplyFrom_V = 5.3;
// One wire, of what it is pulled up to. SOURCE: ISO 17987, recessive above 0.6, dominant below 0.4 of the supply; 1 kΩ
// in the unit that leads, 30 kΩ in one that listens.
constexpr double recessiveFrom = 0.6, dominantTo = 0.4, leads_ohm = 1000, listens_ohm = 30e3;
// What a meter shows of its level while it talks, of the supply, at least and, charging, at most.
constexpr double talksAtLeast = 0.4, talksAtMost = 1.3;

// -- Modules ----------------------------------------------------------------------------------------------------------

// How long a module that dislikes what it senses mostly waits before it switches off. SOURCE: customary.
constexpr double shutDownAfter_s = 10;
// Of the supply, below which a unit is asleep: most wake at half of it.
constexpr double unitWakes = 0.5;

// -- What is assumed of a machine where its sheet says nothing --------------------------------------------------------
// Wide on purpose: each is an unknown of a factor of two or more, and every use is marked so. SOURCE: customs of the
// trade, docs/formats.md.
namespace assumed {

constexpr double wireLength_m = 2.0;
constexpr double fuseRating_A = 10.0;
constexpr int knownWeak = 10;             // times likelier to fail than its kind: what people know of it
constexpr double shareOfFuse = 0.4;       // what a module draws of its main fuses' ratings, in all
constexpr double shareOfSideFuse = 0.05;  // and of those that only wake it or keep its memory
constexpr double leastCurrent_A = 0.1;
constexpr double measuredCurrentWithin = 0.1;  // of a clamp's figure of this machine, one sigma
constexpr double loadCurrent_A = 1.0;          // of an actuator
// A sound loom is dimensioned for its current: what one piece of it loses.
constexpr double lossOfWire = 0.006;  // of the system voltage
constexpr double lossOfReturn_V = 0.03, lossOfStrap_V = 0.01;

}  // namespace assumed

// -- How far a sound part may be off ----------------------------------------------------------------------------------
// One sigma, as a share of its figure. SOURCE: usual tolerances of the trade's parts: windings and lamps ±15 %,
// resistors ±5 %, sensors a few per cent of their span; joints and contacts differ most, and what a module draws is
// known least.
namespace spread {

constexpr double wire = 0.1, contact = 0.4, fuseOrRelay = 0.2, module = 0.15, regulator = 0.006, resistor = 0.03;
constexpr double battery = 0.02, otherPart = 0.06;
// Of ln(true figure / the map's) of a wire that nobody measured, and of a length or section that somebody did.
constexpr double unknownLength = 0.75, unknownSection = 0.53, statedDimension = 0.07;
// Of what is typical, and of what nobody stated: half of what is assumed or twice that. Of a drive too: one keeps a
// tenth of a volt, another a whole one.
constexpr double typicalPart = 0.5, unknownRegulator = 0.02, unknownPart = 1.0;
// What a module draws in one state of the machine beside another, as a share: what it drives with the key on is not
// what it drives while the engine runs.
constexpr double drawByState = 1.5;
// So many times a battery's assumed inner resistance more: a small, cold or old one.
constexpr double batteryInside = 4.0;
// How warm a part is that nobody touched.
constexpr double warmth_K = 30;

}  // namespace spread

}  // namespace ilvek::trade
