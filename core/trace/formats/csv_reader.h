// Recordings as tables of figures in text, in the dialects that recorders write.
#pragma once

#include "trace/formats/recording.h"

namespace ilvek {

// What the file looks like; every part may be corrected before it is read.
struct CsvGuess {
    enum class Use { Ignore, Time, Value };
    struct Column {
        std::string name;
        std::string unitText;  // as written, "mV"
        Use use = Use::Value;
        Unit unit = Unit::Volt;
        double unitScale = 1;  // one figure in base units; for a time column in seconds
    };
    std::string encoding = "UTF-8";  // or UTF-16LE, UTF-16BE
    char separator = ',';
    char decimal = '.';
    std::size_t headLines = 0;  // before the first row of figures
    std::vector<Column> columns;
    std::optional<double> interval_s;                 // where no column is the time
    std::vector<std::vector<std::string>> firstRows;  // for a preview
};

// SOURCE: for each separator and decimal sign the longest run of rows at the end of the first 64 kB that are figures
// throughout and of one width; ties by the width of the row above it.
// ERRORS: no such file, not an ordinary file, binary, no table of figures in it.
Result<CsvGuess> guessCsv(const std::string& path);

// Blocks of the file are read by as many threads as the machine has cores. Empty fields repeat the figure above them,
// with a note; times that do not run evenly are put on an even base, with a note.
// ERRORS with the line: a row of another width, something that is no figure, time that runs backwards, a file that ends
// within a row; also: no interval known, stopped.
Result<Recording> readCsv(const std::string& path, const CsvGuess& guess, const Progress& progress = {});

// Its first megabyte only, for a first picture while the rest is read. ERRORS: as above, of that block.
Result<Recording> readCsvBeginning(const std::string& path, const CsvGuess& guess);

// Time and every channel in base units, with a row of names and one of units. ERRORS: cannot be written.
Result<void> writeCsv(const std::string& path, const Recording& recording);

}  // namespace ilvek
