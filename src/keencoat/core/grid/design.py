"""Which cells to burn: crossed in log energy and dwell, or the blind rectangle of usual practice."""

import math
from dataclasses import dataclass

import numpy as np

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.quantities import Machine, Setting, Slice, power_for_energy_pct, typed_speed_mm_s
from keencoat.core.window import EnergyBand

SHAPES_BY_CELLS: dict[int, tuple[int, int]] = {
    8: (2, 4),
    9: (3, 3),
    10: (2, 5),
    12: (3, 4),
    15: (3, 5),
    16: (4, 4),
}
"""Rows (dwell) and columns (energy) of a crossed grid."""

LEGIBLE_SHARE = 0.7
"""How far up the band codes and frame are burned: they must be readable and are never judged, so rather too much."""
MAX_ROWS = 16
_SPEED_SPAN = 6.0
_WANTED_COVER = 0.4
_LEAST_COVER = 0.3
_BLIND_STEPS = 9


@dataclass(frozen=True)
class PlannedCell:
    """A cell before it has a place: row and column count from 0; `code` is row letter and column number.

    `focus_mm`: how far the head stands above the usual height. `coats`: coats under this cell, None as the job has.
    `grey_pct`: share of the patch that is burned, as dots, for photos.
    """

    row: int
    column: int
    setting: Setting
    focus_mm: float = 0.0
    coats: int | None = None
    grey_pct: float = 100.0

    @property
    def code(self) -> str:
        """Row letter and column number, as burned along the edges: A1 is the first."""
        return cell_code(self.row, self.column)

    @property
    def plain(self) -> bool:
        """Whether it was burned as the job will be: in focus, under the job's coats, filled."""
        return self.focus_mm == 0 and self.coats is None and self.grey_pct == 100


@dataclass(frozen=True)
class GridDesign:
    """The cells of a grid, with what there is to say about them."""

    rows: int
    columns: int
    cells: tuple[PlannedCell, ...]
    findings: tuple[Finding, ...] = ()

    def part(self, rows: range, columns: range) -> "GridDesign":
        """The cells in these rows and columns, counted from 0; they keep their codes."""
        kept = tuple(c for c in self.cells if c.row in rows and c.column in columns)
        return GridDesign(len(rows), len(columns), kept, self.findings)


def cell_code(row: int, column: int) -> str:
    """Row letter and column number of the cell at (row, column), counted from 0."""
    require_within(row, 0, MAX_ROWS - 1, "row")
    return f"{chr(ord('A') + row)}{column + 1}"


def design_crossed(at: Slice, band: EnergyBand, cells: int = 12) -> GridDesign:
    """A grid evenly spaced in log energy, crossed with dwell, inside what the machine can do.

    Rows go from the fastest speed at which the machine still covers two fifths of the band, down to a sixth of it;
    every other row is shifted by half a step, so that the energies of neighbouring rows interleave.
    Raises BadValueError if the machine cannot reach the band at all.
    """
    if cells not in SHAPES_BY_CELLS:
        raise BadValueError(
            f"A crossed grid of {cells} cells does not divide into rows.",
            field="cells",
            hint=f"Take one of {', '.join(map(str, SHAPES_BY_CELLS))}.",
        )
    rows, columns = SHAPES_BY_CELLS[cells]
    speeds, cover = speeds_in_reach(at, band, rows)
    planned = [
        PlannedCell(row, column, setting)
        for row, speed_mm_s in enumerate(speeds)
        for column, setting in enumerate(powers_in_reach(at, band, speed_mm_s, columns, row % 2))
    ]
    return GridDesign(rows, columns, tuple(planned), cover_findings(cover))


def powers_in_reach(at: Slice, band: EnergyBand, speed_mm_s: float, steps: int, shifted: int = 0) -> list[Setting]:
    """Settings at this speed, evenly spaced in log energy over what machine and band share; half a step on if shifted.

    Where they share nothing, all powers that the machine has are spanned.
    """
    low, high = _reach_at(speed_mm_s, at, band)
    if high <= low:
        full = at.full_j_mm2(speed_mm_s)
        low, high = full * at.machine.min_power_pct / 100, full
    settings = []
    for step in range(steps):
        share = 0.5 * shifted / steps + (1 - 0.5 / steps) * step / max(1, steps - 1)
        energy = low * (high / low) ** share
        settings.append(_setting_for(energy, speed_mm_s, at))
    return settings


def _setting_for(energy_j_mm2: float, speed_mm_s: float, at: Slice) -> Setting:
    """The setting with this energy, its power as a person would type it and the machine can give it."""
    power = power_for_energy_pct(energy_j_mm2, speed_mm_s, at)
    return at.setting(min(100.0, max(at.machine.min_power_pct, round(power, 1))), speed_mm_s)


def middle_setting(at: Slice, band: EnergyBand, share: float = 0.5) -> Setting:
    """The middle of the band (or another share of the way up it, in ln energy) at the middle of the speeds in reach:
    for what no factor changes."""
    speed_mm_s = speeds_in_reach(at, band, 3)[0][1]
    dwell_ms = 1000 * at.machine.spot_mm / speed_mm_s
    energy = band.low_j_mm2(dwell_ms) ** (1 - share) * band.high_j_mm2(dwell_ms) ** share
    return _setting_for(energy, speed_mm_s, at)


_CELL_HIGH = 1.4
"""How high a cell with its strokes is, against its width."""


def design_listed(settings: list[Setting], wide: float = 1.0) -> GridDesign:
    """A grid of given settings, in rows that leave patches the most room on a face `wide` times as wide as high; the
    order is kept."""
    across = math.sqrt(len(settings) * _CELL_HIGH * wide)
    rows = math.ceil(len(settings) / min(max(round(across), 1), len(settings)))
    columns = math.ceil(len(settings) / rows)
    cells = tuple(PlannedCell(n // columns, n % columns, setting) for n, setting in enumerate(settings))
    return GridDesign(math.ceil(len(settings) / columns), columns, cells)


WEDGE_STEPS = 8


def design_wedge(setting: Setting) -> GridDesign:
    """A grey wedge at one setting: eighths of its dots, the whole last, in two rows."""
    columns = WEDGE_STEPS // 2
    cells = tuple(
        PlannedCell(n // columns, n % columns, setting, grey_pct=100 * (n + 1) / WEDGE_STEPS)
        for n in range(WEDGE_STEPS)
    )
    return GridDesign(2, columns, cells)


@dataclass(frozen=True)
class Steps:
    """Even steps from one figure to another, both among them."""

    low: float
    high: float
    count: int = _BLIND_STEPS

    def figures(self) -> list[float]:
        """All of them, the lowest first."""
        return [float(v) for v in np.linspace(self.low, self.high, self.count)]


def reach_in_steps(machine: Machine) -> tuple[Steps, Steps]:
    """Powers and speeds over all that a machine can do: what a blind rectangle spans where nobody types another."""
    return Steps(machine.min_power_pct, 100), Steps(machine.min_speed_mm_s, machine.max_speed_mm_s)


def design_blind(at: Slice, powers: Steps | None = None, speeds: Steps | None = None) -> GridDesign:
    """The blind rectangle: even steps of power across even steps of speed, over the machine's reach or as typed.
    Common practice, no source.

    Raises BadValueError for ends that the machine cannot run or that are the wrong way round, and for too many steps.
    """
    usual = reach_in_steps(at.machine)
    powers, speeds = powers or usual[0], speeds or usual[1]
    m = at.machine
    _check_steps(powers, "power", m.min_power_pct, 100, "%")
    _check_steps(speeds, "speed", m.min_speed_mm_s, m.max_speed_mm_s, "mm/s")
    planned = [
        PlannedCell(row, column, at.setting(round(power_pct, 2), typed_speed_mm_s(speed_mm_s, m)))
        for row, speed_mm_s in enumerate(speeds.figures())
        for column, power_pct in enumerate(powers.figures())
    ]
    finding = Finding(
        FindingCode.BLIND_GRID,
        Severity.NOTE,
        f"{len(planned)} cells in even steps: in energy most of them lie close together, and tell the same.",
        fix="The crossed grid tells more with a sixth of the cells.",
        source="common-practice",
    )
    return GridDesign(speeds.count, powers.count, tuple(planned), (finding,))


def _check_steps(steps: Steps, of: str, least: float, most: float, unit: str) -> None:
    slack = 1e-9 * most
    require_within(steps.low, least - slack, most + slack, f"{of}_from", unit)
    require_within(steps.high, least - slack, most + slack, f"{of}_to", unit)
    require_within(steps.count, 2, MAX_ROWS, f"{of}_steps")
    if steps.low >= steps.high:
        raise BadValueError(
            f"From {steps.low:g} to {steps.high:g} {unit} is no way up.",
            field=f"{of}_to",
            hint="Give the lower end first.",
        )


def _reach_at(speed_mm_s: float, at: Slice, band: EnergyBand) -> tuple[float, float]:
    """Ends of the band that the machine reaches at this speed, J/mm²; low > high where it reaches none."""
    dwell_ms = 1000 * at.machine.spot_mm / speed_mm_s
    full = at.full_j_mm2(speed_mm_s)
    return (
        max(band.low_j_mm2(dwell_ms), full * at.machine.min_power_pct / 100),
        min(band.high_j_mm2(dwell_ms), full),
    )


def speeds_in_reach(at: Slice, band: EnergyBand, rows: int) -> tuple[list[float], float]:
    """Speeds of the rows, fastest first, and the share of the band that the machine covers there."""
    machine = at.machine
    tried = np.geomspace(machine.min_speed_mm_s, machine.max_speed_mm_s, 120)
    cover = []
    for speed_mm_s in tried:
        dwell_ms = 1000 * machine.spot_mm / float(speed_mm_s)
        low, high = _reach_at(float(speed_mm_s), at, band)
        cover.append(math.log(high / low) / math.log(band.high_j_mm2(dwell_ms) / band.low_j_mm2(dwell_ms)))
    covered = np.array(cover)
    best = float(covered.max())
    if best < 0.1:
        strongest = at.full_j_mm2(machine.min_speed_mm_s)
        raise BadValueError(
            f"This machine cannot reach the energies of this process: at its slowest it gives {strongest:.2g} J/mm².",
            field="machine",
            hint="Closer lines, more passes, a slower least speed, or another machine.",
        )
    good = tried[covered >= min(_WANTED_COVER, best - 1e-9)]
    fastest = float(good.max())
    slowest = max(float(good.min()), fastest / _SPEED_SPAN)
    if fastest / slowest < 1.3:
        slowest = max(machine.min_speed_mm_s, fastest / 2)
    return [typed_speed_mm_s(float(v), machine) for v in np.geomspace(fastest, slowest, rows)], best


def cover_findings(cover: float) -> tuple[Finding, ...]:
    """What to say when the machine reaches only part of the energies."""
    if cover >= _WANTED_COVER:
        return ()
    return (
        Finding(
            FindingCode.REACH,
            Severity.WARN if cover >= _LEAST_COVER else Severity.STOP,
            f"This machine reaches only {100 * cover:.0f} % of the energies that this grid should span.",
            fix="Closer lines or a second pass give more energy; wider lines give less.",
            figures={"cover_pct": 100 * cover},
            source="own-estimate",
        ),
    )
