# Set-up shared by bin/demo and bin/test: everything a fresh machine needs, quick the second time.
# A stamp beside each product holds the sum of what it was made from.

root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$root" || exit 1
export PIP_DISABLE_PIP_VERSION_CHECK=1
# Compiled sources are kept, whatever the machine says: compiling all of them anew at every start takes two seconds of six.
export PYTHONDONTWRITEBYTECODE=
python=$root/.venv/bin/python

stop() { printf 'Jugatrix: %s\n' "$*" >&2; exit 1; }
say() { printf '%s\n' "$*"; }

# together COMMAND...: do all at once; false if one of them stopped
together() {
  local one pids=() bad=0
  for one in "$@"; do $one & pids+=($!); done
  for one in "${pids[@]}"; do wait "$one" || bad=1; done
  return $bad
}

need_tools() {
  command -v python3 >/dev/null || stop "Python 3.11 or newer is missing. Install python3 with its venv module."
  python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || stop "Python 3.11 or newer is needed; this is $(python3 --version)."
  python3 -c 'import venv, ensurepip' 2>/dev/null || stop "Python's venv module is missing. On Debian: apt-get install python3-venv."
  command -v node >/dev/null || stop "Node.js 20 or newer is missing. Install nodejs and npm."
  command -v npm >/dev/null || stop "npm is missing. It comes with Node.js."
  [ "$(node -p 'process.versions.node.split(".")[0]')" -ge 20 ] || stop "Node.js 20 or newer is needed; this is $(node --version)."
  [ -w "$root" ] || stop "$root cannot be written to. Use a checkout of your own."
}

# fresh STAMP FILES...: true if STAMP holds the sum of FILES
sum_of() { cat "$@" 2>/dev/null | sha256sum | cut -d' ' -f1; }

installed() {
  "$python" -m pip install -q --require-hashes -r "$1" 2>&1 | { grep -v '^WARNING: Location' || true; }
  return "${PIPESTATUS[0]}"
}

# uv installs the same packages, held to the same hashes, in a fifth of the time; where it cannot, pip does it and says why.
quickly_installed() {
  local uv=.venv/bin/uv
  [ -x "$uv" ] || installed requirements/installer.txt >/dev/null
  [ -x "$uv" ] && "$uv" pip install -q --python "$python" --require-hashes -r "$1" 2>/dev/null
}

setup_python() { # $1: run or test
  local lock=requirements/$1.txt stamp=.venv/stamp-$1
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$(sum_of "$lock")" ] && return
  # What tests need contains what running needs.
  [ "$1" = run ] && [ -f .venv/stamp-test ] && [ "$(cat .venv/stamp-test)" = "$(sum_of requirements/test.txt)" ] && return
  say "Installing the Python packages (up to a minute the first time) …"
  [ -x "$python" ] || python3 -m venv .venv || stop "The virtual environment .venv could not be made."
  quickly_installed "$lock" || installed "$lock" ||
    stop "The Python packages in $lock could not be installed. Is the package registry reachable?"
  sum_of "$lock" >"$stamp"
}

# The linkage's inner loops as machine code; without a C compiler to link them they are compiled at their first use.
compile_engine() {
  local log=${TMPDIR:-/tmp}/jugatrix-compile.log
  "$python" -W ignore -m engine.compiled >"$log" 2>&1 ||
    say "The engine could not be compiled beforehand (see $log). It compiles itself the first time it is used, which takes half a minute."
}

setup_web() {
  local stamp=web/node_modules/.stamp
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$(sum_of web/package.json web/package-lock.json)" ] && return
  say "Installing the front end's packages …"
  # Not `npm ci`: the lock lists optional packages for other platforms that a registry may lack.
  local before
  before=$(sum_of web/package-lock.json)
  (cd web && npm install --no-audit --no-fund --loglevel=error 2>&1 | grep -v 'npm warn' || true)
  [ "$before" = "$(sum_of web/package-lock.json)" ] || stop "Installing changed web/package-lock.json: what it names is not what was asked for. Look at it with git diff."
  [ -x web/node_modules/.bin/vite ] || stop "The front end's packages could not be installed. Is the package registry reachable?"
  sum_of web/package.json web/package-lock.json >"$stamp"
}

web_sources() { find web/src web/public web/index.html web/vite.config.ts web/package-lock.json requirements/run.txt server/keeping/licences.py -type f | LC_ALL=C sort; }

build_web() {
  local stamp=web/dist/.stamp now
  now=$(web_sources | tr '\n' '\0' | xargs -0 sha256sum | sha256sum | cut -d' ' -f1)
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$now" ] && return
  say "Building the front end …"
  (cd web && npx --no-install vite build --logLevel error 2>&1 | grep -v 'npm warn'; exit "${PIPESTATUS[0]}") || stop "The front end could not be built; see above."
  "$python" -m server.keeping.licences web/dist web/node_modules || stop "The licences of what ships could not be put together; see above."
  "$python" -m whitenoise.compress -q web/dist || stop "The built front end could not be compressed."
  printf '%s' "$now" >"$stamp"
}
