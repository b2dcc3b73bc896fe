// One figure out of text, the usual ones by whole numbers and a table of powers.
#include <fast_float/fast_float.h>

#include <array>
#include <cstdint>

#include "trace/csv_reader.h"

namespace ilvek {

namespace {

// 10^k is exact up to k = 22, whole numbers up to 2^53: their quotient or product is then rounded once only.
constexpr std::array<double, 23> powers = {1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,  1e8,  1e9,  1e10, 1e11,
                                           1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22};
constexpr std::uint64_t mostExact = std::uint64_t{1} << 53;
constexpr int mostDigits = 18;

bool isDigit(char c)
{
    return static_cast<unsigned char>(c - '0') < 10;
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
    for (; p < end && isDigit(*p); ++p, ++digits)
        whole = 10 * whole + static_cast<std::uint64_t>(*p - '0');
    if (p < end && *p == decimal) {
        ++p;
        for (; p < end && isDigit(*p); ++p, ++digits, ++behind)
            whole = 10 * whole + static_cast<std::uint64_t>(*p - '0');
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
