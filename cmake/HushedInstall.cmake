# SPDX-License-Identifier: MIT
# `cmake --install` lays down headers, libraries, the tool and what find_package(HushedOrbit) needs.

include(CMakePackageConfigHelpers)

install(DIRECTORY include/hushed DESTINATION ${CMAKE_INSTALL_INCLUDEDIR})
configure_package_config_file(cmake/HushedOrbitConfig.cmake.in ${PROJECT_BINARY_DIR}/HushedOrbitConfig.cmake
  INSTALL_DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/HushedOrbit)
write_basic_package_version_file(${PROJECT_BINARY_DIR}/HushedOrbitConfigVersion.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${PROJECT_BINARY_DIR}/HushedOrbitConfig.cmake ${PROJECT_BINARY_DIR}/HushedOrbitConfigVersion.cmake
  DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/HushedOrbit)
