#!/bin/sh
# Makes docs/screenshots/ anew from the demo data: the tool in a terminal window, on a screen of its own.
set -eu
cd "$(dirname "$0")/.."
mkdir -p docs/screenshots
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT

# picture NAME COMMAND: what a terminal shows of a command.
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
      kill $!'
  echo "docs/screenshots/$1.png"
}

picture play 'hushed play scenes/harbour.toml --seconds 9 --fps 4'
picture describe 'hushed describe spring'
picture easing 'hushed describe easing | tail -46'
