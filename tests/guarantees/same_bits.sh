#!/bin/sh
# SPDX-License-Identifier: MIT
# same_bits.sh PROGRAM FILE [RUN...]: compares the checksums that the program prints with those in the file, in runs
# with vectors of so many numbers and so many threads. Every preset with tests does this: g++ with -O3, clang with -O1
# and -O2; `make same-bits` does it for other levels. Where bits change on purpose, write the new ones: PROGRAM 1 > FILE.
set -eu
program=$1 file=$2
shift 2
[ $# -gt 0 ] || set -- "2 1" "4 2" "8 1" "8 2"
for run; do
  echo "vectors of ${run% *}, threads: ${run#* }"
  HUSHED_LANES=${run% *} "$program" "${run#* }" | diff "$file" -
done
