# SPDX-License-Identifier: MIT
# `cmake --install` lays down headers, libraries, the tool, and what find_package(HushedOrbit) and pkg-config need.
# Its components are those of the Debian packages: runtime, development and tool.

include(CMakePackageConfigHelpers)

install(DIRECTORY include/hushed DESTINATION ${CMAKE_INSTALL_INCLUDEDIR} COMPONENT development)
configure_package_config_file(cmake/HushedOrbitConfig.cmake.in ${PROJECT_BINARY_DIR}/HushedOrbitConfig.cmake
  INSTALL_DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/HushedOrbit)
write_basic_package_version_file(${PROJECT_BINARY_DIR}/HushedOrbitConfigVersion.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${PROJECT_BINARY_DIR}/HushedOrbitConfig.cmake ${PROJECT_BINARY_DIR}/HushedOrbitConfigVersion.cmake
  DESTINATION ${CMAKE_INSTALL_LIBDIR}/cmake/HushedOrbit COMPONENT development)

install(FILES LICENSE CHANGELOG.md DESTINATION ${CMAKE_INSTALL_DOCDIR} COMPONENT development)
# In the folders of the sources, so that links between documents and examples hold.
install(DIRECTORY docs/guide docs/reference docs/screenshots DESTINATION ${CMAKE_INSTALL_DOCDIR}/docs
  COMPONENT development)
install(DIRECTORY examples/ DESTINATION ${CMAKE_INSTALL_DOCDIR}/examples COMPONENT development)

if(PROJECT_IS_TOP_LEVEL)
  include(HushedPackages)
endif()
