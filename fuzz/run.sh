#!/usr/bin/env bash
# Builds the fuzz targets with clang and runs each for a bounded time: fuzz/run.sh [seconds]. Seeds are the shipped files.
set -euo pipefail
cd "$(dirname "$0")/.."
seconds=${1:-60}
for package in clang libclang-rt-14-dev; do
    dpkg-query -W -f='${Status}' $package 2>/dev/null | grep -q 'ok installed' || apt-get install -y -qq --no-install-recommends $package >/dev/null
done
cmake --preset fuzz >/dev/null
readers="map job quantity pin_sheet csv npy wav mat known_good"
cmake --build --preset fuzz --target ilvek-cli $(printf 'fuzz_%s ' $readers)
cli=build/fuzz/cli/ilvek-cli
for reader in $readers; do
    seeds=$(mktemp -d)
    case $reader in
        map) cp data/maps/*.json "$seeds" ;;
        job) cp data/demo/*.json "$seeds" ;;
        quantity) printf 'V11.84 V' >"$seeds/1"; printf '\x034k7' >"$seeds/2"; printf '\x02OL' >"$seeds/3" ;;
        pin_sheet) cp data/sheets/*.csv "$seeds" ;;
        csv) head -200 data/traces/injectors-sound.csv >"$seeds/1"; cp data/sheets/*.csv "$seeds" ;;
        npy) head -400 data/traces/injectors-sound.csv >"$seeds.csv"; "$cli" trace convert "$seeds.csv" "$seeds/1.npy" >/dev/null; rm "$seeds.csv" ;;
        wav) /usr/bin/python3 -c 'import sys, wave; w = wave.open(sys.argv[1], "wb"); w.setparams((2, 2, 48000, 0, "NONE", "")); w.writeframes(bytes(range(256)) * 8)' "$seeds/1" ;;
        mat) /usr/bin/python3 fuzz/mat_seed.py "$seeds/1" ;;
        known_good) "$cli" trace keep data/traces/tiller-down.csv "$seeds/1" >/dev/null ;;
    esac
    echo "== $reader, $seconds s"
    build/fuzz/fuzz/fuzz_$reader -max_total_time="$seconds" -max_len=200000 -rss_limit_mb=4096 -print_final_stats=1 "$seeds" 2>&1 | grep -E 'stat::|ERROR|SUMMARY|panic|DEADLY' || true
    rm -rf "$seeds"
done
