// Recordings on the command line.
#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "commands.h"
#include "practice/waveforms.h"
#include "trace/csv_reader.h"
#include "trace/npy_file.h"
#include "trace/study.h"
#include "trace/switching.h"

namespace ilvek::cli {

namespace {

using nlohmann::json;

int faulty(const Error& error)
{
    fmt::print(stderr, "{}\n", error.message());
    return BadInput;
}

// Reads it and puts the clamp's scale on the channel of current.
Result<Recording> opened(const TraceWishes& w)
{
    auto r = readRecording(w.file);
    if (!r) return r;
    if (w.interval_s > 0) r->interval_s = w.interval_s;
    if (w.clamp_mVPerA == 0) return r;
    const int at = w.current.empty() ? 0 : channelNamed(*r, w.current);
    if (at < 0) return fail(w.current, "there is no such channel in " + r->name);
    Channel& c = r->channels[static_cast<std::size_t>(at)];
    c.scale.clamp_mVPerA = std::abs(w.clamp_mVPerA);
    c.scale.inverted = w.clamp_mVPerA < 0;
    c.scale.zero = quietLevel(c, r->interval_s).value_or(0);
    applyScale(c);
    return r;
}

Result<StudyWishes> wishesOf(const TraceWishes& w)
{
    StudyWishes out{w.current, w.control, w.sync, {}, {}, {}};
    if (w.supply_V > 0) out.supply_V = w.supply_V;
    if (w.resistance_ohm > 0) out.resistance_ohm = w.resistance_ohm;
    if (!w.order.empty()) {
        out.order.cylinders.clear();
        for (const char c : w.order) {
            if (c >= '1' && c <= '9') out.order.cylinders.push_back(c - '0');
        }
    }
    out.order.known = w.known;
    const auto& all = out.order.cylinders;
    if (std::find(all.begin(), all.end(), w.known) == all.end())
        return fail("--known", "this cylinder is not in the firing order");
    return out;
}

Result<Study> studied(const TraceWishes& w)
{
    const auto r = opened(w);
    if (!r) return tl::unexpected(r.error());
    const auto wishes = wishesOf(w);
    if (!wishes) return tl::unexpected(wishes.error());
    return study(*r, *wishes);
}

// How a table of text is read, with its first rows.
void showGuess(const std::string& file)
{
    const auto guess = guessCsv(file);
    if (!guess) return;
    const std::string separator = guess->separator == '\t'  ? "tab"
                                  : guess->separator == ' ' ? "space"
                                                            : std::string(1, guess->separator);
    fmt::print("Read as {} text, separated by “{}”, decimal “{}”, figures from line {} on.\n", guess->encoding,
               separator, guess->decimal, guess->headLines + 1);
    for (std::size_t c = 0; c < guess->columns.size(); ++c) {
        const auto& column = guess->columns[c];
        const char* use = column.use == CsvGuess::Use::Time    ? "time"
                          : column.use == CsvGuess::Use::Value ? "channel"
                                                               : "left out";
        fmt::print("  column {}: {}, {}, unit {}", c + 1, column.name, use,
                   column.unitText.empty() ? "not said" : column.unitText);
        for (std::size_t i = 0; i < std::min<std::size_t>(3, guess->firstRows.size()); ++i)
            fmt::print("{} {}", i == 0 ? ":" : ",", c < guess->firstRows[i].size() ? guess->firstRows[i][c] : "");
        fmt::print("\n");
    }
}

json asJson(const TraceMeasure& m)
{
    json j{{"id", m.id}, {"name", m.name}, {"unit", unitSymbol(m.unit)}};
    if (m.value)
        j["value"] = *m.value, j["sigma"] = m.sigma;
    else
        j["not_measurable"] = m.why;
    if (!std::isnan(m.at_s)) j["at_s"] = m.at_s;
    return j;
}

json asJson(const TraceFinding& f)
{
    return {{"cylinder", f.cylinder}, {"feature", f.feature},       {"verdict", words(f.verdict)},
            {"ratio", f.ratio},       {"tolerances", f.tolerances}, {"words", f.words}};
}

}  // namespace

int traceInfo(const TraceWishes& w)
{
    const auto r = opened(w);
    if (!r) return faulty(r.error());
    json channels = json::array();
    if (!w.json)
        fmt::print("{}: {} samples, {} apart, {} long, from {}\n", r->name, r->size(),
                   formatQuantity({r->interval_s, Unit::Second}), formatQuantity({r->length_s(), Unit::Second}),
                   formatQuantity({r->start_s, Unit::Second}));
    for (const Channel& c : r->channels) {
        const auto all = c.samples.read(0, c.samples.size());
        const auto [low, high] = std::minmax_element(all.begin(), all.end());
        if (w.json)
            channels.push_back({{"name", c.name},
                                {"unit", unitSymbol(c.unit())},
                                {"least", *low},
                                {"most", *high},
                                {"sixteen_bit", c.samples.isSteps()}});
        else
            fmt::print("  {:<20} {:>12} to {:>12}\n", c.name, formatQuantity({*low, c.unit()}),
                       formatQuantity({*high, c.unit()}));
    }
    if (w.json)
        fmt::print("{}\n", json{{"name", r->name},
                                {"samples", r->size()},
                                {"interval_s", r->interval_s},
                                {"start_s", r->start_s},
                                {"channels", channels},
                                {"notes", r->notes}}
                               .dump(1));
    if (!w.json) showGuess(w.file);
    for (const std::string& note : r->notes) {
        if (!w.json) fmt::print("Note: {}\n", note);
    }
    return Ok;
}

int traceMeasure(const TraceWishes& w)
{
    const auto s = studied(w);
    if (!s) return faulty(s.error());
    json pulses = json::array();
    for (std::size_t i = 0; i < s->pulses.pulses.size(); ++i) {
        const Pulse& p = s->pulses.pulses[i];
        json measures = json::array();
        if (!w.json)
            fmt::print("Pulse {}: {} to {}{}\n", i + 1, formatQuantity({p.on_s, Unit::Second}),
                       formatQuantity({p.off_s, Unit::Second}), p.holds ? ", limited and held" : "");
        for (const TraceMeasure& m : p.measures) {
            measures.push_back(asJson(m));
            if (!w.json) fmt::print("  {:<36} {}\n", m.name, m.words());
        }
        pulses.push_back({{"on_s", p.on_s}, {"off_s", p.off_s}, {"holds", p.holds}, {"measures", measures}});
    }
    if (w.json)
        fmt::print("{}\n", json{{"noise_A", s->pulses.noise_A},
                                {"zero_A", s->pulses.zero_A},
                                {"verdict", s->verdict},
                                {"pulses", pulses}}
                               .dump(1));
    if (!w.json) fmt::print("{}\n", s->verdict);
    return Ok;
}

int traceCompare(const TraceWishes& w)
{
    const auto s = studied(w);
    if (!s) return faulty(s.error());
    if (!s->cylinders && s->againstExpected.empty())
        return faulty({w.file, s->notCylinders.empty()
                                   ? "nothing to compare with: name a synchronising channel or the resistance expected"
                                   : s->notCylinders});
    std::vector<TraceFinding> findings = s->cylinders ? s->cylinders->findings : std::vector<TraceFinding>{};
    findings.insert(findings.end(), s->againstExpected.begin(), s->againstExpected.end());
    const bool odd = std::any_of(findings.begin(), findings.end(), [](const TraceFinding& f) {
        return f.verdict != TraceFinding::Verdict::Alike && f.verdict != TraceFinding::Verdict::CannotTell;
    });
    if (w.json) {
        json list = json::array();
        for (const TraceFinding& f : findings)
            list.push_back(asJson(f));
        fmt::print("{}\n", json{{"verdict", s->verdict}, {"findings", list}}.dump(1));
    } else {
        for (const TraceFinding& f : findings)
            fmt::print("  {} {:<14} {:<12} {:>6.2f} times  {}\n",
                       f.cylinder == 0 ? std::string("all       ") : fmt::format("cylinder {}", f.cylinder), f.feature,
                       words(f.verdict), f.ratio, f.words);
        fmt::print("{}\n", s->verdict);
    }
    return odd ? Negative : Ok;
}

int traceSignal(const TraceWishes& w)
{
    const auto r = opened(w);
    if (!r) return faulty(r.error());
    const int at = channelNamed(*r, w.control);
    if (at < 0) return faulty({w.control, "there is no such channel in " + r->name});
    const Channel& channel = r->channels[static_cast<std::size_t>(at)];
    const auto s = measureSwitching(*r, channel);
    if (!s) return faulty(s.error());
    const auto wheel = measureWheel(s->rises_s);
    json measures = json::array();
    const auto show = [&](const TraceMeasure& m) {
        measures.push_back(asJson(m));
        if (!w.json) fmt::print("  {:<36} {}\n", m.name, m.words());
    };
    for (const TraceMeasure& m : s->measures)
        show(m);
    for (const TraceMeasure& m : wheel ? wheel->measures : std::vector<TraceMeasure>{})
        show(m);
    json dips = json::array();
    for (const Dip& d : w.supply_V > 0 ? findDips(*r, channel, w.supply_V) : std::vector<Dip>{}) {
        dips.push_back({{"at_s", d.at_s}, {"length_s", d.length_s}, {"depth_V", d.depth_V}});
        if (!w.json)
            fmt::print("  dip of {} at {}, {} long\n", formatQuantity(volts(d.depth_V)),
                       formatQuantity({d.at_s, Unit::Second}), formatQuantity({d.length_s, Unit::Second}));
    }
    if (w.json)
        fmt::print("{}\n", json{{"channel", channel.name},
                                {"measures", measures},
                                {"wheel", wheel ? wheel->verdict : ""},
                                {"dips", dips}}
                               .dump(1));
    if (!w.json && wheel) fmt::print("{}\n", wheel->verdict);
    return Ok;
}

int traceConvert(const TraceWishes& w, const std::string& out)
{
    const auto r = opened(w);
    if (!r) return faulty(r.error());
    const auto written = out.ends_with(".npy") ? writeNpy(out, *r) : writeCsv(out, *r);
    if (!written) return fmt::print(stderr, "{}\n", written.error().message()), CannotWrite;
    return Ok;
}

int traceMake(const std::string& out, int weak, int missing, double noise, unsigned seed)
{
    std::vector<practice::Winding> windings(4);
    for (std::size_t i = 0; i < windings.size(); ++i)
        windings[i].resistance_ohm *= 1 + 0.01 * (static_cast<double>(i) - 1.5);
    if (weak >= 1 && weak <= 4) windings[static_cast<std::size_t>(weak - 1)].resistance_ohm *= 1.28;
    auto pulses = practice::firedInOrder({1, 3, 4, 2}, windings, 0.08, 5e-3, 3);
    // It opens when hot: the first turn still comes.
    bool came = false;
    for (auto& p : pulses) {
        if (p.cylinder == missing && came) p.fires = false;
        came = came || p.cylinder == missing;
    }
    practice::Recorder recorder;
    recorder.interval_s = 2e-5;
    recorder.current_A = 2;
    recorder.noise = noise;
    recorder.seed = seed;
    const auto made = practice::makeWinding(pulses, {}, recorder, 0.24, 1);
    const auto written = out.ends_with(".npy") ? writeNpy(out, made.recording) : writeCsv(out, made.recording);
    if (!written) return fmt::print(stderr, "{}\n", written.error().message()), CannotWrite;
    return Ok;
}

}  // namespace ilvek::cli
