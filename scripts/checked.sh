#!/usr/bin/env bash
# The core's tests that read files and typing, judge and play stories, under AddressSanitizer and UBSan, with what headers
# require checked and every index of the library's containers.
. "$(dirname "$0")/prepare.sh"
cmake --preset asan >/dev/null
cmake --build --preset asan --target checked_tests
# Whether an import comes to its end before it is killed is a matter of time, which the sanitizers take.
build/asan/tests/checked_tests --gtest_brief=1 --gtest_filter=-JobFile.AKilledImport*
