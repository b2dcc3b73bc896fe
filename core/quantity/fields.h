// Reading one object of a JSON file field by field, every fault named by its place, none of them fatal: a reader goes
// on and reports all of them at once.
#pragma once

#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "base/result.h"
#include "quantity/quantity.h"

namespace ilvek {

enum class Need { Required, Optional };

// The parsed document. ERRORS: not UTF-8, not JSON (with line and column), nested deeper than 64 levels.
Result<nlohmann::json> parseJson(std::string_view text, const std::string& fileName);

class Fields {
public:
    // `object` and `problems` must outlive this. `item` names the object in messages ("pt-9.json: element F15").
    Fields(const nlohmann::json& object, std::string item, Problems& problems);

    // Whether the value is an object at all; reported when not. All else then reads as absent.
    bool isObject() const { return isObject_; }

    std::string text(const std::string& key, Need need);
    bool flag(const std::string& key);
    int whole(const std::string& key, int low, int high, Need need);
    // A plain figure, in the unit that its key names; `low` where there is none.
    double number(const std::string& key, double low, double high, Need need);
    std::vector<double> numbers(const std::string& key, double low, double high);
    // A series with gaps: null is one, and reads as NaN.
    std::vector<double> numbersOrGaps(const std::string& key);
    // A value with its unit, within [low, high] (base unit).
    std::optional<Quantity> quantity(const std::string& key, Unit unit, double low, double high, Need need);
    std::vector<std::string> texts(const std::string& key, Need need);
    // The elements of an array of objects; empty when absent.
    std::vector<const nlohmann::json*> objects(const std::string& key, Need need);
    const nlohmann::json* object(const std::string& key, Need need);

    void problem(const std::string& key, const std::string& reason);
    // Reports every field of the object that was never asked for.
    void reportUnknown();
    const std::string& item() const { return item_; }

private:
    const nlohmann::json* find(const std::string& key, Need need);

    const nlohmann::json& object_;
    std::string item_;
    Problems& problems_;
    bool isObject_;
    std::set<std::string> asked_;
};

}  // namespace ilvek
