#!/bin/sh
# same_bits.sh SOURCE WORK: builds the core and a program over it four ways, and compares what they print.
set -eu
source=$1
work=$2/same_bits
rm -rf "$work"

# build COMPILER LEVEL PRECOMPILED: what all files include is compiled once.
build() {
  place=$work/$1-O$2
  mkdir -p "$place"
  echo '#include <hushed/hushed.hpp>' > "$place/all.hpp"
  flags="-w -std=c++20 -O$2 -ffp-contract=off -I$source/include -I$source/src/core -I/usr/include/eigen3"
  # shellcheck disable=SC2086 # a list of flags
  "$1" $flags -x c++-header "$place/all.hpp" -o "$place/all.hpp.$3"
  # shellcheck disable=SC2046,SC2086 # lists of flags and of files
  "$1" $flags -include "$place/all.hpp" "$source/tests/guarantees/same_bits.cpp" \
    $(find "$source/src/core" -name '*.cpp') -o "$place/program"
}

for level in 0 3; do
  build g++ $level gch &
  build clang++ $level pch &
  wait
done
for program in "$work"/*/program; do
  echo "$(basename "$(dirname "$program")") $("$program")"
done | tee "$work/sums"
[ "$(cut -d' ' -f2 "$work/sums" | sort -u | wc -l)" -eq 1 ] && [ "$(wc -l < "$work/sums")" -eq 4 ]
