#!/bin/sh
# SPDX-License-Identifier: MIT
# fuzz.sh SECONDS: runs each fuzz target for that time, two at once, from the corpus in tests/fuzz/corpus.
# The random seed is fixed, so that a run can be repeated. New inputs are added to the corpus of the build folder.
# They stay in build/clang/fuzz/TARGET. An input that fails is named, and the exit status is 1.
# Without -entropic=0, libFuzzer would spend half of the time on choosing inputs.
set -eu
cd "$(dirname "$0")/.."
seconds=${1:-20}

run() {
  target=$(basename "$1" | sed 's/^fuzz_//')
  found=build/clang/fuzz/$target
  mkdir -p "$found"
  if "$1" -max_total_time="$seconds" -timeout=60 -rss_limit_mb=8000 -entropic=0 -seed=17 \
    -verbosity=0 -print_final_stats=1 \
    -artifact_prefix="$found-" "$found" "tests/fuzz/corpus/$target" > "$found.log" 2>&1; then
    printf '%-10s %s inputs tried, none failed\n' "$target" "$(sed -n 's/^stat::number_of_executed_units: *//p' "$found.log")"
  else
    printf '%-10s FAILED:\n' "$target"
    tail -40 "$found.log"
    return 1
  fi
}

failed=0
set -- build/clang/tests/fuzz/fuzz_*
while [ $# -gt 0 ]; do
  run "$1" & first=$!
  if [ $# -gt 1 ]; then
    run "$2" || failed=1
    shift
  fi
  wait "$first" || failed=1
  shift
done
exit "$failed"
