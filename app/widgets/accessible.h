// What a screen reader is told of the drawn parts: a role, a name and a value in words.
#pragma once

namespace ilvek::app {

// Installs the interfaces once; harmless to call again.
void installAccessibility();

}  // namespace ilvek::app
