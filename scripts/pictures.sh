#!/bin/sh
# SPDX-License-Identifier: MIT
# Draws the pictures of the guide and of the reference with `hushed draw`, each from a scene. `make screenshots` runs it.
set -eu
cd "$(dirname "$0")/.."
hushed=${TOOL:-build/hushed}
steps=examples/first-steps
scenes=docs/reference/pictures

# curves FILE HEIGHT SCENE OPTIONS..., and paths, which are all of one height.
draw() {
  to=$1 height=$2 scene=$3
  shift 3
  "$hushed" draw "$scene" --to "$to" --fps 30 --width 640 --height "$height" "$@" 2> /dev/null
}
curves() { draw "$@" --show curves; }
paths() {
  to=$1
  shift
  draw "$to" 420 "$@" --show paths
}

# The guide: one picture for each step.
guide=docs/guide/pictures
mkdir -p "$guide"
curves "$guide/01-turn.svg" 320 "$steps/01-turn.toml" --seconds 18
curves "$guide/02-other-axis.svg" 320 "$steps/02-other-axis.toml" --seconds 8
curves "$guide/03-out-and-back.svg" 320 "$steps/03-out-and-back.toml" --seconds 16
curves "$guide/04-ease.svg" 380 "$steps/04-ease.toml"
curves "$guide/05-oscillate.svg" 380 "$steps/05-oscillate.toml"
paths "$guide/06-orbit.svg" "$steps/06-orbit.toml" --seconds 8
paths "$guide/07-waypoints.svg" "$steps/07-waypoints.toml" --seconds 16
curves "$guide/08-follow.svg" 380 "$steps/08-follow.toml" --seconds 24
curves "$guide/09-face.svg" 380 "$steps/09-face.toml"
curves "$guide/10-springs.svg" 420 "$steps/10-springs.toml" --seconds 8
curves "$guide/11-keys.svg" 380 "$steps/11-keys.toml"
curves "$guide/12-many.svg" 380 "$steps/12-many.toml"

curves "$guide/vary.svg" 420 scenes/harbour.toml --watch hook.position.x,hook.speed --vary hook.spring.damping=0.05,0.12,0.5 --seconds 20

# The reference: what the main values of each behaviour do.
curves "$scenes/spin.svg" 320 "$steps/01-turn.toml" --vary lamp.spin.speed=20,40,-80
curves "$scenes/travel.svg" 320 "$scenes/travel.toml"
curves "$scenes/sway.svg" 640 "$scenes/sway.toml" --seconds 8
paths "$scenes/orbit.svg" "$steps/06-orbit.toml" --seconds 7 --vary gull.orbit.radius=3,5,7
curves "$scenes/glide.svg" 320 "$steps/04-ease.toml" --watch bridge.rotation.yaw --vary 'bridge.glide.easing="linear","in-out-sine","out-back"'
paths "$scenes/roam.svg" "$scenes/roam.toml" --seconds 30
curves "$scenes/replay.svg" 420 "$scenes/replay.toml" --seconds 3
paths "$scenes/route.svg" "$steps/07-waypoints.toml" --seconds 14 --vary 'ferry.route.shape="straight","smooth"' --ghosts 1000
curves "$scenes/follow.svg" 320 "$steps/08-follow.toml" --watch 'distance(tug,ferry)' --seconds 24 --vary tug.follow.half_life=0.05,0.15,0.5
curves "$scenes/face.svg" 320 "$steps/09-face.toml" --watch light.rotation.yaw --seconds 12 --vary light.face.max_turn_speed=10,30,90
curves "$scenes/spring-damping.svg" 320 "$scenes/spring.toml" --seconds 4 --vary hook.spring.damping=0.1,0.4,1
curves "$scenes/spring-frequency.svg" 320 "$scenes/spring.toml" --seconds 4 --vary hook.spring.frequency=0.5,1,2
curves "$scenes/smooth.svg" 320 "$scenes/smooth.toml" --seconds 6 --vary raft.smooth.half_life=0,0.1,0.4
curves "$scenes/drive.svg" 380 "$scenes/drive.toml" --seconds 5 --vary pilot.drive.half_life=0,0.2,0.6
curves "$scenes/attract.svg" 380 "$scenes/attract.toml" --seconds 6
paths "$scenes/steer.svg" "$scenes/steer.toml" --seconds 12
