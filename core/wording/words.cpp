#include "wording/words.h"

#include <unordered_map>

#include "base/expects.h"
#include "wording/tables.h"

namespace ilvek {

namespace {

using Table = std::unordered_map<std::string_view, std::string>;

Table everyTable()
{
    Table all;
    for (const auto* table : {&procedureWords(), &judgementWords(), &stepWords(), &suspectWords(), &verdictWords(),
                              &paperWords(), &repairWords()}) {
        for (const Words& w : *table)
            all.emplace(w.id, w.words);
    }
    return all;
}

const Table& table()
{
    static const Table all = everyTable();
    return all;
}

}  // namespace

bool hasWords(std::string_view id)
{
    return table().contains(id);
}

const std::string& inWords(std::string_view id)
{
    static const std::string none;
    const auto at = table().find(id);
    EXPECTS(at != table().end());
    return at == table().end() ? none : at->second;
}

}  // namespace ilvek
