#!/bin/sh
# SPDX-License-Identifier: MIT
# counts.sh BENCH_COUNTED COUNTS [--write]: counts the instructions per object and frame of each kind, and compares them
# with the file COUNTS. Fails where one is more than 3 % higher. Counts do not depend on how busy the machine is.
set -eu
grep -q avx2 /proc/cpuinfo || { echo "This machine has no AVX2, with which the counts were made."; exit 77; }
program=$1 counts=$2
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT

echo "kind,instructions" > "$work/counts.csv"
"$program" --list | while read -r kind; do
  valgrind --tool=callgrind --toggle-collect=counted_frames --callgrind-out-file=/dev/null "$program" "$kind" \
    2> "$work/log" || { cat "$work/log" >&2; exit 1; }
  all=$(sed -n 's/.*Collected : //p' "$work/log")
  echo "\"$kind\",$((all / 8000))" >> "$work/counts.csv"
done

if [ "${3:-}" = --write ]; then
  cp "$work/counts.csv" "$counts"
  cat "$counts"
  exit 0
fi
awk -F'",' '
  NR == FNR { before[$1] = $2; next }
  FNR == 1 { printf "%-16s %12s %12s\n", "kind", "before", "now"; next }
  {
    printf "%-16s %12d %12d", substr($1, 2), before[$1], $2
    if (!($1 in before)) { print "  new: run make counts WRITE=1"; failed = 1 }
    else if ($2 > before[$1] * 1.03 + 1) { print "  more than 3 % higher"; failed = 1 }
    else if ($2 < before[$1] * 0.97 - 1) { print "  lower: run make counts WRITE=1"; }
    else print ""
  }
  END { exit failed }' "$counts" "$work/counts.csv"
