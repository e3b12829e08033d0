"""How large a body may be: every operation of the description takes what it says and refuses more, in words."""

import http.client
import json
import os
import random
import re
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor

import pytest

from tests.rough.people import CSRF, Person, photo_form, seeded
from tests.scripts.kept import kept_server

MOST_BYTES = "x-most-body-bytes"


@pytest.fixture(scope="module")
def person():
    with kept_server(f"bodies-{os.getpid()}") as server:
        yield Person(server, seeded(server)[0])


def described(person):
    """Each operation: its method, an address where there is no row, what it takes, and how large that may be."""
    for path, operations in json.loads(person.ask("GET", "/openapi.json")[1])["paths"].items():
        for method, operation in operations.items():
            address = re.sub(r"{\w+}", "0", path).removeprefix("/api")
            yield method.upper(), address, operation.get("requestBody", {}).get("content", {}), operation


def form_of(size):
    """A form of so many bytes."""
    return photo_form("photo", bytes(size - len(photo_form("photo", b"")[0])))


def test_each_form_may_be_as_large_as_its_operation_says(person):
    forms = [(m, path, op) for m, path, content, op in described(person) if "multipart/form-data" in content]
    assert len(forms) > 5
    for method, path, operation in forms:
        most_bytes = operation[MOST_BYTES]
        status, told = person.ask(method, path, form=form_of(most_bytes - 1))
        assert status in (404, 422), (path, told[:200])
        status, told = person.ask(method, path, form=form_of(most_bytes + 1))
        assert status == 413, (path, told[:200])
        assert f"{most_bytes // 100_000 / 10:g} MB" in json.loads(told)["hint"]


def test_an_operation_that_takes_json_refuses_a_form_and_more_than_the_usual(person):
    plain = [(m, path) for m, path, content, _ in described(person) if "application/json" in content]
    assert len(plain) > 50
    for method, path in plain:
        status, told = person.ask(method, path, form=form_of(300))
        assert status in (400, 422), (method, path, told[:200])
        assert "JSON" in json.loads(told)["hint"], (method, path, told[:200])
    # As a browser sends it: all of it before it looks for an answer.
    status, told = person.ask(*plain[0], body={"name": "x" * 20_000_000})
    assert (status, json.loads(told)["hint"]) == (413, "Send less than 2.1 MB.")


def test_nobody_sends_much_and_no_file_of_the_interface_goes_without_its_headers(person):
    line = http.client.HTTPConnection("127.0.0.1", person.server.port, timeout=20)
    line.request("POST", "/api/workshop.zip", form_of(1_000_000)[0], {"X-CSRFToken": CSRF})
    assert line.getresponse().status == 413
    line = http.client.HTTPConnection("127.0.0.1", person.server.port, timeout=20)
    line.request("GET", "/static/app/index.html")
    headers = line.getresponse().headers
    assert "frame-ancestors 'none'" in headers["Content-Security-Policy"]
    assert headers["X-Frame-Options"] == "DENY"


def stippled(count):
    """A drawing of so many small circles, in a form that brings it."""
    draw = random.Random(count)
    at = ((draw.uniform(1, 99), draw.uniform(1, 99), draw.uniform(0.1, 0.4)) for _ in range(count))
    dots = "".join(f'<circle cx="{x:.2f}" cy="{y:.2f}" r="{r:.2f}"/>' for x, y, r in at)
    page = '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">'
    return photo_form("file", f"{page}{dots}</svg>".encode(), kind="drawing", name="Stipples")


@pytest.mark.bench
def test_many_drawings_at_once_leave_the_rest_quick(person):
    """By hand: pytest -m bench -s tests/rough/test_bodies.py"""
    job, form = person.person["mine"][0]["job"], stippled(15_000)
    begun = time.perf_counter()
    alone = person.ask("POST", f"/jobs/{job}/artworks", form=form)
    print(f"one drawing of 15,000 circles: {alone[0]}, {time.perf_counter() - begun:.1f} s")
    with ThreadPoolExecutor(14) as pool:
        sent = [pool.submit(person.ask, "POST", f"/jobs/{job}/artworks", None, form) for _ in range(14)]
        times = []
        while not all(one.done() for one in sent):
            begun = time.perf_counter()
            assert person.ask("GET", "/session")[0] == 200
            times.append(time.perf_counter() - begun)
            time.sleep(0.05)
    told = Counter(one.result()[0] for one in sent)
    print(f"14 at once: {dict(told)}; GET /session {len(times)} times, at most {max(times):.2f} s")
    assert set(told) <= {201, 503}
    assert max(times) < 0.3


def test_nobody_claims_another_address_for_himself(person):
    said = []
    for number in range(11):
        line = http.client.HTTPConnection("127.0.0.1", person.server.port, timeout=20)
        token = {"Cookie": f"keencoat_csrf={CSRF}", "X-CSRFToken": CSRF, "X-Forwarded-For": f"192.0.2.{number}"}
        guess = json.dumps({"user": "invented", "password": "wrong"})
        line.request("POST", "/api/session", guess, token | {"Content-Type": "application/json"})
        said.append(line.getresponse().status)
    assert said == [422] * 9 + [429] * 2
