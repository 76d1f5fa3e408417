# What ./run is asked for, checked before anything is installed: a machine without Python can do this.

usage() {
  cat <<'END'
./run [--host ADDRESS] [--port PORT]
Installs what is missing, makes the database, builds and serves Wire Trace. Ctrl-C stops all of it.
  --host ADDRESS  address of this machine to listen on (default 127.0.0.1: this machine alone)
  --port PORT     port from 1024 to 65535 (default 8000, or the next free one)
With another host than loopback others can reach it: a shared password is asked for, or taken from
WIRETRACE_PASSWORD. The first start takes some minutes and about 1.5 GB of disk.
END
}

# wrong TEXT: a plain sentence, and the end.
wrong() {
  printf '%s\n' "$1" >&2
  exit 2
}

# is_here ADDRESS: is this an address of this machine?
is_here() {
  case $1 in 0.0.0.0 | :: | ::1 | 127.*) return 0 ;; esac
  hostname -I 2>/dev/null | tr ' ' '\n' | grep -qxF -- "$1"
}

# read_arguments ARGUMENT ...: sets HOST (a number) and PORT (0 for the first free one).
read_arguments() {
  HOST=127.0.0.1 PORT=0
  while [ $# -gt 0 ]; do
    case $1 in
      -h | --help) usage; exit 0 ;;
      --host=* | --port=*) set -- "${1%%=*}" "${1#*=}" "${@:2}" ;;
      --host | --port)
        [ $# -ge 2 ] || wrong "$1 needs a value; ./run --help says which."
        if [ "$1" = --host ]; then HOST=$2; else read_port "$2"; fi
        shift 2
        ;;
      *) wrong "./run does not know $1; ./run --help says what it knows." ;;
    esac
  done
  local name=$HOST
  HOST=${HOST#[} HOST=${HOST%]}
  HOST=$(getent ahosts -- "$HOST" 2>/dev/null | awk 'NR == 1 { print $1 }') || true
  [ -n "$HOST" ] || wrong "There is no host $name."
  is_here "$HOST" || wrong "$name is not an address of this machine; these are: 127.0.0.1 $(hostname -I 2>/dev/null)"
  case $HOST in 127.* | ::1) ;; *) need_password ;; esac
}

read_port() {
  [[ $1 =~ ^[0-9]{1,9}$ ]] || wrong "$1 is not a port: a number from 1024 to 65535 is."
  PORT=$((10#$1))
  [ "$PORT" -ge 1024 ] && [ "$PORT" -le 65535 ] ||
    wrong "Port $1 cannot be used: choose one from 1024 to 65535 (below is the system's; docs/deploy.md has a server in front)."
}

# need_password: whoever reaches another address than loopback reaches every job.
need_password() {
  if [ -n "${WIRETRACE_PASSWORD:-}" ]; then
    [ ${#WIRETRACE_PASSWORD} -ge 8 ] || wrong 'WIRETRACE_PASSWORD is too short: 8 characters or more.'
    return 0
  fi
  echo "On $HOST everybody on the network can reach Wire Trace. There are no accounts yet: whoever gets in can" >&2
  echo "read, change and delete every job, and without TLS in front the network can read along." >&2
  [ -t 0 ] || wrong 'Set a shared password: WIRETRACE_PASSWORD=... ./run --host ...'
  read -r -s -p 'Shared password (8 characters or more): ' WIRETRACE_PASSWORD
  echo >&2
  [ ${#WIRETRACE_PASSWORD} -ge 8 ] || wrong 'That is too short: 8 characters or more.'
  export WIRETRACE_PASSWORD
}

# elsewhere: where the program is copied to when the ordinary user may not read it here.
elsewhere() { echo "/var/lib/wiretrace/$(pwd | sha256sum | cut -c 1-12)"; }

# place_data: sets LOCAL, where the data lie: WIRETRACE_LOCAL, made whole for whoever is started from another folder.
place_data() {
  LOCAL=.local
  [ -z "${WIRETRACE_LOCAL:-}" ] || { WIRETRACE_LOCAL=$(realpath -m -- "$WIRETRACE_LOCAL"); LOCAL=$WIRETRACE_LOCAL; export WIRETRACE_LOCAL; }
}

# one_at_a_time: this folder serves once. The lock is on the folder itself and ends with the process.
one_at_a_time() {
  # A copy is started by the folder that it was copied from, which has the lock.
  [ -z "${WIRETRACE_COPIED:-}" ] || return 0
  exec 9<.
  flock --nonblock 9 && return 0
  local address
  address=$(sed -n 's/.*"address": "\([^"]*\)".*/\1/p' "$LOCAL/running.json" "$(elsewhere)/$LOCAL/running.json" 2>/dev/null) || true
  if [ -n "$address" ]; then
    echo "Wire Trace is already running at $address"
  else
    echo 'Another ./run is starting in this folder. Wait for it, or stop it first.'
  fi
  exit 0
}
