// Where a device law writes its currents and their slopes: the whole circuit's equations, or a small part of them.
#pragma once

namespace ilvek {

class Sink {
public:
    virtual ~Sink() = default;
    // `current_A` leaves `node` into the device. Node −1 is the reference and is left out.
    virtual void leave(int node, double current_A) = 0;
    // d(current leaving `node`) / d(voltage of `byNode`), S.
    virtual void slope(int node, int byNode, double conductance_S) = 0;
    // Current i from a to b with slope g against v_a − v_b.
    void branch(int a, int b, double current_A, double conductance_S)
    {
        leave(a, current_A);
        leave(b, -current_A);
        slope(a, a, conductance_S);
        slope(b, b, conductance_S);
        slope(a, b, -conductance_S);
        slope(b, a, -conductance_S);
    }

protected:
    Sink() = default;
    Sink(const Sink&) = default;
    Sink& operator=(const Sink&) = default;
};

}  // namespace ilvek
