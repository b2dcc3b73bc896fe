// The few figures that hold for every machine, each with its reason. All others are fields of a map.
#pragma once

namespace ilvek::rules {

// A feed is compared with a battery reading of the same minute: at key-on a battery falls by some 10 mV a minute, and a
// charger or a consumer that switches moves it by more.
constexpr double batteryFreshFor_s = 60.0;

// A load test proves a conductor only when at least this share of the circuit's own current was tried: below it one
// strand left of seven still passes.
constexpr double leastShareOfCurrent = 0.25;

// Terminals fed from one fuse agree within hundredths of a volt when sound.
constexpr double siblingsAgreeWithin_V = 0.05;

// A loaded reading above the open-circuit one by more than this cannot be (two readings, two last digits each).
constexpr double impossibleRise_V = 0.06;

// A return at more than this share of the battery carries nothing: it is open, or the lead stands on a feed.
constexpr double returnReadsSupply = 0.7;

// Two readings of a pair taken further apart than this may differ by battery drift alone.
constexpr double pairWithin_s = 600.0;

// Both test points of a sound fuse agree within this, whatever flows.
constexpr double fuseDropAtMost_V = 0.15;

// A loom whose lengths nobody stated: what a sound one loses at most, as a share of the system voltage. SOURCE:
// customary bound of the trade for feed and return together.
constexpr double soundLoomLoses = 0.05;

// What a sound power return may lose, V; a sensor's return read against battery minus holds it too.
constexpr double soundReturnLoses_V = 0.2;

// What the cable from the alternator to the battery may lose, as a share of the system voltage: a feed that branches
// off nearer to it stands so far above the posts. SOURCE: customary limit of the trade, 0.5 V on 12 V.
constexpr double chargingCableLoses = 0.5 / 12;

// Leads that show more than this with their tips together are bad, and nothing to take off a reading.
constexpr double leadsAtMost_ohm = 1.0;

// Below this a supply is absent rather than low, as a share of the battery.
constexpr double absentShare = 0.08;

}  // namespace ilvek::rules
