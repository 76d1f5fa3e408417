# Installs what is missing. Sourced by ./run and ./test from the project's root; quick when nothing is.
#
# Whatever is installed is marked as installed last, inside of what was installed: what was broken off is
# made anew, and nothing that is gone still looks installed.

readonly PYTHON=/usr/bin/python3
readonly ORDINARY=wiretrace
umask 022

say() { printf '%s\n' "$*"; }
fail() { printf '%s\n' "$*" >&2; exit 1; }

# at_work WHAT COMMAND ...: runs a command that takes long, and says every few seconds what it is at. When it
# fails, the end of what it said is shown.
at_work() {
  local what=$1 log begun=$SECONDS spoken=$SECONDS job status=0
  shift
  log=$(mktemp)
  say "$what"
  "$@" >"$log" 2>&1 </dev/null &
  job=$!
  # shellcheck disable=SC2064
  trap "kill $job 2>/dev/null; rm -f '$log'; exit 130" INT TERM HUP
  while kill -0 "$job" 2>/dev/null; do
    sleep 0.2
    if [ $((SECONDS - spoken)) -ge 5 ]; then
      spoken=$SECONDS
      say "  $((SECONDS - begun)) s: $(tr '\r' '\n' <"$log" | grep -v -e '^ *$' -e ^WARNING -e ' warn ' | tail -n 1 | tr -d '\033' | cut -c 1-90)"
    fi
  done
  wait "$job" || status=$?
  trap - INT TERM HUP
  [ "$status" -eq 0 ] || { say "This failed. The end of what it said:"; tail -n 40 "$log"; }
  rm -f "$log"
  [ "$status" -eq 0 ] || exit 1
}

# install_apt PACKAGE ...: Debian packages, as root or with sudo; else says in one line what to do.
install_apt() {
  local missing=() as_root=()
  for package in "$@"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'install ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  if [ "$(id -u)" -ne 0 ]; then
    as_root=(sudo)
    if ! command -v sudo >/dev/null || ! { sudo -n true 2>/dev/null || { [ -t 0 ] && sudo -v; }; }; then
      fail "Please install first: apt-get install --no-install-recommends ${missing[*]}"
    fi
  fi
  at_work 'Reading the lists of Debian packages ...' "${as_root[@]}" apt-get update
  at_work "Installing Debian packages (up to 3 minutes, up to 900 MB): ${missing[*]} ..." \
    "${as_root[@]}" bash scripts/apt.sh "${missing[@]}"
}

# make_ordinary: sets ORDINARILY, what to put before a command so that it does not run as root. PostgreSQL
# refuses to, and nothing that listens should. Empty for whoever is not root.
make_ordinary() {
  ORDINARILY=()
  [ "$(id -u)" -eq 0 ] || return 0
  id "$ORDINARY" >/dev/null 2>&1 ||
    useradd --system --user-group --no-create-home --home-dir /nonexistent --shell /usr/sbin/nologin "$ORDINARY"
  ORDINARILY=(setpriv "--reuid=$ORDINARY" "--regid=$ORDINARY" --clear-groups --no-new-privs env -u XDG_CONFIG_HOME -u XDG_CACHE_HOME HOME=/nonexistent)
  "${ORDINARILY[@]}" true 2>/dev/null && return 0
  # A container that knows no user but root: a user namespace of one's own then.
  ORDINARILY=(unshare --user --map-user=1000 --map-group=1000)
  "${ORDINARILY[@]}" true 2>/dev/null ||
    fail 'As root here no other user can be taken on. Please run this as an ordinary user.'
}

# move_where_readable COMMAND ...: as root, in a folder that the ordinary user may not read (a home of root's),
# copies the program to /var/lib and goes on there.
move_where_readable() {
  [ ${#ORDINARILY[@]} -eq 0 ] || "${ORDINARILY[@]}" test -r "$PWD/run" && return 0
  local place
  place=$(elsewhere)
  say "The user $ORDINARY may not read $PWD: the program is copied to $place and runs there."
  mkdir -p "$place"
  find "$place" -mindepth 1 -maxdepth 1 ! -name .venv ! -name .local ! -name web -exec rm -rf {} +
  find "$place" -mindepth 2 -maxdepth 2 -path "$place/web/*" ! -name node_modules ! -name dist -exec rm -rf {} +
  tar -c --exclude=.git --exclude=.venv --exclude=.local --exclude=node_modules --exclude=dist . |
    tar -x -C "$place" --no-same-owner --no-same-permissions
  # What an earlier release kept here goes along.
  if [ -d .local/postgres/data ] && [ ! -e "$place/.local" ]; then
    cp -a .local "$place/.local"
    chown -R -h "$ORDINARY:" "$place/.local"
  fi
  cd "$place"
  WIRETRACE_COPIED=yes exec "./$1" "${@:2}"
}

# digest FILE ...: of the interpreter, and of the files if there are any.
digest() { { "$PYTHON" -V && cat "$@" /dev/null; } | sha256sum; }

# install_python NAME: the virtual environment with what requirements/NAME.txt locks.
install_python() {
  local lock=requirements/$1.txt mark=.venv/installed-$1 wanted
  wanted=$(digest "$lock" pyproject.toml)
  [ -f "$mark" ] && [ "$(cat "$mark")" = "$wanted" ] && return 0
  # One that was broken off, or was made with another interpreter, is no ground to build on.
  [ -f .venv/complete ] && [ "$(cat .venv/complete)" = "$(digest)" ] || rm -rf .venv
  [ -d .venv ] || "$PYTHON" -m venv .venv
  rm -f .venv/complete
  at_work 'Installing Python packages (about a minute, 400 MB) ...' \
    .venv/bin/python -m pip install --disable-pip-version-check --no-input --progress-bar off --require-hashes -r "$lock"
  at_work 'Installing Wire Trace itself ...' \
    .venv/bin/python -m pip install --disable-pip-version-check --no-deps --no-build-isolation -e .
  .venv/bin/python -m compileall -q wiretrace server scripts
  digest >.venv/complete
  echo "$wanted" >"$mark"
}

# install_node: a Node that is new enough, from the system or from the virtual environment.
install_node() {
  local wanted='const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)'
  if ! { node -e "$wanted" && npm --version; } >/dev/null 2>&1; then
    PATH="$PWD/.venv/bin:$PATH"
    if ! npm --version >/dev/null 2>&1; then
      rm -f .venv/complete
      at_work 'Installing Node (about 20 seconds, 200 MB) ...' \
        .venv/bin/python -m pip install --disable-pip-version-check --no-input --progress-bar off --require-hashes -r requirements/node.txt
      digest >.venv/complete
    fi
  fi
  local mark=web/node_modules/.installed packages
  packages=$(cat web/package.json web/package-lock.json | sha256sum)
  [ -f "$mark" ] && [ "$(cat "$mark")" = "$packages" ] && return 0
  at_work 'Installing front-end packages (about half a minute, 300 MB) ...' npm --prefix web ci --no-progress --loglevel=http
  echo "$packages" >"$mark"
}

# build_web: the front end, when its sources changed since it was last built; made aside, then put in place.
build_web() {
  local sources mark=web/dist/.built wanted
  sources=$(find web/src web/public web/index.html web/vite.config.ts web/package-lock.json -type f 2>/dev/null | LC_ALL=C sort)
  # shellcheck disable=SC2086
  wanted=$(sha256sum $sources | sha256sum)
  [ -f "$mark" ] && [ "$(cat "$mark")" = "$wanted" ] && return 0
  rm -rf web/dist.new
  at_work 'Building the front end (about 20 seconds) ...' npm --prefix web run build -- --outDir dist.new --emptyOutDir
  # Compressed once, here; the server in front sends these as they are.
  find web/dist.new -type f \( -name '*.js' -o -name '*.css' -o -name '*.html' -o -name '*.svg' \) -exec gzip -9 -k -n {} +
  echo "$wanted" >web/dist.new/.built
  rm -rf web/dist
  mv web/dist.new web/dist
}
