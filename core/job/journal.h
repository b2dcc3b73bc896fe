// The journal of one job on disk: append-only events and the map they were made with, in an SQLite file.
#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "base/result.h"
#include "job/job_content.h"

namespace ilvek {

enum class Access { ReadWrite, ReadOnly };

// Not thread-safe; one owner. Moves, does not copy. Between two entries the file alone is the whole job.
class Journal {
public:
    // Makes a new job file, whole or not at all. Numbers of entries are kept.
    // ERRORS: the file exists, the place is read-only or full.
    static Result<Journal> create(const std::filesystem::path& path, JobContent content);
    static Result<Journal> create(const std::filesystem::path& path, const std::string& mapDocument);
    // Opens an existing one. An entry that cannot be read is set aside and the rest is there; a file that is damaged
    // itself is searched for its entries and can then only be read. Reading along changes nothing on disk and needs
    // no right to write.
    // ERRORS: no such file; not a job file of Ilvek; nothing in it can be read; written by a newer Ilvek; read-write
    // only: open in another Ilvek, read-only place.
    static Result<Journal> open(const std::filesystem::path& path, Access access = Access::ReadWrite);

    Journal(Journal&&) noexcept;
    Journal& operator=(Journal&&) noexcept;
    ~Journal();

    // Writes one entry. When this returns the entry is on disk and survives a crash of the program and of the system,
    // and it can be read back: it was checked by the reader's own rules.
    // ERRORS: the reader would not take it (the field and why); disk full; the file is no longer where it was, or is
    // another (what to do); opened for reading only. The journal is then as before.
    Result<Event> append(EventBody body, std::int64_t time_ms);
    // Several in one go, all or none. REQUIRES: at least one. Returns the last.
    Result<Event> append(std::vector<EventBody> bodies, std::int64_t time_ms);

    const JobContent& content() const;
    const std::vector<Event>& events() const { return content().events; }
    const std::string& mapDocument() const { return content().mapDocument; }
    const std::filesystem::path& path() const;
    // Why nothing can be entered; empty when entries can.
    const std::string& readOnlyBecause() const;
    // What is wrong with the file itself; empty when nothing is.
    const std::string& damage() const;

private:
    struct Store;
    explicit Journal(std::unique_ptr<Store> store);
    static Result<Journal> readAlong(std::unique_ptr<Store> store);
    static Result<Journal> search(std::unique_ptr<Store> store, const std::string& why);
    std::unique_ptr<Store> store_;
};

}  // namespace ilvek
