#!/bin/sh
# SPDX-License-Identifier: MIT
# Recreates docs/screenshots/ from the demo data: the tool in a terminal window on a virtual screen.
set -eu
cd "$(dirname "$0")/.."
mkdir -p docs/screenshots
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT

# picture NAME COMMAND: a screenshot of a terminal after a command.
picture() {
  cat > "$work/session.sh" <<END
printf '\033[1;36m\$\033[0m %s\n' '$2'
PATH="$PWD/build:\$PATH" LC_ALL=C.UTF-8
export LC_ALL
$2
touch "$work/ready"
sleep 30
END
  rm -f "$work/ready"
  COMMAND="sh $work/session.sh" OUTPUT="docs/screenshots/$1.png" READY="$work/ready" \
    xvfb-run -a -s '-screen 0 1280x800x24' sh -c '
      xterm -u8 -fa "DejaVu Sans Mono" -fs 10 -geometry 158x48+0+0 -bg "#101418" -fg "#d8dee6" +sb -e $COMMAND &
      for i in $(seq 100); do [ -e "$READY" ] && break; sleep 0.1; done
      sleep 0.5
      import -window root "$OUTPUT"
      mogrify -crop 1250x764+4+4 +repage -fuzz 4% -trim +repage -bordercolor "#101418" -border 12x8 "$OUTPUT"
      kill $!'
  echo "docs/screenshots/$1.png"
}

picture play 'hushed play scenes/harbour.toml --seconds 9 --fps 4'
picture check 'hushed check scenes/mistakes.toml'
picture compare 'hushed compare scenes/harbour.toml scenes/harbour.toml --set hook.spring.damping=0.3 --set searchlight.face.max_turn_speed=8'
picture easing 'hushed describe easing | tail -46'

# drawing NAME OPTIONS: a picture that the tool draws.
drawing() {
  name=$1
  shift
  build/hushed draw "scenes/${scene:-harbour}.toml" --to "docs/screenshots/$name.png" "$@" 2> /dev/null
  echo "docs/screenshots/$name.png"
}

drawing draw
drawing paths --show paths --from angle --only ferry,tug,pilot,lookout,trolley,hook,crane,lighthouse,searchlight
springs=examples/first-steps/10-springs.toml
overshoot='overshoot(soft.position.y, of = 1)' settled='settled(soft.position.y, of = 1)'
build/hushed sweep $springs --vary soft.spring.damping=0.1:1:46 --vary soft.spring.frequency=0.2:1.6:36 \
  --measure "$overshoot" --measure "$settled" --picture docs/screenshots/sweep.png > "$work/rows" 2>&1
echo docs/screenshots/sweep.png
build/hushed solve $springs --change soft.spring.damping --change soft.spring.frequency --want "$overshoot = 8 %" \
  --want "$settled = 1.5 s" --seconds 6 --picture docs/screenshots/solve.png > "$work/found" 2>&1
echo docs/screenshots/solve.png
scene=flock drawing flock --show paths --frames 900:1200

node scripts/live_screenshots.mjs

# The example with a window, where `make test` or `make window` has built it.
for program in build/dev/examples/15_in_a_window build/release/examples/15_in_a_window; do
  [ -x "$program" ] || continue
  xvfb-run -a -s '-screen 0 1280x800x24' "$program" --frames 420 --press W --picture "$work/window.bmp" > "$work/log" 2>&1
  convert "$work/window.bmp" docs/screenshots/window.png
  echo docs/screenshots/window.png
  break
done
