// What the logbook keeps of one job. Internal to logbook.
#pragma once

#include "job/job_content.h"
#include "logbook/logbook.h"

namespace ilvek {

// Of the journal alone, withdrawn entries left out: no map is read, thousands of jobs are listed.
LoggedJob loggedJob(const std::filesystem::path& file, const JobContent& content);
// All that is written in it.
std::string allWords(const LoggedJob& job, const JobContent& content);

}  // namespace ilvek
