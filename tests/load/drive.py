"""Signed-in users at work: each waits about two seconds, asks for something as the pages do, and goes on."""

import http.client
import json
import random
import statistics
import threading
import time
from collections import defaultdict
from uuid import uuid4

THINK_S = 2.0
CSRF = "a" * 32
OTHERS = 0.2
MIX = {
    "bench": 20, "job": 12, "grids": 10, "window": 12, "rate": 18, "draft": 8, "coat": 6, "logbook": 4, "room": 4,
    "jobs": 4, "session": 2,
}  # fmt: skip
"""What users ask for, in parts of a hundred: the Bench asks by itself, rating is what hands do most."""


class User(threading.Thread):
    """One user with a connection that is kept."""

    def __init__(self, port, person, until, times, errors, seed):
        super().__init__(daemon=True)
        self.port, self.person, self.until = port, person, until
        self.times, self.errors, self.random = times, errors, random.Random(seed)
        self.tags, self.kept = {}, {}
        self.line = http.client.HTTPConnection("127.0.0.1", port, timeout=30)

    def ask(self, kind, method, path, body=None):
        headers = {"Cookie": f"keencoat_session={self.person['cookie']}; keencoat_csrf={CSRF}"}
        if method == "GET" and path in self.tags:
            headers["If-None-Match"] = self.tags[path]
        if method != "GET":
            headers |= {"X-CSRFToken": CSRF, "Content-Type": "application/json", "Idempotency-Key": uuid4().hex}
        begun = time.perf_counter()
        try:
            self.line.request(method, f"/api{path}", json.dumps(body) if body is not None else None, headers)
            answer = self.line.getresponse()
            data = answer.read()
        except (OSError, http.client.HTTPException) as error:
            self.errors[repr(error)[:60]] += 1
            self.line.close()
            return None
        self.times[kind].append((time.perf_counter() - begun, len(data)))
        if answer.status == 304:
            return self.kept[path]
        # Two hands on one grid: the second is told, and reads it again.
        if answer.status >= 400 and answer.status != 409:
            self.errors[f"{kind} {answer.status} {data[:80]!r}"] += 1
            return None
        if answer.headers.get("ETag") and method == "GET":
            self.tags[path], self.kept[path] = answer.headers["ETag"], data
        return data

    def run(self):
        time.sleep(self.random.uniform(0, 2 * THINK_S))
        while time.monotonic() < self.until:
            kind = self.random.choices(list(MIX), list(MIX.values()))[0]
            # People work at their own jobs, and look at those of others now and then.
            whose = "jobs" if kind != "rate" and self.random.random() < OTHERS else "mine"
            job = self.random.choice(self.person[whose])
            getattr(self, f"do_{kind}", self.do_read)(kind, job)
            time.sleep(self.random.expovariate(1 / THINK_S))

    def do_read(self, kind, job):
        self.ask(
            kind,
            "GET",
            {
                "bench": "/bench",
                "job": f"/jobs/{job['job']}",
                "grids": f"/jobs/{job['job']}/grids",
                "window": f"/jobs/{job['job']}/window",
                "coat": f"/jobs/{job['job']}/coat",
                "logbook": "/logbook",
                "room": "/room",
                "jobs": "/jobs",
                "session": "/session",
            }[kind],
        )

    def do_draft(self, kind, job):
        cells = self.random.choice([8, 12, 16])
        self.ask(kind, "POST", f"/jobs/{job['job']}/grids/draft", {"interval_mm": 0.1, "cells": cells})

    def do_rate(self, kind, job):
        if job["grid"] is None:
            return self.do_read("job", job)
        data = self.ask("grids", "GET", f"/jobs/{job['job']}/grids")
        if data is None:
            return None
        cell = self.random.choice(json.loads(data)[0]["cells"])
        return self.ask(
            kind,
            "PUT",
            f"/grids/{job['grid']}/cells/{cell['code']}",
            {
                "rating": self.random.choice(["faint", "clean", "harsh"]),
                "version": cell["version"],
            },
        )


def drive(port, people, seconds):
    """Let them all work for so long; returns times in s with answers' sizes, by kind, and errors by what was said."""
    times, errors = defaultdict(list), defaultdict(int)
    until = time.monotonic() + seconds
    users = [User(port, person, until, times, errors, n) for n, person in enumerate(people)]
    for user in users:
        user.start()
    for user in users:
        user.join()
    return times, errors


def report(times, errors, seconds):
    """Lines of a table: how many a second, p50, p95, largest, kB on average; whole and by kind."""

    def row(kind, found):
        s = sorted(t for t, _ in found)
        p95 = s[int(0.95 * len(s))]
        p50, kb = s[len(s) // 2], statistics.fmean(size for _, size in found) / 1000
        return f"{kind:10} {len(s) / seconds:6.1f}/s  p50 {p50:.3f}  p95 {p95:.3f}  max {s[-1]:.2f} s  {kb:6.1f} kB"

    whole = [t for found in times.values() for t in found]
    lines = [row("all", whole)] + [row(kind, found) for kind, found in sorted(times.items())]
    return lines + [f"error: {n} × {what}" for what, n in errors.items()]
