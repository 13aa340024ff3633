#!/bin/sh
# same_bits.sh SOURCE WORK CORE SCRIPT: builds the core, scripts and a program in two ways, uses the optimised libraries
# of g++ for the third, and compares the outputs of the program, with vectors of each width and on one and two threads,
# and states that it writes.
set -eu
source=$1
work=$2/same_bits
rm -rf "$work"

# build COMPILER LEVEL PRECOMPILED: headers that all files include are precompiled.
build() {
  place=$work/$1-O$2
  mkdir -p "$place"
  echo '#include <hushed/hushed.hpp>' > "$place/all.hpp"
  flags="-w -DHUSHED_THREADS -std=c++20 -O$2 -ffp-contract=off -I$source/include -I$source/src/core -I/usr/include/eigen3 -I$source/src/script -I/usr/include/lua5.4"
  # shellcheck disable=SC2086 # a list of flags
  "$1" $flags -x c++-header "$place/all.hpp" -o "$place/all.hpp.$3"
  # Many files at a time are one unit.
  find "$source/src/core" "$source/src/script" -name '*.cpp' | sort | sed 's/.*/#include "&"/' | split -l 40 --additional-suffix=.cpp - "$place/unit_"
  # shellcheck disable=SC2086 # a list of flags
  (cd "$place" && find . "$source/tests/guarantees/same_bits.cpp" -name '*.cpp' |
    xargs -P 2 -n 1 "$1" $flags -include "$place/all.hpp" -c && "$1" ./*.o -ltbb -l:liblua5.4-c++.a -o program)
}

build clang++ 3 pch
build g++ 0 gch
mkdir -p "$work/g++-O3"
g++ -w -std=c++20 -O3 -I"$source/include" -I"$source/src/core" -I/usr/include/eigen3 \
  "$source/tests/guarantees/same_bits.cpp" "$4" "$3" -ltbb -l:liblua5.4-c++.a \
  -o "$work/g++-O3/program"
# sums PROGRAM LANES THREADS
sums() {
  sum=$(HUSHED_LANES=$2 "$work/$1/program" "$3")
  echo "$sum $1, $2 lanes, $3 threads"
}
{
  for program in clang++-O3 g++-O3; do
    for lanes in 2 4 8; do
      for threads in 1 2; do sums $program $lanes $threads; done
    done
  done
  sums g++-O0 2 2  # slow, so only one
} | tee "$work/sums"
# A state that one process writes goes on in another that the other compiler made.
for pair in "g++-O3 clang++-O3" "clang++-O3 g++-O3"; do
  from=${pair% *} to=${pair#* }
  saved=$("$work/$from/program" 1 save "$work/state-$from")
  loaded=$("$work/$to/program" 1 load "$work/state-$from")
  echo "$saved $from, $loaded $to from its state"
  [ "$saved" = "$loaded" ]
done
cmp "$work/state-g++-O3" "$work/state-clang++-O3"
[ "$(cut -d' ' -f1 "$work/sums" | sort -u | wc -l)" -eq 1 ] && [ "$(wc -l < "$work/sums")" -eq 13 ]
