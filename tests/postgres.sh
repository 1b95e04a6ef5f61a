#!/usr/bin/env bash
# A PostgreSQL server of our own, for the time of the tests: "start" makes one in a new folder, starts it on a free port and prints the
# folder and how to connect to it; "stop FOLDER" stops it and takes the folder away. Needs Debian's package postgresql, or the like.
set -euo pipefail
bin=
for folder in /usr/local/pgsql/bin /usr/lib/postgresql/*/bin; do [ -x "$folder/initdb" ] && bin=$folder; done
[ -n "$bin" ] || bin=$(dirname "$(command -v initdb)") ||
    { echo "There is no PostgreSQL server here: install Debian's package postgresql." >&2; exit 1; }
# The server does not run as root.
as_server() { if [ "$(id -u)" -eq 0 ]; then runuser -u postgres -- "$@"; else "$@"; fi; }
case "${1:-}" in
    start)
        folder=$(mktemp -d)
        chmod 755 "$folder"
        [ "$(id -u)" -ne 0 ] || chown postgres "$folder"
        for attempt in 1 2 3 4 5; do
            port=$((20000 + RANDOM % 40000))
            ! (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null && break
        done
        cd "$folder"
        # Nothing of it is kept.
        fast="-c fsync=off -c full_page_writes=off -c shared_buffers=256MB"
        as_server "$bin/initdb" -D "$folder/data" -A trust -U lectica -E UTF8 --locale=C.UTF-8 --no-sync >"$folder/init.log" 2>&1 ||
            { cat "$folder/init.log" >&2; exit 1; }
        as_server "$bin/pg_ctl" -D "$folder/data" -w -l "$folder/data/log" \
            -o "-p $port -k $folder -c listen_addresses=127.0.0.1 -c max_connections=200 $fast" start >"$folder/start.log" 2>&1 \
            || { cat "$folder/start.log" "$folder/data/log" >&2; exit 1; }
        echo "$folder"
        echo "Host=127.0.0.1;Port=$port;Username=lectica;Database=postgres;Include Error Detail=true"
        ;;
    stop)
        cd /
        as_server "$bin/pg_ctl" -D "$2/data" -m immediate -w stop >/dev/null
        rm -rf "$2"
        ;;
    *)
        echo "usage: postgres.sh start | stop FOLDER" >&2
        exit 2
        ;;
esac
