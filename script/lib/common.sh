# Shared by all scripts: where things are, and how they speak. Sourced, never run.
set -euo pipefail

ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/../.." && pwd)
LOCAL=$ROOT/.local
VENV=$LOCAL/venv
export PATH=$LOCAL/node:$VENV/bin:$PATH
export PYTHONPATH=$ROOT/src DJANGO_SETTINGS_MODULE=keencoat.site.settings
export NUMBA_CACHE_DIR=$LOCAL/numba
# Compiled once, beside nobody's sources: else each process begins by compiling three thousand modules.
unset PYTHONDONTWRITEBYTECODE
export PYTHONPYCACHEPREFIX=$LOCAL/pycache
umask 022
mkdir -p "$LOCAL" 2>/dev/null || { echo "keencoat: cannot write to $LOCAL: is the disk full, or the folder not yours?" >&2; exit 1; }

say() { printf 'keencoat: %s\n' "$*"; }
fail() { printf 'keencoat: %s\n' "$*" >&2; exit 1; }

# Fails unless the disk under the checkout has that many MB free.
need_disk_mb() {
    local free_mb
    free_mb=$(($(df --output=avail -k "$LOCAL" | tail -n 1) / 1024))
    [ "$free_mb" -ge "$1" ] || fail "The disk is almost full: $free_mb MB free under $LOCAL, $1 MB needed. Make room and start again."
}

is_port_free() { ! (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

# A secret that survives restarts, made once.
kept_secret() {
    local file=$LOCAL/$1
    [ -s "$file" ] || (umask 077 && head -c 32 /dev/urandom | base64 | tr '+/' '-_' | tr -d '=\n' >"$file")
    cat "$file"
}
