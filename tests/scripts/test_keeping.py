"""script/server keeps what it started: a part that is killed comes back, and nothing outlives it."""

import os
import pwd
import shutil
import signal
import socket
import subprocess
import time
import urllib.error
import urllib.request
from contextlib import suppress
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
PARTS = {"database": "bin/postgres -D", "web": "keencoat.site.serve", "worker": "django work"}


class Kept:
    """A server of the checkout on a cluster and a port of its own."""

    def __init__(self, cluster):
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.env = os.environ | {
            "KEENCOAT_PORT": str(self.port), "KEENCOAT_CLUSTER": cluster, "KEENCOAT_DEMO": "0",
        }  # fmt: skip
        self.start()

    def start(self):
        self.process = subprocess.Popen(
            [ROOT / "script/server"], env=self.env, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True,
            start_new_session=True, preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),
        )  # fmt: skip
        said = ""
        while "ready at" not in said:
            line = self.process.stdout.readline()
            assert line, said
            said += line
        return said

    def folder(self):
        """Where its cluster lies."""
        lines = "".join(f"source {ROOT}/script/lib/{name}.sh\n" for name in ("common", "setup", "postgres"))
        lines += 'pg_place "$KEENCOAT_CLUSTER"; echo "$PG_DIR"'
        done = subprocess.run(["bash", "-c", lines], capture_output=True, text=True, check=True, env=self.env)
        return Path(done.stdout.strip())

    def pids(self, part):
        """Processes of a part that were started for this server."""
        found = []
        for process in Path("/proc").glob("[0-9]*"):
            with suppress(OSError):
                command = (process / "cmdline").read_bytes().replace(b"\0", b" ").decode()
                ours = f"KEENCOAT_PORT={self.port}".encode() in (process / "environ").read_bytes()
                if ours and PARTS[part] in command and "setpriv" not in command:
                    found.append(int(process.name))
        return found

    def left(self):
        return [pid for part in PARTS for pid in self.pids(part)]

    def answer(self):
        """The status of a request that needs the database, 0 without an answer."""
        asked = urllib.request.Request(
            f"http://127.0.0.1:{self.port}/api/shelf", headers={"Cookie": "keencoat_session=none"}
        )  # fmt: skip
        try:
            with urllib.request.urlopen(asked, timeout=10) as answered:
                return answered.status
        except urllib.error.HTTPError as error:
            return error.code
        except OSError:
            return 0


def within(seconds, true):
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        if true():
            return True
        time.sleep(0.1)
    return False


@pytest.fixture(scope="module")
def kept():
    name = f"test-kept-{os.getpid()}"
    server = Kept(name)
    yield server
    with suppress(ProcessLookupError):
        server.process.terminate()
    server.process.wait(timeout=20)
    where = server.folder()
    shutil.rmtree(where, ignore_errors=True)
    for beside in where.parent.glob(f"{name}.*"):
        beside.unlink()


@pytest.mark.parametrize("part", PARTS)
def test_a_part_that_is_killed_comes_back_within_ten_seconds(kept, part):
    before = set(kept.pids(part))
    assert before
    for pid in before:
        with suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)
    assert within(10, lambda: kept.pids(part) and not set(kept.pids(part)) & before and kept.answer() == 401)


def test_while_the_database_is_away_it_is_said_and_it_is_well_afterwards(kept):
    for pid in kept.pids("database")[:1]:
        os.kill(pid, signal.SIGKILL)
    answers = set()
    assert within(10, lambda: answers.add(kept.answer()) or kept.answer() == 401)
    assert answers <= {401, 503}


def test_a_killed_script_leaves_nothing_behind_and_starts_again_at_once(kept):
    kept.process.kill()
    kept.process.wait()
    kept.start()
    assert kept.answer() == 401
    assert len(kept.pids("web")) == 2
    kept.process.kill()
    kept.process.wait()
    assert within(5, lambda: not kept.left())
    kept.start()


def test_ctrl_c_ends_all_within_five_seconds_and_a_stranger_under_the_old_pid_lives(kept):
    began = time.monotonic()
    os.killpg(kept.process.pid, signal.SIGINT)
    kept.process.wait(timeout=10)
    assert time.monotonic() - began < 5
    assert not kept.left()
    who = {"user": "postgres"} if os.getuid() == 0 else {}
    stranger = subprocess.Popen(["sleep", "60"], cwd="/", **who)
    where = kept.folder()
    (where / "postmaster.pid").write_text(f"{stranger.pid}\n{where}\n1\n54870\n")
    if who:
        os.chown(where / "postmaster.pid", *pwd.getpwnam("postgres")[2:4])
    kept.start()
    assert kept.answer() == 401
    kept.process.terminate()
    kept.process.wait(timeout=10)
    assert stranger.poll() is None
    stranger.kill()


def test_a_second_server_of_the_checkout_names_the_first(kept):
    kept.start()
    done = subprocess.run([ROOT / "script/server"], capture_output=True, text=True, timeout=60, check=False,
                          env=kept.env | {"KEENCOAT_PORT": "1"})  # fmt: skip
    assert done.returncode == 1
    assert f"runs already at http://127.0.0.1:{kept.port}" in done.stderr
