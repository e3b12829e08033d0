"""The API against its own description, by a machine that makes requests up: examples, edges, random ones, chains."""

import os
import re
import subprocess
import sys
from pathlib import Path

from tests.rough.people import CSRF, seeded
from tests.scripts.kept import kept_server

CHECKS = (
    "not_a_server_error",
    "status_code_conformance",
    "content_type_conformance",
    "response_schema_conformance",
    "response_headers_conformance",
)
# Signing out, and a password that is guessed at, would end the session that all else needs.
LEFT_OUT = ("/api/session", "/api/session/password")


def test_no_answer_is_an_error_of_ours_or_breaks_the_description(tmp_path):
    examples = os.environ.get("KEENCOAT_FUZZ", "2")
    with kept_server(f"schema-{os.getpid()}") as server:
        cookie = f"keencoat_session={seeded(server)[0]['cookie']}; keencoat_csrf={CSRF}"
        done = subprocess.run(
            [
                Path(sys.executable).parent / "st",
                "run",
                f"http://127.0.0.1:{server.port}/api/openapi.json",
                "-H",
                f"Cookie: {cookie}",
                "-H",
                f"X-CSRFToken: {CSRF}",
                # The first call of a server loads what computes: on a busy machine of two cores that takes its time.
                "--request-timeout",
                "60",
                "--max-examples",
                examples,
                "--checks",
                ",".join(CHECKS),
                *(a for path in LEFT_OUT for a in ("--exclude-path", path)),
            ],
            cwd=tmp_path,
            capture_output=True,
            text=True,
            check=False,
            timeout=1800,
        )
    print(done.stdout[-1500:])
    faults = re.search(r"=+ (ERRORS|FAILURES) =.*?(?=\n=+ (WARNINGS|SUMMARY) =)", done.stdout, re.DOTALL)
    assert done.returncode == 0, faults[0][:6000] if faults else done.stdout[-6000:]
    assert " generated" in done.stdout
