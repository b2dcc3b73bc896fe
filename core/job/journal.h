// The journal of one job on disk: append-only events and the map they were made with, in an SQLite file.
#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "base/result.h"
#include "job/event.h"

namespace ilvek {

enum class Access { ReadWrite, ReadOnly };

// Not thread-safe; one owner. Moves, does not copy.
class Journal {
public:
    // Makes a new job file around a map. ERRORS: the file exists, the place is read-only or full.
    static Result<Journal> create(const std::filesystem::path& path, const std::string& mapDocument);
    // Opens an existing one. ERRORS: no such file; not a job file of Ilvek; damaged (names the entry); written by a
    // newer Ilvek; read-write only: open in another Ilvek, read-only place.
    static Result<Journal> open(const std::filesystem::path& path, Access access = Access::ReadWrite);

    Journal(Journal&&) noexcept;
    Journal& operator=(Journal&&) noexcept;
    ~Journal();

    // Writes one entry. When this returns the entry is on disk and survives a crash of the program and of the system.
    // ERRORS: disk full, place gone; the journal is then as before.
    Result<Event> append(EventBody body, std::int64_t time_ms);
    // Several entries in one go, all or none; ids are given anew from the next free number.
    Result<void> appendAll(std::vector<Event> events);

    const std::vector<Event>& events() const;
    const std::string& mapDocument() const;
    const std::filesystem::path& path() const;

private:
    struct Store;
    explicit Journal(std::unique_ptr<Store> store);
    std::unique_ptr<Store> store_;
};

}  // namespace ilvek
