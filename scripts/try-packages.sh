#!/bin/sh
# SPDX-License-Identifier: MIT
# try-packages.sh DIRECTORY: installs the Debian packages of the directory in a new Debian 12 and, there, plays a scene
# and builds programs with CMake and with pkg-config. Needs root and the network.
set -eu
packages=$(cd "$1" && pwd)
tests=$(cd "$(dirname "$0")/../tests/consumer" && pwd)
root=$(mktemp -d)
chmod 755 "$root"
trap 'umount "$root/proc" 2>/dev/null || true; rm -rf "$root" "$root.log"' EXIT
trap 'exit 130' INT TERM

mirror=$(sed -n 's/^URIs: \([^ ]*\).*/\1/p' /etc/apt/sources.list.d/debian.sources 2>/dev/null | head -n 1)
[ -n "$mirror" ] || mirror=$(sed -n 's/^deb \(\[[^]]*\] \)\{0,1\}\([^ ]*\) bookworm .*/\2/p' /etc/apt/sources.list | head -n 1)
echo "Installing Debian 12 in $root"
debootstrap --variant=minbase bookworm "$root" ${mirror:+"$mirror"} > "$root.log" 2>&1 ||
  { tail -n 20 "$root.log" >&2; exit 1; }
cp "$packages"/*.deb "$root/tmp/"
cp -r "$tests" "$root/tmp/consumer"
cp /etc/apt/apt.conf.d/*proxy* "$root/etc/apt/apt.conf.d/" 2>/dev/null || true
mount -t proc proc "$root/proc" 2>/dev/null || true
echo "Installing the packages, a compiler and CMake"
chroot "$root" sh -euc '
  export DEBIAN_FRONTEND=noninteractive LC_ALL=C.UTF-8
  apt-get update -q > /dev/null
  apt-get install -y -q --no-install-recommends /tmp/*.deb g++ cmake make pkg-config > /tmp/install.log 2>&1 ||
    { tail -n 20 /tmp/install.log >&2; exit 1; }
  hushed --version
  hushed play /usr/share/hushed/scenes/harbour.toml --frames 2 > /dev/null
  hushed check /usr/share/hushed/scenes/harbour.toml
  bash -n /usr/share/bash-completion/completions/hushed
  cmake -S /tmp/consumer -B /tmp/build > /dev/null
  cmake --build /tmp/build > /dev/null
  [ "$(/tmp/build/core_only)" = "the buoy is 3 m up" ]
  [ "$(/tmp/build/consumer)" = "the lamp has turned 90 degrees" ]
  g++ -std=c++20 /tmp/consumer/core_only.cpp $(pkg-config --cflags --libs hushed-core) -o /tmp/by_pkg_config
  [ "$(/tmp/by_pkg_config)" = "the buoy is 3 m up" ]
  apt-get remove -y -q hushed libhushed-dev libhushed0 > /dev/null
  [ ! -e /usr/bin/hushed ] && [ ! -e /usr/share/hushed ]
'
echo "The packages work in a new Debian 12. Building a game with the sources of the library"
"$tests/from_source.sh" "$(dirname "$tests")/.." "$tests/from_source" "$packages/from-source" g++ whole
echo "A game can build the library as a part of itself."
