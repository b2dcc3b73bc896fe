#include "bench_map/sheet_map.h"

#include <fmt/format.h>
#include <algorithm>
#include <nlohmann/json.hpp>
#include <set>
#include <utility>

#include "base/text.h"
#include "bench_map/kept_sheet.h"
#include "bench_map/sheet_circuits.h"
#include "bench_map/sheet_expected.h"
#include "bench_map/sheet_words.h"
#include "bench_map/splice_rows.h"
#include "quantity/trade.h"

namespace ilvek {

namespace {

using Json = nlohmann::ordered_json;

// No cavity is written so.
constexpr const char* batteryId = "battery";

// Grows a map document row by row; what a row needs and is not there yet is made.
class SheetBuilder {
public:
    explicit SheetBuilder(Json document) : doc_(std::move(document)), wiring_(doc_), circuits_(doc_, wiring_, overview_)
    {
        doc_.addSource("assumed", "assumed by role, not from a source about this machine", "assumed");
        doc_.addSource("customary", "customary in the trade for this role", "customary");
    }

    // Before any is added. REQUIRES: `rows` outlive the builder.
    void announce(const std::vector<PinRow>& rows)
    {
        for (const PinRow& row : rows) {
            if (row.isTerminal()) overview_.names[lowered(row.id())] = row.id();
        }
        for (const PinRow& row : rows)
            rows_.push_back(understood(row, overview_.names, doc_));
        callApart();
        plugUnits();
        followGrounds();
        findBridges();
        findReturns();
        for (const SheetRow& r : rows_)
            overview_.take(r, doc_.systemVoltage_V());
        for (const SheetRow& r : rows_)
            overview_.countParts(r);
        if (overview_.names.contains("g")) wiring_.callGround("ground");
        if (overview_.names.contains("key")) wiring_.callKey("key switch");
        for (SheetRow& r : rows_) {
            if (r.drivesCoil && !switchesSomething(r.relay)) drivePlainCoil(r);
            r.holdsFeed = r.drivesCoil && (doc_.hasElement(r.relay) || feedsTerminal(r.relay));
            if (r.isHighSide() && !r.drivesCoil) overview_.addDriven(r, doc_.systemVoltage_V());
        }
        for (const SheetRow& r : rows_) {
            if (r.drivesCoil)
                wiring_.announceCoil(r.relay, {r.out(), r.route, r.role == Role::HighSideDrive, r.otherWire,
                                               r.row.circuit, r.colourWords()});
            // Where a second source joins is live whatever the key says.
            const Bus bus = r.row.loose == "source" ? Bus::Battery : r.bus();
            wiring_.announce(itemOf(r.row, "route"), r.route, bus);
            wiring_.announce(itemOf(r.row, "far end"), r.otherWire, Bus::Unknown);
        }
    }

    // “Other wire S1” of a part is grounded where another row says that S1 goes to a ground.
    void followGrounds()
    {
        std::map<std::string, std::vector<RoutePlace>> onwards;  // by place of a grounded way
        for (const SheetRow& r : rows_) {
            if (r.route.empty() || r.route.back().kind != RoutePlace::Kind::Ground) continue;
            for (auto p = r.route.begin(); p != r.route.end() - 1; ++p)
                onwards.emplace(p->id, std::vector<RoutePlace>(p + 1, r.route.end()));
        }
        for (SheetRow& r : rows_) {
            const auto way = r.otherWire.empty() ? onwards.end() : onwards.find(r.otherWire.back().id);
            if (way == onwards.end()) continue;
            r.otherWire.insert(r.otherWire.end(), way->second.begin(), way->second.end());
            // Nothing but its drive can feed it then.
            if (r.role == Role::LowSideDrive) r.role = Role::HighSideDrive;
        }
    }

    // "Brush motor" of "brush motor +" and "brush motor return".
    static std::string partOfName(const std::string& circuit)
    {
        static constexpr std::string_view ends[] = {"+",     "-",      "–",   "−",    "plus",
                                                    "minus", "return", "out", "feed", "rtn"};
        std::string part;
        for (const std::string& word : loweredWords(circuit)) {
            if (std::ranges::count(ends, word) == 0) part += word + " ";
        }
        return part;
    }

    // A drive return of a drive's name takes back what that one feeds, where neither says more.
    void findReturns()
    {
        for (const SheetRow& back : rows_) {
            if (!back.isTerminal() || back.role != Role::DriveReturn) continue;
            const std::string id = lowered(back.id()), part = partOfName(back.row.circuit);
            const auto comesBack = [&](const SheetRow& r) { return lowered(r.far.otherWire) == id; };
            if (part.empty() || std::ranges::any_of(rows_, comesBack)) continue;
            for (SheetRow& r : rows_) {
                const bool drives = r.isTerminal() && r.isDrive() && r.role != Role::DriveReturn && !r.drivesCoil;
                if (drives && r.far.otherWire.empty() && partOfName(r.row.circuit) == part) r.far.otherWire = back.id();
            }
        }
    }

    // A part between two drives of one side is turned by them: one feeds it and the other one takes it back.
    void findBridges()
    {
        for (SheetRow& r : rows_) {
            const std::string named = r.isDrive() ? overview_.terminal(r.far.otherWire) : "";
            const auto other = std::find_if(rows_.begin(), rows_.end(), [&](const SheetRow& o) {
                return o.isTerminal() && o.isDrive() && o.id() == named && named != r.id();
            });
            if (other == rows_.end() || r.role == Role::DriveReturn || other->role != r.role) continue;
            if (other->far.kind != FarEnd::Kind::Unknown && !other->far.otherWire.empty() &&
                overview_.terminal(other->far.otherWire) != r.id())
                continue;
            if (r.role == Role::LowSideDrive) r.role = other->role = Role::HighSideDrive;
            overview_.bridges[r.id()] = {other->id(), "load " + r.id()};
            overview_.bridges.emplace(other->id(), SheetOverview::Bridge{r.id(), "load " + r.id()});
        }
    }

    // Whether a row's way leads over the relay's contact.
    static bool isBehind(const SheetRow& r, const std::string& relay)
    {
        const auto isRelay = [&](const RoutePlace& p) { return p.kind == RoutePlace::Kind::Relay && p.id == relay; };
        return std::any_of(r.route.begin(), r.route.end(), isRelay) ||
               std::any_of(r.otherWire.begin(), r.otherWire.end(), isRelay);
    }
    bool switchesSomething(const std::string& relay) const
    {
        return doc_.hasElement(relay) ||
               std::any_of(rows_.begin(), rows_.end(), [&](const SheetRow& r) { return isBehind(r, relay); });
    }
    // Directly, or over places that are fed behind it: "S3 > F11 > K2" of a pump, and a valve on S3.
    bool feedsTerminal(const std::string& relay) const
    {
        std::set<std::string> behind{relay};
        const auto gather = [&](const std::vector<RoutePlace>& way) {
            const auto fed = std::find_if(way.begin(), way.end(), [&](const RoutePlace& p) {
                return p.kind != RoutePlace::Kind::Ground && behind.contains(p.id);
            });
            if (fed == way.end()) return false;
            for (auto p = way.begin(); p != fed; ++p)
                behind.insert(p->id);
            return true;
        };
        // A chain is no longer than there are rows.
        for (std::size_t n = 0; n < rows_.size(); ++n) {
            const std::size_t known = behind.size();
            for (const SheetRow& r : rows_) {
                const bool drivesIt = r.drivesCoil && r.relay == relay;
                const bool onRoute = gather(r.route), onOther = gather(r.otherWire);
                if (r.isTerminal() && !drivesIt && (onRoute || onOther)) return true;
            }
            if (behind.size() == known) break;
        }
        return false;
    }

    // What each row draws over its fuses.
    void drawAll()
    {
        const double v = doc_.systemVoltage_V();
        for (const SheetRow& r : rows_) {
            const double part_A = statedCurrent_A(r.far, v).value_or(trade::assumed::loadCurrent_A);
            if (r.isSupply()) {
                const auto driven = overview_.driven.find(r.id());
                const double largest_A = driven == overview_.driven.end()
                                             ? 0.0
                                             : std::max(driven->second.largest_A, trade::assumed::loadCurrent_A);
                wiring_.draw(r.route, overview_.ownCurrent_A(r), largest_A);
            } else if (r.row.loose == "consumer") {
                wiring_.draw(r.route, std::max(part_A, r.current_A().value_or(0)));
            } else if (r.row.loose == "source" && !isAlternator(r.row)) {
                // Charged while the engine runs.
                wiring_.draw(r.route, trade::secondBatteryTakes_A);
            } else if (r.isDrive()) {
                wiring_.draw(r.otherWire, 0, std::max(part_A, r.current_A().value_or(0)));
            }
        }
    }

    // What shows that a drive works: its part, or what stands behind the relay that it pulls.
    std::string workingPart(const SheetRow& drive) const
    {
        if (const auto bridge = overview_.bridges.find(drive.id()); bridge != overview_.bridges.end())
            return bridge->second.part;
        const auto behind = std::find_if(rows_.begin(), rows_.end(), [&](const SheetRow& r) {
            return drive.drivesCoil && r.row.loose == "consumer" && isBehind(r, drive.relay);
        });
        return behind == rows_.end() ? "load " + drive.id() : behind->row.circuit;
    }

    // The state in which another drive of the module feeds the part of this one; empty: none does.
    std::string fedWhen(const SheetRow& r) const
    {
        const std::string other = overview_.terminal(r.far.otherWire);
        const auto at = std::find_if(rows_.begin(), rows_.end(),
                                     [&](const SheetRow& o) { return o.isTerminal() && o.id() == other; });
        const bool feeds = at != rows_.end() && (at->role == Role::HighSideDrive || at->role == Role::DutyDrive);
        return feeds && r.role == Role::LowSideDrive ? at->commandedIn() : "";
    }

    // What the relay switches is on no row: to the module it is a coil, driven like any other part.
    static void drivePlainCoil(SheetRow& r)
    {
        r.drivesCoil = false;
        r.far.kind = FarEnd::Kind::RelayCoil;
        r.far.name = r.relay, r.far.isNamed = true;
        r.relay.clear();
    }

    // Besides the first states each drive commanded and each switch operated.
    void addStates()
    {
        for (const SheetRow& r : rows_) {
            const std::string& name = r.row.circuit;
            if (r.isDrive() && r.role != Role::DriveReturn && !r.holdsFeed)
                doc_.addState(r.commandedIn(), name + " commanded",
                              "Key on, " + name + " commanded, by its control or a scan tool",
                              "It may start to move: nobody near it.", "30 s");
            if (r.role == Role::SwitchInput)
                doc_.addState(r.operatedIn(), name + " operated", "Key on, the switch of " + name + " operated by hand",
                              "", "30 s");
        }
        for (const SheetRow& r : rows_) {
            if (r.row.loose != "function" || functionState(r) != functionId(r)) continue;
            doc_.addState(functionId(r), r.row.circuit + " commanded",
                          "Key on, " + r.row.circuit + " commanded, by its control or a scan tool",
                          "It may start to move: nobody near it.", "30 s");
            for (const SheetRow* need : terminalsIn(r.row.otherEnd))
                overview_.together[need->id()].push_back(functionId(r));
        }
    }

    // A cavity and a place of one name could not be told apart.
    void checkNames()
    {
        for (const SheetRow& r : rows_) {
            const std::string& ground = r.row.ground;
            for (const RoutePlace& place : r.route) {
                const bool anyGround = place.kind == RoutePlace::Kind::Ground && place.id == "G";
                if (anyGround || overview_.terminal(place.id) != place.id) continue;
                const char* column = place.id == ground                 ? "ground"
                                     : place.id == r.row.relay          ? "relay"
                                     : place.id == r.row.splice         ? "splice"
                                     : r.row.fuse.starts_with(place.id) ? "fuse"
                                                                        : "route";
                doc_.complain({itemOf(r.row, column),
                               fmt::format("“{0}” is the name of a cavity too; write the {1} another way, as {0}x",
                                           place.id, std::string(column) == "route" ? "place" : column)});
            }
        }
    }

    // What the rows from the given one on and the document draw in all: by it the module's returns are dimensioned, and
    // by what is told of parts besides what feeds all of them.
    void dimension(std::size_t from)
    {
        double total_A = 0, parts_A = 0;
        for (const Json& e : doc_.json()["elements"]) {
            if (e.value("kind", "") == "supply port")
                total_A += parseQuantity(e.value("current", "0 A"), Unit::Ampere).value_or(amperes(0)).value;
        }
        for (std::size_t i = from; i < rows_.size(); ++i) {
            if (rows_[i].isSupply()) total_A += overview_.ownCurrent_A(rows_[i]);
            if (!rows_[i].isDrive() && rows_[i].isTerminal()) continue;
            total_A += trade::assumed::loadCurrent_A;
            parts_A += loadCurrent_A(rows_[i], doc_.systemVoltage_V()) - trade::assumed::loadCurrent_A;
        }
        overview_.total_A = std::max(total_A, trade::assumed::leastCurrent_A);
        wiring_.dimension(overview_.total_A + parts_A);
        if (from == 0) doc_.dimensionBattery(overview_.total_A + parts_A);
    }

    void addAll()
    {
        for (const SheetRow& r : rows_)
            add(r);
        for (const SheetRow& r : rows_) {
            if (r.row.loose == "bus node") circuits_.addBusNode(r);
        }
        circuits_.groundModule();
    }

    // What the machine does, as far as the sheet tells: the module wakes, and each drive moves its load.
    void addFunctions()
    {
        Json functions = Json::array(), ports = Json::array();
        for (const SheetRow& r : rows_) {
            if (r.isSupply()) ports.push_back("port " + r.id());
        }
        if (!ports.empty())
            functions.push_back(
                {{"id", "wakes"}, {"name", doc_.module() + " wakes"}, {"state", "key-on"}, {"ports", ports}});
        for (const SheetRow& r : rows_) {
            if (!r.isDrive() || r.holdsFeed || r.role == Role::DriveReturn) continue;
            functions.push_back({{"id", r.id() + "-works"},
                                 {"name", r.row.circuit + " works"},
                                 {"state", r.commandedIn()},
                                 {"currents", {workingPart(r)}}});
        }
        for (const SheetRow& r : rows_) {
            if (r.row.loose == "function") functions.push_back(function(r));
        }
        doc_.json()["functions"] = std::move(functions);
    }

    // What people know to fail, and old repairs (T19): a connector, fuse, relay, part or splice of the sheet by its
    // name, or a terminal for the wires at it.
    void addWeak()
    {
        for (const SheetRow& r : rows_) {
            if (r.row.loose != "known weak") continue;
            const std::string name = r.row.circuit, called = lowered(name);
            bool found = false;
            const auto weaken = [&](Json& place) { place["weakness"] = trade::assumed::knownWeak, found = true; };
            for (Json& c : doc_.json()["connectors"]) {
                if (c.value("id", "") == name) weaken(c);
            }
            for (Json& e : doc_.json()["elements"]) {
                const bool isIt = e.value("id", "") == name || lowered(e.value("name", "")) == called ||
                                  e.value("place", "") == "plug " + name;
                const bool atIt = e.value("kind", "") == "wire" &&
                                  std::any_of(e["nodes"].begin(), e["nodes"].end(), [&](const Json& node) {
                                      const auto words = node.get<std::string>();
                                      return words == name || words.rfind(name + ".", 0) == 0;
                                  });
                if (isIt || atIt) weaken(e);
            }
            if (!found)
                doc_.complain({itemOf(r.row, "circuit"),
                               "“" + name +
                                   "” is not on this sheet; a known weak place is a connector, fuse, relay, splice, "
                                   "part or terminal of it"});
        }
    }

    // What sets a code, where the sheet tells it: a level beyond what a sound circuit of that role can give, or that
    // nothing flows in what is driven. That pulses stay away, or that something makes no sense together, is nothing
    // that a circuit shows: such a code is kept and is no evidence.
    void addCodes()
    {
        Json codes = Json::array(), kept = Json::array();
        for (const SheetRow& r : rows_) {
            if (r.row.loose != "code") continue;
            const auto words = loweredWords(r.row.otherEnd);
            const SheetRow* at = namedIn(r.row.otherEnd);
            if (!at) {
                doc_.complain({itemOf(r.row, "far end"),
                               "a code needs the terminal and what sets it; write as “B6 low” or “B6 high”"});
                continue;
            }
            const auto says = [&](const char* word) {
                return std::find(words.begin(), words.end(), word) != words.end();
            };
            const bool low = says("low"), high = says("high");
            const bool drives = at->isDrive() && !at->holdsFeed && at->role != Role::DriveReturn;
            if (says("activity") && drives) {
                Json code{{"code", r.row.circuit}};
                if (!r.row.source.empty()) code["text"] = r.row.source;
                code["state"] = at->commandedIn(), code["terminal"] = at->id(), code["no_current"] = workingPart(*at);
                codes.push_back(std::move(code));
                continue;
            }
            if (low == high) {
                Json code{{"code", r.row.circuit}, {"set_by", r.row.otherEnd}};
                if (!r.row.source.empty()) code["text"] = r.row.source;
                kept.push_back(std::move(code));
                continue;
            }
            const bool onSupply = at->isSupply();
            const double v = doc_.systemVoltage_V();
            const double level = onSupply ? (low ? trade::codeFeedLow : trade::codeFeedHigh) * v
                                 : low    ? trade::codeInputLow_V
                                          : trade::codeInputHigh_V;
            Json code{{"code", r.row.circuit}};
            if (!r.row.source.empty()) code["text"] = r.row.source;
            code["state"] = "key-on";
            code["terminal"] = at->id();
            code[low ? "below" : "above"] = assumedFigure(level, Unit::Volt);
            codes.push_back(std::move(code));
        }
        if (!codes.empty()) doc_.json()["codes"] = std::move(codes);
        if (!kept.empty()) doc_.json()["kept_codes"] = std::move(kept);
    }

    void keep(const std::vector<PinRow>& rows) { keepSheet(rows, doc_.json()); }

    // The last row announced.
    void addLast() { add(rows_.back()); }

    // Machines with an engine have one, at the battery where the sheet does not say how it is wired.
    void addAlternator()
    {
        const bool there =
            std::any_of(rows_.begin(), rows_.end(), [](const SheetRow& r) { return isAlternator(r.row); });
        if (!there) doc_.addAlternator("alternator", doc_.battery() + ".+", doc_.battery() + ".-");
    }

    // So with a starter.
    void addStarter()
    {
        const bool there = std::any_of(rows_.begin(), rows_.end(), [](const SheetRow& r) { return isStarter(r.row); });
        if (there) return;
        const std::string plus = "starter.+";
        doc_.addStarterContact("starter contact", doc_.battery() + ".+", plus);
        doc_.add({"starter",
                  "motor",
                  {plus, doc_.battery() + ".-"},
                  {{"name", "starter"},
                   {"voltage", assumedFigure(doc_.systemVoltage_V(), Unit::Volt)},
                   {"current", assumedFigure(doc_.starterCurrent_A(), Unit::Ampere)}}});
    }

    // Whether the document was made of a sheet, and not drawn.
    bool isOfSheet()
    {
        const Json& all = doc_.json()["elements"];
        return std::any_of(all.begin(), all.end(), [&](const Json& e) {
            return e.value("id", "") == doc_.battery() && e.value("assumed", false);
        });
    }

    std::string text() const { return doc_.text(); }
    const Problems& problems() const { return doc_.problems(); }

private:
    // Parts of one name at different plugs are several: each goes by the name of its circuit.
    void callApart()
    {
        const auto isOne = [](const SheetRow& row) {
            return row.isTerminal() && row.far.isNamed && row.far.kind != FarEnd::Kind::Module &&
                   !row.row.circuit.empty();
        };
        std::map<std::string, std::set<std::string>> plugs;
        for (const SheetRow& row : rows_)
            if (isOne(row) && !plugOfPart(row).empty()) plugs[lowered(row.far.name)].insert(plugOfPart(row));
        for (SheetRow& row : rows_)
            if (isOne(row) && plugs[lowered(row.far.name)].size() > 1) row.far.isNamed = false;
    }

    // A unit that several rows name has its plug on each of them: its feed and its bus node come off together.
    void plugUnits()
    {
        // "module CD-2", whatever stands behind it; empty: no unit, or one without a name.
        const auto unitOf = [](const SheetRow& row) {
            const std::string name = lowered(row.far.name.substr(0, row.far.name.find(',')));
            const bool isCalled = !row.isTerminal() && row.far.kind == FarEnd::Kind::Module;
            return isCalled && loweredWords(name).size() > 1 ? name : "";
        };
        std::map<std::string, std::string> plugs;
        for (const SheetRow& row : rows_)
            if (!plugOfPart(row).empty()) plugs.emplace(unitOf(row), plugOfPart(row));
        plugs.erase("");
        for (SheetRow& row : rows_) {
            const auto plug = plugs.find(unitOf(row));
            if (plug != plugs.end() && plugOfPart(row).empty()) row.far.plug = plug->second;
        }
    }

    // The first terminal that a text names, nullptr: none.
    const SheetRow* namedIn(const std::string& text) const
    {
        const auto all = terminalsIn(text);
        return all.empty() ? nullptr : all.front();
    }

    std::vector<const SheetRow*> terminalsIn(const std::string& text) const
    {
        std::vector<const SheetRow*> out;
        std::string word;
        for (const char c : text + " ") {
            if (std::string_view(" ,;+&").find(c) == std::string_view::npos) {
                word += c;
                continue;
            }
            const std::string id = overview_.terminal(std::exchange(word, ""));
            const auto at = std::find_if(rows_.begin(), rows_.end(), [&](const SheetRow& r) {
                return !id.empty() && r.isTerminal() && r.id() == id;
            });
            if (at != rows_.end()) out.push_back(&*at);
        }
        return out;
    }

    // What the machine does, by the terminals that it needs: its drives carry their current, its supplies stand, all
    // else is at its level.
    Json function(const SheetRow& r)
    {
        const auto needs = terminalsIn(r.row.otherEnd);
        if (needs.empty())
            doc_.complain({itemOf(r.row, "far end"), "a function needs terminals of this sheet; write as “B3, B4”"});
        Json f{{"id", functionId(r)}, {"name", r.row.circuit}, {"state", functionState(r)}};
        Json currents = Json::array(), levels = Json::array(), ports = Json::array();
        for (const SheetRow* need : needs) {
            if (need->isSupply())
                ports.push_back("port " + need->id());
            else if (need->isDrive() && !need->holdsFeed && need->role != Role::DriveReturn)
                currents.push_back(workingPart(*need));
            else
                levels.push_back(need->id());
        }
        if (!currents.empty()) f["currents"] = currents;
        if (!levels.empty()) f["levels"] = levels;
        if (!ports.empty()) f["ports"] = ports;
        return f;
    }

    static std::string functionId(const SheetRow& r)
    {
        std::string id = "function";
        for (const std::string& word : loweredWords(r.row.circuit))
            id += "-" + word;
        return id;
    }

    // With one drive that one's, with several of its own; else key on.
    std::string functionState(const SheetRow& r) const
    {
        std::vector<std::string> commanded;
        for (const SheetRow* need : terminalsIn(r.row.otherEnd)) {
            if (need->isDrive() && !need->holdsFeed && need->role != Role::DriveReturn)
                commanded.push_back(need->commandedIn());
        }
        return commanded.empty() ? "key-on" : commanded.size() == 1 ? commanded.front() : functionId(r);
    }

    void add(const SheetRow& r)
    {
        if (!r.isTerminal()) return circuits_.addLoose(r);
        const PinRow& row = r.row;
        Json cavity{{"cavity", row.cavity}};
        if (!row.written.empty()) cavity["name"] = row.written;
        if (r.role != Role::Empty) cavity["circuit"] = row.circuit;
        cavity["role"] = roleName(r.role);
        if (!r.colourWords().empty()) cavity["colour"] = r.colourWords();
        if (r.role != Role::Empty) {
            cavity["assumed"] = true;
            if (!row.source.empty() || !row.otherEnd.empty())
                cavity["note"] = trimmed(row.otherEnd + (row.source.empty() ? "" : " [" + row.source + "]"));
            if (!row.hazard.empty()) cavity["hazard"] = row.hazard;
            circuits_.add(r, cavity);
            addExpected(doc_, r, {overview_.isFedElsewhere(r), overview_.bringsFeed(r), fedWhen(r)}, cavity);
        }
        if (row.asFound == "empty" || row.asFound == "wired")
            cavity["as_found"] = {{"is", row.asFound}, {"why", row.source}};
        place(row, std::move(cavity));
    }

    // Into the connector, which grows as needed.
    void place(const PinRow& row, Json cavity)
    {
        Json* connector = nullptr;
        Json& connectors = doc_.json()["connectors"];
        for (Json& c : connectors) {
            if (c.value("id", "") == row.connector) connector = &c;
        }
        if (!connector) {
            connectors.push_back(
                {{"id", row.connector}, {"rows", 1}, {"columns", 1}, {"module", true}, {"cavities", Json::array()}});
            connector = &connectors.back();
        }
        const int rows = (*connector)["rows"].get<int>(), columns = (*connector)["columns"].get<int>();
        if (row.cavity > rows * columns) {
            const int newRows = row.cavity <= 8 ? 1 : row.cavity <= 40 ? 2 : 4;
            (*connector)["rows"] = newRows;
            (*connector)["columns"] = (row.cavity + newRows - 1) / newRows;
        }
        (*connector)["cavities"].push_back(std::move(cavity));
    }

    SheetDocument doc_;
    SheetWiring wiring_;
    SheetOverview overview_;
    SheetCircuits circuits_;
    std::vector<SheetRow> rows_;
};

Json skeleton(const NewMachine& machine)
{
    const double v = machine.systemVoltage_V;
    Json doc{{"format", "ilvek-map"},
             {"version", 1},
             {"machine",
              {{"maker", machine.maker},
               {"model", machine.model},
               {"system_voltage", assumedFigure(v, Unit::Volt)},
               {"battery", batteryId}}},
             {"module", machine.module},
             {"battery_expected",
              {{{"state", "key-on"},
                {"measure", "level"},
                {"how", "loaded"},
                {"low", assumedFigure(v * 0.99, Unit::Volt)},
                {"high", assumedFigure(v * 1.08, Unit::Volt)},
                {"source", "customary"}}}},
             {"sources", Json::array()},
             {"states",
              {{{"id", "key-off"}, {"name", "Key off"}, {"how", "Key out, all consumers off"}, {"effort", "120 s"}},
               {{"id", "key-on"}, {"name", "Key on"}, {"how", "Key on, engine not running"}, {"effort", "10 s"}},
               {{"id", "cranking"},
                {"name", "Cranking"},
                {"caution", "Rotating parts: keep clear of belts and fan; brake on, drive in neutral."},
                {"effort", "60 s"}},
               {{"id", "running"},
                {"name", "Running"},
                {"how", "Engine or main drive running, nothing commanded"},
                {"caution", "Exhaust gas, hot and rotating parts; brake on, drive in neutral."},
                {"effort", "120 s"}}}},
             {"connectors", Json::array()},
             {"splices", Json::array()},
             {"elements",
              {{{"id", batteryId},
                {"kind", "battery"},
                {"nodes", {std::string(batteryId) + ".+", std::string(batteryId) + ".-"}},
                {"name", "battery"},
                {"emf", assumedFigure(v * trade::batteryRests, Unit::Volt)},
                {"resistance", assumedFigure(trade::batteryInside_ohm, Unit::Ohm)},
                {"charge_resistance", assumedFigure(trade::batteryTakesCharge_ohm, Unit::Ohm)},
                {"assumed", true}}}}};
    if (!machine.variant.empty()) doc["machine"]["variant"] = machine.variant;
    return doc;
}

}  // namespace

Result<std::string, Problems> mapFromSheet(const std::vector<PinRow>& rows, const NewMachine& machine)
{
    SheetBuilder builder(skeleton(machine));
    const std::vector<PinRow> routed = withSplicesRouted(rows);
    builder.announce(routed);
    builder.addStates();
    builder.drawAll();
    builder.dimension(0);
    builder.checkNames();
    builder.addAlternator();
    builder.addAll();
    builder.addStarter();
    builder.addFunctions();
    builder.addCodes();
    builder.addWeak();
    builder.keep(rows);
    std::string document = builder.text();
    if (!builder.problems().empty()) return tl::unexpected(builder.problems());
    return document;
}

std::string knownWords(const NewMachine& machine)
{
    const NewMachine unnamed;
    std::string out;
    const auto add = [&](const std::string& words, const std::string& unknown) {
        if (!words.empty() && words != unknown) out += (out.empty() ? "" : " ") + words;
    };
    add(machine.maker, unnamed.maker), add(machine.model, unnamed.model), add(machine.variant, unnamed.variant);
    add(machine.module, "");
    return out;
}

NewMachine machineNamedIn(const std::string& document)
{
    const Json doc = Json::parse(document, nullptr, false);
    NewMachine out;
    if (!doc.is_object()) return out;
    const Json machine = doc.value("machine", Json::object());
    out.maker = machine.value("maker", out.maker);
    out.model = machine.value("model", out.model);
    out.variant = machine.value("variant", "");
    out.module = doc.value("module", out.module);
    if (const auto v = parseQuantity(machine.value("system_voltage", "12 V"), Unit::Volt))
        out.systemVoltage_V = v->value;
    return out;
}

Result<std::string, Problems> withRow(const std::string& document, const PinRow& added)
{
    PinRow row = added;
    Json doc = Json::parse(document, nullptr, false);
    if (doc.is_discarded()) return tl::unexpected(Problems{{"the map", "this is not well-formed JSON"}});
    if (const auto sheet = sheetOf(doc)) {
        if (!*sheet) return tl::unexpected(sheet->error());
        return mapFromSheet(withRow(**sheet, added), machineNamedIn(document));
    }
    std::vector<PinRow> there;
    for (Json& connector : doc["connectors"]) {
        auto& cavities = connector["cavities"];
        const auto isThis = [&](const Json& c) { return c.value("cavity", 0) == row.cavity; };
        for (const Json& c : cavities) {
            if (connector.value("id", "") == row.connector && isThis(c) && row.written.empty())
                row.written = c.value("name", "");
        }
        if (connector.value("id", "") == row.connector)
            cavities.erase(std::remove_if(cavities.begin(), cavities.end(), isThis), cavities.end());
        if (!connector.value("module", false)) continue;
        for (const Json& c : cavities) {
            PinRow known;
            known.connector = connector.value("id", "");
            known.cavity = c.value("cavity", 0);
            known.written = c.value("name", "");
            known.role = c.value("role", "");
            there.push_back(std::move(known));
        }
    }
    SheetBuilder builder(std::move(doc));
    there.push_back(row);
    builder.announce(there);
    if (builder.isOfSheet()) builder.addStates();
    builder.drawAll();
    builder.dimension(there.size() - 1);
    builder.addLast();
    std::string out = builder.text();
    if (!builder.problems().empty()) return tl::unexpected(builder.problems());
    return out;
}

}  // namespace ilvek
