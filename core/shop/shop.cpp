#include "shop/shop.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>
#include <pqxx/pqxx>

namespace ilvek {

namespace {

constexpr int tables = 1;

constexpr const char* makeTables = R"(
create table if not exists ilvek_version (version int not null);
insert into ilvek_version select 1 where not exists (select 1 from ilvek_version);
create table if not exists ilvek_job (
    key text primary key, title text not null, machine text not null, state text not null, map text not null,
    holder text not null, held_since timestamptz not null default now(), changed timestamptz not null default now());
create table if not exists ilvek_entry (
    job text not null references ilvek_job, id bigint not null, time text not null, kind text not null,
    body text not null, primary key (job, id));
create table if not exists ilvek_file (
    kind text not null, name text not null, body text not null, bench text not null,
    changed timestamptz not null default now(), primary key (kind, name));
)";

std::uint64_t fnv(std::string_view bytes, std::uint64_t hash)
{
    // FNV-1a, 64 bit. SOURCE: Fowler, Noll, Vo.
    for (const char c : bytes)
        hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
    return hash;
}

std::string machineOf(const std::string& map)
{
    const auto doc = nlohmann::json::parse(map, nullptr, false);
    const auto machine = doc.is_object() ? doc.value("machine", nlohmann::json::object()) : nlohmann::json::object();
    return machine.value("maker", "") + " " + machine.value("model", "");
}

// A server that does not answer is given up after some seconds, unless the line says otherwise: a window that closes
// waits for it.
std::string patient(const std::string& line)
{
    constexpr std::pair<const char*, const char*> limits[] = {{"connect_timeout", "5"}, {"tcp_user_timeout", "10000"}};
    const bool address = line.find("://") != std::string::npos;
    std::string out = line;
    for (const auto& [name, value] : limits) {
        if (line.find(name) != std::string::npos) continue;
        out += address ? (out.find('?') == std::string::npos ? "?" : "&") : " ";
        out += fmt::format("{}={}", name, value);
    }
    return out;
}

Error lost(const std::exception& e)
{
    std::string words = e.what();
    while (!words.empty() && (words.back() == '\n' || words.back() == ' '))
        words.pop_back();
    return {"the shop's server", words};
}

}  // namespace

std::string jobKey(const JobContent& content)
{
    if (content.events.empty()) return "";
    const Event& first = content.events.front();
    const std::string begins = writeTime(first.time_ms) + writeBody(first.body);
    return fmt::format("{:016x}", fnv(begins, fnv(content.mapDocument, 14695981039346656037ULL)));
}

Result<void> checkServerLine(const std::string& line)
{
    const auto at = line.find("://");
    const auto user = at == std::string::npos ? std::string::npos : line.find('@', at);
    const bool inAddress =
        user != std::string::npos && line.substr(at + 3, user - at - 3).find(':') != std::string::npos;
    if (line.find("password") != std::string::npos || inAddress)
        return fail("the server line", "holds a password: put it into libpq's own pass file (~/.pgpass) instead");
    return {};
}

struct Shop::Connection {
    Connection(const std::string& server, std::string name) : server_(server), bench(std::move(name)) {}
    pqxx::connection server_;
    std::string bench;
};

Shop::Shop(std::unique_ptr<Connection> connection) : connection_(std::move(connection)) {}
Shop::Shop(Shop&&) noexcept = default;
Shop& Shop::operator=(Shop&&) noexcept = default;
Shop::~Shop() = default;

Result<Shop> Shop::connect(const std::string& server, const std::string& bench)
{
    if (bench.empty()) return fail("this bench", "has no name");
    try {
        auto connection = std::make_unique<Connection>(patient(server), bench);
        pqxx::work work(connection->server_);
        // Two benches that come for the first time do not make the tables at once.
        work.exec("select pg_advisory_xact_lock(74655661)");
        work.exec(makeTables);
        const int version = work.exec1("select version from ilvek_version")[0].as<int>();
        if (version > tables)
            return fail("the shop's server", fmt::format("has tables of version {}: a newer Ilvek made them", version));
        work.commit();
        return Shop(std::move(connection));
    } catch (const std::exception& e) {
        return tl::unexpected(lost(e));
    }
}

Result<std::int64_t> Shop::push(const JobContent& content, const std::string& title, const std::string& state)
{
    const std::string key = jobKey(content);
    if (key.empty()) return 0;
    try {
        pqxx::work work(connection_->server_);
        work.exec_params(
            "insert into ilvek_job (key, title, machine, state, map, holder) values ($1, $2, $3, $4, $5, $6) "
            "on conflict do nothing",
            key, title, machineOf(content.mapDocument), state, content.mapDocument, connection_->bench);
        const auto job = work.exec_params1(
            "select holder, to_char(held_since, 'YYYY-MM-DD HH24:MI') from ilvek_job where key = $1 for update", key);
        const auto holder = job[0].as<std::string>();
        if (!holder.empty() && holder != connection_->bench)
            return fail(title.empty() ? key : title,
                        fmt::format("{} works on this job since {}: one of the two gives it back first", holder,
                                    job[1].as<std::string>()));
        const auto there =
            work.exec_params("select id, time, kind, body from ilvek_entry where job = $1 order by id", key);
        std::size_t same = 0;
        for (const auto& row : there) {
            const auto id = row[0].as<std::int64_t>();
            const bool alike = same < content.events.size() && content.events[same].id == id &&
                               writeTime(content.events[same].time_ms) == row[1].as<std::string>() &&
                               writeBody(content.events[same].body) == row[3].as<std::string>();
            if (!alike)
                return fail(title.empty() ? key : title,
                            fmt::format("the server has another entry {}: two copies of this job were gone on with. "
                                        "Nothing was written; hand one of them over as a file",
                                        id));
            ++same;
        }
        for (std::size_t i = same; i < content.events.size(); ++i) {
            const Event& event = content.events[i];
            work.exec_params("insert into ilvek_entry (job, id, time, kind, body) values ($1, $2, $3, $4, $5)", key,
                             event.id, writeTime(event.time_ms), std::string(eventKind(event.body)),
                             writeBody(event.body));
        }
        work.exec_params("update ilvek_job set title = $2, state = $3, holder = $4, changed = now() where key = $1",
                         key, title, state, connection_->bench);
        work.commit();
        return static_cast<std::int64_t>(content.events.size() - same);
    } catch (const std::exception& e) {
        return tl::unexpected(lost(e));
    }
}

Result<std::vector<SharedJob>> Shop::jobs()
{
    std::vector<SharedJob> out;
    try {
        pqxx::work work(connection_->server_);
        for (const auto& row :
             work.exec("select key, title, machine, state, holder, (select count(*) from ilvek_entry where job = key), "
                       "to_char(changed, 'YYYY-MM-DD HH24:MI') from ilvek_job order by changed desc"))
            out.push_back({row[0].as<std::string>(), row[1].as<std::string>(), row[2].as<std::string>(),
                           row[3].as<std::string>(), row[4].as<std::string>(), row[5].as<std::int64_t>(),
                           row[6].as<std::string>()});
        return out;
    } catch (const std::exception& e) {
        return tl::unexpected(lost(e));
    }
}

Result<JobContent> Shop::fetch(const std::string& key, bool take)
{
    try {
        pqxx::work work(connection_->server_);
        const auto found = work.exec_params(
            "select map, holder, to_char(held_since, 'YYYY-MM-DD HH24:MI') from ilvek_job where key = $1 for update",
            key);
        if (found.empty()) return fail(key, "the server has no such job");
        const auto holder = found[0][1].as<std::string>();
        if (take && !holder.empty() && holder != connection_->bench)
            return fail(key, fmt::format("{} works on this job since {}", holder, found[0][2].as<std::string>()));
        JobContent content;
        content.mapDocument = found[0][0].as<std::string>();
        for (const auto& row :
             work.exec_params("select id, time, kind, body from ilvek_entry where job = $1 order by id", key)) {
            const std::string item = fmt::format("{}, entry {}", key, row[0].as<std::int64_t>());
            const auto time = readTime(row[1].as<std::string>());
            auto body = readBody(row[2].as<std::string>(), row[3].as<std::string>(), item);
            if (!time) return tl::unexpected(time.error());
            if (!body) return tl::unexpected(body.error());
            content.events.push_back({row[0].as<std::int64_t>(), *time, std::move(*body)});
        }
        if (take)
            work.exec_params("update ilvek_job set holder = $2, held_since = now() where key = $1", key,
                             connection_->bench);
        work.commit();
        return content;
    } catch (const std::exception& e) {
        return tl::unexpected(lost(e));
    }
}

Result<void> Shop::release(const std::string& key)
{
    try {
        pqxx::work work(connection_->server_);
        const auto done = work.exec_params("update ilvek_job set holder = '' where key = $1 and holder = $2", key,
                                           connection_->bench);
        if (done.affected_rows() == 0) return fail(key, "is no job of this bench");
        work.commit();
        return {};
    } catch (const std::exception& e) {
        return tl::unexpected(lost(e));
    }
}

Result<void> Shop::put(const SharedFile& file)
{
    try {
        pqxx::work work(connection_->server_);
        work.exec_params(
            "insert into ilvek_file (kind, name, body, bench) values ($1, $2, $3, $4) on conflict (kind, name) "
            "do update set body = $3, bench = $4, changed = now()",
            file.kind, file.name, file.body, connection_->bench);
        work.commit();
        return {};
    } catch (const std::exception& e) {
        return tl::unexpected(lost(e));
    }
}

Result<std::vector<SharedFile>> Shop::files(const std::string& kind)
{
    std::vector<SharedFile> out;
    try {
        pqxx::work work(connection_->server_);
        for (const auto& row :
             work.exec_params("select kind, name, body from ilvek_file where kind = $1 order by name", kind))
            out.push_back({row[0].as<std::string>(), row[1].as<std::string>(), row[2].as<std::string>()});
        return out;
    } catch (const std::exception& e) {
        return tl::unexpected(lost(e));
    }
}

}  // namespace ilvek
