"""A batch from the gate to the run that the window learns from: by piece, on two phones, on the practice bench."""

from datetime import timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone
from gcodeparser import parse_gcode_lines

from keencoat.jobs.models import ArtworkVersion, Batch, RunRecord
from keencoat.logbook.models import LogEntry
from keencoat.shop.models import Machine
from tests.apps.conftest import OurClient
from tests.apps.test_artwork_chapter import ask
from tests.apps.test_jigs import TAGS, TRAY, text_of
from tests.apps.test_placing_chapter import locked, tell

GOGGLES = {"name": "Green goggles", "bands": [{"from_nm": 190, "to_nm": 540, "density": 6}]}


def names_for(api, job, *names):
    file = SimpleUploadedFile("names.csv", "\n".join(names).encode())
    return api.client.post(f"/api/jobs/{job['id']}/artworks", {"file": file, "kind": "names", "name": "Labels"}).json()


def ticks_of(plan):
    """Everything ticked, in the first of its ways, with what is asked for."""
    return [
        {"code": item["code"], "answer": (item["ways"] or ["D LB6"])[0] if item["ways"] or item["asks"] else ""}
        for item in plan["gate"]
    ]


def begun(api, job, expect=201, **wish):
    query = "&".join(f"{k}={v}" for k, v in wish.items())
    plan = api.get(f"/jobs/{job['id']}/batch-plan?{query}")
    body = {"lock_version": 1, "ticks": ticks_of(plan)} | wish
    return api.post(f"/jobs/{job['id']}/batches", body, expect)


def move(api, batch, to, *numbers, expect=200, seen=None):
    rows = [r for r in batch["rows"] if r["number"] in numbers and r["newest"]]
    body = {"ids": [r["id"] for r in rows], "seen": seen or rows[0]["state"], "to": to}
    return api.post(f"/batches/{batch['id']}/moves", body, expect)


def look(api, batch, number, rating, expect=200, **more):
    row = next(r for r in batch["rows"] if r["number"] == number and r["newest"])
    return api.put(f"/batch-pieces/{row['id']}/look", {"rating": rating, "version": row["version"]} | more, expect)


def burned_off(api, batch, number, rating, **more):
    for state in ("placed", "framed", "burning", "cooling", "washed"):
        batch = move(api, batch, state, number)
    return look(api, batch, number, rating, **more)


def now_to_do(batch):
    numbers = {r["id"]: r["number"] for r in batch["rows"]}
    return [(t["kind"], [numbers[i] for i in t["ids"]]) for t in batch["tasks"]]


@pytest.mark.django_db
def test_the_gate_comes_before_anything_burns(api):
    job = api.job()
    assert "No setting is locked" in api.get(f"/jobs/{job['id']}/run-sheet", expect=409)["detail"]
    plan = api.get(f"/jobs/{job['id']}/batch-plan")
    gate = {item["code"]: item for item in plan["gate"]}
    assert gate["dry"]["blocked"] == "coat 1 is not on piece 1 yet."
    assert gate["eyewear"]["asks"]
    # Spares that carry a grid are burned too, long before anything is locked.
    shown = api.get(f"/jobs/{job['id']}/gate")
    assert shown == {"gate": plan["gate"], "deference": plan["deference"]}
    # Of a beam of which nobody said how it comes out no pair is said to cover it.
    pair = api.post("/eyewear", GOGGLES, expect=201)
    gate = {item["code"]: item for item in api.get(f"/jobs/{job['id']}/batch-plan")["gate"]}
    assert "nobody said" in gate["eyewear"]["why"]
    Machine.objects.update(pulsing="continuous")
    job, _ = locked(api)
    plan = api.get(f"/jobs/{job['id']}/batch-plan")
    gate = {item["code"]: item for item in plan["gate"]}
    assert (gate["eyewear"]["asks"], plan["first"], plan["last"], plan["turns"]) == ("", 1, 12, 12)
    assert gate["eyewear"]["text"].startswith("Green goggles (190–540 nm, OD 6)")
    assert gate["dry"]["text"].endswith("12 of 12 pieces should be dry")
    assert "licensed" in plan["deference"]
    (dry,) = (item for item in api.get(f"/jobs/{job['id']}/gate")["gate"] if item["code"] == "dry")
    assert dry["text"].endswith("14 of 14 pieces should be dry")
    ticks = ticks_of(plan)
    for n, tick in enumerate(ticks):
        refused = api.post(f"/jobs/{job['id']}/batches", {"lock_version": 1, "ticks": ticks[:n] + ticks[n + 1 :]}, 422)
        assert refused["field"] == f"ticks.{tick['code']}"
    assert not Batch.objects.exists()
    refused = api.post(f"/jobs/{job['id']}/batches", {"lock_version": 2, "ticks": ticks}, 409)
    assert refused["field"] == "lock_version"
    batch = api.post(f"/jobs/{job['id']}/batches", {"lock_version": 1, "ticks": ticks}, 201)
    (gone,) = batch["gate"]
    assert (gone["by"], {t["code"] for t in gone["ticks"]}) == ("fernery", set(gate))
    assert next(t for t in gone["ticks"] if t["code"] == "enclosed")["answer"] == gate["enclosed"]["ways"][0]
    assert next(t for t in gone["ticks"] if t["code"] == "eyewear")["text"] == gate["eyewear"]["text"]
    assert "is open" in api.post(f"/jobs/{job['id']}/batches", {"lock_version": 1, "ticks": ticks}, 409)["detail"]
    # Put away, the goggles cover nothing any more: what is worn has to be told.
    change = GOGGLES | {"put_away": True, "version": pair["version"]}
    api.put(f"/eyewear/{pair['id']}", change)
    api.put(f"/eyewear/{pair['id']}", change, 409)
    refused = api.post(f"/batches/{batch['id']}/gate", {"ticks": ticks}, 422)
    assert refused["field"] == "ticks.eyewear"
    worn = [t | {"answer": "D LB6"} if t["code"] == "eyewear" else t for t in ticks]
    assert len(api.post(f"/batches/{batch['id']}/gate", {"ticks": worn})["gate"]) == 2
    for wrong, field in (
        ({"to_nm": 100}, "to_nm"),
        ({"density": 99}, "density"),
        ({"from_nm": 1e9}, "bands.0.from_nm"),
    ):
        body = {"name": "Odd", "bands": [GOGGLES["bands"][0] | wrong]}
        assert field in api.post("/eyewear", body, 422)["field"]


@pytest.mark.django_db
def test_piece_by_piece_to_a_run_that_the_window_learns_from(api):
    job, _ = locked(api, pieces=4)
    batch = begun(api, job)
    assert now_to_do(batch) == [("place", [1])]
    assert "cannot become" in move(api, batch, "burning", 1, expect=409)["detail"]
    batch = move(api, batch, "placed", 1)
    batch = move(api, batch, "framed", 1)
    batch = move(api, batch, "burning", 1)
    assert now_to_do(batch) == [("watch", [1])]
    for state in ("placed", "framed"):
        batch = move(api, batch, state, 2)
    assert "one turn at a time" in move(api, batch, "burning", 2, expect=409)["detail"]
    batch = move(api, batch, "cooling", 1)
    assert now_to_do(batch)[0] == ("wash", [1])
    batch = move(api, batch, "washed", 1)
    assert look(api, batch, 1, "faint", 422, defects=["undercut"])["field"] == "defects"
    batch = look(api, batch, 1, "faint", defects=["patchy", "coat_left"], note=" right third ")
    (row, *_) = batch["rows"]
    assert (row["rating"], row["defects"], row["note"]) == ("faint", ["coat_left", "patchy"], "right third")
    assert [f["code"] for f in batch["findings"]] == ["first-failed"]
    # A look is mended as long as the batch is open; from an old page it is refused.
    stale = batch
    batch = look(api, batch, 1, "harsh")
    assert look(api, stale, 1, "clean", 409)["field"] == "version"
    for state in ("burning", "cooling", "washed"):
        batch = move(api, batch, state, 2)
    batch = look(api, batch, 2, "clean")
    # Piece 3 is stopped, and burned anew on a spare after all others; piece 4 is passed over and taken up again.
    for state in ("placed", "framed", "burning", "stopped"):
        batch = move(api, batch, state, 3)
    row = next(r for r in batch["rows"] if r["number"] == 3)
    for _ in range(2):
        batch = api.post(f"/batch-pieces/{row['id']}/redo")
    again = [(r["attempt"], r["turn"], r["newest"]) for r in batch["rows"] if r["number"] == 3]
    assert again == [(1, 3, False), (2, 5, True)]
    clean = next(r for r in batch["rows"] if r["number"] == 2)
    assert "not lost" in api.post(f"/batch-pieces/{clean['id']}/redo", expect=409)["detail"]
    batch = move(api, batch, "skipped", 4)
    batch = move(api, batch, "waiting", 4)
    batch = burned_off(api, batch, 4, None, note="dropped")
    assert batch["rows"][3]["spoilt"]
    for state in ("placed", "framed", "burning", "cooling"):
        batch = move(api, batch, state, 3)
    assert "is cooling" in api.post(f"/batches/{batch['id']}/close", expect=409)["detail"]
    batch = move(api, batch, "washed", 3)
    batch = look(api, batch, 3, "clean")
    assert now_to_do(batch) == [("close", [])]
    for _ in range(2):
        batch = api.post(f"/batches/{batch['id']}/close")
    assert (batch["clean"], batch["harsh"], batch["spoilt"], batch["lost"]) == (2, 1, 1, 1)
    (run,) = api.get(f"/jobs/{job['id']}/runs")
    assert (run["clean"], run["harsh"], run["faint"], run["note"]) == (2, 1, 0, "batch 1")
    assert RunRecord.objects.get().batch.pk == batch["id"]
    assert look(api, batch, 1, "clean", 409)["detail"] == "Batch 1 is closed."
    texts = list(LogEntry.objects.filter(job_id=job["id"], kind="run").values_list("text", flat=True))
    assert texts == ["Run: 2 of 3 pieces clean", "Batch 1 begun: 4 pieces"]
    record = api.get(f"/batch-pieces/{clean['id']}")
    assert [c["number"] for c in record["coats"]] == [1, 2]
    assert {c["lot"] for c in record["coats"]} == {api.get(f"/jobs/{job['id']}/coat")["lots"][0]["code"]}
    assert [s["to"] for s in record["log"]] == ["placed", "framed", "burning", "cooling", "washed", "looked"]
    assert (record["order"], record["lock_version"], {s["by"] for s in record["log"]}) == (2, 1, {"fernery"})
    (short,) = api.get(f"/jobs/{job['id']}/batches")
    assert (short["pieces"], short["clean"]) == (4, 2)
    # All had their turn: the next batch begins anew.
    assert api.get(f"/jobs/{job['id']}/batch-plan")["first"] == 1


@pytest.mark.django_db
def test_two_phones_at_one_batch(api):
    job, _ = locked(api, pieces=3)
    batch = begun(api, job)
    other = OurClient()
    other.force_login(api.shop.members.first().user)
    ids = [batch["rows"][0]["id"]]

    def by_other(seen, to):
        body = {"ids": ids, "seen": seen, "to": to}
        return other.post(f"/api/batches/{batch['id']}/moves", body, content_type="application/json")

    moved = move(api, batch, "placed", 1)
    # The same press on the other phone changes nothing and is no trouble.
    again = by_other("waiting", "placed")
    assert (again.status_code, again.json()["rows"]) == (200, moved["rows"])
    moved = move(api, moved, "framed", 1)
    # An old page that presses on is told where the piece is by now.
    late = by_other("waiting", "skipped")
    assert (late.status_code, late.json()["detail"]) == (409, "Piece 1 is framed by now.")
    assert api.get(f"/batches/{batch['id']}")["rows"][0]["state"] == "framed"
    assert len(api.get(f"/batch-pieces/{ids[0]}")["log"]) == 2
    api.post(f"/batches/{batch['id']}/moves", {"ids": [ids[0], 10**9], "seen": "framed", "to": "placed"}, 422)
    assert api.post(f"/jobs/{job['id']}/batches", {"lock_version": 1, "ticks": []}, 409)


@pytest.mark.django_db
def test_what_has_changed_since_keeps_the_laser_off(api):
    job, point = locked(api, pieces=2, spares=4)
    batch = begun(api, job)
    batch = move(api, move(api, batch, "placed", 1), "framed", 1)
    Batch.objects.update(gate_at=timezone.now() - timedelta(hours=5))
    assert move(api, batch, "burning", 1, expect=409)["field"] == "gate"
    assert not api.get(f"/batches/{batch['id']}")["gate_holds"]
    api.post(f"/batches/{batch['id']}/gate", {"ticks": ticks_of(api.get(f"/jobs/{job['id']}/batch-plan"))})
    api.lock(job, point)
    assert "Another setting was locked" in move(api, batch, "burning", 1, expect=409)["detail"]
    api.post(f"/batches/{batch['id']}/close")
    assert not RunRecord.objects.exists()
    assert {r["state"] for r in api.get(f"/batches/{batch['id']}")["rows"]} == {"skipped"}
    assert "closed" in move(api, batch, "placed", 1, expect=409)["detail"]
    # More pieces than are coated: those burn only once they are dry.
    body = api.get(f"/jobs/{job['id']}")
    wanted = {k: body[k] for k in api.job_body()} | {"version": body["version"], "pieces": 9}
    api.put(f"/jobs/{job['id']}", wanted)
    plan = api.get(f"/jobs/{job['id']}/batch-plan")
    ticks = ticks_of(plan)
    batch = api.post(f"/jobs/{job['id']}/batches", {"lock_version": 2, "ticks": ticks}, 201)
    assert [r["number"] for r in batch["rows"]] == list(range(1, 10))
    batch = move(api, move(api, batch, "placed", 9), "framed", 9)
    assert move(api, batch, "burning", 9, expect=409)["detail"] == "The coat of piece 9 is not dry."


@pytest.mark.django_db
def test_names_in_a_jig_burn_load_by_load_behind_the_gate(api):
    job, _ = locked(api, **TAGS)
    kept = api.post(f"/jobs/{job['id']}/jigs", {"name": "Tag tray", "asked": TRAY}, expect=201)["kept"]
    crosses = [[40 + x, 40 + y] for x, y in api.get(f"/jobs/{job['id']}/jigs/{kept['id']}")["jig"]["crosses_mm"]]
    api.put(f"/jigs/{kept['id']}/seat", {"machine_id": api.machine.pk, "version": 1, "touched": crosses})
    art = names_for(api, job, *(f"Name {n}" for n in range(1, 15)))
    wish = {"artwork_id": art["id"], "jig_id": kept["id"]}
    assert "artwork that is placed" in begun(api, job, 409, **wish)["detail"]
    tell(api, job, artwork=art["id"])
    batch = begun(api, job, **wish)
    by_turn = {}
    for row in batch["rows"]:
        by_turn.setdefault(row["turn"], []).append((row["number"], row["pocket"], row["name"]))
    assert {turn: len(rows) for turn, rows in by_turn.items()} == {1: 10, 2: 4}
    assert sorted(by_turn[2]) == [(10 + n, n, f"Name {10 + n}") for n in range(1, 5)]
    assert now_to_do(batch) == [("place", list(range(1, 11)))]
    assert (batch["artwork"], batch["jig"]) == ("Labels v1", "Tag tray")
    assert batch["burn_s"] > 0
    assert batch["cool_s"][0] <= batch["cool_s"][1]
    at = f"/batches/{batch['id']}/turns"
    text = text_of(api, f"{at}/2/burn.gcode")
    assert {n for n in range(1, 25) if f"of piece {n} in" in text} == {11, 12, 13, 14}
    assert ArtworkVersion.objects.get().version == 1
    api.get(f"{at}/3/burn.gcode", expect=404)
    Batch.objects.update(gate_at=timezone.now() - timedelta(hours=5))
    assert api.get(f"{at}/2/burn.gcode", expect=409)["field"] == "gate"
    Batch.objects.update(gate_at=timezone.now())
    ask(api, art, bleed_mm=1)
    assert "were changed since" in api.get(f"{at}/1/burn.gcode", expect=409)["detail"]


@pytest.mark.django_db
def test_one_piece_at_a_time_takes_its_own_name(api):
    job, _ = locked(api, pieces=3)
    art = names_for(api, job, "Moss", "Fern")
    batch = begun(api, job, artwork_id=art["id"])
    assert [(r["number"], r["name"], r["turn"]) for r in batch["rows"]] == [(1, "Moss", 1), (2, "Fern", 2)]
    lines = [list(parse_gcode_lines(text_of(api, f"/batches/{batch['id']}/turns/{n}/burn.gcode"))) for n in (1, 2)]
    assert lines[0] != lines[1]
    assert "in an earlier" not in str(api.get(f"/jobs/{job['id']}/batch-plan?artwork_id={art['id']}&first=1&last=3"))
    refused = api.get(f"/jobs/{job['id']}/batch-plan?artwork_id={art['id']}&first=3&last=3", expect=422)
    assert refused["field"] == "first"
    for wrong in ("first=0", "first=5", "first=3&last=2", "last=1e308", "artwork_id=99999999"):
        answer = api.client.get(f"/api/jobs/{job['id']}/batch-plan?{wrong}")
        assert answer.status_code in (404, 422), wrong


@pytest.mark.django_db
def test_a_reveal_is_finished_with_a_clear_coat_of_water(api):
    job = api.coated_job(substrate="painted_tile", process="reveal", coat="colour_stack", coats=4, interval_mm=0.085)
    api.rate(api.burned_grid(job, cells=16, interval_mm=0.085), lambda cell: "clean")
    window = api.get(f"/jobs/{job['id']}/window")["recommendation"]["point"]
    api.lock(job, window)
    batch = begun(api, job)
    labels = [(f["label"], f["agent"]) for f in batch["finishes"]]
    assert labels == [("Clear coat", "water-based clear coat"), ("Pads", "")]
    assert any("solvent-based clear coat: It can dissolve the image" in words for words in batch["refused_finishes"])
    finish = f"/batches/{batch['id']}/finish"
    coat, pads = (f["name"] for f in batch["finishes"])
    # Two phones that both still see an empty list: neither wipes the other's tick.
    api.put(finish, {"step": pads, "done": True, "was": False})
    done = api.put(finish, {"step": coat, "done": True, "was": False})
    assert [f["done"] for f in done["finishes"]] == [True, True]
    done = api.put(finish, {"step": pads, "done": False, "was": True})
    assert [f["done"] for f in done["finishes"]] == [True, False]
    assert api.put(finish, {"step": "Polish", "done": True, "was": False}, 422)["field"] == "step"


@pytest.mark.django_db
def test_finished_pieces_are_looked_at_again(api, stranger):
    job, _ = locked(api, pieces=3)
    batch = begun(api, job)
    for number, rating in ((1, "clean"), (2, "clean"), (3, "faint")):
        batch = burned_off(api, batch, number, rating)
    ids = [row["id"] for row in batch["rows"]]
    api.post(f"/batches/{batch['id']}/close")
    assert api.get("/later-looks/due") == api.get("/later-looks") == []
    Batch.objects.update(closed_at=timezone.now() - timedelta(days=13.9))
    assert api.get("/later-looks/due") == []
    Batch.objects.update(closed_at=timezone.now() - timedelta(days=14.1))
    (due,) = api.get("/later-looks/due")
    assert (due["job_id"], due["number"], due["pieces"]) == (job["id"], 1, 2)
    assert stranger.get("/later-looks/due") == []
    record = api.get(f"/batch-pieces/{ids[0]}")
    assert record["trials"] == ["scraper", "solvent", "dishwasher", "time"]
    looked = {"trial": "dishwasher", "washes": 20, "held": True, "note": " as new "}
    record = api.post(f"/batch-pieces/{ids[0]}/later-looks", looked, 201)
    assert [(look["washes"], look["held"], look["note"]) for look in record["later_looks"]] == [(20, True, "as new")]
    api.post(f"/batch-pieces/{ids[0]}/later-looks", {"trial": "scraper", "held": False, "defects": ["rough"]}, 201)
    api.post(f"/batch-pieces/{ids[1]}/later-looks", {"trial": "time", "held": True}, 201)
    for wrong, field in (
        ({"washes": None}, "washes"),
        ({"washes": 0}, "washes"),
        ({"defects": ["undercut"]}, "defects"),
        ({"trial": "hammer"}, "trial"),
    ):
        refused = api.post(f"/batch-pieces/{ids[0]}/later-looks", looked | wrong, 422)
        assert field in refused["field"]
    assert api.get("/later-looks/due") == []
    (lasted,) = api.get("/later-looks")
    # The first piece held in the dishwasher and failed under the scraper: it failed.
    assert (lasted["held"], lasted["of"], lasted["coat"]) == (1, 2, "black tempera, brushed")
    by_trial = {one["trial"]: (one["held"], one["of"]) for one in lasted["by_trial"]}
    assert by_trial == {"scraper": (0, 1), "dishwasher": (1, 1), "time": (1, 1)}
    assert lasted["share"]["low"] < 0.5 < lasted["share"]["high"]
    assert stranger.get("/later-looks") == []
    texts = list(LogEntry.objects.filter(job_id=job["id"], kind="run").values_list("text", flat=True)[:3])
    assert texts[-1] == "Batch 1, piece 1 after 20 washes: held"
