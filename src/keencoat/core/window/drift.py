"""Drift: whether later runs come out as the window says, by how much not, and which check to burn.

Each run's pieces are held against the fit with a common shift of that run, in ln energy, laid over the pieces' own
scatter. Two beliefs compete for the counts: a calm run, shifted by a few per cent as every day is, and one that has
moved by tens of per cent (a spike and a slab; Mitchell & Beauchamp 1988). Drift is told where the moved one is the
likelier; its shift's posterior, on a grid, says how much more energy is wanted. Pieces count in full here, because what
they share is the shift itself.
"""

import math
from dataclasses import dataclass
from datetime import date
from functools import lru_cache

import numpy as np

from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.quantities import Range
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.model import RunOutcome, average_chances, points_of_cells
from keencoat.core.window.parameters import FloatArray

CALM_SD, MOVED_SD = 0.05, 0.25
MOVED_BEFOREHAND = 0.4
"""How much a day shifts, how much a fault does, in ln energy; and how likely a fault is before the run is looked at.
Rather too watchful: a check costs one patch, a batch more (own estimates; misses stand in docs/window-figures.md)."""
TOLD_FROM = 0.5
_SHIFTS = np.linspace(-0.9, 0.9, 91)
_SLIP = 0.02
_SEASON_DAYS = 75


@dataclass(frozen=True)
class DatedRun:
    """A run with when it was, under which lot, on which machine."""

    on: date
    lot: str
    machine: str
    outcome: RunOutcome


@dataclass(frozen=True)
class Drift:
    """What the last run says: energy wanted against before, in per cent (below 0: less), with its 90 % range; how
    likely it has moved at all; expected and seen shares of clean pieces; and what there is to say."""

    run_on: date
    energy_pct: Range
    moved: float
    expected_clean: float
    seen_clean: float
    findings: tuple[Finding, ...]


def watch(fit: WindowFit, runs: list[DatedRun], locked_on: date, locked_lot: str, locked_machine: str) -> Drift | None:
    """Hold the last run of `runs`, oldest first, against a fit that does not know it; None without one."""
    if not runs:
        return None
    run = runs[-1]
    o = run.outcome
    likely = _likelihoods(fit, o)
    # Normal densities, but for a factor that both share.
    calm, slab = (likely * np.exp(-0.5 * (_SHIFTS / sd) ** 2) / sd for sd in (CALM_SD, MOVED_SD))
    moved = MOVED_BEFOREHAND * slab.sum()
    moved = float(moved / (moved + (1 - MOVED_BEFOREHAND) * calm.sum()))
    believed = slab / slab.sum() if moved >= TOLD_FROM else calm / calm.sum()
    low, mid, high = (float(np.interp(q, np.cumsum(believed), _SHIFTS)) for q in (0.05, 0.5, 0.95))
    wanted = Range(*(100 * math.expm1(v) for v in (low, mid, high)))
    expected = average_chances(fit.draws, points_of_cells((o.cell,)), fit.prior.scatter).clean
    findings: tuple[Finding, ...] = ()
    if moved >= TOLD_FROM and o.faint + o.harsh:
        findings = (_say(run, wanted, locked_on, locked_lot, locked_machine),)
    return Drift(run.on, wanted, moved, float(expected.mean()), o.clean / max(1, o.pieces), findings)


@lru_cache(maxsize=256)
def _likelihoods(fit: WindowFit, outcome: RunOutcome) -> FloatArray:
    """Likelihood of the counts at each of `_SHIFTS`, averaged over the draws, up to a common factor. Whatever slice a
    map is drawn for, it is the same: the last few hundred are kept."""
    counts = np.array([outcome.faint, outcome.clean, outcome.harsh], dtype=float)
    at = points_of_cells((outcome.cell,))
    ln = []
    for shift in _SHIFTS:
        share = average_chances(fit.draws, at, fit.prior.scatter, float(shift))
        shares = np.stack([share.faint[:, 0], share.clean[:, 0], share.harsh[:, 0]])
        ln.append(counts @ np.log((1 - _SLIP) * shares + _SLIP / 3))
    each = np.array(ln)
    return np.asarray(np.exp(each - each.max()).mean(axis=1))


def _say(run: DatedRun, wanted: Range, locked_on: date, locked_lot: str, locked_machine: str) -> Finding:
    more = wanted.mid > 0
    if run.machine != locked_machine:
        code, why = FindingCode.DRIFT_MACHINE, f"It ran on {run.machine}; the setting was locked on {locked_machine}."
        check = "Carry the window over to this machine and burn the small grid that it proposes."
    elif run.lot != locked_lot:
        code, why = (
            FindingCode.DRIFT_LOT,
            f"The coat came from lot {run.lot}; the setting was found under lot {locked_lot}.",
        )
        check = "Check this lot's film with a photo, then burn a full patch at the setting."
    elif (run.on - locked_on).days > _SEASON_DAYS:
        code, why = (
            FindingCode.DRIFT_SEASON,
            f"{(run.on - locked_on).days} days lie between: another room, another drying.",
        )
        check = "Burn a full patch at the setting; if it fails, a line test tells the beam from the coat."
    else:
        code, why = FindingCode.DRIFT_MACHINE, "Same lot, same weeks: lens, focus or the beam itself."
        check = "Clean the lens, burn a focus ladder and a line test, then a full patch at the setting."
    return Finding(
        code,
        Severity.WARN,
        f"The last run wants about {abs(wanted.mid):.0f} % {'more' if more else 'less'} energy than the window says "
        f"({wanted.low:+.0f} to {wanted.high:+.0f} %). {why}",
        fix=check,
        figures={"energy_pct": wanted.mid},
        source="own-record",
    )
