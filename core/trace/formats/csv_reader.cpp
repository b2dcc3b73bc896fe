#include "trace/formats/csv_reader.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <future>
#include <thread>

#include "trace/formats/csv_figure.h"
#include "trace/formats/csv_text.h"

namespace ilvek {

namespace {

constexpr std::size_t block_bytes = 4U << 20U, beginning_bytes = 1U << 20U;
// More samples than any recorder of the trade has memory for.
constexpr std::size_t mostRows = 500'000'000;
constexpr double evenShare = 0.5;  // of a step, by which a time may lie off the even base

struct Block {
    std::string text;
    std::vector<std::vector<float>> values;  // by value column
    std::vector<double> times;
    std::size_t lines = 0, rows = 0, empty = 0;
    std::size_t faultyLine = 0;  // counted from 1 in the block, 0 when sound
    std::string reason;
};

class BlockReader {
public:
    explicit BlockReader(const CsvGuess& guess) : guess_(guess)
    {
        for (const auto& c : guess.columns)
            values_ += c.use == CsvGuess::Use::Value ? 1U : 0U;
    }

    // `block` comes with its text; the rest of it is what an earlier one left behind.
    Block read(Block block, std::size_t skipLines) const
    {
        const std::size_t most = block.text.size() / 12;
        block.values.resize(values_);
        for (auto& column : block.values)
            column.clear(), column.reserve(most);
        block.times.clear();
        block.lines = block.rows = block.empty = 0;
        const char* p = block.text.data();
        const char* end = p + block.text.size();
        while (p < end) {
            ++block.lines;
            const bool figure = static_cast<unsigned char>(*p - '0') < 10 || *p == '-';
            if (block.lines <= skipLines || (!figure && isNoRow(p, end)))
                p = lineEnd(p, end);
            else if (!row(p, end, block)) {
                block.faultyLine = block.lines;
                break;
            }
            ++p;
        }
        return block;
    }

private:
    static bool faulty(Block& out, std::string reason)
    {
        out.reason = std::move(reason);
        return false;
    }

    static const char* lineEnd(const char* p, const char* end)
    {
        const void* at = std::memchr(p, '\n', static_cast<std::size_t>(end - p));
        return at ? static_cast<const char*>(at) : end;
    }

    static bool isNoRow(const char* p, const char* end)
    {
        const std::string_view line(p, static_cast<std::size_t>(lineEnd(p, end) - p));
        return isBlank(line) || isRemark(line);
    }

    // Of the line.
    static bool isEnd(const char* p, const char* end) { return p == end || *p == '\r' || *p == '\n'; }

    // All that it skips comes before any figure or sign.
    const char* skipSpace(const char* p, const char* end) const
    {
        while (p < end && *p <= '"' && (*p == ' ' || *p == '"' || (*p == '\t' && guess_.separator != '\t')))
            ++p;
        return p;
    }

    // Moves on to the line's end.
    bool row(const char*& p, const char* end, Block& out) const
    {
        At at;
        const std::size_t columns = guess_.columns.size();
        while (at.column < columns) {
            double x = 0;
            const char* after = end - p > quickReach ? quickFigure(p, guess_.decimal, x) : nullptr;
            if (!after || (*after != guess_.separator && *after != '\n')) {
                if (!field(p, end, at, out)) return false;
                continue;
            }
            put(x, at, out);
            p = after;
            at.separated = *p == guess_.separator;
            p += at.separated ? 1 : 0;
        }
        while (p < end && *p != '\n' && (*p == guess_.separator || *p == ' ' || *p == '\r' || *p == '\t'))
            ++p;
        if (p < end && *p != '\n') return faulty(out, fmt::format("has more than {} columns", columns));
        ++out.rows;
        return true;
    }

    struct At {
        std::size_t column = 0, value = 0;
        bool separated = true;  // from the field before
    };

    void put(double x, At& at, Block& out) const
    {
        const auto& column = guess_.columns[at.column++];
        if (column.use == CsvGuess::Use::Value)
            out.values[at.value++].push_back(static_cast<float>(x));
        else if (column.use == CsvGuess::Use::Time)
            out.times.push_back(x * column.unitScale);
    }

    // A field of any kind, with all that may be wrong.
    bool field(const char*& p, const char* end, At& at, Block& out) const
    {
        const std::size_t c = at.column;
        p = skipSpace(p, end);
        double x = std::nan("");
        const bool empty = isEnd(p, end) || *p == guess_.separator;
        if (!empty) {
            const char* after = scanFigure(p, end, guess_.decimal, x);
            if (isOldNoFigure(p, end, guess_.decimal)) {
                after = p;
                while (after < end && *after != guess_.separator && *after != '"' && !isEnd(after, end))
                    ++after;
                x = HUGE_VAL;
            }
            if (!after) return faulty(out, notAFigure(p, end, c));
            p = skipSpace(after, end);
            // No figure, as the recorder itself says: a gap. An empty field is something else, see fillEmpty().
            if (!std::isfinite(static_cast<float>(x))) x = HUGE_VAL;
        }
        if (empty && isEnd(p, end) && (!at.separated || c + 1 < guess_.columns.size()))
            return faulty(out, fmt::format("has {} columns instead of {}", c, guess_.columns.size()));
        const auto use = guess_.columns[c].use;
        if (empty && use == CsvGuess::Use::Time) return faulty(out, "has no time");
        if (empty && use == CsvGuess::Use::Value) ++out.empty;
        put(x, at, out);
        at.separated = p < end && *p == guess_.separator;
        if (at.separated)
            ++p;
        else if (!isEnd(p, end) && guess_.separator != ' ')
            return faulty(out, notAFigure(p, end, c));
        return true;
    }

    std::string notAFigure(const char* p, const char* end, std::size_t column) const
    {
        std::string text(p,
                         std::find_if(p, end, [&](char c) { return c == guess_.separator || c == '\r' || c == '\n'; }));
        if (text.size() > 24) text = text.substr(0, 24) + "…";
        return fmt::format("column {}: “{}” is no figure", column + 1, text);
    }

    const CsvGuess& guess_;
    std::size_t values_ = 0;
};

struct Table {
    std::vector<std::vector<float>> values;
    std::vector<double> times;
    std::size_t lines = 0, rows = 0, empty = 0;
    std::vector<std::size_t> firstRowOfBlock, firstLineOfBlock;
};

// `share`: of the file, that the first block is.
Result<void> append(const std::string& path, const Block& block, double share, Table& table)
{
    if (block.faultyLine > 0)
        return fail(fmt::format("{}, line {}", path, table.lines + block.faultyLine), block.reason);
    table.values.resize(block.values.size());
    if (table.rows == 0 && share > 0) {
        const auto expected = static_cast<std::size_t>(1.02 * static_cast<double>(block.rows) / share);
        for (auto& column : table.values)
            column.reserve(std::min(expected, mostRows));
        if (!block.times.empty()) table.times.reserve(std::min(expected, mostRows));
    }
    for (std::size_t c = 0; c < block.values.size(); ++c)
        table.values[c].insert(table.values[c].end(), block.values[c].begin(), block.values[c].end());
    table.times.insert(table.times.end(), block.times.begin(), block.times.end());
    table.firstRowOfBlock.push_back(table.rows);
    table.firstLineOfBlock.push_back(table.lines);
    table.lines += block.lines;
    table.rows += block.rows;
    table.empty += block.empty;
    if (table.rows > mostRows) return fail(path, "has more than 500 million rows");
    return {};
}

// Blocks are read one after the other and turned into figures side by side.
// The whole of it, or its beginning only.
Result<Table> readTable(const std::string& path, const CsvGuess& guess, const Progress& progress, bool whole)
{
    auto text = CsvText::open(path);
    if (!text) return tl::unexpected(text.error());
    const BlockReader reader(guess);
    const std::size_t most = std::max(1U, std::thread::hardware_concurrency());
    Table table;
    std::vector<std::future<Block>> running;
    std::vector<Block> spare;
    std::size_t begun = 0;
    double firstShare = 0;
    const auto finishFirst = [&]() -> Result<void> {
        Block block = running.front().get();
        running.erase(running.begin());
        auto done = append(path, block, firstShare, table);
        spare.push_back(std::move(block));
        return done;
    };
    for (bool more = true; more;) {
        Block block;
        if (!spare.empty()) block = std::move(spare.back()), spare.pop_back();
        auto next = text->next(whole ? block_bytes : beginning_bytes, std::move(block.text));
        if (!next) return tl::unexpected(next.error());
        block.text = std::move(*next);
        more = !block.text.empty() && (whole || begun == 0);
        if (more) {
            if (begun == 0)
                firstShare =
                    static_cast<double>(text->done()) / static_cast<double>(std::max<std::size_t>(1, text->bytes()));
            const std::size_t skip = begun++ == 0 ? guess.headLines : 0;
            running.push_back(std::async(std::launch::async, [&reader, skip, b = std::move(block)]() mutable {
                return reader.read(std::move(b), skip);
            }));
        }
        while (running.size() > (more ? most : 0)) {
            if (const auto done = finishFirst(); !done) return tl::unexpected(done.error());
        }
        if (progress &&
            !progress(static_cast<double>(text->done()) / static_cast<double>(std::max<std::size_t>(1, text->bytes()))))
            return fail(path, "reading was stopped");
    }
    return table;
}

// An empty field repeats the figure above it.
void fillEmpty(std::vector<float>& values)
{
    const auto first = std::find_if(values.begin(), values.end(), [](float v) { return !std::isnan(v); });
    float last = first == values.end() ? 0.0F : *first;
    for (float& v : values)
        last = v = std::isnan(v) ? last : v;
}

// Times that are no figure lie evenly between those that are.
bool fillTimes(std::vector<double>& t)
{
    std::size_t known = t.size();
    for (std::size_t i = 0; i < t.size(); ++i) {
        if (!std::isfinite(t[i])) continue;
        for (std::size_t k = known + 1; known < t.size() && k < i; ++k)
            t[k] = t[known] + (t[i] - t[known]) * static_cast<double>(k - known) / static_cast<double>(i - known);
        known = i;
    }
    return std::all_of(t.begin(), t.end(), [](double x) { return std::isfinite(x); });
}

// Between two rows along a straight line.
void putOnEvenBase(std::vector<float>& values, const std::vector<double>& times, double interval_s)
{
    std::vector<float> out(values.size());
    std::size_t i = 0;
    for (std::size_t k = 0; k < out.size(); ++k) {
        const double t = times.front() + interval_s * static_cast<double>(k);
        while (i + 2 < times.size() && times[i + 1] <= t)
            ++i;
        const double span = times[i + 1] - times[i];
        const double share = span > 0 ? std::clamp((t - times[i]) / span, 0.0, 1.0) : 1.0;
        out[k] = static_cast<float>((1 - share) * static_cast<double>(values[i]) +
                                    share * static_cast<double>(values[i + 1]));
    }
    values = std::move(out);
}

// Remarks and blank lines in between are not counted.
std::size_t lineOfRow(const Table& table, std::size_t row, std::size_t headLines)
{
    const auto at = std::upper_bound(table.firstRowOfBlock.begin(), table.firstRowOfBlock.end(), row) -
                    table.firstRowOfBlock.begin() - 1;
    const auto block = static_cast<std::size_t>(at);
    return table.firstLineOfBlock[block] + row - table.firstRowOfBlock[block] + 1 + (block == 0 ? headLines : 0);
}

Result<void> findBase(const std::string& path, const CsvGuess& guess, Table& table, Recording& recording)
{
    if (table.times.empty()) {
        if (!guess.interval_s) return fail(path, "has no column of time and names no sample interval: say it");
        recording.interval_s = *guess.interval_s;
        return {};
    }
    if (!fillTimes(table.times)) return fail(path, "its first or its last time is no figure");
    const std::vector<double>& t = table.times;
    recording.start_s = t.front();
    recording.interval_s = (t.back() - t.front()) / static_cast<double>(std::max<std::size_t>(1, t.size() - 1));
    double off = 0;
    std::size_t back = 0;
    for (std::size_t i = 1; i < t.size() && back == 0; ++i) {
        if (t[i] < t[i - 1]) back = i;
        off = std::max(off, std::abs(t[i] - t.front() - recording.interval_s * static_cast<double>(i)));
    }
    if (back > 0)
        return fail(fmt::format("{}, about line {}", path, lineOfRow(table, back, guess.headLines)),
                    fmt::format("the time runs backwards, from {:g} s to {:g} s", t[back - 1], t[back]));
    if (!(recording.interval_s > 0)) return fail(path, "its time stands still");
    // A millionth of the whole is the last digit of a time that is written with six.
    if (off <= std::max(evenShare * recording.interval_s, 1e-6 * (t.back() - t.front()))) return {};
    for (auto& column : table.values)
        putOnEvenBase(column, t, recording.interval_s);
    recording.notes.push_back("Its rows do not lie evenly in time; between them it is read along straight lines.");
    return {};
}

}  // namespace

namespace {

Result<Recording> recordingOf(const std::string& path, const CsvGuess& guess, Result<Table> table)
{
    if (!table) return tl::unexpected(table.error());
    if (table->rows < 2) return fail(path, "has fewer than two rows of figures");
    Recording recording;
    recording.name = path.substr(path.rfind('/') + 1);
    for (std::size_t c = 0; table->empty > 0 && c < table->values.size(); ++c)
        fillEmpty(table->values[c]);
    if (const auto base = findBase(path, guess, *table, recording); !base) return tl::unexpected(base.error());
    if (table->empty > 0)
        recording.notes.push_back(fmt::format("{} empty fields repeat the figure above them.", table->empty));
    std::size_t value = 0;
    for (const auto& column : guess.columns) {
        if (column.use != CsvGuess::Use::Value) continue;
        Channel channel;
        channel.name = column.name;
        channel.recordedUnit = column.unit;
        channel.unitScale = column.unitScale;
        std::vector<float>& values = table->values[value++];
        channel.gaps = takeGaps(values);
        if (!channel.gaps.empty()) {
            const std::size_t row = std::min(channel.gaps.front().first, table->rows - 1);
            recording.notes.push_back(gapWords(
                channel.gaps, fmt::format("line {}, {}", lineOfRow(*table, row, guess.headLines), column.name)));
        }
        channel.samples = Samples(std::move(values));
        applyScale(channel);
        recording.channels.push_back(std::move(channel));
    }
    if (recording.channels.empty()) return fail(path, "no column of it is a channel");
    return recording;
}

}  // namespace

Result<Recording> readCsv(const std::string& path, const CsvGuess& guess, const Progress& progress)
{
    return recordingOf(path, guess, readTable(path, guess, progress, true));
}

Result<Recording> readCsvBeginning(const std::string& path, const CsvGuess& guess)
{
    return recordingOf(path, guess, readTable(path, guess, {}, false));
}

}  // namespace ilvek
