"""A round wall under a fixed head: how wide a mark may be before its sides come out faint.

At x beside the ridge of a wall of radius R the beam strikes at θ with sin θ = x/R; the wall has fallen away by the
sagitta R − √(R² − x²); the areal energy falls by cos θ, and the spot is wider by 1/cos θ round the wall and by what the
beam spreads out of focus. What that does to the mark is read from the job's own window: the mark may be as wide as the
share of clean pieces stays at what is wanted. (Common practice, no source: about 30 mm on a narrow glass.) That paint
takes up less at slanting incidence is left out: coats here are matt.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.placing.beam import Beam
from keencoat.core.placing.height import holds_to, points_beside
from keencoat.core.quantities import Machine, Setting
from keencoat.core.rating import Rating
from keencoat.core.window import WindowFit, shares

Floats = NDArray[np.float64]
_PLACES = 61
_STEEPEST_DEG = 75.0
_FOCUSED_FOR = (0.0, 0.4, 0.6, 0.8, 1.0, 1.2)
"""Widths of marks over the wall's radius, between whose ridge and sides a focus is tried half way."""


def sagitta_mm(radius_mm: float, chord_mm: float) -> float:
    """How far an arc's middle rises over its chord.

    >>> round(sagitta_mm(40, 20), 5)
    1.27017
    """
    require_within(chord_mm, 0, 2 * radius_mm, "chord_mm", "mm")
    return radius_mm - math.sqrt(radius_mm**2 - chord_mm**2 / 4)


def incidence_deg(radius_mm: float, aside_mm: float) -> float:
    """The angle at which a beam from straight above strikes a wall, so far beside its ridge.

    >>> round(incidence_deg(40, 10), 4), round(incidence_deg(40, 20), 4)
    (14.4775, 30.0)
    """
    require_within(aside_mm, -radius_mm, radius_mm, "aside_mm", "mm")
    return math.degrees(math.asin(aside_mm / radius_mm))


@dataclass(frozen=True, eq=False)
class Flank:
    """What a fixed head does beside the ridge, each of shape (places,): mm aside, degrees of incidence, mm that the
    wall lies below the focus (above it where negative), spot over the one in focus, areal energy over the ridge's, and
    the share of pieces that are clean, faint and harsh there."""

    aside_mm: Floats
    incidence_deg: Floats
    below_focus_mm: Floats
    spot_times: Floats
    energy_share: Floats
    clean: Floats
    faint: Floats
    harsh: Floats


@dataclass(frozen=True, eq=False)
class FixedHead:
    """How wide a mark may be, mm straight across, 0 where not even the ridge holds; how far below the ridge the focus
    is set; whether the sides fail as faint or as harsh; and the flank that this is read from."""

    widest_mm: float
    focus_below_mm: float
    fails_as: Rating
    flank: Flank


@dataclass(frozen=True)
class UnderHead:
    """What a fixed head marks: the window and the setting, the machine and its beam, and the wall's radius."""

    fit: WindowFit
    setting: Setting
    machine: Machine
    beam: Beam
    radius_mm: float

    def __post_init__(self) -> None:
        require_within(self.radius_mm, 2, 1000, "radius_mm", "mm")

    def flank(self, focus_below_mm: float) -> Flank:
        """The flank with the focus set so far below the ridge, which shares the error between ridge and sides."""
        require_within(focus_below_mm, 0, self.radius_mm, "focus_below_mm", "mm")
        aside = np.linspace(0, self.radius_mm * math.sin(math.radians(_STEEPEST_DEG)), _PLACES)
        angle = np.arcsin(aside / self.radius_mm)
        below = self.radius_mm * (1 - np.cos(angle)) - focus_below_mm
        times = self.beam.wider(below)
        # Dwell and overlap know the spot as it falls: surface speed and interval stretch by 1/cos as the spot does.
        points = points_beside(self.setting, self.machine, np.cos(angle), times)
        share = {rating: of.mean(axis=0) for rating, of in shares(self.fit, points).items()}
        clean, faint, harsh = share[Rating.CLEAN], share[Rating.FAINT], share[Rating.HARSH]
        return Flank(aside, np.degrees(angle), below, times, np.cos(angle), clean, faint, harsh)


def fixed_head(under: UnderHead, wanted: float, focus_below_mm: float | None = None) -> FixedHead:
    """How wide a mark may be, with the focus set as told, or where it lets the mark be widest."""
    if focus_below_mm is not None:
        return _read(under.flank(focus_below_mm), focus_below_mm, wanted)
    tried = [sagitta_mm(under.radius_mm, share * under.radius_mm) / 2 for share in _FOCUSED_FOR]
    heads = [_read(under.flank(below), below, wanted) for below in tried]
    return max(heads, key=lambda head: (round(head.widest_mm, 1), -head.focus_below_mm))


def _read(flank: Flank, focus_below_mm: float, wanted: float) -> FixedHead:
    under = np.flatnonzero(flank.clean < wanted)
    first = int(under[0]) if len(under) else -1
    fails_as = Rating.FAINT if flank.faint[first] >= flank.harsh[first] else Rating.HARSH
    return FixedHead(2 * holds_to(flank.aside_mm, flank.clean, wanted), focus_below_mm, fails_as, flank)


def across_mm(round_mm: float, radius_mm: float) -> float:
    """How wide a mark of so much round a wall is straight across, as a head from above sees it.

    >>> round(across_mm(2 * math.pi * 30 / 6, 30), 9)
    30.0
    """
    return 2 * radius_mm * math.sin(min(round_mm / 2 / radius_mm, math.pi / 2))


@dataclass(frozen=True)
class Turns:
    """A mark in strips, each burned with the piece turned on by so many degrees: `strip_mm` of art round the wall each,
    the middle ones of the art at these degrees."""

    strip_mm: float
    at_deg: tuple[float, ...]


def turns_for(round_mm: float, widest_mm: float, radius_mm: float) -> Turns:
    """How art of this width (round the wall) is parted into strips that a fixed head can mark. Raises BadValueError
    where it can mark none, or the art goes round more than once."""
    require_within(round_mm, 0.1, 2 * math.pi * radius_mm, "width_mm", "mm")
    if widest_mm <= 0:
        raise BadValueError(
            "At this setting not even the ridge comes out clean often enough.",
            field="width_mm",
            hint="Lock a surer setting first.",
        )
    reach = math.asin(min(1.0, widest_mm / 2 / radius_mm)) * 2 * radius_mm
    count = math.ceil(round_mm / reach - 1e-9)
    strip = round_mm / count
    step = math.degrees(strip / radius_mm)
    return Turns(strip, tuple(step * (n - (count - 1) / 2) for n in range(count)))
