#include "circuit/healthy_circuit.h"

namespace ilvek {

HealthyCircuit::HealthyCircuit(const Map& map, Solution solution)
    : base(std::move(solution)), n(base.v.size()), G(base.equations->inverse())
{
    for (std::size_t i = 0; i < n; ++i)
        diagonal.push_back(G[i * n + i]);
    const law::Voltages at(base.v);
    for (const Device& d : base.network.devices()) {
        lines.push_back(linearised(d, at));
        if (!d.isLinear()) curved.push_back(static_cast<int>(lines.size()) - 1);
    }
    battery = &base.network.deviceOf(map.battery);
    batteryPlus = base.network.equationOf(map.batteryPlus());
}

void HealthyCircuit::addColumn(std::vector<double>& to, int column, double times) const
{
    if (times == 0) return;
    const double* from = G.data() + static_cast<std::size_t>(column) * n;
    for (std::size_t k = 0; k < n; ++k)
        to[k] += from[k] * times;
}

const Device* HealthyCircuit::device(int index) const
{
    const auto& devices = base.network.devices();
    return index < static_cast<int>(devices.size()) ? &devices[static_cast<std::size_t>(index)] : nullptr;
}

}  // namespace ilvek
