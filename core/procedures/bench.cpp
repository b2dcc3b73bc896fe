// A part taken out (W29): its ohms at its temperature, its junction both ways, its insulation to its case, a new one's
// figure beside it. A bench shows that a part is dead, and never that it is good.
#include <algorithm>
#include <cmath>

#include "procedures/flow.h"
#include "proving/part_ohms.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

constexpr double farLow = 0.7, farHigh = 1.4;    // of its ohms at its temperature, where they were stated
constexpr double anyLow = 0.6, anyHigh = 1.5;    // at any temperature of a machine
constexpr double newLow = 0.85, newHigh = 1.15;  // of a new one's
constexpr double togetherWithin = 0.3;           // of ohms by meter and by volts and amperes: contact and warmth

bool isBenchPart(const Element& e)
{
    switch (e.kind) {
        case ElementKind::Winding:
        case ElementKind::Resistor:
        case ElementKind::Diode:
        case ElementKind::Lamp:
        case ElementKind::Motor:
        case ElementKind::Relay:
            return e.reach_s && e.place != "inside the module" && !e.name.starts_with("other nodes");
        default:
            return false;
    }
}

class Bench {
public:
    Bench(const Bay& bay, const std::string& subject)
        : flow_(bay, "bench", subject), part_(bay.map.elementIndex(subject)), element_(bay.map.element(part_))
    {
    }

    Procedure follow()
    {
        flow_.caution({"bench.caution", of()});
        if (element_.kind == ElementKind::Diode)
            junction();
        else
            winding();
        if (ohms_ && element_.kind != ElementKind::Lamp && element_.kind != ElementKind::Motor) current();
        insulation();
        newOne();
        if (isImpossible_)
            flow_.end(Ending::Kind::Open, {"bench.end.impossible", of()}, {element_.id});
        else if (isDead_)
            flow_.end(Ending::Kind::Found, {"bench.end.dead", of()}, {element_.id});
        else if (!flow_.hasEnded() && allDone_)
            flow_.end(Ending::Kind::Open, {"bench.end.whole", of()}, {element_.id});
        return flow_.done();
    }

private:
    using Named = std::vector<std::pair<std::string, std::string>>;
    Named of() const { return {{"part", nameOf(flow_.map(), part_)}}; }
    Named with(const std::string& figure) const
    {
        auto out = of();
        out.emplace_back("figure", figure);
        return out;
    }

    int end(std::size_t which) const
    {
        return element_.nodes[element_.kind == ElementKind::Relay ? which + 2 : which];  // of its coil
    }

    Step alone(bool turned = false) const
    {
        Step step = placed(flow_.map(), end(turned ? 1 : 0), end(turned ? 0 : 1), 0);
        step.removed = {element_.id};
        return step;
    }

    // Its ohms as stated, at the temperature that was told. R = R₂₀ (1 + α (T − 20 °C)), copper
    std::optional<double> should_ohm()
    {
        const char* key = element_.kind == ElementKind::Relay ? "coil" : "resistance";
        if (element_.assumed || !element_.values.contains(key) || element_.knownOf(key) != Known::Stated)
            return std::nullopt;
        const Statement* told = flow_.told("temperature");
        const auto celsius = told ? parseQuantity(told->found, Unit::Celsius) : fail("", "");
        const bool copper = element_.kind == ElementKind::Winding || element_.kind == ElementKind::Relay;
        const double rise = celsius && copper ? trade::copperPerKelvin * (celsius->value - 20) : 0;
        return element_.value(key) * (1 + rise);
    }

    void winding()
    {
        if (!flow_.statement("temperature", {"bench.temperature", of()})) allDone_ = false;
        const Seen seen = flow_.ohms("ohms", {"bench.ohms", of()}, alone());
        if (!seen) return void(allDone_ = false);
        if (seen.reading->value.overLimit) {
            isDead_ = true;
            return flow_.fails({"bench.ohms.open", with(seen.figure())});
        }
        ohms_ = partOhms(*seen.reading);
        const auto should = should_ohm();
        if (element_.kind == ElementKind::Lamp || element_.kind == ElementKind::Motor || !should)
            return flow_.says({"bench.ohms.says", with(seen.figure())});
        Named says = with(seen.figure());
        says.emplace_back("should", ohmsOfText(*should));
        const double share = *ohms_ / *should;
        // Nobody said how warm it is: then no temperature of a machine may make it dead.
        const Statement* told = flow_.told("temperature");
        const bool known = told && parseQuantity(told->found, Unit::Celsius);
        isDead_ = isDead_ || share < (known ? farLow : anyLow) || share > (known ? farHigh : anyHigh);
        isDead_ ? flow_.fails({"bench.ohms.off", says}) : flow_.says({"bench.ohms.right", says});
    }

    // A small battery through a fuse shows what a meter's microamperes cannot. R = U / I (T8)
    void current()
    {
        const Statement* told = flow_.statement("current", {"bench.current", of()});
        if (!told) return void(allDone_ = false);
        const auto v = told->found.find('V');
        if (v == std::string::npos) return;
        const auto U = parseQuantity(told->found.substr(0, v + 1), Unit::Volt);
        const auto rest = told->found.find_first_of("0123456789.", v);
        const auto I = rest == std::string::npos ? fail("", "") : parseQuantity(told->found.substr(rest), Unit::Ampere);
        if (!U || !I || I->value <= 0) return flow_.says({"bench.current.unread", with(told->found)});
        const double R = U->value / I->value;
        Named says = with(told->found);
        says.emplace_back("ohms", ohmsOfText(R));
        says.emplace_back("was", ohmsOfText(*ohms_));
        isImpossible_ = R < (1 - togetherWithin) * *ohms_ || R > (1 + togetherWithin) * *ohms_;
        const Fact fact{isImpossible_ ? "bench.current.impossible" : "bench.current.together", says};
        isImpossible_ ? flow_.undecided(fact) : flow_.says(fact);
    }

    void junction()
    {
        std::array<Seen, 2> ways;
        for (const bool turned : {false, true}) {
            const Step step = alone(turned);
            Seen seen = flow_.latest([&](const Reading& r) {
                return r.test == TestKind::Junction && r.red == step.red && r.black == step.black &&
                       r.removed == step.removed;
            });
            Stage& stage = flow_.stage(turned ? "back" : "forward", {turned ? "bench.back" : "bench.forward", of()},
                                       Stage::State::Shown);
            if (seen)
                stage.entries = {seen.reading->id};
            else
                flow_.ask(stage, {Asked::Kind::Reading, step, FigureKind::DiodeVolts, {}, {}, {}});
            ways[turned ? 1 : 0] = seen;
        }
        if (!ways[0] || !ways[1]) return void(allDone_ = false);
        const auto passes = [](const Seen& s) {
            return !s.reading->value.overLimit && s.volts() >= trade::junctionFrom_V &&
                   s.volts() <= trade::junctionTo_V;
        };
        const auto blocks = [](const Seen& s) { return s.reading->value.overLimit; };
        const bool right = (passes(ways[0]) && blocks(ways[1])) || (passes(ways[1]) && blocks(ways[0]));
        isDead_ = !right;
        right ? flow_.says({"bench.junction.right", of()}) : flow_.fails({"bench.junction.wrong", of()});
    }

    void insulation()
    {
        const Statement* told = flow_.statement("case", {"bench.case", of()});
        if (!told) return void(allDone_ = false);
        const auto figure = parseQuantity(told->found, Unit::Ohm);
        if (!figure || figure->overLimit) return;
        if (figure->value >= trade::insulated_ohm) return flow_.says({"bench.case.right", with(told->found)});
        isDead_ = true;
        flow_.fails({"bench.case.leaks", with(told->found)});
    }

    void newOne()
    {
        const Statement* told = flow_.statement("new", {"bench.new", of()});
        if (!told) return void(allDone_ = false);
        const auto figure = parseQuantity(told->found, Unit::Ohm);
        if (!figure || figure->overLimit || !ohms_ || figure->value <= 0) return;
        const double share = *ohms_ / figure->value;
        const bool alike = share > newLow && share < newHigh;
        flow_.says({alike ? "bench.new.alike" : "bench.new.differs", with(told->found)});
    }

    Flow flow_;
    int part_;
    const Element& element_;
    bool isDead_ = false, isImpossible_ = false, allDone_ = true;
    std::optional<double> ohms_;
};

}  // namespace

std::vector<std::string> benchPartsOf(const Map& map)
{
    std::vector<std::string> out;
    for (const Element& e : map.elements) {
        if (isBenchPart(e) && !isElectronic(map, e)) out.push_back(e.id);
    }
    return out;
}

Procedure partOnTheBench(const Bay& bay, const std::string& subject)
{
    return Bench(bay, subject).follow();
}

}  // namespace ilvek
