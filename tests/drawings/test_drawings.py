"""How we read drawings, held against two readers that we did not write: area within 0.5 %, overlap of 0.99 or more."""

import io
import json
import subprocess
import tarfile
from collections import Counter
from pathlib import Path

import numpy as np
import pytest

from keencoat.core.drawing import read_drawing
from keencoat.core.errors import BadValueError
from tests.browser.conftest import open_chromium
from tests.drawings.by_hand import FOLLOWED, HEAD, REFUSED
from tests.drawings.generator import Chance
from tests.drawings.judges import Chromium, Ruling, ruling

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
    """Drawn anew each time: of 600 none was wrong, so that two in 30 mean a defect."""
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
