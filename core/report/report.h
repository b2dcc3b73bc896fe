// A job as a document for the customer and for whoever comes next.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "job/job.h"
#include "verdict/gate.h"

namespace ilvek {

// Everything a report shows, computed once.
struct ReportInput {
    const Job& job;
    const Assessment& assessment;
    const Gate& gate;
    std::int64_t written_ms = 0;
    const std::vector<Event>* events = nullptr;  // of the journal, for the time spent and the photos; none: left out
};

// Gives the picture of a terminal's staircase as HTML (an <svg> or an <img>); used for each failed circuit.
using PictureHtml = std::function<std::string(int terminal)>;

// A whole page. All text from users is escaped. Without `picture` the staircase is drawn as SVG.
std::string reportHtml(const ReportInput& input, const PictureHtml& picture = nullptr);

// The same in pieces, each a page of its own: what is concluded and the job; the readings, so many on each; the record.
// So that the first is there at once, and no document grows with the job. Can be stopped (base/stop.h).
std::vector<std::string> reportPages(const ReportInput& input, std::size_t readingsOnEach,
                                     const PictureHtml& picture = nullptr);

// One page for the owner of the machine, in plain words.
std::string customerHtml(const ReportInput& input);
// Every terminal of the module with its way and what it must read in each state, with room to write (W4).
std::string scheduleHtml(const Map& map, const Assessment& assessment);

// All readings, one row each, separated by commas. A cell that a spreadsheet would run as a formula is neutralised with
// a leading apostrophe. Withdrawn readings are left out.
std::string readingsCsv(const ReportInput& input);

// Judgements and gate as JSON with stable field names (docs/formats.md).
std::string judgementsJson(const ReportInput& input);
std::string gateJson(const ReportInput& input);

// The staircase of a terminal's loop as SVG; empty when it has no loop. After a repair that of before it stands behind
// it, dashed, with the same points below each other.
std::string staircaseSvg(const Map& map, const Evidence& evidence, int terminal);

// A recording that was taken into the job, as SVG; empty when it has no picture.
std::string traceSvg(const TraceSeen& trace);

// Terminals whose circuit failed, or had before the last repair, for which a staircase is worth showing.
std::vector<int> failedTerminals(const Map& map, const Assessment& assessment);

std::string escapedHtml(std::string_view text);

}  // namespace ilvek
