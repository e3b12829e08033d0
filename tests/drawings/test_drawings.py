"""How we read drawings, held against two readers that we did not write: area within 0.5 %, overlap of 0.99 or more."""

import base64
import io
import json
import subprocess
import tarfile
from collections import Counter
from importlib.resources import files
from pathlib import Path

import numpy as np
import pytest
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont
from shapely.affinity import translate

from keencoat.core.artwork.lettering import Typeface, text_area
from keencoat.core.drawing import Drawing, read_drawing
from keencoat.core.errors import BadValueError
from tests.browser.conftest import open_chromium
from tests.drawings.by_hand import FOLLOWED, HEAD, REFUSED
from tests.drawings.generator import Chance
from tests.drawings.judges import Chromium, Ruling, as_svg, compared, looked_at, ruling

EMPTY = "nothing dark"
ICONS = {"lucide-static": "0.545.0", "bootstrap-icons": "1.13.1", "@tabler/icons": "3.35.0", "ionicons": "8.0.13"}
"""Packages of icons from the registry, fetched by hand for the benchmark."""


@pytest.fixture(scope="module")
def chromium():
    driver = open_chromium()
    yield Chromium(driver)
    driver.quit()


@pytest.mark.browser
@pytest.mark.parametrize("trap", FOLLOWED)
def test_each_trap_is_drawn_as_a_judge_draws_it(trap, chromium):
    assert ruling(f"{HEAD}{FOLLOWED[trap]}</svg>", chromium) is not Ruling.WRONG


@pytest.mark.parametrize("trap", REFUSED)
def test_what_is_not_followed_is_refused_with_what_to_do(trap):
    with pytest.raises(BadValueError) as told:
        read_drawing(f"{HEAD}{REFUSED[trap]}</svg>".encode())
    assert told.value.field == "drawing"
    assert told.value.hint


@pytest.mark.browser
@pytest.mark.parametrize("text", ["Łódź Ōsaka", "Ōță Αλόη", "Жасмин їжак"])
@pytest.mark.parametrize("typeface", [face for face in Typeface if face.is_filled])
def test_letters_of_three_scripts_are_set_as_the_browser_sets_them(text, typeface, chromium):
    """The same font file in Chromium, kerned and composed by its own engine."""
    ink = text_area(text, typeface, 10)
    font = base64.b64encode(files("keencoat.core").joinpath("fonts", f"wide-{typeface}.ttf").read_bytes()).decode()
    size, drawing = type_size_mm(typeface), Drawing(ink.bounds[2] + 10, 24.0, translate(ink, 5, 7), {})
    left = 5 - bearing_mm(text, typeface)
    svg = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{drawing.width_mm}mm" height="24mm" viewBox="0 0 '
        f'{drawing.width_mm} 24"><style>@font-face {{ font-family: f; src: url(data:font/ttf;base64,{font}) }}</style>'
        f'<text x="{left}" y="17" font-family="f" font-size="{size}" text-rendering="geometricPrecision">{text}</text>'
        "</svg>"
    )
    whole = (0.0, 0.0, drawing.width_mm, 24.0)
    found = compared(*(chromium.dark(*looked_at(each, drawing, whole)) for each in (as_svg(drawing), svg)))
    assert found.overlap > 0.93, found  # strokes are a dozen pixels wide: an edge of half a pixel is 0.05


def face_of(typeface):
    return TTFont(io.BytesIO(files("keencoat.core").joinpath("fonts", f"wide-{typeface}.ttf").read_bytes()))


def type_size_mm(typeface):
    """The em of letters whose capital H is 10 mm high, by fontTools' own measure."""
    face = face_of(typeface)
    pen = BoundsPen(face.getGlyphSet())
    face.getGlyphSet()[face.getBestCmap()[ord("H")]].draw(pen)
    return 10 * face["head"].unitsPerEm / pen.bounds[3]


def bearing_mm(text, typeface):
    """Where the first letter's ink begins after its origin."""
    face = face_of(typeface)
    pen = BoundsPen(face.getGlyphSet())
    face.getGlyphSet()[face.getBestCmap()[ord(text[0])]].draw(pen)
    return pen.bounds[0] / face["head"].unitsPerEm * type_size_mm(typeface)


def tally(drawings: dict[str, str], chromium) -> tuple[Counter[str], list[str]]:
    """How many drawings are ruled how, and which are wrong."""
    found, wrong = Counter[str](), []
    for name, svg in drawings.items():
        try:
            said = ruling(svg, chromium).value
        except BadValueError as error:
            said = "empty" if EMPTY in str(error) else "refused"
        found[said] += 1
        if said == Ruling.WRONG:
            wrong.append(name)
    return found, wrong


def drawn_anew(count: int) -> dict[str, str]:
    seeds = np.random.SeedSequence().generate_state(count).tolist()
    return {str(seed): Chance(np.random.default_rng(seed)).drawing() for seed in seeds}


@pytest.mark.browser
def test_drawings_by_chance_are_drawn_as_the_judges_draw_them(chromium):
    """Drawn anew each time: of 1,000 none was wrong, so that two in 30 mean a defect."""
    found, wrong = tally(drawn_anew(30), chromium)
    assert len(wrong) <= 1, wrong
    assert found["refused"] == 0
    assert found[Ruling.SPLIT] <= 4


@pytest.mark.bench
@pytest.mark.browser
def test_corpus_of_drawings_by_chance(chromium):
    found, wrong = tally(drawn_anew(300), chromium)
    print(f"\ndrawings by chance: {dict(found)}; wrong: {wrong}")
    assert len(wrong) <= 3


@pytest.mark.bench
@pytest.mark.browser
@pytest.mark.parametrize("package", ICONS)
def test_corpus_of_icons(package, chromium, tmp_path):
    """Every icon of up to 250 of a package, chosen by chance."""
    icons = icons_of(package, tmp_path)
    some = np.random.default_rng().permutation(sorted(icons))[:250].tolist()
    found, wrong = tally({name: icons[name] for name in some}, chromium)
    print(f"\n{package}: {dict(found)}; wrong: {wrong}")
    assert not wrong


def icons_of(package: str, folder: Path) -> dict[str, str]:
    """The drawings of a package, by path."""
    packed = subprocess.run(
        ["npm", "pack", f"{package}@{ICONS[package]}", "--json"], cwd=folder, check=True, capture_output=True
    )
    archive = folder / json.loads(packed.stdout)[0]["filename"].replace("@", "").replace("/", "-")
    with tarfile.open(fileobj=io.BytesIO(archive.read_bytes())) as files:
        return {
            member.name: files.extractfile(member).read().decode()
            for member in files
            if member.isfile() and member.name.endswith(".svg") and member.size < 20_000
        }
