#include <fmt/format.h>

#include "base/file.h"
#include "base/text.h"
#include "trace/formats/csv_reader.h"

namespace ilvek {

namespace {

std::string quoted(const std::string& name)
{
    if (name.find_first_of(",\"\r\n") == std::string::npos && !runsInSpreadsheet(name)) return name;
    return csvCell(name);
}

}  // namespace

Result<void> writeCsv(const std::string& path, const Recording& r)
{
    std::string out = "time", units = "s";
    for (const Channel& c : r.channels) {
        out += "," + quoted(c.name);
        units += "," + std::string(unitSymbol(c.unit()));
    }
    out += "\n" + units + "\n";
    for (std::size_t i = 0; i < r.size(); ++i) {
        fmt::format_to(std::back_inserter(out), "{:.9g}", r.start_s + r.interval_s * static_cast<double>(i));
        for (const Channel& c : r.channels)
            fmt::format_to(std::back_inserter(out), ",{:.7g}", c.samples.at(i));
        out += '\n';
    }
    return writeFile(path, out);
}

}  // namespace ilvek
