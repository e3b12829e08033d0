"""What is said of a coat: each finding from a reading made by hand, and every code of core has a test."""

import re
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from keencoat.core.coat.evenness.advice import EVEN_CV, advise_coat, place_words
from keencoat.core.coat.evenness.faults import Fault, FaultKind
from keencoat.core.coat.evenness.film import LightWay, Reference
from keencoat.core.coat.evenness.measure import CoatReading
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Severity
from keencoat.core.sources import SOURCES
from keencoat.core.vision.outline import EdgeKind, SeenOutline
from keencoat.core.vision.rectify import SeenFace
from keencoat.core.vision.streaks import Streaks

SQUARE = SeenOutline(EdgeKind.CORNERS, ((0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9)))
GOOD = CoatReading(
    outline=SQUARE,
    face=SeenFace(EdgeKind.CORNERS, 90, 60),
    squares=np.ones((60, 90), dtype=np.float32),
    cv=0.05,
    mean_signal=1.6,
    blind_share=0.0,
    reference=Reference.BARE_SHOT,
    told=True,
    contrast=1.0,
    way=LightWay.THROUGH,
    faults=(),
    streaks=Streaks(0, 0, 0, 0),
    px_per_mm=8,
    upright=np.zeros((4, 4, 3), dtype=np.uint8),
)
BACK = {"way": LightWay.BACK, "mean_signal": 1.6}


def fault(kind, x=4.0, y=4.0, width=5.0, height=4.0, area=None, film=0.5):
    return Fault(kind, x, y, width, height, width * height if area is None else area, film)


def holes(count):
    return tuple(fault(FaultKind.PINHOLE, x=3.0 * n, width=0.4, height=0.4) for n in range(count))


@pytest.mark.parametrize(
    ("change", "codes"),
    [
        ({}, ["coat-even"]),
        ({"cv": 0.16}, ["coat-uneven"]),
        ({"cv": 0.30}, ["coat-uneven"]),
        ({"faults": (fault(FaultKind.THIN),)}, []),
        ({"faults": (fault(FaultKind.THIN, width=9, height=9),)}, ["coat-thin-spot"]),
        ({"faults": (fault(FaultKind.BARE),)}, ["coat-bare"]),
        ({"faults": (fault(FaultKind.POOLED, width=8, height=8),)}, ["coat-pooled"]),
        ({"faults": (fault(FaultKind.POOLED, width=30, height=20),)}, ["coat-pooled"]),
        ({"faults": (fault(FaultKind.CRACK, width=6, height=8),)}, ["coat-cracked"]),
        ({"faults": (fault(FaultKind.CRACK, width=2, height=2),)}, []),
        ({"faults": holes(3)}, []),
        ({"faults": holes(8)}, ["coat-pinholes"]),
        ({"faults": (fault(FaultKind.SHINE, width=5, height=5),)} | BACK, ["coat-shine", "coat-untold"]),
        ({"streaks": Streaks(88, 4.2, 0.09, 0.8)}, ["coat-streaked"]),
        ({"streaks": Streaks(88, 4.2, 0.09, 0.2)}, []),
        ({"streaks": Streaks(88, 4.2, 0.01, 0.8)}, []),
        ({"mean_signal": 0.8}, ["coat-thin-all"]),
        ({"mean_signal": 0.8, "told": False}, ["coat-untold"]),
        ({"blind_share": 0.08}, ["coat-blind"]),
        (BACK | {"mean_signal": 0.4}, ["coat-thin-all", "coat-untold"]),
        (BACK, ["coat-untold"]),
        (BACK | {"told": False}, ["coat-untold"]),
        (BACK | {"streaks": Streaks(88, 4.2, 0.09, 0.8)}, ["coat-streaked", "coat-untold"]),
        (BACK | {"streaks": Streaks(88, 4.2, 0.09, 0.8), "contrast": 0.05}, ["coat-untold"]),
        (BACK | {"mean_signal": 3.0}, ["coat-hides"]),
        (BACK | {"mean_signal": 3.0, "cv": 0.5, "streaks": Streaks(88, 4.2, 0.09, 0.8)}, ["coat-hides"]),
    ],
)
def test_each_reading_has_its_words(change, codes):
    findings = advise_coat(replace(GOOD, **change), 1.5)
    assert [f.code for f in findings] == (codes or ["coat-even"])
    for finding in findings:
        assert finding.fix
        assert finding.source in SOURCES
        assert all(np.isfinite(v) for v in finding.figures.values())


def test_the_gravest_comes_first_and_all_are_told():
    faults = (fault(FaultKind.THIN, width=9, height=9), fault(FaultKind.CRACK, width=9, height=9), *holes(30))
    findings = advise_coat(replace(GOOD, faults=faults, mean_signal=0.5), 1.5)
    assert [f.severity for f in findings] == sorted((f.severity for f in findings), key=list(Severity).index)
    assert findings[0].code == "coat-cracked"
    assert {f.code for f in findings} == {"coat-cracked", "coat-thin-spot", "coat-pinholes", "coat-thin-all"}
    # Many pinholes are grease or dust: another coat would not close them.
    assert "degrease" in next(f.fix for f in findings if f.code == "coat-pinholes")


def test_much_pooling_starts_over_and_little_is_kept_off():
    little = advise_coat(replace(GOOD, faults=(fault(FaultKind.POOLED, width=8, height=8),)), 1.5)[0]
    much = advise_coat(replace(GOOD, faults=(fault(FaultKind.POOLED, width=30, height=20),)), 1.5)[0]
    assert (little.severity, much.severity) == (Severity.WARN, Severity.STOP)
    assert "start again" in much.fix


def test_streaks_are_crossed_by_the_next_coat():
    finding = advise_coat(replace(GOOD, streaks=Streaks(30, 4.2, 0.09, 0.8)), 1.5)[0]
    assert "at 120°" in finding.fix
    assert finding.figures["spacing_mm"] == pytest.approx(4.2)


@pytest.mark.parametrize(
    ("x", "y", "words"),
    [
        (2, 2, "top left corner"), (82, 50, "bottom right corner"), (43, 2, "top edge"), (43, 52, "bottom edge"),
        (2, 28, "left edge"), (84, 28, "right edge"), (43, 28, "middle"),
    ],
)  # fmt: skip
def test_places_are_named_as_one_would_point(x, y, words):
    assert place_words(fault(FaultKind.THIN, x=x, y=y), GOOD) == words


def test_a_careful_shop_is_not_scolded():
    """The workshop's usual coat scatter (12 %) must pass as even."""
    assert [f.code for f in advise_coat(replace(GOOD, cv=EVEN_CV - 0.001), 1.5)] == ["coat-even"]


def test_every_code_of_core_has_a_test():
    root = Path(__file__).parents[2]
    source = "\n".join(p.read_text(encoding="utf-8") for p in (root / "src/keencoat/core").rglob("*.py"))
    codes = set(re.findall(r"\b(?:Caution|GateItem)\(\s*\"([a-z][\w-]*)\"", source)) | {str(c) for c in FindingCode}
    tests = "\n".join(p.read_text(encoding="utf-8") for p in (root / "tests").rglob("*.py"))
    assert len(codes) > 30
    assert {code for code in codes if f'"{code}"' not in tests} == set()
