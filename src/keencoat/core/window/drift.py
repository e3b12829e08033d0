"""Drift: whether later runs come out as the window says, by how much not, and which check to burn.

Each run's pieces are held against the fit with a common shift of that run, in ln energy, laid over the pieces' own
scatter; the shift's posterior (on a grid, under a prior of a few per cent) tells how much more energy is wanted.
"""

import math
from dataclasses import dataclass
from datetime import date

import numpy as np

from keencoat.core.findings import Finding, Severity
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.model import RunOutcome, average_chances, points_of_cells, run_log_likelihood
from keencoat.core.window.parameters import FloatArray
from keencoat.core.window.predict import Range

_PRIOR_SD = 0.15
_SHIFTS = np.linspace(-0.9, 0.9, 73)
_NOTABLE_LN = 0.03
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
    """What the last run says: energy wanted against before, in per cent (below 0: less), with its 90 % range; expected
    and seen shares of clean pieces; and what there is to say."""

    run_on: date
    energy_pct: Range
    expected_clean: float
    seen_clean: float
    findings: tuple[Finding, ...]


def watch(fit: WindowFit, runs: list[DatedRun], locked_on: date, locked_lot: str, locked_machine: str) -> Drift | None:
    """Hold the last run of `runs`, oldest first, against a fit that does not know it; None without one."""
    if not runs:
        return None
    run = runs[-1]
    chance, clean = _shift_chances(fit, run.outcome)
    low, mid, high = (float(np.interp(q, np.cumsum(chance), _SHIFTS)) for q in (0.05, 0.5, 0.95))
    wanted = Range(*(100 * math.expm1(v) for v in (low, mid, high)))
    o = run.outcome
    seen = o.clean / max(1, o.faint + o.clean + o.harsh)
    findings: tuple[Finding, ...] = ()
    if (low > _NOTABLE_LN or high < -_NOTABLE_LN) and o.faint + o.harsh:
        findings = (_say(run, wanted, locked_on, locked_lot, locked_machine),)
    return Drift(run.on, wanted, clean, seen, findings)


def _shift_chances(fit: WindowFit, outcome: RunOutcome) -> tuple[FloatArray, float]:
    """Chance of each of `_SHIFTS`, and the share of clean pieces expected without any."""
    scatter = fit.prior.scatter
    told = [np.log(np.exp(run_log_likelihood(fit.draws, (outcome,), scatter, s)).mean()) for s in _SHIFTS]
    ln = np.array(told) - 0.5 * (_SHIFTS / _PRIOR_SD) ** 2
    chance = np.exp(ln - ln.max())
    expected = average_chances(fit.draws, points_of_cells((outcome.cell,)), scatter).clean
    return chance / chance.sum(), float(expected.mean())


def _say(run: DatedRun, wanted: Range, locked_on: date, locked_lot: str, locked_machine: str) -> Finding:
    more = wanted.mid > 0
    if run.machine != locked_machine:
        what, why = "machine", f"It ran on {run.machine}; the setting was locked on {locked_machine}."
        check = "Carry the window over to this machine and burn the small grid that it proposes."
    elif run.lot != locked_lot:
        what, why = "lot", f"The coat came from lot {run.lot}; the setting was found under lot {locked_lot}."
        check = "Check this lot's film with a photo, then burn a full patch at the setting."
    elif (run.on - locked_on).days > _SEASON_DAYS:
        what, why = "season", f"{(run.on - locked_on).days} days lie between: another room, another drying."
        check = "Burn a full patch at the setting; if it fails, a line test tells the beam from the coat."
    else:
        what, why = "machine", "Same lot, same weeks: lens, focus or the beam itself."
        check = "Clean the lens, burn a focus ladder and a line test, then a full patch at the setting."
    return Finding(
        f"drift-{what}",
        Severity.WARN,
        f"The last run wants about {abs(wanted.mid):.0f} % {'more' if more else 'less'} energy than the window says "
        f"({wanted.low:+.0f} to {wanted.high:+.0f} %). {why}",
        fix=check,
        figures={"energy_pct": wanted.mid},
        source="own-record",
    )
