"""Lines to and fro that do not meet: a test of stripes at several speeds, and what their combed edges say.

A beam that comes on late by t draws each line v·t further on, so that lines to and fro lie 2·v·t apart; a loose belt
adds its play at any speed: offset = play + 2·v·t. Half of the offset is what a controller takes as its correction.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from keencoat.core.errors import BadValueError, require_positive, require_within
from keencoat.core.quantities import Machine, Range, Setting, typed_speed_mm_s
from keencoat.core.toolpath.dots import DotRaster
from keencoat.core.toolpath.program import Item, Part, Task

STEPS = (0.5, 1.0, 1.5)
"""Speeds of the stripes, against the one that is asked for."""
_STRIPE_MM, _STRIPES, _LINE_MM, _LINES, _APART_MM = 1.0, 10, 0.25, 12, 6.0
_LOUPE_MM = 0.02
_NINETY = 1.6449


@dataclass(frozen=True)
class MeasuredOffset:
    """How far lines to and fro lie apart at a speed, mm: above 0 where each begins too far on."""

    speed_mm_s: float
    offset_mm: float

    def __post_init__(self) -> None:
        require_positive(self.speed_mm_s, "speed_mm_s", "mm/s")
        require_within(self.speed_mm_s, 0.01, 20_000, "speed_mm_s", "mm/s")
        require_within(self.offset_mm, -5, 5, "offset_mm", "mm")


@dataclass(frozen=True)
class BothWays:
    """A machine's play, mm, and how late its beam comes on, ms, with their 90 % ranges."""

    play_mm: Range
    delay_ms: Range

    def offset_mm(self, speed_mm_s: float) -> float:
        """How far lines to and fro lie apart at a speed, mm."""
        return self.play_mm.mid + 2 * self.delay_ms.mid * speed_mm_s / 1000

    def correction_mm(self, speed_mm_s: float) -> float:
        """What is typed in for that speed, mm: half of it for each direction."""
        return self.offset_mm(speed_mm_s) / 2


def read_both_ways(offsets: Sequence[MeasuredOffset]) -> BothWays:
    """Play and delay by least squares. Raises BadValueError for less than two speeds."""
    speeds = np.array([o.speed_mm_s for o in offsets])
    if len(set(speeds.tolist())) < 2:
        raise BadValueError(
            "One speed cannot tell play from delay.", field="offsets", hint="Measure stripes of two speeds or more."
        )
    seen = np.array([o.offset_mm for o in offsets])
    terms = np.stack([np.ones_like(speeds), 2 * speeds / 1000], axis=1)
    found = np.linalg.lstsq(terms, seen, rcond=None)[0]
    left = max(1, len(offsets) - 2)
    # No loupe reads finer, however well the points lie on a line.
    sd = max(_LOUPE_MM, float(np.sqrt(((seen - terms @ found) ** 2).sum() / left)))
    half = _NINETY * sd * np.sqrt(np.diag(np.linalg.inv(terms.T @ terms)))
    play, delay = (Range(float(v - h), float(v), float(v + h)) for v, h in zip(found, half, strict=True))
    return BothWays(play, delay)


def stripe_test(setting: Setting, machine: Machine) -> list[Task]:
    """Bars of upright stripes, both ways, one above the other by rising speed, with as much energy each as `setting`
    gives; a bar that the machine cannot reach is left out. Work coordinates from the lower left corner, mm."""
    dots = np.tile(np.arange(2 * _STRIPES - 1) % 2 == 0, (_LINES, 1))
    tasks: list[Task] = []
    for step in STEPS:
        speed = typed_speed_mm_s(setting.speed_mm_s * step, machine)
        power = setting.power_pct * speed / setting.speed_mm_s
        if not machine.min_power_pct <= power <= 100:
            continue
        bar = Setting(power, speed, _LINE_MM)
        low = len({task.item for task in tasks}) * _APART_MM
        tasks += DotRaster(dots, 0.0, low, _STRIPE_MM, bar, machine, Item(Part.CELL, f"{speed:g} mm/s"))
    if not tasks:
        raise BadValueError(
            "This machine reaches none of these speeds at such a power.",
            field="power_pct",
            hint=f"Choose {machine.min_power_pct:g} to 100 % at a slower speed.",
        )
    return tasks
