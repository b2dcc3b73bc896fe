// What the command line can do. Each prints to standard output and gives the exit code.
#pragma once

#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace ilvek::cli {

// Exit codes, the same for every command.
enum Exit : int {
    Ok = 0,
    Usage = 1,     // the command line could not be understood (CLI11's own codes are folded into this)
    BadInput = 2,  // a file cannot be read or is faulty; every problem is on standard error
    CannotWrite = 3,
    Negative = 4  // the question was answered with no: no path; the gate does not let the module be condemned
};

int mapCheck(const std::string& map, bool json);
int mapPath(const std::string& map, const std::string& terminal, bool json);
int mapFromSheetFile(const std::string& sheet, const std::string& out, double systemVoltage_V,
                     const std::string& module);
int sheetTemplate();

// What a meter would read: the circuit of the map solved in one condition.
struct Prediction {
    std::string map, red, black, state, load, loadFrom, loadTo;
    std::string mode = "volts";  // or ohms, diode, amperes
    std::vector<std::string> unplugged, unpinned, removed;
    std::vector<std::string> commands;    // "D-J2-17=40 %", "KEY=on", "D-J2-19=off"
    std::vector<std::string> shutDown;    // drivers that protected themselves earlier
    std::vector<std::string> jumpers;     // "A:B", "A:B=10 A" (with a fuse in it)
    std::vector<std::string> conductors;  // for amperes: elements in the jaws, "W12=backwards"
    std::string battery;                  // its own voltage instead of the map's
    std::vector<std::string> faults;      // "X4-7=4 Ω", "F16=open", "A:B=5 Ω" (between two nodes), "TFS=120 %", …
    bool json = false;
};
int predict(const Prediction& wanted);

int jobJudge(const std::string& job, bool json);
int jobGate(const std::string& job, bool json);
int jobSuspects(const std::string& job, bool json);
int jobNext(const std::string& job, bool json);
int jobCommonCause(const std::string& job, bool json);
// `reader`: "technician", "customer" or "schedule".
int jobReport(const std::string& job, const std::string& out, const std::string& format, const std::string& reader);
int jobExport(const std::string& job, const std::string& out);
int jobImport(const std::string& handOver, const std::string& out);
// Whether everything in a job file can be read, and what cannot; exit code 2 when something cannot.
int jobCheck(const std::string& job, bool json);
// A new job file from everything in a damaged one that can be read. `map`: a map, or a job or hand-over file with it,
// for where the job's own is gone; may be empty.
int jobRescue(const std::string& job, const std::string& out, const std::string& map);

// A machine for the next job: out of a job as it stands, and a job on one.
int jobKeepMachine(const std::string& job, const std::string& out);
int jobOnMachine(const std::string& machine, const std::string& out);

// One reading more, anywhere: the figure as it is typed in the window, and the set-up as one line.
int jobAddReading(const std::string& job, const std::string& figure, const std::string& setUp);
// The procedures of a job; with an id that one, stage by stage.
int jobProcedures(const std::string& job, const std::string& id, const std::string& subject, bool json);
// What was found for a stage of a procedure, or a line of the gate.
// A maker's chart from a text file; "-" puts the one before away.
int jobChart(const std::string& job, const std::string& chart);
int jobTell(const std::string& job, const std::string& statement, const std::string& found);
// Functions of the machine tried in a set-up.
int jobTried(const std::string& job, const std::string& setUp, const std::vector<std::string>& works,
             const std::vector<std::string>& fails);
// Stories played through; exit code 4 when something was not as told.
// With `keepIn` each becomes a job file in that folder.
int storyRun(const std::vector<std::string>& files, bool verbose, const std::string& keepIn);

// Practice on a simulated machine: the cases of a folder, one probe, one look, the way of the first suggestions, a
// verdict judged.
int practiceList(const std::string& map, const std::string& folder, bool json);
int practiceProbe(const Prediction& wanted, const std::string& caseFile, double seconds);
int practiceLook(const std::string& map, const std::string& caseFile, const std::string& terminal);
int practiceSolve(const std::string& map, const std::string& caseFile, bool json);
int practiceVerdict(const std::string& map, const std::string& caseFile, const std::string& place);

struct TraceWishes {
    std::string file, kind, main, beside, sync, feed;
    std::string order;  // "1-3-4-2"
    int known = 1;      // the cylinder of the synchronising channel
    double supply_V = 0, resistance_ohm = 0;
    double clamp_mVPerA = 0;                // below nothing: the clamp the other way round
    std::vector<std::string> attenuations;  // "10" of the main channel, "control=10"
    std::string zero;                       // of the clamp: "2" in what it was recorded in, or "0-0.1" in seconds
    double system_V = 0;
    double interval_s = 0;  // where the file does not say it
    std::string map, element, state, knownGood;
    double temperature_C = 20;
    int bars = 0, teeth = 0, missing = -1;
    double allowed = 0;
    bool drivenLow = false, traffic = false;
    bool json = false;
};
int traceInfo(const TraceWishes& wishes);
int traceMeasure(const TraceWishes& wishes);
int traceCompare(const TraceWishes& wishes);
int traceKeep(const TraceWishes& wishes, const std::string& out);
// The verdict of a recording as an entry of a job: of a part, or of the terminal at which it was recorded. `lead`:
// "module", "part" or empty.
int jobRecording(const std::string& job, TraceWishes wishes, const std::string& terminal, const std::string& lead);
int traceConvert(const TraceWishes& wishes, const std::string& out);
// What was mended, and which parts it touched.
int jobRepair(const std::string& file, const std::string& what, const std::vector<std::string>& parts);
// What failed before the repair, read again or not; exit code 4 unless all is right again.
int jobRepaired(const std::string& file, bool asJson);
// What is owed to the machine, and that it was made good.
int jobDebt(const std::string& file, const std::string& what, const std::string& place);
int jobMadeGood(const std::string& file, std::int64_t debt, const std::string& how);
// The jobs of a folder, the last used first; with words those that hold them all.
int jobList(const std::string& folder, const std::string& words, bool asJson);
// What is told before the first probe and decided after the last: papers, complaint, function, code, codes, behind,
// answer, ways, work-test, time.
void addPaperCommands(CLI::App& job, int& exit);
// shop push, list, fetch, release, share, take.
void addShopCommands(CLI::App& app, int& exit);
int jobClose(const std::string& file, const std::string& verdict, const std::string& reasons);
// One of the shipped recordings by name, or a list of them where there is none.
int traceMake(const std::string& name, const std::string& out, double noise, unsigned seed);

}  // namespace ilvek::cli
