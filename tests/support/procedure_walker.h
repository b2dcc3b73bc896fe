// A technician who follows one procedure to its end on a simulated machine, and tells what is asked.
#pragma once

#include <string>
#include <vector>

#include "open_job/procedure_step.h"
#include "practice/simulated_machine.h"
#include "support/one_job.h"

namespace ilvek::test {

class ProcedureWalker {
public:
    // `truth`: how the machine differs from the map, with what is hidden in it.
    ProcedureWalker(const Map& map, std::vector<Fault> truth);

    // Which functions fail is told first.
    void complain(const std::vector<std::string>& functions);
    // Does what is next until nothing is, or for so many stages.
    Procedure follow(const std::string& id, const std::string& subject, int mostStages = 60);
    OneJob& job() { return job_; }
    // What each stage said, for messages.
    std::string story(const Procedure& procedure) const;

private:
    bool doNext(const Asked& asked);
    void battery(const std::string& state);

    OneJob job_;
    std::vector<Fault> truth_;
    practice::SimulatedMachine machine_;
    double seconds_ = 0;
};

// The first element of the map of this kind whose id or name holds the words; −1: none.
int elementWith(const Map& map, ElementKind kind, const std::string& words);

}  // namespace ilvek::test
