"""What the head really did: fills and strokes, read from the moves it made and not from any plan.

Lines that follow each other upwards with one power and speed are one fill, whether each is lit from end to end or in
dots; lines that start again below are its next pass.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from keencoat.bench.laser.controller import Burned

_SAME_MM, _SAME_SHARE, _RAGGED_MM = 1e-3, 0.01, 0.1
_NEAR_MM, _BESIDE_MM, _NEXT_STEPS, _WAITED_SHARE = 1.0, 0.5, 1.5, 0.2


@dataclass
class Hatch:
    """A fill: lines along x, lit runs by pass as (y, x0, x1), how long it took from `start_s` on."""

    power: float
    speed_mm_s: float
    height_mm: float
    start_s: float
    end_s: float
    passes: list[list[tuple[float, float, float]]] = field(default_factory=list)

    @cached_property
    def box(self) -> tuple[float, float, float, float]:
        """Least x, least y, largest x, largest y that the beam touched, mm."""
        runs = [run for one in self.passes for run in one]
        return (
            min(min(x0, x1) for _, x0, x1 in runs),
            min(y for y, _, _ in runs),
            max(max(x0, x1) for _, x0, x1 in runs),
            max(y for y, _, _ in runs),
        )

    @cached_property
    def lines_mm(self) -> list[float]:
        """Heights of its lines, the lowest first."""
        return sorted({round(y, 4) for y, _, _ in self.passes[0]})

    @cached_property
    def interval_mm(self) -> float:
        """Distance of its lines, where none is left out; 0 for a single one."""
        return float(np.median(np.diff(self.lines_mm))) if len(self.lines_mm) > 1 else 0.0

    @cached_property
    def is_whole(self) -> bool:
        """Whether it is a rectangle of whole lines, none of them in dots or of another length."""
        left, low, right, top = self.box
        lines = 1 + round((top - low) / self.interval_mm) if self.interval_mm else 1
        ends = (abs(min(x0, x1) - left) + abs(max(x0, x1) - right) for _, x0, x1 in self.passes[0])
        return len(self.passes[0]) <= lines <= len(self.lines_mm) and max(ends) < _RAGGED_MM

    @property
    def lit_mm(self) -> float:
        """Length of all lit runs."""
        return sum(abs(x1 - x0) for one in self.passes for _, x0, x1 in one)


@dataclass(frozen=True)
class Stand:
    """A beam that stood still and lit at (x, y), mm, for so many seconds."""

    x: float
    y: float
    power: float
    seconds: float
    height_mm: float


@dataclass(frozen=True)
class Trace:
    """A single lit stroke from (x0, y0) to (x1, y1), mm."""

    x0: float
    y0: float
    x1: float
    y1: float
    power: float
    speed_mm_s: float
    height_mm: float


@dataclass(frozen=True)
class _Line:
    y: float
    runs: tuple[tuple[float, float], ...]
    power: float
    speed_mm_s: float
    height_mm: float
    start_s: float
    end_s: float

    @property
    def left(self) -> float:
        """Its least lit x, mm."""
        return min(min(run) for run in self.runs)

    @property
    def right(self) -> float:
        """Its largest lit x, mm."""
        return max(max(run) for run in self.runs)


class _Growing:
    """A fill as it grows line by line, with the box of what is lit so far."""

    def __init__(self, line: _Line) -> None:
        self.hatch = Hatch(line.power, line.speed_mm_s, line.height_mm, line.start_s, line.end_s, [[]])
        self.left = self.right = line.runs[0][0]
        self.low = self.top = self._below = line.y
        self._step_mm = 0.0
        self._add(line)

    def takes(self, line: _Line) -> bool:
        """Add a line if it belongs to this fill."""
        hatch = self.hatch
        # A line that had to wait for its rest is slower on average; it is the next of its fill all the same.
        next_one = 0 < line.y - self._below < _NEXT_STEPS * self._step_mm
        alike = all(
            math.isclose(a, b, rel_tol=_WAITED_SHARE if next_one else _SAME_SHARE)
            for a, b in (
                (hatch.power, line.power),
                (hatch.speed_mm_s, line.speed_mm_s),
                (hatch.height_mm, line.height_mm),
            )
        )
        beside = line.left < self.right + _BESIDE_MM and line.right > self.left - _BESIDE_MM
        near = self.low - _SAME_MM <= line.y <= self.top + max(_NEAR_MM, 3 * self._step_mm)
        if not (alike and beside and near):
            return False
        if line.y < self._below - _SAME_MM:
            hatch.passes.append([])
        self._add(line)
        return True

    def _add(self, line: _Line) -> None:
        hatch = self.hatch
        hatch.passes[-1] += [(line.y, x0, x1) for x0, x1 in line.runs]
        hatch.end_s = line.end_s
        if len(hatch.passes) == 1 and line.y > self._below:
            self._step_mm = line.y - self._below
        self.left, self.right = min(self.left, line.left), max(self.right, line.right)
        self.top, self._below = max(self.top, line.y), line.y


def read_exposure(burned: Iterable[Burned]) -> tuple[list[Hatch], list[Trace], list[Stand]]:
    """Fills, strokes and standing beams of what was burned. A line of a fill is lit between two dark run-ups on one
    straight line."""
    hatches: list[_Growing] = []
    traces: list[Trace] = []
    went = list(burned)
    stands = [Stand(b.move.x0, b.move.y0, b.move.power, b.seconds, b.height_mm) for b in went if not b.move.length_mm]
    for chain in _chains(b for b in went if b.move.length_mm):
        line = _raster_line(chain)
        if line is not None:
            if not (hatches and hatches[-1].takes(line)):
                hatches.append(_Growing(line))
            continue
        traces += [
            Trace(b.move.x0, b.move.y0, b.move.x1, b.move.y1, b.move.power, b.move.speed_mm_s, b.height_mm)
            for b in chain
            if b.move.power > 0
        ]
    return [growing.hatch for growing in hatches], traces, stands


def _chains(burned: Iterable[Burned]) -> Iterable[list[Burned]]:
    chain: list[Burned] = []
    for b in burned:
        if b.move.rapid:
            if chain:
                yield chain
            chain = []
        else:
            chain.append(b)
    if chain:
        yield chain


def _raster_line(chain: list[Burned]) -> _Line | None:
    first = chain[0].move
    if len(chain) < 2 or first.power > 0 or any(abs(b.move.y1 - first.y0) > _SAME_MM for b in chain):
        return None
    lit = [b for b in chain if b.move.power > 0]
    if not lit:
        return None
    runs = tuple((b.move.x0, b.move.x1) for b in lit)
    last = chain[-1]
    seconds = sum(b.seconds for b in lit)
    # A line that has not come up to speed before it is lit is as slow as it was on average.
    speed = sum(b.move.length_mm for b in lit) / seconds
    power = sum(b.move.power * b.seconds for b in lit) / seconds
    return _Line(first.y0, runs, power, speed, lit[0].height_mm, chain[0].start_s, last.start_s + last.seconds)
