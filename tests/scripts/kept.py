"""A script/server of its own, to be killed, loaded and looked at."""

import os
import shutil
import signal
import socket
import subprocess
import urllib.error
import urllib.request
from contextlib import contextmanager, suppress
from pathlib import Path

ROOT = Path(__file__).parents[2]
PARTS = {"database": "bin/postgres -D", "web": "keencoat.site.serve", "worker": "django work"}


class Kept:
    """A server of the checkout on a cluster and a port of its own."""

    def __init__(self, cluster, demo=False):
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.env = os.environ | {
            "KEENCOAT_PORT": str(self.port),
            "KEENCOAT_CLUSTER": cluster,
            "KEENCOAT_DEMO": str(int(demo)),
        }
        self.start()

    def start(self):
        self.process = subprocess.Popen(
            [ROOT / "script/server"],
            env=self.env,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            start_new_session=True,
            preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),
        )
        said = ""
        while "keencoat: ready at" not in said:
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
        )
        try:
            with urllib.request.urlopen(asked, timeout=10) as answered:
                return answered.status
        except urllib.error.HTTPError as error:
            return error.code
        except OSError:
            return 0

    def inner_env(self):
        """The environment of its web processes, to look at its database with."""
        told = Path(f"/proc/{self.pids('web')[0]}/environ").read_bytes().split(b"\0")
        return dict(line.decode().split("=", 1) for line in told if line)


@contextmanager
def kept_server(cluster, demo=False):
    """A server for a while; its cluster is thrown away afterwards."""
    server = Kept(cluster, demo)
    try:
        yield server
    finally:
        with suppress(ProcessLookupError):
            server.process.terminate()
        server.process.wait(timeout=20)
        where = server.folder()
        shutil.rmtree(where, ignore_errors=True)
        for beside in (*where.parent.glob(f"{cluster}.*"), *(ROOT / ".local").glob(f"{cluster}.*")):
            beside.unlink(missing_ok=True)
