"""Typed text, artwork that is drawn in lines, a photo before and after, over the API."""

import io

import numpy as np
import pytest
from gcodeparser import parse_gcode_lines
from PIL import Image
from skimage.data import coins
from svgelements import SVG, Path

from keencoat.core.toolpath.words import plain
from keencoat.jobs.artwork.services.packing import run_pack
from tests.apps.conftest import plain_words, wedge
from tests.apps.test_artwork_chapter import COINS, LEAVES, ask, bring
from tests.apps.test_faults import SETTING

FINE = SETTING | {"power_pct": SETTING["power_pct"] * 0.8}


@pytest.fixture
def job(api):
    made = api.coated_job()
    grid = api.rate(api.burned_grid(made), wedge)
    for cell in grid["cells"]:
        body = {"rating": cell["rating"], "strokes": cell["rating"], "version": cell["version"]}
        api.put(f"/grids/{grid['id']}/cells/{cell['code']}", body)
    api.lock(made, SETTING)
    return made


def lines_of(api, art, kind="gcode", piece=0):
    answer = api.take(art, kind, piece)
    return (b"".join(answer.streaming_content) if answer.streaming else answer.content).decode()


def test_a_text_is_typed_set_engraved_and_taken(api, job):
    art = bring(api, job, "text", b"Salvia\nBed 4\n", name="Salvia")
    assert (art["spec"]["words"], art["pieces"], art["engraved"]) == ("Salvia\nBed 4", 1, False)
    filled = api.get(f"/artworks/{art['id']}/figures")
    art = ask(api, art, typeface="strokes", words="Salvia\nBed 12", placement={"width_mm": 40})
    assert art["engraved"]
    assert 40 * art["capital_of_width"] == pytest.approx(9.5, abs=3)
    drawn = api.get(f"/artworks/{art['id']}/figures")
    assert drawn["seconds"] < 0.2 * filled["seconds"]
    assert drawn["ways"] == []
    assert drawn["fill_mm"] == 0
    assert "art-strokes-untested" in [f["code"] for f in drawn["findings"]]
    text = lines_of(api, art)
    moves = [line.params for line in parse_gcode_lines(text) if line.command in (("G", 0), ("G", 1))]
    at, power, lit = np.zeros(2), 0.0, 0.0
    for move in moves:
        to = np.array([move.get("X", at[0]), move.get("Y", at[1])])
        power = move.get("S", power)
        lit += float(np.hypot(*(to - at))) if power > 0 else 0.0
        at = to
    assert lit == pytest.approx(drawn["lit_mm"], rel=0.01)
    paths = [e for e in SVG.parse(io.StringIO(lines_of(api, art, "svg")), ppi=25.4).elements() if isinstance(e, Path)]
    assert sum(p.length() for p in paths) * SETTING["passes"] == pytest.approx(drawn["lit_mm"], rel=0.01)

    api.lock(job, FINE, art="strokes")
    base = api.get(f"/jobs/{job['id']}/artworks")["base"]
    assert base["engraving"]["power_pct"] == pytest.approx(FINE["power_pct"])
    assert base["setting"]["power_pct"] == SETTING["power_pct"]
    finer = api.get(f"/artworks/{art['id']}/figures")
    assert "art-strokes-untested" not in [f["code"] for f in finer["findings"]]
    assert finer["energy_j"] == pytest.approx(0.8 * drawn["energy_j"])
    assert "art-setting-changed" in [f["code"] for f in finer["findings"]]
    small = ask(api, art, placement={"width_mm": 1.0})
    assert "art-small-letters" in [f["code"] for f in api.get(f"/artworks/{small['id']}/figures")["findings"]]


@pytest.mark.parametrize(
    ("words", "says"), [("", "no text"), ("a\n" * 14, "14 lines"), ("Salvia Ж", "Ж"), ("Sal\0via", "")]
)
def test_what_cannot_be_set_is_refused_beside_the_words_and_nothing_is_lost(api, job, words, says):
    refused = bring(api, job, "text", "Farn 枫".encode(), expect=422)
    assert (refused["field"], "枫" in refused["detail"]) == ("words", True)
    art = bring(api, job, "text", b"Salvia")
    told = ask(api, art, expect=422, typeface="strokes", words=words)
    assert says in told["detail"]
    assert "words" in told["field"]
    assert api.get(f"/artworks/{art['id']}")["spec"]["words"] == "Salvia"


def test_a_stacked_sign_takes_each_group_on_a_piece_of_its_own(api, job):
    art = ask(api, bring(api, job, "drawing", LEAVES, name="Leaves"), each_group=True)
    assert art["pieces"] == 2
    layers = [api.get(f"/artworks/{art['id']}/figures?piece={n}") for n in range(2)]
    assert [layer["label"] for layer in layers] == ["back", "front"]
    wide = art["spec"]["placement"]["width_mm"] / 60
    assert [layer["lit_mm2"] for layer in layers] == pytest.approx([400 * wide**2, np.pi * 100 * wide**2], rel=0.01)
    asked = api.post(f"/artworks/{art['id']}/packs", {"kind": "zip"}, expect=201)
    run_pack(asked["id"])
    assert api.get(f"/art-packs/{asked['id']}")["pieces"] == 2
    assert "Leaves v2, front" in lines_of(api, art, piece=1)
    outlined = ask(api, art, outlines=True)
    ring = api.get(f"/artworks/{outlined['id']}/figures?piece=1")
    assert ring["lit_mm"] == pytest.approx(2 * np.pi * 10 * wide * SETTING["passes"], rel=0.01)


def test_a_photo_is_seen_before_and_after_its_tones(api, job):
    art = bring(api, job, "picture", COINS)

    def seen(query=""):
        data = api.client.get(f"/api/artworks/{art['id']}/photo.png{query}").content
        return np.asarray(Image.open(io.BytesIO(data)).convert("L"), dtype=float)

    before = seen()
    small = np.asarray(Image.fromarray(coins()).resize(before.shape[::-1], Image.Resampling.BOX), dtype=float)
    assert np.abs(before - small).mean() < 2
    art = ask(
        api, art, screen="stucki", tone={"crop": {"left": 0.5, "top": 0, "right": 1, "bottom": 1}, "brightness": 0.1}
    )
    after = seen("?is_toned=true")
    assert after.shape[1] / after.shape[0] == pytest.approx(before.shape[1] / before.shape[0] / 2, rel=0.01)
    assert after.mean() > before[:, before.shape[1] // 2 :].mean() + 15
    assert np.array_equal(seen(), before)
    # Greys at the lines' own resolution are what the dots come from: the same size, the same share of black.
    grey, dots = (api.take(art, kind) for kind in ("grey", "png"))
    assert "piece1.grey.png" in grey["Content-Disposition"]
    shares, lit = (
        1 - np.asarray(Image.open(io.BytesIO(f.content)).convert("L"), dtype=float) / 255 for f in (grey, dots)
    )
    assert shares.shape == lit.shape
    assert shares.mean() == pytest.approx(lit.mean(), abs=0.004)
    assert len(np.unique(shares)) > 20
    assert Image.open(io.BytesIO(grey.content)).info["dpi"][0] == pytest.approx(254, abs=0.5)
    leaf = bring(api, job, "drawing", LEAVES)
    assert "no photo" in api.take(leaf, "grey").json()["detail"]
    assert "no photo" in api.get(f"/artworks/{leaf['id']}/photo.png", expect=422)["detail"]


def test_what_is_burned_through_the_piece_is_mirrored_with_its_focus_on_the_far_side(api):
    cloche = api.coated_job(substrate="soda_lime_glass", process="frost", coat="black_card")
    grid = api.burned_grid(cloche)
    assert grid["mirrored"]
    written = api.client.get(f"/api/grids/{grid['id']}/files/gcode").content.decode()
    assert "lies under the piece, focus on the near face, then lower the head" in plain_words(written)
    api.rate(grid, wedge)
    api.lock(cloche, SETTING)
    base = api.get(f"/jobs/{cloche['id']}/artworks")["base"]
    assert base["mirrored"]
    art = bring(api, cloche, "drawing", LEAVES)
    assert plain(base["focus"]) in plain_words(lines_of(api, art))
