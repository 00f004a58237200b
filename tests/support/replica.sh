#!/usr/bin/env bash
# A database and a streaming replica of it, for tests: tests/support/replica.sh start FOLDER prints the URLs of both;
# end-replica FOLDER ends the second, stop FOLDER takes both away.
set -euo pipefail
cd "$(dirname "$0")/../.."
. bin/lib.sh

action=$1
mkdir -p "$2"
first=$(pg_folder "$2/first") second=$(pg_folder "$2/second")

case $action in
  end-replica) pg_stop "$second"; exit ;;
  stop) pg_remove "$second"; pg_remove "$first"; exit ;;
esac
pg_start "$first" "$(node bin/freePort.mjs)" fsync=off max_connections=60
url=$(pg_url "$first" "$(pg_port "$first")" postgres)
mkdir -p "$second/postgres"
[ "$(id -u)" = 0 ] && chown postgres "$second/postgres"
cp -p "$first/postgres.password" "$second/postgres.password"
pg_as chmod 700 "$second/postgres"
pg_as "$(pg_bin)/pg_basebackup" -d "$url" -D "$second/postgres" -R -X stream -c fast >/dev/null
pg_start "$second" "$(node bin/freePort.mjs)" fsync=off max_connections=60
printf '%s\n%s\n' "$url" "$(pg_url "$second" "$(pg_port "$second")" postgres)"
