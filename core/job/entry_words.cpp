#include "job/entry_words.h"

#include <fmt/format.h>

#include "job/job.h"
#include "procedures/in_words.h"

namespace ilvek {

std::string entryWords(const Map& map, const Event& event)
{
    const auto title = [&](std::string_view id, std::string subject) -> std::optional<std::string> {
        for (const ProcedureKind& kind : procedureKinds()) {
            if (kind.id == id) return procedureTitle(map, {std::string(id), std::move(subject), {}, {}, {}, {}, {}});
        }
        return std::nullopt;
    };
    if (const auto* followed = std::get_if<ProcedureFollowed>(&event.body)) {
        if (const auto name = title(followed->procedure, followed->subject)) return "Procedure: " + *name;
    } else if (const auto* told = std::get_if<CheckMade>(&event.body)) {
        // "relay K5 click", "instruments clip"
        const std::size_t first = told->check.find(' '), last = told->check.rfind(' ');
        const std::string subject = first == last ? "" : told->check.substr(first + 1, last - first - 1);
        const auto name = first == std::string::npos ? std::nullopt : title(told->check.substr(0, first), subject);
        if (name) return fmt::format("{}, told: {}", *name, told->found);
    }
    return entryWords(event);
}

}  // namespace ilvek
