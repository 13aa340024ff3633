#!/bin/sh
# SPDX-License-Identifier: MIT
# demo.sh [--once]: plays, draws and checks the harbour; then, without --once, starts play mode and prints its address.
set -eu
cd "$(dirname "$0")/.."

run() {
  printf '\n$ %s\n' "$*"
  "$@"
}

run build/hushed play scenes/harbour.toml --seconds 6 --fps 4
run build/hushed draw scenes/harbour.toml --to build/harbour.png
run build/hushed check scenes/harbour.toml
[ "${1:-}" = "--once" ] || run build/hushed live scenes/harbour.toml
