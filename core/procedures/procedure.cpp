#include "procedures/procedure.h"

#include <algorithm>

namespace ilvek {

// One for each file.
Procedure provingInstruments(const Bay& bay, const std::string& subject);
Procedure batteryAndCharging(const Bay& bay, const std::string& subject);
Procedure wakeUpChain(const Bay& bay, const std::string& subject);
Procedure relayOnItsOwn(const Bay& bay, const std::string& subject);
Procedure protectiveShutDown(const Bay& bay, const std::string& subject);
Procedure supplyBySubstitution(const Bay& bay, const std::string& subject);
Procedure referenceReleased(const Bay& bay, const std::string& subject);
Procedure shortOnSharedFeed(const Bay& bay, const std::string& subject);
Procedure wireOnItsOwn(const Bay& bay, const std::string& subject);
Procedure walkOfAnything(const Bay& bay, const std::string& subject);
Procedure makersChart(const Bay& bay, const std::string& subject);
Procedure partOnTheBench(const Bay& bay, const std::string& subject);
Procedure pulsesOfAWheel(const Bay& bay, const std::string& subject);
Procedure watchOverIt(const Bay& bay, const std::string& subject);
Procedure networkByNodes(const Bay& bay, const std::string& subject);
Procedure singleWireBus(const Bay& bay, const std::string& subject);
Procedure driveAndPart(const Bay& bay, const std::string& subject);
Procedure sensorInThreePlaces(const Bay& bay, const std::string& subject);
Procedure thermistorByItsWarmth(const Bay& bay, const std::string& subject);
Procedure switchInput(const Bay& bay, const std::string& subject);

std::vector<std::string> relaysOf(const Map& map);
std::vector<std::string> drivesOf(const Map& map);
std::vector<std::string> suppliesOf(const Map& map);
std::vector<std::string> referencesOf(const Map& map);
std::vector<std::string> fusesOfMap(const Map& map);
std::vector<std::string> wiresOf(const Map& map);
std::vector<std::string> circuitsOf(const Map& map);
std::vector<std::string> benchPartsOf(const Map& map);
std::vector<std::string> pulsedInputsOf(const Map& map);
std::vector<std::string> watchedOf(const Map& map);
std::vector<std::string> networksOf(const Map& map);
std::vector<std::string> singleWiresOf(const Map& map);
std::vector<std::string> drivesWithAPart(const Map& map);
std::vector<std::string> sensorsOf(const Map& map);
std::vector<std::string> thermistorsOf(const Map& map);
std::vector<std::string> switchInputsOf(const Map& map);

namespace {

std::vector<std::string> theMachine(const Map&)
{
    return {""};
}

}  // namespace

const std::vector<ProcedureKind>& procedureKinds()
{
    static const std::vector<ProcedureKind> kinds{{"instruments", theMachine, provingInstruments},
                                                  {"battery", theMachine, batteryAndCharging},
                                                  {"wake-up", theMachine, wakeUpChain},
                                                  {"short", fusesOfMap, shortOnSharedFeed},
                                                  {"relay", relaysOf, relayOnItsOwn},
                                                  {"substitution", suppliesOf, supplyBySubstitution},
                                                  {"reference", referencesOf, referenceReleased},
                                                  {"sensor", sensorsOf, sensorInThreePlaces},
                                                  {"thermistor", thermistorsOf, thermistorByItsWarmth},
                                                  {"switch", switchInputsOf, switchInput},
                                                  {"pulses", pulsedInputsOf, pulsesOfAWheel},
                                                  {"drive", drivesWithAPart, driveAndPart},
                                                  {"network", networksOf, networkByNodes},
                                                  {"single-wire", singleWiresOf, singleWireBus},
                                                  {"shut-down", drivesOf, protectiveShutDown},
                                                  {"walk", circuitsOf, walkOfAnything},
                                                  {"wire", wiresOf, wireOnItsOwn},
                                                  {"chart", theMachine, makersChart},
                                                  {"bench", benchPartsOf, partOnTheBench},
                                                  {"watch", watchedOf, watchOverIt}};
    return kinds;
}

std::string_view stageWord(Stage::State state)
{
    static constexpr std::string_view words[] = {"shown", "fails", "undecided", "next", "later", "not needed"};
    return words[static_cast<std::size_t>(state)];
}

const Stage* Procedure::next() const
{
    const auto at =
        std::find_if(stages.begin(), stages.end(), [](const Stage& s) { return s.state == Stage::State::Next; });
    return at == stages.end() ? nullptr : &*at;
}

bool Procedure::isBegun() const
{
    return std::any_of(stages.begin(), stages.end(), [](const Stage& s) { return !s.entries.empty(); });
}

std::optional<Procedure> procedureOf(const Bay& bay, std::string_view id, const std::string& subject)
{
    for (const ProcedureKind& kind : procedureKinds()) {
        if (kind.id != id) continue;
        const auto subjects = kind.subjects(bay.map);
        if (std::find(subjects.begin(), subjects.end(), subject) == subjects.end()) return std::nullopt;
        return kind.follow(bay, subject);
    }
    return std::nullopt;
}

std::vector<Procedure> proceduresOf(const Bay& bay)
{
    std::vector<Procedure> all;
    for (const ProcedureKind& kind : procedureKinds()) {
        for (const std::string& subject : kind.subjects(bay.map))
            all.push_back(kind.follow(bay, subject));
    }
    const auto rank = [](const Procedure& p) { return p.calledBy ? 0 : p.isBegun() ? 1 : 2; };
    std::stable_sort(all.begin(), all.end(), [&](const Procedure& a, const Procedure& b) { return rank(a) < rank(b); });
    return all;
}

}  // namespace ilvek
