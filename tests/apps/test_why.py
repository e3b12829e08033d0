"""Why a piece failed, through the API: what the job knows of it, tests answered, faults put into practice pieces."""

import json
from datetime import timedelta

import numpy as np
import pytest
from django.utils import timezone

from keencoat.bench.faulty import AT_THE_PIECE, Fault
from keencoat.jobs.artwork.services.burning import run_art_burn
from keencoat.jobs.models import ArtworkBurn, Batch, BatchPiece, CoatPhoto, PiecePhoto, Practice
from keencoat.jobs.practice.faults import fault_of
from keencoat.jobs.practice.services import face_under, find_job, washed_piece
from keencoat.shop.models import RoomNote
from tests.apps.test_artwork_chapter import ask
from tests.apps.test_batch import begun, burned_off, locked, look, move, names_for
from tests.apps.test_practice import locked_practice
from tests.apps.test_stored import SAMPLES


def why(api, batch, number, expect=200):
    row = next(r for r in batch["rows"] if r["number"] == number and r["newest"])
    return api.get(f"/batch-pieces/{row['id']}/why", expect)


@pytest.fixture
def batch(api):
    job, _ = locked(api, pieces=4)
    return begun(api, job)


def test_a_failed_piece_is_explained(api, batch):
    assert {"chips", "off_place", "snapping"} <= set(batch["ticks"])
    assert "seam" not in batch["ticks"]
    assert "is waiting" in why(api, batch, 1, 409)["detail"]
    batch = burned_off(api, batch, 1, "clean")
    assert "as it should be" in why(api, batch, 1, 409)["detail"]
    batch = burned_off(api, batch, 2, None, defects=["off_place"])
    told = why(api, batch, 2)
    first = told["causes"][0]
    assert (first["key"], first["remedy"]["action"]) == ("off_origin", "origin")
    assert sum(c["chance"] for c in told["causes"]) <= 1.0001
    assert any("off its place" in b["words"] for b in first["because"])
    assert "Common practice" in first["source"]
    assert told["good"] == 1
    assert {"the same setting", "the same machine"} <= set(told["since"])
    assert told["clean"]["low"] <= told["clean"]["mid"] <= told["clean"]["high"]
    batch = burned_off(api, batch, 3, "clean", defects=["snapping"])
    assert why(api, batch, 3)["good"] == 1


def test_answers_rank_causes_anew(api, batch):
    batch = burned_off(api, batch, 1, "faint", defects=["coat_left", "no_mark"])
    told = why(api, batch, 1)
    path = f"/batch-pieces/{told['id']}/why/answer"
    before = {c["key"]: c["chance"] for c in told["causes"]}
    assert told["ask"]["answers"]
    again = api.put(path, {"test": "gauge", "answer": "no", "version": told["version"]})
    assert again["causes"][0]["key"] == "out_of_focus"
    assert again["causes"][0]["chance"] > before["out_of_focus"]
    assert [(t["key"], t["answer"]) for t in again["asked"]] == [("gauge", "no")]
    assert again["ask"] is None or again["ask"]["key"] != "gauge"
    api.put(path, {"test": "gauge", "answer": "yes", "version": told["version"]}, 409)
    for wrong in ({"test": "gauge", "answer": "perhaps"}, {"test": "horoscope", "answer": "no"}):
        assert api.put(path, wrong | {"version": again["version"]}, 422)["field"] in ("answer", "test")
    back = api.put(path, {"test": "gauge", "answer": None, "version": again["version"]})
    assert {c["key"]: c["chance"] for c in back["causes"]} == before


def test_the_machines_stripes_say_what_to_type_in(api, batch):
    batch = burned_off(api, batch, 1, None, defects=["combed"])
    plain = next(c for c in why(api, batch, 1)["causes"] if c["key"] == "backlash")
    assert "stripe test" in plain["remedy"]["words"]
    machine, speed = api.get("/machines")[0], batch["setting"]["speed_mm_s"]
    offsets = [{"speed_mm_s": speed * k, "offset_mm": 0.3 * k} for k in (0.5, 1, 1.5)]
    api.post(f"/machines/{machine['id']}/stripe-tests", {"offsets": offsets}, 201)
    told = next(c for c in why(api, batch, 1)["causes"] if c["key"] == "backlash")
    assert "+0.15 mm" in told["remedy"]["words"]
    assert told["chance"] > plain["chance"]


def test_the_jobs_own_evidence_counts(api, batch):
    """Air that cooled since the last good piece, a photo of its coat, how long it burned, and the pieces beside it."""
    now = timezone.now()
    RoomNote.objects.filter(workshop=api.shop).delete()
    RoomNote.objects.create(workshop=api.shop, at=now - timedelta(hours=3), temperature_c=22, humidity_pct=50)
    batch = burned_off(api, batch, 1, "clean")
    RoomNote.objects.create(workshop=api.shop, at=timezone.now(), temperature_c=9, humidity_pct=50)
    Batch.objects.filter(pk=batch["id"]).update(burn_s=100.0)
    batch = burned_off(api, batch, 2, "harsh", defects=["chips", "snapping"])
    told = why(api, batch, 2)
    assert told["causes"][0]["key"] == "cold_glass"
    assert "13 K cooler" in told["since"]
    piece = BatchPiece.objects.get(pk=told["id"])
    start = next(n for n in piece.log if n["to"] == "burning")
    start["at"] = (timezone.now() - timedelta(seconds=200)).isoformat()
    piece.save()
    slower = why(api, batch, 2)
    words = [b["words"] for c in slower["causes"] for b in c["because"]]
    assert any("longer than expected" in w for w in words)

    batch = burned_off(api, batch, 3, "faint", defects=["coat_left"])
    plain = why(api, batch, 3)
    job = Batch.objects.get(pk=batch["id"]).job
    for number, signal in ((None, 1.0), (1, 1.05), (3, 1.55)):
        reading = {"mean_signal": signal}
        CoatPhoto.objects.create(
            job=job, piece=number, at=timezone.now(), original=b"", kind="JPEG", cv=0.05, reading=reading,
            findings=[{"code": "coat-even"}],
        )  # fmt: skip
    told = why(api, batch, 3)
    thick = next(c for c in told["causes"] if c["key"] == "coat_thick")
    assert thick["chance"] > next((c["chance"] for c in plain["causes"] if c["key"] == "coat_thick"), 0)
    assert told["causes"][0]["key"] == "coat_thick"
    assert "film about" in thick["remedy"]["words"] or "film is about" in thick["remedy"]["words"]


def test_strangers_learn_nothing(api, stranger, batch):
    batch = burned_off(api, batch, 1, "faint")
    piece = batch["rows"][0]["id"]
    stranger.get(f"/batch-pieces/{piece}/why", 404)
    stranger.put(f"/batch-pieces/{piece}/why/answer", {"test": "gauge", "answer": "no", "version": 1}, 404)
    stranger.post(f"/batches/{batch['id']}/practice/faults", {"ids": [piece], "fault": "thick"}, 404)
    assert (
        "real job"
        in api.post(f"/batches/{batch['id']}/practice/faults", {"ids": [], "fault": "surprise"}, 409)["detail"]
    )


@pytest.fixture
def practised_batch(api):
    job = locked_practice(api, "marker")
    art = names_for(api, job, *[f"Bed {n}" for n in range(1, 9)])
    ask(api, art, placement={"width_mm": 40, "height_mm": 14})
    return begun(api, job, artwork_id=art["id"])


def test_faults_are_put_into_practice_pieces(api, practised_batch):
    batch = practised_batch
    ids = [r["id"] for r in batch["rows"]]
    path = f"/batches/{batch['id']}/practice/faults"
    keys = [f["key"] for f in api.get("/practice")["faults"]]
    assert keys == ["surprise", *(f.value for f in AT_THE_PIECE)]
    assert api.post(path, {"ids": ids[:1], "fault": "curse"}, 422)["field"] == "fault"
    for n, fault in enumerate((Fault.THICK, Fault.MOVED, Fault.ASKEW)):
        api.post(path, {"ids": [ids[n]], "fault": fault.value})
    for _ in range(6):
        api.post(path, {"ids": [], "fault": "surprise"}, 409 if len(_faults(batch)) == len(ids) else 200)
    assert len(_faults(batch)) == len(ids)
    seen = {}
    for number in (1, 2, 3):
        for state in ("placed", "framed", "burning"):
            batch = move(api, batch, state, number)
        laser = next(r["laser"] for r in batch["rows"] if r["number"] == number)
        ArtworkBurn.objects.filter(pk=laser["id"]).update(pace=2000)
        run_art_burn(laser["id"])
        burn = ArtworkBurn.objects.select_related("made__job__workshop", "made__artwork").get(pk=laser["id"])
        job = find_job(burn.made.job.workshop, burn.made.job_id)
        seen[number] = washed_piece(job, job.machine.to_core(), face_under(burn, job), burn)
        assert fault_of(job.practice, burn).fault is (Fault.THICK, Fault.MOVED, Fault.ASKEW)[number - 1]
        if number == 1:
            job.practice.faults = {}
            plain = washed_piece(job, job.machine.to_core(), face_under(burn, job), burn)
    # Too thick a coat takes hardly a mark; what lay askew has its upper edge on a slope.
    assert seen[1].film.film_um.mean() > 1.35 * plain.film.film_um.mean()
    rows = [np.flatnonzero(seen[3].mark.max(axis=0) > 0.5)]
    tops = [int(np.argmax(seen[3].mark[:, c] > 0.5)) for c in (rows[0][5], rows[0][-5])]
    assert abs(tops[0] - tops[1]) > 8
    assert "burned already" in api.post(path, {"ids": ids[:1], "fault": "thick"}, 409)["detail"]
    batch = move(api, api.get(f"/batches/{batch['id']}"), "washed", 1)
    batch = look(api, batch, 1, "faint", defects=["coat_left"])
    told = api.put(
        f"/batch-pieces/{ids[0]}/why/answer",
        {"test": "to_the_light", "answer": "darker", "version": why(api, batch, 1)["version"]},
    )
    assert told["causes"][0]["key"] == "coat_thick"


def _faults(batch):
    return Practice.objects.get(job=BatchPiece.objects.get(pk=batch["rows"][0]["id"]).batch.job).faults


def test_a_photo_speaks_for_itself(api, batch):
    """A mark that jumped and one with a patch missing, as their photos say; nobody ticked anything."""
    kept = json.loads((SAMPLES / "artwork-likeness.3.json").read_text())["body"]
    batch = burned_off(api, batch, 1, None)
    piece = BatchPiece.objects.get(batch_id=batch["id"], number=1)
    before = why(api, batch, 1)
    photo = PiecePhoto.objects.create(
        piece=piece, at=timezone.now(), original=b"p", kind="JPEG", points=[], reading=kept
    )
    told = why(api, batch, 1)
    assert told["causes"][0]["key"] == "moved"
    assert told["causes"][0]["chance"] > before["causes"][0]["chance"]
    like = api.get(f"/batch-pieces/{piece.pk}")["photo"]["likeness"]
    assert [seen["sign"] for seen in like["seen"]] == ["doubled"]
    assert "1.2 mm right and 0.4 mm down" in like["seen"][0]["words"]
    assert like["patches"] == []
    photo.reading = kept | {"flaws": kept["flaws"] | {"doubled": None}}
    photo.save()
    like = api.get(f"/batch-pieces/{piece.pk}")["photo"]["likeness"]
    assert [seen["sign"] for seen in like["seen"]] == ["patch_missing"]
    (patch,), face = like["patches"], api.get(f"/jobs/{batch_job(batch)}")["face"]
    assert patch["missing"]
    assert patch["left"] * face["width_mm"] == pytest.approx(face["width_mm"] / 2 + 5.5)
    assert patch["top"] * face["height_mm"] == pytest.approx(face["height_mm"] / 2 + 1.2)
    assert "patch without a mark" in json.dumps(why(api, batch, 1)["causes"])
    photo.reading = kept | {"flaws": None}
    photo.save()
    assert api.get(f"/batch-pieces/{piece.pk}")["photo"]["likeness"]["seen"] is None


def batch_job(batch):
    return Batch.objects.get(pk=batch["id"]).job_id


def test_pieces_side_by_side_say_what_differed(api, stranger, batch):
    RoomNote.objects.create(
        workshop=api.shop, at=timezone.now() - timedelta(hours=1), temperature_c=21, humidity_pct=40
    )
    batch = burned_off(api, batch, 1, "clean")
    batch = burned_off(api, batch, 2, "faint", defects=["patchy"], note="left corner")
    second = BatchPiece.objects.get(batch_id=batch["id"], number=2)
    second.log = [step | {"at": (timezone.now() + timedelta(hours=3)).isoformat()} for step in second.log]
    second.save()
    RoomNote.objects.create(
        workshop=api.shop, at=timezone.now() + timedelta(hours=2), temperature_c=14, humidity_pct=55
    )
    one, two, three, _ = (row["id"] for row in batch["rows"])
    found = api.get(f"/batch-pieces/side-by-side?pieces={two},{one},{two}")
    assert [piece["row"]["number"] for piece in found["pieces"]] == [2, 1]
    assert found["pieces"][0]["row"]["note"] == "left corner"
    assert [other["number"] for other in found["others"]] == [3, 4]
    facts = {fact["name"]: fact for fact in found["facts"]}
    assert facts["air"]["values"] == [14, 21]
    assert facts["humidity"]["values"] == [55, 40]
    assert facts["turn"]["values"] == [2, 1]
    assert {name for name, fact in facts.items() if fact["differs"]} == {"air", "coat stood", "humidity", "turn"}
    assert facts["coat stood"]["values"][0] - facts["coat stood"]["values"][1] == pytest.approx(3, abs=0.1)
    assert facts["speed"]["unit"] == "mm/s"
    alone = api.get(f"/batch-pieces/side-by-side?pieces={three}")
    assert not any(fact["differs"] for fact in alone["facts"])
    assert {f["name"]: f["values"] for f in alone["facts"]}["air"] == ["not told"]
    for wrong in ("", ",".join(map(str, range(1, 7)))):
        assert api.get(f"/batch-pieces/side-by-side?pieces={wrong}", expect=422)["field"] == "pieces"
    for wrong in ("999999", "a", "1e3", "٣", "9" * 30, "-1"):
        api.get(f"/batch-pieces/side-by-side?pieces={wrong}", expect=404)
    stranger.get(f"/batch-pieces/side-by-side?pieces={one},{two}", expect=404)
