#include "job/journal.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cstdlib>
#include <fstream>

#include "base/expects.h"
#include "base/file.h"
#include "job/job_file.h"
#include "job/salvage.h"

namespace ilvek {

namespace {

constexpr const char* advice = " Nothing more was taken. Everything up to here is in memory: save the job elsewhere.";

// One writer per job, held by the kernel on the file itself, by whatever name it was reached, and so released however
// the program ends. The byte lies beyond all that SQLite locks (it uses the second gigabyte).
// Closing any other handle of this file in this program would drop SQLite's own locks, so this one is closed last.
class HeldFile {
public:
    HeldFile() = default;
    HeldFile(const HeldFile&) = delete;
    HeldFile& operator=(const HeldFile&) = delete;
    ~HeldFile()
    {
        if (file_ >= 0) ::close(file_);
    }

    Result<void> take(const std::filesystem::path& path)
    {
        path_ = path;
        file_ = ::open(path.c_str(), O_RDWR | O_CLOEXEC);
        if (file_ < 0) return fail(path.string(), "the file cannot be written to");
        struct flock lock {};
        lock.l_type = F_WRLCK;
        lock.l_whence = SEEK_SET;
        lock.l_start = off_t{1} << 60;
        lock.l_len = 1;
        if (::fcntl(file_, F_OFD_SETLK, &lock) == 0) return {};
        return fail(path.string(), "this job is open in another Ilvek; close it there first");
    }

    // The size and the change counter that the file has from now on.
    void remember()
    {
        struct stat held {};
        if (::fstat(file_, &held) == 0) size_ = held.st_size;
        changes_ = changes();
    }

    // Whether the file is still what and where it was, and as it was left. ERRORS: it is not, and what to do.
    Result<void> isInPlace() const
    {
        if (auto there = isStillThere(); !there) return there;
        if (changes() == changes_) return {};
        return fail(path_.string(), std::string("the job file was changed by another program.") + advice);
    }

    // The same where it was just written into.
    Result<void> isStillThere() const
    {
        struct stat held = {};
        struct stat named = {};
        if (::fstat(file_, &held) != 0) return fail(path_.string(), std::string("the job file is gone.") + advice);
        const bool found = ::stat(path_.c_str(), &named) == 0;
        const bool same = found && held.st_dev == named.st_dev && held.st_ino == named.st_ino;
        if (!same && held.st_nlink == 0)
            return fail(path_.string(),
                        std::string(found ? "the job file was replaced by another one." : "the job file was deleted.") +
                            advice);
        if (!same) return fail(path_.string(), "the job file was moved or renamed" + nowAt() + "." + advice);
        if (held.st_size < size_)
            return fail(path_.string(), std::string("the job file was cut short by another program.") + advice);
        return {};
    }

private:
    // SQLite counts its changes in bytes 24 to 27 of the header.
    std::array<char, 4> changes() const
    {
        std::array<char, 4> bytes{};
        return ::pread(file_, bytes.data(), bytes.size(), 24) == 4 ? bytes : std::array<char, 4>{};
    }

    std::string nowAt() const
    {
        std::error_code code;
        const auto now = std::filesystem::read_symlink("/proc/self/fd/" + std::to_string(file_), code);
        return code || now == path_ ? "" : ", to " + now.string();
    }

    int file_ = -1;
    std::filesystem::path path_;
    off_t size_ = 0;
    std::array<char, 4> changes_{};
};

// A folder of our own that goes with its owner.
class PrivateFolder {
public:
    PrivateFolder()
    {
        std::error_code code;
        std::string name = (std::filesystem::temp_directory_path(code) / "ilvek-XXXXXX").string();
        if (::mkdtemp(name.data())) path_ = name;
    }
    PrivateFolder(const PrivateFolder&) = delete;
    PrivateFolder& operator=(const PrivateFolder&) = delete;
    ~PrivateFolder()
    {
        std::error_code ignored;
        if (!path_.empty()) std::filesystem::remove_all(path_, ignored);
    }
    const std::filesystem::path& path() const { return path_; }

private:
    std::filesystem::path path_;
};

// Left by a program that was ended in the middle, or of the older kind of job file: not all is in the file itself.
bool hasUnfinishedWork(const std::filesystem::path& path)
{
    std::error_code code;
    for (const char* ending : {"-wal", "-journal"}) {
        const auto size = std::filesystem::file_size(path.string() + ending, code);
        if (!code && size > 0) return true;
    }
    std::string start(20, '\0');
    std::ifstream(path, std::ios::binary).read(start.data(), 20);
    return start[18] == 2 || start[19] == 2;  // keeps its entries beside itself
}

bool mayWrite(const std::filesystem::path& path)
{
    return ::access(path.c_str(), W_OK) == 0 && ::access(path.parent_path().c_str(), W_OK) == 0;
}

// The body as its reader gives it back: what is in memory is what will be read tomorrow.
Result<Event> asRead(Event event)
{
    auto body = readBody(eventKind(event.body), writeBody(event.body), "");
    if (!body) {
        std::string field = body.error().item;
        std::replace(field.begin(), field.end(), '_', ' ');
        while (field.starts_with(',') || field.starts_with(' '))
            field.erase(0, 1);
        return fail("", (field.empty() ? "" : field + ": ") + body.error().reason);
    }
    event.body = std::move(*body);
    const auto time = readTime(writeTime(event.time_ms));
    if (!time) return fail("", "the clock of this computer is far off; set it first");
    return event;
}

}  // namespace

struct Journal::Store {
    std::filesystem::path path;
    // Destroyed in the reverse order: SQLite closes the file before it is let go.
    HeldFile held;
    std::unique_ptr<SQLite::Database> database;
    JobContent content;
    std::string readOnlyBecause, damage;

    Result<void> load(SQLite::Database& from)
    {
        auto file = readJobFile(from, path.string());
        if (!file) return tl::unexpected(file.error());
        take(std::move(*file));
        return {};
    }

    void take(JobFile file)
    {
        content = std::move(file.content);
        for (const std::string& words : file.damage)
            damage += (damage.empty() ? "" : "; ") + words;
        if (!damage.empty()) readOnlyBecause = damage;
    }

    // Entries are in the file itself, and on disk, before they are shown as taken.
    void configure()
    {
        database->setBusyTimeout(2000);
        database->exec("PRAGMA journal_mode=DELETE");
        database->exec("PRAGMA synchronous=EXTRA");
    }

    std::int64_t nextId() const
    {
        const std::int64_t last = content.events.empty() ? 0 : content.events.back().id;
        return std::max(last, content.setAside.empty() ? 0 : content.setAside.back().id) + 1;
    }
};

Journal::Journal(std::unique_ptr<Store> store) : store_(std::move(store)) {}
Journal::Journal(Journal&&) noexcept = default;
Journal& Journal::operator=(Journal&&) noexcept = default;
Journal::~Journal() = default;

Result<Journal> Journal::create(const std::filesystem::path& path, JobContent content)
{
    std::error_code code;
    if (path.has_parent_path()) std::filesystem::create_directories(path.parent_path(), code);
    for (Event& event : content.events) {
        auto read = asRead(std::move(event));
        if (!read) return tl::unexpected(read.error());
        event = std::move(*read);
    }
    const auto bytes = jobFileBytes(content);
    if (!bytes) return tl::unexpected(bytes.error());
    if (const auto written = writeNewFile(path, *bytes); !written) return tl::unexpected(written.error());
    return open(path);
}

Result<Journal> Journal::create(const std::filesystem::path& path, const std::string& mapDocument)
{
    return create(path, JobContent{mapDocument, {}});
}

Result<Journal> Journal::open(const std::filesystem::path& path, Access access)
{
    std::error_code code;
    if (!std::filesystem::exists(path, code)) return fail(path.string(), "there is no such file");
    if (!std::filesystem::is_regular_file(path, code)) return fail(path.string(), "this is not an ordinary file");
    auto store = std::make_unique<Store>();
    store->path = std::filesystem::canonical(path, code);
    if (code) return fail(path.string(), "cannot be read: " + code.message());
    const std::string file = store->path.string();
    try {
        if (access == Access::ReadOnly) return readAlong(std::move(store));
        if (!mayWrite(store->path)) return fail(path.string(), "the file cannot be written to");
        if (auto held = store->held.take(store->path); !held) return tl::unexpected(held.error());
        {
            // A look before anything is changed, so that nothing happens to a foreign file.
            SQLite::Database look(file, SQLite::OPEN_READONLY);
            if (!isJobFile(look)) return search(std::move(store), "this is not a job file of Ilvek");
        }
        store->database = std::make_unique<SQLite::Database>(file, SQLite::OPEN_READWRITE);
        store->configure();
        if (auto loaded = store->load(*store->database); !loaded) return tl::unexpected(loaded.error());
        if (store->readOnlyBecause.empty()) upgradeJobFile(*store->database);
        store->held.remember();
    } catch (const SQLite::Exception& error) {
        return search(std::move(store), reasonOf(error));
    }
    return Journal(std::move(store));
}

// What can still be found in a file that cannot be opened; where that is nothing, why it could not.
Result<Journal> Journal::search(std::unique_ptr<Store> store, const std::string& why)
{
    store->database.reset();
    auto salvaged = salvageFile(store->path);
    if (salvaged.content.mapDocument.empty()) return fail(store->path.string(), why);
    store->take(std::move(salvaged));
    return Journal(std::move(store));
}

// The file is only ever read: where entries are still beside it, or it cannot be opened as it stands, from a copy.
Result<Journal> Journal::readAlong(std::unique_ptr<Store> store)
{
    store->readOnlyBecause = "opened for reading only";
    const std::string file = store->path.string();
    try {
        const PrivateFolder folder;
        std::string from = file;
        int flags = SQLite::OPEN_READONLY;
        if (hasUnfinishedWork(store->path)) {
            if (folder.path().empty()) return fail(file, "there is no room for a copy to read it from");
            std::error_code code;
            from = (folder.path() / "job").string();
            std::filesystem::copy_file(file, from, code);
            for (const char* ending : {"-wal", "-journal"})
                std::filesystem::copy_file(file + ending, from + ending, code);
            flags = SQLite::OPEN_READWRITE;
        }
        SQLite::Database database(from, flags, 2000);
        if (!isJobFile(database)) return search(std::move(store), "this is not a job file of Ilvek");
        if (auto loaded = store->load(database); !loaded) return tl::unexpected(loaded.error());
    } catch (const SQLite::Exception& error) {
        return search(std::move(store), reasonOf(error));
    }
    return Journal(std::move(store));
}

Result<Event> Journal::append(EventBody body, std::int64_t time_ms)
{
    std::vector<EventBody> one;
    one.push_back(std::move(body));
    return append(std::move(one), time_ms);
}

Result<Event> Journal::append(std::vector<EventBody> bodies, std::int64_t time_ms)
{
    EXPECTS(!bodies.empty());
    const std::string file = store_->path.string();
    if (!store_->readOnlyBecause.empty() || !store_->database)
        return fail(file, "nothing can be entered: " + store_->readOnlyBecause);
    std::vector<Event> events;
    for (EventBody& body : bodies) {
        auto event = asRead({store_->nextId() + static_cast<std::int64_t>(events.size()), time_ms, std::move(body)});
        if (!event) return event;
        events.push_back(std::move(*event));
    }
    if (auto place = store_->held.isInPlace(); !place) return tl::unexpected(place.error());
    try {
        SQLite::Transaction transaction(*store_->database);
        for (const Event& event : events)
            insertEvent(*store_->database, event);
        transaction.commit();
    } catch (const SQLite::Exception& error) {
        return fail(file, reasonOf(error));
    }
    if (auto place = store_->held.isStillThere(); !place) return tl::unexpected(place.error());
    store_->held.remember();
    for (Event& event : events)
        store_->content.events.push_back(std::move(event));
    return store_->content.events.back();
}

const JobContent& Journal::content() const
{
    return store_->content;
}

const std::filesystem::path& Journal::path() const
{
    return store_->path;
}

const std::string& Journal::damage() const
{
    return store_->damage;
}

const std::string& Journal::readOnlyBecause() const
{
    return store_->readOnlyBecause;
}

}  // namespace ilvek
