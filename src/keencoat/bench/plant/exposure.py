"""What the head really did: fills and strokes, read from the moves it made and not from any plan."""

import math
from collections.abc import Iterable
from dataclasses import dataclass, field

from keencoat.bench.laser.controller import Burned

_SAME_MM, _SAME_SHARE = 1e-3, 0.01


@dataclass
class Hatch:
    """A filled rectangle: lines along x, `lit` runs by pass as (y, x0, x1), how long it took from `start_s` on."""

    power: float
    speed_mm_s: float
    height_mm: float
    start_s: float
    end_s: float
    passes: list[list[tuple[float, float, float]]] = field(default_factory=list)

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Least x, least y, largest x, largest y that the beam touched, mm."""
        runs = [run for one in self.passes for run in one]
        return (
            min(min(x0, x1) for _, x0, x1 in runs),
            min(y for y, _, _ in runs),
            max(max(x0, x1) for _, x0, x1 in runs),
            max(y for y, _, _ in runs),
        )

    @property
    def interval_mm(self) -> float:
        """Distance of its lines; 0 for a single one."""
        ys = sorted({round(y, 4) for y, _, _ in self.passes[0]})
        return (ys[-1] - ys[0]) / (len(ys) - 1) if len(ys) > 1 else 0.0

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


def read_exposure(burned: Iterable[Burned]) -> tuple[list[Hatch], list[Trace], list[Stand]]:
    """Fills, strokes and standing beams of what was burned. A line of a fill is lit between two dark run-ups on one
    straight line."""
    hatches: list[Hatch] = []
    traces: list[Trace] = []
    went = list(burned)
    stands = [Stand(b.move.x0, b.move.y0, b.move.power, b.seconds, b.height_mm) for b in went if not b.move.length_mm]
    for chain in _chains(b for b in went if b.move.length_mm):
        line = _raster_line(chain)
        if line is not None:
            _add_line(hatches, line)
            continue
        traces += [
            Trace(b.move.x0, b.move.y0, b.move.x1, b.move.y1, b.move.power, b.move.speed_mm_s, b.height_mm)
            for b in chain
            if b.move.power > 0
        ]
    return hatches, traces, stands


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


def _add_line(hatches: list[Hatch], line: _Line) -> None:
    runs = [(line.y, x0, x1) for x0, x1 in line.runs]
    last = hatches[-1] if hatches else None
    if last is not None and _belongs(last, line):
        if line.y < last.passes[-1][-1][0] - _SAME_MM:
            last.passes.append([])
        last.passes[-1] += runs
        last.end_s = line.end_s
        return
    hatches.append(Hatch(line.power, line.speed_mm_s, line.height_mm, line.start_s, line.end_s, [runs]))


def _belongs(hatch: Hatch, line: _Line) -> bool:
    alike = all(
        math.isclose(a, b, rel_tol=_SAME_SHARE)
        for a, b in ((hatch.power, line.power), (hatch.speed_mm_s, line.speed_mm_s), (hatch.height_mm, line.height_mm))
    )
    if not alike:
        return False
    left, low, right, top = hatch.box
    overlaps = min(max(run) for run in line.runs) > left - 0.5 and max(min(run) for run in line.runs) < right + 0.5
    near = low - _SAME_MM <= line.y <= top + max(1.0, 3 * hatch.interval_mm)
    return overlaps and near
