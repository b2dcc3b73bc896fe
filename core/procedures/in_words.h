// What a person reads of the procedures, made of their facts, and of a trend.
#pragma once

#include <string>
#include <string_view>

#include "machine/map.h"
#include "procedures/procedure.h"
#include "proving/trend.h"

namespace ilvek {

// The sentence of the fact, with its names and figures in it. REQUIRES: the table has one, see isWorded().
std::string sentence(const Fact& fact);
// Whether there is a sentence, and the fact gives all that it holds.
bool isWorded(const Fact& fact);

// "Short on F5", "Battery and charging".
std::string procedureTitle(const Map& map, const Procedure& procedure);
// What it is for, in one sentence.
std::string procedurePurpose(const Procedure& procedure);
// "Shown directly", "by elimination", "on likelihood".
std::string_view gradeWords(Grade grade);

// "INJ3: 910 mA, 780 mA, 0 A in 62 min: it weakens, and had announced it."
std::string trendWords(const Map& map, const Trend& trend);

}  // namespace ilvek
