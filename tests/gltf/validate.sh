#!/bin/sh
# validate.sh TOOL SCENE WORK: records the scene in every form of glTF (whole, static, interrupted) and runs the validator.
set -eu
# The validator is installed beside WORK, so that the source tree is not changed.
validator=$3-validator
mkdir -p "$validator"
cp "$(dirname "$0")/package.json" "$(dirname "$0")/package-lock.json" "$(dirname "$0")/validate.mjs" "$validator"
[ -d "$validator/node_modules/gltf-validator" ] || npm ci --prefix "$validator" --no-audit --no-fund
rm -rf "$3" && mkdir -p "$3"
"$1" play "$2" --record "$3/whole.glb"
"$1" play "$2" --record "$3/a name with spaces.gltf" --uneven 3
printf 'hushed = 1\n[object.mole]\n[object.post]\nparent = "mole"\nscale = [1, 2, 0]\n' > "$3/still.toml"
"$1" play "$3/still.toml" --record "$3/still.glb"
"$1" play "$3/still.toml" --record "$3/one.gltf" --frames 0
# SIGINT after two seconds must end it: 124. 137 means that it was killed.
timeout --foreground --signal INT --kill-after 20 2 "$1" play "$2" --record "$3/interrupted.glb" --frames 100000000 ||
  [ $? -eq 124 ]
[ -z "$(ls "$3" | grep part || true)" ]
node "$validator/validate.mjs" "$3"/*.glb "$3"/*.gltf
