// The wrong steps that good technicians are seen to make, by their names (ids T1 … stand in files only).
#pragma once

#include <string_view>

namespace ilvek {

// "Drop without a current"; the id itself where it is not known.
std::string_view trapName(std::string_view id);

}  // namespace ilvek
