// Any bytes as the line of a set-up and as a figure, parted by the first line break: what is taken is written, read
// again and judged; what is not is refused with a reason.
#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "base/file.h"
#include "bench_map/pin_sheet.h"
#include "bench_map/sheet_map.h"
#include "machine/map_reader.h"
#include "open_job/setup_line.h"
#include "open_job/taking.h"

namespace {

const ilvek::OpenJob& machine()
{
    static const ilvek::OpenJob open = [] {
        const auto text = ilvek::readFile("data/sheets/hauler-24v.csv");
        const auto sheet = ilvek::readPinSheet(*text, "hauler");
        ilvek::NewMachine hauler;
        hauler.systemVoltage_V = 24;
        return *ilvek::OpenJob::of({*ilvek::mapFromSheet(sheet->rows, hauler), {}});
    }();
    return open;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    const std::size_t cut = std::min(text.find('\n'), size);
    const ilvek::Map& map = machine().job.map;
    const auto setUp = ilvek::parseSetUp(map, text.substr(0, cut), "key-on");
    if (!setUp) {
        if (setUp.error().reason.empty()) std::abort();
        return 0;
    }
    const auto again = ilvek::parseSetUp(map, ilvek::setUpLine(map, *setUp), "key-on");
    if (!again || !(*again == *setUp)) std::abort();
    const auto reading = ilvek::readingAnywhere(machine(), *setUp, text.substr(std::min(cut + 1, size)), 1000);
    if (!reading) {
        if (reading.error().reason.empty()) std::abort();
        return 0;
    }
    ilvek::Evidence evidence;
    evidence.readings.push_back(*reading);
    (void)ilvek::assess(map, std::move(evidence));
    return 0;
}
