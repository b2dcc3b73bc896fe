#include "proving/traps.h"

#include "wording/words.h"

namespace ilvek {

std::string_view trapName(std::string_view id)
{
    const std::string named = "trap." + std::string(id);
    return hasWords(named) ? std::string_view(inWords(named)) : id;
}

}  // namespace ilvek
