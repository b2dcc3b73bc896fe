#!/usr/bin/env bash
# A shop's server for tests and for trying it: a PostgreSQL of its own in a folder, on loopback, without a password.
#   scripts/shop-server.sh start FOLDER PORT     makes it where there is none; prints the server line
#   scripts/shop-server.sh stop FOLDER           as it should be
#   scripts/shop-server.sh kill FOLDER           as when the power goes
set -euo pipefail
bin=$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1)
folder=${2:?a folder is needed}
# PostgreSQL does not run as root.
as=()
[ "$(id -u)" -ne 0 ] || as=(runuser -u postgres --)
case ${1:-} in
start)
    port=${3:?a port is needed}
    if [ ! -d "$folder/data" ]; then
        mkdir -p "$folder"
        [ "$(id -u)" -ne 0 ] || chown postgres "$folder"
        (cd "$folder" && "${as[@]}" "$bin/initdb" -D "$folder/data" -U shop --auth=trust --no-sync -E UTF8 --locale=C >"$folder/initdb.log" 2>&1)
    fi
    (cd "$folder" && "${as[@]}" "$bin/pg_ctl" -D "$folder/data" -w -t 60 -l "$folder/server.log" \
        -o "-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories= " start >/dev/null)
    echo "host=127.0.0.1 port=$port user=shop dbname=postgres connect_timeout=5"
    ;;
stop) (cd "$folder" && "${as[@]}" "$bin/pg_ctl" -D "$folder/data" -w -m fast stop >/dev/null) ;;
kill) (cd "$folder" && "${as[@]}" "$bin/pg_ctl" -D "$folder/data" -m immediate stop >/dev/null) ;;
*)
    sed -n 2,5p "$0" >&2
    exit 1
    ;;
esac
