#include "support/maps.h"

#include <nlohmann/json.hpp>

#include "bench_map/pin_sheet.h"
#include "bench_map/sheet_map.h"

#include <algorithm>
#include <cstdlib>

#include "base/file.h"

namespace ilvek::test {

std::string sourceText(const std::string& relativePath)
{
    const auto text = readFile(std::string(ILVEK_SOURCE_DIR) + "/" + relativePath);
    return text ? *text : "";
}

const Map& pt9()
{
    static const Map map = [] {
        auto read = readMapFile(std::string(ILVEK_SOURCE_DIR) + "/data/maps/pt-9.json");
        if (!read) {
            for (const Error& problem : read.error())
                ADD_FAILURE() << problem.message();
            std::abort();
        }
        return std::move(*read);
    }();
    return map;
}

std::string smallMapText()
{
    return R"json({
"format":"ilvek-map","version":1,
"machine":{"maker":"Nobody","model":"Small","system_voltage":"12 V","battery":"B"},
"module":"M",
"battery_expected":[{"state":"key-on","measure":"level","how":"loaded","low":"11.8 V","high":"12.9 V","source":"S"}],
"sources":[{"id":"S","title":"a sheet","kind":"maker"},{"id":"H","title":"measured on a healthy one","kind":"measured"}],
"states":[{"id":"key-off","name":"Key off"},{"id":"key-on","name":"Key on"}],
"connectors":[
 {"id":"M","rows":2,"columns":3,"module":true,"contact":"0 Ω","cavities":[
  {"cavity":1,"circuit":"supply","role":"switched feed","colour":"red/white","return":"M-2","current":"2 A","current_source":"S","needed_in":["key-on"],"absent_in":["key-off"],
   "expected":[{"state":"key-on","measure":"below battery","how":"open","low":"-0.05 V","high":"0.2 V","source":"S"},
               {"state":"key-on","measure":"below battery","how":"loaded","low":"-0.05 V","high":"0.5 V","source":"S"},
               {"state":"key-off","measure":"level","how":"open","low":"-0.1 V","high":"0.5 V","source":"S"}]},
  {"cavity":2,"circuit":"return","role":"return","colour":"brown","current":"2 A","current_source":"S","needed_in":["key-on"],
   "expected":[{"state":"key-on","measure":"drop","how":"loaded","low":"-5 mV","high":"0.1 V","source":"S"}]},
  {"cavity":3,"circuit":"reference","role":"reference","return":"M-4",
   "expected":[{"state":"key-on","measure":"level","how":"open","low":"4.9 V","high":"5.1 V","source":"S"},
               {"state":"key-on","measure":"level","how":"loaded","low":"4.9 V","high":"5.1 V","source":"S"}]},
  {"cavity":4,"circuit":"reference return","role":"reference return","expected":[{"state":"key-on","measure":"drop","how":"loaded","low":"-5 mV","high":"20 mV","source":"S"}]},
  {"cavity":5,"circuit":"level input","role":"analogue input","return":"M-4",
   "expected":[{"state":"key-on","measure":"level","how":"loaded","low":"2 V","high":"3 V","source":"S"},
               {"state":"key-on","measure":"level","how":"loaded","low":"1 V","high":"2.4 V","source":"H"}]},
  {"cavity":6,"role":"empty"}]},
 {"id":"X","rows":1,"columns":2,"wet":true,"contact":"0 Ω","reach":"120 s","cavities":[{"cavity":1,"circuit":"supply","colour":"red/white"},{"cavity":2,"role":"empty"}]}],
"splices":[],
"elements":[
 {"id":"B","kind":"battery","nodes":["B.+","B.-"],"emf":"12 V","resistance":"10 mΩ","reach":"20 s"},
 {"id":"F1","kind":"fuse","nodes":["B.+","F1.out"],"rating":"10 A","resistance":"10 mΩ","reach":"20 s"},
 {"id":"KEY","kind":"switch","nodes":["F1.out","KEY.out"],"resistance":"10 mΩ","in":["key-on"]},
 {"id":"W1","kind":"wire","nodes":["KEY.out","X-1.a"],"length":"1 m","section":"1.724 mm²"},
 {"id":"W2","kind":"wire","nodes":["X-1.b","M-1.a"],"length":"1 m","section":"1.724 mm²"},
 {"id":"W3","kind":"wire","nodes":["M-2.a","G.ring"],"length":"1 m","section":"1.724 mm²"},
 {"id":"G","kind":"joint","nodes":["G.ring","G"],"name":"ground point G","resistance":"1 mΩ"},
 {"id":"W4","kind":"wire","nodes":["G","B.-"],"length":"1 m","section":"17.24 mm²"},
 {"id":"P","kind":"supply port","nodes":["M-1.b","M-2.b"],"current":"1.2 A","brown_out":"6 V"},
 {"id":"REG","kind":"regulator","nodes":["M-1.b","M-3.b","M-2.b"],"voltage":"5 V","resistance":"0.1 Ω","limit":"0.1 A","dropout":"0.5 V"},
 {"id":"T4","kind":"joint","nodes":["M-4.b","M-2.b"],"resistance":"1 mΩ"},
 {"id":"I5","kind":"input","nodes":["M-5.b","M-2.b"],"resistance":"1 MΩ"},
 {"id":"W5","kind":"wire","nodes":["M-3.a","SEN.supply"],"length":"1 m","section":"0.75 mm²"},
 {"id":"W6","kind":"wire","nodes":["M-4.a","SEN.return"],"length":"1 m","section":"0.75 mm²"},
 {"id":"W7","kind":"wire","nodes":["M-5.a","SEN.signal"],"length":"1 m","section":"0.75 mm²"},
 {"id":"SEN","kind":"sensor","nodes":["SEN.supply","SEN.signal","SEN.return"],"name":"level sensor","resistance":"1 kΩ","output":"50 %","output_resistance":"100 Ω"}]
})json";
}

Result<Map, Problems> smallMapWithFuse(const std::string& more)
{
    std::string text = smallMapText();
    const std::string fuse = R"("id":"F1","kind":"fuse")";
    text.insert(text.find(fuse) + fuse.size(), "," + more);
    return readMap(text, "small");
}

namespace {

Map mapOfSheet(const std::string& file, double systemVoltage_V, const std::string& module)
{
    return mapOfRows(sourceText(file), systemVoltage_V, module);
}

}  // namespace

Map mapOfRows(const std::string& rows, double systemVoltage_V, const std::string& module)
{
    const auto sheet = readPinSheet(rows, "sheet");
    NewMachine machine;
    machine.systemVoltage_V = systemVoltage_V;
    machine.module = module;
    const auto document = sheet ? mapFromSheet(sheet->rows, machine) : Result<std::string, Problems>();
    auto read = document ? readMap(*document, "sheet") : Result<Map, Problems>(tl::unexpected(Problems{}));
    if (!read) {
        ADD_FAILURE() << rows << " gives no map";
        std::abort();
    }
    return std::move(*read);
}

const Map& hauler()
{
    static const Map map = mapOfSheet("data/sheets/hauler-24v.csv", 24, "BHC-2");
    return map;
}

const Map& washer()
{
    static const Map map = mapOfSheet("data/sheets/washer-12v.csv", 12, "WCU-1");
    return map;
}

const Map& storyMap(const std::string& sheet)
{
    static std::map<std::string, Map> maps;
    const auto there = maps.find(sheet);
    if (there != maps.end()) return there->second;
    // Voltage and module as its story tells them: "24 V".
    const auto story = nlohmann::json::parse(sourceText("data/stories/" + sheet + ".json"));
    const double voltage_V = std::stod(story["system_voltage"].get<std::string>());
    return maps.emplace(sheet, mapOfSheet("data/stories/" + sheet + ".csv", voltage_V, story["module"])).first->second;
}

const Map& smallMap()
{
    static const Map map = [] {
        auto read = readMap(smallMapText(), "small.json");
        if (!read) {
            for (const Error& problem : read.error())
                ADD_FAILURE() << problem.message();
            std::abort();
        }
        return std::move(*read);
    }();
    return map;
}

TemporaryFolder::TemporaryFolder()
{
    std::string pattern = (std::filesystem::temp_directory_path() / "ilvek-test-XXXXXX").string();
    path_ = ::mkdtemp(pattern.data());
}

TemporaryFolder::~TemporaryFolder()
{
    std::error_code ignored;
    std::filesystem::remove_all(path_, ignored);
}

Judgement Bench::take(const Step& step, double value_V, std::optional<double> measuredCurrent_A)
{
    Reading r = readingOf(step, map_, volts(value_V), {}, time_ms_);
    r.id = nextId_++;
    r.measuredCurrent_A = measuredCurrent_A;
    evidence_.readings.push_back(r);
    time_ms_ += 10'000;
    return judge(map_, evidence_, evidence_.readings.back());
}

Judgement Bench::battery(double value_V, const std::string& state)
{
    return take(batteryStep(map_, state), value_V);
}

void Bench::repaired(const std::string& element)
{
    evidence_.repairs.push_back({nextId_++, {element}, "mended " + element});
    time_ms_ += 10'000;
}

bool hasTrap(const Judgement& judgement, const std::string& id)
{
    return std::any_of(judgement.traps.begin(), judgement.traps.end(), [&](const Trap& trap) { return trap.id == id; });
}

std::vector<std::filesystem::path> filesIn(const std::filesystem::path& folder)
{
    std::vector<std::filesystem::path> out;
    for (const auto& entry : std::filesystem::directory_iterator(folder))
        out.push_back(entry.path());
    std::sort(out.begin(), out.end());
    return out;
}

}  // namespace ilvek::test
