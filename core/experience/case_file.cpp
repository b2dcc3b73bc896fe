#include "experience/case_file.h"

#include <nlohmann/json.hpp>

#include "base/file.h"

namespace ilvek {

namespace {

using nlohmann::json;

constexpr const char* format = "ilvek-own-cases";

}  // namespace

Result<CaseFile> CaseFile::read(const std::filesystem::path& file)
{
    CaseFile out;
    if (!std::filesystem::exists(file)) return out;
    const auto text = readFile(file);
    if (!text) return tl::unexpected(text.error());
    const json doc = json::parse(*text, nullptr, false);
    if (!doc.is_object() || doc.value("format", "") != format || !doc.contains("jobs") || !doc["jobs"].is_object())
        return fail(file.string(), "holds no own cases");
    for (const auto& [name, body] : doc["jobs"].items()) {
        const auto own = readBody("own-cases", body.dump(), file.string() + ", " + name);
        if (!own) return tl::unexpected(own.error());
        out.jobs_[name] = std::get<OwnCases>(*own);
    }
    return out;
}

Result<void> CaseFile::write(const std::filesystem::path& file) const
{
    json jobs = json::object();
    for (const auto& [name, own] : jobs_)
        jobs[name] = json::parse(writeBody(own));
    const json doc{{"format", format}, {"version", 1}, {"jobs", jobs}};
    return writeFile(file, doc.dump(1, ' ', false, json::error_handler_t::replace) + "\n");
}

bool CaseFile::count(const std::string& name, const Job& job, const Assessment& assessment)
{
    OwnCases own;
    const bool teaches = countCase(job, assessment, own);
    jobs_.erase(name);
    if (teaches) jobs_[name] = std::move(own);
    return teaches;
}

OwnCases CaseFile::all() const
{
    OwnCases out;
    for (const auto& [name, own] : jobs_)
        out = together(std::move(out), own);
    return out;
}

}  // namespace ilvek
