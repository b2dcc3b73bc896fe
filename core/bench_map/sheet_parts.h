// What hangs at the far end of a wire, as a part of the circuit.
#pragma once

#include <string>
#include <vector>

#include "bench_map/sheet_document.h"
#include "bench_map/sheet_words.h"

namespace ilvek {

// The β of a part as the sheet tells it.
double betaOf(const FarEnd& far);

// Ohms of a sender of two wires, and within which share of them one sigma of where it stands lies: evenly by ratio over
// the range that is told, its ends two sigmas out.
struct SenderOhms {
    double middle = 90, within = 1;  // SOURCE: customary, senders of 10 to 180 and of 240 to 33 Ω
};
SenderOhms senderOhms(const FarEnd& far);

// What a part is made for where the sheet gives no figure of it.
struct PartBasis {
    std::string id;
    std::string name;                   // of what the sheet gives no name of its own
    double resistance_ohm = 1000;       // of what has no figure
    double current_A = 1;               // of a motor or a module
    std::vector<std::string> closedIn;  // states, of a switch that is open at rest
    std::vector<std::string> states;    // all of them
};

// Makes the part between two nodes; its figures are stated where the sheet states them, else assumed.
void addPart(SheetDocument& doc, const FarEnd& far, const PartBasis& basis, const std::string& a, const std::string& b);

}  // namespace ilvek
