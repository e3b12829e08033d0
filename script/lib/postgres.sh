# A PostgreSQL cluster of our own: on loopback, on a free port, never a cluster that is there already.
# Sourced after common.sh and setup.sh.
#
# PostgreSQL refuses to run as root. As root we run it as the user "postgres" (Debian's package makes it),
# and put the cluster under /var/lib where that user cannot enter the checkout's folder.

FIRST_PORT=54870

as_postgres() {
    if [ "$(id -u)" -eq 0 ]; then
        (cd / && exec runuser -u postgres -- "$@")
    else
        "$@"
    fi
}

# pg_place NAME: sets PG_DIR, the folder of the cluster NAME.
pg_place() {
    PG_DIR=$LOCAL/$1
    [ "$(id -u)" -eq 0 ] || return 0
    if ! as_postgres test -x "$LOCAL"; then
        PG_DIR=/var/lib/keencoat/$(printf '%s' "$ROOT" | sha256sum | cut -c1-12)-$1
    fi
}

# Makes the cluster if it is not there; one that was never finished is moved aside.
pg_make() {
    if [ -e "$PG_DIR.complete" ] && [ -e "$PG_DIR/PG_VERSION" ]; then return; fi
    rm -f "$PG_DIR.complete" "$PG_DIR".prepared-*
    if [ -e "$PG_DIR" ]; then
        say "found a half-made database cluster; moved it to $PG_DIR.half-made and make a new one"
        rm -rf "$PG_DIR.half-made"
        mv "$PG_DIR" "$PG_DIR.half-made"
    fi
    need_disk_mb 200
    local password_file
    mkdir -p "$PG_DIR" && chmod 700 "$PG_DIR"
    password_file=$(mktemp)
    kept_secret db.password >"$password_file"
    if [ "$(id -u)" -eq 0 ]; then chown postgres "$PG_DIR" "$password_file"; fi
    as_postgres "$PG_BIN/initdb" -D "$PG_DIR" -U keencoat -A scram-sha-256 --pwfile="$password_file" -E UTF8 \
        --locale=C.UTF-8 --no-instructions >"$LOCAL/initdb.log" 2>&1 ||
        { rm -f "$password_file"; fail "PostgreSQL could not make a cluster in $PG_DIR: $(tail -n 1 "$LOCAL/initdb.log")"; }
    rm -f "$password_file"
    touch "$PG_DIR.complete"
}

# Whether the cluster runs.
pg_runs() { as_postgres "$PG_BIN/pg_ctl" -D "$PG_DIR" status >/dev/null 2>&1; }

# Starts the cluster if it does not run, and stops it at the end only then.
pg_borrow() {
    pg_runs || trap pg_stop EXIT
    pg_start
}

# pg_begin [OPTION…]: begins to start the cluster on a free port, and exports how to reach it; pg_wait waits for it.
pg_begin() {
    pg_make
    local port=$FIRST_PORT log=$PG_DIR/keencoat.log options="-c listen_addresses=127.0.0.1 -c unix_socket_directories=''"
    if pg_runs; then
        port=$(as_postgres sed -n 4p "$PG_DIR/postmaster.pid")
    else
        until is_port_free "$port"; do port=$((port + 1)); done
        as_postgres "$PG_BIN/pg_ctl" -D "$PG_DIR" -W -s -l "$log" -o "$options -p $port $*" start >/dev/null 2>&1 || true
    fi
    export KEENCOAT_DB_HOST=127.0.0.1 KEENCOAT_DB_PORT=$port KEENCOAT_DB_USER=keencoat KEENCOAT_DB_NAME=keencoat
    KEENCOAT_DB_PASSWORD=$(kept_secret db.password)
    export KEENCOAT_DB_PASSWORD
}

pg_wait() {
    local tries
    for tries in $(seq 300); do
        if "$PG_BIN/pg_isready" -q -h 127.0.0.1 -p "$KEENCOAT_DB_PORT"; then return; fi
        # It has a second to write its pid file; without one it has given up.
        [ "$tries" -lt 10 ] || as_postgres test -e "$PG_DIR/postmaster.pid" || break
        sleep 0.1
    done
    fail "PostgreSQL did not start: $(as_postgres tail -n 1 "$PG_DIR/keencoat.log" 2>/dev/null || echo "no log in $PG_DIR")"
}

# pg_start [OPTION…]: starts the cluster and waits until it answers.
pg_start() {
    pg_begin "$@"
    pg_wait
}

pg_stop() {
    as_postgres "$PG_BIN/pg_ctl" -D "$PG_DIR" -s -m fast stop >/dev/null 2>&1 || true
}
