#!/bin/sh
# SPDX-License-Identifier: MIT
# build-site.sh TOOLS TO: builds the documentation in the folder TO, into which Doxygen has written. The npm packages
# are installed in TOOLS, so that the source tree is not changed.
set -eu
root=$(cd "$(dirname "$0")/.." && pwd)
mkdir -p "$1"
cp "$root/docs/site/package.json" "$root/docs/site/package-lock.json" "$root/docs/site/build.mjs" "$1"
[ -d "$1/node_modules/markdown-it" ] || npm ci --prefix "$1" --silent --no-audit --no-fund
node "$1/build.mjs" "$root" "$2"
