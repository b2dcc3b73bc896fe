// Any bytes as an entry of the journal: what is read can be written, and what was written is read as the same. And any
// bytes as a figure that is typed: what is taken as one is read again.
#include <cstdint>
#include <cstdlib>
#include <string>
#include <string_view>

#include "job/event.h"

namespace {

void writeThenRead(const ilvek::EventBody& body)
{
    const std::string written = ilvek::writeBody(body);
    const auto again = ilvek::readBody(ilvek::eventKind(body), written, "again");
    if (!again || ilvek::writeBody(*again) != written) std::abort();
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    if (size < 2) return 0;
    static constexpr std::string_view kinds[] = {"job",    "complaint",      "codes",      "reading",    "note",
                                                 "undo",   "state",          "repair",     "assumption", "check",
                                                 "school", "map-correction", "instrument", "trace"};
    const std::string_view text(reinterpret_cast<const char*>(data) + 1, size - 1);
    const std::size_t kind = data[0] % (std::size(kinds) + 1);
    if (kind < std::size(kinds)) {
        if (const auto body = ilvek::readBody(kinds[kind], text, "fuzz")) writeThenRead(*body);
        return 0;
    }
    for (const ilvek::Unit unit : {ilvek::Unit::Volt, ilvek::Unit::Ohm}) {
        const auto figure = ilvek::parseQuantity(text, unit);
        if (!figure) continue;
        ilvek::Reading reading;
        reading.test = unit == ilvek::Unit::Volt ? ilvek::TestKind::Level : ilvek::TestKind::Resistance;
        reading.red = "a", reading.black = "b", reading.state = "s";
        reading.value = *figure;
        const auto back = ilvek::readBody("reading", ilvek::writeBody(reading), "fuzz");
        if (!back) std::abort();
        const auto& value = std::get<ilvek::Reading>(*back).value;
        if (value.overLimit != figure->overLimit || (!figure->overLimit && value.value != figure->value)) std::abort();
    }
    return 0;
}
