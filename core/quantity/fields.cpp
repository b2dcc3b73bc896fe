#include "quantity/fields.h"

#include <fmt/format.h>
#include <cmath>
#include <nlohmann/json.hpp>

#include "base/text.h"

namespace ilvek {

namespace {

constexpr int deepestNesting = 64;

std::string placeOf(std::string_view text, std::size_t byte)
{
    std::size_t line = 1, column = 1;
    for (std::size_t i = 0; i + 1 < byte && i < text.size(); ++i) {
        if (text[i] == '\n')
            ++line, column = 1;
        else
            ++column;
    }
    return fmt::format("line {}, column {}", line, column);
}

}  // namespace

Result<nlohmann::json> parseJson(std::string_view text, const std::string& fileName)
{
    if (!isUtf8(text)) return fail(fileName, "the text is not valid UTF-8");
    bool tooDeep = false;
    const auto guard = [&tooDeep](int depth, nlohmann::json::parse_event_t, nlohmann::json&) {
        tooDeep = tooDeep || depth > deepestNesting;
        return !tooDeep;
    };
    try {
        auto document = nlohmann::json::parse(text, guard);
        if (tooDeep) return fail(fileName, fmt::format("is nested deeper than {} levels", deepestNesting));
        return document;
    } catch (const nlohmann::json::parse_error& error) {
        return fail(fileName + ", " + placeOf(text, error.byte), "this is not well-formed JSON");
    } catch (const nlohmann::json::exception&) {
        return fail(fileName, "this is not well-formed JSON");
    }
}

Fields::Fields(const nlohmann::json& object, std::string item, Problems& problems)
    : object_(object), item_(std::move(item)), problems_(problems), isObject_(object.is_object())
{
    if (!isObject_) problems_.push_back({item_, "an object in braces is expected here"});
}

const nlohmann::json* Fields::find(const std::string& key, Need need)
{
    asked_.insert(key);
    if (!isObject_) return nullptr;
    const auto at = object_.find(key);
    if (at != object_.end()) return &*at;
    if (need == Need::Required) problem(key, "is missing");
    return nullptr;
}

void Fields::problem(const std::string& key, const std::string& reason)
{
    problems_.push_back({item_ + ", " + key, reason});
}

std::string Fields::text(const std::string& key, Need need)
{
    const auto* value = find(key, need);
    if (!value) return {};
    if (!value->is_string()) {
        problem(key, "a text in quotes is expected");
        return {};
    }
    std::string text = value->get<std::string>();
    if (need == Need::Required && trimmed(text).empty()) problem(key, "is empty");
    return text;
}

bool Fields::flag(const std::string& key)
{
    const auto* value = find(key, Need::Optional);
    if (!value) return false;
    if (!value->is_boolean()) {
        problem(key, "true or false is expected");
        return false;
    }
    return value->get<bool>();
}

int Fields::whole(const std::string& key, int low, int high, Need need)
{
    const auto* value = find(key, need);
    if (!value) return low;
    if (!value->is_number_integer()) {
        problem(key, "a whole number is expected");
        return low;
    }
    const auto number = value->get<double>();
    if (number < low || number > high) {
        problem(key, fmt::format("must lie from {} to {}", low, high));
        return low;
    }
    return static_cast<int>(number);
}

double Fields::number(const std::string& key, double low, double high, Need need)
{
    const auto* value = find(key, need);
    if (!value) return low;
    if (!value->is_number()) {
        problem(key, "a figure is expected");
        return low;
    }
    const auto number = value->get<double>();
    if (number >= low && number <= high) return number;
    problem(key, fmt::format("must lie from {:g} to {:g}", low, high));
    return low;
}

std::vector<double> Fields::numbers(const std::string& key, double low, double high)
{
    std::vector<double> out;
    const auto* value = find(key, Need::Required);
    if (!value) return out;
    if (!value->is_array()) {
        problem(key, "a list in brackets is expected");
        return out;
    }
    for (const auto& entry : *value) {
        const double number = entry.is_number() ? entry.get<double>() : low - 1;
        if (number < low || number > high) {
            problem(key, fmt::format("figures from {:g} to {:g} are expected", low, high));
            return {};
        }
        out.push_back(number);
    }
    return out;
}

std::vector<double> Fields::numbersOrGaps(const std::string& key)
{
    std::vector<double> out;
    const auto* value = find(key, Need::Required);
    if (value && !value->is_array()) problem(key, "a list in brackets is expected");
    if (!value || !value->is_array()) return out;
    for (const auto& entry : *value) {
        if (!entry.is_number() && !entry.is_null()) {
            problem(key, "figures, or null for a gap, are expected");
            return {};
        }
        out.push_back(entry.is_number() ? entry.get<double>() : std::nan(""));
    }
    return out;
}

std::optional<Quantity> Fields::quantity(const std::string& key, Unit unit, double low, double high, Need need)
{
    const auto* value = find(key, need);
    if (!value) return std::nullopt;
    if (!value->is_string()) {
        problem(key, "a figure with its unit in quotes is expected, as \"4.7 Ω\"");
        return std::nullopt;
    }
    const auto read = parseQuantityWithUnit(value->get<std::string>(), unit);
    if (!read) {
        problem(key, read.error().message());
        return std::nullopt;
    }
    if (read->value < low || read->value > high) {
        problem(key, fmt::format("{} is not possible; {} to {} is", formatQuantity({read->value, unit}),
                                 formatQuantity({low, unit}), formatQuantity({high, unit})));
        return std::nullopt;
    }
    return Quantity{read->value, unit};
}

std::vector<std::string> Fields::texts(const std::string& key, Need need)
{
    std::vector<std::string> out;
    const auto* value = find(key, need);
    if (!value) return out;
    if (!value->is_array()) {
        problem(key, "a list in brackets is expected");
        return out;
    }
    for (const auto& entry : *value) {
        if (entry.is_string())
            out.push_back(entry.get<std::string>());
        else
            problem(key, "every entry of the list must be a text in quotes");
    }
    return out;
}

std::vector<const nlohmann::json*> Fields::objects(const std::string& key, Need need)
{
    std::vector<const nlohmann::json*> out;
    const auto* value = find(key, need);
    if (!value) return out;
    if (!value->is_array()) {
        problem(key, "a list in brackets is expected");
        return out;
    }
    for (const auto& entry : *value)
        out.push_back(&entry);
    return out;
}

const nlohmann::json* Fields::object(const std::string& key, Need need)
{
    return find(key, need);
}

void Fields::reportUnknown()
{
    if (!isObject_) return;
    for (const auto& [key, value] : object_.items()) {
        if (!asked_.contains(key) && key != "note") problem(key, "is no field that is known here");
    }
}

}  // namespace ilvek
