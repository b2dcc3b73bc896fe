#include "job/job_file.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>
#include <sqlite3.h>
#include <zlib.h>

#include <algorithm>

#include "base/file.h"
#include "job/salvage.h"

namespace ilvek {

namespace {

constexpr int applicationId = 0x494C564B;  // "ILVK"
constexpr int formatVersion = 2;

constexpr const char* schema = R"sql(
CREATE TABLE job(key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
CREATE TABLE map(copy INTEGER PRIMARY KEY, document TEXT NOT NULL, seal TEXT NOT NULL);
CREATE TABLE event(id INTEGER PRIMARY KEY, time TEXT NOT NULL, kind TEXT NOT NULL, body TEXT NOT NULL, seal TEXT NOT NULL DEFAULT '');
CREATE TABLE set_aside(id INTEGER PRIMARY KEY, time BLOB NOT NULL, kind BLOB NOT NULL, body BLOB NOT NULL, reason TEXT NOT NULL);
CREATE TRIGGER event_is_never_changed BEFORE UPDATE ON event BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
CREATE TRIGGER event_is_never_removed BEFORE DELETE ON event BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
)sql";

// Of version 1 were the map in `job`, and events without a seal.
constexpr const char* upgradeFrom1 = R"sql(
ALTER TABLE event ADD COLUMN seal TEXT NOT NULL DEFAULT '';
CREATE TABLE map(copy INTEGER PRIMARY KEY, document TEXT NOT NULL, seal TEXT NOT NULL);
CREATE TABLE set_aside(id INTEGER PRIMARY KEY, time BLOB NOT NULL, kind BLOB NOT NULL, body BLOB NOT NULL, reason TEXT NOT NULL);
)sql";

int versionOf(SQLite::Database& database)
{
    const int version = database.execAndGet("PRAGMA user_version").getInt();
    if (version <= formatVersion || !database.tableExists("map")) return version;
    // Told twice, so that one damaged byte does not make a newer format of it.
    SQLite::Statement row(database, "SELECT value FROM job WHERE key = 'version'");
    return row.executeStep() ? row.getColumn(0).getInt() : version;
}

void stamp(SQLite::Database& database)
{
    database.exec(fmt::format("PRAGMA user_version={}", formatVersion));
    SQLite::Statement version(database, "INSERT OR REPLACE INTO job(key, value) VALUES('version', ?)");
    version.bind(1, std::to_string(formatVersion));
    version.exec();
}

// Two copies: where one is damaged the other serves.
void insertMap(SQLite::Database& database, const std::string& document)
{
    for (const int copy : {1, 2}) {
        SQLite::Statement insert(database, "INSERT INTO map(copy, document, seal) VALUES(?, ?, ?)");
        insert.bind(1, copy);
        insert.bind(2, document);
        insert.bind(3, sealOf(document));
        insert.exec();
    }
}

// The first copy that is as it was written; of version 1 the only one.
std::string mapOf(SQLite::Database& database, int version)
{
    if (version < 2) {
        SQLite::Statement row(database, "SELECT value FROM job WHERE key = 'map'");
        return row.executeStep() ? row.getColumn(0).getString() : "";
    }
    SQLite::Statement copies(database, "SELECT document, seal FROM map ORDER BY copy");
    while (copies.executeStep()) {
        std::string document = copies.getColumn(0).getString();
        if (sealOf(document) == copies.getColumn(1).getString()) return document;
    }
    return "";
}

void readSetAside(SQLite::Database& database, JobContent& content)
{
    SQLite::Statement rows(database, "SELECT id, time, kind, body, reason FROM set_aside ORDER BY id");
    while (rows.executeStep())
        content.setAside.push_back({rows.getColumn(0).getInt64(), rows.getColumn(1).getString(),
                                    rows.getColumn(2).getString(), rows.getColumn(3).getString(),
                                    rows.getColumn(4).getString()});
}

void insertSetAside(SQLite::Database& database, const SetAside& entry)
{
    SQLite::Statement insert(database,
                             "INSERT OR IGNORE INTO set_aside(id, time, kind, body, reason) VALUES(?, ?, ?, ?, ?)");
    const auto blob = [&](int at, const std::string& bytes) {
        insert.bind(at, bytes.data(), static_cast<int>(bytes.size()));
    };
    insert.bind(1, static_cast<int64_t>(entry.id));
    blob(2, entry.time), blob(3, entry.kind), blob(4, entry.body);
    insert.bind(5, entry.reason);
    insert.exec();
}

void readRows(SQLite::Database& database, int version, JobContent& content)
{
    SQLite::Statement rows(database, version < 2 ? "SELECT id, time, kind, body, '' FROM event ORDER BY id"
                                                 : "SELECT id, time, kind, body, seal FROM event ORDER BY id");
    while (rows.executeStep())
        takeRow({rows.getColumn(0).getInt64(), rows.getColumn(1).getString(), rows.getColumn(2).getString(),
                 rows.getColumn(3).getString(), rows.getColumn(4).getString()},
                content);
}

// What SQLite cannot read any more, from the bytes themselves.
Result<JobFile> salvaged(const std::string& path, const std::string& what)
{
    auto found = salvageFile(path);
    if (found.content.events.empty() && found.content.mapDocument.empty())
        return fail(path, "this is not a job file of Ilvek, or nothing in it can be read any more (" + what + ")");
    if (found.content.mapDocument.empty())
        return fail(path,
                    "the map of the job cannot be read any more; “ilvek-cli job rescue” takes another copy of it");
    return found;
}

void sortSetAside(JobContent& content)
{
    std::stable_sort(content.setAside.begin(), content.setAside.end(),
                     [](const SetAside& x, const SetAside& y) { return x.id < y.id; });
}

}  // namespace

std::string setAsideWords(const SetAside& entry)
{
    return fmt::format("Entry {} cannot be read and counts for nothing; it is kept as it is. {}", entry.id,
                       entry.reason);
}

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

std::string sealOf(std::string_view text)
{
    const auto* bytes = reinterpret_cast<const Bytef*>(text.data());
    return fmt::format("{:08x}", crc32_z(0, bytes, text.size()));
}

std::string sealOf(const EntryRow& row)
{
    std::string all = std::to_string(row.id);
    for (const std::string* part : {&row.time, &row.kind, &row.body}) {
        all += '\0';
        all += *part;
    }
    return sealOf(all + '\0');
}

void takeRow(EntryRow row, JobContent& content)
{
    const auto setAside = [&](std::string reason) {
        content.setAside.push_back(
            {row.id, std::move(row.time), std::move(row.kind), std::move(row.body), std::move(reason)});
    };
    if (!row.seal.empty() && row.seal != sealOf(row))
        return setAside("It is no longer as it was written: the disk or another program changed it.");
    const auto time = readTime(row.time);
    if (!time) return setAside("Its time cannot be read: " + time.error().message() + ".");
    auto body = readBody(row.kind, row.body, "it");
    if (!body) return setAside("Reason: " + body.error().message() + ".");
    if (row.id < 1) return setAside("Its number is none.");
    content.events.push_back({row.id, *time, std::move(*body)});
}

void insertEvent(SQLite::Database& database, const Event& event)
{
    EntryRow row{event.id, writeTime(event.time_ms), std::string(eventKind(event.body)), writeBody(event.body), ""};
    SQLite::Statement insert(database, "INSERT INTO event(id, time, kind, body, seal) VALUES(?, ?, ?, ?, ?)");
    insert.bind(1, static_cast<int64_t>(row.id));
    insert.bind(2, row.time);
    insert.bind(3, row.kind);
    insert.bind(4, row.body);
    insert.bind(5, sealOf(row));
    insert.exec();
}

Result<std::string> jobFileBytes(const JobContent& content)
{
    try {
        SQLite::Database database(":memory:", SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        database.exec("PRAGMA page_size=4096");
        SQLite::Transaction transaction(database);
        database.exec(fmt::format("PRAGMA application_id={}", applicationId));
        database.exec(schema);
        stamp(database);
        insertMap(database, content.mapDocument);
        for (const Event& event : content.events)
            insertEvent(database, event);
        for (const SetAside& entry : content.setAside)
            insertSetAside(database, entry);
        transaction.commit();
        sqlite3_int64 size = 0;
        unsigned char* bytes = sqlite3_serialize(database.getHandle(), "main", &size, 0);
        if (!bytes) return fail("the job", "there is not enough memory for it");
        std::string out(reinterpret_cast<const char*>(bytes), static_cast<std::size_t>(size));
        sqlite3_free(bytes);
        return out;
    } catch (const SQLite::Exception& error) {
        return fail("the job", reasonOf(error));
    }
}

bool isJobFile(SQLite::Database& database)
{
    return database.execAndGet("PRAGMA application_id").getInt() == applicationId;
}

Result<JobFile> readJobFile(SQLite::Database& database, const std::string& path)
{
    JobFile file;
    try {
        const int version = versionOf(database);
        if (version > formatVersion) return fail(path, "was written by a newer Ilvek; this one cannot read it");
        if (const std::string check = database.execAndGet("PRAGMA quick_check(1)").getString(); check != "ok")
            return salvaged(path, check);
        file.content.mapDocument = mapOf(database, version);
        readRows(database, version, file.content);
        if (version >= 2) readSetAside(database, file.content);
    } catch (const SQLite::Exception& error) {
        return salvaged(path, error.what());
    }
    if (file.content.mapDocument.empty()) return salvaged(path, "its map is missing");
    sortSetAside(file.content);
    return file;
}

void upgradeJobFile(SQLite::Database& database)
{
    const int version = versionOf(database);
    if (version >= formatVersion) return;
    SQLite::Transaction transaction(database);
    const std::string map = mapOf(database, version);
    database.exec(upgradeFrom1);
    stamp(database);
    insertMap(database, map);
    transaction.commit();
}

}  // namespace ilvek
