"""Filled areas as raster lines in both directions with overscan, and polylines, as moves."""

import math
from collections.abc import Sequence

import numpy as np

from keencoat.core.quantities import Machine, Setting
from keencoat.core.toolpath.letters import Stroke
from keencoat.core.toolpath.program import NOTHING, Column, Flags, Moves, joined, moves_of


def bayer(side: int) -> Column:
    """The thresholds (M + ½)/side² of Bayer's ordered screen, shape (side, side), side a power of two (Bayer 1973).

    >>> (bayer(2) * 4 - 0.5).tolist()
    [[0.0, 2.0], [3.0, 1.0]]
    """
    ranks = np.zeros((1, 1))
    while len(ranks) < side:
        ranks = np.block([[4 * ranks, 4 * ranks + 2], [4 * ranks + 3, 4 * ranks + 1]])
    return (ranks + 0.5) / side**2


def overscan_mm(speed_mm_s: float, accel_mm_s2: float) -> float:
    """Run-up that brings the head to speed before the beam goes on: v²/2a.

    >>> overscan_mm(100, 1000)
    5.0
    """
    return speed_mm_s**2 / (2 * accel_mm_s2)


def line_count(height_mm: float, interval_mm: float) -> int:
    """Lines in a filled height, the first and the last included.

    >>> line_count(50, 0.1)
    501
    """
    return math.floor(height_mm / interval_mm + 1e-9) + 1


def raster_moves(
    left_mm: float,
    low_mm: float,
    width_mm: float,
    height_mm: float,
    setting: Setting,
    machine: Machine,
    grey_pct: float = 100.0,
) -> Moves:
    """The moves that fill a rectangle: bottom to top, every other line from right to left, each pass anew.

    Below 100 % grey the lines are broken into dots as wide as the lines are apart, by a Bayer 4 × 4 threshold
    (M + ½)/16 (Bayer 1973).
    """
    lines = line_count(height_mm, setting.interval_mm)
    if grey_pct < 100:
        dots = max(1, round(width_mm / setting.interval_mm))
        screen = np.tile(bayer(4), dots // 4 + 1)[:, :dots]
        rows = (screen < grey_pct / 100)[np.arange(lines) % 4]
        once = joined(
            dot_row_moves(row, n, left_mm, low_mm + n * setting.interval_mm, width_mm, setting, machine)
            for n, row in enumerate(rows)
        )
    else:
        once = _full_lines(left_mm, low_mm, width_mm, lines, setting, machine)
    return joined([once] * setting.passes)


def _full_lines(
    left_mm: float, low_mm: float, width_mm: float, lines: int, setting: Setting, machine: Machine
) -> Moves:
    """Lines that are lit from end to end: four moves each."""
    run_up = overscan_mm(setting.speed_mm_s, machine.accel_mm_s2)
    ends = np.array([left_mm - run_up, left_mm, left_mm + width_mm, left_mm + width_mm + run_up])
    x = np.where(np.arange(lines)[:, None] % 2 == 0, ends, ends[::-1])
    y = np.repeat(low_mm + np.arange(lines) * setting.interval_mm, 4)
    s = setting.speed_mm_s
    return moves_of(
        x.ravel(),
        y,
        np.tile([machine.max_speed_mm_s, s, s, s], lines),
        np.tile([0.0, 0.0, setting.power_pct, 0.0], lines),
        np.tile([True, False, False, True], lines),
        np.tile([True, False, False, False], lines),
    )


def dot_row_moves(
    lit: Flags, line: int, left_mm: float, y_mm: float, width_mm: float, setting: Setting, machine: Machine
) -> Moves:
    """One line of dots that share its width, lit or dark, from the left; odd lines are burned from right to left."""
    run_up = overscan_mm(setting.speed_mm_s, machine.accel_mm_s2)
    row = lit if line % 2 == 0 else lit[::-1]
    turns = np.flatnonzero(np.append(row[1:] != row[:-1], True))
    start, end, way = (left_mm, left_mm + width_mm, 1) if line % 2 == 0 else (left_mm + width_mm, left_mm, -1)
    x = np.concatenate(
        [
            [start - way * run_up, start],
            start + way * (turns + 1) / len(row) * width_mm,
            [end + way * run_up],
        ]
    )
    speed, power = np.full(len(x), setting.speed_mm_s), np.zeros(len(x))
    speed[0] = machine.max_speed_mm_s
    power[2:-1] = np.where(row[turns], setting.power_pct, 0.0)
    stops, rapid = np.zeros(len(x), dtype=bool), np.zeros(len(x), dtype=bool)
    stops[[0, -1]], rapid[0] = True, True
    return moves_of(x, np.full(len(x), y_mm), speed, power, stops, rapid)


def stroke_moves(strokes: Sequence[Stroke], setting: Setting, machine: Machine) -> Moves:
    """Polylines one after the other; the head rests at every corner."""
    if not strokes:
        return NOTHING
    lengths = [len(stroke) for stroke in strokes]
    points = np.array([point for stroke in strokes for point in stroke]).reshape(-1, 2)
    first = np.zeros(len(points), dtype=bool)
    first[np.cumsum([0, *lengths[:-1]])] = True
    return moves_of(
        points[:, 0],
        points[:, 1],
        np.where(first, machine.max_speed_mm_s, setting.speed_mm_s),
        np.where(first, 0.0, setting.power_pct),
        np.ones(len(points), dtype=bool),
        first,
    )
