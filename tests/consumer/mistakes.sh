#!/bin/sh
# SPDX-License-Identifier: MIT
# mistakes.sh INCLUDE COMPILER: the compiler says what a wrong behaviour of a program's own needs, in one error and
# without a warning.
set -eu
refuses() {  # HEADERS APPLY WANTED
  code="$1
    struct Hover { hushed::Pose apply($2) const { return in; } };
    int main() { hushed::Scene scene; scene.give(scene.add({}), Hover{}); }"
  said=$(echo "$code" | "$compiler" -x c++ -std=c++20 -fsyntax-only -Wall -I "$include" $(pkg-config --cflags eigen3) - 2>&1) &&
    { echo "This compiles: $code" >&2; exit 1; }
  case $(echo "$said" | grep -E '(error|warning): ') in
    *"$newline"*) ;;
    *"error: static"*"$3"*) return 0 ;;
  esac
  echo "$said" >&2
  exit 1
}
include=$1 compiler=$2 newline='
'
refuses '#include <hushed/hushed.hpp>' 'const hushed::Pose& in, const hushed::Moment&' 'needs #include <hushed/own.hpp>'
refuses '#include <hushed/hushed.hpp>
#include <hushed/own.hpp>' 'const hushed::Pose& in' 'a behaviour needs `Pose apply(const Pose& in, const Moment& now) const`'
