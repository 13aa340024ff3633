#!/bin/sh
# SPDX-License-Identifier: MIT
# Installs missing Debian packages for the purposes given as words: build, test, packages, try-packages,
# window, coverage, docs, lint, screenshots.
# Prints what it installs; does nothing where nothing is missing.
set -eu

packages=""
for purpose in "$@"; do
  case "$purpose" in
    build) packages="$packages g++ cmake ninja-build libeigen3-dev libtbb-dev libfmt-dev libtomlplusplus-dev nlohmann-json3-dev libcli11-dev pkg-config libpango1.0-dev libboost-dev libnlopt-cxx-dev libtinygltf-dev liblua5.4-dev nodejs npm" ;;
    test) packages="$packages clang libclang-rt-dev libgtest-dev librapidcheck-dev libbenchmark-dev valgrind chromium fonts-dejavu-core libsdl2-dev libgl-dev libgl1-mesa-dri xvfb xauth python3 parallel" ;;
    coverage) packages="$packages gcovr" ;;
    packages) packages="$packages dpkg-dev lintian" ;;
    try-packages) packages="$packages debootstrap" ;;
    window) packages="$packages libsdl2-dev libgl-dev libgl1-mesa-dri" ;;
    docs) packages="$packages doxygen" ;;
    lint) packages="$packages clang-format clang-tidy" ;;
    screenshots) packages="$packages xvfb xterm x11-utils imagemagick fonts-dejavu-core chromium" ;;
    *) echo "install-packages.sh: unknown purpose \"$purpose\"; give build, test, packages, try-packages, window, coverage, docs, lint or screenshots." >&2; exit 2 ;;
  esac
done

missing=""
for package in $packages; do
  status=$(dpkg-query -W -f '${Status}' "$package" 2>/dev/null || true)
  [ "$status" = "install ok installed" ] && continue
  case "$package" in nodejs) command -v node > /dev/null && continue ;; npm) command -v npm > /dev/null && continue ;; esac
  missing="$missing $package"
done
[ -n "$missing" ] || exit 0

as_root=""
if [ "$(id -u)" -ne 0 ]; then
  command -v sudo >/dev/null || {
    echo "These packages are missing, and there is no sudo to install them with:$missing" >&2
    exit 1
  }
  as_root="sudo"
fi
echo "Installing Debian packages:$missing"
$as_root apt-get update -q
# shellcheck disable=SC2086 # a list of words
$as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends $missing
