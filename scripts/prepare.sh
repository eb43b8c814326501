# Brings a machine with Node.js and git to the point where Arvex runs. Sourced by ./start and ./check.
# Each step does nothing when it was done before for the same input.

say() { printf '%s\n' "$*" >&2; }

fail() {
  say "$*"
  exit 1
}

# The oldest Node.js that works is written once, in package.json.
need_node() {
  command -v node >/dev/null || fail "Arvex needs Node.js 20.19 or later. Install it and start again."
  node -e 'const [a,b]=process.versions.node.split(".").map(Number); process.exit(a>20||(a===20&&b>=19)?0:1)' ||
    fail "Arvex needs Node.js 20.19 or later; this is $(node --version)."
}

# need_debian PROGRAM PACKAGE [PROGRAM PACKAGE …]: installs the packages whose programs are missing.
need_debian() {
  local missing=()
  while [ $# -gt 0 ]; do
    [ -n "$1" ] && PATH="$PATH:/usr/sbin" command -v "$1" >/dev/null || missing+=("$2")
    shift 2
  done
  [ ${#missing[@]} -eq 0 ] && return
  local install="apt-get update && apt-get install -y --no-install-recommends ${missing[*]}"
  local as_root=()
  if [ "$(id -u)" -ne 0 ]; then
    sudo -n true 2>/dev/null || fail "Missing: ${missing[*]}. Run this once: sudo sh -c '$install'"
    as_root=(sudo -n)
  fi
  command -v apt-get >/dev/null || fail "Missing: ${missing[*]}. Install them with this system's package manager."
  say "Installing ${missing[*]} …"
  local log
  log=$(mktemp)
  "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive sh -c "$install" >"$log" 2>&1 || {
    tail -n 5 "$log" >&2
    rm -f "$log"
    fail "Debian's packages could not be installed. Run this: sudo sh -c '$install'"
  }
  rm -f "$log"
}

# need_graphics: Debian's Mesa, with which a browser without a screen draws twice as fast as with its own software. It goes without, too.
need_graphics() {
  local libraries
  libraries=$(ldconfig -p 2>/dev/null || true)
  case $libraries in
  *libEGL_mesa.so.0*libGLESv2.so.2* | *libGLESv2.so.2*libEGL_mesa.so.0*)
    [ -z "$(find /usr/lib -path '*dri/swrast_dri.so' -print -quit 2>/dev/null)" ] || return 0
    ;;
  esac
  (need_debian '' "libgl1-mesa-dri libegl1 libegl-mesa0 libgles2") ||
    say "Without Mesa renderers draw with the browser’s own software, at half the pace."
}

# content_of PATH…: one hash of everything in these files and folders.
content_of() {
  find "$@" -type f -not -path '*/node_modules/*' -not -path '*/dist/*' -print0 |
    LC_ALL=C sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1
}

# once STAMP HASH COMMAND…: runs the command unless the stamp says that it ran for this hash.
once() {
  local stamp=$1 hash=$2
  shift 2
  [ "$(cat "$stamp" 2>/dev/null)" = "$hash" ] && return
  "$@"
  mkdir -p "$(dirname "$stamp")"
  printf '%s' "$hash" >"$stamp"
}

install_packages() {
  say "Installing npm packages …"
  npm ci --silent --no-audit --no-fund || fail "The npm packages could not be installed. Is the package registry reachable?"
}

need_packages() {
  once node_modules/.arvex-installed "$(content_of package-lock.json)" install_packages
}

build_server() {
  say "Building the server …"
  npm run --silent build:server
}

build_web() {
  say "Building the application …"
  local log
  log=$(mktemp)
  NG_CLI_ANALYTICS=false npm run --silent build:web >"$log" 2>&1 || {
    cat "$log" >&2
    rm -f "$log"
    fail "The application could not be built."
  }
  rm -f "$log"
  node scripts/compress.mjs apps/web/dist/browser
}

need_builds() {
  once apps/server/dist/.built "$(content_of package-lock.json packages/core/src packages/interchange/src apps/server)" build_server
  once apps/web/dist/.built "$(content_of package-lock.json packages apps/web angular.json)" build_web
}
