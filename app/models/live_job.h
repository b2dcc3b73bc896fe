// The open job as the screens see it: the journal, what is computed from it, and the step that is next.
#pragma once

#include <QObject>
#include <QString>
#include <QThread>
#include <QTimer>
#include <functional>

#include <memory>
#include <optional>

#include "experience/known_good.h"
#include "job/job.h"
#include "job/journal.h"
#include "models/reasoning_worker.h"
#include "open_job/open_job.h"
#include "open_job/procedure_step.h"

namespace ilvek::app {

// The computed circuit behind the loop that is shown.
struct SolvedLoop {
    std::vector<double> potentials;   // by node, V against battery minus; NaN where nothing holds it
    std::optional<double> current_A;  // in the load, or through the terminal
    QString words;                    // the suspect whose fault is in it
    double probability = 0;
};

class LiveJob : public QObject {
    Q_OBJECT
public:
    // Takes the journal over. ERRORS: its map cannot be read.
    static Result<std::unique_ptr<LiveJob>, Problems> make(Journal journal);

    const Map& map() const { return open_.job.map; }
    const Job& job() const { return open_.job; }
    const Journal& journal() const { return journal_; }
    const Assessment& assessment() const { return open_.assessment; }
    const Gate& gate() const { return gate_; }
    const std::optional<Step>& step() const { return step_; }
    // What the suspects are now; nullptr until the reasoning has answered for the first time.
    const Reasoning* reasoning() const { return reasoning_.get(); }
    // Suggested tests, best first; `index` counts from 0. False when there is none such.
    bool takeSuggestion(std::size_t index);
    // The test that would exclude a group of suspects; false where none does.
    bool takeExclusion(std::size_t group);
    ~LiveJob() override;
    // The plan leads, no terminal was chosen.
    bool isFollowing() const { return chosen_ < 0; }
    // The terminal whose loop is shown: the step's, else the chosen one, else -1.
    int shownTerminal() const;
    Proof proof(int terminal) const;
    // Potentials of the healthy circuit in the step's condition against battery minus, by node.
    const SolvedLoop& expected() const { return expected_; }
    // The same with the likeliest suspect's fault in it; empty while none is likely.
    const SolvedLoop& suspected() const { return suspected_; }
    std::optional<Reading> lastReading() const;
    const Judgement* lastJudgement() const;
    std::optional<OpenJob::BatteryNow> batteryNow() const { return open_.batteryNow(now()); }
    // What went wrong with the file at the last entry that could not be written; empty once one was.
    const QString& trouble() const { return trouble_; }
    // Everything that is in memory as a new job file. ERRORS: the name is taken, the place cannot be written to.
    Result<Journal> saveElsewhere(const QString& path) const;

    // Each takes an entry into the journal; false and refused() when that fails or the text is no figure.
    // What is typed for the step, or where the leads were placed: open_job/typed_reading.h.
    bool take(const QString& text);
    bool enter(EventBody body);
    bool enter(std::vector<EventBody> bodies);
    bool undo();

    // Any set-up instead of a step's; it stays until a step is asked for.
    void placeLeads(const SetUp& setUp);
    // The machine stands in another operating state now.
    bool setState(const std::string& id);
    const std::optional<SetUp>& placed() const { return anywhere_; }

    // What is done next.
    void follow();               // the plan's own next step
    void choose(int terminal);   // the next step of one terminal
    void demand(TestKind test);  // a test on the shown terminal, wanted or not by the plan
    void changeLoad();           // the next load of the catalogue for the shown step
    QString stateId() const { return QString::fromStdString(open_.job.state); }

    // Procedures: all of the machine, and the one that is followed. What it asks for next is the step, unless the leads
    // were placed or another test was chosen; where it asks for no reading, asked() says what.
    std::vector<Procedure> procedures() const;
    const std::optional<Procedure>& procedure() const { return procedure_; }
    bool followProcedure(const std::string& id, const std::string& subject);
    bool leaveProcedure();
    // Places that a watch can be at, in its order, and the one that is touched now instead of what it asks next; it
    // stands until the next entry.
    QStringList touchable() const;
    bool touch(const QString& place);
    const Stage* asked() const { return leads() && !step_ ? procedure_->next() : nullptr; }
    // Whether the procedure leads now, and nothing else that was chosen.
    bool leads() const;
    // Key off and on, or whatever states it asks for, were gone through.
    bool passStates();
    // How long the window stays open in which the next reading counts; nullopt: there is none.
    std::optional<double> remaining_s() const;

    // What sound machines of this type read, told beside what is expected of a step.
    void setKnownGood(KnownGood known) { known_ = std::move(known); }
    // Of the step, or where the leads were placed; empty: nothing is known there.
    QString knownGoodWords() const;

    // The clock, replaceable in tests. Milliseconds since 1970 UTC; while a job is open it only goes forward, whatever
    // is done to the computer's clock.
    void setClock(std::function<std::int64_t()> clock);
    std::int64_t now() const { return clock_(); }

signals:
    void changed();   // journal, step or choice
    void reasoned();  // the suspects, behind it
    void taskReady(const ilvek::app::SharedTask& task);
    void refused(const QString& message);  // nothing was taken; what was typed stays

private:
    explicit LiveJob(Journal journal);
    Result<void, Problems> recompute();
    void planStep();
    void take(const Step& suggested);
    int terminalOfProcedure() const;
    const Stage* touchedStage() const;
    bool isBeingWeighed(const Step& step) const;
    void solveExpected();
    SolvedLoop solved(const Condition& condition, int terminal) const;

    void startReasoning();
    void askReasoning();

    QThread thread_;
    QTimer startSoon_;
    ReasoningWorker* worker_ = nullptr;
    SharedReasoning reasoning_;
    std::optional<Step> suggested_;
    std::optional<Procedure> procedure_;
    QString touched_;  // of a watch, instead of the place that is next
    Journal journal_;
    OpenJob open_;
    Gate gate_;
    std::optional<Step> step_;
    SolvedLoop expected_, suspected_;
    int chosen_ = -1;
    std::optional<TestKind> demanded_;
    std::optional<SetUp> anywhere_;
    KnownGood known_;
    std::function<std::int64_t()> clock_;
    QString trouble_;
};

}  // namespace ilvek::app
