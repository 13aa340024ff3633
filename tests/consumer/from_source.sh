#!/bin/sh
# SPDX-License-Identifier: MIT
# from_source.sh PROJECT SOURCE WORK COMPILER [whole]: builds the game in SOURCE with the library's sources in PROJECT:
# the game alone, or with "whole" the library too.
set -eu
rm -rf "$3"
for fetch in ON OFF; do
  cmake -G Ninja -S "$2" -B "$3/$fetch" -DHUSHED_SOURCE="$1" -DFETCH=$fetch -DCMAKE_CXX_FLAGS=-O0 \
    -DCMAKE_CXX_COMPILER="$4" > /dev/null
done
for fetch in ON OFF; do
  cmake --build "$3/$fetch" --target help | grep -q '^hushed_core:'
  ninja -C "$3/$fetch" "$(ninja -C "$3/$fetch" -t targets all | sed -n 's/^\(CMakeFiles.core_only.dir.*\.o\):.*/\1/p')" > /dev/null
done
[ "${5:-}" = whole ] || exit 0
cmake --build "$3/OFF" --target core_only > /dev/null
[ "$("$3/OFF/core_only")" = "the buoy is 3 m up" ]
