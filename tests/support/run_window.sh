#!/bin/sh
# SPDX-License-Identifier: MIT
# run_window.sh PROGRAM TOOL SOURCE: the example with a window, on a screen of its own. The boat that its keys drive is
# where the tool takes it with the same keys from a file, and the window shows more than a few colours.
set -eu
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
printed=$(xvfb-run -a -s '-screen 0 1280x800x24' "$1" --frames 60 --press W,F1 --picture "$work/window.bmp" 2> "$work/errors") ||
  { cat "$work/errors"; exit 1; }
grep -q '^play mode: http://127.0.0.1:' "$work/errors"
promised=$(sed -n '/^\/\/ Prints with/,$ { /^\/\/ Prints/d; s/^\/\/ //p }' "$3")
[ "$printed" = "$promised" ] || { printf 'It prints:\n%s\nand promises:\n%s\n' "$printed" "$promised"; exit 1; }

printf 'time,key,change\n0,W,down\n' > "$work/keys.csv"
x=$("$2" play scenes/harbour.toml --keys "$work/keys.csv" --seconds 1 --watch pilot.position.x --format csv | tail -n 1)
[ "$(printf '%.3f' "${x##*,}")" = "$(echo "$printed" | sed 's/.* is at \([^ ]*\) .*/\1/')" ]

bytes=$(od -An -v -tu1 "$work/window.bmp" | tr -s ' ' '\n' | sort -u | wc -l)
[ "$bytes" -gt 100 ] || { echo "the window shows $bytes different bytes only"; exit 1; }
