// The table of sentences of the procedures. Internal to wording.
#pragma once

#include <string_view>
#include <vector>

namespace ilvek {

struct Words {
    std::string_view id;
    std::string_view words;  // {name} stands for a part of the fact
};
const std::vector<Words>& procedureWords();

}  // namespace ilvek
