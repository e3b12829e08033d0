"""Every burn as one row of the logbook, found by what it was and by what came of it."""

from datetime import timedelta

import numpy as np
import pytest
from django.utils import timezone
from statsmodels.stats.proportion import proportion_confint

from keencoat.jobs.models import ArtworkBurn, ArtworkVersion, Batch, TestGrid
from tests.apps.conftest import wedge
from tests.apps.test_batch import GOGGLES, begun, burned_off, names_for
from tests.apps.test_placing_chapter import locked
from tests.apps.test_practice import burned, practised, read_photo

SETTING = {"power_pct": 50.0, "speed_mm_s": 40.0, "interval_mm": 0.1, "passes": 2}


def keys_of(found):
    return [burn["key"] for burn in found["burns"]]


@pytest.fixture
def burns(api):
    """A rated grid, a batch with a fault, a run told afterwards on two kinds of piece."""
    api.post("/eyewear", GOGGLES, expect=201)
    job = api.coated_job()
    grid = api.burned_grid(job, cells=16)
    most = max(c["energy_j_mm2"] for c in grid["cells"])
    api.rate(grid, lambda c: "harsh" if c["energy_j_mm2"] == most else wedge(c))
    api.lock(job, api.get(f"/jobs/{job['id']}/window")["recommendation"]["point"])
    batch = begun(api, job)
    burned_off(api, batch, 1, "clean")
    burned_off(api, batch, 2, "faint", defects=["coat_left"], note="pale at the rim")
    burned_off(api, batch, 3, None, spoilt=True, defects=["off_place"])
    run = {"lock_version": 1, "clean": 5, "note": "terrace"}
    api.post(f"/jobs/{job['id']}/runs", run, expect=201)
    return job, batch


def test_a_burn_is_one_row_with_what_came_of_it(api, stranger, burns):
    _, batch = burns
    found = api.get("/logged-burns")
    rows = {burn["kind"]: burn for burn in found["burns"]}
    assert set(rows) == {"grid", "batch", "run"}
    grid = rows["grid"]
    cells = TestGrid.objects.get().cells.all()
    assert [grid[name] for name in ("clean", "faint", "harsh")] == [
        sum(c.rating == rating for c in cells) for rating in ("clean", "faint", "harsh")
    ]
    assert (len(grid["marks"]), grid["columns"], grid["share"], grid["setting"]) == (
        grid["units"],
        TestGrid.objects.get().columns,
        None,
        None,
    )
    clean = [c for c in cells if c.rating == "clean"]
    watts = api.machine.rated_w
    energies = [watts * c.power_pct / 100 / (c.speed_mm_s * c.interval_mm) for c in clean]
    assert grid["came_clean"]["energy_j_mm2"]["low"] == pytest.approx(min(energies))
    assert grid["came_clean"]["energy_j_mm2"]["high"] == pytest.approx(max(energies))
    assert grid["burned"]["speed_mm_s"]["low"] <= grid["came_clean"]["speed_mm_s"]["low"]
    told = rows["batch"]
    assert (told["units"], told["clean"], told["faint"], told["spoilt"]) == (3, 1, 1, 1)
    assert told["marks"] == ["clean", "faint", "spoilt"]
    expected = proportion_confint(1, 3, alpha=0.1, method="wilson")
    assert (told["share"]["low"], told["share"]["high"]) == pytest.approx(expected)
    assert {d["key"]: d["times"] for d in told["defects"]} == {"coat_left": 1, "off_place": 1}
    assert told["setting"]["passes"] == batch["setting"]["passes"]
    assert rows["run"]["marks"] == ["clean"] * 5
    wrong = {w["key"]: (w["times"], w["burns"]) for w in found["went_wrong"]}
    assert wrong["off_place"] == (1, 1)
    assert found["total"] == 3
    assert stranger.get("/logged-burns")["total"] == 0


def test_what_is_looked_for_combines(api, burns):
    def kinds(query):
        return {b["kind"] for b in api.get(f"/logged-burns?{query}")["burns"]}

    assert kinds("outcome=all_clean") == {"run"}
    assert kinds("outcome=failed") == {"grid", "batch"}
    assert kinds("outcome=spoilt") == kinds("defect=off_place") == {"batch"}
    assert kinds("outcome=harsh") == {"grid"}
    assert kinds("outcome=faint&kind=batch") == {"batch"}
    assert kinds("outcome=unseen") == set()
    assert kinds("words=terrace") == {"run"}
    assert kinds("words=rim+float") == {"batch"}
    assert kinds("words=acrylic") == set()
    assert kinds("coat=tempera_brushed&substrate=soda_lime_glass&process=frost&machine=Blue+twelve&kind=grid") == {
        "grid"
    }
    for other in ("coat=chalk", "substrate=clear_acrylic", "process=fuse", "machine=Tube"):
        assert kinds(other) == set()
    today = timezone.localdate()
    assert len(kinds(f"since={today}&until={today}")) == 3
    assert kinds(f"since={today + timedelta(days=1)}") == kinds(f"until={today - timedelta(days=1)}") == set()
    assert api.get("/logged-burns?order=cleanest")["burns"][0]["kind"] == "run"
    worst = [
        b["clean"] / (b["clean"] + b["faint"] + b["harsh"] + b["spoilt"])
        for b in api.get("/logged-burns?order=worst")["burns"]
    ]
    assert worst == sorted(worst)
    assert [b["units"] for b in api.get("/logged-burns?order=largest")["burns"]] == sorted(
        (b["units"] for b in api.get("/logged-burns")["burns"]), reverse=True
    )
    assert keys_of(api.get("/logged-burns?order=oldest")) == keys_of(api.get("/logged-burns"))[::-1]
    for query, field in (
        ("since=x", "since"),
        ("outcome=good", "outcome"),
        ("order=", "order"),
        ("page=0", "page"),
        ("since=2026-02-02&until=2026-02-01", "until"),
        ("words=%00", "words"),
    ):
        assert api.get(f"/logged-burns?{query}", expect=422)["field"] == field


def test_pages_hold_every_burn_once(api):
    job = api.coated_job()
    grid = api.burned_grid(job)
    api.rate(grid, wedge)
    first = TestGrid.objects.get()
    for number in range(2, 32):
        first.pk, first.number, first._state.adding = None, number, True
        first.save()
    pages = [api.get(f"/logged-burns?page={page}") for page in (1, 2, 9)]
    assert [p["page"] for p in pages] == [1, 2, 2]
    assert (pages[0]["total"], pages[0]["pages"]) == (31, 2)
    assert len(set(keys_of(pages[0]) + keys_of(pages[1]))) == 31
    # Those of which no cell was burned to its end are rows too.
    assert sorted(b["units"] for b in pages[0]["burns"] + pages[1]["burns"]) == [0] * 30 + [len(grid["cells"])]


def test_single_pieces_of_artwork_are_burns_too_unless_a_batch_has_them(api, burns):
    job, _ = burns
    art = names_for(api, job, "Moss")
    made = ArtworkVersion.objects.create(
        job_id=job["id"], artwork_id=art["id"], version=1, lock_version=1, at=timezone.now(), spec={}, setting=SETTING
    )
    burn = ArtworkBurn.objects.create(made=made, state="done", pace=1, asked_at=timezone.now())
    ArtworkBurn.objects.create(made=made, state="failed", pace=1, asked_at=timezone.now())
    found = api.get("/logged-burns?kind=artwork&outcome=unseen")
    assert [(b["label"], b["setting"]["passes"], b["marks"]) for b in found["burns"]] == [("Labels", 2, [""])]
    piece = Batch.objects.get().pieces.last()
    piece.burn = burn
    piece.save()
    assert api.get("/logged-burns?kind=artwork")["total"] == 0


def test_a_photographed_burn_has_its_picture(api, stranger):
    _, grid = practised(api)
    burned(api, grid)
    # The practice bench is a workshop of its own: its burns stand in its own logbook.
    assert api.get("/logged-burns")["total"] == 0
    row = TestGrid.objects.get(pk=grid["id"])
    row.job.workshop = api.shop
    row.job.save()
    (burn,) = api.get("/logged-burns")["burns"]
    path = f"/logged-burns/grid/{grid['id']}/picture"
    assert not burn["has_picture"]
    assert "no photo" in api.get(path, expect=404)["detail"]
    read_photo(api, grid)
    (burn,) = api.get("/logged-burns")["burns"]
    assert burn["has_picture"]
    data = api.client.get(f"/api{path}").content
    assert data[:3] == b"\xff\xd8\xff"
    assert len(data) < 20_000
    stranger.get(path, expect=404)
    assert api.get("/logged-burns/pot/1/picture", expect=422)["field"] == "of"


def test_burns_side_by_side_say_what_differed_and_which_came_out_cleaner(api, stranger, burns):
    other, point = locked(api, coats=3)
    run = {"lock_version": 1, "clean": 18, "faint": 2}
    api.post(f"/jobs/{other['id']}/runs", run, expect=201)
    keys = [b["key"] for b in api.get("/logged-burns?kind=run")["burns"]] + [
        b["key"] for b in api.get("/logged-burns?kind=batch")["burns"]
    ]
    found = api.get(f"/logged-burns/side-by-side?burns={','.join(keys)}")
    assert [b["key"] for b in found["burns"]] == keys
    facts = {f["name"]: f for f in found["facts"]}
    assert (facts["coats"]["values"], facts["coats"]["differs"]) == ([3, 2, 2], True)
    assert not facts["substrate"]["differs"]
    assert facts["energy"]["values"][0] == pytest.approx(point["energy_j_mm2"], abs=1e-3)
    assert facts["dwell"]["values"][0] == pytest.approx(1000 * 0.1 / point["speed_mm_s"], abs=1e-3)
    # By chance drawn from the same posteriors: Beta(1 + clean, 1 + not).
    rng = np.random.default_rng(1)
    draws = np.array([rng.beta(1 + c, 1 + n - c, 100_000) for c, n in ((18, 20), (5, 5), (1, 3))])
    assert found["best"] == pytest.approx(np.bincount(draws.argmax(axis=0), minlength=3) / 100_000, abs=0.01)
    # The edges are those of the job's own map, in J/mm² instead of per cent.
    window = api.get(f"/jobs/{other['id']}/window")["map"]
    edges = found["windows"][0]
    for side in ("enough", "too_much"):
        for v, pct, dwell, energy in zip(
            window["speeds_mm_s"], window[side]["mid_pct"], edges["dwell_ms"], edges[f"{side}_j_mm2"], strict=True
        ):
            assert dwell == pytest.approx(100 / v)
            assert energy["mid"] == pytest.approx(12 * pct / 100 / (v * 0.1))
            assert energy["low"] <= energy["mid"] <= energy["high"]
    grid = next(b["key"] for b in api.get("/logged-burns?kind=grid")["burns"])
    mixed = api.get(f"/logged-burns/side-by-side?burns={grid},{keys[0]}")
    assert mixed["best"] == [None, None]
    assert {f["name"]: f["values"] for f in mixed["facts"]}["speed"][0] == "several"
    for wrong, words in ((keys[0], "1 burns"), ("", "0 burns"), (",".join([keys[0]] * 3), "1 burns")):
        refused = api.get(f"/logged-burns/side-by-side?burns={wrong}", expect=422)
        assert (refused["field"], words in refused["detail"]) == ("burns", True)
    api.get(f"/logged-burns/side-by-side?burns={keys[0]},grid-999999", expect=404)
    stranger.get(f"/logged-burns/side-by-side?burns={','.join(keys)}", expect=404)
