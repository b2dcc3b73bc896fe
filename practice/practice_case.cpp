#include "practice/practice_case.h"

#include <algorithm>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "base/file.h"
#include "bench_map/map_correction.h"
#include "bench_map/pin_sheet.h"
#include "machine/map_reader.h"
#include "quantity/fields.h"

namespace ilvek::practice {

namespace {

using nlohmann::json;

class CaseReader {
public:
    CaseReader(const Map& map, std::string file) : map_(map), file_(std::move(file)) {}

    Result<PracticeCase, Problems> read(const std::string& text)
    {
        const auto document = parseJson(text, file_);
        if (!document) return tl::unexpected(Problems{document.error()});
        Fields root(*document, file_, problems_);
        if (!root.isObject()) return tl::unexpected(problems_);
        if (root.text("format", Need::Required) != "ilvek-practice")
            root.problem("format", "this is no practice case (“ilvek-practice” is expected)");
        root.whole("version", 1, 1, Need::Required);
        case_.id = std::filesystem::path(file_).stem().string();
        case_.title = root.text("title", Need::Required);
        case_.complaint = root.text("complaint", Need::Required);
        case_.reports.dead = functions(root, "fails");
        case_.reports.works = functions(root, "works");
        case_.reports.codes = root.texts("codes", Need::Optional);
        for (std::size_t n = 0; const json* object : root.objects("hidden", Need::Required)) {
            Fields fault(*object, file_ + ": hidden fault " + std::to_string(++n), problems_);
            if (fault.isObject()) readFault(fault);
        }
        if (const auto share = root.quantity("present", Unit::Percent, 1, 100, Need::Optional))
            case_.timing.presentShare = share->value / 100;
        if (const auto wait = root.quantity("shows_after", Unit::Second, 0, 86400, Need::Optional))
            case_.timing.absentFor_s = wait->value;
        case_.asDrawn = root.texts("map_shows", Need::Optional);
        for (const std::string& id : case_.asDrawn) {
            if (map_.terminalIndex(id) < 0) root.problem("map_shows", "“" + id + "” is not on the map");
        }
        case_.moduleBad = root.flag("module_bad");
        case_.places = root.texts("places", Need::Optional);
        case_.proof = root.text("proof", Need::Required);
        root.reportUnknown();
        if (!problems_.empty()) return tl::unexpected(problems_);
        return std::move(case_);
    }

private:
    std::vector<std::string> functions(Fields& root, const std::string& key)
    {
        const auto ids = root.texts(key, Need::Optional);
        for (const std::string& id : ids) {
            const bool known = std::any_of(map_.functions.begin(), map_.functions.end(),
                                           [&](const Function& f) { return f.id == id; });
            if (!known) root.problem(key, "“" + id + "” is no function of the map");
        }
        return ids;
    }

    int elementOf(Fields& fault)
    {
        const std::string id = fault.text("element", Need::Required);
        const int element = map_.elementIndex(id);
        if (element < 0 && !id.empty()) fault.problem("element", "“" + id + "” is not on the map");
        return element;
    }

    int nodeOf(Fields& fault, const std::string& key)
    {
        const std::string id = fault.text(key, Need::Required);
        const int node = map_.nodeIndex(id);
        if (node < 0 && !id.empty()) fault.problem(key, "“" + id + "” is no node of the map");
        return node;
    }

    void readFault(Fields& fields)
    {
        static const std::pair<const char*, Fault::Kind> kinds[] = {
            {"added resistance", Fault::Kind::AddedResistance},
            {"coil resistance", Fault::Kind::AddedCoilResistance},
            {"open", Fault::Kind::Open},
            {"short", Fault::Kind::ShortBetween},
            {"stuck closed", Fault::Kind::StuckClosed},
            {"out of value", Fault::Kind::OutOfValue},
            {"dead", Fault::Kind::Dead},
            {"blown", Fault::Kind::Blown}};
        const std::string kind = fields.text("kind", Need::Required);
        const auto* known =
            std::find_if(std::begin(kinds), std::end(kinds), [&](const auto& k) { return kind == k.first; });
        if (known == std::end(kinds)) return fields.problem("kind", "“" + kind + "” is no kind of fault");
        Fault fault;
        fault.kind = known->second;
        if (fault.kind == Fault::Kind::ShortBetween) {
            fault.nodeA = nodeOf(fields, "from");
            fault.nodeB = nodeOf(fields, "to");
        } else {
            fault.element = elementOf(fields);
        }
        const bool resistive = fault.kind == Fault::Kind::AddedResistance ||
                               fault.kind == Fault::Kind::AddedCoilResistance ||
                               fault.kind == Fault::Kind::ShortBetween;
        if (resistive) {
            if (const auto r = fields.quantity("resistance", Unit::Ohm, 0, 1e8, Need::Required))
                fault.resistance_ohm = r->value;
        }
        if (fault.kind == Fault::Kind::OutOfValue) {
            if (const auto f = fields.quantity("value", Unit::Percent, 0, 10000, Need::Required))
                fault.factor = f->value / 100;
        }
        fields.reportUnknown();
        case_.faults.push_back(fault);
    }

    const Map& map_;
    std::string file_;
    Problems problems_;
    PracticeCase case_;
};

}  // namespace

Result<PracticeCase, Problems> readCase(const Map& map, const std::string& file)
{
    const auto text = readFile(file);
    if (!text) return tl::unexpected(Problems{text.error()});
    return CaseReader(map, file).read(*text);
}

Result<std::vector<PracticeCase>, Problems> readCases(const Map& map, const std::string& folder)
{
    std::error_code error;
    std::vector<std::string> files;
    for (const auto& entry : std::filesystem::directory_iterator(folder, error)) {
        if (entry.path().extension() == ".json") files.push_back(entry.path().string());
    }
    if (error) return tl::unexpected(Problems{{folder, error.message()}});
    std::sort(files.begin(), files.end());
    std::vector<PracticeCase> cases;
    Problems problems;
    for (const std::string& file : files) {
        auto one = readCase(map, file);
        if (one)
            cases.push_back(std::move(*one));
        else
            problems.insert(problems.end(), one.error().begin(), one.error().end());
    }
    if (!problems.empty()) return tl::unexpected(problems);
    return cases;
}

Map learnersMap(const Map& map, const PracticeCase& practice)
{
    std::string document = map.document;
    for (const std::string& id : practice.asDrawn) {
        PinRow row;
        const Terminal& t = map.terminal(map.terminalIndex(id));
        row.connector = map.connectors[static_cast<std::size_t>(t.connector)].id;
        row.cavity = t.number;
        row.asFound = "as drawn";
        document = withCorrection(document, writePinRow(row)).value_or(document);
    }
    return practice.asDrawn.empty() ? map : readMap(document, "the learner's map").value_or(map);
}

bool isRight(const PracticeCase& practice, const std::string& place, bool module)
{
    if (module || practice.moduleBad) return module && practice.moduleBad;
    return std::find(practice.places.begin(), practice.places.end(), place) != practice.places.end();
}

}  // namespace ilvek::practice
