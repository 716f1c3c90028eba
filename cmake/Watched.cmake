# Programs of the core that run once more on the library that the sanitizers watch (LOWKITE_WATCHED): of the objects that were
# compiled for the release, so that only the library is compiled twice.

# Of an inline function the linker takes the first copy it meets: that has to be the library's, not its caller's.
function(lowkite_library_first target copy)
  target_link_options(${target} PRIVATE
    "SHELL:-Wl,--whole-archive $<TARGET_FILE:lowkite_core${copy}> $<TARGET_FILE:lowkite_model${copy}> -Wl,--no-whole-archive")
endfunction()

#   lowkite_watched(TARGET [OBJECTS other targets whose objects belong to it...] [LIBRARIES others...])
# makes TARGET_watched.
function(lowkite_watched target)
  if(NOT LOWKITE_WATCHED)
    return()
  endif()
  cmake_parse_arguments(PARSE_ARGV 1 arg "" "" "OBJECTS;LIBRARIES")
  set(objects)
  foreach(part ${target} ${arg_OBJECTS})
    list(APPEND objects $<TARGET_OBJECTS:${part}>)
  endforeach()
  add_executable(${target}_watched ${objects})
  set_target_properties(${target}_watched PROPERTIES LINKER_LANGUAGE CXX)
  target_link_libraries(${target}_watched PRIVATE lowkite_core_watched lowkite_sanitizers ${arg_LIBRARIES})
  lowkite_library_first(${target}_watched _watched)
endfunction()
