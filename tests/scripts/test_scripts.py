"""The scripts: what can go wrong at start gives one clear line and exit 1, and nothing is lost."""

import os
import socket
import stat
import subprocess
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]


def bash(lines, cwd=ROOT, **env):
    """Run lines with the scripts' shared parts loaded, as if the checkout stood in `cwd`."""
    whole = f"source {ROOT}/script/lib/common.sh\nROOT={cwd}; LOCAL={cwd}/.local; mkdir -p $LOCAL\n{lines}"
    return subprocess.run(
        ["bash", "-c", whole], capture_output=True, text=True, timeout=120, env=os.environ | env, check=False
    )


def script(name, *given, **env):
    """One of ours, as somebody would start it."""
    return subprocess.run(
        [ROOT / "script" / name, *given],
        capture_output=True,
        text=True,
        timeout=120,
        env=os.environ | env,
        check=False,
    )


def one_line(done):
    assert done.returncode == 1, done
    lines = done.stderr.strip().splitlines()
    assert len(lines) == 1, lines
    assert lines[0].startswith("keencoat: ")
    return lines[0]


def test_a_taken_port_is_named_with_what_to_do():
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        done = subprocess.run(
            [ROOT / "script/server"],
            capture_output=True,
            text=True,
            timeout=60,
            check=False,
            env=os.environ | {"KEENCOAT_PORT": str(port)},
        )
    said = one_line(done)
    assert str(port) in said
    assert "KEENCOAT_PORT" in said


def test_a_full_disk_is_told_before_anything_is_written(tmp_path):
    said = one_line(bash("need_disk_mb 99999999999", tmp_path))
    assert "MB free" in said
    assert "Make room" in said
    assert bash("need_disk_mb 1", tmp_path).returncode == 0


def test_missing_packages_without_sudo_are_named(tmp_path):
    lines = f"""
        source {ROOT}/script/lib/setup.sh
        id() {{ echo 1000; }}
        command() {{ [ "$2" != sudo ] && builtin command "$@"; }}
        MISSING_PACKAGES=()
        need_debian /no/such/file postgresql-15
        need_debian bash bash
        install_debian
    """
    said = one_line(bash(lines, tmp_path))
    assert "postgresql-15" in said
    assert "bash" not in said.replace("postgresql-15", "")
    assert "sudo is not installed" in said


def test_a_secret_is_made_once_and_for_nobody_else(tmp_path):
    first, again = (bash("kept_secret some.key", tmp_path).stdout for _ in range(2))
    assert first == again
    assert len(first) == 43, "all 32 bytes are in it, whatever they were"
    assert stat.S_IMODE((tmp_path / ".local/some.key").stat().st_mode) == 0o600


def test_free_and_taken_ports_are_told_apart():
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
        probe.listen()
        assert bash(f"is_port_free {port}").returncode != 0
    assert bash(f"is_port_free {port}").returncode == 0


@pytest.mark.parametrize("changed", [False, True])
def test_steps_are_skipped_only_when_nothing_changed(tmp_path, changed):
    source, stamp = tmp_path / "a.lock", tmp_path / "stamp"
    source.write_text("one")
    setup = f"source {ROOT}/script/lib/setup.sh"
    made = bash(f"{setup}\nunchanged {stamp} {source} || echo $HASH > {stamp}", tmp_path)
    assert made.returncode == 0
    if changed:
        source.write_text("two")
    same = bash(f"{setup}\nunchanged {stamp} {source}", tmp_path)
    assert (same.returncode == 0) != changed


def test_a_half_made_cluster_is_moved_aside_and_made_anew():
    """A real PostgreSQL: data that was never finished is kept beside, and the new cluster answers."""
    name = f"test-half-{os.getpid()}"
    lines = f"""
        source {ROOT}/script/lib/setup.sh
        source {ROOT}/script/lib/postgres.sh
        pg_place {name}
        trap 'pg_stop; rm -rf "$PG_DIR"*' EXIT
        mkdir -p "$PG_DIR"; echo precious > "$PG_DIR/left.txt"
        pg_start -c fsync=off
        cat "$PG_DIR.half-made/left.txt"
        python -c 'import os, psycopg; e = os.environ
print(psycopg.connect(host=e["KEENCOAT_DB_HOST"], port=e["KEENCOAT_DB_PORT"], user=e["KEENCOAT_DB_USER"],
                      password=e["KEENCOAT_DB_PASSWORD"], dbname="postgres").execute("select 40 + 2").fetchone()[0])'
    """
    done = bash(lines)
    assert done.returncode == 0, done.stderr
    assert "half-made database cluster" in done.stdout
    assert done.stdout.split()[-2:] == ["precious", "42"]


def test_a_cluster_that_cannot_start_says_why():
    lines = f"""
        source {ROOT}/script/lib/setup.sh
        source {ROOT}/script/lib/postgres.sh
        pg_place test-broken-{os.getpid()}
        trap 'pg_stop; rm -rf "$PG_DIR"*' EXIT
        pg_make
        echo "max_connections = many" >> "$PG_DIR/postgresql.conf"
        pg_start
    """
    assert one_line(bash(lines)).startswith("keencoat: PostgreSQL did not start")


COUNTS = """
    SELECT json_agg(row_to_json(x)) FROM (
      SELECT (SELECT count(*) FROM jobs_job) AS jobs, (SELECT count(*) FROM jobs_cell) AS cells,
             (SELECT count(*) FROM logbook_logentry) AS lines,
             (SELECT string_agg(md5(original), ',' ORDER BY id) FROM jobs_coatphoto) AS photos) x
"""


def test_whoever_else_has_the_port_is_not_taken_for_the_cluster():
    """Two that begin at once may find the same port free; the second must not prepare the first one's database."""
    done = bash(
        f"""ROOT={ROOT}; LOCAL={ROOT}/.local
        source {ROOT}/script/lib/setup.sh; source {ROOT}/script/lib/postgres.sh
        pg_place test-port-{os.getpid()}-a; first=$PG_DIR
        pg_place test-port-{os.getpid()}-b; second=$PG_DIR
        trap 'PG_DIR=$first; pg_stop; rm -rf "$first"* "$second"* "$LOCAL"/test-port-{os.getpid()}-*' EXIT
        PG_DIR=$first; pg_start
        taken=$KEENCOAT_DB_PORT
        PG_DIR=$second; pg_make; pg_address "$taken"; pg_launch
        pg_answers || (pg_wait)"""
    )
    assert "did not start" in one_line(done)


def test_a_backup_comes_back_with_every_row_and_picture_and_nothing_here_is_lost(tmp_path):
    """On a cluster of its own, kept while it runs; brought back beside what stood there."""
    name = f"backup-test-{os.getpid()}"
    setup = f"""
        source {ROOT}/script/lib/setup.sh; source {ROOT}/script/lib/postgres.sh
        ROOT={ROOT}; LOCAL={ROOT}/.local; pg_place {name}
        export KEENCOAT_SECRET_KEY=test KEENCOAT_DEMO=1 KEENCOAT_STATIC_ROOT={tmp_path}/static
    """
    ask = """ask() { PGPASSWORD=$KEENCOAT_DB_PASSWORD "$PG_BIN/psql" -qAtX -h 127.0.0.1 -p "$KEENCOAT_DB_PORT" \
        -U keencoat -d keencoat -c "$1"; }"""
    env = {"KEENCOAT_CLUSTER": name}
    kept = tmp_path / "garden.keencoat"
    whole = f"source {ROOT}/script/lib/common.sh\n{setup}\npg_start\npython -m django prepare >/dev/null\n{ask}"
    keeper = subprocess.Popen(
        ["bash", "-c", f'{whole}\nask "{COUNTS}"\nread -r; pg_stop'],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
        env=os.environ,
    )
    try:
        began = keeper.stdout.readline()
        assert '"photos":"' in began, began
        done = script("backup", kept, **env)
        assert (done.returncode, "kept in" in done.stdout) == (0, True), done
        running = script("restore", kept, **env)
        assert "stop script/server first" in one_line(running)
        keeper.communicate("\n")
        bash(f'{setup}\npg_start\n{ask}\nask "DELETE FROM jobs_cell"\npg_stop')
        done = script("restore", kept, **env)
        assert (done.returncode, "set aside" in done.stdout) == (0, True), done
        after = bash(f'{setup}\npg_start\n{ask}\nask "{COUNTS}"\nask "SELECT count(*) FROM pg_database"\npg_stop')
        counts, databases = after.stdout.strip().splitlines()[-2:]
        assert counts == began.strip()
        assert int(databases) == 5
        broken = tmp_path / "broken"
        broken.write_bytes(kept.read_bytes()[:2000])
        done = script("restore", broken, **env)
        assert done.returncode == 1
    finally:
        keeper.kill()
        bash(f'{setup}\npg_clear\nrm -rf "$PG_DIR" "$PG_DIR".*')
