"""script/server keeps what it started: a part that is killed comes back, and nothing outlives it.

Limits of time are wide here: a busy machine is slow, not wrong. docs/reliability.md has what was measured.
"""

import os
import pwd
import signal
import subprocess
import time
from contextlib import suppress

import pytest

from tests.scripts.kept import PARTS, ROOT, kept_server

PATIENCE_S = 180


def within(true, most_s=PATIENCE_S):
    until = time.monotonic() + most_s
    while time.monotonic() < until:
        if true():
            return True
        time.sleep(0.1)
    return False


@pytest.fixture(scope="module")
def kept():
    with kept_server(f"test-kept-{os.getpid()}") as server:
        yield server


@pytest.mark.parametrize("part", PARTS)
def test_a_part_that_is_killed_comes_back(kept, part):
    before = set(kept.pids(part))
    assert before
    for pid in before:
        with suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)
    assert within(lambda: kept.pids(part) and not set(kept.pids(part)) & before and kept.answer() == 401)


def test_while_the_database_is_away_it_is_said_and_it_is_well_afterwards(kept):
    for pid in kept.pids("database")[:1]:
        os.kill(pid, signal.SIGKILL)
    answers = set()
    assert within(lambda: answers.add(kept.answer()) or kept.answer() == 401)
    assert answers <= {401, 503}


def test_a_killed_script_leaves_nothing_behind_and_starts_again_at_once(kept):
    kept.process.kill()
    kept.process.wait()
    kept.start()
    assert within(lambda: kept.answer() == 401)
    assert len(kept.pids("web")) >= 2
    kept.process.kill()
    kept.process.wait()
    assert within(lambda: not kept.left())
    kept.start()


def test_ctrl_c_ends_all_and_a_stranger_under_the_old_pid_lives(kept):
    began = time.monotonic()
    os.killpg(kept.process.pid, signal.SIGINT)
    kept.process.wait(timeout=20)
    assert time.monotonic() - began < 15
    assert not kept.left()
    who = {"user": "postgres"} if os.getuid() == 0 else {}
    stranger = subprocess.Popen(["sleep", "infinity"], cwd="/", **who)
    try:
        where = kept.folder()
        (where / "postmaster.pid").write_text(f"{stranger.pid}\n{where}\n1\n24870\n")
        if who:
            os.chown(where / "postmaster.pid", *pwd.getpwnam("postgres")[2:4])
        kept.start()
        assert within(lambda: kept.answer() == 401)
        kept.process.terminate()
        kept.process.wait(timeout=20)
        assert stranger.poll() is None
    finally:
        stranger.kill()
        stranger.wait()


def test_a_second_server_of_the_checkout_names_the_first(kept):
    kept.start()
    done = subprocess.run(
        [ROOT / "script/server"],
        capture_output=True,
        text=True,
        timeout=60,
        check=False,
        env=kept.env | {"KEENCOAT_PORT": "1"},
    )
    assert done.returncode == 1
    assert f"runs already at http://127.0.0.1:{kept.port}" in done.stderr
