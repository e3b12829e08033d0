"""Grids over chosen factors, grids brought in, and photos of them: kept, read, marked by hand, refused."""

import io
import json
import zlib

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from keencoat.bench.gridshots import Pose
from tests.bench.burned import burn, frame_in_photo, piece_of, shoot

HAND = b"code,power_pct,speed_mm_s,rating,defects\nA1,20,100,faint,\nA2,45,100,clean,\nB1,80,100,harsh,chips\n"


def send(api, path, field, data, name="file", expect=201, **parts):
    body = {field: SimpleUploadedFile(name, data), **parts}
    response = api.client.post(f"/api{path}", body)
    assert response.status_code == expect, response.content[:400]
    return response.json()


@pytest.mark.parametrize(
    "factors", [["power", "passes"], ["power", "interval", "coats"], ["focus", "speed"], ["grey", "power"]]
)
def test_a_grid_over_chosen_factors_is_drawn_as_drafted(api, factors):
    job = api.coated_job()
    wish = {"kind": "factors", "factors": factors, "cells": 12, "interval_mm": 0.1, "wait_s": 4}
    draft = api.post(f"/jobs/{job['id']}/grids/draft", wish)
    grid = api.post(f"/jobs/{job['id']}/grids", wish, expect=201)
    for name in ("rows", "columns", "sheets", "heat", "factors", "wait_s"):
        assert grid[name] == draft[name]
    strip = ("version",)
    assert [{k: v for k, v in c.items() if k not in strip} for c in grid["cells"]] == [
        {k: v for k, v in c.items() if k not in strip} for c in draft["cells"]
    ]
    assert "G4 P4" in api.get(f"/grids/{grid['id']}/files/gcode").content.decode()
    assert grid["heat"]["patch_low_k"] < grid["heat"]["patch_high_k"]
    # Cells out of focus or in grey are kept for the eye: the window rests on the others, whatever their coats.
    api.post(f"/grids/{grid['id']}/burned")
    api.rate(grid, lambda cell: "clean")
    plain = sum(c["focus_mm"] == 0 and c["grey_pct"] == 100 for c in grid["cells"])
    assert api.get(f"/jobs/{job['id']}/window")["fit"]["cells"] == plain
    assert (plain == 12) is not bool({"focus", "grey"} & set(factors))


def test_a_hand_made_table_is_brought_in_with_its_ratings(api):
    job = api.coated_job()
    grid = send(api, f"/jobs/{job['id']}/grids/brought", "file", HAND)
    assert (grid["kind"], grid["state"], grid["sheets"][0]["frame"]) == ("brought", "rated", None)
    assert [c["rating"] for c in grid["cells"]] == ["faint", "clean", "harsh"]
    assert grid["rating_event"]
    assert api.get(f"/jobs/{job['id']}/window")["fit"]["cells"] == 3
    bad = send(api, f"/jobs/{job['id']}/grids/brought", "file", HAND.replace(b"A2,45", b"A2,450"), expect=422)
    assert (bad["field"], "Line 3" in bad["detail"], "0.01 and 100" in bad["hint"]) == ("file", True, True)
    assert len(api.get(f"/jobs/{job['id']}/grids")) == 1


def test_a_grid_saved_as_json_comes_back_framed(api):
    job = api.coated_job()
    grid = api.post(f"/jobs/{job['id']}/grids", {"interval_mm": 0.1}, expect=201)
    document = api.get(f"/grids/{grid['id']}/files/json")
    other = api.coated_job(name="Elsewhere")
    path = f"/jobs/{other['id']}/grids/brought"
    brought = send(api, path, "file", json.dumps(document).encode(), framed="true")
    assert brought["sheets"][0]["frame"] == grid["sheets"][0]["frame"]
    assert brought["state"] == "burned"
    small = api.coated_job(name="Small", width_mm=30, height_mm=30)
    path = f"/jobs/{small['id']}/grids/brought"
    refused = send(api, path, "file", json.dumps(document).encode(), framed="true", expect=422)
    assert "larger than the coated area" in refused["detail"]


@pytest.fixture(scope="module")
def frost():
    program, piece = burn("frost"), piece_of("frost", 9001, hidden=False)
    return program, piece, shoot(piece, program, Pose(turn_deg=3), 5)


def as_burned(api, program):
    """A job whose burned grid is the one on the bench's piece."""
    job = api.coated_job(width_mm=98, height_mm=72)
    rows = ["code,power_pct,speed_mm_s,interval_mm,x_mm,y_mm,side_mm,sample_mm"]
    for p in program.layout.cells:
        s = p.cell.setting
        rows.append(
            f"{p.cell.code},{s.power_pct},{s.speed_mm_s},{s.interval_mm},{p.x_mm},{p.y_mm},{p.side_mm},{p.sample_mm}"
        )
    data = "\n".join(rows).encode()
    return send(api, f"/jobs/{job['id']}/grids/brought", "file", data, framed="true")


def test_a_photo_is_kept_read_and_marked_by_hand(api, frost):
    program, piece, data = frost
    grid = as_burned(api, program)
    read = send(api, f"/grids/{grid['id']}/photos", "photo", data, light="dark_ground")
    (photo,) = read["photos"]
    assert (photo["trouble"], photo["simulated"], photo["cells"]) == (None, False, 12)
    assert {c["proposal"]["rating"] for c in read["cells"]} == {"faint", "clean", "harsh"}
    for picture in ("original", "view", "upright"):
        Image.open(io.BytesIO(api.get(f"/grid-photos/{photo['id']}/{picture}").content)).verify()
    assert api.get(f"/grid-photos/{photo['id']}/original").content == data

    points = [{"x": x, "y": y} for x, y in frame_in_photo(piece, program, Pose(turn_deg=3)).tolist()]
    marked = api.put(f"/grid-photos/{photo['id']}/corners", {"points": points, "version": 1})
    before = {c["code"]: c["proposal"]["rating"] for c in read["cells"]}
    assert {c["code"]: c["proposal"]["rating"] for c in marked["cells"]} == before
    crossed = api.put(f"/grid-photos/{photo['id']}/corners", {"points": points[::-1], "version": 2}, expect=422)
    assert "clockwise" in crossed["hint"]
    again = api.put(f"/grid-photos/{photo['id']}/corners", {"points": None, "version": 2})
    assert again["photos"][0]["points"] == photo["points"]

    # A loupe shot of one cell: its patch is marked by hand, and its harms add to the first photo's.
    loupe = send(api, f"/grids/{grid['id']}/photos", "photo", data, light="loupe", only="A2")
    assert "Mark the corners of the patch of A2" in loupe["photos"][1]["trouble"]["message"]
    cell = next(c for c in program.layout.cells if c.cell.code == "A2")
    half = cell.side_mm / 2
    left, low, right, top = program.layout.extent()
    across = frame_in_photo(piece, program, Pose(turn_deg=3))[1] - frame_in_photo(piece, program, Pose(turn_deg=3))[0]
    down = frame_in_photo(piece, program, Pose(turn_deg=3))[3] - frame_in_photo(piece, program, Pose(turn_deg=3))[0]
    origin = frame_in_photo(piece, program, Pose(turn_deg=3))[0]
    spots = []
    for x, y in ((-half, half), (half, half), (half, -half), (-half, -half)):
        share_x, share_y = (cell.x_mm + x - left) / (right - left), (top - cell.y_mm - y) / (top - low)
        at = origin + share_x * across + share_y * down
        spots.append({"x": float(at[0]), "y": float(at[1])})
    joined = api.put(f"/grid-photos/{loupe['photos'][1]['id']}/corners", {"points": spots, "version": 1})
    assert next(c for c in joined["cells"] if c["code"] == "A2")["photos"] == 2
    left_over = api.call("DELETE", f"/grid-photos/{photo['id']}")
    assert [c["code"] for c in left_over["cells"]] == ["A2"]


def test_photos_that_cannot_be_read_stay_and_broken_uploads_are_refused(api, frost):
    program, _, data = frost
    grid = as_burned(api, program)
    path = f"/grids/{grid['id']}/photos"
    blank = io.BytesIO()
    Image.new("RGB", (800, 600), (120, 120, 120)).save(blank, "PNG")
    kept = send(api, path, "photo", blank.getvalue())
    assert "No frame" in kept["photos"][0]["trouble"]["message"] or "blurred" in kept["photos"][0]["trouble"]["message"]
    assert kept["cells"] == []
    bomb = bytearray(blank.getvalue())
    bomb[16:24] = (50_000).to_bytes(4, "big") * 2
    bomb[29:33] = zlib.crc32(bytes(bomb[12:29])).to_bytes(4, "big")
    for spoilt, says in (
        (bytes(bomb), "pixels"),
        (data[: len(data) // 2], "broken"),
        (b"<svg onload='alert(1)'/>", "not a photo"),
        (b"G1 X1\nM99\n", "not a photo"),
        (b"", "not a photo"),
    ):
        refused = send(api, path, "photo", spoilt, expect=422)
        assert says in refused["detail"], refused
        assert refused["field"] == "photo"
    assert send(api, path, "photo", data, expect=422, light="moonlight")["field"] == "light"
    assert send(api, path, "photo", data, expect=422, spare="2")["field"] == "spare"
    assert send(api, path, "photo", data, expect=422, only="Z9", light="loupe")["field"] == "only"
    assert len(api.get(f"/grids/{grid['id']}/reading")["photos"]) == 1
    assert "No photo" in api.get(f"/grids/{grid['id']}/measurements/csv", expect=422)["detail"]
    api.post(f"/grids/{grid['id']}/proposals", expect=409)


def test_factors_count_only_where_they_are_asked_for(api):
    """What another kind of grid is sent of them is not kept, were it nonsense; where they count it is refused."""
    job = api.coated_job()
    wish = {"interval_mm": 0.1, "kind": "crossed", "factors": ["moonlight"]}
    assert api.post(f"/jobs/{job['id']}/grids/draft", wish)["factors"] == []
    assert api.post(f"/jobs/{job['id']}/grids", wish, expect=201)["factors"] == []
    assert [g["factors"] for g in api.get(f"/jobs/{job['id']}/grids")] == [[]]
    bad = api.post(f"/jobs/{job['id']}/grids/draft", wish | {"kind": "factors"}, expect=422)
    assert (bad["field"], "moonlight" in bad["detail"]) == ("factors", True)


def test_a_blind_rectangle_spans_the_machine_or_what_is_typed(api):
    job = api.coated_job()
    wish = {"interval_mm": 0.1, "kind": "blind", "cell_mm": 4, "gap_mm": 2}
    usual = api.post(f"/jobs/{job['id']}/grids/draft", wish)
    powers, speeds = ([c[name] for c in usual["cells"]] for name in ("power_pct", "speed_mm_s"))
    machine = next(m for m in api.get("/machines") if m["id"] == api.machine.pk)
    assert (min(powers), max(powers)) == (machine["min_power_pct"], 100)
    assert (min(speeds), max(speeds)) == (machine["min_speed_mm_s"], machine["max_speed_mm_s"])
    typed = {
        "power_from": 40, "power_to": 100, "power_steps": 4, "speed_from": 20, "speed_to": 60, "speed_steps": 3,
    }  # fmt: skip
    few = api.post(f"/jobs/{job['id']}/grids", wish | {"blind": typed}, expect=201)
    assert (few["rows"], few["columns"], few["state"]) == (3, 4, "drawn")
    assert sorted({c["power_pct"] for c in few["cells"]}) == [40, 60, 80, 100]
    bad = api.post(f"/jobs/{job['id']}/grids/draft", wish | {"blind": typed | {"speed_to": 9000}}, expect=422)
    assert bad["field"] == "speed_to"
    assert "mm/s" in bad["hint"]
