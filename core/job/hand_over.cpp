#include "job/hand_over.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "base/file.h"
#include "machine/map_reader.h"
#include "quantity/fields.h"

namespace ilvek {

namespace {

using nlohmann::json;

constexpr int formatVersion = 1;

Event readEvent(const json& object, std::size_t index, std::int64_t& lastId, const std::string& file,
                Problems& problems)
{
    const std::string item = fmt::format("{}: entry {}", file, index + 1);
    Fields f(object, item, problems);
    Event event;
    event.id = f.whole("id", 1, 2'000'000'000, Need::Required);
    if (event.id <= lastId) f.problem("id", "must be larger than that of the entry before");
    lastId = event.id;
    const auto time = readTime(f.text("time", Need::Required));
    if (time)
        event.time_ms = *time;
    else
        f.problem("time", time.error().message());
    const std::string kind = f.text("kind", Need::Required);
    const json* body = f.object("body", Need::Required);
    f.reportUnknown();
    if (!body || kind.empty()) return event;
    auto read = readBody(kind, body->dump(), item);
    if (read)
        event.body = std::move(*read);
    else
        problems.push_back(read.error());
    return event;
}

void removeJobFiles(const std::filesystem::path& path)
{
    std::error_code ignored;
    for (const char* ending : {"", "-wal", "-shm", ".lock"})
        std::filesystem::remove(path.string() + ending, ignored);
}

}  // namespace

std::string writeHandOver(const std::string& mapDocument, const std::vector<Event>& events)
{
    json list = json::array();
    for (const Event& event : events) {
        list.push_back({{"id", event.id},
                        {"time", writeTime(event.time_ms)},
                        {"kind", eventKind(event.body)},
                        {"body", json::parse(writeBody(event.body))}});
    }
    // The map is kept field by field in its own order.
    const auto map = nlohmann::ordered_json::parse(mapDocument);
    nlohmann::ordered_json out{{"format", "ilvek-job"}, {"version", formatVersion}, {"events", list}, {"map", map}};
    return out.dump(1) + "\n";
}

Result<HandOver, Problems> readHandOver(std::string_view text, const std::string& fileName)
{
    const auto document = parseJson(text, fileName);
    if (!document) return tl::unexpected(Problems{document.error()});
    Problems problems;
    Fields root(*document, fileName, problems);
    if (root.text("format", Need::Required) != "ilvek-job")
        return tl::unexpected(
            Problems{{fileName, "this is not a hand-over file of Ilvek (its \"format\" is not \"ilvek-job\")"}});
    if (root.whole("version", 1, 1'000'000, Need::Required) > formatVersion)
        return tl::unexpected(Problems{{fileName, "was written by a newer Ilvek; this one cannot read it"}});
    HandOver out;
    if (const json* map = root.object("map", Need::Required)) {
        out.mapDocument = map->dump(1);
        if (auto checked = readMap(out.mapDocument, fileName + ", map"); !checked)
            problems.insert(problems.end(), checked.error().begin(), checked.error().end());
    }
    std::int64_t lastId = 0;
    for (std::size_t i = 0; const json* object : root.objects("events", Need::Required))
        out.events.push_back(readEvent(*object, i++, lastId, fileName, problems));
    root.reportUnknown();
    if (!problems.empty()) return tl::unexpected(problems);
    return out;
}

Result<Journal, Problems> importJob(const std::filesystem::path& handOverFile, const std::filesystem::path& newJobFile)
{
    const auto text = readFile(handOverFile);
    if (!text) return tl::unexpected(Problems{text.error()});
    auto handOver = readHandOver(*text, handOverFile.filename().string());
    if (!handOver) return tl::unexpected(handOver.error());
    auto journal = Journal::create(newJobFile, handOver->mapDocument);
    if (!journal) return tl::unexpected(Problems{journal.error()});
    auto written = journal->appendAll(std::move(handOver->events));
    if (written) return std::move(*journal);
    removeJobFiles(newJobFile);
    return tl::unexpected(Problems{written.error()});
}

Result<void> exportJob(const Journal& journal, const std::filesystem::path& handOverFile)
{
    return writeFile(handOverFile, writeHandOver(journal.mapDocument(), journal.events()));
}

}  // namespace ilvek
