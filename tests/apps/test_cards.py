"""The settings shelf: locked settings as cards, given to another workshop, and used on another machine."""

import csv
import io
import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from jsonschema import Draft202012Validator

from keencoat.jobs.models import BroughtCard, Job
from keencoat.shop.models import Machine
from tests.apps.conftest import BLUE
from tests.apps.test_placing_chapter import locked
from tests.apps.test_story import pdf_text


def bring(api, data, expect=201):
    file = SimpleUploadedFile("cards.json", data if isinstance(data, bytes) else json.dumps(data).encode())
    response = api.client.post("/api/setting-cards/bring", {"file": file})
    assert response.status_code == expect, response.content
    return response.json()


def given(api, name="cards.json", query=""):
    return api.client.get(f"/api/setting-cards/files/{name}?{query}").content


def test_a_locked_setting_is_a_card_that_says_how_well_it_is_known(api):
    assert api.get("/setting-cards") == []
    assert api.get("/setting-cards/files/cards.json", expect=422)["field"] == "uids"
    job, point = locked(api)
    (card,) = api.get("/setting-cards")
    assert (card["power_pct"], card["speed_mm_s"]) == (point["power_pct"], point["speed_mm_s"])
    assert (card["evidence"], card["pieces_seen"], card["share"]) == ("grid", 0, None)
    assert card["energy_j_mm2"] == pytest.approx(point["energy_j_mm2"])
    api.post(f"/jobs/{job['id']}/runs", {"lock_version": 1, "clean": 9, "faint": 1}, expect=201)
    (card,) = api.get("/setting-cards")
    assert (card["evidence"], card["pieces_clean"], card["pieces_seen"]) == ("proven", 9, 10)
    assert card["share"]["mid"] == 0.9
    uid = card["uid"]
    # Locked anew it is another card; for another piece of art it is one more.
    api.lock(job, {**point, "speed_mm_s": round(point["speed_mm_s"] * 0.8, 1)})
    api.lock(job, {**point, "speed_mm_s": round(point["speed_mm_s"] * 0.7, 1)}, art="strokes")
    cards = api.get("/setting-cards")
    assert {c["art"] for c in cards} == {"fills", "strokes"}
    assert uid not in {c["uid"] for c in cards}
    for query, found in (("words=float+cloche", 2), ("words=acrylic", 0), ("process=fuse", 0), ("coat=chalk", 0)):
        assert len(api.get(f"/setting-cards?{query}")) == found
    tube = Machine.objects.create(workshop=api.shop, **BLUE | {"name": "Tube", "source": "co2"})
    assert api.get(f"/setting-cards?machine_id={tube.pk}") == []
    assert len(api.get(f"/setting-cards?machine_id={api.machine.pk}")) == 2
    sheet = pdf_text(api.client.get("/api/setting-cards/files/wall.pdf"))
    cut = pdf_text(api.client.get("/api/setting-cards/files/cards.pdf"))
    for words in ("J/mm²", "clear float glass", "Blue twelve", "first guess", "mm/s"):
        assert words in sheet
        assert words in cut or words == "clear float glass"


def test_cards_go_to_another_workshop_once_and_back_as_ones_own(api, stranger):
    locked(api)
    out = given(api)
    document = json.loads(out)
    schema = api.get("/setting-cards/schema.json")
    Draft202012Validator.check_schema(schema)
    Draft202012Validator(schema).validate(document)
    assert bring(stranger, out) == {"new": 1, "known": 0, "own": 0, "doubtful": 0}
    assert bring(stranger, given(api, "cards.csv")) == {"new": 0, "known": 1, "own": 0, "doubtful": 0}
    assert bring(api, out) == {"new": 0, "known": 0, "own": 1, "doubtful": 0}
    (card,) = stranger.get("/setting-cards")
    (mine,) = api.get("/setting-cards")
    apart = ("lock_id", "job_id", "card_id")
    assert {k: v for k, v in card.items() if k not in apart} == {k: v for k, v in mine.items() if k not in apart}
    assert (card["lock_id"], card["workshop"]) == (None, "fernery")
    # Given on, it stays that workshop's card.
    assert json.loads(given(stranger))["cards"] == document["cards"]
    (row,) = csv.DictReader(io.StringIO(given(stranger, "cards.csv").decode()))
    assert float(row["energy_j_mm2"]) == pytest.approx(mine["energy_j_mm2"], rel=1e-3)
    stranger.call("DELETE", f"/setting-cards/brought/{card['card_id']}", expect=204)
    assert stranger.get("/setting-cards") == []
    assert bring(stranger, out)["known"] == 1
    assert len(stranger.get("/setting-cards")) == 1


def test_ones_own_setting_is_carried_to_another_machine_with_its_confirming_grid(api):
    job, point = locked(api)
    weaker = Machine.objects.create(workshop=api.shop, **BLUE | {"name": "Little blue", "rated_w": 5.5})
    (card,) = api.get("/setting-cards")
    made = api.post(f"/setting-cards/own/{card['lock_id']}/use", {"machine_id": weaker.pk}, expect=201)
    assert (made["machine_id"], made["grid"]["state"]) == (weaker.pk, "drawn")
    assert len(api.get(f"/jobs/{made['id']}/grids")[0]["cells"]) == 4
    there = api.get(f"/jobs/{made['id']}/window")
    assert job["id"] in [x["job_id"] for x in there["sources"]]
    best = there["recommendation"]["point"]
    assert best["speed_mm_s"] < point["speed_mm_s"]
    tube = Machine.objects.create(workshop=api.shop, **BLUE | {"name": "Tube", "source": "co2"})
    refused = api.post(f"/setting-cards/own/{card['lock_id']}/use", {"machine_id": tube.pk}, expect=409)
    assert "wavelength" in refused["detail"]
    strokes = {"machine_id": weaker.pk, "art": "strokes"}
    assert api.post(f"/setting-cards/own/{card['lock_id']}/use", strokes, expect=409)["field"] == "art"
    assert Job.objects.count() == 2


def test_a_card_from_outside_is_a_hint_with_doubt_that_own_cells_overrule(api, stranger):
    _, point = locked(api)
    bring(stranger, given(api))
    (card,) = stranger.get("/setting-cards")
    use = f"/setting-cards/brought/{card['card_id']}/use"
    plain = stranger.job()
    before = stranger.get(f"/jobs/{plain['id']}/window")
    made = stranger.post(use, stranger.job_body(name="From a card"), expect=201)
    hinted = stranger.get(f"/jobs/{made['id']}/window")
    assert hinted["begun_from"]["workshop"] == "fernery"
    assert 1.5 < hinted["begun_from"]["within_factor"] < 2.5
    at = {k: point[k] for k in ("power_pct", "speed_mm_s", "interval_mm", "passes")}
    odds = [stranger.post(f"/jobs/{job['id']}/window/point", at)["clean"] for job in (plain, made)]
    assert odds[1]["mid"] > odds[0]["mid"]
    assert odds[1]["high"] - odds[1]["low"] > 0.3
    assert hinted["evidence"] == before["evidence"] == "guess"
    assert len(stranger.get(f"/jobs/{made['id']}/grids")[0]["cells"]) == 6
    # Its own cells say otherwise: clean only from three times as much.
    for number in (1, 2):
        stamp = {"number": number, "at": f"2026-01-05T{8 + number:02d}:00:00Z"}
        stranger.post(f"/jobs/{made['id']}/coat/stamps", stamp)
    grid = stranger.burned_grid(made, cells=16, replaces=made["grid"]["id"])
    stranger.rate(grid, lambda c: "faint" if c["energy_j_mm2"] / c["dwell_ms"] ** 0.5 < 4 else "clean")
    after = stranger.post(f"/jobs/{made['id']}/window/point", at)
    assert after["faint"] > 0.7
    for change, field in (
        ({"substrate": "clear_acrylic", "process": "back_engrave", "coat": "tempera_thin"}, "substrate"),
        (
            {"machine_id": Machine.objects.create(workshop=stranger.shop, **BLUE | {"name": "T", "source": "co2"}).pk},
            "machine_id",
        ),
    ):
        assert stranger.post(use, stranger.job_body(**change), expect=409)["field"] == field
    assert Job.objects.filter(workshop=stranger.shop).count() == 2


SPOILT = [
    (lambda d: d["cards"][0].update(power_pct=140), "Card 1, power_pct"),
    (lambda d: d["cards"][0].update(film_um=float("nan")), "figure that is none"),
    (lambda d: d["cards"][0].update(film_um=1e300), "film_um"),
    (lambda d: d["cards"][0].update(passes=1.5), "passes"),
    (lambda d: d["cards"][0].update(substrate="granite"), "granite"),
    (lambda d: d["cards"][0].update(substrate="pvc"), "chlorine"),
    (lambda d: d["cards"][0].update(uid="../../x"), "Card 1, uid"),
    (lambda d: d["cards"][0].update(title="a\0b"), "title"),
    (lambda d: d["cards"][0].update(locked_on="2026-13-01"), "locked_on"),
    (lambda d: d["cards"][0].update(pieces_clean=9, pieces_seen=3), "9 clean of 3"),
    (lambda d: d["cards"][0].update(clean=0.2, clean_low=0.5), "outside"),
    (lambda d: d["cards"][0].pop("rated_w"), "rated_w"),
    (lambda d: d["cards"].append(7), "Card 2"),
    (lambda d: d["cards"].clear(), "no card"),
    (lambda d: d.update(version=2), "document"),
    (lambda d: d.update(format="pots"), "no setting cards"),
    (lambda d: d.update(cards=[d["cards"][0]] * 2001), "document"),
]


def test_a_bad_card_is_refused_with_its_place_and_nothing_is_taken(api, stranger):
    locked(api)
    whole = given(api)
    for spoil, words in SPOILT:
        document = json.loads(whole)
        spoil(document)
        refused = bring(stranger, document, 422)
        assert words.lower() in refused["detail"].lower()
        assert refused["field"] == "file"
        assert not BroughtCard.objects.exists()


def test_files_that_hold_no_cards_are_refused(api):
    deep = b'{"format": "keencoat-setting-cards", "cards": ' + b"[" * 100_000
    for data, words in (
        (b"", "uid"), (b"\xff\xfe\x00", "UTF-8"), (b"{", "line 1"), (deep, "JSON"), (b"[1]", "no setting cards"),
        (b"uid,power_pct\nx,12\n", "Card 1"),
        (b"uid,film_um\nx,nan\n", "Card 1"), (b"uid\n" + b"x" * 2_100_000, "MB"), (b"uid,\0\nx,1\n", "Card 1"),
        (b'uid\n"' + b"x" * 200_000 + b'"\n', "cannot be read"),
    ):  # fmt: skip
        assert words in bring(api, data, 422)["detail"] + bring(api, data, 422)["hint"]


def test_a_card_that_nobody_should_burn_says_so_wherever_it_is_seen_and_is_not_used(api, stranger):
    locked(api)
    document = json.loads(given(api))
    document["cards"][0] |= {
        "uid": "bad-1", "substrate": "clear_acrylic", "process": "back_engrave", "coat": "", "coat_words": "IPA black",
    }  # fmt: skip
    assert bring(stranger, json.dumps(document).encode()) == {"new": 1, "known": 0, "own": 0, "doubtful": 1}
    (card,) = stranger.get("/setting-cards")
    (caution,) = card["cautions"]
    assert (caution["code"], caution["severity"]) == ("coat-unsuited", "stop")
    for name in ("cards.pdf", "wall.pdf"):
        assert "Do not burn this" in pdf_text(stranger.client.get(f"/api/setting-cards/files/{name}"))
    refused = stranger.post(f"/setting-cards/brought/{card['card_id']}/use", stranger.job_body(name="Not this"), 409)
    assert (refused["field"], "crazes" in refused["detail"]) == ("card_id", True)
    assert stranger.get("/jobs") == []
