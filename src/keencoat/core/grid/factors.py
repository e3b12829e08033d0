"""Grids over two or three factors of the maker's choice: along the columns, down the rows, and in bands of rows.

Factors that set energy are stepped evenly in log energy, inside what process and machine share; the others in steps
that a hand would take.
"""

import math
from dataclasses import replace
from enum import StrEnum

import numpy as np

from keencoat.core.errors import BadValueError
from keencoat.core.grid.design import (
    SHAPES_BY_CELLS,
    GridDesign,
    PlannedCell,
    cover_findings,
    middle_setting,
    powers_in_reach,
    speeds_in_reach,
)
from keencoat.core.quantities import Machine, Setting, Slice, typed_speed_mm_s
from keencoat.core.window import EnergyBand


class Factor(StrEnum):
    """What a grid may vary."""

    POWER = "power"
    SPEED = "speed"
    INTERVAL = "interval"
    PASSES = "passes"
    GREY = "grey"
    FOCUS = "focus"
    COATS = "coats"


FACTOR_LABELS: dict[Factor, str] = {
    Factor.POWER: "power",
    Factor.SPEED: "speed",
    Factor.INTERVAL: "distance of lines",
    Factor.PASSES: "passes",
    Factor.GREY: "grey steps, for photos",
    Factor.FOCUS: "height of the head",
    Factor.COATS: "coats on the piece, in bands",
}

SHAPES_BY_CELLS_3: dict[int, tuple[int, int, int]] = {12: (2, 2, 3), 16: (2, 2, 4), 24: (2, 3, 4), 36: (3, 3, 4)}
"""Bands, rows in each, and columns of a grid over three factors."""

# Only the columns can follow what each row can reach, so energy lies along them; coats and height change seldom.
_COLUMNS_FIRST = (
    Factor.POWER, Factor.SPEED, Factor.GREY, Factor.INTERVAL, Factor.PASSES, Factor.FOCUS, Factor.COATS,
)  # fmt: skip
_INTERVAL_REACH = 1.6
_M2 = 5.0


def counts_for(factors: int) -> tuple[int, ...]:
    """How many cells a grid over so many factors may have, the least first."""
    return tuple(SHAPES_BY_CELLS if factors < 3 else SHAPES_BY_CELLS_3)


def design_factors(at: Slice, band: EnergyBand, factors: tuple[Factor, ...], cells: int, coats: int) -> GridDesign:
    """A grid over two or three different factors. `at` holds where interval and passes are no factor; power and speed
    that are none stand at the middle of the band. `coats`: how many the job has.

    Raises BadValueError for another number of factors or of cells, or if the machine cannot reach the band.
    """
    if not 2 <= len(set(factors)) == len(factors) <= 3:
        raise BadValueError(
            "A grid varies two or three different things.", field="factors", hint="Choose two or three of them."
        )
    shapes = {n: (1, *shape) for n, shape in SHAPES_BY_CELLS.items()} if len(factors) == 2 else SHAPES_BY_CELLS_3
    if cells not in shapes:
        raise BadValueError(
            f"{cells} cells do not divide over {len(factors)} factors.",
            field="cells",
            hint=f"Take one of {', '.join(map(str, shapes))}.",
        )
    bands, rows, columns = shapes[cells]
    along, down, *rest = sorted(factors, key=_COLUMNS_FIRST.index)
    machine, plain = at.machine, PlannedCell(0, 0, middle_setting(at, band))
    planned: list[PlannedCell] = []
    cover = 1.0
    for part in _levels(rest[0], plain, bands, machine, band, coats) if rest else [plain]:
        if down is Factor.SPEED:
            s = part.setting
            speeds, cover = speeds_in_reach(Slice.of(s, machine), band, rows)
            starts = [replace(part, setting=replace(s, speed_mm_s=v)) for v in speeds]
        else:
            starts = _levels(down, part, rows, machine, band, coats)
        for number, start in enumerate(starts):
            row = len(planned) // columns
            steps = _levels(along, start, columns, machine, band, coats, number % 2)
            planned += [replace(cell, row=row, column=column) for column, cell in enumerate(steps)]
    return GridDesign(bands * rows, columns, tuple(planned), cover_findings(cover))


def _levels(
    factor: Factor, start: PlannedCell, steps: int, machine: Machine, band: EnergyBand, coats: int, shifted: int = 0
) -> list[PlannedCell]:
    """The cell at each level of one factor, all else as in `start`."""
    s = start.setting
    if factor is Factor.POWER:
        settings = powers_in_reach(Slice.of(s, machine), band, s.speed_mm_s, steps, shifted)
    elif factor is Factor.SPEED:
        settings = [replace(s, speed_mm_s=v) for v in _speeds_at(s, machine, band, steps)]
    elif factor is Factor.INTERVAL:
        wide = np.geomspace(s.interval_mm * _INTERVAL_REACH, s.interval_mm / _INTERVAL_REACH, steps)
        settings = [replace(s, interval_mm=round(float(h), 3)) for h in wide]
    elif factor is Factor.PASSES:
        settings = [replace(s, passes=n) for n in range(1, steps + 1)]
    elif factor is Factor.FOCUS:
        reach = focus_reach_mm(machine)
        return [replace(start, focus_mm=round(float(z) * 2) / 2) for z in np.linspace(-reach, reach, steps)]
    elif factor is Factor.COATS:
        least = max(1, coats - (steps - 1) // 2)
        return [replace(start, coats=n) for n in range(least, least + steps)]
    else:
        return [replace(start, grey_pct=round(100 * (n + 1) / steps, 1)) for n in range(steps)]
    return [replace(start, setting=setting) for setting in settings]


def focus_reach_mm(machine: Machine) -> float:
    """How far a focus ladder goes up and down: twice the Rayleigh length πw₀²/(M²λ) (ISO 11146-1), M² taken as 5."""
    waist_mm, wavelength_mm = machine.spot_mm / 2, machine.source.wavelength_nm * 1e-6
    return min(10.0, max(1.0, 2 * math.pi * waist_mm**2 / (_M2 * wavelength_mm)))


def _speeds_at(s: Setting, machine: Machine, band: EnergyBand, steps: int) -> list[float]:
    """Speeds that span the band at this power, fastest (least energy) first."""
    tried = np.geomspace(machine.min_speed_mm_s, machine.max_speed_mm_s, 200)
    energy = machine.rated_w * s.power_pct / 100 * s.passes / (tried * s.interval_mm)
    dwell = 1000 * machine.spot_mm / tried
    inside = np.array(
        [band.low_j_mm2(float(d)) <= e <= band.high_j_mm2(float(d)) for e, d in zip(energy, dwell, strict=True)]
    )
    fit = tried[inside] if inside.sum() > 1 else tried
    return [typed_speed_mm_s(float(v), machine) for v in np.geomspace(fit.max(), fit.min(), steps)]
