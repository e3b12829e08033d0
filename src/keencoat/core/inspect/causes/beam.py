"""Causes that lie in the beam, its focus, and the figures that it was given.

That these causes bring these signs is common practice; the chances are our own estimates.
"""

import math

from keencoat.core.inspect.case import Case
from keencoat.core.inspect.causes.cause import Cause, Leaning, Mended, Rated, Shift, Weighed, told
from keencoat.core.inspect.remedy import Action, Remedy, expected, in_100, typed_as, under

_PRACTICE, _ESTIMATE = "common-practice", "own-estimate"


def _of_drift(way: int) -> Weighed:
    """Whether the job's runs have drifted the same way: 1 for more energy wanted."""

    def weighed(case: Case) -> Leaning | None:
        drift = case.conditions.drift_pct
        if drift is None or drift * way <= 0:
            return None
        return Leaning(math.log(4), f"the newest run wanted {abs(drift):.0f} % {'more' if drift > 0 else 'less'}")

    return weighed


def _beam(case: Case, shift: Shift) -> Remedy:
    setting, clean = under(case, shift.energy, 0.0, shift.energy_sd)
    weak = shift.energy < 0
    first = "Clean lens and window, cold, with what their maker names" if weak else "Read the power off the machine"
    share = f"{100 * abs(math.expm1(shift.energy)):.0f} % {'less' if weak else 'more'}"
    return Remedy(
        Action.RETUNE,
        f"{first}; if it stays, {typed_as(setting)}: about {share} arrives than before, then {in_100(clean)}.",
        setting,
        clean,
        "A small grid on a spare tells it better than any guess.",
    )


def _retyped(words: str) -> Mended:
    """The locked figures typed in again."""

    def remedy(case: Case, _: Shift) -> Remedy:
        setting, clean = case.burned.setting, expected(case)
        as_locked = f"{words} As locked: {typed_as(setting)}, then {in_100(clean)}."
        return Remedy(Action.RETYPE, as_locked, setting, clean)

    return remedy


def _edge(case: Case, _: Shift) -> Remedy:
    now, (setting, clean) = expected(case), under(case, 0.0, 0.0)
    if clean.mid > now.mid + 0.02:
        return Remedy(
            Action.RETUNE,
            f"Nothing need be wrong: this setting keeps {in_100(now)}. {typed_as(setting)} keeps {in_100(clean)}.",
            setting,
            clean,
        )
    return Remedy(
        Action.AGAIN,
        f"Nothing need be wrong: this setting keeps {in_100(now)}, the best there is. Burn it anew.",
        clean=now,
    )


BEAM_CAUSES = (
    Cause(
        "edge",
        "the setting's own scatter",
        10.0,
        {},
        _edge,
        _ESTIMATE,
        shift=Shift(),
        stays=0.08,
    ),
    Cause(
        "out_of_focus",
        "out of focus",
        1.5,
        {"soft": 0.25, "no_mark": 0.45, "patch_missing": 0.06, "patchy": 0.12, "detail_lost": 0.1},
        told(
            Action.FOCUS,
            "Set the focus anew, on the coated face of this very piece: thickness, bed and honeycomb differ.",
            "Through the glass the far face is what counts.",
        ),
        _PRACTICE,
        rated=Rated(0.93, 0.04, 0.02, 0.01),
        stays=0.4,
    ),
    Cause(
        "weak_beam",
        "less beam arrives",
        1.0,
        {"no_mark": 0.2, "patchy": 0.3, "patch_missing": 0.1, "fades": 0.15, "streaks": 0.06},
        _beam,
        _PRACTICE,
        shift=Shift(energy=-0.45, energy_sd=0.2),
        stays=0.95,
        leanings=(_of_drift(1),),
    ),
    Cause(
        "strong_beam",
        "more beam arrives",
        0.6,
        {},
        _beam,
        _ESTIMATE,
        shift=Shift(energy=0.45, energy_sd=0.2),
        stays=0.95,
        leanings=(_of_drift(-1),),
    ),
    Cause(
        "too_fast",
        "faster than locked",
        0.6,
        {"no_mark": 0.12, "patchy": 0.3, "patch_missing": 0.2, "fades": 0.1, "streaks": 0.06, "fine_lines": 0.06},
        _retyped("It burned too fast."),
        _PRACTICE,
        shift=Shift(energy=-0.45, energy_sd=0.2),
        stays=0.85,
        ln_time=(-0.4, 0.2),
    ),
    Cause(
        "too_slow",
        "slower than locked",
        0.6,
        {},
        _retyped("It burned too slowly."),
        _PRACTICE,
        shift=Shift(energy=0.45, energy_sd=0.2),
        stays=0.85,
        ln_time=(0.4, 0.2),
    ),
    Cause(
        "lines_wide",
        "lines too far apart",
        0.5,
        {"stripes": 0.9, "coat_left": 0.85, "patchy": 0.12, "streaks": 0.06},
        _retyped("Its lines lay too far apart."),
        _PRACTICE,
        rated=Rated(0.93, 0.04, 0.02, 0.01),
        stays=0.85,
        ln_time=(-0.55, 0.2),
    ),
    Cause(
        "lines_close",
        "lines too close",
        0.5,
        {"stripes": 0.02, "detail_lost": 0.5},
        _retyped("Its lines lay too close: they crowd the micro-cracks of glass, and heat each other."),
        _PRACTICE,
        shift=Shift(energy=0.5, energy_sd=0.15),
        stays=0.85,
        ln_time=(0.5, 0.2),
    ),
    Cause(
        "extra_pass",
        "a pass too many",
        0.5,
        {"detail_lost": 0.6},
        _retyped("It was passed over once too often."),
        _PRACTICE,
        shift=Shift(energy=0.6, energy_sd=0.15),
        stays=0.7,
        ln_time=(0.69, 0.06),
    ),
)
