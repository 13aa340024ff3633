#!/bin/sh
# SPDX-License-Identifier: MIT
# build.sh BUILD SOURCE WORK COMPILER FLAGS: installs BUILD below WORK and builds SOURCE with that installation only.
set -eu
rm -rf "$3"
cmake --install "$1" --prefix "$3/installed" > /dev/null
cmake -S "$2" -B "$3/build" -DCMAKE_PREFIX_PATH="$3/installed" -DCMAKE_CXX_COMPILER="$4" -DCMAKE_CXX_FLAGS="$5" > /dev/null
cmake --build "$3/build" > /dev/null
[ "$("$3/build/core_only")" = "the buoy is 3 m up" ]
# And by pkg-config.
PKG_CONFIG_PATH=$(dirname "$(find "$3/installed" -name hushed-core.pc)")
export PKG_CONFIG_PATH
# shellcheck disable=SC2046,SC2086 # lists of words
"$4" -std=c++20 $5 "$2/core_only.cpp" $(pkg-config --cflags --libs hushed-core) -o "$3/by_pkg_config"
[ "$("$3/by_pkg_config")" = "the buoy is 3 m up" ]
pkg-config --exists --print-errors hushed-files hushed-script hushed-picture hushed-live hushed
[ "$("$3/build/consumer")" = "the lamp has turned 90 degrees" ]
