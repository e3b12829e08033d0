"""What comes of artwork: burned on the practice bench over its socket, photographed, compared, kept as evidence."""

import io
from datetime import timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import DatabaseError, transaction
from django.utils import timezone
from PIL import Image
from pypdf import PdfReader

from keencoat.jobs.artwork.services.burning import mend_art_burns, run_art_burn
from keencoat.jobs.artwork.services.packing import mend_packs, run_pack
from keencoat.jobs.artwork.services.photos import mend_art_photos
from keencoat.jobs.job.driving import LOST_AFTER
from keencoat.jobs.models import Artwork, ArtworkBurn, ArtworkPack, ArtworkPhoto, ArtworkVersion, Job
from keencoat.jobs.practice.services import run_art_photo
from tests.apps.conftest import wedge
from tests.apps.test_artwork_chapter import COINS, LEAVES, SETTABLE, ask, bring, packed
from tests.apps.test_faults import SETTING
from tests.apps.test_practice import locked_practice, practised


@pytest.fixture
def tile(api):
    return locked_practice(api, "marker")


def burn(api, art, piece=0):
    asked = api.post(f"/artworks/{art['id']}/burns", {"piece": piece}, expect=201)
    assert asked["state"] == "queued"
    ArtworkBurn.objects.filter(pk=asked["id"]).update(pace=2000)
    run_art_burn(asked["id"])
    return api.get(f"/art-burns/{asked['id']}")


def compared(api, pieces):
    """What came of an artwork once a worker has compared the photos that wait."""
    waits = [photo for photo in pieces["photos"] if photo["waiting"]]
    assert all(photo["likeness"] is photo["trouble"] is None for photo in waits)
    for photo in waits:
        run_art_photo(photo["id"], "none")
    made = ArtworkPhoto.objects.get(pk=waits[0]["id"]).made
    return api.get(f"/artworks/{made.artwork_id}/pieces")


def test_a_photo_is_burned_photographed_and_lies_on_what_was_expected(api, tile):
    art = ask(api, bring(api, tile, "picture", COINS), placement={"width_mm": 24, "quarter_turns": 1})
    pieces = api.get(f"/artworks/{art['id']}/pieces")
    assert (pieces["burn"], pieces["photos"], pieces["versions"]) == (None, [], 0)
    assert "burned to its end" in api.post(f"/artworks/{art['id']}/practice/photo", {}, 409)["detail"]
    came = burn(api, art)
    assert (came["state"], came["lines_done"]) == ("done", came["lines"])
    figures = api.get(f"/artworks/{art['id']}/figures")
    assert came["clock_s"] == pytest.approx(figures["seconds"], rel=0.03)
    pieces = compared(api, api.post(f"/artworks/{art['id']}/practice/photo", {}, expect=201))
    (photo,) = pieces["photos"]
    alike = photo["likeness"]
    assert photo["trouble"] is None
    assert alike["off_l"] < 6
    assert alike["off_l"] <= alike["off_l_most"]
    assert max(abs(mm) for mm in alike["shift_mm"] or [0]) < 0.3
    assert (pieces["burn"]["id"], pieces["versions"]) == (came["id"], 1)
    for picture in ("upright", "difference", "view"):
        sent = api.client.get(f"/api/art-photos/{photo['id']}/{picture}")
        assert Image.open(io.BytesIO(sent.content)).format == "JPEG"

    # The same photo against other artwork is refused, and stays; marked by hand it is compared again.
    original = api.client.get(f"/api/art-photos/{photo['id']}/original").content
    leaf = bring(api, tile, "drawing", LEAVES)
    sent = api.client.post(f"/api/artworks/{leaf['id']}/photos", {"photo": SimpleUploadedFile("p.jpg", original)})
    (other,) = compared(api, sent.json())["photos"]
    assert "does not look like this artwork" in other["trouble"]["message"]
    corners = {"points": [dict(zip("xy", p, strict=True)) for p in photo["points"]], "version": photo["version"]}
    again = api.put(f"/art-photos/{photo['id']}/corners", corners)["photos"][0]
    assert again["version"] == photo["version"] + 1
    assert again["likeness"]["off_l"] == pytest.approx(alike["off_l"], abs=1.5)
    api.put(f"/art-photos/{photo['id']}/corners", corners, 409)
    assert api.client.delete(f"/api/art-photos/{photo['id']}").json()["photos"] == []


def test_what_was_taken_stays_and_another_lock_is_told(api):
    job = api.coated_job()
    api.rate(api.burned_grid(job), lambda c: "clean" if 1 <= c["energy_j_mm2"] / c["dwell_ms"] ** 0.5 <= 4 else "faint")
    api.lock(job, SETTING)
    art = bring(api, job, "drawing", LEAVES)
    codes = lambda: {f["code"] for f in api.get(f"/artworks/{art['id']}/figures")["findings"]}  # noqa: E731
    packed(api, art, "pdf")
    assert not ArtworkVersion.objects.exists()
    api.post(f"/artworks/{art['id']}/taken", {"version": art["version"] + 1}, expect=409)
    for kind in ("gcode", "png", "gcode"):
        assert api.take(art, kind).status_code == 200
    kept = ArtworkVersion.objects.get()
    assert (kept.version, kept.lock_version, kept.as_it_was().asked()) == (1, 1, Artwork.objects.get().asked())
    assert kept.made_with().power_pct == SETTING["power_pct"]
    for wrong in (kept.delete, lambda: ArtworkVersion.objects.update(version=9), kept.artwork.delete):
        with pytest.raises(DatabaseError, match="never rewritten"), transaction.atomic():
            wrong()
    assert "stays" in api.client.delete(f"/api/artworks/{art['id']}").json()["detail"]
    assert "art-setting-changed" not in codes()
    api.lock(job, SETTING | {"power_pct": SETTING["power_pct"] - 1})
    assert "art-setting-changed" in codes()
    api.take(art, "png")
    assert "art-setting-changed" not in codes()
    assert ArtworkVersion.objects.count() == 2
    # The run sheet shows it: name, minutes and the file, on paper too.
    sheet = PdfReader(io.BytesIO(api.client.get(f"/api/jobs/{job['id']}/run-sheet.pdf").content))
    words = "".join(page.extract_text() for page in sheet.pages)
    assert f"artwork{art['id']}-v1-piece1.gcode" in words
    assert sum(len(page.images) for page in sheet.pages) == 1
    assert "No laser is connected" in api.post(f"/artworks/{art['id']}/burns", {}, 409)["detail"]
    shown = api.get(f"/jobs/{job['id']}")
    assert api.client.delete(f"/api/jobs/{job['id']}?version={shown['version']}").status_code == 204
    assert not Job.objects.exists()


def test_a_burn_is_stopped_and_one_that_nobody_drives_is_told(api):
    tile, grid = practised(api, "marker")
    api.post(f"/grids/{grid['id']}/burned")
    api.rate(grid, wedge)
    api.lock(tile, SETTING)
    art = ask(api, bring(api, tile, "picture", COINS), placement={"width_mm": 12})
    asked = api.post(f"/artworks/{art['id']}/burns", {}, expect=201)
    assert "burning already" in api.post(f"/artworks/{art['id']}/burns", {}, 409)["detail"]
    api.post(f"/art-burns/{asked['id']}/stop")
    run_art_burn(asked["id"])
    assert api.get(f"/art-burns/{asked['id']}")["state"] == "stopped"
    assert "nothing left to do" in api.post(f"/art-burns/{asked['id']}/pause", None, 409)["hint"]
    again, calls = [], lambda **of: again.append(of)
    lost = api.post(f"/artworks/{art['id']}/burns", {}, expect=201)
    late = timezone.now() + 2 * LOST_AFTER
    assert mend_art_burns(late, calls) == 0
    ArtworkBurn.objects.filter(pk=lost["id"]).update(state="running", beat_at=timezone.now())
    assert mend_art_burns(timezone.now(), calls) == 0
    assert mend_art_burns(late, calls) == 1
    ended = api.get(f"/art-burns/{lost['id']}")
    assert (ended["state"], again) == ("failed", [])
    assert "fresh piece" in ended["trouble"]


def test_a_file_of_all_pieces_is_called_off_and_one_that_nobody_makes_is_told(api):
    job = api.coated_job()
    api.rate(api.burned_grid(job), wedge)
    api.lock(job, SETTING)
    art = bring(api, job, "names", SETTABLE)
    pack = api.post(f"/artworks/{art['id']}/packs", {"kind": "zip"}, expect=201)
    assert "being made already" in api.post(f"/artworks/{art['id']}/packs", {"kind": "zip"}, 409)["detail"]
    api.post(f"/art-packs/{pack['id']}/stop")
    run_pack(pack["id"])
    ended = api.get(f"/art-packs/{pack['id']}")
    assert (ended["state"], ended["pieces_done"]) == ("stopped", 0)
    assert "nothing to call off" in api.post(f"/art-packs/{pack['id']}/stop", None, 409)["hint"]
    again = api.post(f"/artworks/{art['id']}/packs", {"kind": "zip"}, expect=201)
    api.lock(job, SETTING | {"power_pct": SETTING["power_pct"] - 1})
    run_pack(again["id"])
    assert "Another setting" in api.get(f"/art-packs/{again['id']}")["trouble"]
    lost = api.post(f"/artworks/{art['id']}/packs", {"kind": "zip"}, expect=201)
    assert [p["id"] for p in api.get(f"/artworks/{art['id']}/pieces")["packs"]] == [lost["id"]]
    asked, late = [], timezone.now() + 10 * LOST_AFTER
    assert mend_packs(late, lambda **of: asked.append(of)) == 0
    ArtworkPack.objects.filter(pk=lost["id"]).update(state="running", beat_at=timezone.now())
    assert mend_packs(timezone.now(), asked.append) == 0
    assert mend_packs(late, asked.append) == 1
    assert "ask for it again" in api.get(f"/art-packs/{lost['id']}")["trouble"]
    assert asked == []


def test_engraved_text_comes_out_where_it_was_drawn(api, tile):
    """The head's strokes, read back from its moves, burned, photographed, and laid on what was expected."""
    art = ask(api, bring(api, tile, "text", b"Fern house\nTrail 3"), typeface="strokes", placement={"width_mm": 80})
    assert burn(api, art)["state"] == "done"
    (photo,) = compared(api, api.post(f"/artworks/{art['id']}/practice/photo", {}, expect=201))["photos"]
    assert photo["trouble"] is None
    assert photo["likeness"]["off_l"] < 6
    assert max(map(abs, photo["likeness"]["shift_mm"] or [0])) < 0.3


def test_a_photo_that_nobody_compares_any_more_says_so_and_one_thrown_away_is_left_alone(api, tile):
    art = ask(api, bring(api, tile, "text", b"FERN"), placement={"width_mm": 20})
    burn(api, art)
    (waits,) = api.post(f"/artworks/{art['id']}/practice/photo", {}, expect=201)["photos"]
    assert api.client.get(f"/api/art-photos/{waits['id']}/original").status_code == 404
    now = timezone.now()
    assert mend_art_photos(now + timedelta(minutes=9)) == 0
    assert mend_art_photos(now + timedelta(minutes=11)) == 1
    (lost,) = api.get(f"/artworks/{art['id']}/pieces")["photos"]
    assert (lost["waiting"], lost["trouble"]["message"]) == (False, "What compared this photo is gone.")
    run_art_photo(waits["id"], "none")
    assert api.get(f"/artworks/{art['id']}/pieces")["photos"][0]["trouble"] == lost["trouble"], "told once"
    api.client.delete(f"/api/art-photos/{waits['id']}")
    run_art_photo(waits["id"], "none")
    assert not ArtworkPhoto.objects.exists()
    sent = api.client.post(f"/api/artworks/{art['id']}/photos", {"photo": SimpleUploadedFile("p.jpg", b"no photo")})
    assert (sent.status_code, sent.json()["field"]) == (422, "photo")
    # The piece was burned for another setting than is locked when the worker comes to its photo.
    (late,) = api.post(f"/artworks/{art['id']}/practice/photo", {}, expect=201)["photos"]
    point = api.get(f"/jobs/{tile['id']}/window")["recommendation"]["point"]
    api.lock(tile, point | {"speed_mm_s": point["speed_mm_s"] * 0.9})
    run_art_photo(late["id"], "none")
    (told,) = api.get(f"/artworks/{art['id']}/pieces")["photos"]
    assert "version 2 is locked now" in told["trouble"]["message"]
