# SPDX-License-Identifier: MIT
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

# How many sources of the core a quick build compiles as one; 0 means all of them, which takes less time on one core.
set(HUSHED_SOURCES_AT_ONCE 18 CACHE STRING "How many sources of the core a quick build compiles as one; 0: all")
mark_as_advanced(HUSHED_SOURCES_AT_ONCE)

# Code that waits for people, files and sockets need not be fast: a quick build optimises it less.
if(HUSHED_QUICK)
  set(hushed_optimise_less_options $<IF:$<CONFIG:Checked>,-O0,-O1>)
endif()
function(hushed_optimise_less name)
  target_compile_options(${name} PRIVATE ${hushed_optimise_less_options})
endfunction()

# One library of the project, static or shared, as `HushedOrbit::<component>`. Only what the headers in include/ declare
# is visible in a shared library.
# `REQUIRES`: the pkg-config packages whose headers those of the component include, beside other components.
# `PRIVATE_REQUIRES`: those that only a static library must be linked with.
function(hushed_library component)
  cmake_parse_arguments(PARSE_ARGV 1 own "" "SUMMARY" "REQUIRES;PRIVATE_REQUIRES")
  file(GLOB_RECURSE sources CONFIGURE_DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/*.cpp)
  add_library(hushed_${component} ${sources})
  add_library(HushedOrbit::${component} ALIAS hushed_${component})
  hushed_target(hushed_${component})
  set_target_properties(hushed_${component} PROPERTIES
    EXPORT_NAME ${component} OUTPUT_NAME hushed_${component} POSITION_INDEPENDENT_CODE ON
    VERSION ${PROJECT_VERSION} SOVERSION ${PROJECT_VERSION_MAJOR}.${PROJECT_VERSION_MINOR}
    CXX_VISIBILITY_PRESET hidden VISIBILITY_INLINES_HIDDEN ON)
  target_include_directories(hushed_${component}
    PUBLIC $<BUILD_INTERFACE:${PROJECT_SOURCE_DIR}/include> $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>
    PRIVATE ${CMAKE_CURRENT_SOURCE_DIR})
  if(HUSHED_FUZZ)
    target_compile_options(hushed_${component} PRIVATE -fsanitize=fuzzer-no-link)
  endif()
  if(HUSHED_QUICK AND component STREQUAL core)
    target_precompile_headers(hushed_core PRIVATE <hushed/scene.hpp>)
    set_target_properties(hushed_core PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE ${HUSHED_SOURCES_AT_ONCE})
  elseif(HUSHED_QUICK)  # so few units that a precompiled header would take longer than it saves
    set_target_properties(hushed_${component} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE 0)
    target_compile_options(hushed_${component} PRIVATE $<$<CONFIG:Release>:-O2>)
  endif()
  install(TARGETS hushed_${component} EXPORT HushedOrbit-${component}
    ARCHIVE DESTINATION ${CMAKE_INSTALL_LIBDIR} COMPONENT development
    LIBRARY DESTINATION ${CMAKE_INSTALL_LIBDIR} COMPONENT runtime NAMELINK_COMPONENT development)
  install(EXPORT HushedOrbit-${component} NAMESPACE HushedOrbit::
    DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/HushedOrbit COMPONENT development)

  # For pkg-config, wherever the files are moved to.
  file(RELATIVE_PATH HUSHED_PREFIX ${CMAKE_INSTALL_FULL_LIBDIR}/pkgconfig ${CMAKE_INSTALL_PREFIX})
  if(NOT BUILD_SHARED_LIBS)  # there is no shared one, so every program needs what a static one needs
    list(APPEND own_REQUIRES ${own_PRIVATE_REQUIRES})
    set(own_PRIVATE_REQUIRES)
    set(HUSHED_LIBRARIES ${HUSHED_PRIVATE_LIBRARIES})
    set(HUSHED_PRIVATE_LIBRARIES)
  endif()
  string(REPLACE ";" ", " HUSHED_REQUIRES "${own_REQUIRES}")
  string(REPLACE ";" ", " HUSHED_PRIVATE_REQUIRES "${own_PRIVATE_REQUIRES}")
  set(HUSHED_SUMMARY ${own_SUMMARY})
  configure_file(${PROJECT_SOURCE_DIR}/cmake/hushed.pc.in ${PROJECT_BINARY_DIR}/hushed-${component}.pc @ONLY)
  install(FILES ${PROJECT_BINARY_DIR}/hushed-${component}.pc DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig
    COMPONENT development)
endfunction()
