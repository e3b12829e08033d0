"""Placing as the API has it: a tumbler on a chuck, a tapered cloche on rollers, a vial under a fixed head, a disc and a
sheet on the bed; what is told is kept, what cannot be is refused with its field."""

import math
from xml.etree.ElementTree import fromstring

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from gcodeparser import parse_gcode_lines

from keencoat.shop.models import Machine
from tests.apps.conftest import BLUE, plain_words, wedge

CHUCK = {"name": "Three-jaw", "kind": "chuck", "mm_per_turn": 120, "stands_in_for": "y"}
ROLLERS = {"name": "Long rollers", "kind": "rollers", "mm_per_turn": 100, "stands_in_for": "x", "roller_mm": 40}


def device(api, **facts):
    return api.post(f"/machines/{api.machine.pk}/turning-devices", CHUCK | facts, expect=201)


def tell(api, job, expect=200, artwork=None, turned_by=None, **spec):
    """Tell something more of a job's placing, beside what was told before."""
    was = api.get(f"/jobs/{job['id']}/placing")
    mark = was["spec"]["mark"] | spec.pop("mark", {})
    body = {
        "spec": was["spec"] | spec | {"mark": mark},
        "version": was["version"],
        "device_id": turned_by or was["device_id"],
        "artwork_id": artwork or was["artwork_id"],
    }
    return api.put(f"/jobs/{job['id']}/placing", body, expect)


def codes(placing):
    return [f["code"] for f in placing["findings"]]


def locked(api, **piece):
    job = api.coated_job(**piece)
    api.rate(api.burned_grid(job, cells=16), wedge)
    point = api.get(f"/jobs/{job['id']}/window")["recommendation"]["point"]
    api.lock(job, point)
    return job, point


def tumbler(**more):
    return {"name": "Tumbler", "shape": "cylinder", "width_mm": 80, "height_mm": 100, "thickness_mm": 3} | more


@pytest.mark.django_db
def test_a_tumbler_on_a_chuck_is_measured_by_tape_and_its_device_calibrated(api):
    job = api.job(**tumbler())
    before = api.get(f"/jobs/{job['id']}/placing")
    assert (before["version"], before["round"]["wall"], before["flat"]) == (0, None, None)
    assert before["round"]["widest_mm"] == 80
    chuck = device(api)
    girths = [{"height_mm": h, "figure_mm": 248.5, "by": "tape"} for h in (10, 90)]
    told = tell(api, job, girths=girths, turned_by=chuck["id"], mark={"width_mm": 60, "height_mm": 30})
    assert (told["version"], told["round"]["wall"]["kind"]) == (1, "cylinder")
    assert told["round"]["widest_mm"] == pytest.approx(248.5 / math.pi)
    assert told["round"]["device"]["turn_mm"] == 120
    assert told["round"]["device"]["axis_per_mm"] == pytest.approx(120 / 248.5)
    assert told["round"]["mark_deg"] == pytest.approx(60 / 248.5 * 360)
    assert codes(told) == ["turn-unsure"]
    # Half a turn was asked, 120.9 mm were made of 248.5: the device takes 123.3 mm a turn.
    ticks = {"asked_turns": 0.5, "measured_mm": 120.9, "round_mm": 248.5}
    api.post(f"/turning-devices/{chuck['id']}/ticks", ticks, expect=201)
    seam = {"asked_turns": 3, "measured_mm": 3 * (248.5 - 241.8), "round_mm": 248.5, "is_seam": True}
    measured = api.post(f"/turning-devices/{chuck['id']}/ticks", seam, expect=201)
    assert measured["calibrated"]["mid"] == pytest.approx(123.32, abs=0.02)
    assert measured["seam_gap_mm"] == pytest.approx(6.7, abs=0.05)
    taken = api.post(f"/turning-devices/{chuck['id']}/take", {"version": 1})
    assert (taken["version"], taken["mm_per_turn"]) == (2, pytest.approx(123.32, abs=0.02))
    # Measured again by what it has now, the same ticks say that it is right.
    assert (taken["calibrated"]["mid"], taken["seam_gap_mm"]) == (
        pytest.approx(taken["mm_per_turn"], rel=1e-4),
        pytest.approx(0, abs=0.02),
    )
    assert api.get(f"/machines/{api.machine.pk}/turning-devices") == [taken]
    assert codes(api.get(f"/jobs/{job['id']}/placing")) == []
    file = api.get(f"/turning-devices/{chuck['id']}/ticks.gcode?turns=0.5&widest_mm=79.1")
    lines = [line for line in parse_gcode_lines(file.content.decode()) if line.command_str == "G1"]
    assert [line.params["Y"] for line in lines] == [0, pytest.approx(123.32 / 2, abs=0.02)]


@pytest.mark.django_db
def test_a_tapered_cloche_on_rollers_is_levelled_and_its_art_turned(api):
    piece = {"name": "Cloche", "shape": "frustum", "width_mm": 80, "narrow_mm": 60, "height_mm": 100}
    job, setting = locked(api, **piece)
    file = {"file": SimpleUploadedFile("names.csv", b"Fern"), "kind": "names", "name": "Labels"}
    art = api.client.post(f"/api/jobs/{job['id']}/artworks", file).json()
    rollers = device(api, **ROLLERS)
    girths = [{"height_mm": h, "figure_mm": d, "by": "calliper"} for h, d in ((0, 80), (100, 60))]
    told = tell(api, job, girths=girths, length_mm=100, narrow_end="top", turned_by=rollers["id"], supports_mm=80,
                mark={"width_mm": 50, "height_mm": 30})  # fmt: skip
    level = told["round"]["device"]
    assert level["angle_deg"] == pytest.approx(2 * 5.7106, abs=1e-3)
    assert level["shim_mm"] == pytest.approx(80 * math.tan(math.radians(11.4212)), abs=1e-2)
    assert level["turn_mm"] == pytest.approx(100 * 80 / 40)
    assert codes(told) == ["not-level", "turn-unsure"]
    ways = {w["way"]: w for w in told["round"]["ways"]}
    assert ways["level"]["wider_pct"] == pytest.approx(100 * ((70 + 2.985) / (70 - 2.985) - 1), abs=0.01)
    assert ways["straight"]["sag_mm"] == pytest.approx(351.74 - math.hypot(351.74, 25), abs=0.01)
    wall = np.array(told["round"]["flat_wall"])
    spans = np.hypot(*(wall[0] - wall[len(wall) // 2 - 1]))
    assert spans == pytest.approx(2 * 401.995 * math.sin(math.radians(35.8213 / 2)), abs=0.05)
    sheet = fromstring(api.get(f"/jobs/{job['id']}/placing/wrap.svg").content)
    assert float(sheet.get("width")[:-2]) == pytest.approx(spans, abs=0.05)
    text = b"".join(api.client.get(f"/api/jobs/{job['id']}/placing/turned.gcode?artwork_id={art['id']}")).decode()
    assert "turned on Long rollers" in plain_words(text)
    rows = {}
    for line in parse_gcode_lines(text):
        if line.command_str == "G1" and line.params.get("F"):
            rows[round(line.params["Y"], 2)] = line.params["F"] / 60
    low, high = min(rows), max(rows)
    # Rows run round the piece by X: where it is narrower the same surface takes more of the axis.
    for along in (low, high):
        around = math.pi * (80 - 20 * along / 100.499)
        assert rows[along] == pytest.approx(setting["speed_mm_s"] * 200 / around, rel=5e-3)
    assert rows[high] > rows[low]


@pytest.mark.django_db
def test_a_vial_under_a_fixed_head_takes_a_mark_so_wide_and_no_wider(api):
    job, _ = locked(api, **tumbler(name="Vial", width_mm=44, height_mm=90))
    head = api.get(f"/jobs/{job['id']}/placing")["round"]["head"]
    widest = head["widest_mm"]
    assert 8 < widest < 44
    flank = head["flank"]
    assert np.interp(widest / 2, flank["aside_mm"], flank["clean"]) == pytest.approx(0.95, abs=0.01)

    def round_of(across):
        return 44 * math.asin(across / 44)

    fits = tell(api, job, mark={"width_mm": round_of(0.97 * widest), "height_mm": 20})
    assert (codes(fits), fits["round"]["head"]["at_deg"]) == ([], [0])
    wide = tell(api, job, mark={"width_mm": round_of(1.03 * widest)})
    assert codes(wide) == ["head-too-narrow"]
    assert len(wide["round"]["head"]["at_deg"]) == 2
    assert wide["height"]["room_mm"] > 0
    # Names as large as the coat lets them go round most of the glass: strip by strip, none wider than the head marks.
    file = {"file": SimpleUploadedFile("names.csv", b"Foxglove"), "kind": "names", "name": "Labels"}
    art = api.client.post(f"/api/jobs/{job['id']}/artworks", file).json()
    strips = tell(api, job, artwork=art["id"])["round"]["head"]
    take = f"/jobs/{job['id']}/placing/strip.gcode?artwork_id={art['id']}"
    assert len(strips["at_deg"]) > 2
    for number, degrees in enumerate(strips["at_deg"], 1):
        text = b"".join(api.client.get(f"/api{take}&number={number}")).decode()
        assert f"strip {number} of {len(strips['at_deg'])}, the piece turned to {degrees:.1f} degrees" in plain_words(
            text
        )
        at, lit = 0.0, []
        for line in parse_gcode_lines(text):
            was, at = at, line.params.get("X", at)
            lit += [was, at] if line.params.get("S") else []
        side = 22 * math.sin(strips["strip_mm"] / 2 / 22)
        assert max(abs(x) for x in lit) <= side + 0.002
        assert 2 * side <= widest + 0.01
    sheet = fromstring(api.get(f"/jobs/{job['id']}/placing/wrap.svg").content)
    dotted = [p.get("d") for p in sheet if p.get("stroke-dasharray") == "0.4 1.2"]
    across = [float(d.split()[1].split(",")[0]) for d in dotted]
    assert np.diff(across) == pytest.approx([strips["strip_mm"]] * (len(across) - 1), abs=2e-3)
    assert len(across) == len(strips["at_deg"])
    for wrong in (0, len(strips["at_deg"]) + 1):
        assert api.get(f"{take}&number={wrong}", expect=422)["field"] == "number"
    deeper = tell(api, job, focus_below_mm=6)["round"]["head"]
    assert deeper["focus_below_mm"] == 6
    assert deeper["widest_mm"] < widest
    unlocked = api.job(**tumbler())
    placing = api.get(f"/jobs/{unlocked['id']}/placing")
    assert (placing["round"]["head"], placing["height"]["room_mm"]) == (None, None)


@pytest.mark.django_db
def test_a_disc_is_centred_by_three_points_and_framed(api):
    job = api.job(name="Coaster", shape="disc", width_mm=90, height_mm=90)
    assert api.get(f"/jobs/{job['id']}/placing")["flat"]["frame"] == []
    points = [[150 + 45 * math.cos(a), 100 + 45 * math.sin(a)] for a in (0.5, 2.6, 4.7)]
    told = tell(api, job, points=points, mark={"width_mm": 50, "height_mm": 30})
    disc = told["flat"]["disc"]
    assert (disc["x_mm"], disc["y_mm"], disc["diameter_mm"]) == pytest.approx((150, 100, 90))
    assert codes(told) == []
    text = api.get(f"/jobs/{job['id']}/placing/frame.gcode").content.decode()
    moves = [line.params for line in parse_gcode_lines(text) if line.command_str in ("G0", "G1")]
    assert (min(m["X"] for m in moves), max(m["Y"] for m in moves)) == pytest.approx((105, 145), abs=0.01)
    assert "S1" not in text
    assert "M5 S0" in text
    chords = [[points[0], points[1]], [points[2], [150 + 45 * math.cos(1.3), 100 + 45 * math.sin(1.3)]]]
    crossed = tell(api, job, points=[*chords[0], *chords[1]], by_chords=True)
    assert [crossed["flat"]["disc"][k] for k in ("x_mm", "y_mm", "diameter_mm")] == pytest.approx([150, 100, 90])
    assert tell(api, job, points=points, by_chords=True)["flat"]["disc"] is None
    assert tell(api, job, expect=422, points=[*points, *points[:2]])["field"] == "points"
    tell(api, job, by_chords=False)
    off = tell(api, job, points=[*points, [150, 143]])
    assert codes(off) == ["point-off"]
    assert codes(tell(api, job, points=[[x - 120, y] for x, y in points])) == ["frame-off-bed"]
    assert codes(tell(api, job, points=points, mark={"width_mm": 88})) == ["frame-off-coat"]


@pytest.mark.django_db
def test_a_sheet_lies_as_its_corners_say_and_the_artwork_is_framed(api):
    job, _ = locked(api)
    file = {"file": SimpleUploadedFile("a.svg", b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20">'
            b'<rect width="40" height="20"/></svg>'), "kind": "drawing", "name": "Bar"}  # fmt: skip
    art = api.client.post(f"/api/jobs/{job['id']}/artworks", file).json()
    width = art["spec"]["placement"]["width_mm"]
    told = tell(api, job, points=[[50, 60], [50, 160]], artwork=art["id"])
    sheet = told["flat"]["sheet"]
    assert (sheet["turn_deg"], sheet["x_mm"], sheet["y_mm"]) == pytest.approx((90, 10, 110))
    ring = np.array(told["flat"]["art"])
    assert np.ptp(ring, axis=0) == pytest.approx((width / 2, width), abs=0.01)
    skewed = tell(api, job, points=[[50, 60], [150, 60], [46, 140]])
    assert codes(skewed) == ["corners-skewed"]


@pytest.mark.parametrize(("spec", "field"), [
    ({"girths": [{"height_mm": 50, "figure_mm": 9.9, "by": "tape"}]}, "girths.0.figure_mm"),
    ({"girths": [{"height_mm": 150, "figure_mm": 251, "by": "tape"}]}, "girths.0.height_mm"),
    ({"girths": [{"height_mm": 5, "figure_mm": 85, "by": "calliper"}, {"height_mm": 95, "figure_mm": 75,
      "by": "calliper"}], "narrow_end": "foot"}, "narrow_end"),
    ({"girths": [{"height_mm": 40, "figure_mm": 85, "by": "calliper"}, {"height_mm": 50, "figure_mm": 65,
      "by": "calliper"}]}, "girths"),
    ({"mark": {"along_mm": 4}}, "mark.along_mm"),
    ({"mark": {"height_mm": 300}}, "mark.along_mm"),
    ({"mark": {"width_mm": 0.1}}, "mark.width_mm"),
    ({"stem_mm": 96}, "stem_mm"),
    ({"length_mm": 1e6}, "length_mm"),
    ({"focus_below_mm": 41.0}, None),
])  # fmt: skip
@pytest.mark.django_db
def test_what_cannot_be_of_a_round_piece_is_refused_by_its_field(api, spec, field):
    job = api.job(**tumbler())
    if field is None:
        assert tell(api, job, **spec)["version"] == 1
        return
    refused = tell(api, job, expect=422, **spec)
    assert (refused["field"], bool(refused["hint"])) == (field, True)
    assert api.get(f"/jobs/{job['id']}/placing")["version"] == 0


@pytest.mark.django_db
def test_what_cannot_be_of_a_flat_piece_or_a_device_is_refused(api, stranger):
    job = api.job(name="Coaster", shape="disc", width_mm=90, height_mm=90)
    assert tell(api, job, expect=422, points=[[0, 0], [10, 10], [20, 20]])["field"] == "points"
    assert tell(api, job, expect=422, points=[[0, 0], [0.1, 0], [20, 20]])["field"] == "points.1"
    sheet = api.job()
    assert tell(api, sheet, expect=422, points=[[0, 0], [100, 0], [0, 80], [100, 80]])["field"] == "points"
    api.get(f"/jobs/{sheet['id']}/placing/frame.gcode", expect=409)
    api.get(f"/jobs/{sheet['id']}/placing/wrap.svg", expect=409)
    other = Machine.objects.create(workshop=api.shop, **(BLUE | {"name": "Other"}))
    elsewhere = api.post(f"/machines/{other.pk}/turning-devices", CHUCK, expect=201)
    tumbled = api.job(**tumbler())
    assert tell(api, tumbled, expect=422, turned_by=elsewhere["id"])["field"] == "device_id"
    body = api.get(f"/jobs/{tumbled['id']}/placing")
    kept = {k: body[k] for k in ("spec", "device_id", "artwork_id", "version")}
    api.put(f"/jobs/{tumbled['id']}/placing", kept | {"version": 7}, expect=409)
    api.put(f"/jobs/{tumbled['id']}/placing", kept | {"artwork_id": 999}, expect=404)
    for facts, field in (
        ({"mm_per_turn": 0}, "mm_per_turn"),
        ({"kind": "rollers"}, "roller_mm"),
        ({"mm_per_turn": 1e5}, "mm_per_turn"),
    ):
        refused = api.post(f"/machines/{other.pk}/turning-devices", CHUCK | facts, expect=422)
        assert refused["field"] == field
    mine = f"/turning-devices/{elsewhere['id']}"
    for ticks, field in (
        ({"asked_turns": 0.5, "measured_mm": 9, "round_mm": 250}, "measured_mm"),
        ({"asked_turns": 1.5, "measured_mm": 9, "round_mm": 250, "is_seam": True}, "asked_turns"),
        ({"asked_turns": 1, "measured_mm": 200, "round_mm": 250, "is_seam": True}, "measured_mm"),
    ):
        assert api.post(f"{mine}/ticks", ticks, expect=422)["field"] == field
    api.post(f"{mine}/take", {"version": 1}, expect=409)
    api.put(mine, CHUCK | {"name": "Four-jaw", "version": 2}, expect=409)
    assert api.put(mine, CHUCK | {"name": "Four-jaw", "version": 1})["version"] == 2
    # A figure typed anew, however far off, still finds the same truth in the ticks of another day.
    was = api.post(f"{mine}/ticks", {"asked_turns": 0.5, "measured_mm": 125, "round_mm": 250}, expect=201)
    far = api.put(mine, CHUCK | {"mm_per_turn": 4000, "version": 2})
    assert far["calibrated"]["mid"] == pytest.approx(was["calibrated"]["mid"]) == pytest.approx(120)
    fresh = api.post(f"/machines/{other.pk}/turning-devices", CHUCK | {"name": "Fresh"}, expect=201)
    # All but right: a rest that nobody could type is told as it is.
    right = {"asked_turns": 0.5, "measured_mm": 125.00000001, "round_mm": 250}
    assert api.post(f"/turning-devices/{fresh['id']}/ticks", right, expect=201)["seam_gap_mm"] == pytest.approx(
        -2e-8, rel=1e-4
    )
    api.get(f"{mine}/ticks.gcode?turns=0.5&widest_mm=80&power_pct=1", expect=422)
    stranger.get(f"/machines/{other.pk}/turning-devices", expect=404)


@pytest.mark.django_db
def test_what_was_told_of_a_piece_that_was_changed_since_is_said_and_can_be_told_anew(api):
    job = api.job(**tumbler())
    girths = [{"height_mm": 95, "figure_mm": 251, "by": "tape"}]
    tell(api, job, girths=girths, mark={"along_mm": 80, "height_mm": 20})
    body = api.job_body(**tumbler()) | {"version": job["version"]}
    changed = api.put(f"/jobs/{job['id']}", body | {"width_mm": 10})
    stale = api.get(f"/jobs/{job['id']}/placing")
    # A tape of 251 mm cannot be of Ø 10: told anew from the start.
    assert (stale["version"], codes(stale)[0], stale["spec"]["girths"]) == (1, "not-as-told", girths)
    api.put(f"/jobs/{job['id']}", body | {"width_mm": 2030 / 25.4, "height_mm": 100, "version": changed["version"]})
    inches = [{"height_mm": 95, "figure_mm": 9.9, "by": "tape"}]
    assert tell(api, job, expect=422, girths=inches)["field"] == "girths.0.figure_mm"
    flat = api.job(name="Tile")
    tell(api, flat, points=[[0, 0], [100, 0]])
    body = api.job_body(name="Tile") | {"version": flat["version"]}
    api.put(f"/jobs/{flat['id']}", body | {"width_mm": 20})
    stale = api.get(f"/jobs/{flat['id']}/placing")
    assert (codes(stale)[0], stale["spec"]["points"]) == ("placing-stale", [])
    assert "20 mm wide" in stale["findings"][0]["message"]
    assert tell(api, flat, points=[[0, 0], [20, 0]])["version"] == 2
    assert codes(api.get(f"/jobs/{flat['id']}/placing"))[:1] != ["placing-stale"]


@pytest.mark.django_db
def test_small_sums_of_a_device(api):
    assert api.get("/turning-steps?steps_per_turn=6400&steps_per_mm=80")["mm_per_turn"] == 80
    for steps in ("0&steps_per_mm=80", "nan&steps_per_mm=80", "6400&steps_per_mm=1e400"):
        api.get(f"/turning-steps?steps_per_turn={steps}", expect=422)
    square = api.get("/squaring?near_mm=0.5&far_mm=-1.5&travel_mm=200&feet_mm=120")
    assert (square["shift_mm"], square["counterclockwise"]) == (pytest.approx(1.2), True)
    assert api.get("/squaring?near_mm=0&far_mm=300&travel_mm=200&feet_mm=120", expect=422)["field"] == "far_mm"
    api.get("/squaring?near_mm=nan&far_mm=3&travel_mm=200&feet_mm=120", expect=422)
