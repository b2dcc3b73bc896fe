#include "repair/behind.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "base/text.h"
#include "machine/paths.h"
#include "repair/repeated.h"
#include "suspects/suspects.h"

namespace ilvek {

namespace {

bool isLoad(ElementKind kind)
{
    return kind == ElementKind::Winding || kind == ElementKind::Motor || kind == ElementKind::Lamp ||
           kind == ElementKind::Resistor;
}

bool isSensor(ElementKind kind)
{
    return kind == ElementKind::Sensor || kind == ElementKind::Thermistor || kind == ElementKind::Hall;
}

class Questions {
public:
    Questions(const Job& job, const Assessment& assessment)
        : job_(job), map_(job.map), a_(assessment), inside_(insideModule(map_))
    {
    }

    void about(int element)
    {
        const Element& e = map_.element(element);
        const std::string part = partWords(map_, element);
        if (inside_[static_cast<std::size_t>(element)]) return aboutModule(element);
        switch (e.kind) {
            case ElementKind::Fuse:
                aboutFuse(e, part);
                break;
            case ElementKind::Contact:
                aboutContact(element, part);
                break;
            case ElementKind::Wire:
                aboutWire(element, part);
                break;
            case ElementKind::Joint:
                aboutJoint(e, part);
                break;
            case ElementKind::Relay:
                aboutRelay(element, part);
                break;
            case ElementKind::Battery:
            case ElementKind::Alternator:
                aboutSource(e, part);
                break;
            default:
                aboutPart(element, part);
                break;
        }
    }

    // What drives its loads must be spared by them; which of its drives died nobody may know.
    void aboutModule(int element)
    {
        const Element& e = map_.element(element);
        const bool driver = e.kind == ElementKind::LowSideDriver || e.kind == ElementKind::HighSideDriver;
        for (const int t : map_.moduleTerminals()) {
            const Terminal& terminal = map_.terminal(t);
            if (terminal.role != Role::LowSideDrive && terminal.role != Role::HighSideDrive) continue;
            const bool own = std::find(e.nodes.begin(), e.nodes.end(), terminal.b) != e.nodes.end();
            if (driver && !own) continue;
            const std::string load = terminal.circuit;
            ask({"ohms " + terminal.id, fmt::format("Ohms of what hangs on {} ({})?", terminal.id, load),
                 "A load that takes too much kills the new driver as it killed the old one.",
                 BehindQuestion::By::Reading, t, TestKind::Resistance});
            ask({"insulation " + terminal.id, fmt::format("Insulation of {} to its case, both plugs off?", load),
                 "A winding that touches its case now and then shows its right ohms.", BehindQuestion::By::Told});
        }
        ask({"supplies " + map_.module, "Is every feed and return of the module proven under load?",
             "A module that was starved or lost its ground looks dead; the new one would too.",
             BehindQuestion::By::Told});
        fits(map_.module);
        ask({"learns " + map_.module,
             fmt::format("What does a new {} need: coding, adaptation, a key taught?", map_.module),
             "A part that was not told what it is in does not work, and looks like a bad one.",
             BehindQuestion::By::Told});
    }

    std::vector<BehindQuestion> take() { return std::move(out_); }

private:
    void aboutFuse(const Element& e, const std::string& part)
    {
        ask({"blew " + e.id, fmt::format("What blew {}?", part),
             "A blown fuse is a symptom. Follow the short on this fuse before another goes in.",
             BehindQuestion::By::Told});
        ask({"rating " + e.id, fmt::format("Is the rating of {} what the diagram says: {}?", part, ratingOf(e)),
             "A larger one lets the loom burn; a smaller one blows by itself.", BehindQuestion::By::Look});
    }

    void aboutContact(int element, const std::string& part)
    {
        const Terminal* terminal = terminalOf(element);
        if (!terminal) return;
        const Connector& c = map_.connectors[static_cast<std::size_t>(terminal->connector)];
        ask({"water " + c.id, fmt::format("Water or corrosion in {}: where does it come from?", c.id),
             "A contact that was cleaned corrodes again where the water still comes in.", BehindQuestion::By::Look});
        std::vector<std::string> others;
        for (const int t : c.terminals) {
            if (t >= 0 && map_.terminal(t).contact >= 0 && map_.terminal(t).contact != element)
                others.push_back(map_.terminal(t).id);
        }
        if (!others.empty())
            ask({"neighbours " + c.id, fmt::format("How do the neighbours of {} look: {}?", part, few(others)),
                 "What reached one contact reached those beside it.", BehindQuestion::By::Look});
        ask({"grip " + terminal->id, fmt::format("Does the socket of {} still hold a single pin by itself?", part),
             "A socket that was spread by a probe or by heat opens again.", BehindQuestion::By::Look});
    }

    void aboutWire(int element, const std::string& part)
    {
        const Element& e = map_.element(element);
        const std::string where = e.place.empty() ? "" : ", " + e.place;
        ask({"rubs " + e.id, fmt::format("What rubs, pulls or bends {}{}?", part, where),
             "A wire breaks where something moves. A new one breaks there again.", BehindQuestion::By::Look});
        std::vector<std::string> beside;
        for (std::size_t i = 0; i < map_.elements.size() && !e.loom.empty(); ++i) {
            if (static_cast<int>(i) != element && map_.elements[i].loom == e.loom)
                beside.push_back(partWords(map_, static_cast<int>(i)));
        }
        if (!beside.empty())
            ask({"loom " + e.loom, fmt::format("What else in this loom suffered the same: {}?", few(beside)),
                 "What chafed one wire chafes the next.", BehindQuestion::By::Look});
    }

    void aboutJoint(const Element& e, const std::string& part)
    {
        ask({"metal " + e.id, fmt::format("Is there clean metal under {}, and is it kept from water?", part),
             "Paint and rust under a lug come back.", BehindQuestion::By::Look});
        for (const int t : map_.moduleTerminals()) {
            if (map_.terminal(t).role == Role::Return && passesThrough(map_, t, map_.elementIndex(e.id)))
                ask({"shares " + map_.terminal(t).id,
                     fmt::format("{} returns there too: its drop under load?", map_.terminal(t).id),
                     "All that ends at a bad point suffers with it.", BehindQuestion::By::Reading, t,
                     TestKind::ReturnDrop});
        }
    }

    void aboutRelay(int element, const std::string& part)
    {
        const Element& e = map_.element(element);
        ask({"carries " + e.id, fmt::format("What does {} carry, by clamp, and what is it rated for?", part),
             "Contacts weld or burn where the load takes more than they are made for.", BehindQuestion::By::Told});
        ask({"quench " + e.id,
             fmt::format("Is there a diode or a resistor across the coil of {}, the right way round?", part),
             "Without it the coil's voltage wears the driver that switches it.", BehindQuestion::By::Look});
        fits(part);
    }

    void aboutSource(const Element& e, const std::string& part)
    {
        ask({"cables " + e.id, fmt::format("The drops of both cables of {}, while it works?", part),
             "A new one behind a bad cable does no better.", BehindQuestion::By::Told});
        fits(part);
    }

    void aboutPart(int element, const std::string& part)
    {
        const Element& e = map_.element(element);
        const int t = drivingTerminal(element);
        if (isLoad(e.kind)) {
            ask({"voltage " + e.id, "The battery while the engine runs: is it within its limits?",
                 "Too much voltage burns windings and lamps one after the other.", BehindQuestion::By::Reading, -1,
                 TestKind::Battery});
            ask({"new ohms " + e.id, fmt::format("Ohms of the new {}, before it goes in?", part),
                 "They are the figure to compare with next time; the old part's say nothing of it.",
                 BehindQuestion::By::Told});
        }
        if (isLoad(e.kind) && t >= 0)
            ask({"driver " + e.id, fmt::format("Did the driver behind {} survive it?", map_.terminal(t).id),
                 "A load that was shorted may have taken its driver along.", BehindQuestion::By::Reading, t,
                 TestKind::Level});
        if (isSensor(e.kind))
            ask({"supply " + e.id, fmt::format("The supply and the return of {}, at its own plug?", part),
                 "A sensor that was fed wrongly is not the cause, and the new one reads as wrong.",
                 BehindQuestion::By::Told});
        fits(part);
        ask({"learns " + e.id,
             fmt::format("What does a new {} need: adaptation, zero, bleeding, a stroke taught?", part),
             "A part that was not set looks like a bad one.", BehindQuestion::By::Told});
    }

    void fits(const std::string& part)
    {
        ask({"fits " + part, fmt::format("Does the new {} fit: connector, terminals, variant, ratings?", part),
             "A part for another variant works nearly, which is worse than not.", BehindQuestion::By::Look});
    }

    const Terminal* terminalOf(int contact) const
    {
        const auto at = std::find_if(map_.terminals.begin(), map_.terminals.end(),
                                     [&](const Terminal& t) { return t.contact == contact; });
        return at == map_.terminals.end() ? nullptr : &*at;
    }

    int drivingTerminal(int element) const
    {
        for (const int t : map_.moduleTerminals()) {
            const auto role = map_.terminal(t).role;
            const auto way =
                role == Role::LowSideDrive || role == Role::HighSideDrive ? shownCircuit(map_, t) : std::nullopt;
            const bool on = way && std::any_of(way->begin(), way->end(),
                                               [&](const PathStep& step) { return step.element == element; });
            if (on) return t;
        }
        return -1;
    }

    std::string ratingOf(const Element& e) const
    {
        const double rating = e.value("rating");
        return rating > 0 ? formatQuantity(amperes(rating)) : "not stated";
    }

    static std::string few(const std::vector<std::string>& names)
    {
        constexpr std::size_t most = 5;
        if (names.size() <= most) return listed(names);
        return listed({names.begin(), names.begin() + most}) + fmt::format(" and {} more", names.size() - most);
    }

    // The answer that was told stands before what was read.
    void ask(BehindQuestion q)
    {
        if (!asked_.insert(q.id).second) return;
        const auto told = std::find_if(job_.behind.begin(), job_.behind.end(),
                                       [&](const CauseAnswered& a) { return a.question == q.id; });
        if (told != job_.behind.end())
            q.leftOpen = told->leftOpen, q.answer = told->leftOpen ? "" : told->answer;
        else if (q.test)
            answerByReading(q);
        out_.push_back(std::move(q));
    }

    // Ohms of the part by itself answer as well as those from the module's plug.
    bool answers(const Reading& r, const BehindQuestion& q) const
    {
        const std::string terminal = q.terminal >= 0 ? map_.terminal(q.terminal).id : "";
        if (r.test == *q.test) return terminal.empty() || r.terminal == terminal;
        if (*q.test != TestKind::Resistance || r.test != TestKind::PartResistance) return false;
        if (r.terminal == terminal) return true;
        const int part = partAlone(map_, r);
        const auto way = part >= 0 ? shownCircuit(map_, q.terminal) : std::nullopt;
        return way && std::any_of(way->begin(), way->end(), [&](const PathStep& step) { return step.element == part; });
    }

    void answerByReading(BehindQuestion& q)
    {
        const std::int64_t repair = lastRepairOf(a_.evidence);
        for (std::size_t i = 0; i < a_.evidence.readings.size(); ++i) {
            const Reading& r = a_.evidence.readings[i];
            if (a_.stale[i] || !answers(r, q)) continue;
            // A driver on the old part's open winding carried nothing: only the new part shows it.
            if (*q.test == TestKind::Level && (repair == 0 || r.id < repair)) continue;
            const Judgement& j = a_.judgements[i];
            const bool right = j.verdict == Verdict::Good || (j.verdict == Verdict::Noted && !j.proves.empty());
            if (!isFailure(j.verdict) && !right) continue;
            q.good = right;
            q.answer = fmt::format("{}: {}", figureOf(r), q.good ? "in order" : "not in order");
        }
    }

    const Job& job_;
    const Map& map_;
    const Assessment& a_;
    std::vector<bool> inside_;
    std::set<std::string> asked_;
    std::vector<BehindQuestion> out_;
};

}  // namespace

std::vector<int> locatedParts(const Reasoning& reasoning)
{
    using Kind = Conclusion::Kind;
    const Kind kind = reasoning.conclusion.kind;
    std::vector<int> out;
    if (kind != Kind::Outside && kind != Kind::Inside) return out;
    // Of a fault that is told by its nodes, a short, the part is not known: what is mended then says which wire it was.
    for (const Fault& f : reasoning.suspects.empty() ? std::vector<Fault>{} : reasoning.suspects.front().faults) {
        if (f.element >= 0) out.push_back(f.element);
    }
    return out;
}

std::vector<BehindQuestion> behindQuestions(const Job& job, const Assessment& a, const std::vector<int>& located)
{
    Questions questions(job, a);
    std::set<int> done;
    const auto about = [&](int element) {
        if (element >= 0 && done.insert(element).second) questions.about(element);
    };
    for (const Repair& repair : a.evidence.repairs) {
        for (const std::string& name : repair.ofMap ? std::vector<std::string>{} : repair.elements) {
            about(mendedElement(job.map, name));
        }
    }
    for (const int element : located)
        about(element);
    return questions.take();
}

}  // namespace ilvek
