#include "trace/formats/csv_figure.h"

#include <fast_float/fast_float.h>

namespace ilvek {

using namespace csv_figure;

namespace {

bool isDigit(char c)
{
    return static_cast<unsigned char>(c - '0') < 10;
}

const char* byLibrary(const char* from, const char* end, char decimal, double& value)
{
    if (from < end && *from == '+' && ++from < end && *from == '-') return nullptr;
    const auto read = fast_float::from_chars_advanced(
        from, end, value, fast_float::parse_options{fast_float::chars_format::general, decimal});
    // Beyond what a figure can hold: infinite, or nothing.
    return read.ec == std::errc() || read.ec == std::errc::result_out_of_range ? read.ptr : nullptr;
}

}  // namespace

bool isOldNoFigure(const char* from, const char* end, char decimal)
{
    if (from < end && (*from == '-' || *from == '+')) ++from;
    return end - from >= 4 && *from == '1' && from[1] == decimal && from[2] == '#';
}

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
