"""By hand (pytest -m bench -s tests/rough): a part is killed while people rate, lock, upload and burn. Nothing that was
acknowledged is lost, and it heals by itself. KEENCOAT_ROUNDS says how often each part is killed; 20 for
docs/reliability.md."""

import io
import json
import os
import random
import signal
import threading
import time
from contextlib import suppress

import pytest
from PIL import Image

from tests.rough.people import Person, photo_form, seeded
from tests.scripts.kept import kept_server
from tests.scripts.test_keeping import within

SCRIPT_S = 60
"""A script that was killed is started again by hand: it sets up, recovers and warms up under load."""

DRAIN_S = 600
"""All burns that were asked for in the meantime wait for four laser drivers."""

ROUNDS = int(os.environ.get("KEENCOAT_ROUNDS", "1"))


def a_picture():
    out = io.BytesIO()
    Image.effect_noise((420, 320), 40).convert("RGB").save(out, "JPEG")
    return out.getvalue()


class Hands(threading.Thread):
    """Rates, locks, uploads and burns until told to stop; keeps what was acknowledged."""

    def __init__(self, server, person, seed):
        super().__init__(daemon=True)
        self.one, self.jobs, self.random = Person(server, person), person["mine"], random.Random(seed)
        self.going = True
        self.rated, self.photos, self.locked, self.burns, self.odd = {}, set(), {}, set(), []
        self.picture = a_picture()

    def done(self, method, path, wanted, **what):
        """The answer's body if it was acknowledged; 409, 503 and no answer at all are fair."""
        got = self.one.ask(method, path, **what)
        if got is not None and got[0] == wanted:
            return json.loads(got[1]) if got[1] else {}
        if got is not None and got[0] not in (404, 409, 422, 503):
            self.odd.append((method, path, got[0], got[1][:200]))
        return None

    def rate(self):
        job = self.random.choice([j for j in self.jobs if j["grid"]])
        grids = self.done("GET", f"/jobs/{job['job']}/grids", 200)
        if grids:
            cell, rating = self.random.choice(grids[0]["cells"]), self.random.choice(["faint", "clean", "harsh"])
            said = {"rating": rating, "version": cell["version"]}
            if self.done("PUT", f"/grids/{job['grid']}/cells/{cell['code']}", 200, body=said):
                self.rated[job["job"], cell["code"]] = (cell["version"] + 1, rating)

    def lock(self):
        job = self.random.choice([j for j in self.jobs if j["rated"]])["job"]
        window = self.done("GET", f"/jobs/{job}/window", 200)
        point = window and window["recommendation"]["point"]
        if point:
            said = {k: point[k] for k in ("power_pct", "speed_mm_s", "interval_mm", "passes")}
            said |= {"version": window["job_version"], "evidence_mark": window["evidence_mark"]}
            if locked := self.done("POST", f"/jobs/{job}/window/lock", 200, body=said):
                self.locked[job] = max(self.locked.get(job, 0), locked["locked"][0]["version"])

    def upload(self):
        job = self.random.choice(self.jobs)["job"]
        form = photo_form("photo", self.picture)
        if kept := self.done("POST", f"/jobs/{job}/coat/photos", 201, form=form):
            self.photos.add((job, kept["id"]))

    def burn(self):
        job = self.done("POST", "/practice", 201, body={"scenario": "cloche"})
        if job and self.done("POST", f"/jobs/{job['id']}/practice/coat", 200, body={"coating": "even"}):
            grid = self.done("POST", f"/jobs/{job['id']}/grids", 201, body={"interval_mm": 0.1, "cells": 8})
            if grid and (burn := self.done("POST", f"/grids/{grid['id']}/burns", 201, body={"pace": 400})):
                self.burns.add(burn["id"])

    def run(self):
        while self.going:
            getattr(self, self.random.choice(["rate", "rate", "rate", "lock", "upload", "burn"]))()

    def read(self, path):
        """An answer, however long it takes until there is one."""
        found = []
        assert within(lambda: found.append(self.done("GET", path, 200)) or found[-1] is not None, 60), path
        return found[-1]

    def lost(self):
        """What was acknowledged and is not there."""
        gone = []
        for (job, code), (version, rating) in self.rated.items():
            cells = {c["code"]: c for c in self.read(f"/jobs/{job}/grids")[0]["cells"]}
            now = cells[code]
            if now["version"] < version or (now["version"] == version and now["rating"] != rating):
                gone.append((job, code))
        for job, photo in self.photos:
            if photo not in {p["id"] for p in self.read(f"/jobs/{job}/coat/proof")["photos"]}:
                gone.append(photo)
        for job, version in self.locked.items():
            if self.read(f"/jobs/{job}")["locked"]["version"] < version:
                gone.append((job, "lock"))
        return gone


def is_well(server, part, before):
    """Whether the part runs in full again, and requests that need the database are answered."""
    parts = ("web", "worker", "database") if part == "script" else (part,)
    now = {name: set(server.pids(name)) for name in parts}
    whole = all(len(now[name]) == len(before[name]) and now[name] != before[name] for name in parts)
    return whole and server.answer() == 401


def counts_of(one):
    return [len(one.rated), len(one.photos), len(one.locked), len(one.burns)]


def kill(server, part):
    if part == "script":
        server.process.kill()
        server.process.wait()
        server.start()
        return
    # Of several web processes one falls at a time.
    for pid in server.pids(part)[: 1 if part == "web" else None]:
        with suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)


@pytest.mark.bench
@pytest.mark.parametrize("part", ["web", "worker", "database", "script"])
def test_nothing_acknowledged_is_lost_and_it_heals(part):
    healed = []
    with kept_server(f"kills-{part}-{os.getpid()}") as server:
        people = seeded(server, users=2, jobs=8)
        hands = [Hands(server, person, n) for n, person in enumerate(people)]
        for one in hands:
            one.start()
        assert within(lambda: all(sum(counts_of(one)[n] for one in hands) for n in range(4)), 60)
        for number in range(ROUNDS):
            time.sleep(2 + number % 3)
            before = {name: set(server.pids(name)) for name in ("web", "worker", "database")}
            begun = time.monotonic()
            kill(server, part)
            assert within(lambda before=before: is_well(server, part, before), SCRIPT_S if part == "script" else 10)
            healed.append(time.monotonic() - begun)
        time.sleep(3)
        for one in hands:
            one.going = False
        for one in hands:
            one.join(timeout=60)
        lost = [row for one in hands for row in one.lost()]
        over = {"done", "stopped", "failed"}
        for one in hands:
            assert within(lambda one=one: all(one.read(f"/burns/{b}")["state"] in over for b in one.burns), DRAIN_S)
        counts = [sum(counted) for counted in zip(*map(counts_of, hands), strict=True)]
        odd = [row for one in hands for row in one.odd]
    print(
        f"{part}: {ROUNDS} rounds, healed within {max(healed):.1f} s; acknowledged: {counts[0]} cells, "
        f"{counts[1]} photos, {counts[2]} locks, {counts[3]} burns; lost {len(lost)}"
    )
    assert not lost
    assert not odd
