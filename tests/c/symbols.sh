#!/bin/sh
# SPDX-License-Identifier: MIT
# symbols.sh LIBRARY: the shared library for C shows only functions of its header, all of them, and has a SONAME with its
# version.
set -eu
header=$(dirname "$0")/../../include/hushed/hushed.h
declared=$(grep -o '\bhushed_[a-z_]*(' "$header" | tr -d '(' | sort -u)
shown=$(nm -D --defined-only "$1" | sed -n 's/^[0-9a-f]* [A-Z] //p' | grep -v '^HUSHED_' | sed 's/@.*//' | sort -u)
[ "$declared" = "$shown" ] || {
  printf 'declared:\n%s\nshown:\n%s\n' "$declared" "$shown" >&2
  exit 1
}
objdump -p "$1" | grep -q 'SONAME *libhushed\.so\.0\.1$'
