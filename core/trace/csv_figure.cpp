// One figure out of text, the usual ones by whole numbers and a table of powers.
#include <fast_float/fast_float.h>

#include <array>
#include <bit>
#include <cstdint>
#include <cstring>

#include "trace/csv_reader.h"

namespace ilvek {

namespace {

// 10^k is exact up to k = 22, whole numbers up to 2^53: their quotient or product is then rounded once only.
constexpr std::array<double, 23> powers = {1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,  1e8,  1e9,  1e10, 1e11,
                                           1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22};
constexpr std::array<std::uint64_t, 9> tens = {1, 10, 100, 1000, 10000, 100000, 1000000, 10000000, 100000000};
constexpr std::uint64_t mostExact = std::uint64_t{1} << 53;
constexpr int mostDigits = 18;
static_assert(std::endian::native == std::endian::little, "the first byte of a word is its lowest");

// The first digit lies in the lowest byte.
std::uint64_t joined(std::uint64_t word)
{
    word = 10 * word + (word >> 8);
    return (((word & 0x000000FF000000FFU) * 0x000F424000000064U) +
            (((word >> 16) & 0x000000FF000000FFU) * 0x0000271000000001U)) >>
           32;
}

bool isDigit(char c)
{
    return static_cast<unsigned char>(c - '0') < 10;
}

// Digits of eight bytes at a time: those before the first byte that is none, as one number.
// SOURCE: the three multiplications that join eight digits pairwise, a known trick of word-wise arithmetic.
struct Digits {
    std::uint64_t value = 0;
    int count = 0;
};

Digits digitsOf(const char* p)
{
    std::uint64_t word = 0;
    std::memcpy(&word, p, sizeof word);
    word ^= 0x3030303030303030U;
    const std::uint64_t none = ((word + 0x7676767676767676U) | word) & 0x8080808080808080U;
    if (none == 0) return {joined(word), 8};
    const int count = std::countr_zero(none) / 8;
    if (count == 0) return {};
    // Moved up, so that noughts stand before them.
    return {joined(word << (8 * (8 - count))), count};
}

const char* byLibrary(const char* from, const char* end, char decimal, double& value)
{
    if (from < end && *from == '+' && ++from < end && *from == '-') return nullptr;
    const auto read = fast_float::from_chars_advanced(
        from, end, value, fast_float::parse_options{fast_float::chars_format::general, decimal});
    return read.ec == std::errc() ? read.ptr : nullptr;
}

}  // namespace

const char* scanFigure(const char* from, const char* end, char decimal, double& value)
{
    const char* p = from;
    const bool negative = p < end && *p == '-';
    if (p < end && (*p == '-' || *p == '+')) ++p;
    std::uint64_t whole = 0;
    int digits = 0, behind = 0;
    const auto take = [&] {
        const int before = digits;
        while (end - p >= 8 && digits <= mostDigits) {
            const Digits some = digitsOf(p);
            whole = tens[static_cast<std::size_t>(some.count)] * whole + some.value;
            p += some.count, digits += some.count;
            if (some.count < 8) return digits - before;
        }
        for (; p < end && isDigit(*p) && digits <= mostDigits; ++p, ++digits)
            whole = 10 * whole + static_cast<std::uint64_t>(*p - '0');
        return digits - before;
    };
    take();
    if (p < end && *p == decimal) {
        ++p;
        behind = take();
    }
    if (digits == 0 || digits > mostDigits) return byLibrary(from, end, decimal, value);
    int exponent = 0;
    if (p < end && (*p == 'e' || *p == 'E')) {
        const char* e = p + 1;
        const bool down = e < end && *e == '-';
        if (e < end && (*e == '-' || *e == '+')) ++e;
        if (e == end || !isDigit(*e)) return byLibrary(from, end, decimal, value);
        for (; e < end && isDigit(*e) && exponent < 1000; ++e)
            exponent = 10 * exponent + (*e - '0');
        if (down) exponent = -exponent;
        p = e;
    }
    const int power = exponent - behind;
    if (whole > mostExact || power < -22 || power > 22) return byLibrary(from, end, decimal, value);
    const auto exact = static_cast<double>(whole);
    const double size =
        power < 0 ? exact / powers[static_cast<std::size_t>(-power)] : exact * powers[static_cast<std::size_t>(power)];
    value = negative ? -size : size;
    return p;
}

}  // namespace ilvek
