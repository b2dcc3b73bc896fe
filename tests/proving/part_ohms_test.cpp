// An ohmmeter across electronics and across motors at rest: what a sound one shows there is no failure.
#include "proving/part_ohms.h"

#include <gtest/gtest.h>

#include "choice/candidates.h"
#include "support/maps.h"
#include "support/one_job.h"

namespace ilvek {
namespace {

using test::OneJob;

const Map& loader()
{
    static const Map map = test::mapOfRows(
        "pin;circuit;role;route;goes to\n"
        "1;supply;supply;F1 15 A;\n"
        "2;ground;ground;G1;\n"
        "3;work lamp;high side;X1-1;LED bar 18 W, ground G2\n"
        "4;head lamp;high side;X1-2;lamp 21 W, ground G2\n"
        "5;strobe;high side;X1-3;strobe module 2 A, ground G2\n"
        "6;buzzer;high side;X1-4;buzzer 0.1 A, ground G2\n"
        "7;pump;high side;X1-5;pump 5 A, ground G2\n"
        "8;lock;high side;X1-6;lock solenoid 6 Ω, ground G2\n"
        "9;CAN H;CAN high;;\n"
        "10;CAN L;CAN low;;\n"
        "11;warmth;high side;;heating unit, ground G2\n"
        ";cab display;bus node;X9;no termination\n",
        12);
    return map;
}

struct Ohms {
    const char* terminal;
    const char* figure;
    Verdict verdict;
};

TEST(PartOhms, OfElectronicsAndMotorsSayLittle)
{
    const Ohms all[] = {{"3", "OL", Verdict::Noted},     {"3", "1.8 MΩ", Verdict::Noted}, {"3", "0.1 Ω", Verdict::Low},
                        {"5", "340 kΩ", Verdict::Noted}, {"5", "45 Ω", Verdict::Noted},   {"5", "0.2 Ω", Verdict::Low},
                        {"6", "OL", Verdict::Noted},     {"7", "0.4 Ω", Verdict::Noted},  {"7", "11 Ω", Verdict::Noted},
                        {"7", "OL", Verdict::High},      {"8", "OL", Verdict::High},      {"4", "OL", Verdict::High},
                        {"8", "1.2 Ω", Verdict::Low}};
    for (const Ohms& o : all) {
        OneJob job(loader());
        const std::string line = std::string(o.terminal) + " > 2; key off; apart C1";
        EXPECT_EQ(job.take(line.c_str(), o.figure).verdict, o.verdict) << o.terminal << " at " << o.figure;
    }
    // A termination is none of a display's electronics.
    OneJob job(loader());
    EXPECT_EQ(job.take("9 > 10; key off; apart C1", "310 Ω").verdict, Verdict::Low);
}

TEST(PartOhms, AreNotAskedOfElectronics)
{
    const Map& map = loader();
    for (const Candidate& c : candidatesOf(map, WayOfWorking{})) {
        if (c.kind != Candidate::Kind::Ohms || c.terminal < 0) continue;
        for (const char* electronic : {"3", "5", "6"})
            EXPECT_NE(map.terminal(c.terminal).id, electronic);
    }
    EXPECT_TRUE(isElectronic(map, map.element(map.elementIndex("load 5"))));
    EXPECT_FALSE(isElectronic(map, map.element(map.elementIndex("load 4"))));
    EXPECT_FALSE(isElectronic(map, map.element(map.elementIndex("load 7"))));
    EXPECT_FALSE(isElectronic(map, map.element(map.elementIndex("load 11")))) << "it has ohms whatever it is called";
}

}  // namespace
}  // namespace ilvek
