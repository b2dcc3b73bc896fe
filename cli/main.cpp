// ilvek-cli: what the core can do, scriptable.
#include <CLI/CLI.hpp>

#include <cstdio>
#include <system_error>

#include "base/file.h"
#include "commands.h"
#include "trace/study/recorded.h"

namespace {

int answerNotWritten()
{
    std::fputs("The answer could not be written: the disk is full, or its reader has gone.\n", stderr);
    return ilvek::cli::CannotWrite;
}

}  // namespace

int main(int count, char** arguments)
{
    using namespace ilvek::cli;
    ilvek::surviveFailedWrites();
    CLI::App app{
        "Ilvek on the command line. Exit codes: 0 done; 1 wrong usage; 2 faulty input; 3 cannot write; 4 the answer is "
        "no."};
    app.require_subcommand(1);
    std::string file, terminal, out, format = "html", module = "module";
    bool json = false;
    double volts = 12;
    int exit = Ok;

    CLI::App* map = app.add_subcommand("map", "Maps of machines")->require_subcommand(1);
    CLI::App* check = map->add_subcommand("check", "Name everything wrong with a map, and what its schedule lacks");
    check->add_option("MAP", file, "Map file")->required();
    check->add_flag("--json", json, "Answer as JSON");
    check->callback([&] { exit = mapCheck(file, json); });
    CLI::App* path = map->add_subcommand("path", "The loop of a terminal from battery plus to battery minus");
    path->add_option("MAP", file, "Map file")->required();
    path->add_option("TERMINAL", terminal, "Cavity, as J2-1")->required();
    path->add_flag("--json", json, "Answer as JSON");
    path->callback([&] { exit = mapPath(file, terminal, json); });
    CLI::App* sheet = map->add_subcommand("from-sheet", "Make a map from a pin sheet (CSV)");
    sheet->add_option("SHEET", file, "Pin sheet")->required();
    sheet->add_option("OUT", out, "Map file to write")->required();
    sheet->add_option("--system-voltage", volts, "Volts")->check(CLI::Range(5.0, 56.0));
    sheet->add_option("--module", module, "Name of the module");
    sheet->callback([&] { exit = mapFromSheetFile(file, out, volts, module); });
    map->add_subcommand("template", "Write an empty pin sheet to standard output")->callback([&] {
        exit = sheetTemplate();
    });

    Prediction wanted;
    CLI::App* prediction =
        app.add_subcommand("predict", "What a meter would read between two nodes of a map in one condition");
    prediction->add_option("MAP", wanted.map, "Map file")->required();
    prediction->add_option("--red", wanted.red, "Node of the red lead, as J2-1.a");
    prediction->add_option("--black", wanted.black, "Node of the black lead; battery minus when left out");
    prediction->add_option("--state", wanted.state, "Operating state; the map's first when left out");
    prediction->add_option("--unplug", wanted.unplugged, "Connectors apart");
    prediction->add_option("--mode", wanted.mode, "volts, ohms, diode or amperes")
        ->check(CLI::IsMember({"volts", "ohms", "diode", "amperes"}));
    prediction->add_option("--clamp", wanted.conductors, "For amperes: elements in the jaws, as W12, or W12=backwards");
    prediction->add_option("--unpin", wanted.unpinned, "Terminals whose wire is taken out of the connector");
    prediction->add_option(
        "--command", wanted.commands,
        "Switches, drivers and alternators told otherwise than the state says: D-J2-17=on, off or 40 %");
    prediction->add_option("--shut-down", wanted.shutDown,
                           "Drivers that protected themselves earlier and wait for the key");
    prediction->add_option("--jumper", wanted.jumpers, "NODE:NODE, or NODE:NODE=10 A with a fuse in it");
    prediction->add_option("--battery", wanted.battery, "The battery's own voltage instead of the map's, as 12.1 V");
    prediction->add_option("--remove", wanted.removed, "Fuses or relays taken out");
    prediction->add_option("--load", wanted.load, "Substitute load of the catalogue, as lamp-21w");
    prediction->add_option("--from", wanted.loadFrom, "Node the load hangs on; the red lead's when left out");
    prediction->add_option("--to", wanted.loadTo, "Node the load leads to; the black lead's when left out");
    prediction->add_option(
        "--fault", wanted.faults,
        "ELEMENT=4 Ω (added resistance), =open, =closed, =dead, =120 % (out of value), or NODE:NODE=5 Ω (short)");
    prediction->add_flag("--json", wanted.json, "Answer as JSON");
    prediction->callback([&] { exit = predict(wanted); });

    CLI::App* job = app.add_subcommand("job", "Jobs")->require_subcommand(1);
    CLI::App* judge = job->add_subcommand("judge", "Every reading with its judgement, every terminal with its proof");
    judge->add_option("JOB", file, "Job file or hand-over file")->required();
    judge->add_flag("--json", json, "Answer as JSON");
    judge->callback([&] { exit = jobJudge(file, json); });
    CLI::App* gate = job->add_subcommand("gate", "May the module be blamed? Exit code 4 unless it may be condemned");
    gate->add_option("JOB", file, "Job file or hand-over file")->required();
    gate->add_flag("--json", json, "Answer as JSON");
    gate->callback([&] { exit = jobGate(file, json); });
    CLI::App* procedures =
        job->add_subcommand("procedures", "The step-by-step procedures of the machine; one of them stage by stage");
    static std::string procedure, subject;
    procedures->add_option("JOB", file, "Job file or hand-over file")->required();
    procedures->add_option("PROCEDURE", procedure, "Its name, as it is listed: short, relay, battery …");
    procedures->add_option("SUBJECT", subject, "Fuse, relay, terminal or wire that it is about");
    procedures->add_flag("--json", json, "Answer as JSON");
    procedures->callback([&] { exit = jobProcedures(file, procedure, subject, json); });

    static std::string statement, found;
    CLI::App* tell = job->add_subcommand("tell", "What was found for a stage of a procedure or a line of the gate");
    tell->add_option("JOB", file, "Job file")->required();
    tell->add_option("STATEMENT", statement, "As the procedure names it: “battery others”")->required();
    tell->add_option("FOUND", found, "In words")->required();
    tell->callback([&] { exit = jobTell(file, statement, found); });

    static std::string chartFile;
    CLI::App* chart = job->add_subcommand("chart", "A maker's chart, to be followed step by step");
    chart->add_option("JOB", file, "Job file")->required();
    chart->add_option("CHART", chartFile, "Text: step | test | if | then | else; - puts it away")->required();
    chart->callback([&] { exit = jobChart(file, chartFile); });

    static std::string what, placeOwed, how, verdictId, reasons;
    static std::vector<std::string> parts;
    static std::int64_t debt = 0;
    CLI::App* repair = job->add_subcommand("repair", "What was mended");
    repair->add_option("JOB", file, "Job file")->required();
    repair->add_option("WHAT", what, "In words")->required();
    repair->add_option("--part", parts, "Parts or terminals that it touched; none: everything");
    repair->callback([&] { exit = jobRepair(file, what, parts); });
    CLI::App* repaired = job->add_subcommand(
        "repaired", "What failed before the repair, and what it reads now; exit code 4 unless all is right again");
    repaired->add_option("JOB", file, "Job file")->required();
    repaired->add_flag("--json", json, "Answer as JSON");
    repaired->callback([&] { exit = jobRepaired(file, json); });
    CLI::App* owe = job->add_subcommand("debt", "What is owed to the machine: a wire cut, a bridge made, a panel off");
    owe->add_option("JOB", file, "Job file")->required();
    owe->add_option("WHAT", what, "In words")->required();
    owe->add_option("--place", placeOwed, "Where");
    owe->callback([&] { exit = jobDebt(file, what, placeOwed); });
    CLI::App* good = job->add_subcommand("made-good", "That a debt was made good");
    good->add_option("JOB", file, "Job file")->required();
    good->add_option("ENTRY", debt, "Number of the debt's entry")->required();
    good->add_option("HOW", how, "In words")->required();
    good->callback([&] { exit = jobMadeGood(file, debt, how); });
    CLI::App* close = job->add_subcommand("close", "Close a job, with the gate's sentence of the day");
    close->add_option("JOB", file, "Job file")->required();
    close->add_option("VERDICT", verdictId, "How it ended")
        ->required()
        ->check(CLI::IsMember({"repaired", "module-bad", "module-good", "not-found", "help"}));
    close->add_option("--reasons", reasons, "In words; needed where something is left open");
    close->callback([&] { exit = jobClose(file, verdictId, reasons); });

    static std::string folder;
    CLI::App* jobs =
        job->add_subcommand("list", "The jobs of a folder, the last used first; keeps an index of them there");
    jobs->add_option("FOLDER", folder, "Where they are kept")->required()->check(CLI::ExistingDirectory);
    jobs->add_option("WORDS", what, "Only those that hold all of these words, or ones that begin so");
    jobs->add_flag("--json", json, "Answer as JSON");
    jobs->callback([&] { exit = jobList(folder, what, json); });

    static std::string triedAt;
    static std::vector<std::string> works, fails;
    CLI::App* tried = job->add_subcommand("tried", "Functions of the machine that were tried in a set-up");
    tried->add_option("JOB", file, "Job file")->required();
    tried->add_option("--at", triedAt, "The set-up as a line: “key on; bridged battery plus > A4 20 A”")->required();
    tried->add_option("--works", works, "Functions that work, by name");
    tried->add_option("--fails", fails, "Functions that fail");
    tried->callback([&] { exit = jobTried(file, triedAt, works, fails); });

    CLI::App* suspects =
        job->add_subcommand("suspects", "What may be wrong and how likely, with predicted against measured");
    suspects->add_option("JOB", file, "Job file or hand-over file")->required();
    suspects->add_flag("--json", json, "Answer as JSON");
    suspects->callback([&] { exit = jobSuspects(file, json); });
    CLI::App* next =
        job->add_subcommand("next", "The three tests that tell most per minute; exit code 4 when none does");
    next->add_option("JOB", file, "Job file or hand-over file")->required();
    next->add_flag("--json", json, "Answer as JSON");
    next->callback([&] { exit = jobNext(file, json); });
    CLI::App* cause = job->add_subcommand("common-cause", "What one fault explains of all that fails, on paper");
    cause->add_option("JOB", file, "Job file or hand-over file")->required();
    cause->add_flag("--json", json, "Answer as JSON");
    cause->callback([&] { exit = jobCommonCause(file, json); });
    addPaperCommands(*job, exit);
    addShopCommands(app, exit);
    CLI::App* report = job->add_subcommand("report", "Write the report");
    report->add_option("JOB", file, "Job file or hand-over file")->required();
    report->add_option("OUT", out, "File to write")->required();
    report->add_option("--format", format, "html or csv")->check(CLI::IsMember({"html", "csv"}));
    static std::string reader = "technician";
    report
        ->add_option("--for", reader, "Who reads it: the next technician, the customer (one page), or a test schedule")
        ->check(CLI::IsMember({"technician", "customer", "schedule"}));
    report->callback([&] { exit = jobReport(file, out, format, reader); });
    CLI::App* exporting = job->add_subcommand("export", "Write a job as one hand-over file");
    exporting->add_option("JOB", file, "Job file")->required();
    exporting->add_option("OUT", out, "Hand-over file to write")->required();
    exporting->callback([&] { exit = jobExport(file, out); });
    CLI::App* importing = job->add_subcommand("import", "Make a job file from a hand-over file");
    importing->add_option("HANDOVER", file, "Hand-over file")->required();
    importing->add_option("OUT", out, "Job file to make")->required();
    importing->callback([&] { exit = jobImport(file, out); });

    CLI::App* keeping = job->add_subcommand(
        "keep-machine", "Keep the machine of a job for the next one: the map as drawn, and what was found");
    keeping->add_option("JOB", file, "Job file")->required();
    keeping->add_option("OUT", out, "Machine file to write; one of the same machine is brought up to date")->required();
    keeping->callback([&] { exit = jobKeepMachine(file, out); });
    CLI::App* onMachine = job->add_subcommand("on-machine", "Make a new job on a machine that was kept");
    onMachine->add_option("MACHINE", file, "Machine file")->required();
    onMachine->add_option("OUT", out, "Job file to make")->required();
    onMachine->callback([&] { exit = jobOnMachine(file, out); });

    CLI::App* checking =
        job->add_subcommand("check", "Whether everything in a job file can be read; exit code 2 if not");
    checking->add_option("JOB", file, "Job file")->required();
    checking->add_flag("--json", json, "Answer as JSON");
    checking->callback([&] { exit = jobCheck(file, json); });
    std::string rescueMap;
    CLI::App* rescue = job->add_subcommand("rescue", "Make a new job file from all of a damaged one that can be read");
    rescue->add_option("JOB", file, "Damaged job file; it is left as it is")->required();
    rescue->add_option("OUT", out, "Job file to make")->required();
    rescue->add_option("--map", rescueMap,
                       "Another copy of its map, where its own is gone: a map, a job, a hand-over file");
    rescue->callback([&] { exit = jobRescue(file, out, rescueMap); });

    std::string figure, setUp;
    CLI::App* adding = job->add_subcommand("add-reading", "Take one reading more into a job, and say what it proves");
    adding->add_option("JOB", file, "Job file")->required();
    adding
        ->add_option("FIGURE", figure,
                     "As in the window: \"12.4 V\", \"11.8..12.4\", \"0.3 ohm\", \"OL\", \"2.4 A\", \"~ 0.8 V\", "
                     "\"dark\", \"module 10.9 V\"")
        ->required();
    adding
        ->add_option("--at", setUp,
                     "Leads and what was done: \"A2 > A7; key on; apart A; load 21 W lamp; pulled K2; bridged F5 in > "
                     "F5 out 10 A; commanded B3 60 %; clamp A2; warmed S1 to 60 °C; unpinned A4; leads 0.3 Ω; touched "
                     "X2; shut down\"")
        ->required();
    adding->callback([&] { exit = jobAddReading(file, figure, setUp); });

    std::vector<std::string> stories;
    bool verbose = false;
    CLI::App* story = app.add_subcommand("story", "Jobs told as stories")->require_subcommand(1);
    CLI::App* play = story->add_subcommand("run", "Play stories through; exit code 4 when something was not as told");
    play->add_option("FILE", stories, "Story files")->required();
    play->add_flag("--verbose", verbose, "Every entry with its judgement");
    static std::string keepIn;
    play->add_option("--keep", keepIn, "Folder in which each is kept as a job file")->check(CLI::ExistingDirectory);
    play->callback([&] { exit = storyRun(stories, verbose, keepIn); });

    std::string caseFile, place;
    double seconds = 0;
    CLI::App* practice =
        app.add_subcommand("practice", "A simulated machine with a hidden fault")->require_subcommand(1);
    CLI::App* list = practice->add_subcommand("list", "The cases of a folder");
    list->add_option("MAP", file, "Map file")->required();
    list->add_option("FOLDER", out, "Folder of cases")->required();
    list->add_flag("--json", json, "Answer as JSON");
    list->callback([&] { exit = practiceList(file, out, json); });
    CLI::App* probe = practice->add_subcommand("probe", "What the meter shows on the machine of a case");
    probe->add_option("MAP", wanted.map, "Map file")->required();
    probe->add_option("CASE", caseFile, "Case file")->required();
    probe->add_option("--red", wanted.red, "Node of the red lead")->required();
    probe->add_option("--black", wanted.black, "Node of the black lead; battery minus when left out");
    probe->add_option("--state", wanted.state, "Operating state; the map's first when left out");
    probe->add_option("--unplug", wanted.unplugged, "Connectors apart");
    probe->add_option("--load", wanted.load, "Substitute load of the catalogue");
    probe->add_option("--from", wanted.loadFrom, "Node the load hangs on");
    probe->add_option("--to", wanted.loadTo, "Node the load leads to");
    probe->add_option("--seconds", seconds, "Time since the machine was switched on");
    probe->add_flag("--json", wanted.json, "Answer as JSON");
    probe->callback([&] { exit = practiceProbe(wanted, caseFile, seconds); });
    CLI::App* look = practice->add_subcommand("look", "What the eye finds at a terminal of the machine of a case");
    look->add_option("MAP", file, "Map file")->required();
    look->add_option("CASE", caseFile, "Case file")->required();
    look->add_option("TERMINAL", place, "As J2-28")->required();
    look->callback([&] { exit = practiceLook(file, caseFile, place); });
    CLI::App* solve =
        practice->add_subcommand("solve", "Follow the first suggested test to a verdict; exit code 4 when it is wrong");
    solve->add_option("MAP", file, "Map file")->required();
    solve->add_option("CASE", caseFile, "Case file")->required();
    solve->add_flag("--json", json, "Answer as JSON");
    solve->callback([&] { exit = practiceSolve(file, caseFile, json); });
    CLI::App* verdict =
        practice->add_subcommand("verdict", "Judge a verdict: an element, node or terminal, or the module's name");
    verdict->add_option("MAP", file, "Map file")->required();
    verdict->add_option("CASE", caseFile, "Case file")->required();
    verdict->add_option("PLACE", place, "Where the fault is")->required();
    verdict->callback([&] { exit = practiceVerdict(file, caseFile, place); });

    TraceWishes trace;
    CLI::App* traces = app.add_subcommand("trace", "Recordings of currents and voltages")->require_subcommand(1);
    const auto wishes = [&](CLI::App* command) {
        command->add_option("FILE", trace.file, "CSV, WAV, MATLAB level 5 or NumPy")->required();
        command->add_option("--channel,--current", trace.main, "Channel that is measured, by name or number");
        command->add_option("--clamp", trace.clamp_mVPerA,
                            "Its clamp's scale in mV/A; below nothing: it was the other way round");
        command->add_option("--attenuation", trace.attenuations,
                            "10 where its lead divides by ten; below nothing: leads exchanged; control=10 for another "
                            "channel, as often as needed");
        command->add_option("--zero", trace.zero,
                            "What the clamp shows of nothing, as it was recorded, or the seconds in which nothing "
                            "flows, as 0-0.1");
        command->add_option("--interval", trace.interval_s,
                            "Seconds between two samples, where the file does not say it");
        command->add_flag("--json", trace.json, "Answer as JSON");
    };
    const auto beside = [&](CLI::App* command) {
        wishes(command);
        std::vector<std::string> kinds;
        for (const ilvek::RecordedKind& k : ilvek::recordedKinds())
            kinds.emplace_back(k.id);
        command->add_option("--as", trace.kind, "What it is of, where the guess is wrong")->check(CLI::IsMember(kinds));
        command->add_option("--beside,--control", trace.beside,
                            "Channel beside it: voltage at the drive, low line, load; - for none");
        command->add_option("--feed", trace.feed, "Channel at the feed side; - for none");
        command->add_option("--system-voltage", trace.system_V, "Volts of the machine's battery");
        command->add_option("--sync", trace.sync, "Channel that is active when a known cylinder is; - for none");
        command->add_option("--order", trace.order, "Firing order, as 1-3-4-2");
        command->add_option("--known", trace.known, "The cylinder of the synchronising channel");
        command->add_option("--supply", trace.supply_V, "Volts at the feed");
        command->add_option("--resistance", trace.resistance_ohm, "Ohms of one loop as it should be");
        command->add_option("--map", trace.map, "Map with the part that is recorded");
        command->add_option("--element", trace.element, "Part of the map, as INJ3");
        command->add_option("--state", trace.state, "State of the map in which it was recorded");
        command->add_option("--temperature", trace.temperature_C, "Of the winding, degrees Celsius");
        command->add_option("--known-good", trace.knownGood, "Kept recording of a sound machine");
        command->add_option("--bars", trace.bars, "Commutator bars of the motor");
        command->add_option("--teeth", trace.teeth, "Teeth that the wheel should have");
        command->add_option("--missing", trace.missing, "Teeth that its gap should be wide");
        command->add_option("--allowed", trace.allowed, "By how much a steady level may move");
        command->add_flag("--driven-low", trace.drivenLow, "The charging field is driven while its channel is low");
        command->add_flag("--traffic", trace.traffic, "Nodes of the bus are known to send");
    };
    CLI::App* info = traces->add_subcommand("info", "What is in a recording");
    wishes(info);
    info->callback([&] { exit = traceInfo(trace); });
    CLI::App* measure =
        traces->add_subcommand("measure", "What a recording tells, measure by measure, and what differs in it");
    beside(measure);
    measure->callback([&] { exit = traceMeasure(trace); });
    CLI::App* compare = traces->add_subcommand(
        "compare", "Pulses with their siblings, the map and a kept recording; exit code 4 when one is odd");
    beside(compare);
    compare->callback([&] { exit = traceCompare(trace); });
    CLI::App* keep =
        traces->add_subcommand("keep", "Keep the pulses of a sound machine with their conditions, to compare with");
    beside(keep);
    keep->add_option("OUT", out, "File to write, .json")->required();
    keep->callback([&] { exit = traceKeep(trace, out); });
    CLI::App* convert = traces->add_subcommand("convert", "Write a recording as CSV or NumPy");
    wishes(convert);
    convert->add_option("OUT", out, "File to write, .csv or .npy")->required();
    convert->callback([&] { exit = traceConvert(trace, out); });
    std::string recordedAt, lead;
    CLI::App* recording = job->add_subcommand("recording", "The verdict of a recording as an entry of a job");
    recording->add_option("JOB", file, "Job file")->required();
    beside(recording);
    recording->add_option("--terminal", recordedAt, "Of a signal or a level: the module's terminal it was recorded at");
    recording->add_option("--lead", lead, "Where the control channel's lead sat")
        ->check(CLI::IsMember({"module", "part"}));
    recording->callback([&] { exit = jobRecording(file, trace, recordedAt, lead); });
    std::string made;
    double noise = -1;
    unsigned seed = 1;
    CLI::App* make = traces->add_subcommand(
        "make", "One of the shipped recordings anew from its physical model; their list without a name");
    make->add_option("NAME", made, "Its name");
    make->add_option("OUT", out, "File to write, .csv or .npy");
    make->add_option("--noise", noise, "One sigma as a share of the highest value")->check(CLI::Range(0.0, 0.3));
    make->add_option("--seed", seed, "Of the noise");
    make->callback([&] { exit = traceMake(made, out, noise, seed); });

    try {
        app.parse(count, arguments);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? Ok : Usage;
    } catch (const std::system_error&) {
        return answerNotWritten();  // by the library that writes it
    }
    return std::fflush(stdout) != 0 || std::ferror(stdout) != 0 ? answerNotWritten() : exit;
}
