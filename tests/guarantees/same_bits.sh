#!/bin/sh
# same_bits.sh SOURCE WORK: builds the core and a program over it four ways, and compares what they print.
set -eu
source=$1
work=$2/same_bits
mkdir -p "$work"
for compiler in g++ clang++; do
  for level in 0 3; do
    program=$work/$compiler-O$level
    # shellcheck disable=SC2046 # a list of files
    $compiler -std=c++20 -O$level -ffp-contract=off -I"$source/include" -I"$source/src/core" -I/usr/include/eigen3 \
      "$source/tests/guarantees/same_bits.cpp" $(find "$source/src/core" -name '*.cpp') -o "$program" &
  done
  wait
done
for program in "$work"/*-O0 "$work"/*-O3; do
  echo "$(basename "$program") $("$program")"
done | tee "$work/sums"
[ "$(cut -d' ' -f2 "$work/sums" | sort -u | wc -l)" -eq 1 ] && [ "$(wc -l < "$work/sums")" -eq 4 ]
