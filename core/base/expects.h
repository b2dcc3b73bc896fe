// What a header states as REQUIRES, checked where the build asks for it: EXPECTS(first < last);
#pragma once

#include <cstdio>
#include <cstdlib>

#ifdef ILVEK_CHECKED
#define EXPECTS(condition)                                                                                       \
    do {                                                                                                         \
        if (!(condition)) {                                                                                      \
            std::fprintf(stderr, "%s:%d: what is required does not hold: %s\n", __FILE__, __LINE__, #condition); \
            std::abort();                                                                                        \
        }                                                                                                        \
    } while (false)
#else
// The condition is still compiled, so that it cannot fall behind.
#define EXPECTS(condition)            \
    do {                              \
        if (false) (void)(condition); \
    } while (false)
#endif
