# ccache where it is there; with precompiled headers it must be told to trust their names.
find_program(LOWKITE_CCACHE ccache)
if(LOWKITE_CCACHE AND NOT CMAKE_CXX_COMPILER_LAUNCHER)
  set(CMAKE_CXX_COMPILER_LAUNCHER ${CMAKE_COMMAND} -E env CCACHE_SLOPPINESS=pch_defines,time_macros ${LOWKITE_CCACHE})
endif()

# Flags live on one interface target, so that each of our targets asks for them and nobody else's code gets them.
add_library(lowkite_options INTERFACE)
target_compile_options(lowkite_options INTERFACE
  -Wall -Wextra -Wpedantic -Wconversion -Wnon-virtual-dtor -Wold-style-cast -Woverloaded-virtual
  -Wnull-dereference -Wdouble-promotion -Wimplicit-fallthrough -Wswitch-enum)
# Where several files are compiled as one, a local name may well be that of a constant of the next file.
if(CMAKE_UNITY_BUILD)
  target_compile_options(lowkite_options INTERFACE -Wshadow=local)
else()
  target_compile_options(lowkite_options INTERFACE -Wshadow)
endif()
# GCC 12 reports null dereferences inside Eigen, and overlaps inside std::string (GCC bug 105651), once they are inlined;
# clang-tidy and the sanitizers keep that watch.
target_compile_options(lowkite_options INTERFACE $<$<CXX_COMPILER_ID:GNU>:-Wno-null-dereference -Wno-restrict>)
if(LOWKITE_WERROR)
  target_compile_options(lowkite_options INTERFACE -Werror)
endif()

# What the sanitizers watch. Null pointers crash under the address sanitizer as it is; the checks of every pointer for null,
# alignment and type double the time to compile and are for tools/long-tests (LOWKITE_SANITIZE=full).
set(LOWKITE_SANITIZERS address,signed-integer-overflow,shift,integer-divide-by-zero,float-divide-by-zero)
string(APPEND LOWKITE_SANITIZERS ,float-cast-overflow,bounds,enum,bool,return,unreachable,pointer-overflow)
if(LOWKITE_SANITIZE STREQUAL "full")
  set(LOWKITE_SANITIZERS address,undefined)
endif()
add_library(lowkite_sanitizers INTERFACE)
target_compile_options(lowkite_sanitizers INTERFACE -fsanitize=${LOWKITE_SANITIZERS} -fno-omit-frame-pointer
                       -fno-sanitize-recover=all)
target_link_options(lowkite_sanitizers INTERFACE -fsanitize=address,undefined)
# Under the address sanitizer Eigen would pad what it allocates; Debian's Ceres, built without, shares its inline
# functions and would free the padded pointer. The sanitizer's blocks are 16-byte aligned, so no padding is needed.
target_compile_definitions(lowkite_sanitizers INTERFACE EIGEN_MALLOC_ALREADY_ALIGNED=1)
if(LOWKITE_SANITIZE)
  target_link_libraries(lowkite_options INTERFACE lowkite_sanitizers)
endif()
# The core a second time beside the one that racers run, for the core's tests alone, with assertions. Warnings are that
# one's: what the sanitizers put in between confuses them.
add_library(lowkite_options_watched INTERFACE)
target_link_libraries(lowkite_options_watched INTERFACE lowkite_options lowkite_sanitizers)
target_compile_options(lowkite_options_watched INTERFACE -O1 -g1 -UNDEBUG -w)

# For what waits for people, disks and Qt, not for numbers: -O1 builds quicker than -O3, and neither the window's nor the
# files' benchmarks tell the two apart.
add_library(lowkite_compiles_fast INTERFACE)
target_compile_options(lowkite_compiles_fast INTERFACE $<$<CONFIG:Release>:-O1>)
# What only calls: under the sanitizers it is the library that is watched. Not -O0: the linker takes one of the copies of an
# inline function, and the slow one would be the library's as well.
add_library(lowkite_caller INTERFACE)
if(LOWKITE_SANITIZE)
  target_compile_options(lowkite_caller INTERFACE -fno-sanitize=all -fsanitize=address)
endif()
