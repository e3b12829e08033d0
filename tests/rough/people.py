"""Signed-in people on a server that was started for a test."""

import http.client
import json
import os
import subprocess
import sys
from contextlib import suppress
from uuid import uuid4

from tests.scripts.kept import ROOT

CSRF = "a" * 32


def seeded(server, workshops=1, users=1, jobs=8):
    """Workshops with jobs in all stages; one entry a user, with a session."""
    env = server.inner_env() | {"PYTHONPATH": os.pathsep.join(["src", "."])}
    command = [sys.executable, "tests/load/seed.py", str(workshops), str(users), str(jobs)]
    return json.loads(subprocess.run(command, env=env, cwd=ROOT, capture_output=True, text=True, check=True).stdout)


class Person:
    """Asks over a connection of its own; None where no answer came."""

    def __init__(self, server, person):
        self.server, self.person = server, person

    def ask(self, method, path, body=None, form=None):
        headers = {"Cookie": f"keencoat_session={self.person['cookie']}; keencoat_csrf={CSRF}", "X-CSRFToken": CSRF}
        headers["Idempotency-Key"] = uuid4().hex
        data = None
        if form is not None:
            data, headers["Content-Type"] = form
        elif body is not None:
            data, headers["Content-Type"] = json.dumps(body), "application/json"
        line = http.client.HTTPConnection("127.0.0.1", self.server.port, timeout=40)
        with suppress(OSError, http.client.HTTPException):
            line.request(method, f"/api{path}", data, headers)
            answer = line.getresponse()
            return answer.status, answer.read()
        return None


def photo_form(name, data, **fields):
    """A form with one file, and with what else is told in it, as a browser sends it."""
    edge = "leaf-edge-1729"
    part = f"--{edge}\r\nContent-Disposition: form-data; "
    told = "".join(f'{part}name="{field}"\r\n\r\n{value}\r\n' for field, value in fields.items())
    head = f'{told}{part}name="{name}"; filename="p"\r\n\r\n'
    return head.encode() + data + f"\r\n--{edge}--\r\n".encode(), f"multipart/form-data; boundary={edge}"
