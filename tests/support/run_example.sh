#!/bin/sh
# Runs an example and compares its output with the comment at the end of its source, which begins with "// Prints:", or
# "# Prints:" in Python.
set -eu
printed=$("$1")
promised=$(sed -n '/^\(\/\/\|#\) Prints:/,$ { / Prints:/d; s/^\(\/\/\|#\) \{0,1\}//; p }' "$2")
[ -n "$promised" ] || { echo "$2 does not say what it prints"; exit 1; }
[ "$printed" = "$promised" ] || {
  printf 'It prints:\n%s\nand promises:\n%s\n' "$printed" "$promised"
  exit 1
}
