"""Every operation of the description that names a row, asked by another workshop: there is none, and it stays."""

import io
import json
import random
import re
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db.models import Sum
from django.test.client import BOUNDARY, MULTIPART_CONTENT, encode_multipart
from django.utils import timezone
from PIL import Image

from keencoat.jobs.models import (
    ArtworkBurn,
    ArtworkPack,
    ArtworkPhoto,
    ArtworkVersion,
    Batch,
    BatchPiece,
    BroughtArchive,
    BroughtCard,
    Job,
    LockedSetting,
    MoneySlip,
    PiecePhoto,
)
from tests.apps.test_contract import body_schema, likely, resolved
from tests.apps.test_faults import SETTING
from tests.apps.test_practice import burned, practised, read_photo

_TRIES = 60
SLIP = {
    "written": "2026-11-28", "seller": ["Garden workshop"], "for_whom": "", "what": "Labels", "details": [], "good": 12,
    "price": "3.90", "tax_share": "0", "currency": "€",
}  # fmt: skip


def stored(name):
    """An answer of each kind as it lies in the database."""
    return json.loads((Path(__file__).parents[1] / "stored" / f"{name}.json").read_text())["body"]


EVIDENCE, CARD = stored("lock-evidence.2"), stored("setting-card.1")
_FITTING = {
    "practice/photo": {}, "coat/practice-shot": {"fault": "even"}, "coat/stamps": {"number": 1},
    "artworks/{artwork_id}/taken": {"version": 1},
    "artworks/{artwork_id}": {"name": "Leaf", "spec": {"placement": {"width_mm": 10}}, "version": 1},
    "turning-devices": {"name": "Chuck", "kind": "chuck", "mm_per_turn": 120, "stands_in_for": "y"},
    "turning-devices/{device_id}": {
        "name": "Chuck", "kind": "chuck", "mm_per_turn": 120, "stands_in_for": "y", "version": 1,
    },
    "ticks": {"asked_turns": 0.5, "measured_mm": 100, "round_mm": 200},
    "jigs/{jig_id}": {"name": "Tags", "version": 1},
    "eyewear/{eyewear_id}": {
        "name": "Goggles", "bands": [{"from_nm": 190, "to_nm": 540, "density": 6}], "version": 1,
    },
    "{batch_id}/gate": {"ticks": []},
    "{batch_id}/moves": {"ids": [1], "seen": "waiting", "to": "placed"},
    "{batch_id}/finish": {"step": "Pads", "done": True, "was": False},
    "{batch_id}/practice/faults": {"ids": [], "fault": "surprise"},
    "{piece_id}/why/answer": {"test": "gauge", "answer": "no", "version": 1},
    "{piece_id}/look": {"rating": "clean", "version": 1},
    "{piece_id}/later-looks": {"trial": "time", "held": True},
    "{job_id}/batches": {"lock_version": 1, "ticks": []},
    "{job_id}/cost": {"version": 0},
    "seat": {"machine_id": 1, "touched": [], "version": 1},
    "{job_id}/jigs": {"name": "Tags", "asked": {"sheet_width_mm": 300, "sheet_height_mm": 200}},
    "{job_id}/placing": {"spec": {"mark": {"width_mm": 10, "height_mm": 10}}, "version": 0},
}  # fmt: skip
"""Bodies where made-up words would be refused before the row is looked for."""


def rows_of(api):
    """One row of each kind that an address may name, by the address's own word for it."""
    job, grid = practised(api)
    burn = burned(api, grid)
    read = read_photo(api, grid)
    shown = api.post(f"/jobs/{job['id']}/coat/practice-shot", {"fault": "even"}, expect=201)
    plan = api.get(f"/jobs/{job['id']}/coat")
    api.post(f"/jobs/{job['id']}/coat/holdups", {"coats": 1, "bare": 900, "coated": 20})
    lines = [{"power_pct": p, "width_um": w} for p, w in ((6, 22), (8, 41), (11, 55), (16, 67), (24, 78), (36, 89))]
    spot = api.post(f"/machines/{api.machine.pk}/line-tests", {"speed_mm_s": 40, "lines": lines}, expect=201)
    own = api.post(
        "/shelf/coats",
        {
            "name": "Pond black",
            "parts": [{"ingredient": "soot", "parts": 1}],
            "carrier": "water",
            "tools": ["soft_brush"],
            "coats": 1,
            "between_min": 5,
            "before_burn_min": 5,
            "film_um": 9,
            "solids_pct": 20,
            "removal": "water",
            "absorbs": ["blue"],
            "serves": ["frost"],
        },
        expect=201,
    )
    device = {"name": "Chuck", "kind": "chuck", "mm_per_turn": 120, "stands_in_for": "y"}
    turns = api.post(f"/machines/{api.machine.pk}/turning-devices", device, expect=201)
    tray = api.post(f"/jobs/{job['id']}/jigs", _FITTING["{job_id}/jigs"], expect=201)
    arms = [{"coat": "tempera_brushed", "coats": n} for n in (1, 2)]
    tried = api.post("/experiments", {"name": "One or two", "like_job": api.job()["id"], "arms": arms}, expect=201)
    names = {"file": SimpleUploadedFile("names.csv", b"Moss"), "kind": "names", "name": "Labels"}
    artwork = api.client.post(f"/api/jobs/{job['id']}/artworks", names).json()
    made = ArtworkVersion.objects.create(
        job_id=job["id"], artwork_id=artwork["id"], version=1, lock_version=1, at=timezone.now(), spec={}, setting={}
    )
    art_burn = ArtworkBurn.objects.create(made=made, state="running", pace=1, asked_at=timezone.now())
    art_pack = ArtworkPack.objects.create(
        artwork_id=artwork["id"], version=1, lock_version=1, spec={}, kind="zip", state="running", pieces=1,
        asked_at=timezone.now(),
    )  # fmt: skip
    art_photo = ArtworkPhoto.objects.create(made=made, at=timezone.now(), original=b"p", kind="JPEG")
    pair = api.post("/eyewear", _FITTING["eyewear/{eyewear_id}"], expect=201)
    batch = Batch.objects.create(
        job_id=job["id"], number=1, started_at=timezone.now(), lock_version=1, setting=SETTING,
        expected={"low": 0.8, "mid": 0.9, "high": 0.95},
        machine_facts={}, machine_name="", gate=[], gate_at=timezone.now(),
    )  # fmt: skip
    piece = BatchPiece.objects.create(batch=batch, number=1, turn=1, since=timezone.now())
    piece_photo = PiecePhoto.objects.create(piece=piece, at=timezone.now(), original=b"p", kind="JPEG")
    lock = LockedSetting.objects.create(
        job_id=job["id"], version=1, at=timezone.now(), settings={"fills": SETTING}, newest_grid=1, evidence=EVIDENCE
    )
    card = BroughtCard.objects.create(workshop=api.shop, uid="a-1", card=CARD, brought_at=timezone.now())
    slip = MoneySlip.objects.create(
        workshop=api.shop, job_id=job["id"], kind="quote", series=api.shop.uid, year=2026, number=1, told=SLIP
    )
    brought = BroughtArchive.objects.create(workshop=api.shop, name="a", state="failed", asked_at=timezone.now())
    return {
        "lock_id": lock.pk, "card_id": card.pk, "archive_id": brought.pk, "slip_id": slip.pk, "row_id": grid["id"],
        "piece_photo_id": piece_photo.pk,
        "eyewear_id": pair["id"], "batch_id": batch.pk, "piece_id": piece.pk,
        "artwork_id": artwork["id"], "art_burn_id": art_burn.pk, "art_photo_id": art_photo.pk,
        "art_pack_id": art_pack.pk, "job_id": job["id"], "grid_id": grid["id"], "burn_id": burn["id"],
        "machine_id": api.machine.pk, "device_id": turns["id"],
        "jig_id": tray["kept"]["id"],
        "lot_id": plan["lots"][0]["id"], "stamp_id": plan["steps"][0]["stamps"][0]["id"],
        "coat_photo": shown["id"], "grid_photo": read["photos"][0]["id"], "spot_test": spot["id"],
        "holdup_test": api.get(f"/jobs/{job['id']}/coat/proof")["holdups"][0]["id"],
        "coat_id": own["id"], "experiment_id": tried["id"], "code": grid["cells"][0]["code"],
    }  # fmt: skip


def address_of(path, ids):
    kind = {
        "photo_id": "grid_photo" if "grid-photos" in path else "coat_photo",
        "test_id": "spot_test" if "spot-tests" in path else "holdup_test",
    }
    words = {
        "kind": "csv",
        "picture": "original",
        "word": "stop",
        "what": "jig",
        "drawing": "svg",
        "turn": "1",
        "of": "grid",
        "name": "cards.csv",
    }
    for name in re.findall(r"{(\w+)}", path):
        path = path.replace("{" + name + "}", str(words.get(name) or ids[kind.get(name, name)]))
    return path


def form_of(schema, operation):
    """A form with a photo for every file, and something for all else that is asked."""
    part = resolved(schema, operation["requestBody"]["content"]["multipart/form-data"]["schema"])
    out = io.BytesIO()
    Image.new("RGB", (400, 300), "grey").save(out, "JPEG")
    made = {}
    for name, value in part["properties"].items():
        file = "binary" in json.dumps(value)
        if file:
            picture = io.BytesIO(out.getvalue())
            picture.name = "photo.jpg"
        if name in part.get("required", ()):
            made[name] = picture if file else "picture" if name == "kind" else 1
    return encode_multipart(BOUNDARY, made)


@pytest.mark.django_db
def test_no_operation_reaches_another_workshops_rows(api, stranger):
    ids = rows_of(api)
    schema = api.client.get("/api/openapi.json").json()
    before = Job.objects.aggregate(Sum("changes")), api.get("/shelf"), api.get("/machines")
    rng, asked, leaks = random.Random(1), 0, {}
    for path, operations in sorted(schema["paths"].items()):
        if "_id}" not in path:
            continue
        for method, operation in sorted(operations.items()):
            address, content = address_of(path, ids), operation.get("requestBody", {}).get("content", {})
            required = [p["name"] for p in operation.get("parameters", ()) if p["in"] == "query" and p["required"]]
            address += "?" + "&".join(f"{name}=1" for name in required) if required else ""
            for _ in range(_TRIES):
                if "multipart/form-data" in content:
                    sent = form_of(schema, operation), MULTIPART_CONTENT
                else:
                    wanted = body_schema(operation)
                    fitting = [body for end, body in _FITTING.items() if path.endswith(end)]
                    made_up = likely(schema, wanted, rng) if wanted else {}
                    sent = json.dumps(fitting[0] if fitting else made_up), "application/json"
                answer = stranger.client.generic(method.upper(), address, *sent)
                # A body that was made up may be refused before the row is looked for: another one.
                if answer.status_code != 422:
                    break
            asked += 1
            if answer.status_code != 404:
                leaks[f"{method} {path}"] = answer.status_code, answer.content[:120]
    print(f"{asked} operations asked by another workshop; {len(leaks)} did not answer that there is no such row")
    assert leaks == {}
    assert asked > 60
    assert (Job.objects.aggregate(Sum("changes")), api.get("/shelf"), api.get("/machines")) == before
