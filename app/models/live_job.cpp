#include "models/live_job.h"

#include <QDateTime>
#include <cmath>
#include <ctime>

#include "circuit/operating_point.h"
#include "machine/paths.h"
#include "open_job/taking.h"
#include "procedures/in_words.h"
#include "proving/walk.h"

namespace ilvek::app {

namespace {

constexpr int reasoningStartsAfter_ms = 120;
constexpr double worthDrawing = 0.1;  // likelihood of a suspect that is drawn into the loop

QString words(const Problems& problems)
{
    QStringList lines;
    for (const Error& problem : problems)
        lines << QString::fromStdString(problem.message());
    return lines.join(QLatin1Char('\n'));
}

std::optional<Step> walkStepNow(const Map& map, const Assessment& a, int terminal, int state)
{
    const Walk walk = walkOf(map, a.evidence, terminal);
    const int next = nextWalkPoint(map, walk);
    if (next < 0) return std::nullopt;
    return walkStep(map, a.evidence.working, terminal, state, walk.points[static_cast<std::size_t>(next)].node);
}

std::optional<Step> fuseStepNow(const Map& map, const Assessment& a, int terminal, int state)
{
    const auto fuses = fusesOf(map, terminal);
    if (fuses.empty()) return std::nullopt;
    const Reading* last = a.evidence.readings.empty() ? nullptr : &a.evidence.readings.back();
    const bool sourceDone =
        last && last->test == TestKind::FuseCheck && last->red == map.node(map.element(fuses.back()).nodes[0]);
    return fuseStep(map, terminal, fuses.back(), sourceDone, state);
}

// Milliseconds since the computer was started, asleep or not.
std::int64_t sinceBoot_ms()
{
    timespec now{};
    ::clock_gettime(CLOCK_BOOTTIME, &now);
    return static_cast<std::int64_t>(now.tv_sec) * 1000 + now.tv_nsec / 1'000'000;
}

std::function<std::int64_t()> steadyClock()
{
    return [begin = QDateTime::currentMSecsSinceEpoch() - sinceBoot_ms()] { return begin + sinceBoot_ms(); };
}

}  // namespace

LiveJob::LiveJob(Journal journal) : journal_(std::move(journal)), clock_(steadyClock())
{
    // The window comes first.
    startSoon_.setSingleShot(true);
    startSoon_.setInterval(reasoningStartsAfter_ms);
    connect(&startSoon_, &QTimer::timeout, this, &LiveJob::startReasoning);
    startSoon_.start();
}

LiveJob::~LiveJob()
{
    if (worker_) worker_->stop();
    thread_.quit();
    thread_.wait();
}

void LiveJob::startReasoning()
{
    qRegisterMetaType<SharedTask>();
    qRegisterMetaType<SharedReasoning>();
    worker_ = new ReasoningWorker;
    worker_->moveToThread(&thread_);
    connect(&thread_, &QThread::finished, worker_, &QObject::deleteLater);
    connect(this, &LiveJob::taskReady, worker_, &ReasoningWorker::take);
    connect(worker_, &ReasoningWorker::reasoned, this, [this](const SharedReasoning& reasoning) {
        reasoning_ = reasoning;
        planStep();
        emit reasoned();
    });
    thread_.start();
    askReasoning();
}

void LiveJob::askReasoning()
{
    if (!worker_) return;
    auto task = std::make_shared<ReasoningTask>();
    task->map = open_.job.map;
    task->assessment = open_.assessment;
    task->reports = open_.reports();
    task->complaint = open_.hasComplaint();
    task->standing = open_.standing();
    task->revision = open_.revision;
    emit taskReady(task);
}

bool LiveJob::takeSuggestion(std::size_t index)
{
    if (!reasoning_ || index >= reasoning_->steps.size()) return false;
    const Step& step = reasoning_->steps[index];
    if (isBeingWeighed(step)) {
        emit refused(
            tr("%1: just read, and still being weighed. Again in a moment.").arg(QString::fromStdString(step.title)));
        return false;
    }
    take(step);
    return true;
}

// Read after what the suspects know of.
bool LiveJob::isBeingWeighed(const Step& step) const
{
    const auto& readings = open_.assessment.evidence.readings;
    for (std::size_t i = reasoning_->readings; i < readings.size(); ++i) {
        if (readings[i].test == step.test && static_cast<const SetUp&>(readings[i]) == step) return true;
    }
    return false;
}

bool LiveJob::takeExclusion(std::size_t group)
{
    if (!reasoning_ || group >= reasoning_->exclusions.size() || !reasoning_->exclusions[group]) return false;
    take(reasoning_->exclusions[group]->step);
    return true;
}

void LiveJob::take(const Step& suggested)
{
    suggested_ = suggested;
    anywhere_.reset();
    demanded_.reset();
    planStep();
}

Result<std::unique_ptr<LiveJob>, Problems> LiveJob::make(Journal journal)
{
    std::unique_ptr<LiveJob> live(new LiveJob(std::move(journal)));
    if (auto done = live->recompute(); !done) return tl::unexpected(done.error());
    return live;
}

void LiveJob::setClock(std::function<std::int64_t()> clock)
{
    clock_ = std::move(clock);
    planStep();
}

Result<void, Problems> LiveJob::recompute()
{
    const bool first = open_.job.map.states.empty();
    auto open = OpenJob::of(journal_.content(), first ? nullptr : &open_);
    if (!open) {
        emit refused(words(open.error()));
        return tl::unexpected(open.error());
    }
    open_ = std::move(*open);
    touched_.clear();
    if (chosen_ >= static_cast<int>(open_.job.map.terminals.size())) chosen_ = -1;
    planStep();
    askReasoning();
    return {};
}

void LiveJob::planStep()
{
    const Moment moment{now(), open_.job.state};
    gate_ = open_.gate(now(), reasoning_.get());
    // A suggestion is taken with its key, so that what stands on the card does not move by itself.
    gate_.next = nextStep(open_.job.map, open_.assessment, moment);
    if (anywhere_ && unknownName(open_.job.map, *anywhere_)) anywhere_.reset();  // corrected away
    const int state = open_.job.map.stateIndex(open_.job.state);
    step_ = chosen_ >= 0 ? nextStepFor(open_.job.map, open_.assessment, chosen_, moment) : gate_.next;
    const int shown = chosen_ >= 0 ? chosen_ : step_ ? step_->terminal : -1;
    if (anywhere_) {
        step_ = stepAnywhere(open_.job.map, *anywhere_);
    } else if (demanded_) {
        const WayOfWorking& working = open_.job.evidence.working;
        const bool supply = shown >= 0 && isSupply(open_.job.map.terminal(shown).role.value_or(Role::Empty));
        const bool isReturn = shown >= 0 && open_.job.map.terminal(shown).role == Role::Return;
        std::optional<Step> wanted;
        switch (*demanded_) {
            case TestKind::Battery:
                wanted = batteryStep(open_.job.map, open_.job.state);
                break;
            case TestKind::OpenSupply:
                if (supply) wanted = openStep(open_.job.map, working, shown, state);
                break;
            case TestKind::AbsentSupply:
                if (supply && !open_.job.map.terminal(shown).absentIn.empty())
                    wanted = absentStep(open_.job.map, working, shown, open_.job.map.terminal(shown).absentIn.front());
                break;
            case TestKind::LoadedSupply:
                if (supply) wanted = loadStep(open_.job.map, working, shown, state);
                if (isReturn) wanted = returnStep(open_.job.map, working, shown, state);
                break;
            case TestKind::GroundSwap:
                if (supply) wanted = swapStep(open_.job.map, working, shown, state);
                break;
            case TestKind::SegmentWalk:
                if (supply || isReturn) wanted = walkStepNow(open_.job.map, open_.assessment, shown, state);
                break;
            case TestKind::Look:
                if (shown >= 0 && open_.job.map.terminal(shown).a >= 0) wanted = lookStep(open_.job.map, shown, state);
                break;
            case TestKind::FuseCheck:
                if (supply) wanted = fuseStepNow(open_.job.map, open_.assessment, shown, state);
                break;
            default:
                break;
        }
        if (wanted) step_ = wanted;
    } else if (suggested_) {
        step_ = suggested_;
    }
    procedure_ = followed(open_, now());
    if (leads()) {
        const Stage* next = touchedStage();
        if (!next) next = procedure_->next();
        step_ = next && next->asked ? stepOf(open_.job.map, *next->asked) : std::nullopt;
        // What the reading is for, where the step itself was made of its set-up alone.
        // What it is for stands first; where the leads go is on the card anyhow.
        if (step_ && next->asked->step.title.empty()) step_->why = std::exchange(step_->title, sentence(next->title));
        // A reading that is held against the battery of the minute decides nothing without it; a maker's chart has its
        // own order.
        if (step_ && !touchedStage() && procedure_->id != "chart") {
            if (auto battery = batteryFirst(open_.job.map, open_.assessment, moment, *step_))
                step_ = std::move(battery);
        }
    }
    solveExpected();
    emit changed();
}

void LiveJob::solveExpected()
{
    expected_ = suspected_ = {};
    // The set-up of the step; once it is no longer under load, that of the last loaded reading, whose marks are shown.
    std::optional<SetUp> shown;
    if (step_) shown = *step_;
    const int terminal = shownTerminal();
    for (std::size_t i = open_.assessment.evidence.readings.size();
         i-- > 0 && terminal >= 0 && (!shown || shown->load.empty());) {
        const Reading& r = open_.assessment.evidence.readings[i];
        if (r.terminal == open_.job.map.terminal(terminal).id && !r.load.empty() && !open_.assessment.stale[i])
            shown = r;
    }
    if (!shown) {
        shown = SetUp{};
        shown->state = open_.job.state;
    }
    auto set = conditionOf(open_.job.map, *shown);
    if (!set) return;
    Condition condition = std::move(*set);
    // With the battery that was read: its source is lifted by what the map's own battery reads low in this state.
    if (const auto battery = open_.batteryNow(now())) {
        Condition resting;
        resting.state = condition.state;
        // As it was read: what was apart then drew nothing from it.
        if (auto with = conditionOf(open_.job.map, *battery->reading)) resting = std::move(*with);
        const auto modelled = operatingPoint(open_.job.map, resting);
        const double emf = open_.job.map.element(open_.job.map.battery).value("emf");
        if (modelled) condition.batteryEmf_V = emf + battery->volts - modelled->potential(open_.job.map.batteryPlus());
    }
    expected_ = solved(condition, terminal);
    const RankedSuspect* top = reasoning_ && !reasoning_->suspects.empty() ? &reasoning_->suspects.front() : nullptr;
    if (!top || top->faults.empty() || top->probability < worthDrawing) return;
    condition.faults = top->faults;
    suspected_ = solved(condition, terminal);
    suspected_.words = QString::fromStdString(top->words);
    suspected_.probability = top->probability;
}

SolvedLoop LiveJob::solved(const Condition& condition, int terminal) const
{
    SolvedLoop loop;
    const auto point = operatingPoint(open_.job.map, condition);
    if (!point) return loop;
    for (int node = 0; node < static_cast<int>(open_.job.map.nodes.size()); ++node)
        loop.potentials.push_back(point->isFloating(node) ? std::nan("") : point->potential(node));
    if (condition.load)
        loop.current_A = std::abs(point->loadCurrent());
    else if (terminal >= 0 && open_.job.map.terminal(terminal).contact >= 0)
        loop.current_A = std::abs(point->currentThrough(open_.job.map.terminal(terminal).contact));
    return loop;
}

int LiveJob::shownTerminal() const
{
    if (chosen_ >= 0) return chosen_;
    if (step_ && step_->terminal >= 0) return step_->terminal;
    if (leads()) {
        if (const int terminal = terminalOfProcedure(); terminal >= 0) return terminal;
    }
    const auto last = lastReading();
    return last ? open_.job.map.terminalIndex(last->terminal) : -1;
}

// The terminal that a procedure is about, or the first whose way leads through its part.
int LiveJob::terminalOfProcedure() const
{
    const Map& map = open_.job.map;
    const std::string& subject = procedure_->subject;
    if (const int terminal = map.terminalIndex(subject); terminal >= 0) return terminal;
    const int element = map.elementIndex(subject);
    if (element < 0) return -1;
    for (const int terminal : provingOrder(map, {})) {
        if (passesThrough(map, terminal, element)) return terminal;
    }
    return -1;
}

std::vector<Procedure> LiveJob::procedures() const
{
    return proceduresOf(open_, now());
}

bool LiveJob::leads() const
{
    return procedure_ && chosen_ < 0 && !anywhere_ && !demanded_ && !suggested_;
}

bool LiveJob::followProcedure(const std::string& id, const std::string& subject)
{
    chosen_ = -1;
    anywhere_.reset(), demanded_.reset(), suggested_.reset();
    if (open_.job.followed.procedure != id || open_.job.followed.subject != subject)
        return enter(ProcedureFollowed{id, subject});
    planStep();
    return true;
}

const Stage* LiveJob::touchedStage() const
{
    if (touched_.isEmpty() || !procedure_) return nullptr;
    const std::string place = touched_.toStdString();
    const auto at = std::find_if(procedure_->stages.begin(), procedure_->stages.end(),
                                 [&](const Stage& s) { return s.asked && s.asked->step.touched == place; });
    return at == procedure_->stages.end() ? nullptr : &*at;
}

QStringList LiveJob::touchable() const
{
    QStringList out;
    for (const Stage& s : leads() ? procedure_->stages : std::vector<Stage>{}) {
        const QString place = s.asked ? QString::fromStdString(s.asked->step.touched) : QString();
        if (!place.isEmpty() && !out.contains(place)) out << place;
    }
    return out;
}

bool LiveJob::touch(const QString& place)
{
    if (!touchable().contains(place)) return false;
    touched_ = place;
    planStep();
    return true;
}

bool LiveJob::leaveProcedure()
{
    return procedure_ ? enter(ProcedureFollowed{}) : false;
}

bool LiveJob::passStates()
{
    const Stage* stage = asked();
    if (!stage || !stage->asked || stage->asked->kind != Asked::Kind::States) return false;
    std::vector<EventBody> entries;
    for (const std::string& state : stage->asked->states)
        entries.emplace_back(StateChange{state});
    return enter(std::move(entries));
}

std::optional<double> LiveJob::remaining_s() const
{
    const Stage* next = leads() ? procedure_->next() : nullptr;
    const auto& states = open_.job.evidence.states;
    if (!step_ || !next || !next->asked || !next->asked->within_s || states.empty()) return std::nullopt;
    return *next->asked->within_s - static_cast<double>(now() - states.back().time_ms) / 1000;
}

Proof LiveJob::proof(int terminal) const
{
    return proofOf(open_.job.map, open_.assessment, terminal);
}

std::optional<Reading> LiveJob::lastReading() const
{
    if (open_.assessment.evidence.readings.empty()) return std::nullopt;
    return open_.assessment.evidence.readings.back();
}

const Judgement* LiveJob::lastJudgement() const
{
    return open_.assessment.judgements.empty() ? nullptr : &open_.assessment.judgements.back();
}

bool LiveJob::take(const QString& text)
{
    if (!step_ && !anywhere_) {
        emit refused(tr("There is no step to take a reading for; choose a terminal first."));
        return false;
    }
    const auto reading = anywhere_ ? readingAnywhere(open_, *anywhere_, text.toStdString(), now())
                                   : readingAtStep(open_, *step_, text.toStdString(), now());
    if (!reading) {
        emit refused(QString::fromStdString(reading.error().message()));
        return false;
    }
    return enter(entriesOf(open_, *reading));
}

bool LiveJob::enter(EventBody body)
{
    std::vector<EventBody> one;
    one.push_back(std::move(body));
    return enter(std::move(one));
}

bool LiveJob::enter(std::vector<EventBody> bodies)
{
    const bool isReading = std::holds_alternative<Reading>(bodies.back());
    const auto event = journal_.append(std::move(bodies), now());
    // An error that names the file is one of the place, else one of what was typed.
    const bool ofTheFile = !event && !event.error().item.empty();
    const bool newTrouble = ofTheFile || (event && !trouble_.isEmpty());
    if (newTrouble) trouble_ = event ? QString() : QString::fromStdString(event.error().message());
    if (!event) {
        emit refused(QString::fromStdString(event.error().message()));
        if (newTrouble) emit changed();
        return false;
    }
    // A set-up that was placed stays for the next reading; what was told with this one alone does not.
    if (isReading && anywhere_) anywhere_->inShutDown = false;
    if (isReading) {
        demanded_.reset();
        suggested_.reset();
    }
    return recompute().has_value();
}

bool LiveJob::undo()
{
    const auto last = lastEntry(journal_.events());
    if (!last) {
        emit refused(tr("There is nothing to take back."));
        return false;
    }
    return enter(Undo{*last});
}

Result<Journal> LiveJob::saveElsewhere(const QString& path) const
{
    return Journal::create(path.toStdString(), journal_.content());
}

void LiveJob::placeLeads(const SetUp& setUp)
{
    anywhere_ = setUp;
    planStep();
}

bool LiveJob::setState(const std::string& id)
{
    if (anywhere_) anywhere_->state = id;
    if (id != open_.job.state) return enter(StateChange{id});
    planStep();
    return true;
}

void LiveJob::follow()
{
    // Once more leaves the procedure; it stays where it is.
    if (leads()) return void(leaveProcedure());
    chosen_ = -1;
    anywhere_.reset();
    demanded_.reset();
    suggested_.reset();
    planStep();
}

void LiveJob::choose(int terminal)
{
    chosen_ = terminal;
    anywhere_.reset();
    demanded_.reset();
    suggested_.reset();
    planStep();
}

void LiveJob::demand(TestKind test)
{
    const int shown = shownTerminal();
    if (chosen_ < 0 && test != TestKind::Battery) chosen_ = shown;
    demanded_ = test;
    anywhere_.reset();
    planStep();
}

void LiveJob::changeLoad()
{
    if (!step_ || step_->load.empty()) {
        emit refused(tr("This step has no load to change."));
        return;
    }
    const auto loads = loadCatalogue(open_.job.map.systemVoltage_V);
    std::size_t at = 0;
    while (at < loads.size() && loads[at].id != step_->load)
        ++at;
    for (std::size_t n = 1; n <= loads.size(); ++n) {
        const SubstituteLoad& next = loads[(at + n) % loads.size()];
        const auto warnings = loadWarnings(open_.job.map, next, step_->terminal);
        if (std::any_of(warnings.begin(), warnings.end(), [](const LoadWarning& w) { return w.forbids; })) continue;
        WayOfWorking working = open_.job.evidence.working;
        working.load = next.id;
        enter(WayOfWorkingChange{working});
        return;
    }
    emit refused(tr("No other load of the catalogue suits this circuit."));
}

QString LiveJob::knownGoodWords() const
{
    if (!step_) return {};
    const std::string terminal = step_->terminal < 0 ? "" : map().terminal(step_->terminal).id;
    return QString::fromStdString(known_.words(step_->test, terminal, *step_));
}

}  // namespace ilvek::app
