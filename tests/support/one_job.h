// One job on one map, into which readings go as they do in the window: a set-up in one line and a figure as typed.
#pragma once

#include <gtest/gtest.h>

#include <string>

#include "open_job/setup_line.h"
#include "open_job/taking.h"
#include "procedures/procedure.h"
#include "verdict/reasoner.h"

namespace ilvek::test {

inline SetUp setUpAt(const Map& map, const std::string& line)
{
    const auto setUp = parseSetUp(map, line, "key-on");
    EXPECT_TRUE(setUp) << line << ": " << (setUp ? "" : setUp.error().message());
    return setUp.value_or(SetUp{});
}

// What a procedure can be about on a map.
inline std::vector<std::string> subjectsOf(std::string_view procedure, const Map& map)
{
    for (const ProcedureKind& kind : procedureKinds()) {
        if (kind.id == procedure) return kind.subjects(map);
    }
    ADD_FAILURE() << "no procedure " << procedure;
    return {};
}

class OneJob {
public:
    explicit OneJob(const Map& map) : map_(map) { content_.mapDocument = map.document, refresh(); }

    const Judgement& take(const std::string& line, const std::string& figure, double after_s = 10)
    {
        return take(setUpAt(open_.job.map, line), figure, after_s);
    }
    const Judgement& take(const SetUp& setUp, const std::string& figure, double after_s = 10)
    {
        now_ms_ += static_cast<std::int64_t>(1000 * after_s);
        const auto reading = readingAnywhere(open_, setUp, figure, now_ms_);
        EXPECT_TRUE(reading) << figure << ": " << (reading ? "" : reading.error().message());
        if (reading) {
            for (EventBody& body : entriesOf(open_, *reading))
                enter(std::move(body));
        }
        return open_.assessment.judgements.back();
    }
    void enter(EventBody body)
    {
        content_.events.push_back({static_cast<std::int64_t>(content_.events.size()) + 1, now_ms_, std::move(body)});
        refresh();
    }
    const JobContent& content() const { return content_; }
    // As it was at the beginning; stays where it is while entries come.
    const Map& map() const { return map_; }
    const Reading& last() const { return open_.assessment.evidence.readings.back(); }
    const OpenJob& open() const { return open_; }
    std::int64_t now() const { return now_ms_; }
    ProofState proof(const char* terminal) const
    {
        return proofOf(map(), open_.assessment, map().terminalIndex(terminal)).state;
    }
    Gate gate() const { return gateOf(map(), open_.assessment, {now_ms_, open_.job.state}); }

private:
    void refresh() { open_ = *OpenJob::of(content_); }
    Map map_;
    JobContent content_;
    OpenJob open_;
    std::int64_t now_ms_ = 1'700'000'000'000;
};

}  // namespace ilvek::test
