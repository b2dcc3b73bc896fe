// An independent solution of the same circuit: the map in one condition written as a netlist and solved by ngspice.
#pragma once

#include <map>
#include <string>

#include "circuit/condition.h"
#include "circuit/operating_point.h"
#include "machine/map.h"

namespace ilvek::test {

// Laws as behavioural sources, written from the field's equations and not from the solver's code. Relays and drivers
// stand as `settled` says: ngspice solves the network, not the logic.
std::string spiceNetlist(const Map& map, const Condition& condition, const OperatingPoint& settled);

// Potentials by node index; empty when ngspice did not converge.
std::map<int, double> spicePotentials(const std::string& netlist);

}  // namespace ilvek::test
