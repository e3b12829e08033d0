"""Jigs as the API has them: laid out, kept in the shop, found by size, laid on the bed by touched crosses; a load of
names in one file that goes on from where it stopped."""

import io
import math
from xml.etree.ElementTree import fromstring

import ezdxf
import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from gcodeparser import parse_gcode_lines

from keencoat.jobs.models import ArtworkVersion
from tests.apps.test_placing_chapter import CHUCK, codes, device, locked, tell, tumbler

TAGS = {"name": "Hanging tags", "width_mm": 50, "height_mm": 30, "pieces": 24}
TRAY = {"sheet_width_mm": 300, "sheet_height_mm": 110, "hole_deg": 90}


@pytest.mark.django_db
def test_a_jig_of_ten_hanging_tags_is_laid_out_in_loads_and_taken(api):
    job = api.job(name="Hanging tags", width_mm=50, height_mm=30, pieces=24)
    sheet = "sheet_width_mm=300&sheet_height_mm=110"
    jig = api.get(f"/jobs/{job['id']}/jig?{sheet}&hole_deg=90")
    assert [p["number"] for p in jig["pockets"]] == list(range(1, 11))
    assert [(x["first_piece"], x["last_piece"]) for x in jig["loads"]] == [(1, 10), (11, 20), (21, 24)]
    assert len(jig["hole_lines"]) == 10
    assert np.ptp(np.array(jig["edge"]), axis=0) == pytest.approx((50.4, 30.4))
    assert api.get(f"/jobs/{job['id']}/jig?{sheet}")["hole_lines"] == []
    drawn = fromstring(api.get(f"/jobs/{job['id']}/sheets/jig.svg?{sheet}&hole_deg=90").content)
    groups = {g.get("id"): len(g) for g in drawn if g.get("id")}
    assert (drawn.get("width"), groups["cut"]) == ("300mm", 10)
    for wrong, field in (
        ("sheet_width_mm=50&sheet_height_mm=50", "sheet_width_mm"),
        (f"{sheet}&play_mm=0.1", "play_mm"),
        ("sheet_width_mm=nan&sheet_height_mm=50", "wish.sheet_width_mm"),
        ("sheet_width_mm=1e308&sheet_height_mm=50", "wish.sheet_width_mm"),
        (f"{sheet}&gap_mm=0", "gap_mm"),
    ):
        refused = api.get(f"/jobs/{job['id']}/jig?{wrong}", expect=422)
        assert refused["field"].endswith(field.removeprefix("wish."))
    api.get(f"/jobs/{api.job(**tumbler())['id']}/jig?{sheet}", expect=409)


def text_of(api, address):
    return b"".join(api.client.get(f"/api{address}")).decode()


def lit_ends(text):
    """Where lit moves end, shape (n, 2): an axis that stands still is left out of a line."""
    at, lit = {"X": 0.0, "Y": 0.0}, []
    for line in parse_gcode_lines(text):
        at |= {axis: line.params[axis] for axis in "XY" if axis in line.params}
        if line.params.get("S"):
            lit.append((at["X"], at["Y"]))
    return np.array(lit)


@pytest.mark.django_db
def test_a_jig_is_kept_in_the_shop_and_found_again_by_the_size_of_pieces(api, stranger):
    job = api.job(**TAGS)
    kept = api.post(f"/jobs/{job['id']}/jigs", {"name": "Tag tray", "asked": TRAY}, expect=201)["kept"]
    assert (kept["pockets"], kept["machine_id"], kept["touched"], kept["version"]) == (10, None, [], 1)
    api.post(f"/jobs/{job['id']}/jigs", {"name": "", "asked": TRAY}, expect=422)
    api.post(f"/jobs/{job['id']}/jigs", {"name": "Small", "asked": TRAY | {"sheet_width_mm": 50}}, expect=422)
    near = api.job(**TAGS | {"name": "More tags", "width_mm": 49.5})
    far = api.job(**TAGS | {"name": "Wide tags", "width_mm": 60})
    assert api.get(f"/jobs/{near['id']}/jigs") == [{"kept": kept, "play_left_mm": pytest.approx(0.9)}]
    assert api.get(f"/jobs/{far['id']}/jigs") == []
    refused = api.get(f"/jobs/{far['id']}/jigs/{kept['id']}", expect=422)
    assert (refused["field"], "60 × 30 mm do not lie well in Tag tray" in refused["detail"]) == ("jig_id", True)
    assert api.get(f"/jobs/{api.job(**tumbler())['id']}/jigs") == []
    assert api.get("/jigs") == [kept]
    assert stranger.get("/jigs") == []
    drawn = fromstring(api.get(f"/jigs/{kept['id']}/jig.svg").content)
    assert {g.get("id"): len(g) for g in drawn if g.get("id")}["cut"] == 10
    plate = ezdxf.read(io.StringIO(api.get(f"/jigs/{kept['id']}/jig.dxf").content.decode()))
    assert plate.audit().errors == []
    away = api.put(f"/jigs/{kept['id']}", {"name": "Old tray", "put_away": True, "version": 1})
    assert (away["name"], away["put_away"], away["version"]) == ("Old tray", True, 2)
    assert api.get(f"/jobs/{near['id']}/jigs") == []
    api.put(f"/jigs/{kept['id']}", {"name": "Tag tray", "version": 1}, expect=409)


@pytest.mark.django_db
def test_a_jig_on_the_bed_burns_its_load_of_names_and_goes_on_where_it_stopped(api):
    job, _ = locked(api, **TAGS)
    kept = api.post(f"/jobs/{job['id']}/jigs", {"name": "Tag tray", "asked": TRAY}, expect=201)["kept"]
    at = f"/jobs/{job['id']}/jigs/{kept['id']}"
    seat = {"machine_id": api.machine.pk, "version": 1}
    before = api.get(at)
    assert (before["lies"], before["warmth"], before["closest_mm"]) == (None, None, None)
    assert [s["pocket"] for s in before["loads"][0]] == [*range(1, 11)]
    assert api.get(f"{at}/load.gcode?number=1", expect=409)["detail"].startswith("Tag tray lies on no bed")
    assert api.put(f"/jigs/{kept['id']}/seat", seat | {"touched": [[9, 9], [9, 9.5]]}, 422)["field"] == "touched"
    assert api.put(f"/jigs/{kept['id']}/seat", seat | {"touched": [[9, 9]]}, 422)["field"] == "touched"
    api.put(f"/jigs/{kept['id']}/seat", seat | {"touched": [[9, 9], [90, 99]], "machine_id": 999}, 404)
    # It lies 20 mm from the left, 30 mm up, turned by 2°.
    cos, sin = math.cos(math.radians(2)), math.sin(math.radians(2))
    crosses = [[20 + cos * x - sin * y, 30 + sin * x + cos * y] for x, y in before["jig"]["crosses_mm"]]
    api.put(f"/jigs/{kept['id']}/seat", seat | {"touched": crosses})
    api.put(f"/jigs/{kept['id']}/seat", seat | {"touched": crosses}, 409)
    assert api.get(f"{at}/load.gcode?number=1", expect=409)["detail"] == "No artwork is placed."
    names = ["Moss", "Fern", "Sage", "Mint", "Dill", "Leek", "Kale", "Yew", "Oak", "Elm", "Ash", "Box"]
    file = {"file": SimpleUploadedFile("names.csv", "\n".join(names).encode()), "kind": "names", "name": "Labels"}
    art = api.client.post(f"/api/jobs/{job['id']}/artworks", file).json()
    tell(api, job, artwork=art["id"])
    found = api.get(at)
    assert (found["lies"]["turn_deg"], found["lies"]["residual_mm"]) == (pytest.approx(2), pytest.approx(0, abs=1e-6))
    assert found["findings"] == []
    load = found["loads"][0]
    assert sorted((s["piece"], s["pocket"], s["name"]) for s in load) == [
        (n, n, name) for n, name in enumerate(names[:10], 1)
    ]
    assert found["warmth"]["cool_s"][0] <= found["warmth"]["cool_s"][1]
    assert {s["name"] for s in found["loads"][1]} == {"Ash", "Box", ""}
    text = text_of(api, f"{at}/load.gcode?number=1")
    assert ArtworkVersion.objects.get().artwork_id == art["id"]
    order = [line for line in text.splitlines() if line.startswith("(artwork of piece")]
    pockets = list(dict.fromkeys(int(line.split("pocket ")[1].split(":")[0]) for line in order))
    assert pockets == [s["pocket"] for s in load]
    lit = lit_ends(text)
    middles = np.array(found["lies"]["pockets_mm"])
    # What is lit lies on the pieces, each turned by 2° where it lies.
    away = lit[:, None] - middles[None]
    x, y = cos * away[..., 0] + sin * away[..., 1], cos * away[..., 1] - sin * away[..., 0]
    assert ((abs(x) < 25) & (abs(y) < 15)).any(axis=1).all()
    rest = text_of(api, f"{at}/load.gcode?number=1&from_pocket={pockets[4]}")
    assert f"in pocket {pockets[3]}:" not in rest
    assert [p for p in pockets if f"in pocket {p}:" in rest] == pockets[4:]
    second = text_of(api, f"{at}/load.gcode?number=2")
    assert [n for n in range(1, 25) if f"of piece {n} in" in second] == [11, 12]
    for asked, field in (("number=3", "number"), ("number=9", "number"), ("number=2&from_pocket=3", "from_pocket")):
        assert api.get(f"{at}/load.gcode?{asked}", expect=422)["field"] == field
    # Too far out: the head would have to leave the bed.
    out = [[x + 60, y] for x, y in crosses]
    api.put(f"/jigs/{kept['id']}/seat", seat | {"touched": [[x - 60, y] for x, y in crosses], "version": 2})
    assert codes(api.get(at)) == ["jig-off-bed"]
    assert api.get(f"{at}/load.gcode?number=1", expect=422)["field"] == "touched"
    api.put(f"/jigs/{kept['id']}/seat", seat | {"touched": out[::-1], "version": 3})
    assert "jig-turned" in codes(api.get(at))
    api.put(f"/jigs/{kept['id']}/seat", seat | {"touched": [out[0], [out[1][0] + 4, out[1][1]]], "version": 4})
    assert "jig-stretched" in codes(api.get(at))
    off = api.put(f"/jigs/{kept['id']}/seat", seat | {"touched": [], "version": 5})
    assert (off["machine_id"], off["seated_at"], api.get(at)["lies"]) == (None, None, None)


@pytest.mark.django_db
def test_a_mirrored_jig_is_for_marks_that_are_seen_from_behind(api):
    job, _ = locked(api, **TAGS)
    tray = {"name": "Behind", "asked": TRAY | {"mirrored": True}}
    kept = api.post(f"/jobs/{job['id']}/jigs", tray, expect=201)["kept"]
    crosses = [[5 + 40, 5 + 40], [295 + 40, 105 + 40]]
    api.put(f"/jigs/{kept['id']}/seat", {"machine_id": api.machine.pk, "touched": crosses, "version": 1})
    file = {"file": SimpleUploadedFile("names.csv", b"Moss"), "kind": "names", "name": "Labels"}
    tell(api, job, artwork=api.client.post(f"/api/jobs/{job['id']}/artworks", file).json()["id"])
    refused = api.get(f"/jobs/{job['id']}/jigs/{kept['id']}/load.gcode?number=1", expect=409)
    assert refused["detail"] == "Behind is mirrored, and this job's marks are not seen from behind."


@pytest.mark.django_db
def test_what_else_is_cut_for_a_job_and_a_device(api):
    job = api.job(**TAGS)
    sheet = "&".join(f"{k}={v}" for k, v in TRAY.items())
    base = f"/jobs/{job['id']}/sheets"
    trial = fromstring(api.get(f"{base}/trial.svg?{sheet}").content)
    assert {g.get("id"): len(g) for g in trial if g.get("id")}["cut"] == 3
    stops = ezdxf.read(io.StringIO(api.get(f"{base}/stops.dxf?{sheet}&pin_mm=5").content.decode()))
    assert len([e for e in stops.modelspace() if e.dxf.layer == "CUT"]) == 3
    assert api.get(f"{base}/stops.dxf?{sheet}&pin_mm=0.5", expect=422)["field"] == "pin_mm"
    cut = f"{sheet}&cut_power_pct=90&cut_speed_mm_s=8&cut_passes=2&mark_power_pct=12&mark_speed_mm_s=60"
    lines = list(parse_gcode_lines(api.get(f"{base}/jig/burn.gcode?{cut}").content.decode()))
    assert {m.params["S"] for m in lines if m.command_str == "G1"} == {120, 900}
    for wrong, field in (("cut_power_pct=101", "power_pct"), ("cut_passes=0", "passes"), ("cut_speed_mm_s=0", "speed")):
        name, value = wrong.split("=")
        asked = "&".join(f"{name}={value}" if part.startswith(name) else part for part in cut.split("&"))
        assert field in api.get(f"{base}/jig/burn.gcode?{asked}", expect=422)["field"]
    api.get(f"{base}/lid.svg?{sheet}", expect=422)
    turning = device(api, **CHUCK)
    feet = "apart_mm=220&across_mm=60&length_mm=25&width_mm=15"
    plate = fromstring(api.get(f"/turning-devices/{turning['id']}/guide.svg?{feet}").content)
    assert (plate.get("width"), {g.get("id"): len(g) for g in plate if g.get("id")}["cut"]) == ("285mm", 4)
    refused = api.get(f"/turning-devices/{turning['id']}/guide.dxf?{feet}&play_mm=3", expect=422)
    assert refused["field"] == "play_mm"


@pytest.mark.django_db
def test_artwork_is_taken_where_its_piece_lies_and_turned_as_it_is(api):
    job, _ = locked(api, width_mm=100, height_mm=60)
    file = {"file": SimpleUploadedFile("names.csv", b"Moss"), "kind": "names", "name": "Labels"}
    art = api.client.post(f"/api/jobs/{job['id']}/artworks", file).json()
    take = f"/jobs/{job['id']}/placing/placed.gcode?artwork_id={art['id']}"
    api.get(take, expect=409)
    turn = math.radians(30)
    tell(api, job, artwork=art["id"], points=[[100, 80], [100 + 100 * math.cos(turn), 80 + 100 * math.sin(turn)]])
    lit = lit_ends(text_of(api, take))
    own = (lit - (100, 80)) @ np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
    usual = b"".join(api.take(art, "gcode")).decode()
    flat = lit_ends(usual)
    for ends in (np.min, np.max):
        assert ends(own, axis=0) == pytest.approx(ends(flat, axis=0), abs=0.1)
    tell(api, job, points=[[0, 0], [100 * math.cos(turn), 100 * math.sin(turn)]])
    assert api.get(take, expect=422)["field"] == "points"
