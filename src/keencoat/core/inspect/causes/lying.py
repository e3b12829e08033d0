"""Causes that lie in how the piece lay, how the head moved, and what the artwork asked for.

That these causes bring these signs is common practice; the chances are our own estimates.
"""

import math
from collections.abc import Callable

from keencoat.core.inspect.case import Case
from keencoat.core.inspect.causes.cause import Cause, Leaning, Rated, Shift, told
from keencoat.core.inspect.remedy import Action, Remedy, in_100, typed_as
from keencoat.core.inspect.remedy import under as best_under
from keencoat.core.substrate import comes_back

_PRACTICE, _ESTIMATE = "common-practice", "own-estimate"
_COLD_C, _WARM_C, _COOLER_K, _MUCH_FILLED, _COMBED_MM = 12.0, 18.0, 6.0, 1.5, 0.15
_FINE_BUT_SPOILT = Rated(0.06, 0.3, 0.06, 0.58)
_TWO_COOLER = -0.25


def _on_smooth_ground(case: Case, _: Shift) -> Remedy:
    at = case.burned
    ground = "a smooth, dull ground" if comes_back(at.substrate, at.machine.source) else "smooth foil"
    return Remedy(Action.RAISE, f"Lay {ground} under it, or nothing but air: creases and combs print through.")


def _of_cold(case: Case) -> Leaning | None:
    air, cooler = case.conditions.air_c, case.conditions.cooler_k
    if air is None:
        return None
    if cooler is not None and cooler > _COOLER_K:
        return Leaning(math.log(4), f"{cooler:.0f} K cooler than at the last good piece")
    if air < _COLD_C:
        return Leaning(math.log(4), f"{air:.0f} °C when it burned")
    return Leaning(math.log(0.3), f"{air:.0f} °C when it burned") if air > _WARM_C else None


def _of_fill(case: Case) -> Leaning | None:
    over = case.conditions.fill_over_tested
    if over is None:
        return None
    if over > _MUCH_FILLED:
        return Leaning(math.log(4), f"its fill is {over:.1f} times as wide as the tested patch")
    return Leaning(math.log(0.3), "its fills are no wider than the tested patch")


def _is_glass(case: Case) -> bool:
    return case.burned.substrate.key in ("soda_lime_glass", "borosilicate_glass")


def _is_turned(case: Case) -> bool:
    return case.conditions.turned


def _is_toned(case: Case) -> bool:
    return case.conditions.toned is not False


def _in_process(*keys: str) -> Callable[[Case], bool]:
    return lambda case: case.burned.process.key in keys


def _of_stripes(case: Case) -> Leaning | None:
    apart = case.conditions.both_ways_mm
    if apart is None:
        return None
    words = f"the machine's stripe test: {abs(apart):.2f} mm apart at this speed"
    if abs(apart) > _COMBED_MM:
        return Leaning(math.log(4), words)
    return Leaning(math.log(0.25), words) if abs(apart) < _COMBED_MM / 2 else None


def _one_way(case: Case, _: Shift) -> Remedy:
    slower = "Slower lines show less of it: the offset grows with the speed."
    apart = case.conditions.both_ways_mm
    if apart is None:
        words = "Burn the stripe test (Shop, spot and focus), type in half of its offset; until then burn one way only."
        return Remedy(Action.ONE_WAY, words, or_else=slower)
    return Remedy(
        Action.ONE_WAY,
        f"Type in {apart / 2:+.2f} mm as the correction for {case.burned.setting.speed_mm_s:g} mm/s, half of what the "
        "stripe test says; until then burn one way only.",
        or_else=slower,
    )


def _cooler(case: Case, _: Shift) -> Remedy:
    setting, clean = best_under(case, -_TWO_COOLER, 0.0)
    return Remedy(
        Action.COOLER,
        f"Less for this fill: {typed_as(setting)}, then {in_100(clean)}; burn a patch as wide as the fill first.",
        setting,
        clean,
        "Or the same energy in two passes of half the power, the piece cool between them.",
    )


LYING_CAUSES = (
    Cause(
        "moved",
        "the piece moved while it burned",
        1.2,
        {"doubled": 0.9, "off_place": 0.15, "askew": 0.1, "wrong_size": 0.1, "combed": 0.08},
        told(
            Action.HOLD,
            "Hold it: stops on two sides, shims or a jig; nothing may touch it while it burns. Frame it twice first.",
            "Thin glass wants no clamp: double-sided tape on the bed, or a recess.",
        ),
        _PRACTICE,
        rated=_FINE_BUT_SPOILT,
        stays=0.2,
    ),
    Cause(
        "backlash",
        "lines to and fro do not meet",
        0.8,
        {"combed": 0.85, "doubled": 0.35, "soft": 0.15, "detail_lost": 0.3},
        _one_way,
        _PRACTICE,
        rated=Rated(0.12, 0.3, 0.08, 0.5),
        stays=0.95,
        leanings=(_of_stripes,),
    ),
    Cause(
        "off_origin",
        "artwork not where the piece lay",
        1.2,
        {"off_place": 0.95, "askew": 0.06},
        told(
            Action.ORIGIN,
            "Set the origin anew: touch the piece's corner or centre, frame it twice, and check that the artwork is "
            "centred on its own zero.",
        ),
        _PRACTICE,
        rated=_FINE_BUT_SPOILT,
        stays=0.6,
    ),
    Cause(
        "set_askew",
        "the piece lay askew",
        1.0,
        {"askew": 0.95, "off_place": 0.3},
        told(Action.SQUARE, "Lay it against two stops, or turn the artwork by the two corners that you touch."),
        _PRACTICE,
        rated=_FINE_BUT_SPOILT,
        stays=0.3,
    ),
    Cause(
        "turn_size",
        "turning device not calibrated",
        0.8,
        {"wrong_size": 0.9, "seam": 0.7, "doubled": 0.08},
        told(
            Action.CALIBRATE,
            "Calibrate its millimetres a turn by half a turn and then three, for this girth; on rollers measure where "
            "it is widest.",
        ),
        _PRACTICE,
        rated=_FINE_BUT_SPOILT,
        stays=0.9,
        can_be=_is_turned,
    ),
    Cause(
        "axis_size",
        "an axis goes too far or too short",
        0.2,
        {"wrong_size": 0.9},
        told(Action.CALIBRATE, "Burn a square of 50 mm, measure both sides, and mend the steps a millimetre."),
        _ESTIMATE,
        rated=_FINE_BUT_SPOILT,
        stays=0.95,
    ),
    Cause(
        "fill_heats",
        "heat gathers in the fill",
        0.3,
        {"brown": 0.5, "brown_later": 0.4, "pinholes": 0.5, "fades": 0.1},
        _cooler,
        _PRACTICE,
        rated=Rated(0.03, 0.07, 0.85, 0.05),
        stays=0.7,
        leanings=(_of_fill,),
    ),
    Cause(
        "cold_glass",
        "the glass was cold",
        0.3,
        {"snapping": 0.7, "chips": 0.85},
        told(Action.WARM, "Let it come to the room's warmth, gently, for an hour; never wash it while it is hot."),
        _PRACTICE,
        rated=Rated(0.03, 0.07, 0.75, 0.15),
        stays=0.6,
        can_be=_is_glass,
        leanings=(_of_cold,),
    ),
    Cause(
        "no_stand_off",
        "no room under the piece",
        0.3,
        {"pits_behind": 0.95},
        told(Action.RAISE, "Raise it off the honeycomb on four small feet: flash-back pits the back."),
        _PRACTICE,
        rated=Rated(0.05, 0.4, 0.1, 0.45),
        stays=0.8,
    ),
    Cause(
        "no_film",
        "debris had no film to land on",
        0.4,
        {"haze": 0.9},
        told(
            Action.COVER,
            "Wipe dish soap thin over all that lies within a hand of the mark, and let it dry.",
            "Masking film slit round the mark does it too, and burns at its edges.",
        ),
        _PRACTICE,
        rated=Rated(0.05, 0.3, 0.45, 0.2),
        stays=0.6,
        can_be=_in_process("protect"),
    ),
    Cause(
        "film_burnt",
        "masking film burnt, not peeled",
        0.6,
        {"residue": 0.9, "glue": 0.5},
        told(Action.COVER, "Slit the film round what is cleared and peel it there first: burnt film leaves glue."),
        _PRACTICE,
        rated=Rated(0.2, 0.2, 0.4, 0.2),
        stays=0.8,
        can_be=_in_process("ablate"),
    ),
    Cause(
        "foil_under",
        "what lay under it reflected",
        0.2,
        {"foil": 0.95, "pits_behind": 0.2},
        _on_smooth_ground,
        _PRACTICE,
        rated=Rated(0.05, 0.4, 0.15, 0.4),
        stays=0.8,
        can_be=_in_process("back_engrave", "protect"),
    ),
    Cause(
        "dots_merged",
        "dots ran together",
        0.5,
        {"merged": 0.9, "detail_lost": 0.5},
        told(
            Action.TONE,
            "Burn a grey wedge on a spare and make the artwork by its curve; wider lines part the dots.",
            "Or a threshold: one tone holds where greys do not.",
        ),
        _PRACTICE,
        rated=Rated(0.05, 0.2, 0.65, 0.1),
        stays=0.9,
        can_be=_is_toned,
    ),
)
