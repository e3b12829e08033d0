# Keeps what serves running: starts each part, starts it again when it ends unasked, ends all with this script.
# Sourced after common.sh.

declare -A PART_OF FALLS

# part NAME COMMAND…: starts a part as a child that does not outlive this script; what it says goes to its log.
part() {
    local name=$1
    shift
    setpriv --pdeathsig KILL "$@" >>"$LOCAL/$name.log" 2>&1 9>&- &
    PART_OF[$!]=$name
    # Else bash itself speaks of each that is killed.
    disown
}

# Whether all parts run.
parts_run() {
    local pid
    for pid in "${!PART_OF[@]}"; do
        kill -0 "$pid" 2>/dev/null || return 1
    done
}

# keep START: starts parts again that ended unasked, START NAME starts one. One that falls ten times within half a minute
# ends the script with its last words.
keep() {
    local pid name
    while true; do
        for pid in "${!PART_OF[@]}"; do
            if kill -0 "$pid" 2>/dev/null; then continue; fi
            name=${PART_OF[$pid]}
            unset "PART_OF[$pid]"
            note_fall "$name" || fail "$name falls as soon as it starts: $("$1" --last-words "$name")"
            say "$name ended unasked; it is started again"
            "$1" "$name"
        done
        sleep 0.4 9>&-
    done
}

# Notes that a part fell; fails at the tenth time within half a minute.
note_fall() {
    local now fall falls=()
    now=$(date +%s)
    for fall in ${FALLS[$1]:-} "$now"; do
        if [ "$((now - fall))" -lt 30 ]; then falls+=("$fall"); fi
    done
    FALLS[$1]="${falls[*]}"
    [ "${#falls[@]}" -lt 10 ]
}

# Ends all parts but those named: asked first, made to after two seconds.
end_parts() {
    local pid tries pids=()
    for pid in "${!PART_OF[@]}"; do
        [ "${PART_OF[$pid]}" = "${1:-}" ] || pids+=("$pid")
    done
    [ "${#pids[@]}" -gt 0 ] || return 0
    kill -TERM "${pids[@]}" 2>/dev/null || true
    for tries in $(seq 20); do
        kill -0 "${pids[@]}" 2>/dev/null || break
        sleep 0.1
    done
    kill -KILL "${pids[@]}" 2>/dev/null || true
}
