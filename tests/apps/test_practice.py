"""Practising through the API: a grid burned by the worker's own code over a real socket, photographed, read, corrected,
taken to the window, locked, and a batch of twelve; stopped in the middle; and nothing of it among real records."""

import csv
import io
import threading
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta

import pytest
from django.db import connection
from django.utils import timezone

from keencoat.bench.laser.controller import Bed
from keencoat.jobs.grid.services.burn_program import program_of
from keencoat.jobs.grid.services.driving import run_burn
from keencoat.jobs.grid.services.lost_burns import mend_burns
from keencoat.jobs.job.driving import BurnProgram, unpack
from keencoat.jobs.models import Cell, CoatPhoto, GridBurn, Job
from keencoat.jobs.practice.services import fresh_piece
from keencoat.logbook.models import LogEntry
from keencoat.shop.models import TurningDevice
from tests.apps.conftest import OurClient

FAST = 2000


def practised(api, scenario="cloche", coating="even", **wish):
    job = api.post("/practice", {"scenario": scenario}, expect=201)
    api.post(f"/jobs/{job['id']}/practice/coat", {"coating": coating})
    grid = api.post(f"/jobs/{job['id']}/grids", {"interval_mm": job["interval_mm"]} | wish, expect=201)
    return job, grid


def burned(api, grid):
    burn = api.post(f"/grids/{grid['id']}/burns", {"pace": FAST}, expect=201)
    assert burn["state"] == "queued"
    run_burn(burn["id"])
    return api.get(f"/burns/{burn['id']}")


def read_photo(api, grid):
    """What a fair photo tells; as any maker would, another one is taken where the first is refused or tells nothing for
    sure (2 of 58 such photos of a cloche)."""
    for _ in range(4):
        read = api.post(f"/grids/{grid['id']}/practice/photo", {}, expect=201)
        if read["photos"][-1]["trouble"] is None and any(c["proposal"]["sure"] for c in read["cells"]):
            break
    return read


def locked_practice(api, scenario):
    """A practice job whose setting is locked as its first photo leads to."""
    job, grid = practised(api, scenario)
    burned(api, grid)
    read = read_photo(api, grid)
    said = {c["code"]: c["proposal"]["rating"] for c in read["cells"]}
    api.rate(grid, lambda cell: said[cell["code"]])
    api.lock(job, api.get(f"/jobs/{job['id']}/window")["recommendation"]["point"])
    return job


def test_a_queued_burn_is_on_the_queue_in_postgresql(api):
    _, grid = practised(api)
    burn = api.post(f"/grids/{grid['id']}/burns", {}, expect=201)
    with connection.cursor() as cursor:
        cursor.execute("select queue_name, args from procrastinate_jobs where status = 'todo'")
        queued = cursor.fetchall()
    assert [q for q, _ in queued] == ["burns"]
    assert str(burn["id"]) in str(queued[0][1])
    assert "burning already" in api.post(f"/grids/{grid['id']}/burns", {}, expect=409)["detail"]
    assert "is burning" in api.post(f"/jobs/{grid['job_id']}/grids", {"interval_mm": 0.1}, expect=409)["detail"]


@pytest.mark.parametrize("scenario", ["cloche", "marker", "sign"])
def test_from_practice_coat_to_batch(api, scenario):
    job, grid = practised(api, scenario)
    burn = burned(api, grid)
    assert (burn["state"], burn["lines_done"]) == ("done", burn["lines"])
    assert burn["clock_s"] == pytest.approx(grid["burn_seconds"], rel=0.03)
    shot = api.post(f"/grids/{grid['id']}/practice/photo", {"trouble": "blurred"}, expect=201)
    assert "blurred" in shot["photos"][0]["trouble"]["message"]
    read = read_photo(api, grid)
    assert all(p["simulated"] for p in read["photos"])
    assert len(read["cells"]) == len(grid["cells"])
    for cell in read["cells"]:
        p = cell["proposal"]
        assert p["faint"] + p["clean"] + p["harsh"] == pytest.approx(1, abs=0.01)

    # The maker corrects one cell by eye first; taking the sure proposals leaves it alone.
    wrong = read["cells"][0]
    other = "clean" if wrong["proposal"]["rating"] == "faint" else "faint"
    api.put(f"/grids/{grid['id']}/cells/{wrong['code']}", {"rating": other, "version": 1})
    grid = api.post(f"/grids/{grid['id']}/proposals")
    ratings = {c["code"]: c["rating"] for c in grid["cells"]}
    assert ratings[wrong["code"]] == other
    assert api.get(f"/grids/{grid['id']}/reading")["tuning"]["cells"] > 0
    assert api.call("DELETE", f"/grids/{grid['id']}/proposals")["tuning"]["cells"] == 0
    for cell in grid["cells"]:
        if not cell["rating"]:
            rating = next(c["proposal"]["rating"] for c in read["cells"] if c["code"] == cell["code"])
            grid = api.put(f"/grids/{grid['id']}/cells/{cell['code']}", {"rating": rating, "version": cell["version"]})
    code, version = next((c["code"], c["version"]) for c in grid["cells"] if c["code"] == wrong["code"])
    put = {"rating": wrong["proposal"]["rating"], "version": version}
    assert api.put(f"/grids/{grid['id']}/cells/{code}", put)["state"] == "rated"

    rows = list(csv.DictReader(io.StringIO(api.get(f"/grids/{grid['id']}/measurements/csv").content.decode())))
    assert {r["code"] for r in rows} == set(ratings)
    assert float(rows[0]["contrast_l"]) == read["cells"][0]["contrast_l"]
    assert len(api.get(f"/grids/{grid['id']}/measurements/json")["cells"]) == len(rows)

    window = api.get(f"/jobs/{job['id']}/window")
    point = window["recommendation"]["point"]
    api.lock(job, point)
    done = api.post(f"/jobs/{job['id']}/practice/batch")["practice"]
    assert done["of"] == 12
    assert done["clean"] == sum(p["verdict"] == "clean" for p in done["batch"])
    assert all(p["why"] for p in done["batch"] if p["verdict"] != "clean")
    assert (done["pieces"], done["cells"]) == (1, len(grid["cells"]))


def test_nothing_of_a_practice_is_among_real_records(api):
    job, grid = practised(api)
    burned(api, grid)
    assert api.get("/jobs") == []
    assert api.get("/bench")["jobs"] == []
    assert api.get("/logbook")["total"] == 0
    assert LogEntry.objects.filter(workshop__practice_of=api.shop).exists()
    assert [m["name"] for m in api.get("/machines")] == ["Blue twelve"]
    assert [j["id"] for j in api.get("/practice")["jobs"]] == [job["id"]]
    real = api.coated_job()
    assert api.get(f"/jobs/{real['id']}")["practice"] is None
    grid = api.burned_grid(real)
    assert "No laser is connected" in api.post(f"/grids/{grid['id']}/burns", {}, expect=409)["detail"]
    assert "real job" in api.post(f"/grids/{grid['id']}/practice/photo", {}, expect=409)["detail"]
    assert "real job" in api.post(f"/jobs/{real['id']}/practice/batch", {}, expect=409)["detail"]
    assert "real job" in coat_photo(api, real, 409)["detail"]


def coat_photo(api, job, expect=201):
    return api.post(f"/jobs/{job['id']}/practice/coat-photo", {}, expect=expect)


@pytest.mark.parametrize(("scenario", "coating"), [("cloche", "even"), ("sign", "streaked"), ("vial", "even")])
def test_a_practice_pieces_own_coat_is_photographed_and_counts(api, scenario, coating):
    """Truth is the plant's film; the variation lies between pieces too, so it is at least that within.

    Bounds are four standard deviations of 36 pieces a scenario wide: CVs came out at 0.71 to 1.05 of the truth (a
    wall's are blurred most), ratios of two signals at 0.84 to 1.19 of the films'.
    """
    job, _ = practised(api, scenario, coating)
    shots = [coat_photo(api, job) for _ in range(3)]
    assert [s["piece"] for s in shots] == [1, 2, 3]
    row = Job.objects.get(pk=job["id"])
    films = [fresh_piece(row, row.machine.to_core(), row.piece().face, s["piece"]).film for s in shots]
    assert all(0.55 < s["cv"] / f.true_cv() < 1.3 for s, f in zip(shots, films, strict=True))
    # A thicker film lets less light through.
    seen, true = [s["reading"]["mean_signal"] for s in shots], [float(f.film_um.mean()) for f in films]
    assert seen[1] / seen[0] == pytest.approx(true[1] / true[0], rel=0.4)
    assert seen[2] / seen[0] == pytest.approx(true[2] / true[0], rel=0.4)
    assert row.coat_cv >= max(0.9 * min(s["cv"] for s in shots), 0.04)
    assert "by 3 measured coats and your guess" in api.get(f"/jobs/{job['id']}/window")["fit"]["scatter_words"]
    assert api.get(f"/jobs/{job['id']}/coat/proof")["practice_piece"] == 4


def test_coats_of_practice_pieces_that_are_spent_or_opaque_tell_nothing(api):
    job, grid = practised(api, "marker")
    burned(api, grid)
    shot = coat_photo(api, job)
    assert (shot["piece"], shot["cv"]) == (2, None)
    words = api.get(f"/jobs/{job['id']}/window")["fit"]["scatter_words"]
    assert "is a guess: count a run of 8 pieces, as no photo tells" in words
    for number in range(3, job["pieces"] + job["spares"] + 1):
        CoatPhoto.objects.create(job_id=job["id"], at=timezone.now(), piece=number, original=b"", simulated=True)
    assert api.get(f"/jobs/{job['id']}/coat/proof")["practice_piece"] is None
    assert "burned or photographed" in coat_photo(api, job, 409)["hint"]


def test_what_a_practice_refuses(api):
    assert "Known" in api.post("/practice", {"scenario": "submarine"}, expect=422)["hint"]
    job = api.post("/practice", {"scenario": "cloche", "hidden": True}, expect=201)
    assert "Known" in api.post(f"/jobs/{job['id']}/practice/coat", {"coating": "honey"}, expect=422)["hint"]
    assert "Coat the pieces" in coat_photo(api, job, 409)["hint"]
    grid = api.post(f"/jobs/{job['id']}/grids", {"interval_mm": 0.1}, expect=201)
    assert "not on" in api.post(f"/grids/{grid['id']}/burns", {}, expect=409)["detail"]
    api.post(f"/jobs/{job['id']}/practice/coat", {"coating": "thick"})
    assert "already" in api.post(f"/jobs/{job['id']}/practice/coat", {"coating": "even"}, expect=409)["detail"]
    assert "not burned" in api.post(f"/grids/{grid['id']}/practice/photo", {}, expect=409)["detail"]
    assert "pace" in api.post(f"/grids/{grid['id']}/burns", {"pace": 0}, expect=422)["detail"]
    assert "No setting" in api.post(f"/jobs/{job['id']}/practice/batch", {}, expect=409)["detail"]
    burn = api.post(f"/grids/{grid['id']}/burns", {}, expect=201)
    assert "Known" in api.post(f"/burns/{burn['id']}/faster", {}, expect=422)["hint"]


@pytest.mark.django_db(transaction=True)
def test_members_who_practise_for_the_first_time_at_once_share_a_bench():
    from tests.apps.conftest import Api

    api = Api("mossery")

    def practise(_):
        one = Api.__new__(Api)
        one.client, one.shop = OurClient(), api.shop
        one.client.force_login(api.shop.members.first().user)
        try:
            made = one.post("/practice", {"scenario": "vial"}, expect=201)
            return Job.objects.get(pk=made["id"]).machine_id
        finally:
            connection.close()

    with ThreadPoolExecutor(4) as pool:
        machines = set(pool.map(practise, range(4)))
    assert len(machines) == 1
    assert TurningDevice.objects.filter(machine_id=machines.pop()).count() == 2


def in_thread(burn_id):
    def work():
        try:
            run_burn(burn_id)
        finally:
            connection.close()

    thread = threading.Thread(target=work)
    thread.start()
    return thread


@pytest.mark.django_db(transaction=True)
def test_a_burn_is_held_goes_on_and_stops_leaving_a_clear_partial_record():
    from tests.apps.conftest import Api

    api = Api("mossery")
    job, grid = practised(api)
    burn = api.post(f"/grids/{grid['id']}/burns", {"pace": 40}, expect=201)
    thread = in_thread(burn["id"])

    def until(what, seconds=20):
        end = time.monotonic() + seconds
        while not what(now := api.get(f"/burns/{burn['id']}")):
            assert time.monotonic() < end, now
            time.sleep(0.05)
        return now

    until(lambda b: b["state"] == "running" and b["now_at"].startswith("cell"))
    api.post(f"/burns/{burn['id']}/pause")
    held = until(lambda b: b["state"] == "held")
    time.sleep(0.5)
    assert api.get(f"/burns/{burn['id']}")["lines_done"] <= held["lines_done"] + 130
    api.post(f"/burns/{burn['id']}/resume")
    until(lambda b: b["state"] == "running" and b["lines_done"] > held["lines_done"] + 200)
    asked = time.monotonic()
    api.post(f"/burns/{burn['id']}/stop")
    ended = until(lambda b: b["state"] == "stopped")
    assert time.monotonic() - asked < 2
    thread.join(timeout=10)
    assert 0 < ended["lines_done"] < ended["lines"]

    (grid,) = api.get(f"/jobs/{job['id']}/grids")
    assert grid["state"] == "burned"
    states = {c["code"]: c["burned"] for c in grid["cells"]}
    assert {"full", "none"} <= set(states.values())
    assert sum(s == "part" for s in states.values()) <= 1
    lost = next(c for c in grid["cells"] if c["burned"] == "none")
    refused = api.put(f"/grids/{grid['id']}/cells/{lost['code']}", {"rating": "clean", "version": 1}, expect=409)
    assert "not burned" in refused["detail"]
    read = read_photo(api, grid)
    assert {c["code"] for c in read["cells"]} == {code for code, state in states.items() if state == "full"}
    for cell in grid["cells"]:
        if cell["burned"] == "full":
            grid = api.put(f"/grids/{grid['id']}/cells/{cell['code']}", {"rating": "clean", "version": 1})
    assert grid["state"] == "rated"
    assert "nothing left" in api.post(f"/burns/{burn['id']}/stop", {}, expect=409)["hint"]


def test_a_worker_that_dies_is_told_and_a_refused_line_too(api, monkeypatch):
    _, grid = practised(api)
    burn = api.post(f"/grids/{grid['id']}/burns", {}, expect=201)
    asked = []
    with connection.cursor() as cursor:
        cursor.execute("update procrastinate_jobs set status = 'doing'")
    assert mend_burns(timezone.now() + timedelta(seconds=20), lambda burn_id: asked.append(burn_id)) == 1
    assert asked == [burn["id"]]
    GridBurn.objects.filter(pk=burn["id"]).update(state="running", beat_at=timezone.now())
    assert mend_burns(timezone.now(), lambda burn_id: None) == 0
    assert mend_burns(timezone.now() + timedelta(seconds=8), lambda burn_id: None) == 1
    gone = api.get(f"/burns/{burn['id']}")
    assert gone["state"] == "failed"
    assert "gone" in gone["trouble"]
    run_burn(burn["id"])
    assert api.get(f"/burns/{burn['id']}")["state"] == "failed"

    bad = BurnProgram(("G21", "G90", "M4 S0", "G5 X1 Y1", "M5"), (), (), Bed(300, 200, 0, 0, 500, 3000))
    monkeypatch.setattr("keencoat.jobs.grid.services.driving.program_of", lambda burn: bad)
    refused = burned(api, grid)
    assert refused["state"] == "failed"
    assert "Line 4 was refused: 20 unknown word G5" in refused["trouble"]
    assert api.get(f"/jobs/{grid['job_id']}/grids")[0]["state"] == "drawn"
    monkeypatch.undo()
    assert burned(api, grid)["state"] == "done"


def test_a_burn_whose_worker_is_gone_is_carried_on_with_the_cells_that_were_not_begun(api):
    """What was marked before is told and kept; in the end the piece has had what an unbroken burn does to it."""
    _, whole = practised(api)
    burned(api, whole)
    job, grid = practised(api)
    burn = api.post(f"/grids/{grid['id']}/burns", {"pace": FAST}, expect=201)
    lines = program_of(GridBurn.objects.get(pk=burn["id"])).lines
    starts = [n for n, line in enumerate(lines) if line.startswith("(cell ")]
    broken = starts[3] + 5
    GridBurn.objects.filter(pk=burn["id"]).update(
        state="running", beat_at=timezone.now(), lines_done=broken, now_at="cell B2", clock_s=60
    )
    mend_burns(timezone.now() + timedelta(seconds=8), lambda burn_id: None)
    (grid,) = api.get(f"/jobs/{job['id']}/grids")
    assert f"{broken} of {len(lines)} lines" in grid["burn"]["trouble"]
    counts = Counter(c["burned"] for c in grid["cells"])
    assert counts == {"full": 3, "part": 1, "none": len(starts) - 4}

    on = api.post(f"/grids/{grid['id']}/burns", {"pace": FAST}, expect=201)
    assert "burning already" in api.post(f"/grids/{grid['id']}/burns", {}, expect=409)["detail"]
    assert "burning still" in api.post(f"/grids/{grid['id']}/practice/photo", {}, expect=409)["detail"]
    run_burn(on["id"])
    (grid,) = api.get(f"/jobs/{job['id']}/grids")
    assert Counter(c["burned"] for c in grid["cells"]) == {"full": len(starts) - 1, "part": 1}
    assert api.get(f"/jobs/{job['id']}")["practice"]["pieces"] == 1
    assert "burned already" in api.post(f"/grids/{grid['id']}/burns", {}, expect=409)["detail"]
    pieces = [unpack(bytes(GridBurn.objects.filter(grid=g["id"]).last().moves)) for g in (whole, grid)]
    times = [b.start_s for b in pieces[1]]
    assert times == sorted(times)
    marked, straight = (sum(b.move.power * b.seconds for b in piece) for piece in (pieces[1], pieces[0]))
    assert 0.85 * straight < marked < straight
    read = read_photo(api, grid)
    assert len(read["cells"]) == len(starts) - 1

    GridBurn.objects.filter(pk=on["id"]).update(state="stopped")
    Cell.objects.filter(grid=grid["id"], code=grid["cells"][0]["code"]).update(burned="none")
    assert "washed" in api.post(f"/grids/{grid['id']}/burns", {}, expect=409)["detail"]


def test_the_next_spare_is_the_first_that_is_not_burned_whatever_failed(api):
    job, grid = practised(api, kind="blind", cell_mm=6, gap_mm=3)
    assert len(grid["sheets"]) > 1
    assert grid["next_spare"] == 1
    burned(api, grid)
    failed = api.post(f"/grids/{grid['id']}/burns", {"pace": FAST}, expect=201)
    GridBurn.objects.filter(pk=failed["id"]).update(state="failed", ended_at=timezone.now())
    (grid,) = api.get(f"/jobs/{job['id']}/grids")
    assert grid["next_spare"] == 2
    for _ in grid["sheets"][1:]:
        assert burned(api, grid)["state"] == "done"
    (grid,) = api.get(f"/jobs/{job['id']}/grids")
    assert (grid["state"], grid["next_spare"]) == ("burned", None)
