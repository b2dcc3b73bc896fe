#include "job/hand_over.h"

#include <fmt/format.h>
#include <algorithm>
#include <nlohmann/json.hpp>

#include "base/file.h"
#include "bench_map/pin_sheet.h"
#include "job/job.h"
#include "machine/map_reader.h"
#include "quantity/fields.h"

namespace ilvek {

namespace {

using nlohmann::json;

constexpr int formatVersion = 2;

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

SetAside readSetAside(const json& object, std::size_t index, const std::string& file, Problems& problems)
{
    Fields f(object, fmt::format("{}: entry set aside {}", file, index + 1), problems);
    SetAside entry;
    entry.id = f.whole("id", 1, 2'000'000'000, Need::Required);
    entry.time = f.text("time", Need::Optional), entry.kind = f.text("kind", Need::Optional);
    entry.body = f.text("body", Need::Optional), entry.reason = f.text("reason", Need::Required);
    f.reportUnknown();
    return entry;
}

// Every name that an entry uses must be one of the map, with the corrections that the job made to it.
class NameCheck {
public:
    NameCheck(const Map& map, std::string file, Problems& problems)
        : map_(map), file_(std::move(file)), problems_(problems)
    {
    }

    void operator()(const Event& event)
    {
        item_ = fmt::format("{}: entry {}", file_, event.id);
        std::visit([this](const auto& body) { check(body); }, event.body);
    }

private:
    void unknown(const std::string& what) { problems_.push_back({item_, what + " is not on the map"}); }

    template <class Body>
    void check(const Body&)
    {
    }
    void check(const Reading& r)
    {
        if (const auto name = unknownName(map_, r)) unknown(*name);
        terminal(r.terminal);
    }
    void check(const StateChange& b)
    {
        if (map_.stateIndex(b.state) < 0) unknown("the state “" + b.state + "”");
    }
    void check(const FunctionsSeen& b)
    {
        if (const auto name = unknownName(map_, b)) unknown(*name);
        for (const auto* list : {&b.works, &b.fails}) {
            for (const std::string& id : *list) {
                const auto at = std::find_if(map_.functions.begin(), map_.functions.end(),
                                             [&](const Function& f) { return f.id == id; });
                if (at == map_.functions.end()) unknown("the function “" + id + "”");
            }
        }
    }
    void check(const ChartEntered& b)
    {
        for (const ChartStep& s : b.steps) {
            if (const auto name = unknownName(map_, s)) unknown(*name);
        }
    }
    void check(const Assumption& b) { terminal(b.terminal); }
    void check(const Repair& b)
    {
        for (const std::string& id : b.elements) {
            if (map_.elementIndex(id) < 0 && map_.terminalIndex(id) < 0) unknown("the part “" + id + "”");
        }
    }
    void check(const MapCorrection& b)
    {
        const auto row = readPinRow(b.row);
        if (!row) problems_.push_back({item_, row.error().message()});
        if (row && !row->role.empty() && !roleFromText(row->role))
            problems_.push_back({item_, "“" + row->role + "” is no role that is known here"});
    }
    void terminal(const std::string& id)
    {
        if (!id.empty() && map_.terminalIndex(id) < 0) unknown("the terminal “" + id + "”");
    }

    const Map& map_;
    std::string file_, item_;
    Problems& problems_;
};

void checkNames(const JobContent& content, const std::string& file, Problems& problems)
{
    const auto job = foldJob(content);
    if (!job) return void(problems.insert(problems.end(), job.error().begin(), job.error().end()));
    NameCheck check(job->map, file, problems);
    for (const Event& event : content.events)
        check(event);
}

}  // namespace

std::string writeHandOver(const JobContent& content)
{
    json list = json::array();
    for (const Event& event : content.events) {
        list.push_back({{"id", event.id},
                        {"time", writeTime(event.time_ms)},
                        {"kind", eventKind(event.body)},
                        {"body", json::parse(writeBody(event.body))}});
    }
    nlohmann::ordered_json out{{"format", "ilvek-job"}, {"version", formatVersion}, {"events", list}};
    for (const SetAside& entry : content.setAside)
        out["set_aside"].push_back({{"id", entry.id},
                                    {"time", entry.time},
                                    {"kind", entry.kind},
                                    {"body", entry.body},
                                    {"reason", entry.reason}});
    // The map is kept field by field in its own order.
    out["map"] = nlohmann::ordered_json::parse(content.mapDocument);
    return out.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

Result<JobContent, Problems> readHandOver(std::string_view text, const std::string& fileName)
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
    JobContent out;
    if (const json* map = root.object("map", Need::Required)) {
        out.mapDocument = map->dump(1);
        if (auto checked = readMap(out.mapDocument, fileName + ", map"); !checked)
            problems.insert(problems.end(), checked.error().begin(), checked.error().end());
    }
    std::int64_t lastId = 0;
    for (std::size_t i = 0; const json* object : root.objects("events", Need::Required))
        out.events.push_back(readEvent(*object, i++, lastId, fileName, problems));
    for (std::size_t i = 0; const json* object : root.objects("set_aside", Need::Optional))
        out.setAside.push_back(readSetAside(*object, i++, fileName, problems));
    root.reportUnknown();
    if (problems.empty()) checkNames(out, fileName, problems);
    if (!problems.empty()) return tl::unexpected(problems);
    return out;
}

Result<JobContent, Problems> readHandOverFile(const std::filesystem::path& path)
{
    const auto text = readFile(path);
    if (!text) return tl::unexpected(Problems{text.error()});
    return readHandOver(*text, path.filename().string());
}

Result<Journal, Problems> importJob(const std::filesystem::path& handOverFile, const std::filesystem::path& newJobFile)
{
    auto content = readHandOverFile(handOverFile);
    if (!content) return tl::unexpected(content.error());
    auto journal = Journal::create(newJobFile, std::move(*content));
    if (!journal) return tl::unexpected(Problems{journal.error()});
    return std::move(*journal);
}

Result<void> exportJob(const Journal& journal, const std::filesystem::path& handOverFile)
{
    return exportContent(journal.content(), handOverFile, {journal.path()});
}

Result<void> exportContent(const JobContent& content, const std::filesystem::path& handOverFile,
                           const std::vector<std::filesystem::path>& inputs)
{
    if (auto allowed = checkOutput(handOverFile, inputs); !allowed) return allowed;
    if (const auto map = parseJson(content.mapDocument, "the map of the job"); !map) return tl::unexpected(map.error());
    return writeFile(handOverFile, writeHandOver(content));
}

}  // namespace ilvek
