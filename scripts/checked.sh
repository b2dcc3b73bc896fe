#!/usr/bin/env bash
# The core's tests that read files and typing, judge and play stories, under AddressSanitizer and UBSan, with what headers
# require checked and every index of the library's containers.
. "$(dirname "$0")/prepare.sh"
cmake --preset asan >/dev/null
cmake --build --preset asan --target checked_tests
build/asan/tests/checked_tests --gtest_brief=1
