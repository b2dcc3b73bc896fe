// The job file: an SQLite database of application "ILVK" (docs/formats.md). Made whole in memory, so that a file of
// this kind is never seen half; read with every damage named.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "job/job_content.h"

namespace SQLite {
class Database;
class Exception;
}  // namespace SQLite

namespace ilvek {

// What a job file gave, and what is wrong with it. Entries that cannot be read are in `content.setAside`.
struct JobFile {
    JobContent content;
    std::vector<std::string> damage;  // of the file itself: it must not be written into
};

// One row of the journal as it stands in the file. `seal` is empty in files of version 1.
struct EntryRow {
    std::int64_t id = 0;
    std::string time, kind, body, seal;
};

// The bytes of a new job file. ERRORS: no memory.
Result<std::string> jobFileBytes(const JobContent& content);

// Whether the header is that of a job file. REQUIRES: SQLite can open it.
bool isJobFile(SQLite::Database& database);

// Everything in an open database. With a damage of the file itself, its bytes are searched instead (job/salvage.h).
// ERRORS: not a job file; written by a newer Ilvek; no map that can be read.
Result<JobFile> readJobFile(SQLite::Database& database, const std::string& path);

// Brings a file of an older version to today's; entries are left as they are.
// ERRORS (by exception of SQLite): the place cannot be written to, disk full.
void upgradeJobFile(SQLite::Database& database);

void insertEvent(SQLite::Database& database, const Event& event);

// Checksum of a row: CRC-32 (zlib) over number, time, kind and body, each ended by a zero byte, as eight hex digits.
std::string sealOf(const EntryRow& row);
std::string sealOf(std::string_view text);
// Takes a row over, as an entry or set aside.
void takeRow(EntryRow row, JobContent& content);

// Words for the failures people meet.
std::string reasonOf(const SQLite::Exception& error);

}  // namespace ilvek
