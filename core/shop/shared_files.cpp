#include "shop/shared_files.h"

#include <algorithm>

#include "base/file.h"
#include "base/stop.h"
#include "experience/known_good.h"

namespace ilvek {

namespace {

namespace fs = std::filesystem;

std::vector<fs::path> jsonIn(const fs::path& folder)
{
    std::vector<fs::path> out;
    std::error_code none;
    for (const auto& entry : fs::directory_iterator(folder, none)) {
        if (entry.path().extension() == ".json") out.push_back(entry.path());
    }
    std::sort(out.begin(), out.end());
    return out;
}

// Only the name of a file, whatever a server calls it.
fs::path placeOf(const fs::path& folder, const std::string& name)
{
    return folder / fs::path(name).filename();
}

const SharedFile* named(const std::vector<SharedFile>& files, const std::string& name)
{
    const auto at = std::find_if(files.begin(), files.end(), [&](const SharedFile& f) { return f.name == name; });
    return at == files.end() ? nullptr : &*at;
}

Result<int> shareMachines(Shop& shop, const fs::path& folder)
{
    const auto there = shop.files("machine");
    if (!there) return tl::unexpected(there.error());
    int came = 0;
    for (const fs::path& file : jsonIn(folder)) {
        stopPoint();
        if (named(*there, file.filename().string())) continue;
        const auto body = readFile(file);
        if (!body) return tl::unexpected(body.error());
        if (auto put = shop.put({"machine", file.filename().string(), *body}); !put) return tl::unexpected(put.error());
    }
    for (const SharedFile& file : *there) {
        const fs::path to = placeOf(folder, file.name);
        if (fs::exists(to)) continue;
        fs::create_directories(folder);
        if (auto written = writeFile(to, file.body); !written) return tl::unexpected(written.error());
        ++came;
    }
    return came;
}

Result<int> shareKnownGood(Shop& shop, const fs::path& folder)
{
    const auto there = shop.files("known-good");
    if (!there) return tl::unexpected(there.error());
    std::vector<fs::path> files = jsonIn(folder);
    for (const SharedFile& file : *there) {
        const fs::path to = placeOf(folder, file.name);
        if (std::find(files.begin(), files.end(), to) == files.end()) files.push_back(to);
    }
    int came = 0;
    for (const fs::path& file : files) {
        stopPoint();
        auto mine = KnownGood::read(file);
        if (!mine) return tl::unexpected(mine.error());
        const std::size_t had = mine->readings().size();
        const SharedFile* theirs = named(*there, file.filename().string());
        auto other = theirs ? KnownGood::of(theirs->body, theirs->name) : Result<KnownGood>(KnownGood());
        if (!other) return tl::unexpected(other.error());
        const std::size_t newer = mine->add(other->readings());
        if (newer > 0) {
            fs::create_directories(folder);
            if (auto written = mine->write(file); !written) return tl::unexpected(written.error());
            ++came;
        }
        if (had == 0 && theirs) continue;
        if (auto put = shop.put({"known-good", file.filename().string(), mine->text()}); !put)
            return tl::unexpected(put.error());
    }
    return came;
}

}  // namespace

Result<int> shareFiles(Shop& shop, const fs::path& machines, const fs::path& knownGood)
{
    const auto first = shareMachines(shop, machines);
    if (!first) return first;
    const auto second = shareKnownGood(shop, knownGood);
    if (!second) return second;
    return *first + *second;
}

}  // namespace ilvek
