"""A batch on the practice laser: burned, looked at, photographed beside what was expected."""

import io
from datetime import timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone
from PIL import Image

from keencoat.jobs.artwork.services.burning import run_art_burn
from keencoat.jobs.batch.services.photos import mend_piece_photos
from keencoat.jobs.models import ArtworkBurn, BatchPiece
from keencoat.jobs.practice.services import run_piece_photo
from tests.apps.test_artwork_chapter import ask
from tests.apps.test_batch import begun, look, move, names_for, now_to_do
from tests.apps.test_practice import locked_practice


@pytest.fixture
def tile(api):
    return locked_practice(api, "marker")


def test_the_practice_laser_burns_a_batch(api, tile):
    assert "burns artwork" in begun(api, tile, 409)["detail"]
    art = names_for(api, tile, "Moss", "Fern", "Sage")
    ask(api, art, placement={"width_mm": 30, "height_mm": 12})
    batch = begun(api, tile, artwork_id=art["id"])
    assert batch["pace"] >= 1
    for state in ("placed", "framed", "burning"):
        batch = move(api, batch, state, 1)
    laser = batch["rows"][0]["laser"]
    assert (laser["state"], now_to_do(batch)[0]) == ("queued", ("watch", [1]))
    ArtworkBurn.objects.filter(pk=laser["id"]).update(pace=2000)
    run_art_burn(laser["id"])
    batch = api.get(f"/batches/{batch['id']}")
    ended = ArtworkBurn.objects.get(pk=laser["id"])
    assert (batch["rows"][0]["state"], batch["rows"][0]["laser"], ended.number) == ("cooling", None, 0)
    # Whoever presses next finds it ended, and what was derived is kept then.
    batch = move(api, batch, "washed", 1)
    row = BatchPiece.objects.get(pk=batch["rows"][0]["id"])
    assert [note["to"] for note in row.log] == ["placed", "framed", "burning", "cooling", "washed"]
    assert row.log[3]["by"] == "the practice laser"
    batch = look(api, batch, 1, "clean")
    first, second, *_ = batch["rows"]
    seen = api.get(f"/batch-pieces/{first['id']}/practice/look.png")
    assert Image.open(io.BytesIO(seen.content)).size == (1400, 1400)
    assert "is waiting" in api.post(f"/batch-pieces/{second['id']}/practice/photo", {}, 409)["detail"]
    api.get(f"/batch-pieces/{second['id']}/practice/look.png", expect=409)
    photo = api.post(f"/batch-pieces/{first['id']}/practice/photo", {}, 201)["photo"]
    assert photo["waiting"]
    run_piece_photo(photo["id"], "none")
    photo = api.get(f"/batch-pieces/{first['id']}")["photo"]
    assert (photo["waiting"], photo["trouble"]) == (False, None)
    assert photo["likeness"]["off_l"] < 10
    assert photo["likeness"]["faint_share"] < 0.2
    for kind in ("original", "view", "upright", "difference"):
        assert Image.open(io.BytesIO(api.get(f"/piece-photos/{photo['id']}/{kind}").content)).width > 100
    # Another photo takes its place; one that shows something else stays, with the reason.
    grey = io.BytesIO()
    Image.new("RGB", (900, 700), "grey").save(grey, "JPEG")
    file = SimpleUploadedFile("grey.jpg", grey.getvalue())
    sent = api.client.post(f"/api/batch-pieces/{first['id']}/photo", {"photo": file}).json()["photo"]
    run_piece_photo(sent["id"], "")
    told = api.get(f"/batch-pieces/{first['id']}")["photo"]
    assert (told["id"], told["likeness"]) == (sent["id"], None)
    assert told["trouble"]["field"] == "photo"
    api.get(f"/piece-photos/{photo['id']}/original", expect=404)
    corners = {"points": [{"x": x, "y": y} for x, y in ((0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9))], "version": 1}
    api.put(f"/piece-photos/{sent['id']}/corners", corners | {"version": 3}, 409)
    assert api.put(f"/piece-photos/{sent['id']}/corners", corners)["photo"]["version"] == 2
    waits = api.post(f"/batch-pieces/{first['id']}/practice/photo", {}, 201)["photo"]
    assert mend_piece_photos(timezone.now()) == 0
    assert mend_piece_photos(timezone.now() + timedelta(minutes=11)) == 1
    assert api.get(f"/batch-pieces/{first['id']}")["photo"]["trouble"]["message"].startswith("What compared")
    assert waits["id"] != sent["id"]
    for state in ("placed", "framed", "burning"):
        batch = move(api, batch, state, 2)
    laser = batch["rows"][1]["laser"]
    batch = move(api, batch, "stopped", 2)
    assert ArtworkBurn.objects.get(pk=laser["id"]).wanted == "stop"
    row = batch["rows"][1]
    assert [r["number"] for r in api.post(f"/batch-pieces/{row['id']}/redo")["rows"]] == [1, 2, 3, 2]
