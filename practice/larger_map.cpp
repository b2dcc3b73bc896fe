#include "practice/larger_map.h"

#include <nlohmann/json.hpp>
#include <set>

namespace ilvek::practice {

namespace {

using nlohmann::json;

// Fields that hold names of things of the map.
const std::set<std::string> naming{"id",       "nodes",  "needs", "return", "currents",
                                   "terminal", "levels", "ports", "rests",  "code"};

void rename(json& value, const std::string& prefix, const std::string& battery)
{
    if (value.is_array()) {
        for (json& item : value)
            rename(item, prefix, battery);
    } else if (value.is_string()) {
        const auto name = value.get<std::string>();
        if (!name.starts_with(battery + ".")) value = prefix + name;
    }
}

void renameFields(json& object, const std::string& prefix, const std::string& battery)
{
    if (object.is_array()) {
        for (json& item : object)
            renameFields(item, prefix, battery);
    } else if (object.is_object()) {
        for (auto& [key, value] : object.items()) {
            if (naming.contains(key))
                rename(value, prefix, battery);
            else
                renameFields(value, prefix, battery);
        }
    }
}

}  // namespace

std::string timesOver(const std::string& document, int copies)
{
    json map = json::parse(document);
    const auto battery = map["machine"]["battery"].get<std::string>();
    for (const char* list : {"functions", "codes", "connectors", "splices", "grounds", "elements"}) {
        if (!map.contains(list)) continue;
        const json one = map[list];
        for (int n = 2; n <= copies; ++n) {
            for (json item : one) {
                if (item.value("id", "") == battery) continue;
                renameFields(item, std::to_string(n) + ":", battery);
                map[list].push_back(std::move(item));
            }
        }
    }
    return map.dump(1);
}

}  // namespace ilvek::practice
