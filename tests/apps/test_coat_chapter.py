"""The Coat chapter through the API, on a real PostgreSQL: choose, mix, apply, dry, prove, compare."""

import io
from datetime import UTC, datetime, timedelta
from decimal import Decimal

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image
from pypdf import PdfReader

from keencoat.bench.coatshots import Lamp, ShotSetup, shoot_coat, shoot_empty
from keencoat.bench.filmfield import CoatFault
from keencoat.core.window import Scatter
from tests.apps.conftest import wedge


@pytest.fixture(scope="module")
def shots():
    """Simulated photos of the cloche job's coated area, 94 × 74 mm, and one of nothing."""
    setup = ShotSetup(Lamp.BEHIND, 94, 74, photo_px=(1200, 900), mean_film_um=34)
    faults = (CoatFault.NONE, CoatFault.POOLED, CoatFault.THIN)
    return {f: shoot_coat(f, setup, 500 + n) for n, f in enumerate(faults)} | {"empty": shoot_empty(setup, 7)}


def send(api, job, photo, expect=201, **parts):
    files = {"photo": SimpleUploadedFile("shot.jpg", photo, content_type="image/jpeg")} | {
        name: SimpleUploadedFile("x.jpg", part) if isinstance(part, bytes) else part for name, part in parts.items()
    }
    response = api.client.post(f"/api/jobs/{job['id']}/coat/photos", files)
    assert response.status_code == expect, response.content[:500]
    return response.json()


def test_choose_take_and_go_back(api):
    job = api.job()
    offers = api.get(f"/jobs/{job['id']}/coat/offers")
    by_key = {o["coat"]: o for o in offers["offers"]}
    assert by_key["tempera_brushed"]["hands_min"] > 0
    assert by_key["tempera_brushed"]["log"]["cells"] == 0
    assert any("450 nm" in r["reason"] for r in offers["rejections"])
    school = next(s for q in offers["disagreements"] if q["key"] == "thickness" for s in q["schools"])
    taken = api.post(
        f"/jobs/{job['id']}/coat/choice",
        {"version": job["version"], "coat": school["coat"], "tool": school["tool"], "coats": school["coats"]},
    )
    assert (taken["coats"], taken["tool"], taken["version"]) == (school["coats"], school["tool"], 2)
    stale = {"version": 1, "coat": "matt_black_spray", "coats": 2}
    assert api.post(f"/jobs/{job['id']}/coat/choice", stale, expect=409)["field"] == "version"
    for choice, field in (
        ({"coat": "tempera_brushed", "tool": "foam_roller"}, "tool"),
        ({"coat": "layout_dye_blue"}, "coat"),
        ({"coat": "nothing"}, "coat"),
        ({"coat": "tempera_brushed", "film_um": -4}, "film_um"),
        ({"coat": "tempera_brushed", "coats": 0}, "coats"),
        ({"coat": "tempera_brushed", "last_wait_min": -1}, "last_wait_min"),
    ):
        body = {"version": 2, "coats": 2} | choice
        assert api.post(f"/jobs/{job['id']}/coat/choice", body, expect=422)["field"] == field
    api.rate(api.burned_grid(api.coated_job()), wedge)
    log = {o["coat"]: o["log"] for o in api.get(f"/jobs/{job['id']}/coat/offers")["offers"]}["tempera_brushed"]
    assert (log["pieces"], log["cells"]) == (1, 12)
    assert 0 < log["clean"] < 12


def test_mix_a_lot_and_print_its_label(api):
    job = api.job(process="fuse", substrate="white_glazed_tile", coat="tio2_glue")
    plan = api.get(f"/jobs/{job['id']}/coat?jar_ml=20")
    assert plan["mix"]["jars"] == pytest.approx(plan["mix"]["total_ml"] / 20)
    assert [p["parts"] for p in plan["mix"]["parts"]] == [1, 1, 3]
    # By mass, spooned powder counts for less: 0.85 g/ml against 1.05 and 0.998.
    assert [p["mass_parts"] for p in plan["mix"]["parts"]] == pytest.approx([1, 1.05 / 0.85, 3 * 0.998 / 0.85])
    whole = plan["mix"]["pieces_per_pack"]
    half = api.get(f"/jobs/{job['id']}/coat?left_ml=250")["mix"]
    assert (half["pack_of"], half["pieces_left"]) == ("washable PVA glue", pytest.approx(whole / 2, abs=1))
    assert api.get(f"/jobs/{job['id']}/coat?left_ml=-3", expect=422)["field"] == "left_ml"
    assert api.get(f"/jobs/{job['id']}/coat?jar_ml=-1", expect=422)["field"] == "jar_ml"
    lot = api.post(f"/jobs/{job['id']}/coat/lots", {"note": "sieved twice"})["lots"][0]
    assert sum(lot["amounts_g"].values()) == pytest.approx(plan["mix"]["total_g"], rel=0.01)
    label = api.get(f"/jobs/{job['id']}/coat/lots/{lot['id']}/label.pdf")
    words = PdfReader(io.BytesIO(label.content)).pages[0].extract_text()
    assert f"Lot {lot['code']}" in words
    assert "sieved twice" in words
    assert "mask" in words
    before = Decimal(plan["mix"]["cost"])
    api.put("/shelf/prices", {"ingredient": "tio2", "pack_ml": 600, "amount": 90, "version": 0})
    assert Decimal(api.get(f"/jobs/{job['id']}/coat")["mix"]["cost"]) > before
    tenths = {"ingredient": "tio2", "pack_ml": 600, "amount": 9.999, "version": 1}
    refused = api.put("/shelf/prices", tenths, expect=422)
    assert (refused["field"], refused["detail"]) == ("amount", "Amount has more than 2 decimal places.")
    assert {"14.00"} < {price["amount"] for price in api.get("/shelf")["prices"]}
    bad = {"ingredient": "tio2", "pack_ml": 0, "amount": 9, "version": 1}
    assert api.put("/shelf/prices", bad, expect=422)["field"] == "pack_ml"


def test_batches_dry_by_the_room_and_by_what_was_seen(api):
    now = datetime.now(UTC)
    job = api.job(pieces=10, spares=2)
    base = f"/jobs/{job['id']}/coat"

    def ago(minutes):
        return (now - timedelta(minutes=minutes)).isoformat()

    api.post(f"{base}/stamps", {"number": 1, "first": 1, "last": 8, "at": ago(30)})
    plan = api.post(f"{base}/stamps", {"number": 1, "first": 9, "last": 12, "at": ago(5)})
    assert [(g["first"], g["last"], g["ready"]) for g in plan["drying"]["groups"]] == [(1, 8, True), (9, 12, False)]
    assert (plan["drying"]["first"], plan["drying"]["last"]) == (1, 8)
    assert plan["turns"][0]["number"] == 2
    assert {(t["first"], t["last"]) for t in plan["turns"]} == {(1, 8), (9, 12)}
    assert api.post(f"{base}/stamps", {"number": 2, "first": 1, "last": 99}, expect=422)["field"] == "last"
    api.post(f"{base}/stamps", {"number": 2, "first": 7, "last": 10, "at": ago(8)}, expect=422)
    # Damp air, read now, makes what still dries take longer.
    usual = plan["drying"]["groups"][1]["next_at"]
    room = api.post("/room/readings", {"temperature_c": 18, "humidity_pct": 82})
    assert "damp" in {f["code"] for f in room["findings"]}
    damp = api.get(base)
    assert damp["drying"]["groups"][1]["next_at"] > usual
    assert damp["drying_factor"] > 2
    assert api.post("/room/readings", {"temperature_c": 20, "humidity_pct": 110}, expect=422)["field"] == "humidity_pct"
    # The maker looks: dry earlier than the clock said; the next time starts from there.
    stamp = damp["steps"][0]["stamps"][1]
    seen = api.post(f"{base}/stamps/{stamp['id']}/looks", {"dry": True})
    assert seen["drying"]["groups"][-1]["ready"]
    assert seen["correction"]["records"] == 1
    assert seen["correction"]["factor"] < 1
    assert api.post(f"{base}/stamps/{stamp['id']}/looks", {"dry": True, "at": ago(60)}, expect=422)["field"] == "at"
    wet = api.post(f"{base}/stamps/{stamp['id']}/looks", {"dry": False})
    assert not wet["drying"]["groups"][-1]["ready"]
    api.call("DELETE", f"{base}/stamps/{stamp['id']}")
    assert api.get(base)["drying"]["groups"][-1]["coats_on"] == 0
    # The simulated sensor takes over, and typed-in readings are refused while it is on.
    assert api.put("/room/sensor", {"on": True, "was": False})["simulated"]
    api.post("/room/readings", {"temperature_c": 20, "humidity_pct": 50}, expect=422)


def test_a_look_after_two_weeks_is_kept_and_teaches_nothing(api):
    """It once was stored though no page could read it: from then on the whole workshop was refused."""
    job = api.job()
    base = f"/jobs/{job['id']}/coat"
    for year in (1, 1999, 9999):
        body = {"number": 1, "at": f"{year:04d}-06-01T08:00:00Z"}
        refused = api.post(f"{base}/stamps", body, expect=422)
        assert (refused["field"], "2000 to 2100" in str(refused)) == ("at", True)
    long_ago = (datetime.now(UTC) - timedelta(days=15)).isoformat()
    plan = api.post(f"{base}/stamps", {"number": 1, "at": long_ago})
    stamp = plan["steps"][0]["stamps"][0]
    seen = api.post(f"{base}/stamps/{stamp['id']}/looks", {"dry": True})
    assert seen["correction"]["records"] == 0
    for page in ("/bench", "/jobs", f"/jobs/{job['id']}", base):
        api.get(page)
    api.job(name="Another with that coat")


def test_no_heat_near_vapour(api):
    job = api.job(coat="matt_black_spray")
    body = {"number": 1, "heat": "hairdryer"}
    assert api.post(f"/jobs/{job['id']}/coat/stamps", body, expect=422)["field"] == "heat"


def test_a_photo_is_measured_kept_and_handed_to_the_window(api, shots):
    job = api.coated_job()
    good = send(api, job, shots[CoatFault.NONE].coated, bare=shots[CoatFault.NONE].bare, piece="1")
    assert [f["code"] for f in good["findings"]] == ["coat-even"]
    assert good["reading"]["reference"] == "bare_shot"
    assert api.get(f"/jobs/{job['id']}")["coat_cv"] == pytest.approx(good["cv"])
    pooled = send(api, job, shots[CoatFault.POOLED].coated, piece="1")
    assert pooled["reading"]["reference"] == "surroundings"
    assert "coat-pooled" in [f["code"] for f in pooled["findings"]]
    # The newest photo of a piece counts for it.
    assert api.get(f"/jobs/{job['id']}")["coat_cv"] == pytest.approx(pooled["cv"])
    api.rate(api.burned_grid(job), wedge)
    proof = api.get(f"/jobs/{job['id']}/coat/proof")
    # One coat counts beside the guess of 12 %.
    assert proof["cost"]["taken_cv"] == pytest.approx(Scatter(0.12).with_coats(pooled["cv"], 1).coat_cv)
    assert proof["cost"]["clean_measured"] != proof["cost"]["clean_usual"]
    for picture in ("original", "view", "upright"):
        response = api.get(f"/coat/photos/{pooled['id']}/{picture}")
        assert Image.open(io.BytesIO(response.content)).size[0] > 300
    api.get(f"/coat/photos/{pooled['id']}/bare", expect=404)
    points = [{"x": x, "y": y} for x, y in shots[CoatFault.POOLED].points]
    marked = api.post(f"/coat/photos/{pooled['id']}/measure", {"points": points, "version": 1})
    assert marked["cv"] == pytest.approx(pooled["cv"], rel=0.05)
    bad = {"points": points[:2] + points[:1:-1], "version": 2}
    assert "cross over" in api.post(f"/coat/photos/{pooled['id']}/measure", bad, expect=422)["detail"]
    assert api.client.delete(f"/api/coat/photos/{pooled['id']}").status_code == 204
    assert api.get(f"/jobs/{job['id']}")["coat_cv"] == pytest.approx(good["cv"])


def test_photos_that_cannot_be_read(api, shots):
    job = api.coated_job()
    kept = send(api, job, shots["empty"])
    assert "No piece was found" in kept["trouble"]["message"]
    assert kept["reading"] is None
    assert len(api.get(f"/jobs/{job['id']}/coat/proof")["photos"]) == 1
    assert api.get(f"/jobs/{job['id']}")["coat_cv"] is None
    black = io.BytesIO()
    Image.new("RGB", (900, 700)).save(black, "JPEG")
    assert send(api, job, black.getvalue())["trouble"]["hint"]
    large = io.BytesIO()
    Image.new("RGB", (8000, 5200), (200, 200, 200)).save(large, "JPEG", quality=20)
    assert "megapixels" in send(api, job, large.getvalue(), 422)["detail"]
    assert send(api, job, b"plain words in a file named .jpg", 422)["field"] == "photo"
    assert send(api, job, shots["empty"], 422, bare=b"nothing")["field"] == "bare"
    assert send(api, job, shots["empty"], 422, piece="77")["field"] == "piece"


def test_practice_shots_never_count(api):
    job = api.coated_job()
    shot = api.post(f"/jobs/{job['id']}/coat/practice-shot", {"fault": "streaked"}, expect=201)
    assert shot["simulated"]
    assert "coat-streaked" in [f["code"] for f in shot["findings"]]
    assert api.get(f"/jobs/{job['id']}")["coat_cv"] is None
    assert api.post(f"/jobs/{job['id']}/coat/practice-shot", {"fault": "x"}, expect=422)["field"] == "fault"


def test_dark_enough_by_lux_and_by_photos(api, shots):
    job = api.job()
    guess = api.get(f"/jobs/{job['id']}/coat/proof")["darkness"]
    assert guess["source"] == "own-estimate"
    proof = api.post(f"/jobs/{job['id']}/coat/holdups", {"coats": 2, "bare": 900, "coated": 9})
    assert proof["darkness"]["per_coat"]["mid"] == pytest.approx(1.0)
    assert proof["darkness"]["plan"] == 2
    assert api.post(f"/jobs/{job['id']}/coat/holdups", {"coats": 2, "bare": 9, "coated": 90}, expect=422)["field"]
    pair = {
        "bare": SimpleUploadedFile("a.jpg", shots[CoatFault.THIN].bare),
        "coated": SimpleUploadedFile("b.jpg", shots[CoatFault.THIN].coated),
        "coats": "1",
    }
    response = api.client.post(f"/api/jobs/{job['id']}/coat/holdup-photos", pair)
    assert response.status_code == 200, response.content
    tests = response.json()["holdups"]
    assert tests[1]["way"] == "photos"
    api.call("DELETE", f"/jobs/{job['id']}/coat/holdups/{tests[0]['id']}")
    tile = api.job(process="fuse", substrate="white_glazed_tile", coat="tio2_glue")
    assert api.get(f"/jobs/{tile['id']}/coat/proof")["darkness"] is None
    api.post(f"/jobs/{tile['id']}/coat/holdups", {"coats": 2, "bare": 900, "coated": 9}, expect=409)


OWN = {
    "name": "Soot and sugar water",
    "parts": [{"ingredient": "lamp soot", "parts": 2}, {"ingredient": "water", "parts": 5}],
    "carrier": "water", "tools": ["soft_brush"], "coats": 3, "between_min": 15, "before_burn_min": 30, "film_um": 12,
    "solids_pct": 18, "removal": "warm water", "absorbs": ["blue"], "serves": ["frost"],
}  # fmt: skip


def test_a_coat_of_ones_own_goes_all_the_way(api, stranger):
    own = api.post("/shelf/coats", OWN, expect=201)
    for change, field in (
        ({"solids_pct": 0}, "solids_pct"),
        ({"film_um": -1}, "film_um"),
        ({"parts": []}, "parts"),
        ({"tools": []}, "tools"),
        ({"serves": ["nothing"]}, "serves"),
        ({"absorbs": []}, "absorbs"),
        ({}, "name"),
        ({"name": "matt black spray"}, "name"),
        ({"parts": [{"ingredient": "x", "parts": -1}]}, "parts"),
    ):
        assert (
            api.post("/shelf/coats", OWN | {"name": "Another"} | change if change else OWN, expect=422)["field"]
            == field
        )
    by_mass = OWN | {
        "name": "By weight",
        "by_mass": True,
        "parts": [{"ingredient": "tio2", "parts": 0.85}, {"ingredient": "isopropanol_91", "parts": 0.815}],
    }
    assert [p["parts"] for p in api.post("/shelf/coats", by_mass, expect=201)["parts"]] == pytest.approx([0.85, 0.85])
    job = api.coated_job(coat=own["key"], coats=3)
    assert job["coat_label"] == OWN["name"]
    assert own["key"] in [o["coat"] for o in api.get(f"/jobs/{job['id']}/coat/offers")["offers"]]
    assert api.get(f"/jobs/{job['id']}/coat")["mix"]["parts"][0]["name"] == "lamp soot"
    api.rate(api.burned_grid(job), wedge)
    setting = {"power_pct": 60, "speed_mm_s": 30, "interval_mm": 0.1, "passes": 1}
    api.lock(job, setting)
    sheet = api.get(f"/jobs/{job['id']}/run-sheet")
    assert OWN["name"] in str(sheet)
    assert api.get("/logbook?words=soot+sugar")["total"] > 3
    api.call("DELETE", f"/shelf/coats/{own['id']}")
    assert own["key"] not in [o["coat"] for o in api.get(f"/jobs/{job['id']}/coat/offers")["offers"]]
    assert api.get(f"/jobs/{job['id']}")["coat_label"] == OWN["name"]
    assert stranger.get("/shelf")["own_coats"] == []
    assert stranger.post("/jobs", stranger.job_body(coat=own["key"]), expect=422)["field"] == "coat"


def test_compare_coats_on_the_same_small_grid(api):
    like = api.job()
    arms = [{"coat": "tempera_brushed", "coats": 1}, {"coat": "tempera_brushed", "coats": 3}]
    body = {"name": "How thick", "like_job": like["id"], "arms": arms, "replicates": 2, "cells": 8}
    made = api.post("/experiments", body, expect=201)
    assert sorted(x["arm"] for x in made["order"]) == [0, 0, 1, 1]
    settings = []
    for number, arm in enumerate(made["arms"]):
        job = arm["job"]
        for coat in range(1, job["coats"] + 1):
            stamp = {"number": coat, "at": f"2026-01-05T{8 + coat:02d}:00:00Z"}
            api.post(f"/jobs/{job['id']}/coat/stamps", stamp)
        grid = api.get(f"/jobs/{job['id']}/grids")[0]
        settings.append([(c["power_pct"], c["speed_mm_s"]) for c in grid["cells"]])
        api.post(f"/jobs/{job['id']}/grids/again", expect=409)
        api.post(f"/grids/{grid['id']}/burned")
        api.rate(api.get(f"/jobs/{job['id']}/grids")[0], wedge if number else lambda cell: "faint")
    assert settings[0] == settings[1]
    again = api.post(f"/jobs/{made['arms'][1]['job']['id']}/grids/again", expect=201)
    assert [(c["power_pct"], c["speed_mm_s"]) for c in again["cells"]] == settings[1]
    assert not any(c["rating"] for c in again["cells"])
    table = api.get(f"/experiments/{made['id']}")["arms"]
    assert table[1]["best"] > 0.8 > table[0]["best"]
    assert (table[0]["clean"], table[0]["cells"]) == (0, 8)
    for change, field in (
        ({"arms": arms[:1]}, "arms"),
        ({"arms": [arms[0]] * 2}, "arms"),
        ({"replicates": 0}, "replicates"),
    ):
        assert api.post("/experiments", body | change, expect=422)["field"] == field


def test_round_and_tapered_pieces(api):
    """π·d·h less the margins: 80 × 94 mm of wall is 236 cm²; a cone's wall is shorter round at its narrow end."""
    jar = api.job(shape="cylinder", width_mm=80, height_mm=100, thickness_mm=3)
    assert jar["coated_cm2"] == pytest.approx(236.2, abs=0.1)
    cloche = api.job(shape="frustum", width_mm=80, narrow_mm=60, height_mm=100, thickness_mm=3)
    assert cloche["face"]["width_mm"] == pytest.approx(188.5, abs=0.1)
    assert cloche["coated_cm2"] < jar["coated_cm2"]
    draft = api.post(f"/jobs/{cloche['id']}/grids/draft", {"interval_mm": 0.1})
    assert "grid-unrolled" in [f["code"] for f in draft["findings"]]
    assert (
        api.post("/jobs", api.job_body(shape="frustum", width_mm=60, narrow_mm=80), expect=422)["field"] == "narrow_mm"
    )
