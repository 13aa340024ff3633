# SPDX-License-Identifier: MIT
# Debian packages, by `make packages`: libhushed0 (shared libraries), libhushed-dev and hushed (the tool).

set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_VERSION ${PROJECT_VERSION})
set(CPACK_PACKAGE_VENDOR "the Hushed Orbit authors")
set(CPACK_PACKAGE_CONTACT "The Hushed Orbit authors <authors@hushed-orbit.invalid>")
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
set(CPACK_STRIP_FILES ON)
set(CPACK_INSTALL_DEFAULT_DIRECTORY_PERMISSIONS
  OWNER_READ OWNER_WRITE OWNER_EXECUTE GROUP_READ GROUP_EXECUTE WORLD_READ WORLD_EXECUTE)
set(CPACK_COMPONENTS_ALL runtime development tool)
set(CPACK_DEB_COMPONENT_INSTALL ON)
set(CPACK_COMPONENTS_GROUPING IGNORE)
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_RELEASE 1)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_GENERATE_SHLIBS ON)
set(CPACK_DEBIAN_PACKAGE_GENERATE_SHLIBS_POLICY =)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS_PRIVATE_DIRS
  ${PROJECT_BINARY_DIR}/src/core ${PROJECT_BINARY_DIR}/src/analysis ${PROJECT_BINARY_DIR}/src/study ${PROJECT_BINARY_DIR}/src/files
  ${PROJECT_BINARY_DIR}/src/script ${PROJECT_BINARY_DIR}/src/picture ${PROJECT_BINARY_DIR}/src/live
  ${PROJECT_BINARY_DIR}/src/c)
set(CPACK_DEBIAN_PACKAGE_CONTROL_STRICT_PERMISSION ON)

set(CPACK_DEBIAN_RUNTIME_PACKAGE_NAME libhushed0)
set(CPACK_DEBIAN_RUNTIME_PACKAGE_SECTION libs)
set(CPACK_DEBIAN_RUNTIME_PACKAGE_CONTROL_EXTRA ${CMAKE_CURRENT_LIST_DIR}/debian/triggers)
set(CPACK_DEBIAN_RUNTIME_DESCRIPTION
  "Behaviours for the objects of a scene: rotation, interpolation, follow, orbit,
routes, springs and steering. Poses depend on time alone and not on the frame
rate.
.
This package contains the shared libraries.")

set(CPACK_DEBIAN_DEVELOPMENT_PACKAGE_NAME libhushed-dev)
set(CPACK_DEBIAN_DEVELOPMENT_PACKAGE_SECTION libdevel)
set(CPACK_DEBIAN_DEVELOPMENT_PACKAGE_DEPENDS
  "libhushed0 (= ${PROJECT_VERSION}-1), libeigen3-dev, libtbb-dev, libfmt-dev, libtomlplusplus-dev, libpango1.0-dev, liblua5.4-dev, libnlopt-dev, libtinygltf-dev")
set(CPACK_DEBIAN_DEVELOPMENT_DESCRIPTION
  "Behaviours for the objects of a scene: rotation, interpolation, follow, orbit,
routes, springs and steering. Poses depend on time alone and not on the frame
rate.
.
This package contains headers, documents, examples, and what CMake and
pkg-config need.")

set(CPACK_DEBIAN_TOOL_PACKAGE_NAME hushed)
set(CPACK_DEBIAN_TOOL_PACKAGE_SECTION graphics)
set(CPACK_DEBIAN_TOOL_PACKAGE_DEPENDS "libhushed0 (= ${PROJECT_VERSION}-1)")
set(CPACK_DEBIAN_TOOL_DESCRIPTION
  "Plays, draws, compares and checks the motion of scenes in TOML files, and shows
it frame by frame in a browser, where values are tuned and kept.")

# What every Debian package contains: the licence and the changes.
foreach(pair IN ITEMS runtime@libhushed0 development@libhushed-dev tool@hushed)
  string(REPLACE "@" ";" pair ${pair})
  list(GET pair 0 component)
  list(GET pair 1 package)
  set(HUSHED_PACKAGE ${package})
  set(about ${PROJECT_BINARY_DIR}/debian/${package})
  configure_file(${CMAKE_CURRENT_LIST_DIR}/debian/changelog.in ${about}/changelog.Debian @ONLY)
  execute_process(COMMAND gzip -9nf ${about}/changelog.Debian COMMAND_ERROR_IS_FATAL ANY)
  configure_file(${CMAKE_CURRENT_LIST_DIR}/debian/copyright ${about}/copyright COPYONLY)
  install(FILES ${about}/changelog.Debian.gz ${about}/copyright
    DESTINATION ${CMAKE_INSTALL_DATAROOTDIR}/doc/${package} COMPONENT ${component})
endforeach()

include(CPack)
