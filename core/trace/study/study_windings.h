// The part of a study that is about pulsed windings.
#pragma once

#include "trace/study/study.h"

namespace ilvek {

// Fills the study whose channels are chosen. ERRORS: as study().
Result<void> studyWindings(const Recording& recording, const StudyWishes& wishes, Study& study);

}  // namespace ilvek
