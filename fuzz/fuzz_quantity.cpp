// Any bytes as a figure: understood or refused with a reason; what is understood can be written.
#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "quantity/quantity.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    if (size == 0) return 0;
    const auto unit = static_cast<ilvek::Unit>(data[0] % 13);
    const auto read = ilvek::parseQuantity({reinterpret_cast<const char*>(data) + 1, size - 1}, unit, 10.0);
    if (!read) {
        if (read.error().reason.empty()) std::abort();
        return 0;
    }
    (void)ilvek::formatQuantity(*read);
    (void)ilvek::exactQuantity(*read);
    return 0;
}
