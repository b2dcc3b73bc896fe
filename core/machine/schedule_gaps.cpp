#include "machine/schedule_gaps.h"

namespace ilvek {

std::vector<std::string> scheduleGaps(const Map& map)
{
    int permanent = 0, switched = 0, relayFed = 0, returns = 0, references = 0, referenceReturns = 0, sensors = 0,
        drives = 0, controls = 0;
    for (const int index : map.moduleTerminals()) {
        const Terminal& t = map.terminal(index);
        if (!t.role || t.asFound == AsFound::Empty) continue;
        switch (*t.role) {
            case Role::PermanentFeed:
                ++permanent;
                break;
            case Role::SwitchedFeed:
                ++switched;
                break;
            case Role::RelayFedSupply:
                ++relayFed;
                break;
            case Role::Return:
                ++returns;
                break;
            case Role::Reference:
                ++references;
                break;
            case Role::ReferenceReturn:
                ++referenceReturns;
                break;
            case Role::AnalogueInput:
                ++sensors;
                break;
            case Role::LowSideDrive:
                ++controls, ++drives;
                break;
            default:
                drives += groupOf(*t.role) == Group::Drives ? 1 : 0;
        }
    }
    std::vector<std::string> gaps;
    const auto gap = [&gaps](bool missing, const char* words) {
        if (missing) gaps.emplace_back(words);
    };
    gap(returns == 0, "No return is listed. Every module has at least one; look on the far pages of the diagram.");
    gap(returns == 1 && drives >= 4,
        "Only one return for a module with several drives: power and signal returns are usually apart.");
    gap(permanent + switched + relayFed == 0, "No supply is listed.");
    gap(permanent == 0, "No permanent feed is listed; most modules keep their memory on one.");
    gap(switched == 0, "No switched feed is listed: how does the module know that the key is on?");
    gap(relayFed > 0 && controls == 0,
        "A relay feeds the module but no relay control is listed: who switches the relay?");
    gap(sensors > 0 && references == 0, "Analogue inputs are listed but no reference for their sensors.");
    gap(references > 0 && referenceReturns == 0, "A reference is listed but no return of its own for the sensors.");
    for (const int index : map.moduleTerminals()) {
        const Terminal& t = map.terminal(index);
        if (t.role && isSupply(*t.role) && t.ownReturn < 0 && returns > 0)
            gaps.push_back(t.id + " does not say which return belongs to it.");
    }
    return gaps;
}

}  // namespace ilvek
