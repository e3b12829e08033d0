"""Placing learned on the practice bench: a vial in a chuck that turns further than it says, a lantern on rollers that
must be levelled, the same vial under a fixed head, a sheet touched by its corners, and a jig laid down twice."""

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.apps.conftest import wedge
from tests.apps.test_placing_chapter import device, tell, tumbler
from tests.apps.test_practice import burned, practised, read_photo

TRAY = {"name": "Tray", "asked": {"sheet_width_mm": 300, "sheet_height_mm": 220, "kerf_mm": 0.1, "play_mm": 0.4}}


def sure(api, scenario, names=b"Moss", by_photo=False):
    """A practice job with a locked setting and a list of names for its mark; rated by its photo, or at once."""
    job, grid = practised(api, scenario)
    burned(api, grid)
    rule = wedge
    if by_photo:
        read = read_photo(api, grid)
        seen = {c["code"]: c["proposal"]["rating"] for c in read["cells"]}
        rule = lambda cell: seen[cell["code"]]  # noqa: E731 # a rule
    api.rate(grid, rule)
    point = api.get(f"/jobs/{job['id']}/window")["recommendation"]["point"]
    # The wide end of a wall that turns out to be a cone takes more power than the locked one: there is to be some left.
    less = min(1, 97 / point["power_pct"])
    api.lock(job, point | {key: less * point[key] for key in ("power_pct", "speed_mm_s")})
    file = {"file": SimpleUploadedFile("names.csv", names), "kind": "names", "name": "Labels"}
    art = api.client.post(f"/api/jobs/{job['id']}/artworks", file).json()
    return job, tell(api, job, artwork=art["id"])


def devices_of(api, job):
    return {d["kind"]: d for d in api.get(f"/machines/{job['machine_id']}/turning-devices")}


def calibrate(api, device, round_mm):
    """Half a turn first, then three: what is left over after whole turns is only told apart once it is small."""
    for asked in (0.5, 3):
        taped = api.post(
            f"/turning-devices/{device['id']}/practice-ticks", {"asked_turns": asked, "round_mm": round_mm}
        )
        ticks = {"asked_turns": asked, "round_mm": round_mm, "is_seam": asked == 3, **taped}
        api.post(f"/turning-devices/{device['id']}/ticks", ticks, expect=201)
        device = api.post(f"/turning-devices/{device['id']}/take", {"version": device["version"]})
    return device


def landing(api, job, **more):
    return api.post(f"/jobs/{job['id']}/practice/landing", more)


@pytest.mark.django_db
def test_a_vial_in_a_chuck_lands_once_it_is_measured_and_the_chuck_calibrated(api):
    job, _ = sure(api, "vial")
    chuck = devices_of(api, job)["chuck"]
    said = tell(api, job, turned_by=chuck["id"])["round"]
    before = landing(api, job)["wall"]
    for by in ("tape", "calliper"):
        girths = api.post(f"/jobs/{job['id']}/practice/girths", {"by": by})
        assert [g["by"] for g in girths] == [by] * 3
    taken = calibrate(api, chuck, girths[1]["figure_mm"] * np.pi)
    found = tell(api, job, girths=girths, length_mm=90)["round"]
    after = landing(api, job)["wall"]
    for wall, round_ in ((before, said), (after, found)):
        assert wall["meant_mm"] == pytest.approx([round_["mark_width_mm"], round_["mark_height_mm"]], abs=0.3)
        assert wall["came_mm"][1] == pytest.approx(wall["meant_mm"][1], abs=0.01)
        assert wall["sloped_mm"] == 0
    first, then = (wall["came_mm"][0] / wall["meant_mm"][0] for wall in (before, after))
    # Four standard deviations of a calliper read at three heights and of a tape over three turns.
    assert then == pytest.approx(1, abs=0.012)
    # What was found of the chuck and the glass, and nothing else, is what the mark gained.
    gained = chuck["mm_per_turn"] / taken["mm_per_turn"] * found["there_mm"] / said["there_mm"]
    assert first / then == pytest.approx(gained, rel=0.003)


@pytest.mark.django_db
def test_a_lantern_on_rollers_must_be_levelled(api):
    job, _ = sure(api, "lantern")
    rollers = devices_of(api, job)["rollers"]
    girths = api.post(f"/jobs/{job['id']}/practice/girths", {"by": "calliper"})
    taken = calibrate(api, rollers, 200)
    told = tell(api, job, girths=girths, length_mm=110, narrow_end="top", turned_by=taken["id"], supports_mm=80)
    level = told["round"]["device"]
    put_under, left = landing(api, job)["wall"], landing(api, job, levelled=False)["wall"]
    assert put_under["came_mm"][0] == pytest.approx(put_under["meant_mm"][0], rel=0.012)
    high = put_under["came_mm"][1]
    assert left["rise_mm"] == pytest.approx(high * np.tan(np.radians(level["angle_deg"])), rel=0.1)
    assert put_under["rise_mm"] < 0.02 * high
    assert abs(put_under["sloped_mm"]) > 0


@pytest.mark.django_db
def test_a_vial_under_a_fixed_head_is_clean_as_far_aside_as_placing_says(api):
    job, told = sure(api, "vial", by_photo=True)
    head = told["round"]["head"]
    found = api.post(f"/jobs/{job['id']}/practice/ridge")
    aside, clean = np.array(found["aside_mm"]), np.array(found["clean"])
    assert clean[0] >= clean[-1]
    assert clean[-1] < 0.5
    # How wide a mark the strips themselves would bear, beside what Placing says of it.
    bears = 2 * np.interp(-0.9, -np.minimum.accumulate(clean), aside)
    assert head["widest_mm"] <= 1.25 * bears
    chuck = devices_of(api, job)["chuck"]
    tell(api, job, turned_by=chuck["id"])
    api.post(f"/jobs/{job['id']}/practice/ridge", expect=409)


@pytest.mark.django_db
def test_a_touched_sheet_and_a_jig_laid_twice_land_where_they_lie(api, stranger):
    job, _ = sure(api, "sign", b"Moss\nFern\nSage\nMint\nYew")
    at = f"/jobs/{job['id']}"
    corners = api.post(f"{at}/practice/touches", {})
    assert len(corners) == 3
    tell(api, job, points=corners)
    one = landing(api, job)["pieces"][0]
    assert np.hypot(one["x_mm"], one["y_mm"]) < 0.3
    assert abs(one["turn_deg"]) < 0.2
    kept = api.post(f"{at}/jigs", TRAY | {"asked": TRAY["asked"] | {"mirrored": True}}, expect=201)["kept"]
    refused = api.post(f"{at}/practice/landing", {"jig_id": kept["id"]}, expect=409)
    assert "lies on no bed" in refused["detail"]
    laid = []
    for version in (1, 3):
        crosses = api.post(f"{at}/practice/touches", {"jig_id": kept["id"]})
        laid.append(crosses)
        seat = {"machine_id": job["machine_id"], "touched": crosses, "version": version}
        api.put(f"/jigs/{kept['id']}/seat", seat)
        pieces = landing(api, job, jig_id=kept["id"])["pieces"]
        assert sorted(p["piece"] for p in pieces) == [1, 2, 3, 4]
        # The play of a pocket, two touches, and nothing else.
        assert max(np.hypot(p["x_mm"], p["y_mm"]) for p in pieces) < 0.2 + 0.3
        assert max(abs(p["turn_deg"]) for p in pieces) < 0.15
        second = landing(api, job, jig_id=kept["id"], number=2)["pieces"]
        assert [p["piece"] for p in second] == [5]
        api.put(f"/jigs/{kept['id']}/seat", seat | {"touched": [], "version": version + 1})
    assert np.abs(np.array(laid[0]) - laid[1]).max() > 1
    stranger.post(f"{at}/practice/touches", {}, expect=404)


@pytest.mark.django_db
def test_only_what_is_practised_can_be(api):
    job = api.job(**tumbler())
    real = device(api)
    for address, body in (("girths", {"by": "tape"}), ("touches", {}), ("landing", {}), ("ridge", {})):
        api.post(f"/jobs/{job['id']}/practice/{address}", body, expect=409)
    asked = {"asked_turns": 0.5, "round_mm": 200}
    refused = api.post(f"/turning-devices/{real['id']}/practice-ticks", asked, expect=409)
    assert refused["detail"] == "This is a real device."
    for wrong in ({"asked_turns": 0}, {"round_mm": 1e308}, {"asked_turns": "nan"}):
        api.post(f"/turning-devices/{real['id']}/practice-ticks", asked | wrong, expect=422)
    flat, _ = practised(api)
    api.post(f"/jobs/{flat['id']}/practice/girths", {"by": "tape"}, expect=409)
    api.post(f"/jobs/{flat['id']}/practice/landing", {}, expect=409)
    vial, _ = practised(api, "vial")
    api.post(f"/jobs/{vial['id']}/practice/touches", {}, expect=409)
    assert api.post(f"/jobs/{vial['id']}/practice/landing", {}, expect=409)["field"] != "server"
