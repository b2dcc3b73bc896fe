#include "keys.h"

#include <QCoreApplication>
#include <QKeySequence>

namespace ilvek::app {

namespace {

QString tr(const char* words)
{
    return QCoreApplication::translate("Keys", words);
}

KeyLine action(Qt::Key key, const char* words)
{
    return {key, QKeySequence(key).toString(), tr(words)};
}

KeyLine listed(const char* shown, const char* words)
{
    return {0, tr(shown), tr(words)};
}

}  // namespace

const std::vector<KeyLine>& keyTable()
{
    static const std::vector<KeyLine> table{
        listed("0 … 9  −  ,  .  ~",
               "go to the reading, from anywhere; OL is over limit, ~ alternating volts, 11.8..12.4 "
               "lowest and highest, 12.3 @ 1.2 A with the clamp's figure"),
        listed("Enter", "takes the reading"),
        listed("Esc", "clears what is typed, or closes what is open"),
        action(Qt::Key_N, "the next step of the job"),
        action(Qt::Key_T, "the test that tells most about the suspects"),
        action(Qt::Key_P, "place the leads anywhere: what is apart, pulled, bridged, loaded"),
        action(Qt::Key_H, "how it is done: the procedures, step by step"),
        action(Qt::Key_S, "the operating state, and how to reach it"),
        action(Qt::Key_I, "what is seen without a figure: a lamp, a breaker, a signal, the module's own value"),
        action(Qt::Key_Y, "in a watch: the place that is touched now; Alt+1 to Alt+9 without the list"),
        listed("↑  ↓", "another terminal of the ledger"),
        action(Qt::Key_B, "read the battery"),
        action(Qt::Key_R, "read open-circuit"),
        action(Qt::Key_L, "load the supply or the return"),
        action(Qt::Key_C, "change the load"),
        action(Qt::Key_G, "swap the ground"),
        action(Qt::Key_W, "walk the segments"),
        action(Qt::Key_F, "fuse, both sides"),
        action(Qt::Key_D, "dead when it must be?"),
        action(Qt::Key_V, "look at the terminal: 1 as drawn, 2 damaged or loose, 3 another wire, 4 empty cavity"),
        listed("M", "mirror the connector"),
        action(Qt::Key_A, "assume a terminal good, with the reason"),
        action(Qt::Key_E, "correct this terminal on the map, or mark it as found"),
        action(Qt::Key_K, "keep a figure: what the circuit draws, by the clamp or as it is stated somewhere"),
        listed("F7", "the pins of the map: add a terminal, correct a row, state what was not known"),
        action(Qt::Key_U, "undo: withdraws the last entry, the journal keeps both"),
        listed("Ctrl+Z", "undo too"),
        listed("F2  Shift+F2  F3  F11  F4  F12  F5", "Job, Papers, Prove, Procedures, Suspects, Repair, Report"),
        listed("F  K  G  W  N", "on Papers: the function fails, is weak, comes and goes, works, was not tried"),
        listed("←  →",
               "on Repair: another page; L places the leads of its question, O leaves it open, F functions tried"),
        listed("↑ ↓, 1 to 3, X",
               "on Suspects: choose one; take a test; take the one that would exclude what is chosen; H: procedures "
               "about it"),
        listed("↑ ↓, Enter", "on Procedures: choose one by these or by typing its name; follow it"),
        listed("F8",
               "Traces: O opens a recording, + − zoom, ← → move, Home shows all, [ ] set the markers, Z: nothing flows "
               "between them, J to the job"),
        listed("F6", "other jobs, maps, pin sheets"),
        listed("Ctrl+O, Ctrl+S", "open any file; save this job elsewhere (it saves itself where it is)"),
        listed("F9", "light or night"),
        listed("F10", "about Ilvek, licences"),
        listed("Tab, Space", "to the lines of the gate, and to tell what was found"),
        listed("Ctrl+Q", "quit; everything is kept as it goes")};
    return table;
}

}  // namespace ilvek::app
