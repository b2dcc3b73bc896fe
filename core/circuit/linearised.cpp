#include "circuit/linearised.h"

namespace ilvek {

namespace {

class OneDevice final : public Sink {
public:
    explicit OneDevice(const Device& d) : d_(d) {}
    void leave(int node, double current_A) override
    {
        if (node >= 0) at.current[slot(node)] += current_A;
    }
    void slope(int node, int byNode, double conductance_S) override
    {
        if (node >= 0 && byNode >= 0) at.slope[slot(node)][slot(byNode)] += conductance_S;
    }
    Linearised at;

private:
    std::size_t slot(int node) const
    {
        std::size_t i = 0;
        while (d_.nodes[i] != node)
            ++i;
        return i;
    }
    const Device& d_;
};

}  // namespace

Linearised linearised(const Device& device, const law::Voltages& v)
{
    OneDevice sink(device);
    stamp(device, v, sink);
    return sink.at;
}

}  // namespace ilvek
