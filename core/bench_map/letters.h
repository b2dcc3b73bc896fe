// Letters, digits and words of a cell. Of ASCII, whatever the locale says.
#pragma once

#include <string_view>

namespace ilvek {

constexpr bool isDigit(char c)
{
    return c >= '0' && c <= '9';
}

constexpr bool isLetter(char c)
{
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
}

template <class... Names>
bool isOneOf(std::string_view word, Names... names)
{
    return ((word == names) || ...);
}

}  // namespace ilvek
