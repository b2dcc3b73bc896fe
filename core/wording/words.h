// What a person reads, by its name: the sentences stand in the tables of this folder, so that they can be read and
// bettered in one place, and said in another language.
#pragma once

#include <fmt/format.h>

#include <string>
#include <string_view>

namespace ilvek {

// The words of this id, as they stand in a table. REQUIRES: there are some.
const std::string& inWords(std::string_view id);
bool hasWords(std::string_view id);

// The same with these parts in them, each formatted as its {} says. REQUIRES: as many as the words have places for.
template <class... Parts>
std::string inWords(std::string_view id, const Parts&... parts)
{
    return fmt::vformat(inWords(id), fmt::make_format_args(parts...));
}

}  // namespace ilvek
