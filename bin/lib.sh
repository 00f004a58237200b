# Shared by bin/start and bin/test: installs missing tools, and runs a private PostgreSQL on loopback.
# shellcheck shell=bash

say() { printf '%s\n' "$*" >&2; }
die() { say "$*"; exit 1; }

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"; elif command -v sudo >/dev/null; then sudo -n "$@"; else return 1; fi
}

# apt_install PACKAGE...: from Debian, without questions and without starting what is installed.
apt_install() {
  say "Installing $* …"
  {
    as_root apt-get update -qq &&
      as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@"
  } >/dev/null 2>&1 || die "Could not install $*. Install it yourself (apt-get install $*) and try again."
}

ensure_node() {
  command -v node >/dev/null || apt_install nodejs npm
  node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)' ||
    die "Node.js 20.19 or newer is needed; this is $(node --version)."
}

ensure_node_modules() {
  local wanted
  wanted=$(sha256sum package-lock.json | cut -d' ' -f1)
  [ "$(cat node_modules/.installed-for 2>/dev/null)" = "$wanted" ] && return
  say "Installing npm packages …"
  npm ci --no-audit --no-fund --loglevel=error >&2 || die "npm ci failed."
  printf '%s' "$wanted" >node_modules/.installed-for
}

pg_bin() { find /usr/lib/postgresql -maxdepth 2 -name bin 2>/dev/null | sort -V | tail -n 1; }

ensure_postgres() {
  [ -x "$(pg_bin)/initdb" ] && return
  apt_install postgresql
}

# The browser without windows, or the whole one where Debian has no other.
ensure_chromium() {
  [ -x /usr/bin/chromium-headless-shell ] || (apt_install chromium-headless-shell) || [ -x /usr/bin/chromium ] || apt_install chromium
}

# PostgreSQL refuses to run as root: then it runs as its own user.
pg_as() {
  if [ "$(id -u)" = 0 ]; then (cd / && runuser -u postgres -- "$@"); else "$@"; fi
}

# pg_folder FOLDER: that folder, or one that PostgreSQL's user can reach when it cannot reach that.
pg_folder() {
  local folder=$1
  mkdir -p "$folder"
  folder=$(cd "$folder" && pwd)
  if [ "$(id -u)" = 0 ] && ! runuser -u postgres -- test -x "$folder"; then
    folder="/var/tmp/understudy-$(printf '%s' "$folder" | sha256sum | cut -c1-12)"
    mkdir -p "$folder"
  fi
  printf '%s' "$folder"
}

# pg_start FOLDER PORT [SETTING...]: starts the cluster in FOLDER/postgres, made if need be, with a password in
# FOLDER/postgres.password.
pg_start() {
  local folder=$1 port=$2 bin data password_file
  shift 2
  bin=$(pg_bin) data=$folder/postgres password_file=$folder/postgres.password
  if [ ! -s "$data/PG_VERSION" ]; then
    rm -rf "$data"
    mkdir -p "$data"
    (umask 077 && head -c 24 /dev/urandom | base64 | tr -dc 'A-Za-z0-9' >"$password_file")
    [ "$(id -u)" = 0 ] && chown postgres "$data" "$password_file"
    pg_as "$bin/initdb" -D "$data" -U understudy --pwfile="$password_file" --auth=scram-sha-256 \
      --encoding=UTF8 --locale=C.UTF-8 >/dev/null || die "PostgreSQL's data folder could not be made in $data."
  fi
  pg_as "$bin/pg_ctl" -D "$data" status >/dev/null 2>&1 && return
  local settings="-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories="
  for setting in "$@"; do settings+=" -c $setting"; done
  pg_as "$bin/pg_ctl" -D "$data" -w -l "$data/log" -o "$settings" start >/dev/null ||
    die "PostgreSQL did not start; see $data/log. If port $port is taken, set PGPORT to another."
}

pg_stop() { pg_as "$(pg_bin)/pg_ctl" -D "$1/postgres" -m fast -w stop >/dev/null 2>&1 || true; }

# pg_remove FOLDER: stops the cluster there and takes it away with all its databases.
pg_remove() {
  pg_stop "$1"
  as_root rm -rf "$1/postgres"
}

# pg_url FOLDER PORT DATABASE
pg_url() { printf 'postgresql://understudy:%s@127.0.0.1:%s/%s' "$(cat "$1/postgres.password")" "$2" "$3"; }

# pg_pid FOLDER, pg_port FOLDER: the process of the cluster there, and the port it listens on.
pg_pid() { pg_line "$1" 1; }
pg_port() { pg_line "$1" 4; }
pg_line() { sed -n "$2p" "$1/postgres/postmaster.pid" 2>/dev/null || as_root sed -n "$2p" "$1/postgres/postmaster.pid"; }
