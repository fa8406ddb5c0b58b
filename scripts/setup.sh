# Sourced by ./start and ./test: brings this folder from a fresh clone to a state in which it can run.
# Does only what is missing, so that a second run takes a moment.

fail() {
  echo "uvren: $*" >&2
  exit 1
}

# Runs a step whose output matters only when it goes wrong.
quietly() {
  local log
  log=$(mktemp)
  if ! "$@" >"$log" 2>&1; then
    tail -n 30 "$log" >&2
    rm -f "$log"
    return 1
  fi
  rm -f "$log"
}

# there COMMAND_OR_LIBRARY: whether a command can be run, or a library (its name ends in .so and a number) be loaded.
there() {
  case $1 in
    *.so.*) PATH="$PATH:/usr/sbin:/sbin" ldconfig -p | grep -qF "$1 " ;;
    *) PATH="$PATH:/usr/sbin" command -v "$1" >/dev/null 2>&1 ;;
  esac
}

# system_packages NAME=COMMAND_OR_LIBRARY ...: installs the Debian packages whose command or library is not there.
system_packages() {
  local pair missing=()
  for pair in "$@"; do
    there "${pair#*=}" || missing+=("${pair%%=*}")
  done
  python3 -c 'import ensurepip, venv' >/dev/null 2>&1 || missing+=(python3-venv)
  [ ${#missing[@]} -gt 0 ] || return 0
  local sudo=()
  if [ "$(id -u)" != 0 ]; then
    sudo -n true 2>/dev/null ||
      fail "Debian packages are missing and only an administrator may install them: apt-get install ${missing[*]}"
    sudo=(sudo -n)
  fi
  echo "Installing Debian packages: ${missing[*]}"
  quietly "${sudo[@]}" env DEBIAN_FRONTEND=noninteractive apt-get update ||
    fail "the list of Debian packages could not be read; see above."
  quietly "${sudo[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends "${missing[@]}" ||
    fail "the Debian packages ${missing[*]} could not be installed; see above."
}

digest() {
  find "$@" -type f -print0 2>/dev/null | LC_ALL=C sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1
}

# python_packages LOCK [LARGER]: the virtual environment with what LOCK names; one that has what LARGER names has it too.
python_packages() {
  local lock=$1 each
  python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || fail "Python 3.11 or newer is needed."
  for each in "$@"; do
    if [ -x .venv/bin/python ] && grep -qsxF "$(digest "$each" pyproject.toml) $PWD" .venv/ready; then return 0; fi
  done
  echo "Installing Python packages"
  [ -x .venv/bin/python ] || python3 -m venv .venv || fail "the Python environment could not be made."
  # The lock names everything: nothing is to be resolved again, which newer releases of a package could lead astray.
  quietly .venv/bin/python -m pip install --disable-pip-version-check --no-deps --require-hashes -r "$lock" ||
    fail "the Python packages could not be installed; see above."
  quietly .venv/bin/python -m pip install --disable-pip-version-check --no-deps --no-build-isolation -e . ||
    fail "Uvren itself could not be installed; see above."
  echo "$(digest "$lock" pyproject.toml) $PWD" >.venv/ready
}

# The screens, built when their sources changed.
screens() {
  local packages sources
  packages=$(digest frontend/package.json frontend/package-lock.json frontend/.npmrc)
  if ! grep -qsxF "$packages" frontend/node_modules/.ready; then
    echo "Installing packages for the screens"
    (cd frontend && PATH="$PWD/../.venv/bin:$PATH" quietly npm ci --no-progress) ||
      fail "the packages for the screens could not be installed; see above."
    echo "$packages" >frontend/node_modules/.ready
  fi
  sources="$packages $(digest frontend/src frontend/public frontend/index.html frontend/vite.config.ts)"
  if ! grep -qsxF "$sources" frontend/dist/.ready; then
    echo "Building the screens"
    (cd frontend && PATH="$PWD/../.venv/bin:$PATH" quietly npx vite build) ||
      fail "the screens could not be built; see above."
    echo "$sources" >frontend/dist/.ready
  fi
}

free=$(df -Pm . | awk 'NR==2 {print $4}')
[ "${free:-0}" -ge 1500 ] || [ -e frontend/dist/.ready ] ||
  fail "the disk has ${free} MB free here; setting up needs 1500 MB."

RUN_PACKAGES=(
  mariadb-server=mariadbd mariadb-client=mariadb libmariadb-dev=mariadb_config pkg-config=pkg-config gcc=gcc
  # What sheets are laid out with.
  libpango-1.0-0=libpango-1.0.so.0 libpangoft2-1.0-0=libpangoft2-1.0.so.0
  libharfbuzz-subset0=libharfbuzz-subset.so.0
)
