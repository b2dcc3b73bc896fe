#!/usr/bin/env bash
# Builds the fuzz targets with clang and runs each for a bounded time, two at once: fuzz/run.sh [seconds]. Seeds are the
# shipped files and fuzz/corpus. Ends with 1 where something was found; the input that did it is left in build/fuzz.
set -euo pipefail
cd "$(dirname "$0")/.."
seconds=${1:-60}
for package in clang libclang-rt-14-dev; do
    dpkg-query -W -f='${Status}' $package 2>/dev/null | grep -q 'ok installed' || apt-get install -y -qq --no-install-recommends $package >/dev/null
done
cmake --preset fuzz >/dev/null
readers="map job job_file entry quantity pin_sheet csv npy wav mat known_good typed"
cmake --build --preset fuzz --target ilvek-cli $(printf 'fuzz_%s ' $readers)
cli=build/fuzz/cli/ilvek-cli
found=0
one() {
    local reader=$1 seeds log status=0
    seeds=$(mktemp -d)
    log=build/fuzz/$reader.log
    if [ -d "fuzz/corpus/$reader" ]; then cp fuzz/corpus/"$reader"/* "$seeds"; fi
    case $reader in
        map) cp data/maps/*.json "$seeds" ;;
        job) cp data/demo/*.json "$seeds" ;;
        job_file) "$cli" job import data/demo/reduced-power.json "$seeds/1.ilvek" >/dev/null ;;
        quantity) printf 'V11.84 V' >"$seeds/1"; printf '\x034k7' >"$seeds/2"; printf '\x02OL' >"$seeds/3" ;;
        pin_sheet) cp data/sheets/*.csv "$seeds" ;;
        csv) head -200 data/traces/injectors-sound.csv >"$seeds/1"; cp data/sheets/*.csv "$seeds" ;;
        typed) printf 'A3 > A6; key on; apart A; load 21 W lamp\n24.1 V @ 0.8 A' >"$seeds/1"; printf 'key on; clamp F1; bridged F3 in > F3 out 10 A\n-2.4 A' >"$seeds/2" ;;
        npy) head -400 data/traces/injectors-sound.csv >"$seeds.csv"; "$cli" trace convert "$seeds.csv" "$seeds/1.npy" >/dev/null; rm "$seeds.csv" ;;
        known_good) "$cli" trace keep data/traces/tiller-down.csv "$seeds/1" >/dev/null ;;
    esac
    build/fuzz/fuzz/fuzz_$reader -max_total_time="$seconds" -timeout=20 -max_len=200000 -rss_limit_mb=4096 \
        -artifact_prefix="build/fuzz/$reader-" -print_final_stats=1 "$seeds" >"$log" 2>&1 || status=1
    echo "== $reader, $seconds s: $([ $status = 0 ] && echo nothing found || echo FOUND SOMETHING)"
    grep -aE 'stat::number_of_executed_units|ERROR|SUMMARY|panic|DEADLY|slowest' "$log" || true
    rm -rf "$seeds"
    return $status
}
for reader in $readers; do
    while [ "$(jobs -rp | wc -l)" -ge 2 ]; do wait -n || found=1; done
    one "$reader" &
done
while [ "$(jobs -p | wc -l)" -gt 0 ]; do wait -n || { [ $? = 127 ] && break; found=1; }; done
exit $found
