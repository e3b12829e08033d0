"""The Artwork chapter over the API: brought, changed, looked at, taken; and what goes wrong."""

import io
import json
import time
import zipfile
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import png
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from gcodeparser import parse_gcode_lines
from PIL import Image
from pypdf import PdfReader
from skimage.data import coins
from svgelements import SVG, Path

from keencoat.core.artwork import ArtKind
from keencoat.core.errors import MissingError
from keencoat.jobs.artwork.services.bringing import source_of
from keencoat.jobs.artwork.services.packing import run_pack
from keencoat.jobs.models import Artwork, Job
from keencoat.logbook.models import LogEntry
from tests.apps.conftest import wedge
from tests.apps.test_faults import SETTING
from tests.apps.test_practice import burned, practised, read_photo

LEAVES = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="30mm" viewBox="0 0 60 30">'
    b'<g id="back"><rect x="5" y="5" width="20" height="20"/></g>'
    b'<g id="front"><circle cx="45" cy="15" r="10"/></g></svg>'
)
SETTABLE = "Acer campestre,field maple\nRosa canina,dog rose\nMoss\nŁubin,жасмин\n".encode()
LABELS = "name,note\nAcer campestre,field maple\nRosa canina,dog rose\nMoss\n枫\n".encode()


def photo_of(grey):
    out = io.BytesIO()
    Image.fromarray(grey).save(out, "PNG")
    return out.getvalue()


COINS = photo_of(coins())


def bring(api, job, kind, data, expect=201, name="Art"):
    answer = api.client.post(
        f"/api/jobs/{job['id']}/artworks", {"file": SimpleUploadedFile("f", data), "kind": kind, "name": name}
    )
    assert answer.status_code == expect, answer.content.decode()[:400]
    return answer.json()


def ask(api, art, expect=200, **changes):
    spec = art["spec"] | {k: v for k, v in changes.items() if k != "tone"}
    spec["tone"] = spec["tone"] | changes.get("tone", {})
    return api.put(f"/artworks/{art['id']}", {"name": art["name"], "spec": spec, "version": art["version"]}, expect)


def packed(api, art, kind):
    """All pieces in one file, made by the worker's own code."""
    asked = api.post(f"/artworks/{art['id']}/packs", {"kind": kind}, expect=201)
    assert (asked["state"], asked["pieces_done"]) == ("queued", 0)
    assert "not made" in api.get(f"/art-packs/{asked['id']}/file", expect=404)["detail"]
    run_pack(asked["id"])
    made = api.get(f"/art-packs/{asked['id']}")
    assert (made["state"], made["pieces_done"]) == ("done", made["pieces"])
    return api.client.get(f"/api/art-packs/{asked['id']}/file").content


@pytest.fixture
def job(api):
    made = api.coated_job()
    api.rate(api.burned_grid(made), wedge)
    api.lock(made, SETTING)
    return made


def pixels(answer):
    return np.asarray(Image.open(io.BytesIO(answer.content)).convert("L")).astype(float)


def test_a_picture_is_placed_toned_seen_and_taken(api, job):
    art = bring(api, job, "picture", COINS, name="Coins")
    assert art["spec"]["screen"] == "threshold", "glass starts with one tone"
    room_w, room_h = 100 - 6, 80 - 6
    height, width = coins().shape
    assert art["height_per_width"] == pytest.approx(height / width)
    assert art["spec"]["placement"]["width_mm"] == pytest.approx(min(room_w, room_h * width / height), abs=0.02)
    art = ask(api, art, screen="stucki", placement={"width_mm": 40, "x_mm": 10, "y_mm": -5}, tone={"gamma": 1.3})
    assert art["version"] == 2
    figures = api.get(f"/artworks/{art['id']}/figures")
    assert {f["code"] for f in figures["findings"]} >= {"art-one-tone"}
    assert figures["seconds"] > figures["lit_mm2"] / 0.1 / SETTING["speed_mm_s"]
    assert figures["batch_seconds"] == pytest.approx(12 * figures["seconds"])
    assert figures["fill_k"][0] <= figures["fill_k"][1]

    sent = api.take(art, "png").content
    dots = np.asarray(Image.open(io.BytesIO(sent)))
    assert dots.shape == (round(40 * height / width / 0.1), 400)
    assert (~dots).sum() == figures["dots"]
    resolution = dict(png.Reader(bytes=sent).chunks())[b"pHYs"]
    assert resolution == (10_000).to_bytes(4, "big") * 2 + b"\x01"

    lines = b"".join(api.take(art, "gcode").streaming_content).decode()
    x = lit = 0.0
    for line in parse_gcode_lines(lines):
        to_x = line.params.get("X", x)
        if line.command_str == "G1" and line.params.get("S"):
            lit += abs(to_x - x)
            assert min(x, to_x) >= 50 + 10 - 20 - 1e-6
            assert max(x, to_x) <= 50 + 10 + 20 + 1e-6
        x = to_x
    assert lit == pytest.approx(0.1 * figures["dots"], rel=1e-6)
    assert "Cloche labels, Coins v2, setting v1" in lines

    burned = pixels(api.client.get(f"/api/artworks/{art['id']}/view.png?way=burned&px=400"))
    assert burned.shape == (320, 400)
    assert burned[160, 60] < 60, "dark glass beside the picture"
    thick, thin = (
        pixels(api.client.get(f"/api/artworks/{art['id']}/view.png?way=burned&px=400&film_pct={f}")) for f in (30, -30)
    )
    assert thick.mean() < burned.mean() < thin.mean()
    close = pixels(api.client.get(f"/api/artworks/{art['id']}/loupe.png?way=sent&x_mm=10&y_mm=-5"))
    assert close.shape == (480, 480)
    assert set(np.unique(close[3::6, 3::6])) == {close.min(), close.max()}
    middle = dots[dots.shape[0] // 2 - 40 : dots.shape[0] // 2 + 40, 160:240]
    assert (close[3::6, 3::6] > 128).mean() == pytest.approx(middle.mean(), abs=0.03)
    assert pixels(api.client.get(f"/api/artworks/{art['id']}/view.png?way=doubt")).std() > 1
    assert "outlines" in api.take(art, "svg").json()["detail"]


@pytest.mark.parametrize("asked", ["figures", "view.png?way=doubt", "loupe.png?x_mm=0&y_mm=0"])
def test_what_takes_long_is_put_off_and_comes(api, job, monkeypatch, asked):
    art = bring(api, job, "picture", COINS, name="Coins")
    source_of(art["id"], ArtKind.PICTURE)
    monkeypatch.setattr("keencoat.shop.soon._worker", ThreadPoolExecutor(1))
    monkeypatch.setattr("keencoat.shop.soon.PATIENCE_S", 0.0)
    problem = api.client.get(f"/api/artworks/{art['id']}/{asked}")
    assert (problem.status_code, problem["Retry-After"]) == (202, "1")
    assert "worked out" in problem.json()["detail"]
    coarse = pixels(api.client.get(f"/api/artworks/{art['id']}/view.png?way=sent&is_coarse=true&px=100"))
    for _ in range(200):
        answer = api.client.get(f"/api/artworks/{art['id']}/{asked}")
        if answer.status_code != 202:
            break
        time.sleep(0.05)
    assert answer.status_code == 200
    monkeypatch.setattr("keencoat.shop.soon.PATIENCE_S", 60.0)
    fine = pixels(api.client.get(f"/api/artworks/{art['id']}/view.png?way=sent&px=100"))
    assert np.corrcoef(coarse.ravel(), fine.ravel())[0, 1] > 0.97, "a first look is there at once"


def test_what_is_thrown_away_meanwhile_is_told(api, job):
    with pytest.raises(MissingError, match="thrown away"):
        source_of(bring(api, job, "picture", COINS, name="Coins")["id"] + 1, ArtKind.PICTURE)


def test_a_list_of_photos_reads_none_of_their_points(api, job, monkeypatch):
    broken = COINS[: len(COINS) // 2]
    art = bring(api, job, "picture", COINS, name="Coins")
    Artwork.objects.filter(pk=art["id"]).update(source=broken)
    (shown,) = api.get(f"/jobs/{job['id']}/artworks")["artworks"]
    assert shown["height_per_width"] == art["height_per_width"] == pytest.approx(303 / 384)
    assert "broken" in api.get(f"/artworks/{art['id']}/figures", expect=422)["detail"]


def test_a_drawing_is_taken_group_by_group_and_mirrored_where_it_is_seen_through(api):
    sign = api.coated_job(substrate="clear_acrylic", process="back_engrave", coat="tempera_thin")
    api.rate(api.burned_grid(sign), wedge)
    api.lock(sign, SETTING)
    art = bring(api, sign, "drawing", LEAVES, name="Leaves")
    assert art["groups"] == ["back", "front"]
    whole = api.get(f"/artworks/{art['id']}/figures")
    art = ask(api, art, group="back", placement={"width_mm": 60, "x_mm": 5, "y_mm": 0})
    half = api.get(f"/artworks/{art['id']}/figures")
    assert half["lit_mm2"] == pytest.approx(400, rel=0.01) != whole["lit_mm2"]
    assert half["fill_mm"] == pytest.approx(20, abs=0.6)
    text = api.take(art, "svg").content.decode()
    (path,) = [e for e in SVG.parse(io.StringIO(text), ppi=25.4).elements() if isinstance(e, Path)]
    left, top, right, bottom = path.bbox()
    # The square lies left of the page's middle, 5 mm right of the piece's: seen from behind it is right of it.
    assert (left, right) == pytest.approx((50 - (5 - 5), 50 - (5 - 25)), abs=0.01)
    assert (top, bottom) == pytest.approx((30, 50), abs=0.01)
    lines = b"".join(api.take(art, "gcode").streaming_content).decode()
    xs = [line.params["X"] for line in parse_gcode_lines(lines) if line.params.get("S")]
    assert (min(xs), max(xs)) == pytest.approx((50, 70), abs=0.1)
    assert "mirrored" in lines
    assert (
        "It has back, front"
        in ask(api, art, group="root")["name"] + api.get(f"/artworks/{art['id']}/figures", expect=422)["hint"]
    )


def test_a_list_of_names_is_one_piece_each_with_a_proof(api, job):
    art = bring(api, job, "names", LABELS, name="Bed labels")
    assert art["pieces"] == 4
    names = api.get(f"/artworks/{art['id']}/names")
    assert [n["first"] for n in names] == ["Acer campestre", "Rosa canina", "Moss", "枫"]
    assert len({n["capital_mm"] for n in names[:3]}) == 1
    assert "枫" in names[3]["why"]
    assert {f["code"] for f in api.get(f"/artworks/{art['id']}/figures")["findings"]} >= {"art-no-fit", "art-not-all"}
    one, three = (api.get(f"/artworks/{art['id']}/figures?piece={n}") for n in (0, 2))
    assert (one["label"], three["label"]) == ("Acer campestre", "Moss")
    assert one["dots"] > three["dots"] > 0
    assert api.get(f"/artworks/{art['id']}/figures?piece=3")["dots"] == 0
    pdf = PdfReader(io.BytesIO(packed(api, art, "pdf")))
    words = "".join(page.extract_text() for page in pdf.pages)
    for expected in ("Acer campestre", "Moss", "Left out", "setting version 1", "prediction"):
        assert expected in words
    # Nothing is made of it while a name would be lost, whichever way it is asked for.
    refused = api.post(f"/artworks/{art['id']}/taken", {"version": art["version"]}, expect=422)
    assert "枫, which stand in row 5" in refused["detail"]
    assert "not taken" in api.get(f"/artworks/{art['id']}/files/gcode", expect=409)["detail"]
    refused = api.post(f"/artworks/{art['id']}/packs", {"kind": "zip"}, expect=422)
    assert (refused["field"], "枫" in refused["detail"]) == ("typeface", True)
    art = bring(api, job, "names", SETTABLE, name="Bed labels")
    archive = zipfile.ZipFile(io.BytesIO(packed(api, art, "zip")))
    assert len(archive.namelist()) == 8
    assert archive.read(archive.namelist()[1]).startswith(b"(Keen Coat: Cloche labels, Bed labels v1, Acer campestre")
    art = ask(api, art, one_size=False)
    own = api.get(f"/artworks/{art['id']}/names")
    assert own[2]["capital_mm"] > 1.5 * own[0]["capital_mm"]
    assert "no name 8" in api.get(f"/artworks/{art['id']}/figures?piece=7", expect=422)["detail"]


def test_without_a_lock_artwork_waits_and_a_new_lock_makes_it_again(api):
    made = api.coated_job()
    art = bring(api, made, "drawing", LEAVES)
    assert api.get(f"/jobs/{made['id']}/artworks")["base"] is None
    assert "No setting is locked" in api.get(f"/artworks/{art['id']}/figures", expect=409)["detail"]
    api.rate(api.burned_grid(made), wedge)
    api.lock(made, SETTING)
    first = api.get(f"/artworks/{art['id']}/figures")
    base = api.get(f"/jobs/{made['id']}/artworks")["base"]
    assert (base["lock_version"], base["darkens"], base["wedge"]) == (1, False, "")
    assert 0.05 < base["line_mm"] < 0.4
    api.lock(made, SETTING | {"speed_mm_s": SETTING["speed_mm_s"] * 0.8})
    second = api.get(f"/artworks/{art['id']}/figures")
    assert second["seconds"] > 1.1 * first["seconds"]
    assert api.get(f"/jobs/{made['id']}/artworks")["base"]["stamp"] != base["stamp"]
    curve = api.get(f"/jobs/{made['id']}/tone-curve?screen=jarvis_judice_ninke")
    assert (curve["wedge"], curve["steps"]) == ("", [])
    mids = [p["fullness"]["mid"] for p in curve["points"]]
    assert mids == sorted(mids)
    assert all(p["fullness"]["low"] <= p["fullness"]["mid"] <= p["fullness"]["high"] for p in curve["points"])


def half_of(curve):
    return next(p["fullness"] for p in curve["points"] if p["share"] == 0.5)


def test_a_grey_wedge_burned_at_the_locked_setting_tells_what_dots_gain(api):
    """On the practice tile, well inside its window, dots gain: half of them are over half full. Where they come out
    fuller than was guessed, greys get fewer of them; else more."""
    tile, grid = practised(api, "marker")
    burned(api, grid)
    read = read_photo(api, grid)
    said = {c["code"]: c["proposal"]["rating"] for c in read["cells"]}
    api.rate(grid, lambda cell: said[cell["code"]])
    point = next(cell for cell in grid["cells"] if cell["code"] == "B3")
    api.lock(tile, point)
    art = bring(api, tile, "picture", photo_of(np.full((100, 100), 128, np.uint8)))
    guessed = api.get(f"/artworks/{art['id']}/figures")["lit_mm2"]
    usual = half_of(api.get(f"/jobs/{tile['id']}/tone-curve"))["mid"]
    at = {k: point[k] for k in ("power_pct", "speed_mm_s", "interval_mm", "passes")}
    assert (
        "needs a setting" in api.post(f"/jobs/{tile['id']}/grids", {"kind": "wedge", "interval_mm": 0.1}, 422)["detail"]
    )
    steps = api.post(
        f"/jobs/{tile['id']}/grids", {"kind": "wedge", "interval_mm": at["interval_mm"], "at": at}, expect=201
    )
    assert [c["grey_pct"] for c in steps["cells"]] == [12.5 * n for n in range(1, 9)]
    assert {tuple(c[k] for k in at) for c in steps["cells"]} == {tuple(at.values())}
    burned(api, steps)
    api.post(f"/grids/{steps['id']}/practice/photo", {}, expect=201)
    curve = api.get(f"/jobs/{tile['id']}/tone-curve")
    assert curve["wedge"] == steps["label"]
    assert [s["share"] for s in curve["steps"]] == [n / 8 for n in range(1, 9)]
    half = half_of(curve)
    assert half["low"] < half["mid"] < half["high"]
    assert half["mid"] > 0.52
    measured = api.get(f"/artworks/{art['id']}/figures")["lit_mm2"]
    assert abs(half["mid"] - usual) < 0.03 or (measured < guessed) == (half["mid"] > usual)


@pytest.mark.parametrize(
    ("kind", "data", "says"),
    [
        ("picture", b"", "empty"),
        ("picture", COINS[:900], "broken"),
        ("picture", LEAVES, "not a photo"),
        ("drawing", COINS, "no SVG"),
        ("drawing", LEAVES.replace(b"<rect", b"<script/><rect"), "a script"),
        ("names", b"a\n" * 1500, "1500 names"),
        ("names", COINS, "no text"),
        ("text", COINS, "no text"),
    ],
)
def test_what_cannot_be_read_is_refused_beside_the_file(api, kind, data, says):
    made = api.job()
    told = bring(api, made, kind, data, expect=422)
    assert says in told["detail"]
    assert told["field"] == "file"
    assert told["hint"]
    assert not Artwork.objects.exists()


def test_knobs_out_of_reach_name_themselves_and_nothing_is_lost(api, job):
    art = bring(api, job, "picture", COINS)
    for changes, field in (
        ({"tone": {"black": 0.9, "white": 0.92}}, "white"),
        ({"placement": {"width_mm": 0.2}}, "width_mm"),
        ({"placement": {"width_mm": 90, "quarter_turns": 7}}, "quarter_turns"),
        ({"bleed_mm": 9}, "bleed_mm"),
        ({"tone": {"crop": {"left": 0.8, "right": 0.2, "top": 0, "bottom": 1}}}, "crop.right"),
    ):
        assert ask(api, art, expect=422, **changes)["field"].endswith(field)
    assert api.get(f"/artworks/{art['id']}") == art
    wide = ask(api, art, placement={"width_mm": 1500})
    assert "million dots" in api.get(f"/artworks/{art['id']}/figures", expect=422)["detail"]
    assert "changed elsewhere" in ask(api, art, expect=409)["detail"]
    assert ask(api, wide, screen="threshold")["version"] == 3
    for query in ("px=9000", "film_pct=80", "px=64&film_pct=nan", "piece=-1"):
        api.get(f"/artworks/{art['id']}/view.png?{query}", expect=422)
    api.get(f"/artworks/{art['id']}/loupe.png?x_mm=1e308&y_mm=0", expect=422)


@pytest.mark.parametrize("kind", ["TIFF", "HEIF", "JPEG"])
def test_pictures_of_other_kinds_come_in_too(api, kind):
    out = io.BytesIO()
    Image.fromarray(coins()).save(out, kind)
    art = bring(api, api.job(), "picture", out.getvalue())
    assert art["height_per_width"] == pytest.approx(coins().shape[0] / coins().shape[1])


def test_artwork_counts_as_a_change_of_its_job_and_is_told_in_the_log(api, job):
    before = Job.objects.get(pk=job["id"]).changes
    art = bring(api, job, "drawing", LEAVES, name="Leaves")
    assert Job.objects.get(pk=job["id"]).changes > before
    api.call("DELETE", f"/artworks/{art['id']}", expect=204)
    api.get(f"/artworks/{art['id']}", expect=404)
    told = [e.text for e in LogEntry.objects.filter(kind="artwork")]
    assert sorted(told) == ["Artwork brought: Leaves", "Artwork thrown away: Leaves"]
    assert json.dumps(api.get("/logbook?text=Leaves"))
