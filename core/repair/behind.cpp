#include "repair/behind.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "base/text.h"
#include "machine/paths.h"
#include "repair/repeated.h"
#include "suspects/suspects.h"
#include "wording/words.h"

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
            ask({"ohms " + terminal.id, inWords("behind.ohms-hangs", terminal.id, load),
                 inWords("behind.load-takes-too-much"), BehindQuestion::By::Reading, t, TestKind::Resistance});
            ask({"insulation " + terminal.id, inWords("behind.insulation-case-both-plugs", load),
                 inWords("behind.winding-touches-case-now"), BehindQuestion::By::Told});
        }
        ask({"supplies " + map_.module, inWords("behind.every-feed-return-module"),
             inWords("behind.module-starved-lost-ground"), BehindQuestion::By::Told});
        fits(map_.module);
        ask({"learns " + map_.module, inWords("behind.does-new-need-coding", map_.module),
             inWords("behind.part-told-does-work"), BehindQuestion::By::Told});
    }

    std::vector<BehindQuestion> take() { return std::move(out_); }

private:
    void aboutFuse(const Element& e, const std::string& part)
    {
        ask({"blew " + e.id, inWords("behind.what-blew", part), inWords("behind.blown-fuse-symptom-follow"),
             BehindQuestion::By::Told});
        ask({"rating " + e.id, inWords("behind.rating-diagram-says", part, ratingOf(e)),
             inWords("behind.larger-one-lets-loom"), BehindQuestion::By::Look});
    }

    void aboutContact(int element, const std::string& part)
    {
        const Terminal* terminal = terminalOf(element);
        if (!terminal) return;
        const Connector& c = map_.connectors[static_cast<std::size_t>(terminal->connector)];
        ask({"water " + c.id, inWords("behind.water-corrosion-where-does", c.id),
             inWords("behind.contact-cleaned-corrodes-again"), BehindQuestion::By::Look});
        std::vector<std::string> others;
        for (const int t : c.terminals) {
            if (t >= 0 && map_.terminal(t).contact >= 0 && map_.terminal(t).contact != element)
                others.push_back(map_.terminal(t).id);
        }
        if (!others.empty())
            ask({"neighbours " + c.id, inWords("behind.how-do-neighbours-look", part, few(others)),
                 inWords("behind.reached-one-contact-reached"), BehindQuestion::By::Look});
        ask({"grip " + terminal->id, inWords("behind.does-socket-still-hold", part),
             inWords("behind.socket-spread-probe-heat"), BehindQuestion::By::Look});
    }

    void aboutWire(int element, const std::string& part)
    {
        const Element& e = map_.element(element);
        const std::string where = e.place.empty() ? "" : ", " + e.place;
        ask({"rubs " + e.id, inWords("behind.rubs-pulls-bends", part, where),
             inWords("behind.wire-breaks-where-something"), BehindQuestion::By::Look});
        std::vector<std::string> beside;
        for (std::size_t i = 0; i < map_.elements.size() && !e.loom.empty(); ++i) {
            if (static_cast<int>(i) != element && map_.elements[i].loom == e.loom)
                beside.push_back(partWords(map_, static_cast<int>(i)));
        }
        if (!beside.empty())
            ask({"loom " + e.loom, inWords("behind.else-loom-suffered-same", few(beside)),
                 inWords("behind.chafed-one-wire-chafes"), BehindQuestion::By::Look});
    }

    void aboutJoint(const Element& e, const std::string& part)
    {
        ask({"metal " + e.id, inWords("behind.clean-metal-under-kept", part), inWords("behind.paint-rust-under-lug"),
             BehindQuestion::By::Look});
        for (const int t : map_.moduleTerminals()) {
            if (map_.terminal(t).role == Role::Return && passesThrough(map_, t, map_.elementIndex(e.id)))
                ask({"shares " + map_.terminal(t).id, inWords("behind.returns-too-drop-under", map_.terminal(t).id),
                     inWords("behind.all-ends-bad-point"), BehindQuestion::By::Reading, t, TestKind::ReturnDrop});
        }
    }

    void aboutRelay(int element, const std::string& part)
    {
        const Element& e = map_.element(element);
        ask({"carries " + e.id, inWords("behind.does-carry-clamp-rated", part),
             inWords("behind.contacts-weld-burn-where"), BehindQuestion::By::Told});
        ask({"quench " + e.id, inWords("behind.diode-resistor-across-coil", part),
             inWords("behind.without-coil-voltage-wears"), BehindQuestion::By::Look});
        fits(part);
    }

    void aboutSource(const Element& e, const std::string& part)
    {
        ask({"cables " + e.id, inWords("behind.drops-both-cables-while", part), inWords("behind.new-one-behind-bad"),
             BehindQuestion::By::Told});
        fits(part);
    }

    void aboutPart(int element, const std::string& part)
    {
        const Element& e = map_.element(element);
        const int t = drivingTerminal(element);
        if (isLoad(e.kind)) {
            ask({"voltage " + e.id, inWords("behind.battery-while-engine-runs"),
                 inWords("behind.too-much-voltage-burns"), BehindQuestion::By::Reading, -1, TestKind::Battery});
            ask({inWords("behind.new-ohms") + e.id, inWords("behind.ohms-new-before-goes", part),
                 inWords("behind.they-figure-compare-next"), BehindQuestion::By::Told});
        }
        if (isLoad(e.kind) && t >= 0)
            ask({"driver " + e.id, inWords("behind.did-driver-behind-survive", map_.terminal(t).id),
                 inWords("behind.load-shorted-may-have"), BehindQuestion::By::Reading, t, TestKind::Level});
        if (isSensor(e.kind))
            ask({"supply " + e.id, inWords("behind.supply-return-own-plug", part),
                 inWords("behind.sensor-fed-wrongly-cause"), BehindQuestion::By::Told});
        fits(part);
        ask({"learns " + e.id, inWords("behind.does-new-need-adaptation", part), inWords("behind.part-set-looks-like"),
             BehindQuestion::By::Told});
    }

    void fits(const std::string& part)
    {
        ask({"fits " + part, inWords("behind.does-new-fit-connector", part),
             inWords("behind.part-another-variant-works"), BehindQuestion::By::Look});
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
        return rating > 0 ? formatQuantity(amperes(rating)) : inWords("behind.not-stated");
    }

    static std::string few(const std::vector<std::string>& names)
    {
        constexpr std::size_t most = 5;
        if (names.size() <= most) return listed(names);
        return listed({names.begin(), names.begin() + most}) + inWords("behind.and-more", names.size() - most);
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
            q.answer = fmt::format("{}: {}", figureOf(r),
                                   q.good ? inWords("behind.in-order") : inWords("behind.not-in-order"));
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
