#include "support/random_sheet.h"

#include <gtest/gtest.h>

#include "bench_map/sheet_map.h"
#include "machine/map_reader.h"

namespace ilvek::test {

Map randomSheetMap(std::mt19937& random)
{
    const auto pick = [&](unsigned n) { return static_cast<unsigned>(random() % n); };
    std::vector<PinRow> rows;
    const auto add = [&](const char* role) -> PinRow& {
        PinRow row;
        row.line = static_cast<int>(rows.size()) + 2;
        row.connector = pick(3) == 0 ? "B" : "A";
        row.cavity = static_cast<int>(rows.size()) + 1;
        row.written = row.connector + std::to_string(row.cavity);
        row.role = role;
        row.circuit = std::string(role) + " " + std::to_string(rows.size());
        rows.push_back(row);
        return rows.back();
    };
    const auto fuse = [&] {
        static const char* const ratings[] = {"5 A", "10 A", "15 A", "20 A", "30 A"};
        return "F" + std::to_string(rows.size() + 10) + " " + ratings[pick(5)];
    };
    for (unsigned n = 1 + pick(2); n > 0; --n)
        add("return").ground = pick(2) == 0 ? "G1" : "G2";
    add("permanent feed").fuse = fuse();
    for (unsigned n = pick(3); n > 0; --n)
        add("switched feed").fuse = fuse();
    if (pick(2) == 0) {
        PinRow& supply = add("relay-fed supply");
        supply.fuse = fuse();
        supply.relay = "K1";
        if (pick(2) == 0) supply.splice = "S1";
        add(pick(2) == 0 ? "low-side drive" : "high-side drive").relay = "K1";
    }
    for (unsigned n = pick(4); n > 0; --n)
        add("low-side drive").fuse = fuse();
    NewMachine machine;
    machine.systemVoltage_V = pick(3) == 0 ? 24 : pick(4) == 0 ? 48 : 12;
    machine.module = "M" + std::to_string(pick(90) + 10);
    const auto document = mapFromSheet(rows, machine);
    EXPECT_TRUE(document) << document.error().front().message();
    auto map = readMap(*document, "random sheet");
    EXPECT_TRUE(map) << map.error().front().message();
    return std::move(*map);
}

}  // namespace ilvek::test
