// Any bytes as a pin sheet, and the map made from it.
#include <cstdint>
#include <string_view>

#include "bench_map/sheet_map.h"
#include "machine/map_reader.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const auto sheet = ilvek::readPinSheet({reinterpret_cast<const char*>(data), size}, "fuzz");
    if (!sheet) return 0;
    const auto document = ilvek::mapFromSheet(sheet->rows, {});
    if (document) (void)ilvek::readMap(*document, "fuzz");
    return 0;
}
