#!/bin/sh
# same_bits.sh SOURCE WORK LIBRARY: builds the core and a program in two ways, uses the optimised library of g++ for the
# third, and compares the outputs of the program.
set -eu
source=$1
work=$2/same_bits
rm -rf "$work"

# build COMPILER LEVEL PRECOMPILED: headers that all files include are precompiled.
build() {
  place=$work/$1-O$2
  mkdir -p "$place"
  echo '#include <hushed/hushed.hpp>' > "$place/all.hpp"
  flags="-w -std=c++20 -O$2 -ffp-contract=off -I$source/include -I$source/src/core -I/usr/include/eigen3"
  # shellcheck disable=SC2086 # a list of flags
  "$1" $flags -x c++-header "$place/all.hpp" -o "$place/all.hpp.$3"
  # A dozen files at a time are one unit.
  find "$source/src/core" -name '*.cpp' | sort | sed 's/.*/#include "&"/' | split -l 12 --additional-suffix=.cpp - "$place/unit_"
  # shellcheck disable=SC2086 # a list of flags
  (cd "$place" && find . "$source/tests/guarantees/same_bits.cpp" -name '*.cpp' |
    xargs -P 2 -n 1 "$1" $flags -include "$place/all.hpp" -c && "$1" ./*.o -o program)
}

build clang++ 3 pch
build g++ 0 gch
mkdir -p "$work/g++-O3"
g++ -w -std=c++20 -O3 -I"$source/include" -I"$source/src/core" -I/usr/include/eigen3 \
  "$source/tests/guarantees/same_bits.cpp" "$3" -o "$work/g++-O3/program"
for program in "$work"/*/program; do
  echo "$(basename "$(dirname "$program")") $("$program")"
done | tee "$work/sums"
[ "$(cut -d' ' -f2 "$work/sums" | sort -u | wc -l)" -eq 1 ] && [ "$(wc -l < "$work/sums")" -eq 3 ]
