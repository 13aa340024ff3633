# What every target of the project has in common.

if(PROJECT_IS_TOP_LEVEL AND NOT CMAKE_BUILD_TYPE AND NOT CMAKE_CONFIGURATION_TYPES)
  set(CMAKE_BUILD_TYPE Release CACHE STRING "" FORCE)
endif()

function(hushed_target name)
  target_compile_features(${name} PUBLIC cxx_std_20)
  set_target_properties(${name} PROPERTIES CXX_EXTENSIONS OFF)
  target_compile_options(${name} PRIVATE -Wall -Wextra -Wpedantic -Wconversion)
  if(HUSHED_STRICT)
    target_compile_options(${name} PRIVATE -Werror)
  endif()
endfunction()

# Code that waits for people, files and sockets need not be fast: built quicker, it is optimised less.
if(HUSHED_QUICK)
  set(hushed_not_hot_options $<IF:$<CONFIG:Checked>,-O0,-O1>)
endif()
function(hushed_not_hot name)
  target_compile_options(${name} PRIVATE ${hushed_not_hot_options})
endfunction()

# One room of the library: a static or shared library `HushedOrbit::<room>`.
function(hushed_room room)
  file(GLOB_RECURSE sources CONFIGURE_DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/*.cpp)
  add_library(hushed_${room} ${sources})
  add_library(HushedOrbit::${room} ALIAS hushed_${room})
  hushed_target(hushed_${room})
  set_target_properties(hushed_${room} PROPERTIES
    EXPORT_NAME ${room} OUTPUT_NAME hushed_${room} POSITION_INDEPENDENT_CODE ON)
  target_include_directories(hushed_${room}
    PUBLIC $<BUILD_INTERFACE:${PROJECT_SOURCE_DIR}/include> $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>
    PRIVATE ${CMAKE_CURRENT_SOURCE_DIR})
  if(HUSHED_FUZZ)
    target_compile_options(hushed_${room} PRIVATE -fsanitize=fuzzer-no-link)
  endif()
  if(HUSHED_QUICK)
    target_precompile_headers(hushed_${room} PRIVATE <hushed/scene.hpp>)
    set_target_properties(hushed_${room} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE 12)
  endif()
  install(TARGETS hushed_${room} EXPORT HushedOrbit
    ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR} LIBRARY DESTINATION ${CMAKE_INSTALL_LIBDIR})
endfunction()
