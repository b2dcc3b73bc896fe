#include "logbook/logbook.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>

#include <map>

#include "base/stop.h"
#include "base/text.h"
#include "job/journal.h"
#include "logbook/logged_job.h"

namespace ilvek {

namespace {

constexpr int version = 2;
constexpr int busy_ms = 2000;
constexpr int filesInOne = 50;  // of a transaction: stopped, no more is read twice

constexpr const char* schema = R"sql(
CREATE TABLE job(file TEXT PRIMARY KEY, size INTEGER, changed INTEGER, title TEXT, machine TEXT, complaint TEXT,
                 closed TEXT, owes INTEGER, waits INTEGER, last INTEGER, entries INTEGER, trouble TEXT);
CREATE INDEX by_last ON job(last DESC);
CREATE VIRTUAL TABLE said USING fts5(words, tokenize = 'unicode61 remove_diacritics 2');
)sql";

struct Stamp {
    std::int64_t size = 0, changed = 0;
    bool operator==(const Stamp&) const = default;
};

Stamp stampOf(const std::filesystem::path& file)
{
    std::error_code none;
    const auto size = std::filesystem::file_size(file, none);
    const auto changed = std::filesystem::last_write_time(file, none);
    return {static_cast<std::int64_t>(size), static_cast<std::int64_t>(changed.time_since_epoch().count())};
}

// "relay K2" finds what holds words that begin so: "relay"* "K2"*.
std::string matchOf(const std::string& words)
{
    std::string out, one;
    const auto end = [&] {
        if (!one.empty()) out += (out.empty() ? "\"" : " \"") + one + "\"*";
        one.clear();
    };
    for (const char c : words) {
        if (static_cast<unsigned char>(c) <= 0x20)
            end();
        else if (c != '"')
            one += c;
    }
    end();
    return out;
}

}  // namespace

struct Logbook::Index {
    explicit Index(const std::filesystem::path& path)
        : db(path.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE, busy_ms)
    {
        db.exec("PRAGMA journal_mode=WAL");
        db.exec("PRAGMA synchronous=OFF");  // derived: what a crash loses is read again
        if (db.execAndGet("PRAGMA user_version").getInt() == version) return;
        SQLite::Transaction all(db);
        for (const char* table : {"said", "job"})
            db.exec(fmt::format("DROP TABLE IF EXISTS {}", table));
        db.exec(schema);
        db.exec(fmt::format("PRAGMA user_version={}", version));
        all.commit();
    }

    void forget(const std::string& file)
    {
        SQLite::Statement words(db, "DELETE FROM said WHERE rowid IN (SELECT rowid FROM job WHERE file = ?)");
        words.bind(1, file);
        words.exec();
        SQLite::Statement job(db, "DELETE FROM job WHERE file = ?");
        job.bind(1, file);
        job.exec();
    }

    void keep(const LoggedJob& job, const Stamp& stamp, const std::string& words)
    {
        forget(job.file.string());
        SQLite::Statement s(db, "INSERT INTO job VALUES(?,?,?,?,?,?,?,?,?,?,?,?)");
        s.bind(1, job.file.string()), s.bind(2, stamp.size), s.bind(3, stamp.changed);
        s.bind(4, job.title), s.bind(5, job.machine), s.bind(6, job.complaint), s.bind(7, job.closed);
        s.bind(8, job.owes ? 1 : 0), s.bind(9, job.waits ? 1 : 0), s.bind(10, job.last_ms), s.bind(11, job.entries);
        s.bind(12, job.trouble);
        s.exec();
        SQLite::Statement said(db, "INSERT INTO said(rowid, words) VALUES(?,?)");
        said.bind(1, db.getLastInsertRowid()), said.bind(2, words);
        said.exec();
    }

    std::map<std::string, Stamp> known()
    {
        std::map<std::string, Stamp> out;
        SQLite::Statement s(db, "SELECT file, size, changed FROM job");
        while (s.executeStep())
            out[s.getColumn(0).getString()] = {s.getColumn(1).getInt64(), s.getColumn(2).getInt64()};
        return out;
    }

    void read(const std::filesystem::path& file, const Stamp& stamp)
    {
        const auto journal = Journal::open(file, Access::ReadOnly);
        if (journal) {
            const LoggedJob job = loggedJob(file, journal->content());
            return keep(job, stamp, allWords(job, journal->content()));
        }
        LoggedJob faulty;
        faulty.file = file, faulty.trouble = journal.error().message();
        keep(faulty, stamp, file.stem().string());
    }

    SQLite::Database db;
};

Logbook::Logbook(std::unique_ptr<Index> index) : index_(std::move(index)) {}
Logbook::Logbook(Logbook&&) noexcept = default;
Logbook& Logbook::operator=(Logbook&&) noexcept = default;
Logbook::~Logbook() = default;

Result<Logbook> Logbook::open(const std::filesystem::path& path)
{
    for (const bool again : {false, true}) {
        try {
            return Logbook(std::make_unique<Index>(path));
        } catch (const SQLite::Exception& error) {
            if (again) return fail(path.string(), std::string("the list of jobs cannot be kept here: ") + error.what());
            std::error_code none;
            std::filesystem::remove(path, none);
        }
    }
    return fail(path.string(), "the list of jobs cannot be kept here");
}

Result<int> Logbook::bringUpToDate(const std::filesystem::path& folder)
{
    try {
        auto known = index_->known();
        int read = 0;
        std::error_code none;
        auto part = std::make_unique<SQLite::Transaction>(index_->db);
        for (const auto& entry : std::filesystem::directory_iterator(folder, none)) {
            stopPoint();
            if (entry.path().extension() != ".ilvek") continue;
            const Stamp stamp = stampOf(entry.path());
            const auto before = known.find(entry.path().string());
            const bool same = before != known.end() && before->second == stamp;
            if (before != known.end()) known.erase(before);
            if (same) continue;
            index_->read(entry.path(), stamp);
            if (++read % filesInOne != 0) continue;
            part->commit();
            part = std::make_unique<SQLite::Transaction>(index_->db);
        }
        for (const auto& [gone, stamp] : known)
            index_->forget(gone);
        part->commit();
        return read;
    } catch (const SQLite::Exception& error) {
        return fail(folder.string(), std::string("the list of jobs cannot be kept: ") + error.what());
    }
}

std::vector<LoggedJob> Logbook::find(const std::string& words, int most) const
{
    std::vector<LoggedJob> out;
    try {
        const std::string match = matchOf(words);
        const std::string where = match.empty() ? "" : "WHERE rowid IN (SELECT rowid FROM said WHERE said MATCH ?1) ";
        SQLite::Statement s(index_->db,
                            "SELECT file, title, machine, complaint, closed, owes, waits, last, entries, trouble "
                            "FROM job " +
                                where + "ORDER BY last DESC LIMIT " + std::to_string(most));
        if (!match.empty()) s.bind(1, match);
        while (s.executeStep()) {
            LoggedJob job;
            job.file = s.getColumn(0).getString(), job.title = s.getColumn(1).getString();
            job.machine = s.getColumn(2).getString(), job.complaint = s.getColumn(3).getString();
            job.closed = s.getColumn(4).getString(), job.owes = s.getColumn(5).getInt() != 0;
            job.waits = s.getColumn(6).getInt() != 0;
            job.last_ms = s.getColumn(7).getInt64(), job.entries = s.getColumn(8).getInt();
            job.trouble = s.getColumn(9).getString();
            out.push_back(std::move(job));
        }
    } catch (const SQLite::Exception&) {
        out.clear();  // a word that no search can be made of finds nothing
    }
    return out;
}

}  // namespace ilvek
