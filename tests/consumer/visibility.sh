#!/bin/sh
# SPDX-License-Identifier: MIT
# visibility.sh ARCHIVE INCLUDE WORK COMPILER: links the archive to a shared library. Fails for each visible symbol of the
# project whose name is in no public header, and where a program does not find what it needs.
set -eu
mkdir -p "$3"
"$4" -shared -o "$3/visible.so" -Wl,--whole-archive "$1" -Wl,--no-whole-archive
cat $(find "$2/hushed" -name '*.hpp') > "$3/headers"
# g++ makes the functions that select between two versions of a kernel visible, whatever its options.
nm -DC --defined-only "$3/visible.so" | grep -v '\[clone .resolver\]' | sed -n 's/^[0-9a-f]* [TWVBDRu] //p' > "$3/visible"
[ "$(grep -c 'hushed::' "$3/visible")" -gt 100 ]
# The last name of each qualified name before its arguments.
sed -n 's/^\(vtable for \|typeinfo for \|typeinfo name for \|guard variable for \)\{0,1\}\(hushed::[A-Za-z0-9_:~]*\).*/\2/p' "$3/visible" |
  sed 's/.*:://; s/^~//' | sort -u | while read -r name; do
  grep -qw -- "$name" "$3/headers" || echo "$name"
done > "$3/hidden_names"
if [ -s "$3/hidden_names" ]; then
  echo "These are visible, and in no public header:" >&2
  cat "$3/hidden_names" >&2
  exit 1
fi

# And a program finds all that it needs.
"$4" -std=c++20 -O0 -I "$2" $(pkg-config --cflags eigen3) "$(dirname "$0")/core_only.cpp" "$3/visible.so" -ltbb -o "$3/program"
[ "$("$3/program")" = "the buoy is 3 m up" ]
