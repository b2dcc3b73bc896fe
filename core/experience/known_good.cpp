#include "experience/known_good.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <nlohmann/json.hpp>
#include <set>

#include "base/file.h"
#include "base/text.h"
#include "quantity/fields.h"
#include "repair/repeated.h"

namespace ilvek {

namespace {

using nlohmann::json;

constexpr const char* format = "ilvek-good-readings";

// As a set-up stands for what it reads, in whatever order names were told.
SetUp alike(SetUp s)
{
    for (auto* list : {&s.unplugged, &s.unpinned, &s.removed})
        std::sort(list->begin(), list->end());
    s.testLeads_ohm.reset();
    return s;
}

bool isSame(const Reading& a, TestKind test, const std::string& terminal, const SetUp& setUp)
{
    return a.test == test && a.terminal == terminal && alike(a) == alike(setUp);
}

bool isFigure(const Reading& r)
{
    return !r.found && !r.shows && !r.most && !r.value.overLimit;
}

}  // namespace

std::string machineType(const Map& map)
{
    return lowered(map.maker + " " + map.model + (map.variant.empty() ? "" : " " + map.variant) + " " + map.module);
}

std::vector<GoodReading> goodReadings(const Job& job, const Assessment& a, const std::string& jobName)
{
    std::vector<GoodReading> out;
    const std::int64_t repair = lastRepairOf(a.evidence);
    const std::string machine = job.details.serial.empty() ? jobName : job.details.serial;
    std::set<std::string> failed;
    for (std::size_t i = 0; i < a.evidence.readings.size(); ++i) {
        if (a.evidence.readings[i].id > repair && !a.stale[i] && isFailure(a.judgements[i].verdict))
            failed.insert(a.evidence.readings[i].terminal);
    }
    for (std::size_t i = 0; i < a.evidence.readings.size(); ++i) {
        const Reading& r = a.evidence.readings[i];
        const Verdict v = a.judgements[i].verdict;
        const bool sound = (v == Verdict::Good || v == Verdict::OpenOnly) && !failed.contains(r.terminal);
        if (!sound || a.stale[i] || r.id <= repair || r.inShutDown || !isFigure(r) || !r.touched.empty() ||
            !r.warmed.empty())
            continue;
        const auto older = std::find_if(out.begin(), out.end(),
                                        [&](const GoodReading& g) { return isSame(g.reading, r.test, r.terminal, r); });
        if (older != out.end())
            older->reading = r;
        else
            out.push_back({machine, r});
    }
    return out;
}

std::filesystem::path KnownGood::fileIn(const std::filesystem::path& folder, const Map& map)
{
    std::string name;
    for (const char c : machineType(map))
        name += std::isalnum(static_cast<unsigned char>(c)) ? c : '-';
    return folder / (name + ".json");
}

Result<KnownGood> KnownGood::read(const std::filesystem::path& file)
{
    if (!std::filesystem::exists(file)) return KnownGood();
    const auto text = readFile(file);
    if (!text) return tl::unexpected(text.error());
    return of(*text, file.string());
}

Result<KnownGood> KnownGood::of(const std::string& text, const std::string& name)
{
    KnownGood out;
    const json doc = json::parse(text, nullptr, false);
    if (!doc.is_object() || doc.value("format", "") != format) return fail(name, "holds no known-good readings");
    for (const json& one : doc.value("readings", json::array())) {
        const auto body = readBody("reading", one.value("body", json::object()).dump(), name);
        if (!body) return tl::unexpected(body.error());
        GoodReading good{one.value("machine", ""), std::get<Reading>(*body)};
        if (const auto time = readTime(one.value("time", ""))) good.reading.time_ms = *time;
        out.readings_.push_back(std::move(good));
    }
    return out;
}

std::string KnownGood::text() const
{
    json readings = json::array();
    for (const GoodReading& g : readings_)
        readings.push_back({{"machine", g.machine},
                            {"time", writeTime(g.reading.time_ms)},
                            {"body", json::parse(writeBody(g.reading))}});
    const json doc{{"format", format}, {"version", 1}, {"readings", readings}};
    return doc.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

Result<void> KnownGood::write(const std::filesystem::path& file) const
{
    return writeFile(file, text());
}

std::size_t KnownGood::add(const std::vector<GoodReading>& readings)
{
    std::size_t taken = 0;
    for (const GoodReading& g : readings) {
        const auto older = std::find_if(readings_.begin(), readings_.end(), [&](const GoodReading& o) {
            return o.machine == g.machine && isSame(o.reading, g.reading.test, g.reading.terminal, g.reading);
        });
        if (older == readings_.end())
            readings_.push_back(g), ++taken;
        else if (older->reading.time_ms < g.reading.time_ms)
            *older = g, ++taken;
    }
    return taken;
}

std::string KnownGood::words(TestKind test, const std::string& terminal, const SetUp& setUp) const
{
    std::set<std::string> machines;
    std::optional<double> low, high, least, most;
    Unit unit = Unit::Volt;
    const auto widen = [](double x, std::optional<double>& from, std::optional<double>& to) {
        from = std::min(x, from.value_or(x)), to = std::max(x, to.value_or(x));
    };
    for (const GoodReading& g : readings_) {
        if (!isSame(g.reading, test, terminal, setUp)) continue;
        if (machines.empty()) unit = g.reading.value.unit;
        if (g.reading.value.unit != unit) continue;
        machines.insert(g.machine);
        widen(g.reading.value.value, low, high);
        if (g.reading.battery_V) widen(*g.reading.battery_V, least, most);
    }
    if (machines.empty()) return "";
    const auto range = [](double from, double to, Unit of) {
        const std::string a = formatQuantity({from, of}), b = formatQuantity({to, of});
        return a == b ? a : a + " to " + b;
    };
    return fmt::format("Measured on {} machine{} of this type: {}{}", machines.size(), machines.size() == 1 ? "" : "s",
                       range(*low, *high, unit),
                       least ? fmt::format(", at {} of battery", range(*least, *most, Unit::Volt)) : "");
}

}  // namespace ilvek
