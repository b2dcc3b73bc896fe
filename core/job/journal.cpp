#include "job/journal.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fcntl.h>
#include <fmt/format.h>
#include <sqlite3.h>
#include <sys/file.h>
#include <unistd.h>

#include <cerrno>

namespace ilvek {

namespace {

constexpr int applicationId = 0x494C564B;  // "ILVK"
constexpr int schemaVersion = 1;

constexpr const char* schema = R"sql(
CREATE TABLE job(key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
CREATE TABLE event(id INTEGER PRIMARY KEY, time TEXT NOT NULL, kind TEXT NOT NULL, body TEXT NOT NULL);
CREATE TRIGGER event_is_never_changed BEFORE UPDATE ON event BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
CREATE TRIGGER event_is_never_removed BEFORE DELETE ON event BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
)sql";

// Words for the failures people meet.
std::string reasonOf(const SQLite::Exception& error)
{
    switch (error.getErrorCode()) {
        case SQLITE_FULL:
            return "the disk is full; nothing was taken over, all earlier entries are safe";
        case SQLITE_READONLY:
        case SQLITE_CANTOPEN:
        case SQLITE_PERM:
            return "the place cannot be written to";
        case SQLITE_BUSY:
        case SQLITE_LOCKED:
            return "another program holds the file";
        case SQLITE_NOTADB:
            return "this is not a job file of Ilvek";
        case SQLITE_CORRUPT:
            return "the file is damaged";
        case SQLITE_IOERR:
            return "the disk reports an error; all earlier entries are safe";
        default:
            return std::string("the job file cannot be used: ") + error.what();
    }
}

// One writer per job, held by the kernel and so released however the program ends.
class JobLock {
public:
    JobLock() = default;
    JobLock(const JobLock&) = delete;
    JobLock& operator=(const JobLock&) = delete;
    ~JobLock()
    {
        if (file_ >= 0) ::close(file_);
    }

    Result<void> take(const std::filesystem::path& job)
    {
        const std::string path = job.string() + ".lock";
        file_ = ::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644);
        if (file_ < 0) return fail(job.string(), "the place cannot be written to");
        if (::flock(file_, LOCK_EX | LOCK_NB) == 0) return {};
        return fail(job.string(), "this job is open in another Ilvek; close it there first");
    }

private:
    int file_ = -1;
};

}  // namespace

struct Journal::Store {
    std::filesystem::path path;
    JobLock lock;
    std::unique_ptr<SQLite::Database> database;
    std::string map;
    std::vector<Event> events;

    void configure()
    {
        database->exec("PRAGMA journal_mode=WAL");
        database->exec("PRAGMA synchronous=FULL");  // an entry is on disk before it is shown as taken
        database->setBusyTimeout(2000);
    }

    void insert(const Event& event)
    {
        SQLite::Statement insert(*database, "INSERT INTO event(id, time, kind, body) VALUES(?, ?, ?, ?)");
        insert.bind(1, static_cast<int64_t>(event.id));
        insert.bind(2, writeTime(event.time_ms));
        insert.bind(3, std::string(eventKind(event.body)));
        insert.bind(4, writeBody(event.body));
        insert.exec();
    }

    Result<void> load()
    {
        const std::string name = path.filename().string();
        if (database->execAndGet("PRAGMA application_id").getInt() != applicationId)
            return fail(path.string(), "this is not a job file of Ilvek");
        const int version = database->execAndGet("PRAGMA user_version").getInt();
        if (version > schemaVersion)
            return fail(path.string(), "was written by a newer Ilvek; this one cannot read it");
        if (database->execAndGet("PRAGMA quick_check(1)").getString() != "ok")
            return fail(path.string(), "the file is damaged");
        SQLite::Statement mapRow(*database, "SELECT value FROM job WHERE key = 'map'");
        if (!mapRow.executeStep()) return fail(path.string(), "the map of the job is missing in it");
        map = mapRow.getColumn(0).getString();
        SQLite::Statement rows(*database, "SELECT id, time, kind, body FROM event ORDER BY id");
        while (rows.executeStep()) {
            Event event;
            event.id = rows.getColumn(0).getInt64();
            const std::string item = fmt::format("{}: entry {}", name, event.id);
            const auto time = readTime(rows.getColumn(1).getString());
            if (!time) return fail(item, time.error().message());
            event.time_ms = *time;
            auto body = readBody(rows.getColumn(2).getString(), rows.getColumn(3).getString(), item);
            if (!body) return tl::unexpected(body.error());
            event.body = std::move(*body);
            events.push_back(std::move(event));
        }
        return {};
    }
};

Journal::Journal(std::unique_ptr<Store> store) : store_(std::move(store)) {}
Journal::Journal(Journal&&) noexcept = default;
Journal& Journal::operator=(Journal&&) noexcept = default;
Journal::~Journal() = default;

Result<Journal> Journal::create(const std::filesystem::path& path, const std::string& mapDocument)
{
    std::error_code code;
    if (std::filesystem::exists(path, code)) return fail(path.string(), "a file of this name exists already");
    if (path.has_parent_path()) std::filesystem::create_directories(path.parent_path(), code);
    auto store = std::make_unique<Store>();
    store->path = path;
    if (auto locked = store->lock.take(path); !locked) return tl::unexpected(locked.error());
    try {
        store->database =
            std::make_unique<SQLite::Database>(path.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        store->configure();
        SQLite::Transaction transaction(*store->database);
        store->database->exec(fmt::format("PRAGMA application_id={}", applicationId));
        store->database->exec(fmt::format("PRAGMA user_version={}", schemaVersion));
        store->database->exec(schema);
        SQLite::Statement insert(*store->database, "INSERT INTO job(key, value) VALUES('map', ?)");
        insert.bind(1, mapDocument);
        insert.exec();
        transaction.commit();
        store->map = mapDocument;
    } catch (const SQLite::Exception& error) {
        return fail(path.string(), reasonOf(error));
    }
    return Journal(std::move(store));
}

Result<Journal> Journal::open(const std::filesystem::path& path, Access access)
{
    std::error_code code;
    if (!std::filesystem::exists(path, code)) return fail(path.string(), "there is no such file");
    if (!std::filesystem::is_regular_file(path, code)) return fail(path.string(), "this is not an ordinary file");
    auto store = std::make_unique<Store>();
    store->path = path;
    try {
        if (access == Access::ReadWrite) {
            if (::access(path.c_str(), W_OK) != 0) return fail(path.string(), "the file cannot be written to");
            // A look before the lock file is made, so that nothing appears beside a foreign file.
            SQLite::Database probe(path.string(), SQLite::OPEN_READONLY);
            if (probe.execAndGet("PRAGMA application_id").getInt() != applicationId)
                return fail(path.string(), "this is not a job file of Ilvek");
            if (auto locked = store->lock.take(path); !locked) return tl::unexpected(locked.error());
            store->database = std::make_unique<SQLite::Database>(path.string(), SQLite::OPEN_READWRITE);
            store->configure();
        } else {
            const bool placeIsWritable =
                ::access(path.parent_path().empty() ? "." : path.parent_path().c_str(), W_OK) == 0;
            const std::string uri = "file:" + path.string() + (placeIsWritable ? "" : "?immutable=1");
            store->database = std::make_unique<SQLite::Database>(uri, SQLite::OPEN_READONLY | SQLite::OPEN_URI);
        }
        if (auto loaded = store->load(); !loaded) return tl::unexpected(loaded.error());
    } catch (const SQLite::Exception& error) {
        return fail(path.string(), reasonOf(error));
    }
    return Journal(std::move(store));
}

Result<Event> Journal::append(EventBody body, std::int64_t time_ms)
{
    Event event{store_->events.empty() ? 1 : store_->events.back().id + 1, time_ms, std::move(body)};
    try {
        store_->insert(event);
    } catch (const SQLite::Exception& error) {
        return fail(store_->path.string(), reasonOf(error));
    }
    store_->events.push_back(std::move(event));
    return store_->events.back();
}

Result<void> Journal::appendAll(std::vector<Event> events)
{
    std::int64_t next = store_->events.empty() ? 1 : store_->events.back().id + 1;
    try {
        SQLite::Transaction transaction(*store_->database);
        for (Event& event : events) {
            event.id = next++;
            store_->insert(event);
        }
        transaction.commit();
    } catch (const SQLite::Exception& error) {
        return fail(store_->path.string(), reasonOf(error));
    }
    for (Event& event : events)
        store_->events.push_back(std::move(event));
    return {};
}

const std::vector<Event>& Journal::events() const
{
    return store_->events;
}

const std::string& Journal::mapDocument() const
{
    return store_->map;
}

const std::filesystem::path& Journal::path() const
{
    return store_->path;
}

}  // namespace ilvek
