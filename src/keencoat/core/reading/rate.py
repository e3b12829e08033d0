"""From what was measured to a proposed rating with its defects: few rules, each with its limit in sight.

How full a mark is decides between faint and clean; the largest of a process's harms, each against its limit, decides
whether it is harsh. Limits are our own estimates; the workshop's corrections move them (`tune.py`).
"""

import math
from dataclasses import dataclass

import numpy as np
from scipy.special import expit

from keencoat.core.rating import FULL_AT, Rating
from keencoat.core.reading.cells import CellReading
from keencoat.core.reading.doubts import BLUR_MM, WIDE_HARM_BLUR_MM, Doubt
from keencoat.core.substrate import PROCESSES
from keencoat.core.vision import Floats

_FULL_WIDTH = 0.035
_HARM_STEEPNESS = 4.0
_SURE = 0.9
_PATCHY = 0.1
_TONED = 0.4
"""Share of the limit of tone beside a mark from which careful eyes part: the two worlds draw that line at 0.4 and at
1.2."""
_HOLES, _SPECKS_TO_HOLES, _SLIGHT = 0.012, 1.5, 6.0
"""Rims of holes in a patchy mark look like chips. Where holes or gaps are more than `_HOLES` of the patch, specks that
cover fewer times the area of the holes, or come to fewer times their limit, may be such rims (told apart on the second
world's photos)."""


@dataclass(frozen=True)
class Limit:
    """A harm that can be measured: which figure, from which value it is harsh, and the defect it shows."""

    figure: str
    at: float
    defect: str
    words: str


_SPECKS = "specks"
_HALO = "haze"
_TINT = "tint"
_ROUGH = "roughness"

LIMITS: dict[str, tuple[Limit, ...]] = {
    "frost": (Limit(_SPECKS, 0.012, "chips", "chips or cracks"),),
    "fuse": (Limit(_HALO, 0.20, "detail_lost", "black beyond the patch"), Limit(_SPECKS, 0.02, "chips", "chips")),
    "reveal": (
        Limit(_SPECKS, 0.014, "base_damaged", "spots where the base is burnt"),
        Limit(_TINT, 14.0, "base_damaged", "another colour than a full mark"),
    ),
    "back_engrave": (Limit(_SPECKS, 0.012, "pinholes", "pinholes"), Limit(_TINT, 10.0, "brown", "browned")),
    "protect": (Limit(_HALO, 0.20, "haze", "haze beside the mark"), Limit(_TINT, 12.0, "brown", "browned")),
    "ablate": (Limit(_SPECKS, 0.014, "residue", "spots of residue"), Limit(_TINT, 14.0, "brown", "scorched")),
    "resist": (Limit(_HALO, 0.20, "undercut", "cleared beyond the edge"), Limit(_ROUGH, 0.14, "undercut", "ragged")),
}


_BLUR_ALLOWED_MM = {"fuse": WIDE_HARM_BLUR_MM, "protect": WIDE_HARM_BLUR_MM, "resist": 0.16}
"""Blur that the smallest harm of a process bears, where that is not a chip or a pinhole."""


@dataclass(frozen=True)
class Tuning:
    """What a workshop's corrections have moved: fullness that counts as clean, and ln of the harm limits' factor.

    `cells` is how many corrected or confirmed cells it rests on.
    """

    full_at: float = FULL_AT
    harm_ln: float = 0.0
    cells: int = 0

    @property
    def harm_factor(self) -> float:
        """By what all harm limits are multiplied."""
        return math.exp(self.harm_ln)


@dataclass(frozen=True)
class Proposal:
    """A proposed rating: chances of the three (they add up to 1), defects that speak for it, why, in words, and what in
    the photo keeps it from being sure."""

    code: str
    faint: float
    clean: float
    harsh: float
    defects: tuple[str, ...]
    why: str
    doubts: tuple[str, ...] = ()

    @property
    def rating(self) -> Rating:
        """The likeliest."""
        return max(((self.faint, Rating.FAINT), (self.clean, Rating.CLEAN), (self.harsh, Rating.HARSH)))[1]

    @property
    def chance(self) -> float:
        """How likely the likeliest is."""
        return max(self.faint, self.clean, self.harsh)

    @property
    def sure(self) -> bool:
        """Whether it may be taken over without a look at the cell: nine to one and more, and nothing to doubt."""
        return self.chance >= _SURE and not self.doubts


def fullness(cell: CellReading) -> float:
    """How full a mark is, 0…1: its tone against a full mark's, less what is left unmarked."""
    return max(0.0, min(1.0, cell.full_share)) * (1 - cell.gap_share)


def harms(cell: CellReading, process: str) -> list[tuple[float, Limit]]:
    """Each harm of a process against its limit (1: just there), the largest first."""
    figures = {_SPECKS: cell.speck_share, _HALO: cell.haze, _ROUGH: cell.roughness_mm, _TINT: cell.tint_de}
    found = [(max(0.0, figures[limit.figure]) / limit.at, limit) for limit in LIMITS[process]]
    return sorted(found, key=lambda item: -item[0])


def chances(full: Floats, worst: Floats, tuning: Tuning) -> tuple[Floats, Floats, Floats]:
    """Chances of faint, clean and harsh for marks so full, with so much harm against its limit; arrays of one shape."""
    harsh = expit(_HARM_STEEPNESS * (np.log(np.maximum(worst, 1e-3)) - tuning.harm_ln))
    enough = expit((full - tuning.full_at) / _FULL_WIDTH)
    return (1 - harsh) * (1 - enough), (1 - harsh) * enough, harsh


def _may_be_holes(cell: CellReading, ratio: float, worst: Limit) -> bool:
    if worst.figure not in (_SPECKS, _ROUGH):
        return False
    wide = cell.hole_share > _HOLES and cell.speck_share < _SPECKS_TO_HOLES * cell.hole_share
    return wide or (cell.gap_share > _HOLES and ratio < _SLIGHT)


def propose(cell: CellReading, process: str, tuning: Tuning) -> Proposal:
    """A rating for a measured cell of `process`."""
    full = fullness(cell)
    measured = harms(cell, process)
    faint, clean, harsh = (float(c) for c in chances(np.array(full), np.array(measured[0][0]), tuning))
    known = PROCESSES[process].defects
    defects = [limit.defect for ratio, limit in measured if ratio > tuning.harm_factor]
    reasons = [f"{limit.words}: {ratio:.1f} times its limit" for ratio, limit in measured if ratio > 0.6]
    if faint > clean and harsh < 0.5:
        defects.append("patchy" if cell.gap_share > _PATCHY and cell.full_share > 0.5 else "coat_left")
    if cell.stripes is not None and cell.stripes > 0.25 and full > 0.3:
        defects.append("stripes")
        reasons.append(f"stripes swing by {100 * cell.stripes:.0f} %")
    if cell.strokes_merged or (cell.strokes_seen is not None and cell.strokes_seen < 0.5 and full > 0.8):
        reasons.append("fine strokes are lost")
        if cell.strokes_merged:
            defects.append("detail_lost")
    doubts = tuple(cell.doubts)
    if cell.blur_mm > _BLUR_ALLOWED_MM.get(process, BLUR_MM):
        doubts += (str(Doubt.BLURRED),)
    ratio, worst = measured[0]
    if harsh > faint and _may_be_holes(cell, ratio, worst):
        doubts += (str(Doubt.PATCHED),)
    if clean > harsh and worst.figure == _HALO and ratio > _TONED:
        doubts += (str(Doubt.TONED),)
    reasons += [f"{doubt}: look at it by eye" for doubt in doubts]
    reasons.insert(0, f"{100 * full:.0f} % of a full mark")
    kept = tuple(d for d in dict.fromkeys(defects) if d in known)
    return Proposal(cell.code, round(faint, 3), round(clean, 3), round(harsh, 3), kept, "; ".join(reasons), doubts)
