#include "job/machine_file.h"

#include <algorithm>
#include <nlohmann/json.hpp>
#include <set>

#include "base/file.h"
#include "base/text.h"
#include "bench_map/map_correction.h"
#include "bench_map/pin_sheet.h"
#include "bench_map/sheet_map.h"
#include "job/job.h"
#include "machine/map_reader.h"
#include "quantity/fields.h"

namespace ilvek {

namespace {

using Json = nlohmann::ordered_json;

constexpr const char* format = "ilvek-machine";
constexpr const char* ending = ".json";

FoundOnMachine readFound(const nlohmann::json& object, const std::string& item, Problems& problems)
{
    Fields f(object, item, problems);
    FoundOnMachine found;
    if (const auto* row = f.object("row", Need::Required)) found.row = row->dump();
    found.job = f.text("job", Need::Optional);
    if (const auto time = readTime(f.text("time", Need::Required)))
        found.time_ms = *time;
    else
        f.problem("time", time.error().message());
    f.reportUnknown();
    return found;
}

// Nothing of it may be left that no job could be begun with.
void checkMap(const Machine& machine, const std::string& fileName, Problems& problems)
{
    std::string document = machine.document;
    const auto map = readMap(document, fileName + ": map");
    if (!map) problems.insert(problems.end(), map.error().begin(), map.error().end());
    for (const FoundOnMachine& found : machine.found) {
        if (!problems.empty()) return;
        auto corrected = withCorrection(document, found.row);
        if (corrected)
            document = std::move(*corrected);
        else
            problems.push_back(
                {fileName + ": found, " + correctionWords(found.row), corrected.error().front().message()});
    }
}

std::string fileNameOf(const std::string& title)
{
    std::string name;
    for (const char c : lowered(title)) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || static_cast<unsigned char>(c) >= 0x80;
        if (plain)
            name += c;
        else if (!name.empty() && name.back() != '-')
            name += '-';
    }
    return (name.empty() ? "machine" : name.substr(0, 80)) + ending;
}

}  // namespace

std::string machineTitle(const std::string& mapDocument)
{
    const NewMachine m = machineNamedIn(mapDocument);
    const bool noMaker = m.maker.empty() || m.maker == NewMachine{}.maker;
    return (noMaker ? "" : m.maker + " ") + m.model + (m.variant.empty() ? "" : ", " + m.variant) + " · " + m.module;
}

std::string writeMachine(const Machine& machine)
{
    Json found = Json::array();
    for (const FoundOnMachine& f : machine.found) {
        Json entry{{"row", Json::parse(f.row, nullptr, false)}, {"time", writeTime(f.time_ms)}};
        if (!f.job.empty()) entry["job"] = f.job;
        found.push_back(std::move(entry));
    }
    const Json out{{"format", format},
                   {"version", 1},
                   {"map", Json::parse(machine.document, nullptr, false)},
                   {"found", std::move(found)}};
    return out.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<Machine, Problems> readMachine(std::string_view text, const std::string& fileName)
{
    const auto root = parseJson(text, fileName);
    if (!root) return tl::unexpected(Problems{root.error()});
    Problems problems;
    Fields f(*root, fileName, problems);
    if (!f.isObject()) return tl::unexpected(problems);
    if (f.text("format", Need::Required) != format)
        return tl::unexpected(Problems{{fileName, "this is not a machine that Ilvek kept"}});
    f.whole("version", 1, 1, Need::Required);
    Machine machine;
    f.object("map", Need::Required);
    // In the order of the file, which a job's map keeps.
    const Json ordered = Json::parse(text, nullptr, false);
    if (ordered.contains("map")) machine.document = ordered["map"].dump(1) + "\n";
    for (std::size_t n = 0; const nlohmann::json* object : f.objects("found", Need::Optional))
        machine.found.push_back(readFound(*object, fileName + ": found " + std::to_string(++n), problems));
    f.reportUnknown();
    if (problems.empty()) checkMap(machine, fileName, problems);
    if (!problems.empty()) return tl::unexpected(problems);
    return machine;
}

Result<Machine, Problems> readMachineFile(const std::filesystem::path& path)
{
    const auto bytes = readFile(path);
    if (!bytes) return tl::unexpected(Problems{bytes.error()});
    return readMachine(*bytes, path.filename().string());
}

std::vector<KeptMachine> machinesIn(const std::filesystem::path& folder)
{
    std::vector<KeptMachine> out;
    std::error_code code;
    for (const auto& file : std::filesystem::directory_iterator(folder, code)) {
        if (file.path().extension() != ending) continue;
        const auto bytes = readFile(file.path());
        const Json root = bytes ? Json::parse(*bytes, nullptr, false) : Json();
        if (!root.is_object() || root.value("format", "") != format || !root.contains("map")) continue;
        out.push_back({file.path(), machineTitle(root["map"].dump())});
    }
    std::sort(out.begin(), out.end(), [](const KeptMachine& a, const KeptMachine& b) { return a.title < b.title; });
    return out;
}

Result<std::filesystem::path> keepMachine(const std::filesystem::path& folder, const Machine& machine)
{
    std::error_code code;
    std::filesystem::create_directories(folder, code);
    const std::string title = machineTitle(machine.document);
    std::filesystem::path path = folder / fileNameOf(title);
    // Two titles may differ in letters that a file's name does not keep.
    for (const KeptMachine& kept : machinesIn(folder)) {
        if (kept.title == title) path = kept.path;
    }
    const auto isOther = [&] {
        const auto there = readMachineFile(path);
        return std::filesystem::exists(path) && !(there && machineTitle(there->document) == title);
    };
    for (int n = 2; isOther(); ++n)
        path = folder / (std::filesystem::path(fileNameOf(title)).stem().string() + "-" + std::to_string(n) + ending);
    if (const auto written = writeFile(path, writeMachine(machine)); !written) return tl::unexpected(written.error());
    return path;
}

Machine machineOf(const Journal& journal, const Machine* before)
{
    Machine machine{journal.mapDocument(), before ? before->found : std::vector<FoundOnMachine>{}};
    const auto job = foldJob(journal.content());
    if (!job) return machine;
    const std::set<std::int64_t> standing(job->correctionIds.begin(), job->correctionIds.end());
    for (const Event& event : journal.events()) {
        const auto* correction = std::get_if<MapCorrection>(&event.body);
        if (!correction) continue;
        const auto known = std::find_if(machine.found.begin(), machine.found.end(),
                                        [&](const FoundOnMachine& f) { return f.row == correction->row; });
        const bool stands = standing.contains(event.id);
        if (stands && known == machine.found.end())
            machine.found.push_back({correction->row, event.time_ms, job->details.title});
        if (!stands && known != machine.found.end()) machine.found.erase(known);
    }
    return machine;
}

bool isSameDrawing(const std::string& a, const std::string& b)
{
    return a == b || Json::parse(a, nullptr, false) == Json::parse(b, nullptr, false);
}

Result<Journal> newJobOn(const Machine& machine, const std::filesystem::path& path, std::int64_t now_ms)
{
    JobContent content{machine.document, {}};
    for (const FoundOnMachine& found : machine.found) {
        const auto row = readPinRow(found.row);
        const std::string place = row ? (row->isTerminal() ? row->id() : row->circuit) : "";
        content.events.push_back(
            {static_cast<std::int64_t>(content.events.size()) + 1, now_ms, MapCorrection{place, found.row}});
    }
    return Journal::create(path, std::move(content));
}

}  // namespace ilvek
