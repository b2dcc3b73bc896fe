// Every key of the program, once: the list of all keys and the menu of actions are made from it.
#pragma once

#include <QString>
#include <vector>

namespace ilvek::app {

struct KeyLine {
    int key = 0;    // of an action on the Prove screen, which its menu offers; 0: only listed
    QString shown;  // "F2  F3  F4  F5"
    QString words;  // what it does, in small letters
};

const std::vector<KeyLine>& keyTable();

}  // namespace ilvek::app
