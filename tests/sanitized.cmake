# The test programs of another build (KETTLE_TEST_PROGRAMS: its folder tests/), run with the libraries of this one, which are
# built with the address and undefined-behaviour sanitizers: what is tested is looked at, the tests themselves are not, and
# no test is built twice. The other build's libraries must be shared ones, and of the same state of the code.
execute_process(COMMAND ${CMAKE_CXX_COMPILER} -print-file-name=libasan.so OUTPUT_VARIABLE asan
  OUTPUT_STRIP_TRAILING_WHITESPACE COMMAND_ERROR_IS_FATAL ANY)
file(REAL_PATH ${asan} asan)

# What these tests run, as one name to build.
add_custom_target(tested)
add_dependencies(tested pale-kettle-batch)
foreach(part ${HOUSE_core})
  add_dependencies(tested kettle_${part})
endforeach()
foreach(room ${HOUSE_app})
  add_dependencies(tested kettle_app_${room})
endforeach()

file(GLOB_RECURSE files RELATIVE ${CMAKE_CURRENT_SOURCE_DIR} CONFIGURE_DEPENDS core/*_test.cpp)
foreach(file ${files} batch/batch_test.cpp app/window/story_test.cpp)
  # The story takes half as long as all others together, and the longer ones of those longer: they begin first.
  file(SIZE ${CMAKE_CURRENT_SOURCE_DIR}/${file} cost)
  if(file MATCHES "^app/")
    math(EXPR cost "${cost} * 10")
  endif()
  string(REPLACE ".cpp" "" name ${file})
  string(REPLACE "/" "_" name ${name})
  add_test(NAME ${name} COMMAND ${KETTLE_TEST_PROGRAMS}/${name})
  set(environment QT_QPA_PLATFORM=offscreen
    LD_PRELOAD=${asan}  # the programs are not linked with it, and it must come first
    LD_LIBRARY_PATH=${CMAKE_BINARY_DIR}/core:${CMAKE_BINARY_DIR}/app
    KETTLE_SANITIZED=1  # for tests of how much memory is taken
    KETTLE_BATCH=$<TARGET_FILE:pale-kettle-batch>)
  set_tests_properties(${name} PROPERTIES TIMEOUT 600 COST ${cost} ENVIRONMENT "${environment}")
endforeach()
