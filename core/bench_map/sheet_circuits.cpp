#include "bench_map/sheet_circuits.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "base/text.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

using Json = nlohmann::ordered_json;
using Kind = RoutePlace::Kind;

// The way over which a part is grounded: that of its other wire, where that ends at a ground that has a name.
std::vector<RoutePlace> groundWayOf(const SheetRow& row)
{
    const auto named = [](const std::vector<RoutePlace>& way) {
        return !way.empty() && way.back().kind == Kind::Ground && way.back().id != "G";
    };
    if (named(row.otherWire)) return row.otherWire;
    return named(row.route) ? std::vector{row.route.back()} : std::vector<RoutePlace>{};
}

// What the part's end of a wire is called.
constexpr const char *feedEnd = ".fed", *farEnd = ".far";

FarEnd called(const std::string& name)
{
    FarEnd out;
    out.name = name, out.isNamed = true;
    return out;
}

}  // namespace

void SheetCircuits::add(const SheetRow& row, Json& cavity)
{
    wiring_.carry(row.row.circuit, row.colourWords());
    if (const auto section = row.section_mm2()) {
        doc_.stateSection(row.out(), *section);
        // On its way over in-line connectors it is the same wire.
        for (const RoutePlace& place : row.route) {
            if (place.kind != Kind::Connector) break;
            doc_.stateSection(place.id + ".a", *section);
            doc_.stateSection(place.id + ".b", *section);
        }
    }
    switch (groupOf(row.role)) {
        case Group::Supplies:
            supply(row, cavity);
            break;
        case Group::Returns:
            powerReturn(row, cavity);
            break;
        case Group::References:
            row.role == Role::Reference ? reference(row, cavity) : referenceReturn(row, cavity);
            break;
        case Group::Inputs:
            input(row, cavity);
            break;
        case Group::Drives:
            drive(row);
            break;
        case Group::Networks:
            bus(row);
            break;
        case Group::Empty:
            break;
    }
    if (row.row.ownReturn.empty()) return;
    const std::string own = sheet_.terminal(row.row.ownReturn);
    if (own.empty())
        doc_.complain({itemOf(row.row, "own return"), "“" + row.row.ownReturn + "” is no cavity of this sheet"});
    else
        cavity["return"] = own;
}

void SheetCircuits::joint(const std::string& id, const std::string& a, const std::string& b)
{
    const std::string at = id.substr(id.find(' ') + 1);
    doc_.addWithin({id,
                    "joint",
                    {a, b},
                    {{"name", doc_.module() + " inside " + at},
                     {"resistance", assumedFigure(trade::groundPoint_ohm, Unit::Ohm)}}});
}

void SheetCircuits::groundModule()
{
    if (sheet_.firstReturn.empty() && doc_.hasNode(doc_.ground()))
        joint("no-return", doc_.ground(), doc_.battery() + ".-");
}

void SheetCircuits::supply(const SheetRow& row, Json& cavity)
{
    const double own_A = sheet_.ownCurrent_A(row);
    const auto pins = sheet_.pinsOfFuse.find(fuseOf(row));
    const double behind_A = own_A * (pins == sheet_.pinsOfFuse.end() ? 1 : std::max(1, pins->second));
    wiring_.conductor(wiring_.feed(row.route, row.bus(), behind_A), row.out(), own_A);
    SheetElement port{"port " + row.id(),
                      "supply port",
                      {row.in(), doc_.ground()},
                      {{"name", doc_.module() + " behind " + row.id()},
                       {"current", assumedFigure(sheet_.standing_A(row), Unit::Ampere)},
                       {"brown_out", assumedFigure(0.5 * doc_.systemVoltage_V(), Unit::Volt)}}};
    if (row.isCurrentMeasured()) {
        port.stated = true;
        port.values.emplace_back("tolerance",
                                 assumedFigure(100 * trade::assumed::measuredCurrentWithin, Unit::Percent));
    }
    doc_.addWithin(std::move(port));
    if (!sheet_.firstReturn.empty()) cavity["return"] = sheet_.firstReturn;
    cavity["current"] = assumedFigure(own_A, Unit::Ampere);
    cavity["current_source"] = "assumed";
}

void SheetCircuits::powerReturn(const SheetRow& row, Json& cavity)
{
    const double own_A = row.current_A().value_or(
        std::max(trade::assumed::leastCurrent_A, sheet_.total_A / std::max(1, sheet_.returns)));
    wiring_.toGround(row.out(), row.route,
                     SheetWiring::sectionFor(trade::assumed::wireLength_m, own_A, trade::assumed::lossOfReturn_V));
    joint("tie " + row.id(), row.in(), doc_.ground());
    cavity["current"] = assumedFigure(own_A, Unit::Ampere);
    cavity["current_source"] = "assumed";
}

// What the module lives on, inside it.
std::string SheetCircuits::fed()
{
    return sheet_.firstSupply.empty() ? doc_.battery() + ".+" : sheet_.firstSupply + ".b";
}

std::string SheetCircuits::regulated(double level_V)
{
    const std::string level = fmt::format("{:.3g}", level_V);
    const bool usual = level == "5";
    const std::string out = doc_.module() + "." + level + "V";
    doc_.addWithin({usual ? "regulator" : "regulator " + level + " V",
                    "regulator",
                    {fed(), out, doc_.ground()},
                    {{"name", fmt::format("the {} V regulator of {}", level, doc_.module())},
                     {"voltage", level + " V"},
                     {"resistance", assumedFigure(trade::regulatorInside_ohm, Unit::Ohm)},
                     {"limit", assumedFigure(trade::regulatorLimit_A, Unit::Ampere)},
                     {"dropout", assumedFigure(trade::regulatorDropout_V, Unit::Volt)}}});
    return out;
}

// Where the far side of a sensor returns to: as the sheet says, else the sensors' common return.
std::string SheetCircuits::farReturn(const SheetRow& row)
{
    if (const std::string terminal = sheet_.returnOf(row); !terminal.empty()) return sheet_.endOf(terminal);
    if (row.isFedSwitch()) return wiring_.feed(row.otherWire, Bus::Battery, trade::assumed::loadCurrent_A);
    return wiring_.groundedOver(row.otherWire);
}

// A wire of the part on a row from where it is fed or grounded; the part's end of it.
std::string SheetCircuits::branch(const SheetRow& row, const std::string& from, const char* end)
{
    const std::string own = row.id() + end;
    wiring_.conductor(from, own, loadCurrent_A(row, doc_.systemVoltage_V()));
    return own;
}

// The same, but a terminal's wire that serves this part alone ends at the part itself.
std::string SheetCircuits::ownEnd(const SheetRow& row, const std::string& from, const char* end)
{
    const std::string terminal = from.substr(0, from.rfind('.'));
    const bool isAlone = sheet_.withEnd.contains(terminal) && !sheet_.isShared(terminal);
    return isAlone ? from : branch(row, from, end);
}

// The terminal against which a signal is read: that its part returns to; of one that is grounded the module's ground.
std::string SheetCircuits::ownReturnOf(const SheetRow& row) const
{
    const std::string named = sheet_.terminal(row.far.otherWire);
    if (!named.empty()) return named;
    const bool grounded = !row.otherWire.empty() && row.otherWire.back().kind == Kind::Ground;
    return grounded || sheet_.firstReferenceReturn.empty() ? sheet_.firstReturn : sheet_.firstReferenceReturn;
}

// From the pin over its in-line connectors to the part at its end.
void SheetCircuits::wireToEnd(const SheetRow& row)
{
    std::vector<RoutePlace> way = row.route;
    const std::string last = wiring_.outwards(row.out(), way, trade::assumed::loadCurrent_A);
    wiring_.conductor(last, row.end(), trade::assumed::loadCurrent_A);
}

PartBasis SheetCircuits::basisOf(const SheetRow& row, double resistance_ohm) const
{
    PartBasis basis{"load " + row.id(), row.partName(), resistance_ohm, trade::assumed::loadCurrent_A, {},
                    doc_.states()};
    if (row.role == Role::SwitchInput) basis.closedIn = {row.operatedIn()};
    return basis;
}

void SheetCircuits::reference(const SheetRow& row, Json& cavity)
{
    joint("tie " + row.id(), row.in(), regulated(row.reference_V()));
    wireToEnd(row);
    if (!sheet_.isSensorOf(row)) {
        const FarEnd sensors = called(row.far.isNamed ? row.row.otherEnd : "sensors on " + row.id());
        addPart(doc_, sensors, basisOf(row, 1000), row.end(), farReturn(row));
    }
    if (!sheet_.firstReferenceReturn.empty()) cavity["return"] = sheet_.firstReferenceReturn;
}

void SheetCircuits::referenceReturn(const SheetRow& row, Json& cavity)
{
    if (!sheet_.firstReturn.empty()) cavity["return"] = sheet_.firstReturn;
    joint("tie " + row.id(), row.in(), doc_.ground());
    wireToEnd(row);
    // What hangs between the reference and this return stands with the reference.
    if (sheet_.isSensorOf(row) || (row.id() == sheet_.firstReferenceReturn && sheet_.referenceFeedsUnlisted())) return;
    const FarEnd sensors = called("sensors on this return");
    PartBasis basis = basisOf(row, 1000);
    basis.id = "between " + row.id();
    const std::string& fed = sheet_.firstReference;
    addPart(doc_, sensors, basis, row.end(), fed.empty() ? wiring_.groundPoint("") : sheet_.endOf(fed));
}

// What a signal is made of: the reference of its sensor, or the sheet's; where it has none, the unit that sends it
// lives on the key, and what an alternator tells on its own output.
std::string SheetCircuits::sentFrom(const SheetRow& row)
{
    if (const std::string terminal = sheet_.feedOf(row); !terminal.empty()) return sheet_.endOf(terminal);
    if (!row.supplyWay.empty()) return wiring_.feed(row.supplyWay, Bus::Key, trade::assumed::loadCurrent_A);
    if (!isOfAlternator(row)) return wiring_.keyBus();
    const auto listed = sheet_.alternators.find(lowered(row.far.name));
    return (listed != sheet_.alternators.end() ? listed->second : doc_.battery()) + ".+";
}

// Where a sheet says what its signal stands at with the key on, and nothing else of it, a sensor stands there; else in
// the middle of its span: nobody knows where.
SheetCircuits::Output SheetCircuits::outputOf(const SheetRow& row, const std::string& from) const
{
    constexpr double least = 0.002, most = 0.98, leastWithin = 0.05;
    const auto reference = sheet_.references_V.find(from.substr(0, from.rfind('.')));
    const bool byReference = reference != sheet_.references_V.end();
    const auto figures = parseExpectedFigures(row.row.expected);
    if (isOfAlternator(row) || !figures || figures->size() != 1) return {};
    const ExpectedFigure& e = figures->front();
    const std::string state = lowered(e.state);
    const bool moving = state.find("crank") != std::string::npos || state.find("running") != std::string::npos ||
                        state.find("off") != std::string::npos || state.find("idl") != std::string::npos;
    if (e.unit != Unit::Volt || !e.low || !e.high || moving) return {};
    const double mean_V = 0.5 * (*e.low + *e.high);
    const double fed_V = byReference ? reference->second : doc_.systemVoltage_V();
    return {std::clamp(mean_V / fed_V, least, most),
            std::max(leastWithin, 0.25 * (*e.high - *e.low) / std::max(0.1, mean_V))};
}

// The plug of a sensor holds its feed and its return too, also where only its signal's cavity is told. `node` is where
// either comes from: of a terminal of the module its wire goes on over that plug, unless it came over it already.
std::string SheetCircuits::overPlug(const SheetRow& row, const std::string& node, const char* end)
{
    const std::string plug = row.route.empty() ? "" : plugOf(row.route.back());
    const std::string terminal = node.substr(0, node.rfind('.'));
    const auto circuit = sheet_.circuitOf.find(terminal);
    if (plug.empty() || circuit == sheet_.circuitOf.end()) return ownEnd(row, node, end);
    const auto plugs = sheet_.plugsOf.find(terminal);
    if (plugs != sheet_.plugsOf.end() && plugs->second.contains(plug)) return ownEnd(row, node, end);
    const std::string cavity = plug + "-?" + terminal;
    doc_.inlineCavity(cavity, circuit->second, "");
    wiring_.conductor(node, cavity + ".a", trade::assumed::leastCurrent_A);
    return cavity + ".b";
}

void SheetCircuits::sensor(const SheetRow& row)
{
    const std::string from = sentFrom(row);
    const Output output = outputOf(row, from);
    SheetElement sensor{
        "load " + row.id(),
        "sensor",
        {isOfAlternator(row) ? from : overPlug(row, from, feedEnd), row.end(), overPlug(row, farReturn(row), farEnd)},
        {{"resistance", assumedFigure(trade::sensorTrack_ohm, Unit::Ohm)},
         {"output", assumedFigure(100 * output.share, Unit::Percent)},
         {"output_resistance", assumedFigure(trade::sensorOutput_ohm, Unit::Ohm)},
         {"name", row.partName()}}};
    if (output.within) {
        sensor.values.emplace_back("tolerance", assumedFigure(100 * *output.within, Unit::Percent));
        sensor.known = {{"output", Known::Stated}};
    }
    doc_.add(std::move(sensor));
}

// A sender is read best from about its own ohms; where its level is told they are what makes it. Rp = R (U / V − 1)
double SheetCircuits::pullUpOf(const SheetRow& row) const
{
    constexpr double least_ohm = 100, rail_V = trade::reference_V, nearRail_V = 0.2;
    if (!row.far.isSender) return trade::pullUp_ohm;
    const double own_ohm = senderOhms(row.far).middle;
    const auto figures = parseExpectedFigures(row.row.expected);
    if (!figures || figures->size() != 1 || figures->front().unit != Unit::Volt) return std::max(least_ohm, own_ohm);
    const double told_V = 0.5 * (figures->front().low.value_or(0) + figures->front().high.value_or(rail_V));
    return std::max(least_ohm, own_ohm * (rail_V / std::clamp(told_V, nearRail_V, rail_V - nearRail_V) - 1));
}

void SheetCircuits::input(const SheetRow& row, Json& cavity)
{
    doc_.addWithin(
        {"input " + row.id(),
         "input",
         {row.in(), doc_.ground()},
         {{"name", "the input behind " + row.id()}, {"resistance", assumedFigure(trade::inputInside_ohm, Unit::Ohm)}}});
    // A switch that brings a feed needs no pull-up, nor does a sensor that has one.
    const bool pulledUp = row.role == Role::SwitchInput || row.role == Role::ThermistorInput ||
                          row.role == Role::HallInput || row.far.isSender;
    if (pulledUp && !sheet_.bringsFeed(row) && !row.isSensorSignal())
        doc_.addWithin(
            {"pull-up " + row.id(),
             "pull-up",
             {regulated(), row.in()},
             {{"name", "the pull-up behind " + row.id()}, {"resistance", assumedFigure(pullUpOf(row), Unit::Ohm)}}});
    wireToEnd(row);
    if (row.isSensorSignal())
        sensor(row);
    else
        addPart(doc_, row.far, basisOf(row, trade::pullUp_ohm), row.end(), ownEnd(row, farReturn(row), farEnd));
    const std::string own = ownReturnOf(row);
    if (!own.empty()) cavity["return"] = own;
}

// What a driver is made for leaves it most of the supply.
double SheetCircuits::driverOf(const SheetRow& row) const
{
    const double v = doc_.systemVoltage_V();
    const auto back = sheet_.comesBack.find(row.id());
    const auto takenBack_A = back == sheet_.comesBack.end() ? std::nullopt : back->second.largest_A;
    const auto own_A = statedCurrent_A(row.far, v);
    return std::min(trade::driver_ohm,
                    trade::driverKeeps * v / (own_A ? *own_A : takenBack_A.value_or(trade::assumed::loadCurrent_A)));
}

void SheetCircuits::drive(const SheetRow& row)
{
    // What comes back to the module is fed by it.
    const bool comesBack = sheet_.driveReturns.contains(sheet_.terminal(row.far.otherWire));
    const bool high = row.isHighSide() || (row.role == Role::DutyDrive && comesBack);
    const std::string& from = sheet_.supplyBehind(row);
    const std::string supplyNode = from.empty() ? doc_.battery() + ".+" : from + ".b";
    SheetElement driver;
    driver.id = "driver " + row.id();
    driver.kind = high ? "high-side driver" : "low-side driver";
    driver.nodes = high ? std::vector{supplyNode, row.in()} : std::vector{row.in(), doc_.ground()};
    driver.values = {{"name", "the driver behind " + row.id()},
                     {"resistance", assumedFigure(driverOf(row), Unit::Ohm)}};
    driver.hasStates = true;
    driver.isFeedAssumed = high && row.fedBy.empty() && sheet_.mainSupplies > 1;
    // One that holds a supply's relay is on with the key; the others are off until commanded.
    const auto back = sheet_.comesBack.find(row.id());
    if (row.holdsFeed)
        driver.in = wiring_.onStates();
    else if (row.role == Role::DriveReturn && back != sheet_.comesBack.end())
        driver.in = back->second.in;
    else if (doc_.hasState(row.commandedIn())) {
        driver.in = {row.commandedIn()};
        if (const auto beside = sheet_.together.find(row.id()); beside != sheet_.together.end())
            driver.in.insert(driver.in.end(), beside->second.begin(), beside->second.end());
    }
    doc_.addWithin(std::move(driver));
    const auto bridge = sheet_.bridges.find(row.id());
    if (bridge != sheet_.bridges.end()) takeBack(row, bridge->second);
    if (wiring_.drivesCoil(row.relay, row.out()))
        wiring_.relayContact(row.relay);
    else
        driveLoad(row, high);
}

// While the other end of its part is fed, this one takes it to ground.
void SheetCircuits::takeBack(const SheetRow& row, const SheetOverview::Bridge& bridge)
{
    const std::string fed = lowered(bridge.other) + "-commanded";
    SheetElement low{
        "low side " + row.id(),
        "low-side driver",
        {row.in(), doc_.ground()},
        {{"name", "the low side behind " + row.id()}, {"resistance", assumedFigure(driverOf(row), Unit::Ohm)}}};
    low.hasStates = true;
    if (doc_.hasState(fed)) low.in = {fed};
    doc_.addWithin(std::move(low));
}

// A current that was measured tells the part at the far end where the sheet gives no figure of it.
FarEnd SheetCircuits::withCurrent(const SheetRow& row) const
{
    FarEnd far = row.far;
    if (!row.isCurrentMeasured() || far.ohms || far.amperes || far.watts) return far;
    const double own_A = *row.current_A(), v = doc_.systemVoltage_V();
    const auto around = [](double figure) {
        constexpr double within = 2 * trade::assumed::measuredCurrentWithin;
        return StatedFigure{(1 - within) * figure, (1 + within) * figure};
    };
    if (far.kind == FarEnd::Kind::Motor || far.kind == FarEnd::Kind::Module)
        far.amperes = around(own_A);
    else if (far.kind == FarEnd::Kind::Lamp)
        far.watts = around(v * own_A);
    else
        far.ohms = around(v / own_A);
    return far;
}

void SheetCircuits::driveLoad(const SheetRow& row, bool high)
{
    std::vector<RoutePlace> way = row.route;
    const double own_A = loadCurrent_A(row, doc_.systemVoltage_V());
    const std::string last = wiring_.outwards(row.out(), way, own_A);
    wiring_.conductor(last, row.end(), own_A);
    const std::string terminal = sheet_.terminal(row.far.otherWire);
    const auto bridge = sheet_.bridges.find(row.id());
    // The part between two drives is that of one row; the other one brings its wire to it.
    if (bridge != sheet_.bridges.end() && bridge->second.part != "load " + row.id()) return;
    // So does the terminal that a part of another row comes back to.
    if (row.role == Role::DriveReturn && sheet_.comesBack.contains(row.id())) return;
    std::string far;
    if (bridge != sheet_.bridges.end())
        far = bridge->second.other + ".end";
    else if (!terminal.empty())
        far = ownEnd(row, sheet_.endOf(terminal), farEnd);
    else if (high || row.role == Role::DriveReturn)
        far = branch(row, wiring_.groundedOver(groundWayOf(row)), farEnd);
    else
        far = branch(row, wiring_.feed(row.otherWire.empty() ? way : row.otherWire, Bus::Unknown, own_A), farEnd);
    const PartBasis basis = basisOf(row, doc_.systemVoltage_V() / trade::assumed::loadCurrent_A);
    const bool isPlusAway = !high && (row.far.kind == FarEnd::Kind::Motor || row.far.kind == FarEnd::Kind::Module);
    const FarEnd part = withCurrent(row);
    if (isPlusAway)
        addPart(doc_, part, basis, far, row.end());
    else
        addPart(doc_, part, basis, row.end(), far);
}

void SheetCircuits::bus(const SheetRow& row)
{
    doc_.addWithin({"input " + row.id(),
                    "input",
                    {row.in(), doc_.ground()},
                    {{"name", "the input behind " + row.id()},
                     {"resistance", assumedFigure(trade::transceiver_ohm, Unit::Ohm)},
                     {"tolerance", "10 %"}}});
    wireToEnd(row);
    const bool pair = row.role == Role::DifferentialBus;
    // The nodes of a line of its own that are listed stand for themselves.
    if (row.far.isNamed || !sheet_.listsNodesOfLine()) {
        const FarEnd other = called(row.far.isNamed ? row.row.otherEnd : "other nodes on " + row.id());
        addPart(doc_, other, basisOf(row, trade::transceiver_ohm), row.end(), wiring_.groundPoint(""));
    }
    // Awake a line of a pair stands about half of the module's own 5 V, whatever talks on it; a line of its own is
    // pulled up to the supply.
    doc_.addWithin({"bias " + row.id(),
                    "pull-up",
                    {pair ? regulated() : fed(), row.in()},
                    {{"name", "the bias behind " + row.id()},
                     {"resistance", assumedFigure(pair ? trade::bias_ohm : trade::leads_ohm, Unit::Ohm)},
                     {"tolerance", "10 %"}}});
    if (pair)
        busLines_.push_back(row.end());
    else
        singleWire_ = row.end();
}

void SheetCircuits::addBusNode(const SheetRow& row)
{
    if (busLines_.size() >= 2)
        addPairNode(row);
    else if (!singleWire_.empty())
        addLineNode(row);
}

void SheetCircuits::addLineNode(const SheetRow& row)
{
    PartBasis basis = basisOf(row, trade::listens_ohm);
    basis.id = row.row.circuit;
    FarEnd node = called(row.row.circuit);
    node.ohms = row.far.ohms;
    node.plug = plugOfPart(row);
    addPart(doc_, node, basis, singleWire_, wiring_.groundPoint(""));
}

void SheetCircuits::addPairNode(const SheetRow& row)
{
    const std::string& name = row.row.circuit;
    const auto words = loweredWords(row.row.otherEnd);
    const bool isTold = std::ranges::any_of(words, [](const std::string& w) { return w.starts_with("terminat"); });
    const bool isDenied =
        std::ranges::any_of(words, [](const std::string& w) { return w == "no" || w == "not" || w == "without"; });
    const bool terminates = row.far.ohms || (isTold && !isDenied);
    FarEnd node = called(terminates ? "bus termination in " + name : name);
    node.plug = plugOfPart(row);
    node.ohms = row.far.ohms ? row.far.ohms
                : terminates ? std::optional(StatedFigure{trade::termination_ohm, trade::termination_ohm})
                             : std::nullopt;
    PartBasis basis = basisOf(row, trade::node_ohm);
    basis.id = name + (terminates ? " termination" : " node");
    addPart(doc_, node, basis, busLines_[0], busLines_[1]);
}

void SheetCircuits::addLoose(const SheetRow& row)
{
    wiring_.carry(row.row.circuit, "");
    if (row.row.loose == "consumer") consumer(row);
    if (row.row.loose == "source") source(row);
}

// What draws from the same fuse, splice or relay.
void SheetCircuits::consumer(const SheetRow& row)
{
    const std::string& name = row.row.circuit;
    FarEnd far = row.far;
    if (const auto stated = row.current_A()) far.amperes = StatedFigure{*stated, *stated};
    if (far.amperes && far.kind == FarEnd::Kind::Unknown) far.kind = FarEnd::Kind::Module;
    far.name = name, far.isNamed = true;
    const std::string plus = name + ".+";
    const bool byRelay = std::ranges::any_of(row.route, [](const RoutePlace& p) { return p.kind == Kind::Relay; });
    const bool cranks = isStarter(row.row) && !byRelay;
    const double part_A = loadCurrent_A(row, doc_.systemVoltage_V());
    const double own_A = cranks ? std::max(part_A, doc_.starterCurrent_A()) : part_A;
    const std::string contact = name + " contact", at = cranks ? contact + ".in" : plus;
    wiring_.conductor(wiring_.feed(row.route, Bus::Unknown, own_A), at, own_A);
    if (cranks) doc_.addStarterContact(contact, at, plus);
    PartBasis basis =
        basisOf(row, doc_.systemVoltage_V() / (cranks ? doc_.starterCurrent_A() : trade::assumed::loadCurrent_A));
    if (cranks) basis.current_A = doc_.starterCurrent_A();
    basis.id = name;
    const std::string minus = name + ".-";
    wiring_.conductor(wiring_.groundedOver(row.otherWire), minus, own_A);
    addPart(doc_, far, basis, plus, minus);
}

// A second battery or a charger: from its plus over the route to where it joins.
void SheetCircuits::source(const SheetRow& row)
{
    const std::string& name = row.row.circuit;
    const double v = doc_.systemVoltage_V();
    const bool turns = isAlternator(row.row);
    // What is bolted to the engine has a way back of its own.
    const std::string plus = name + ".+";
    const std::string ground =
        turns && groundWayOf(row).empty() ? wiring_.groundPoint(name + " case") : wiring_.groundedOver(row.otherWire);
    std::string at = plus;
    for (const RoutePlace& place : row.route) {
        if (place.kind == Kind::Fuse) {
            wiring_.conductor(at, place.id + ".in", sheet_.total_A);
            const double rating_A = place.rating_A.value_or(trade::assumed::fuseRating_A);
            doc_.add({place.id,
                      "fuse",
                      {place.id + ".in", place.id + ".out"},
                      {{"rating", assumedFigure(rating_A, Unit::Ampere)}}});
            at = doc_.fuseOut(place.id);
        } else {
            const std::string to = wiring_.feed({place}, Bus::Battery, sheet_.total_A);
            wiring_.conductor(at, to, sheet_.total_A);
            at = to;
        }
    }
    if (at == plus || (!row.route.empty() && row.route.back().kind == Kind::Fuse))
        wiring_.conductor(at, wiring_.batteryBus(), sheet_.total_A);
    SheetElement e;
    e.id = name;
    e.nodes = {plus, ground};
    if (lowered(name).find("charger") != std::string::npos) {
        doc_.addState("charger-on", name + " connected", "Key off, " + name + " connected and on", "", "60 s");
        e.kind = "alternator";
        e.values = {{"name", name},
                    {"emf", assumedFigure(trade::chargerHolds * v, Unit::Volt)},
                    {"resistance", assumedFigure(trade::chargerInside_ohm, Unit::Ohm)},
                    {"limit", assumedFigure(trade::chargerAtMost_A, Unit::Ampere)}};
        e.in = {"charger-on"};
        e.hasStates = true;
    } else if (turns) {
        return doc_.addAlternator(name, plus, ground);
    } else {
        e.kind = "battery";
        e.values = {{"name", name},
                    {"emf", assumedFigure(trade::batteryRests * v, Unit::Volt)},
                    {"resistance", assumedFigure(trade::batteryInside_ohm, Unit::Ohm)},
                    {"charge_resistance", assumedFigure(trade::batteryTakesCharge_ohm, Unit::Ohm)}};
    }
    doc_.add(e);
}

}  // namespace ilvek
