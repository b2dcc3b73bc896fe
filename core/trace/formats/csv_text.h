// The text of a recording, in blocks that end with a line.
#pragma once

#include <fstream>
#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"

namespace ilvek {

class CsvText {
public:
    // ERRORS: no such file, not an ordinary file, cannot be opened.
    static Result<CsvText> open(const std::string& path);

    // The next block, up to the last line's end within `most_bytes`; empty at the end of the file. Turned into UTF-8.
    // `spare`: an earlier block that is read already, for its room.
    // ERRORS: a line longer than any table has, text that is not what its first bytes say, cannot be read.
    Result<std::string> next(std::size_t most_bytes, std::string spare = {});

    const std::string& encoding() const { return encoding_; }
    std::size_t bytes() const { return bytes_; }
    std::size_t done() const { return done_; }

private:
    std::string path_, encoding_ = "UTF-8";
    std::ifstream in_;
    std::string carried_;  // bytes as read behind the last line's end
    std::size_t bytes_ = 0, done_ = 0;
    bool started_ = false;
};

// Fields of a line; quotes hold separators together. Separators behind the last field are left out.
std::vector<std::string> fieldsOf(std::string_view line, char separator);
bool isRemark(std::string_view line);
bool isBlank(std::string_view line);

}  // namespace ilvek
