// The tables of sentences and phrases, a file for each kind of work. Internal to wording and its tests.
#pragma once

#include <string_view>
#include <vector>

namespace ilvek {

struct Words {
    std::string_view id;
    // Of procedures {name} stands for a part of the fact; elsewhere {} for the next part, {0} and {1} where a language
    // wants them in another order.
    std::string_view words;
};

const std::vector<Words>& procedureWords();
const std::vector<Words>& judgementWords();
const std::vector<Words>& stepWords();
const std::vector<Words>& suspectWords();
const std::vector<Words>& verdictWords();
const std::vector<Words>& paperWords();
const std::vector<Words>& repairWords();

}  // namespace ilvek
