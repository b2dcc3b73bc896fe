#!/usr/bin/env bash
# A real window under Xvfb with a window manager: start, type a reading, close, and find the reading in the job file.
set -euo pipefail
ilvek=$1 cli=$2
folder=$(mktemp -d)
trap 'kill $(jobs -p) 2>/dev/null || true; wait 2>/dev/null || true; rm -rf "$folder"' EXIT
export XDG_DATA_HOME=$folder/data XDG_RUNTIME_DIR=$folder QT_QPA_PLATFORM=xcb
Xvfb -displayfd 3 -screen 0 1280x800x24 -nolisten tcp 3>"$folder/display" 2>/dev/null &
for _ in $(seq 100); do [ -s "$folder/display" ] && break; sleep 0.1; done
DISPLAY=:$(cat "$folder/display")
export DISPLAY
openbox 2>/dev/null &
"$ilvek" --demo 2>"$folder/log" &
program=$!
window=$(timeout 60 xdotool search --sync --onlyvisible --name 'Ilvek' | head -n 1)
timeout 10 xdotool windowactivate --sync "$window" 2>/dev/null || true
sleep 1
job=$folder/data/ilvek/jobs/demonstration.ilvek
for _ in $(seq 20); do
    xdotool type --window "$window" --delay 30 '12.47'
    xdotool key --window "$window" Return
    sleep 0.5
    "$cli" job judge "$job" | grep -q '12.47 V' && break
done
"$cli" job judge "$job" | grep '12.47 V'
xdotool key --window "$window" ctrl+q 2>/dev/null || true  # the window may be gone before the key comes up
for _ in $(seq 50); do kill -0 $program 2>/dev/null || break; sleep 0.1; done
! kill -0 $program 2>/dev/null
