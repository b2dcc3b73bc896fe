// One figure out of text, the usual ones by whole numbers and a table of powers.
#pragma once

#include <array>
#include <bit>
#include <cstdint>
#include <cstring>

namespace ilvek {

// A figure as recorders write them: sign, digits with one decimal sign, exponent. The end of it, or null when there is
// none at `from`. The same bits as the library's correctly rounded reading.
const char* scanFigure(const char* from, const char* end, char decimal, double& value);

// "1.#INF", "-1.#IND", "1.#QNAN", as some programs write what is no figure.
bool isOldNoFigure(const char* from, const char* end, char decimal);

// The same for the usual ones only, where they stand in the middle of a text: a sign, few digits, no exponent. Null
// where it is another one or none. REQUIRES: `quickReach` bytes can be read from `from` on.
constexpr std::ptrdiff_t quickReach = 32;
const char* quickFigure(const char* from, char decimal, double& value);

namespace csv_figure {

// 10^k is exact up to k = 22, whole numbers up to 2^53: their quotient or product is then rounded once only.
constexpr std::array<double, 23> powers = {1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,  1e8,  1e9,  1e10, 1e11,
                                           1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22};
constexpr std::array<std::uint64_t, 9> tens = {1, 10, 100, 1000, 10000, 100000, 1000000, 10000000, 100000000};
constexpr std::uint64_t mostExact = std::uint64_t{1} << 53;
constexpr int mostDigits = 18;
static_assert(std::endian::native == std::endian::little, "the first byte of a word is its lowest");

// Eight bytes of text, the first one lowest, digits as their figures; and the highest bit of each that is no digit.
inline std::uint64_t digitsIn(const char* p)
{
    std::uint64_t word = 0;
    std::memcpy(&word, p, sizeof word);
    return word ^ 0x3030303030303030U;
}
inline std::uint64_t notDigits(std::uint64_t word)
{
    return ((word + 0x7676767676767676U) | word) & 0x8080808080808080U;
}

// The first `count` digits of a word as one number, 1 to 8: moved up, so that noughts stand before them.
// SOURCE: the three multiplications that join eight digits pairwise, a known trick of word-wise arithmetic.
inline std::uint64_t leading(std::uint64_t word, int count)
{
    word <<= 8 * (8 - count);
    word = 10 * word + (word >> 8);
    return (((word & 0x000000FF000000FFU) * 0x000F424000000064U) +
            (((word >> 16) & 0x000000FF000000FFU) * 0x0000271000000001U)) >>
           32;
}

// Of eight bytes those before the first one that is no digit.
struct Digits {
    std::uint64_t value = 0;
    int count = 0;
};

inline Digits digitsOf(const char* p)
{
    const std::uint64_t word = digitsIn(p), none = notDigits(word);
    const int count = none == 0 ? 8 : std::countr_zero(none) / 8;
    return {count == 0 ? 0 : leading(word, count), count};
}

}  // namespace csv_figure

inline const char* quickFigure(const char* p, char decimal, double& value)
{
    using namespace csv_figure;
    const bool negative = *p == '-';
    p += negative ? 1 : 0;
    std::uint64_t all = 0;
    int behind = 0;
    const std::uint64_t word = digitsIn(p), none = notDigits(word);
    const std::uint64_t later = none & (none - 1);
    if (const int first = std::countr_zero(none) / 8; none == 0 || first == 0)
        return nullptr;
    else if (p[first] != decimal) {
        all = leading(word, first);
        p += first;
    } else if (later != 0) {
        // Figure and decimal sign lie within the word: what is behind the sign moves up to what is before it.
        const int last = std::countr_zero(later) / 8;
        const std::uint64_t before = (std::uint64_t{1} << (8 * first)) - 1;
        all = leading((word & before) | ((word >> 8) & ~before), last - 1);
        behind = last - 1 - first;
        p += last;
    } else {
        all = leading(word, first);
        p += first + 1;
        for (Digits some{0, 8}; some.count == 8; behind += some.count) {
            if (first + behind > mostDigits - 8) return nullptr;
            some = digitsOf(p);
            all = tens[static_cast<std::size_t>(some.count)] * all + some.value;
            p += some.count;
        }
        if (all > mostExact) return nullptr;
    }
    if ((*p | 0x20) == 'e') return nullptr;
    const double size = static_cast<double>(static_cast<std::int64_t>(all)) / powers[static_cast<std::size_t>(behind)];
    value = negative ? -size : size;
    return p;
}

}  // namespace ilvek
