#include "base/parallel.h"

#include <algorithm>
#include <atomic>
#include <thread>
#include <vector>

#include "base/stop.h"

namespace ilvek {

void onSeveralCores(std::size_t most, const std::function<void()>& work)
{
    const std::size_t cores =
        std::clamp<std::size_t>(std::min<std::size_t>(std::thread::hardware_concurrency(), most), 1, 16);
    std::atomic<bool> stopped = false;
    const auto* asked = stopQuestion();
    const auto share = [&] {
        try {
            const StopScope scope([&] { return !stopped && (!asked || (*asked)()); });
            work();
        } catch (const Stopped&) {
            stopped = true;
        }
    };
    std::vector<std::thread> others;
    for (std::size_t c = 1; c < cores; ++c)
        others.emplace_back(share);
    share();
    for (std::thread& t : others)
        t.join();
    if (stopped) throw Stopped{};
}

}  // namespace ilvek
