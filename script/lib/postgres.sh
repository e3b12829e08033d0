# A PostgreSQL cluster of our own: on loopback, on a free port, never a cluster that is there already.
# Sourced after common.sh and setup.sh.
#
# PostgreSQL refuses to run as root. As root we run it as the user "postgres" (Debian's package makes it),
# and put the cluster under /var/lib where that user cannot enter the checkout's folder.

# Below the ports that systems give to outgoing connections (32768 up): one of those, just closed, blocks its port.
FIRST_PORT=24870 PORTS=1000

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

# pg_lock [SECONDS]: makes this script the cluster's keeper until it ends; fails if another one keeps it.
pg_lock() {
    exec 9>>"$LOCAL/$(basename "$PG_DIR").lock"
    flock -w "${1:-0}" 9
}

# The pid of our own server, if it runs. Its pid file may name a stranger: pids are used again.
pg_pid() {
    local pid
    pid=$(as_postgres head -n 1 "$PG_DIR/postmaster.pid" 2>/dev/null) && [ -n "$pid" ] &&
        [[ /proc/$pid/cwd -ef $PG_DIR ]] && echo "$pid"
}

# Whether the cluster runs.
pg_runs() { pg_pid >/dev/null; }

# Sets `left` to the processes that a killed server left at work on the cluster's files. The shell compares the folders
# itself: a process for each process of the machine would take seconds.
pg_leftovers() {
    local process
    left=()
    for process in /proc/[0-9]*; do
        ! [[ $process/cwd -ef $PG_DIR ]] || left+=("${process#/proc/}")
    done
}

# Ends what is left of a server whose keeper was killed, and takes away a pid file that names a stranger.
pg_clear() {
    local tries pid left
    pg_stop
    for tries in $(seq 50); do
        pg_leftovers
        [ "${#left[@]}" -gt 0 ] || break
        [ "$tries" -lt 20 ] || kill -QUIT "${left[@]}" 2>/dev/null || true
        sleep 0.1
    done
    pid=$(as_postgres head -n 1 "$PG_DIR/postmaster.pid" 2>/dev/null) || return 0
    if [ "${#left[@]}" -eq 0 ] && kill -0 "$pid" 2>/dev/null; then as_postgres rm -f "$PG_DIR/postmaster.pid"; fi
}

# pg_launch [OPTION…]: starts the cluster as a child of this script, which it does not outlive; its pid is in PG_PID.
pg_launch() {
    local who=()
    [ "$(id -u)" -ne 0 ] || who=(--reuid postgres --regid postgres --init-groups)
    as_postgres touch "$PG_DIR/keencoat.log"
    PG_OPTIONS=("$@")
    (cd / && exec setpriv "${who[@]}" --pdeathsig INT "$PG_BIN/postgres" -D "$PG_DIR" -c listen_addresses=127.0.0.1 \
        -c unix_socket_directories= -p "$KEENCOAT_DB_PORT" "$@" >>"$PG_DIR/keencoat.log" 2>&1 9>&-) &
    PG_PID=$!
    disown
}

# pg_begin [OPTION…]: begins to start the cluster on a free port, and exports how to reach it; pg_wait waits for it.
pg_begin() {
    pg_lock 20 || fail "The database of this checkout is in use by another script: wait for it, or end it."
    pg_make
    pg_clear
    # Each cluster looks from a place of its own on, so that two which begin at once do not find the same port free.
    local port=$((FIRST_PORT + 0x$(printf '%s' "$PG_DIR" | sha256sum | cut -c1-6) % PORTS))
    until is_port_free "$port"; do port=$((port + 1)); done
    pg_address "$port"
    pg_launch "$@"
}

# pg_address PORT: exports how to reach the cluster.
pg_address() {
    export KEENCOAT_DB_HOST=127.0.0.1 KEENCOAT_DB_PORT=$1 KEENCOAT_DB_USER=keencoat KEENCOAT_DB_NAME=keencoat
    KEENCOAT_DB_PASSWORD=$(kept_secret db.password)
    export KEENCOAT_DB_PASSWORD
}

# Whether the cluster answers: itself, and not whoever else has its port.
pg_answers() {
    [[ $(as_postgres sed -n 8p "$PG_DIR/postmaster.pid" 2>/dev/null) = ready* ]] &&
        "$PG_BIN/pg_isready" -q -h 127.0.0.1 -p "$KEENCOAT_DB_PORT"
}

# One that was killed may hold its files a moment longer than it can be seen: tried three times.
pg_wait() {
    local tries=1
    while ! pg_answers; do
        if ! kill -0 "$PG_PID" 2>/dev/null; then
            [ "$tries" -lt 3 ] || fail "PostgreSQL did not start: $(pg_last_words)"
            tries=$((tries + 1))
            pg_clear
            pg_launch "${PG_OPTIONS[@]}"
        fi
        sleep 0.1
    done
}

# Why it ended: its last fatal line, else its last.
pg_last_words() {
    local said
    said=$(as_postgres tail -n 40 "$PG_DIR/keencoat.log" 2>/dev/null) || { echo "no log in $PG_DIR"; return; }
    grep -E "FATAL|PANIC" <<<"$said" | tail -n 1 | grep . || tail -n 1 <<<"$said"
}

# pg_start [OPTION…]: starts the cluster and waits until it answers.
pg_start() {
    pg_begin "$@"
    pg_wait
}

# Uses the cluster that another script keeps; without one starts it, and stops it at the end.
pg_borrow() {
    if pg_lock; then
        trap pg_stop EXIT
        pg_start
        return
    fi
    local tries
    for tries in $(seq 100); do
        ! pg_runs || break
        sleep 0.1
    done
    pg_address "$(as_postgres sed -n 4p "$PG_DIR/postmaster.pid")"
    PG_PID=$(pg_pid) || fail "The script that keeps the database is ending: try again."
    pg_wait
}

# Stops the cluster, if it is ours: at once, and harder after three seconds.
pg_stop() {
    local pid tries
    pid=$(pg_pid) || return 0
    kill -INT "$pid" 2>/dev/null || true
    # A slow disk takes its time over the last checkpoint.
    for tries in $(seq 300); do
        pg_runs || return 0
        [ "$tries" -ne 200 ] || kill -QUIT "$pid" 2>/dev/null || true
        sleep 0.1
    done
}

# Stops the cluster and leaves nothing of it.
pg_throw_away() {
    pg_stop
    rm -rf "$PG_DIR" "$PG_DIR.complete" "$LOCAL/$(basename "$PG_DIR").lock"
}
