"""From the first cells to confirm, lock, carry-over and drift through the API; the open door; a machine's own spot."""

import json
import math
import re
from dataclasses import asdict
from decimal import Decimal

import pytest
from django.test import Client

from keencoat.jobs.models import LockedSetting
from keencoat.shop.rates import GUESSED
from tests.apps.conftest import BLUE, wedge

WIDTHS = [(2, 17.59), (3, 48.34), (4, 61.44), (5, 69.94), (7, 81.08), (10, 91.41)]
MACHINE = {
    "source": "blue", "rated_w": 20, "spot_mm": 0.09, "max_speed_mm_s": 300, "min_speed_mm_s": 4, "min_power_pct": 2,
}  # fmt: skip
QUESTION = {"machine": MACHINE, "interval_mm": 0.1, "passes": 1, "budget": {"cells_left": 20, "rounds_left": 5}}


def rounds(api, job, judge=wedge, most=5):
    """Burn and rate the next cells until the setting is sure; return the window."""
    for _ in range(most):
        window = api.get(f"/jobs/{job['id']}/window")
        if window["recommendation"]["verdict"] == "sure":
            return window
        api.rate(api.burned_grid(job, kind="next"), judge)
    return api.get(f"/jobs/{job['id']}/window")


def setting_of(point):
    return {k: point[k] for k in ("power_pct", "speed_mm_s", "interval_mm", "passes")}


def lock(api, job, window):
    return api.lock(job, window["recommendation"]["point"])


def test_few_pieces_a_full_patch_and_a_run_raise_the_evidence(api):
    job = api.coated_job(spares=9)
    assert api.get(f"/jobs/{job['id']}/window")["evidence"] == "guess"
    window = rounds(api, job)
    best = window["recommendation"]
    assert best["verdict"] == "sure"
    assert len(api.get(f"/jobs/{job['id']}/grids")) <= 3
    assert window["evidence"] == "grid"
    assert best["held"] >= 0.85
    assert {o["school"] for o in best["others"]} == {"fastest_cell", "forgiving", "cooler_passes"}

    # A clean patch may show that there is room to go faster: that setting is confirmed by one of its own.
    for _ in range(3):
        patch = api.burned_grid(job, kind="confirm", at=setting_of(window["recommendation"]["point"]))
        assert len(patch["cells"]) == 1
        assert patch["cell_mm"] > 15
        api.rate(patch, lambda cell: "clean")
        window = api.get(f"/jobs/{job['id']}/window")
        if window["evidence"] == "confirmed":
            break
    assert window["evidence"] == "confirmed"
    assert window["recommendation"]["point"]["speed_mm_s"] >= best["point"]["speed_mm_s"]
    lock(api, job, window)

    api.post(f"/jobs/{job['id']}/runs", {"clean": 0, "lock_version": 1}, expect=422)
    runs = api.post(f"/jobs/{job['id']}/runs", {"clean": 12, "lock_version": 1, "note": "all well"}, expect=201)
    assert (runs[0]["clean"], runs[0]["lock_version"], runs[0]["lot"] != "") == (12, 1, True)
    window = api.get(f"/jobs/{job['id']}/window")
    assert (window["evidence"], window["proven"]) == ("proven", 12)
    assert window["drift"]["findings"] == []
    before = window["recommendation"]["point"]["speed_mm_s"]
    api.post(f"/jobs/{job['id']}/runs", {"clean": 2, "faint": 10, "lock_version": 1}, expect=201)
    window = api.get(f"/jobs/{job['id']}/window")
    assert window["drift"]["findings"][0]["code"] == "drift-machine"
    assert window["drift"]["energy_pct"]["low"] > 0
    assert window["recommendation"]["point"]["speed_mm_s"] < before
    assert any(e["kind"] == "run" for e in api.get("/logbook")["entries"])


def test_a_power_that_harms_at_any_speed_is_told(api):
    """Clean where the usual glass would be at four times the energy, but harsh from 50 % power on."""
    job = api.coated_job(spares=9)
    assert api.get(f"/jobs/{job['id']}/window")["peak_words"] == ""
    powers, speeds = {"first": 20, "last": 90, "steps": 6}, {"first": 40, "last": 240, "steps": 5}
    grid = api.burned_grid(job, kind="blind", powers=powers, speeds=speeds)
    eager = [cell | {"energy_j_mm2": 4 * cell["energy_j_mm2"]} for cell in grid["cells"]]
    api.rate(grid | {"cells": eager}, lambda cell: "harsh" if cell["power_pct"] > 50 else wedge(cell))
    told = api.get(f"/jobs/{job['id']}/window")["peak_words"]
    low, high = (int(n) for n in re.search(r"\((\d+) to (\d+) %\)", told).groups())
    assert low < 50 < high


def test_a_lock_that_an_older_model_read_says_so_and_offers_a_new_fit(api):
    job = api.coated_job(spares=9)
    assert lock(api, job, rounds(api, job))["older"] is None
    kept = LockedSetting.objects.get(job_id=job["id"])
    fits = {"fills": kept.evidence["fits"]["fills"] | {"model_version": "two-boundary-1"}}
    readings = {"fills": kept.evidence["readings"]["fills"] | {"clean": {"low": 0.5, "mid": 0.6, "high": 0.7}}}
    kept.pk, kept.version = None, 2
    kept.evidence = kept.evidence | {"fits": fits, "readings": readings}
    kept.save(force_insert=True)

    window = api.get(f"/jobs/{job['id']}/window?interval_mm={kept.setting().interval_mm}")
    older = window["older"]
    assert (older["version"], older["model_version"], older["clean_then"]["mid"]) == (2, "two-boundary-1", 0.6)
    assert setting_of(older["setting"]) == asdict(kept.setting())
    now = api.post(f"/jobs/{job['id']}/window/point", setting_of(older["setting"]))
    assert older["clean_now"] == now["clean"]
    assert api.lock(job, older["setting"])["older"] is None


def test_a_full_patch_needs_a_setting_this_machine_has(api):
    job = api.coated_job()
    path = f"/jobs/{job['id']}/grids/draft"
    assert api.post(path, {"kind": "confirm", "interval_mm": 0.1, "passes": 1}, expect=422)["field"] == "at"
    fast = {"power_pct": 50, "speed_mm_s": 19_000, "interval_mm": 0.1, "passes": 1}
    assert "goes up to" in api.post(path, {"kind": "confirm", "interval_mm": 0.1, "at": fast}, expect=422)["hint"]
    assert api.post(path, {"kind": "next", "cells": 40, "interval_mm": 0.1}, expect=422)["field"] == "cells"


def test_a_window_is_carried_to_another_machine_and_found_by_nearness(api):
    job = api.coated_job(spares=9)
    wish = {"machine_id": job["machine_id"], "interval_mm": 0.1, "passes": 1}
    assert "no window" in api.post(f"/jobs/{job['id']}/window/carry", wish, expect=409)["detail"]
    lock(api, job, rounds(api, job))
    twin = api.post("/machines", BLUE | {"name": "Twin, half a watt more", "rated_w": 12.5}, expect=201)
    tube = api.post("/machines", BLUE | {"name": "A tube", "source": "co2"}, expect=201)
    refused = api.post(f"/jobs/{job['id']}/window/carry", wish | {"machine_id": tube["id"]}, expect=409)
    assert "wavelength" in refused["detail"]
    here = api.post(f"/jobs/{job['id']}/window/carry", wish)
    there = api.post(f"/jobs/{job['id']}/window/carry", wish | {"machine_id": twin["id"]})
    doubt = [
        p["point"]["margin_to_faint_pct"]["high"] - p["point"]["margin_to_faint_pct"]["low"] for p in (here, there)
    ]
    assert doubt[0] < doubt[1]
    assert there["point"]["clean"]["mid"] > max(there["point"]["faint"], there["point"]["harsh"])
    assert len(there["cells"]) == 4
    thick = api.post(f"/jobs/{job['id']}/window/carry", wish | {"film_share": 1.5})
    assert thick["point"]["energy_j_mm2"] > here["point"]["energy_j_mm2"]

    made = api.post(f"/jobs/{job['id']}/window/carry/job", wish | {"machine_id": twin["id"]}, expect=201)
    window = api.get(f"/jobs/{made['id']}/window")
    assert job["id"] in [x["job_id"] for x in window["sources"]]
    assert window["like"][0]["job_id"] == job["id"]
    assert "Twin" not in window["like"][0]["words"]
    assert window["recommendation"]["point"]["clean"]["mid"] > 0.5
    assert not window["can_lock"]


def _lock_for_both(api, job):
    """One lock holds a setting for filled art and one for fine strokes, each read in its own window."""
    fine = {"power_pct": 80, "speed_mm_s": 40, "interval_mm": 0.1, "passes": 1}
    full = fine | {"power_pct": 50}
    early = api.lock(job, fine, expect=409, art="strokes")
    assert (early["field"], early["hint"]) == ("art", "Lock the setting for filled art first.")
    api.lock(job, full)
    both = api.lock(job, fine, art="strokes")
    assert both["art"] == "strokes"
    assert [x["strokes"] and x["strokes"]["power_pct"] for x in both["locked"]] == [80, None]
    assert both["locked"][0]["power_pct"] == 50
    lock = LockedSetting.objects.get(job_id=job["id"], version=2)
    points = {
        art: api.post(f"/jobs/{job['id']}/window/point?art={art}", asked)
        for art, asked in (("fills", full), ("strokes", fine))
    }
    for art, point in points.items():
        assert lock.reading(art)["clean"]["mid"] == pytest.approx(point["clean"]["mid"], abs=1e-9)
    elsewhere = api.post(f"/jobs/{job['id']}/window/point", fine)
    assert elsewhere["clean"]["mid"] != points["strokes"]["clean"]["mid"]
    titles = [s["title"] for s in api.get(f"/jobs/{job['id']}/run-sheet")["sections"]]
    assert titles[:2] == ["Setting", "Setting for fine strokes"]
    # A new setting for filled art keeps that for strokes.
    again = api.lock(job, full | {"power_pct": 55})
    assert (again["locked"][0]["power_pct"], again["locked"][0]["strokes"]["power_pct"]) == (55, 80)


def test_fills_and_strokes_have_windows_of_their_own(api):
    job = api.coated_job()
    grid = api.burned_grid(job)
    for cell in grid["cells"]:
        body = {"rating": wedge(cell), "version": cell["version"], "strokes": "clean"}
        grid = api.put(f"/grids/{grid['id']}/cells/{cell['code']}", body)
    fills = api.get(f"/jobs/{job['id']}/window")
    strokes = api.get(f"/jobs/{job['id']}/window?art=strokes")
    assert (fills["art"], strokes["art"], fills["has_strokes"]) == ("fills", "strokes", True)
    assert {r["rating"] for r in strokes["rated"]} == {"clean"} != {r["rating"] for r in fills["rated"]}
    assert strokes["recommendation"]["open_share"] > 0.9
    _lock_for_both(api, job)
    text = api.get(f"/grids/{grid['id']}/files/csv").content.decode()
    assert text.splitlines()[0].endswith("strokes")


def ask(body, expect=200):
    response = Client(enforce_csrf_checks=True).post("/api/plan", json.dumps(body), content_type="application/json")
    assert response.status_code == expect, response.content[:300]
    return response.json()


@pytest.mark.parametrize("coat", [None, {"thickness_cv": 0.12, "thickness_pieces": 8}])
def test_the_open_door_plans_without_a_job_or_a_sign_in(db, coat):
    """A setting in a few pieces, whether pieces were measured or guessed."""
    question = QUESTION | {"process": "frost", "coat": coat}
    history, left = [], 60
    for number in range(1, 6):
        said = ask(question | {"history": history, "budget": {"cells_left": left, "rounds_left": 6 - number}})
        if said["answer"] != "next_cells":
            break
        assert said["setting"] is None is said["none"]
        for cell in said["next_cells"]:
            energy = 20 * cell["power_pct"] / 100 / (cell["speed_mm_s"] * cell["interval_mm"])
            seen = {"energy_j_mm2": energy, "dwell_ms": 90 / cell["speed_mm_s"]}
            history.append(cell | {"round": number, "rating": wedge(seen)})
        left -= len(said["next_cells"])
    assert said["answer"] == "setting"
    assert said["sure"] or coat is None
    assert len({cell["round"] for cell in history}) <= 3
    setting = said["setting"]
    assert sum(setting["chances"].values()) == 1 or abs(sum(setting["chances"].values()) - 1) < 1e-6
    assert setting["expected_yield"]["mid"] >= 0.95
    assert setting["margin_to_faint_pct"]["mid"] > 0
    assert ask(question | {"history": history}) == ask(question | {"history": history})


def test_the_open_door_is_told_the_batch_and_what_photos_measured(db):
    """One round, no budget left: past it only for a batch that is worth it; a photo's figures move the answer."""
    cells = [(30, 40, "faint"), (60, 40, "clean"), (90, 40, "harsh"), (60, 90, "faint"), (90, 20, "harsh")]
    history = [
        {"round": 1, "power_pct": p, "speed_mm_s": v, "interval_mm": 0.1, "passes": 1, "rating": rating}
        for p, v, rating in cells
    ]
    spent = QUESTION | {"process": "frost", "history": history, "budget": {"cells_left": 0, "rounds_left": 0}}
    assert ask(spent)["answer"] == "setting"
    large = ask(spent | {"batch": {"pieces": 500}})
    assert (large["answer"], 6 <= len(large["next_cells"]) <= 12) == ("next_cells", True)
    assert "more than the spare is worth" in large["notes"][-1]
    dear = ask(spent | {"batch": {"pieces": 500, "spare_worth": 500}})
    assert dear["answer"] == "setting"
    # The clean cell is hardly full and does no harm: enough lies just below it.
    history[1] |= {"full_share": 0.82, "harm": 0.35}
    told = ask(spent)
    assert (
        told["setting"]["energy_j_mm2"]
        > ask(spent | {"history": [*history[:1], history[1] | {"full_share": 0.92, "harm": 0.9}, *history[2:]]})[
            "setting"
        ]["energy_j_mm2"]
    )


def test_a_job_is_told_whether_a_further_round_pays(api):
    """Pieces that differ by a quarter in energy, no wide window: not sure after two of them."""
    job = api.coated_job(spares=9, pieces=40)

    def narrow(shift):
        def rule(cell):
            x = math.log(cell["energy_j_mm2"]) - shift - 0.45 * math.log(cell["dwell_ms"])
            return "harsh" if x > 0.8 else "clean" if x > 0.3 else "faint"

        return rule

    for shift in (0.0, 0.25):
        best = api.get(f"/jobs/{job['id']}/window")["recommendation"]
        assert best["next_round"] is None
        grid = api.post(f"/jobs/{job['id']}/grids/draft", {"kind": "next", "interval_mm": 0.1}, expect=200)
        assert grid["ahead"]["pieces"] >= (2 if shift == 0 else 1)
        api.rate(api.burned_grid(job, kind="next"), narrow(shift))
    best = api.get(f"/jobs/{job['id']}/window")["recommendation"]
    worth = best["next_round"]
    assert best["verdict"] == "not_sure"
    assert 6 <= worth["cells"] <= 12
    assert 0 <= worth["saved_pieces"] < 40
    assert worth["pays"] == (worth["saved_pieces"] > 1)
    assert_round_is_priced(api, job, worth)
    version = api.get(f"/jobs/{job['id']}")["version"]
    api.put(f"/jobs/{job['id']}", api.job_body(version=version, spares=9, pieces=40, spare_worth=40))
    assert not api.get(f"/jobs/{job['id']}/window")["recommendation"]["next_round"]["pays"]


def assert_round_is_priced(api, job, worth):
    """In money: a coated blank, a quarter of an hour of hands, the machine's minutes; it saves whole pieces."""
    cost = api.get(f"/jobs/{job['id']}/cost")
    usual, found = {k: Decimal(v) for k, v in cost["usual"].items()}, cost["next_round"]
    minute = (GUESSED.machine_hour + GUESSED.draw_w / 1000 * GUESSED.kwh) / 60
    bare = usual["coat"] + usual["machine_min"] * minute
    assert abs(Decimal(found["costs"]) - bare - GUESSED.hand_hour / 4) <= Decimal("0.01")
    each = bare + usual["hands_min"] * GUESSED.hand_hour / 60
    assert abs(Decimal(found["saves"]) - each * Decimal(str(worth["saved_pieces"]))) <= Decimal("0.01")


def test_the_open_door_says_none_and_what_is_wrong(db):
    cells = [
        {"round": n, "power_pct": p, "speed_mm_s": v, "interval_mm": 0.1, "passes": 1, "rating": "faint"}
        for n, v in enumerate((4, 6, 10, 20))
        for p in (50, 80, 100)
    ]
    said = ask(QUESTION | {"history": cells, "budget": {"cells_left": 0, "rounds_left": 0}})
    assert said["answer"] == "none"
    assert {"interval", "passes"} <= {o["change"] for o in said["none"]["would_open"]}
    spoilt = [
        ({"machine": MACHINE | {"rated_w": -1}}, "rated_w"),
        ({"interval_mm": 0}, "interval_mm"),
        ({"machine": MACHINE | {"source": "candle"}}, "source"),
        ({"history": [cells[0] | {"rating": "fine"}]}, "rating"),
        ({"history": [cells[0] | {"speed_mm_s": 0}]}, "speed_mm_s"),
        ({"budget": {"cells_left": -2}}, "cells_left"),
    ]
    for change, field in spoilt:
        problem = ask(QUESTION | change, expect=422)
        assert field in problem["field"] + problem["detail"], problem


def test_a_line_test_goes_into_the_machines_record_and_the_prior(api):
    job = api.coated_job()
    machine = next(m for m in api.get("/machines") if m["id"] == job["machine_id"])
    path = f"/machines/{machine['id']}"
    before = api.get(f"/jobs/{job['id']}/window")["fit"]["prior_centre_j_mm2"]
    lines = [{"power_pct": p, "width_um": w} for p, w in WIDTHS]
    body = {"speed_mm_s": 100, "process": job["process"], "coat": job["coat"], "lines": lines}
    test = api.post(f"{path}/line-tests", body, expect=201)
    assert abs(test["spot_mm"] - 0.1) < 1e-3
    assert test["findings"] == []
    assert api.get(f"/jobs/{job['id']}/window")["fit"]["prior_centre_j_mm2"] != before
    taken = api.post(f"/spot-tests/{test['id']}/take", {"version": machine["version"]})
    assert taken["spot_mm"] == test["spot_mm"] or abs(taken["spot_mm"] - test["spot_mm"]) < 1e-4
    api.post(f"/spot-tests/{test['id']}/take", {"version": machine["version"]}, expect=409)
    rungs = [{"height_mm": z, "width_um": 90 * (1 + (z / 3) ** 2) ** 0.5} for z in range(-3, 4)]
    ladder = api.post(f"{path}/focus-ladders", {"rungs": rungs}, expect=201)
    assert abs(ladder["height_mm"]["mid"]) < 0.02
    api.post(f"/spot-tests/{ladder['id']}/take", {"version": taken["version"]}, expect=409)
    assert [t["kind"] for t in api.get(f"{path}/spot-tests")] == ["ladder", "lines"]
    refused = api.post(f"{path}/line-tests", body | {"lines": lines[:2]}, expect=422)
    assert refused["field"] == "lines"


def test_stripes_tell_whether_lines_to_and_fro_meet(api):
    machine = api.get("/machines")[0]
    path = f"/machines/{machine['id']}"
    file = api.client.get(f"/api{path}/stripes.gcode?power_pct=40&speed_mm_s=100")
    text = b"".join(file.streaming_content).decode()
    assert text.count("F3000")
    assert text.count("F9000")
    assert api.get(f"{path}/stripes.gcode?power_pct=40&speed_mm_s=1e9", 422)["field"] == "speed_mm_s"
    offsets = [{"speed_mm_s": v, "offset_mm": 0.05 + 0.002 * v} for v in (50, 100, 150)]
    told = api.post(f"{path}/stripe-tests", {"offsets": offsets}, expect=201)
    assert (told["kind"], told["play_mm"]["mid"]) == ("stripes", pytest.approx(0.05))
    assert told["delay_ms"]["mid"] == pytest.approx(1.0)
    assert told["corrections_mm"] == pytest.approx([0.075, 0.125, 0.175])
    assert api.get(f"{path}/spot-tests")[0]["corrections_mm"] == told["corrections_mm"]
    assert api.post(f"{path}/stripe-tests", {"offsets": offsets[:1]}, expect=422)["field"] == "offsets"
    assert (
        "line test" in api.post(f"/spot-tests/{told['id']}/take", {"version": machine["version"]}, expect=409)["detail"]
    )


def test_another_bed_is_no_other_machine_and_other_watts_are(api):
    job = api.coated_job()
    api.rate(api.burned_grid(job), wedge)
    before = api.get(f"/jobs/{job['id']}/window")
    moved = BLUE | {"bed_x_mm": 300, "accel_mm_s2": 3000, "version": 1}
    api.put(f"/machines/{api.machine.pk}", moved)
    after = api.get(f"/jobs/{job['id']}/window")
    assert after["recommendation"]["point"] == before["recommendation"]["point"]
    assert after["map"] == before["map"]
    api.put(f"/machines/{api.machine.pk}", moved | {"rated_w": 13, "version": 2})
    assert api.get(f"/jobs/{job['id']}/window")["map"] != before["map"]


def test_a_window_is_read_from_runs_when_its_ratings_were_taken_back(api):
    job = api.coated_job()
    grid = api.rate(api.burned_grid(job), wedge)
    api.lock(job, api.get(f"/jobs/{job['id']}/window")["recommendation"]["point"])
    api.post(f"/jobs/{job['id']}/runs", {"clean": 2, "faint": 10, "lock_version": 1}, expect=201)
    for cell in grid["cells"]:
        api.put(f"/grids/{grid['id']}/cells/{cell['code']}", {"rating": None, "version": cell["version"]})
    window = api.get(f"/jobs/{job['id']}/window")
    assert window["fit"]["cells"] == 0
    assert "12 pieces of runs" in window["fit"]["message"]
    assert window["recommendation"]["verdict"] != "sure"
