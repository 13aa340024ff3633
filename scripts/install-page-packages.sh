#!/bin/sh
# SPDX-License-Identifier: MIT
# Installs the packages of the page's lock file, unless they are there: several builds share them.
set -eu
cd "$(dirname "$0")/../page"
[ node_modules/.package-lock.json -nt package-lock.json ] || exec npm ci --no-audit --no-fund --loglevel=error
