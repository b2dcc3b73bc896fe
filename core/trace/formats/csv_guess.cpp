// What a table of figures in text looks like.
#include <algorithm>
#include <cmath>
#include <map>

#include "base/text.h"
#include "trace/formats/csv_figure.h"
#include "trace/formats/csv_reader.h"
#include "trace/formats/csv_text.h"

namespace ilvek {

namespace {

constexpr std::size_t looked_bytes = 64U * 1024U;
constexpr std::size_t shownRows = 12;
constexpr double evenShare = 0.2;  // steps of a time column differ by less than this share, or by its last digit

struct UnitWord {
    const char* word;
    Unit unit;
    double scale;
};
constexpr UnitWord unitWords[] = {
    {"v", Unit::Volt, 1},       {"volt", Unit::Volt, 1},     {"volts", Unit::Volt, 1},    {"mv", Unit::Volt, 1e-3},
    {"kv", Unit::Volt, 1e3},    {"uv", Unit::Volt, 1e-6},    {"µv", Unit::Volt, 1e-6},    {"a", Unit::Ampere, 1},
    {"amp", Unit::Ampere, 1},   {"ampere", Unit::Ampere, 1}, {"amps", Unit::Ampere, 1},   {"ma", Unit::Ampere, 1e-3},
    {"s", Unit::Second, 1},     {"sec", Unit::Second, 1},    {"second", Unit::Second, 1}, {"seconds", Unit::Second, 1},
    {"ms", Unit::Second, 1e-3}, {"us", Unit::Second, 1e-6},  {"µs", Unit::Second, 1e-6},  {"μs", Unit::Second, 1e-6},
    {"ns", Unit::Second, 1e-9}, {"min", Unit::Second, 60},   {"ohm", Unit::Ohm, 1},       {"hz", Unit::Hertz, 1},
    {"%", Unit::Percent, 1},    {"c", Unit::Celsius, 1},     {"°c", Unit::Celsius, 1},
};

const UnitWord* unitNamed(std::string text)
{
    std::erase_if(text, [](char c) { return c == '(' || c == ')' || c == '[' || c == ']' || c == ' '; });
    text = lowered(text);
    const auto at =
        std::find_if(std::begin(unitWords), std::end(unitWords), [&](const UnitWord& u) { return text == u.word; });
    return at == std::end(unitWords) ? nullptr : at;
}

// "CH1 (mV)", "Time [ms]", "Current/A": the name and its unit.
std::pair<std::string, std::string> nameAndUnit(const std::string& text)
{
    for (const char* pair : {"()", "[]"}) {
        const auto open = text.rfind(pair[0]), close = text.rfind(pair[1]);
        if (open == std::string::npos || close == std::string::npos || close < open) continue;
        const std::string unit = text.substr(open + 1, close - open - 1);
        if (!unitNamed(unit)) continue;
        const auto end = text.find_last_not_of(' ', open == 0 ? 0 : open - 1);
        return {open == 0 ? "" : text.substr(0, end + 1), unit};
    }
    for (const char mark : {'/', '_', ' '}) {
        const auto at = text.rfind(mark);
        if (at != std::string::npos && at > 0 && unitNamed(text.substr(at + 1)))
            return {text.substr(0, at), text.substr(at + 1)};
    }
    return {text, ""};
}

bool isFigure(const std::string& field, char decimal)
{
    double value = 0;
    const char* end = field.data() + field.size();
    return scanFigure(field.data(), end, decimal, value) == end && std::isfinite(value);
}

// What a recorder writes where it has none.
bool isNoFigure(const std::string& field, char decimal)
{
    double value = 0;
    const char* end = field.data() + field.size();
    if (isOldNoFigure(field.data(), end, decimal)) return true;
    return scanFigure(field.data(), end, decimal, value) == end && !std::isfinite(value);
}

bool isRowOfFigures(const std::vector<std::string>& fields, char decimal)
{
    bool any = false;
    for (const std::string& f : fields) {
        if (f.empty() || isNoFigure(f, decimal)) continue;
        if (!isFigure(f, decimal)) return false;
        any = true;
    }
    return any;
}

struct Run {
    char separator = ',', decimal = '.';
    std::size_t first = 0, rows = 0, width = 0;
    bool headFits = false;
};

std::vector<std::string> linesOf(const std::string& text)
{
    std::vector<std::string> lines;
    std::size_t at = 0;
    while (at < text.size()) {
        const auto end = std::min(text.find('\n', at), text.size());
        lines.push_back(text.substr(at, end - at));
        at = end + 1;
    }
    return lines;
}

// The longest run of rows at the end that are figures throughout and of one width.
Run runOf(const std::vector<std::string>& lines, char separator, char decimal)
{
    Run run{separator, decimal, lines.size(), 0, 0, false};
    for (std::size_t i = lines.size(); i-- > 0;) {
        if (isBlank(lines[i]) || isRemark(lines[i])) continue;
        const auto fields = fieldsOf(lines[i], separator);
        const bool same = isRowOfFigures(fields, decimal) && (run.width == 0 || fields.size() <= run.width + 1);
        if (!same) {
            run.headFits = run.rows > 0 && fields.size() == run.width;
            break;
        }
        run.width = std::max(run.width, fields.size());
        run.first = i;
        ++run.rows;
    }
    return run;
}

bool isBetter(const Run& a, const Run& b)
{
    if (a.rows != b.rows) return a.rows > b.rows;
    if (a.headFits != b.headFits) return a.headFits;
    return a.width > b.width;
}

// "sample interval: 5 us", "Sample rate;200000", "dt = 1e-6".
void findInterval(const std::string& line, char decimal, CsvGuess& guess)
{
    const std::string text = lowered(line);
    const bool rate = text.find("rate") != std::string::npos || text.find("frequency") != std::string::npos;
    const bool step = text.find("interval") != std::string::npos || text.find("increment") != std::string::npos ||
                      text.find("dt") != std::string::npos || text.find("sample time") != std::string::npos;
    if (!rate && !step) return;
    const auto at = text.find_first_of(
        "0123456789", text.find_first_of(":=,;\t ") == std::string::npos ? 0 : text.find_first_of(":=,;\t "));
    if (at == std::string::npos) return;
    double value = 0;
    const char* end = text.data() + text.size();
    const char* after = scanFigure(text.data() + at, end, decimal, value);
    if (!after || value <= 0) return;
    std::string unit(after, end);
    const auto first = unit.find_first_not_of(" \t,;\"");
    unit = first == std::string::npos ? "" : unit.substr(first, unit.find_first_of(" \t,;\"\r", first) - first);
    const double thousand = unit.starts_with("khz") || unit.starts_with("ks")    ? 1e3
                            : unit.starts_with("mhz") || unit.starts_with("ms/") ? 1e6
                                                                                 : 1;
    const UnitWord* word = unitNamed(unit);
    if (rate) guess.interval_s = 1 / (thousand * value);
    if (step && !rate) guess.interval_s = value * (word && word->unit == Unit::Second ? word->scale : 1);
}

bool runsEvenly(const std::vector<double>& t)
{
    if (t.size() < 3) return false;
    const double step = (t.back() - t.front()) / static_cast<double>(t.size() - 1);
    double least = 1e300;
    for (std::size_t i = 1; i < t.size(); ++i) {
        if (t[i] < t[i - 1]) return false;
        if (t[i] > t[i - 1]) least = std::min(least, t[i] - t[i - 1]);
    }
    double off = 0;
    for (std::size_t i = 0; i < t.size(); ++i)
        off = std::max(off, std::abs(t[i] - t.front() - step * static_cast<double>(i)));
    return step > 0 && off <= std::max(evenShare * step, least);
}

bool soundsLikeTime(const std::string& name)
{
    const std::string n = lowered(name);
    return n.find("time") != std::string::npos || n.find("zeit") != std::string::npos ||
           n.find("temps") != std::string::npos || n == "t" || n == "x" || n == "s" || n == "second" || n == "seconds";
}

// The columns' names and units from the rows above the figures.
void readHead(const std::vector<std::string>& lines, const Run& run, CsvGuess& guess)
{
    std::vector<std::vector<std::string>> above;
    for (std::size_t i = 0; i < run.first; ++i) {
        findInterval(lines[i], run.decimal, guess);
        std::string line = lines[i];
        if (isRemark(line)) line.erase(0, line.find_first_not_of(" \t#%!/"));
        const auto fields = fieldsOf(line, run.separator);
        if (fields.size() == run.width && !isBlank(line)) above.push_back(fields);
    }
    const auto isUnits = [](const std::vector<std::string>& row) {
        return std::all_of(row.begin(), row.end(),
                           [](const std::string& f) { return f.empty() || f == "-" || unitNamed(f); });
    };
    std::vector<std::string> units;
    if (!above.empty() && isUnits(above.back()) && above.size() > 1) {
        units = above.back();
        above.pop_back();
    }
    for (std::size_t c = 0; c < run.width; ++c) {
        CsvGuess::Column column;
        if (!above.empty()) std::tie(column.name, column.unitText) = nameAndUnit(above.back()[c]);
        if (!units.empty()) column.name = above.empty() ? "" : above.back()[c], column.unitText = units[c];
        if (column.name.empty()) column.name = "channel " + std::to_string(c + 1);
        if (const UnitWord* word = unitNamed(column.unitText)) column.unit = word->unit, column.unitScale = word->scale;
        guess.columns.push_back(column);
    }
}

void findTime(const std::vector<std::string>& lines, const Run& run, CsvGuess& guess)
{
    std::vector<std::vector<double>> values(run.width);
    for (std::size_t i = run.first; i < lines.size(); ++i) {
        if (isBlank(lines[i]) || isRemark(lines[i])) continue;
        const auto fields = fieldsOf(lines[i], run.separator);
        if (guess.firstRows.size() < shownRows) guess.firstRows.push_back(fields);
        for (std::size_t c = 0; c < fields.size() && c < run.width; ++c) {
            double v = 0;
            if (scanFigure(fields[c].data(), fields[c].data() + fields[c].size(), run.decimal, v))
                values[c].push_back(v);
        }
    }
    for (std::size_t c = 0; c < run.width; ++c) {
        CsvGuess::Column& column = guess.columns[c];
        const bool named = soundsLikeTime(column.name) || column.unit == Unit::Second;
        if (!named && !(c == 0 && run.width > 1 && runsEvenly(values[c]))) continue;
        column.use = CsvGuess::Use::Time;
        if (column.unit != Unit::Second) column.unit = Unit::Second, column.unitScale = 1;
        // A number of the sample beside a known interval is no time.
        const bool counts = values[c].size() > 2 && values[c][1] - values[c][0] == 1.0;
        if (counts && guess.interval_s && !named) column.use = CsvGuess::Use::Ignore;
        if (column.use == CsvGuess::Use::Time) guess.interval_s.reset();
        return;
    }
}

}  // namespace

Result<CsvGuess> guessCsv(const std::string& path)
{
    auto text = CsvText::open(path);
    if (!text) return tl::unexpected(text.error());
    const auto block = text->next(looked_bytes);
    if (!block) return tl::unexpected(block.error());
    auto lines = linesOf(*block);
    // A last line that ends within a row would hide the table.
    if (lines.size() > 1 && !block->ends_with('\n')) lines.pop_back();
    Run best;
    for (const char separator : {',', ';', '\t', '|', ' '}) {
        for (const char decimal : {'.', ','}) {
            if (separator == decimal) continue;
            const Run run = runOf(lines, separator, decimal);
            if (isBetter(run, best)) best = run;
        }
    }
    if (best.rows < 2) return fail(path, "no table of figures is found in it");
    CsvGuess guess;
    guess.encoding = text->encoding();
    guess.separator = best.separator;
    guess.decimal = best.decimal;
    guess.headLines = best.first;
    readHead(lines, best, guess);
    findTime(lines, best, guess);
    return guess;
}

}  // namespace ilvek
