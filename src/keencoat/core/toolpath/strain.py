"""Whether a machine can follow a program: the one check that every program passes before it leaves as a file or goes to
a driver.

A controller that is asked for more than its axis does slows down without a word, and the beam burns the longer: the
energy on the piece is then whatever the controller makes of it. So a feed that an axis cannot do, a power over full, a
crawl under the slowest speed or a way longer than the bed is refused, with the setting that fits.
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from keencoat.core.errors import BadValueError
from keencoat.core.quantities import Machine, Setting
from keencoat.core.toolpath.program import Column, Moves, Program, Task, extent_of

_SLACK = 1e-6
_SLACK_MM = 0.05
_LEAST_MM = 1e-6
AXES = ("x", "y")


@dataclass(frozen=True)
class Strain:
    """What asks more of a machine than it does: words for it, and the setting that puts the same energy on the piece
    and can be followed, None where none can."""

    words: str
    fits: Setting | None


class StrainError(BadValueError):
    """A program that its machine cannot follow; `fits` as in Strain."""

    def __init__(self, message: str, *, field: str = "", hint: str = "", fits: Setting | None = None) -> None:
        super().__init__(message, field=field, hint=hint)
        self.fits = fits


def require_runs(program: Program, machine: Machine, turns: str = "") -> None:
    """Raise StrainError for a program that this machine cannot follow. `turns` names the axis that turns a piece, which
    goes round as far as it likes."""
    at = (0.0, 0.0)
    for task in program:
        strain = _strain_of(task, machine, at)
        if strain is not None:
            raise _error(strain, machine, turns)
        if len(task.moves):
            at = (float(task.moves.x_mm[-1]), float(task.moves.y_mm[-1]))
    _require_room(program, machine, turns)


def _error(strain: Strain, machine: Machine, turns: str = "") -> StrainError:
    """The error for a strain, with what to do instead."""
    fits = strain.fits
    if fits is None:
        hint = f"No setting of the same energy does at {machine.min_power_pct:g} to 100 %: place it otherwise."
    else:
        hint = f"{fits.power_pct:.3g} % at {fits.speed_mm_s:.3g} mm/s puts the same energy on the piece and fits."
    if turns:
        hint += " Another turning device may fit as well."
    return StrainError(strain.words, field="speed_mm_s", hint=hint, fits=fits)


def strain_at(setting: Setting, machine: Machine, axis_times: float, power_times: float = 1.0) -> Strain | None:
    """What a setting strains where an axis goes so many times as fast as the beam goes over the piece, and the power is
    so many times the setting's; None where it can be followed."""
    feed, power = setting.speed_mm_s * axis_times, setting.power_pct * power_times
    if feed > machine.max_speed_mm_s * (1 + _SLACK):
        words = f"An axis would have to go at {feed:.0f} mm/s; this machine goes up to {machine.max_speed_mm_s:g}."
        return Strain(words, slowed(setting, machine, feed / machine.max_speed_mm_s))
    if power > 100 * (1 + _SLACK):
        return Strain(f"It would need {power:.4g} % power in places.", slowed(setting, machine, power / 100))
    if feed < machine.min_speed_mm_s * (1 - _SLACK):
        words = f"The head would go at {feed:.3g} mm/s; this machine's slowest is {machine.min_speed_mm_s:g}."
        return Strain(words, slowed(setting, machine, feed / machine.min_speed_mm_s))
    return None


def slowed(setting: Setting, machine: Machine, times: float) -> Setting | None:
    """A setting so many times as slow that puts the same energy on the piece; None where the machine has no such power
    or speed. Three figures, as a person types them, on the side that can be followed."""
    exact = setting.speed_mm_s / times
    figure = 10.0 ** (math.floor(math.log10(exact)) - 2)
    speed = (math.floor if times > 1 else math.ceil)(exact / figure * (1 + math.copysign(1e-9, times - 1))) * figure
    power = setting.power_pct * speed / setting.speed_mm_s
    if not (machine.min_power_pct <= power <= 100 and machine.min_speed_mm_s <= speed <= machine.max_speed_mm_s):
        return None
    return replace(setting, speed_mm_s=speed, power_pct=power)


def _strain_of(task: Task, machine: Machine, start: tuple[float, float]) -> Strain | None:
    moves = task.moves
    if not len(moves):
        return None
    if not all(np.isfinite(column).all() for column in (moves.x_mm, moves.y_mm, moves.speed_mm_s, moves.power_pct)):
        raise BadValueError(f"{task.item} has a move that is no number.", field="cells", hint="Make it anew.")
    feed, fastest = _feeds(moves, start)
    fed = ~moves.rapid & (feed > 0)
    setting = task.setting
    power = float(moves.power_pct.max()) / setting.power_pct
    if not fed.any():
        return strain_at(setting, machine, 1.0, power)
    for along in (fastest[fed].max(), feed[fed].min()):
        found = strain_at(setting, machine, float(along) / setting.speed_mm_s, power)
        if found is not None:
            return found
    return None


def _feeds(moves: Moves, start: tuple[float, float]) -> tuple[Column, Column]:
    """How fast the head goes on each move, 0 where it stays, and the faster of its two axes, mm/s."""
    across, up = np.diff(moves.x_mm, prepend=start[0]), np.diff(moves.y_mm, prepend=start[1])
    long = np.hypot(across, up)
    goes = long > _LEAST_MM
    share = np.maximum(np.abs(across), np.abs(up)) / np.where(goes, long, 1.0)
    return np.where(goes, moves.speed_mm_s, 0.0), np.where(goes, moves.speed_mm_s * share, 0.0)


def _require_room(program: Program, machine: Machine, turns: str) -> None:
    left, low, right, top = extent_of(program)
    for axis, long, bed in zip(AXES, (right - left, top - low), (machine.bed_x_mm, machine.bed_y_mm), strict=True):
        if axis != turns and long > bed + _SLACK_MM:
            raise BadValueError(
                f"The head would travel {long:.0f} mm along {axis.upper()}; the bed has {bed:g}.",
                field="placement",
                hint="Make it smaller, turn it a quarter, or burn slower: the run-up grows with the speed squared.",
            )
