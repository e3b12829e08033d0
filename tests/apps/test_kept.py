"""Answers kept by counts: after any deed, by whichever job, what is served is what would be worked out anew."""

import json

import pytest
from django.utils import timezone

from keencoat.jobs.job import marks
from keencoat.jobs.models import TestGrid
from keencoat.shop import kept
from tests.apps.conftest import BLUE, wedge

SETTING = {"power_pct": 60, "speed_mm_s": 30, "interval_mm": 0.1, "passes": 1}
ASKED = [
    ("GET", "/jobs", None), ("GET", "/bench", None), ("GET", "/jobs/{}", None), ("GET", "/jobs/{}/coat", None),
    ("GET", "/jobs/{}/grids", None), ("GET", "/jobs/{}/window", None), ("GET", "/jobs/{}/runs", None),
    ("GET", "/jobs/{}/run-sheet", None), ("POST", "/jobs/{}/window/point", SETTING),
    ("POST", "/jobs/{}/grids/draft", {"interval_mm": 0.1}),
]  # fmt: skip
"""All that is kept."""


def deeds(api, job, grid):
    """What hands do with one job and in its workshop, in an order that is allowed."""
    base = f"/jobs/{job['id']}"
    lines = [{"power_pct": p, "width_um": w} for p, w in ((6, 22), (8, 41), (11, 55), (16, 67), (24, 78), (36, 89))]
    yield "mix", lambda: api.post(f"{base}/coat/lots", {"note": "stirred"})
    last = f"{base}/coat/stamps/{api.get(f'{base}/coat')['steps'][1]['stamps'][-1]['id']}"
    yield "wet", lambda: api.post(f"{last}/looks", {"dry": False, "at": "2026-01-05T10:08:00Z"})
    yield "dry", lambda: api.post(f"{last}/looks", {"dry": True, "at": "2026-01-05T10:19:00Z"})
    yield "shot", lambda: api.post(f"{base}/coat/practice-shot", {"fault": "even"}, expect=201)
    yield "hold up", lambda: api.post(f"{base}/coat/holdups", {"coats": 1, "bare": 900, "coated": 20})
    yield "rate", lambda: api.rate(grid, wedge)
    yield "lock", lambda: api.lock(job, SETTING)
    yield (
        "run",
        lambda: api.post(
            f"{base}/runs",
            {
                "clean": 5,
                "faint": 1,
                "lock_version": api.get(base)["locked"]["version"],
            },
            expect=201,
        ),
    )
    yield "another grid", lambda: api.burned_grid(job)
    yield "room", lambda: api.post("/room/readings", {"temperature_c": 17, "humidity_pct": 80})
    yield "sensor on", lambda: api.put("/room/sensor", {"on": True, "was": False})
    yield "sensor off", lambda: api.put("/room/sensor", {"on": False, "was": True})
    yield "scatter", lambda: api.put("/scatter", api.get("/scatter") | {"coat_cv": 0.2})
    yield (
        "machine",
        lambda: api.put(
            f"/machines/{api.machine.pk}",
            BLUE
            | {
                "spot_mm": 0.13,
                "version": api.get("/machines")[0]["version"],
            },
        ),
    )
    yield (
        "lines",
        lambda: api.post(
            f"/machines/{api.machine.pk}/line-tests",
            {
                "speed_mm_s": 40,
                "lines": lines,
                "process": "frost",
                "coat": "tempera_brushed",
            },
            expect=201,
        ),
    )
    yield (
        "units",
        lambda: api.put(
            "/session/units",
            {
                "speed_unit": "mm_min",
                "interval_unit": "lines_cm",
                "version": api.get("/session")["version"],
            },
        ),
    )
    yield "put away", lambda: api.put(f"{base}/put-away", {"away": True, "version": api.get(base)["version"]}, 204)


def test_counted_grids_keep_their_order():
    assert TestGrid.objects.counted().ordered


@pytest.mark.parametrize("whose", ["another's", "the origin's"])
def test_no_kept_answer_outlives_what_it_rests_on(api, monkeypatch, whose):
    now = timezone.now()
    monkeypatch.setattr(timezone, "now", lambda: now)
    monkeypatch.setattr(marks, "spell", lambda seconds: 0)
    first = api.coated_job()
    api.rate(api.burned_grid(first), wedge)
    api.lock(first, SETTING)
    carried = api.post(
        f"/jobs/{first['id']}/window/carry/job",
        {
            "machine_id": api.machine.pk,
            "interval_mm": 0.08,
        },
        expect=201,
    )
    other = api.coated_job(name="Fern labels")
    addresses = list(asked_of([first["id"], carried["id"], other["id"]]))
    stale, served_all = [], 0
    job = other if whose == "another's" else first
    # From here on each round leaves all of them kept, for the next deed to outdate.
    for address in addresses:
        answer_of(api, *address)
    for name, deed in deeds(api, job, api.burned_grid(job)):
        deed()
        served = [(address, old) for address in addresses for old in served_of(api, address)]
        served_all += len(served)
        put_aside = dict(kept._answers)
        kept._answers.clear()
        for address, old in served:
            new = answer_of(api, *address)
            stale += [(name, address, difference(old, new))] if old != new else []
        # What was worked out in this round is kept all the same, for the next deed to outdate.
        for tag, answer in put_aside.items():
            kept._answers.setdefault(tag, answer)
    assert stale == []
    assert served_all > len(addresses), "answers that nothing touched are served as they were"


def served_of(api, address):
    """The answer, if it came as it was kept; one that is worked out anew cannot be out of date."""
    before = set(kept._answers)
    given = answer_of(api, *address)
    return [given] if set(kept._answers) == before else []


def difference(old, new):
    """Where two answers part, with what stands there."""
    at = next((n for n, (a, b) in enumerate(zip(old[1], new[1], strict=False)) if a != b), 0)
    return old[0], new[0], old[1][max(0, at - 60) : at + 60], new[1][max(0, at - 60) : at + 60]


def asked_of(jobs):
    for method, path, body in ASKED:
        for job in jobs if "{}" in path else [0]:
            yield method, path.format(job), body


def answer_of(api, method, path, body):
    answer = api.client.generic(method, f"/api{path}", json.dumps(body), "application/json")
    return answer.status_code, answer.content
