// How well a figure of a machine is known.
#pragma once

#include <optional>
#include <string_view>

namespace ilvek {

// Of a map that is drawn in full a figure is stated; of one made of a sheet what no row states is unknown.
enum class Known {
    Stated,   // by a source about this machine, or measured on it; within its range or the trade's tolerance
    Typical,  // of the trade for such a part: a fuse's own resistance, a contact
    Unknown   // nobody said: a factor of two or more either way; it may widen a prediction and decides nothing
};

constexpr std::string_view nameOf(Known known)
{
    return known == Known::Stated ? "stated" : known == Known::Typical ? "typical" : "unknown";
}

// nullopt: none of them.
constexpr std::optional<Known> knownNamed(std::string_view name)
{
    for (const Known known : {Known::Stated, Known::Typical, Known::Unknown}) {
        if (name == nameOf(known)) return known;
    }
    return std::nullopt;
}

}  // namespace ilvek
