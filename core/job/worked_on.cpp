#include "job/worked_on.h"

#include <algorithm>
#include <cctype>
#include <set>

#include "base/text.h"

namespace ilvek {

namespace {

constexpr std::size_t shortestName = 2;  // "1" stands in every text

bool isLetter(char c)
{
    return std::isalnum(static_cast<unsigned char>(c)) || c == '_';
}

bool holdsWord(const std::string& text, const std::string& name)
{
    const std::string word = lowered(name);
    if (word.size() < shortestName) return false;
    for (auto at = text.find(word); at != std::string::npos; at = text.find(word, at + 1)) {
        const bool begins = at == 0 || !isLetter(text[at - 1]);
        const std::size_t end = at + word.size();
        // "J2-1" is not in "J2-14", and "F1" is not in "F1-2".
        const bool ends =
            end == text.size() ||
            !(isLetter(text[end]) || (text[end] == '-' && end + 1 < text.size() && isLetter(text[end + 1])));
        if (begins && ends) return true;
    }
    return false;
}

}  // namespace

std::vector<std::string> raiseWorkedOn(Map& map, const std::vector<std::string>& texts)
{
    std::vector<std::string> unknown;
    std::set<double*> places;
    for (const std::string& raw : texts) {
        const std::string text = lowered(raw);
        const std::size_t before = places.size();
        for (Element& e : map.elements) {
            if (e.place != "inside the module" && (holdsWord(text, e.id) || holdsWord(text, e.name)))
                places.insert(&e.weakness);
        }
        for (const Terminal& t : map.terminals) {
            if (t.contact >= 0 && holdsWord(text, t.id))
                places.insert(&map.elements[static_cast<std::size_t>(t.contact)].weakness);
        }
        for (Connector& c : map.connectors) {
            if (holdsWord(text, c.id)) places.insert(&c.weakness);
        }
        if (places.size() == before && !text.empty()) unknown.push_back(raw);
    }
    for (double* weakness : places)
        *weakness *= workedOnFactor;
    map.weighedBeside = texts;
    return unknown;
}

}  // namespace ilvek
