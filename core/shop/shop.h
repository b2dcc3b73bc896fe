// Jobs, machines and known-good figures shared by the benches of a shop, over a PostgreSQL server. A bench needs it for
// nothing: its own journal is the truth, entries are pushed when the server is there.
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "base/result.h"
#include "job/job_content.h"

namespace ilvek {

struct SharedJob {
    std::string key, title, machine, state;
    std::string holder;  // the bench that works on it; empty: nobody, it may be taken
    std::int64_t entries = 0;
    std::string changed;  // by the server's clock
};

struct SharedFile {
    std::string kind, name;  // "machine", "known-good", "own-cases"
    std::string body;
};

// The same job on every bench, also as a copy that was handed over: made of its map and its first entry. Empty: it has
// no entry yet and is not shared.
std::string jobKey(const JobContent& content);

// Whether a server line may be kept in a file: it holds no password. ERRORS: it does; where to put it instead.
Result<void> checkServerLine(const std::string& line);

// One connection. Not thread-safe. Every call is one transaction: done, or as if it had not been tried.
class Shop {
public:
    // `server` as libpq takes it ("host=… dbname=… sslmode=verify-full", or a service); passwords come from where libpq
    // looks for them (its pass file, the environment), and TLS is as libpq does it. Makes the tables where there are
    // none. `bench` is how this place is called. ERRORS: not reachable; refused; tables of a newer Ilvek.
    static Result<Shop> connect(const std::string& server, const std::string& bench);
    Shop(Shop&&) noexcept;
    Shop& operator=(Shop&&) noexcept;
    ~Shop();

    // Entries of the job that the server does not have yet; how many they were. The job is this bench's from then on.
    // ERRORS: another bench works on it (which, since when); the server has other entries under these numbers: two
    // benches went on with copies of one job, and neither is written over; connection lost.
    Result<std::int64_t> push(const JobContent& content, const std::string& title, const std::string& state);
    // The last changed first. ERRORS: connection lost.
    Result<std::vector<SharedJob>> jobs();
    // The whole job; with `take` it is this bench's. ERRORS: no such job; to be taken and another bench works on it.
    Result<JobContent> fetch(const std::string& key, bool take);
    // Given back, so that another bench may take it. ERRORS: it is not this bench's.
    Result<void> release(const std::string& key);

    // ERRORS: connection lost.
    Result<void> put(const SharedFile& file);
    Result<std::vector<SharedFile>> files(const std::string& kind);

private:
    struct Connection;
    explicit Shop(std::unique_ptr<Connection> connection);
    std::unique_ptr<Connection> connection_;
};

}  // namespace ilvek
