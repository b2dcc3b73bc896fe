// The recordings that ship with Ilvek, each made by its physical model.
#pragma once

#include <string>
#include <vector>

#include "practice/recorder.h"

namespace ilvek::practice {

struct DemoTrace {
    const char* id;
    const char* words;
    Recording (*make)(double noise, std::uint32_t seed);
    double noise;  // one sigma as a share of the largest value, when nothing else is asked
};
const std::vector<DemoTrace>& demoTraces();
const DemoTrace* demoTraceNamed(const std::string& id);

}  // namespace ilvek::practice
