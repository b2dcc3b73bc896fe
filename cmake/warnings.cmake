# The warnings every target of Ilvek is built with, as errors.
add_library(ilvek_flags INTERFACE)
target_compile_options(ilvek_flags INTERFACE
    -Wall -Wextra -Wpedantic -Wshadow -Wconversion -Wsign-conversion -Wold-style-cast
    -Wnon-virtual-dtor -Woverloaded-virtual -Wcast-qual -Wformat=2 -Wimplicit-fallthrough -Werror)
# GCC 12 sees overruns in the string of its own library that are not there (its bugs 105329, 105651).
if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
    target_compile_options(ilvek_flags INTERFACE -Wno-restrict -Wno-array-bounds -Wno-stringop-overflow -Wno-stringop-overread -Wduplicated-cond -Wlogical-op)
endif()
if(ILVEK_SANITIZE)
    target_compile_options(ilvek_flags INTERFACE -fsanitize=address,undefined -fno-omit-frame-pointer)
    target_link_options(ilvek_flags INTERFACE -fsanitize=address,undefined)
endif()
