"""Fifty signed-in users at the usual work, on whatever this machine is: pytest -m bench -s tests/load."""

import json
import os
import subprocess
import sys

import pytest

from tests.load.drive import drive, report
from tests.scripts.kept import kept_server

SECONDS = int(os.environ.get("KEENCOAT_LOAD_S", "180"))
WORKSHOPS, USERS_EACH, JOBS_EACH = 10, 5, 40


@pytest.mark.bench
def test_fifty_users_are_served_quickly():
    with kept_server(f"load-{os.getpid()}") as server:
        env = server.inner_env() | {"PYTHONPATH": os.pathsep.join(["src", "."])}
        command = [sys.executable, "tests/load/seed.py", *(str(n) for n in (WORKSHOPS, USERS_EACH, JOBS_EACH))]
        people = json.loads(subprocess.run(command, env=env, capture_output=True, text=True, check=True).stdout)
        times, errors = drive(server.port, people, SECONDS)
    print("", *report(times, errors, SECONDS), sep="\n")
    assert not errors
    whole = sorted(t for found in times.values() for t, _ in found)
    assert whole[len(whole) // 2] < 0.15
    assert whole[int(0.95 * len(whole))] < 0.6
