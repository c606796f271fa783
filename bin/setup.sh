# What the start and test scripts share: Debian's packages, Node's packages, a private PostgreSQL cluster, the
# built application. Sourced, not run. Every failure is one sentence on stderr and exit code 1.

set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."

fail() {
  printf 'nurtel: %s\n' "$*" >&2
  exit 1
}

# How the product runs.
NURTEL_NODE=(node --import tsx)

# How a worker runs that imports long lists. What an import leaves behind is picked up early: with a small nursery for
# young objects, and a heap that grows by a fifth before it is swept, not by half or more as on a quick machine. Without
# the two a million people took 300 to 350 MB, measured by npm run bench -- people. Answering requests would take twice
# the time that way.
NURTEL_WORKER_NODE=(node --max-semi-space-size=4 --heap-growing-percent=20 --import tsx)

is_root() { [ "$(id -u)" -eq 0 ]; }

check_node() {
  command -v node >/dev/null || fail 'Node.js 20 is missing: install it, then run this again.'
  local major
  major=$(node -p 'process.versions.node.split(".")[0]')
  [ "$major" -ge 20 ] || fail "Node.js $major is too old: install Node.js 20 or newer, then run this again."
}

# Installs the Debian packages that are missing.
need_packages() {
  local missing=() package
  for package in "$@"; do
    dpkg-query -W -f '${Status}' "$package" 2>/dev/null | grep -q 'install ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} -gt 0 ] || return 0
  local as_root=()
  if ! is_root; then
    sudo -n true 2>/dev/null || fail "please install ${missing[*]} (as root: apt-get install ${missing[*]}), then run this again."
    as_root=(sudo -n)
  fi
  echo "nurtel: installing ${missing[*]} with apt-get" >&2
  {
    "${as_root[@]}" apt-get update -qq &&
      # create_main_cluster=false: the package would otherwise make and start a cluster of its own.
      "${as_root[@]}" mkdir -p /etc/postgresql-common/createcluster.d &&
      echo 'create_main_cluster = false' | "${as_root[@]}" tee /etc/postgresql-common/createcluster.d/nurtel.conf &&
      "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}"
  } >/dev/null 2>&1 || fail "apt-get could not install ${missing[*]}: run 'apt-get install ${missing[*]}' to see why."
}

# npm ci, when the lock file has changed since the last time.
install_modules() {
  local stamp=node_modules/.nurtel-lock now
  now=$(sha256sum package-lock.json | cut -d ' ' -f 1)
  [ "$(cat "$stamp" 2>/dev/null)" = "$now" ] && return 0
  echo 'nurtel: installing Node packages' >&2
  local log
  log=$(mktemp)
  npm ci --no-audit --no-fund --loglevel=error >"$log" 2>&1 || {
    tail -n 5 "$log" >&2
    fail 'npm ci failed: the lines above say why.'
  }
  rm -f "$log"
  echo "$now" >"$stamp"
}

# Builds the marketer's application, when something that goes into it has changed.
build_web() {
  local stamp=dist/web/.stamp now
  now=$(find web core contract vite.config.ts package-lock.json -type f ! -name '*.test.ts' -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -d ' ' -f 1)
  [ "$(cat "$stamp" 2>/dev/null)" = "$now" ] && return 0
  echo 'nurtel: building the application' >&2
  npx --no-install vite build --logLevel error || fail 'the application could not be built: the lines above say why.'
  echo "$now" >"$stamp"
}

default_data_dir() {
  if is_root; then echo /var/lib/nurtel; else echo "${XDG_DATA_HOME:-$HOME/.local/share}/nurtel"; fi
}

# Runs a program of PostgreSQL, which refuses to run as root.
as_database_owner() {
  if is_root; then (cd / && runuser -u postgres -- "$@"); else "$@"; fi
}

# Makes the data folder with the install's secret; sets DATA and NURTEL_SECRET.
open_data_dir() {
  DATA=$1
  mkdir -p "$DATA" 2>/dev/null || fail "the folder $DATA cannot be made: set NURTEL_DATA_DIR to one that you may write to."
  [ -w "$DATA" ] || fail "the folder $DATA cannot be written to: set NURTEL_DATA_DIR to one that you may write to."
  if [ -z "${NURTEL_SECRET:-}" ]; then
    [ -s "$DATA/secret" ] || (umask 077 && node -p 'crypto.randomBytes(32).toString("base64url")' >"$DATA/secret")
    NURTEL_SECRET=$(cat "$DATA/secret")
    export NURTEL_SECRET
  fi
  export NURTEL_DATA_DIR=$DATA
}

port_answers() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

# Starts the private cluster of the data folder, if it does not run already; sets DATABASE_URL, and
# CLUSTER_STARTED=yes when it was started here and so is to be stopped here.
# Arguments: port, further settings of the server.
start_cluster() {
  local port=$1 settings=${2:-} bin cluster=$DATA/cluster
  CLUSTER_STARTED=no
  bin=$(find /usr/lib/postgresql -maxdepth 2 -name bin 2>/dev/null | sort -V | tail -n 1)
  [ -n "$bin" ] || fail 'the PostgreSQL server is missing: install the Debian package postgresql.'
  PG_CTL=$bin/pg_ctl

  if is_root; then
    chmod 711 "$DATA"
    runuser -u postgres -- test -x "$DATA" ||
      fail "the user postgres may not enter $DATA: set NURTEL_DATA_DIR to a folder outside of home folders."
  fi
  [ -s "$DATA/database-password" ] ||
    (umask 077 && node -p 'crypto.randomBytes(18).toString("base64url")' >"$DATA/database-password")

  if [ ! -d "$cluster" ]; then
    rm -rf "$cluster.new"
    mkdir "$cluster.new"
    # initdb opens the file itself, as its own user.
    (umask 077 && cp "$DATA/database-password" "$cluster.password")
    if is_root; then chown postgres: "$cluster.new" "$cluster.password"; fi
    # Made aside and moved, so that a start that was broken off leaves no half a cluster.
    as_database_owner "$bin/initdb" -D "$cluster.new" -U nurtel --pwfile="$cluster.password" --auth=scram-sha-256 \
      --encoding=UTF8 --locale=C.UTF-8 --no-sync >"$DATA/initdb.log" 2>&1 ||
      fail "the database cluster could not be made: $(tail -n 1 "$DATA/initdb.log")"
    rm -f "$cluster.password"
    mv "$cluster.new" "$cluster"
  fi
  [ "$(cat "$cluster/PG_VERSION" 2>/dev/null)" = "$("$bin/postgres" --version | grep -oE '[0-9]+' | head -n 1)" ] ||
    fail "the database cluster in $cluster is broken or of another PostgreSQL version: start with --fresh to begin anew (its data is lost)."

  if as_database_owner "$PG_CTL" -D "$cluster" status >/dev/null 2>&1; then
    port=$(sed -n 4p "$cluster/postmaster.pid")
  else
    ! port_answers "$port" || fail "port $port is taken, and the database needs it: set NURTEL_PG_PORT to a free one."
    as_database_owner "$PG_CTL" -D "$cluster" -w -t 60 -l "$cluster/server.log" \
      -o "-c listen_addresses=127.0.0.1 -c port=$port -c unix_socket_directories='' $settings" start >/dev/null 2>&1 ||
      fail "the database does not start: $(tail -n 1 "$cluster/server.log" 2>/dev/null)"
    CLUSTER_STARTED=yes
  fi
  export DATABASE_URL="postgres://nurtel:$(cat "$DATA/database-password")@127.0.0.1:$port/postgres"
}

# Removes a cluster that cannot be started any more, so that a fresh one takes its place.
drop_broken_cluster() {
  if [ -d "$DATA/cluster" ] && [ ! -s "$DATA/cluster/PG_VERSION" ]; then rm -rf "$DATA/cluster"; fi
}

# Data is safe either way: what is stopped at once is read from the log at the next start.
stop_cluster() {
  [ "${CLUSTER_STARTED:-no}" = yes ] || return 0
  CLUSTER_STARTED=no
  as_database_owner "$PG_CTL" -D "$DATA/cluster" -m fast -w -t 2 stop >/dev/null 2>&1 ||
    as_database_owner "$PG_CTL" -D "$DATA/cluster" -m immediate -w -t 5 stop >/dev/null 2>&1 || true
}

# Seconds after a signal in which a command ends by itself; it takes less unless something holds it.
END_WITHIN=7

# Runs a command in the foreground; a signal to this script reaches it, and its end is waited for, but not for ever.
run_attended() {
  "$@" &
  local child=$! code=0 watchdog=''
  end_child() {
    kill -TERM $child 2>/dev/null || true
    [ -n "$watchdog" ] || { (sleep $END_WITHIN && kill -KILL $child) >/dev/null 2>&1 & watchdog=$!; }
  }
  trap end_child INT TERM HUP
  while :; do
    code=0
    wait $child || code=$?
    kill -0 $child 2>/dev/null || break
  done
  trap - INT TERM HUP
  [ -z "$watchdog" ] || kill "$watchdog" 2>/dev/null || true
  return $code
}

# A scratch install for tests, benchmarks and pictures: its own folder, cluster and ports, gone at the end.
# Set NURTEL_KEEP=yes to keep the folder and see what is in it.
start_scratch() {
  local folder ports
  folder=$(mktemp -d "${TMPDIR:-/tmp}/nurtel-XXXXXX")
  trap end_scratch EXIT
  open_data_dir "$folder"
  ports=$(node --import tsx bin/freePorts.ts 6)
  # shellcheck disable=SC2086
  set -- $ports
  export NURTEL_PORT=$1 NURTEL_SMTP_PORT=$2 NURTEL_STANDINS_PORT=$3 NURTEL_OTHER_SITE_PORT=$5 NURTEL_GATEWAY_PORT=$6
  # Programs type quicker than people.
  export NURTEL_LEAST_FORM_TIME=0
  if [ -z "${DATABASE_URL:-}" ]; then
    # What is thrown away anyway need not survive a power cut.
    start_cluster "$4" "${NURTEL_PG_SETTINGS:--c fsync=off -c full_page_writes=off}"
  fi
}

end_scratch() {
  stop_cluster
  [ "${NURTEL_KEEP:-no}" = yes ] || rm -rf "$DATA"
}
