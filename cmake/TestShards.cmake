# One ctest entry a shard of a test program, not a process a case: starting a process costs more than most cases do.
#   lowkite_add_tests(TARGET SHARDS n COST c [ENVIRONMENT e...])
# COST: about how many seconds a shard runs; ctest starts the long ones first, so that no core waits at the end.
function(lowkite_add_tests target)
  if(NOT TARGET ${target})
    return()  # made where LOWKITE_WATCHED asks for it
  endif()
  cmake_parse_arguments(PARSE_ARGV 1 arg "" "SHARDS;COST" "ENVIRONMENT")
  math(EXPR last "${arg_SHARDS} - 1")
  foreach(shard RANGE ${last})
    set(name ${target}.${shard})
    add_test(NAME ${name} COMMAND ${target})
    set_tests_properties(${name} PROPERTIES
      COST ${arg_COST} TIMEOUT 1200
      ENVIRONMENT "GTEST_TOTAL_SHARDS=${arg_SHARDS};GTEST_SHARD_INDEX=${shard};GTEST_BRIEF=1;${arg_ENVIRONMENT}")
  endforeach()
endfunction()
