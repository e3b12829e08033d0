"""Causes that lie in the coat.

That these causes bring these signs is common practice; the chances are our own estimates.
"""

import math

from keencoat.core.coat import Agent, Carrier, Use
from keencoat.core.inspect.case import Case
from keencoat.core.inspect.causes.cause import Cause, Leaning, Rated, Shift, told, used
from keencoat.core.inspect.remedy import Action, Remedy, in_100, typed_as, under

_PRACTICE = "common-practice"
_WORTH_A_SETTING = 0.5


def _of_lot(case: Case) -> Leaning | None:
    if case.conditions.new_lot is None:
        return None
    if case.conditions.new_lot:
        return Leaning(math.log(2), "a new lot since the last good piece")
    return Leaning(math.log(0.8), "the same lot as the last good piece")


def _of_layer(case: Case) -> Leaning | None:
    if case.conditions.new_lot is None:
        return None
    if case.conditions.new_lot:
        return Leaning(math.log(2), "a new lot since the last good piece")
    return Leaning(math.log(0.15), "the same lot marked well on the last good piece")


def _of_dryness(case: Case) -> Leaning | None:
    left = case.conditions.dry_h_left
    if left is None:
        return None
    if left > 0:
        return Leaning(math.log(8), f"it burned {left:.1f} h before its coat counted as dry")
    if left > -0.5:
        return Leaning(math.log(2), "its coat had only just counted as dry")
    return Leaning(math.log(0.3), "its coat had been dry for long")


def _is_painted(case: Case) -> bool:
    """Whether hands put the coat on: powder coat comes baked."""
    return case.burned.process.key != "ablate"


_WARMED = Use(
    "Or dry them with {agent} from a distance.",
    (Agent.WARMTH,),
    "Time alone dries them: nothing hot comes near this coat while it is wet.",
    coated=True,
)


def _level(case: Case, _: Shift) -> Remedy:
    words = "Wash it off and coat anew, lying level, in thinner coats: a pool is far thicker than what was tested."
    coat = case.burned.coat
    misted = coat is not None and coat.carrier is Carrier.ALCOHOL
    return Remedy(Action.RECOAT, words, or_else="Less alcohol at once, the mist from further off." if misted else "")


def _dried(case: Case, _: Shift) -> Remedy:
    words = "Let the others dry for twice as long, until they are matt all over and no longer cool to the touch."
    at = case.burned
    return Remedy(Action.DRY, words, or_else=_WARMED.said(at.substrate, at.coat) if at.coat else "")


def _with_its_layer(case: Case, _: Shift) -> Remedy:
    if case.burned.process.key == "fuse":
        takes = "titanium dioxide takes the beam, white as it is; a paint or powder without it does not"
    else:
        takes = "black and matt takes the beam; white, glossy or like-coloured layers do not"
    return Remedy(Action.RECOAT, f"Coat it with what the job names, on the side that the beam meets: {takes}.")


def _film(case: Case, shift: Shift) -> Remedy:
    setting, clean = under(case, 0.0, shift.film, shift.film_sd)
    words = f"{100 * abs(math.expm1(shift.film)):.0f} % {'thicker' if shift.film > 0 else 'thinner'}"
    otherwise = "No setting makes up for such a film."
    if clean.mid > _WORTH_A_SETTING:
        otherwise = f"For pieces that are coated like it already: {typed_as(setting)}, then {in_100(clean)}."
    return Remedy(
        Action.RECOAT,
        f"Wash it off and coat anew, as thick as the test pieces and even: this film is about {words}.",
        or_else=f"{otherwise} One school coats just opaque, another thick and sure; both want all pieces alike.",
    )


COAT_CAUSES = (
    Cause(
        "coat_thick",
        "coat too thick",
        1.5,
        {"no_mark": 0.4, "fades": 0.15, "patchy": 0.2, "streaks": 0.08},
        _film,
        _PRACTICE,
        shift=Shift(film=0.45, film_sd=0.2),
        stays=0.35,
        can_be=_is_painted,
        leanings=(_of_lot,),
    ),
    Cause(
        "coat_thin",
        "coat too thin",
        1.2,
        {"no_mark": 0.3, "patchy": 0.35, "coat_left": 0.35, "fades": 0.2, "patch_missing": 0.12},
        _film,
        _PRACTICE,
        rated=Rated(0.65, 0.1, 0.2, 0.05),
        shift=Shift(film=-0.9, film_sd=0.35),
        stays=0.35,
        can_be=_is_painted,
        leanings=(_of_lot,),
    ),
    Cause(
        "coat_streaked",
        "coat streaked",
        1.2,
        {"streaks": 0.85, "fine_lines": 0.45, "patchy": 0.35, "stripes": 0.1, "streaked": 0.9},
        told(
            Action.RECOAT,
            "Wash it off and coat anew: thinner paint, a softer or a foam brush, the next coat at 90° to the last.",
            "Sprayed coats leave no streaks; a roller leaves tempera see-through.",
        ),
        _PRACTICE,
        rated=Rated(0.4, 0.45, 0.1, 0.05),
        stays=0.4,
        can_be=_is_painted,
    ),
    Cause(
        "coat_pooled",
        "coat ran into a pool",
        0.8,
        {"patch_missing": 0.75, "fades": 0.15, "patchy": 0.75, "streaks": 0.2, "coat_left": 0.6, "pooled": 0.9},
        _level,
        _PRACTICE,
        rated=Rated(0.7, 0.15, 0.1, 0.05),
        can_be=_is_painted,
    ),
    Cause(
        "coat_touched",
        "coat touched or shed",
        1.0,
        {"patch_missing": 0.8, "patchy": 0.7, "streaks": 0.12, "coat_left": 0.35, "touched": 0.9, "thin_spot": 0.5},
        told(
            Action.RECOAT,
            "Wash it off and coat anew; then hold it by its edges only, and keep it dust-free until it burns.",
            "A little glue in the coat lets it be handled.",
        ),
        _PRACTICE,
        rated=Rated(0.6, 0.17, 0.15, 0.08),
        can_be=_is_painted,
    ),
    Cause(
        "coat_cracked",
        "coat cracked as it dried",
        0.8,
        {"fine_lines": 0.85, "pinholes": 0.2, "patchy": 0.2, "cracked": 0.9},
        told(
            Action.RECOAT,
            "Wash it off and coat anew in thinner coats, dried slowly and without a hot draught: the beam goes "
            "through a crack.",
            "More coats, each thinner; or a drop of glue or detergent in the mix.",
        ),
        _PRACTICE,
        rated=Rated(0.2, 0.55, 0.15, 0.1),
        can_be=_is_painted,
    ),
    Cause(
        "coat_wet",
        "coat not dry",
        0.6,
        {"patchy": 0.5, "peel": 0.5, "pinholes": 0.3, "residue": 0.2, "coat_left": 0.5},
        _dried,
        _PRACTICE,
        rated=Rated(0.55, 0.1, 0.25, 0.1),
        stays=0.6,
        can_be=_is_painted,
        leanings=(_of_dryness,),
    ),
    Cause(
        "wrong_layer",
        "layer does not take this beam",
        0.3,
        {"no_mark": 0.9, "coat_left": 0.6, "patchy": 0.05},
        _with_its_layer,
        _PRACTICE,
        rated=Rated(0.97, 0.01, 0.01, 0.01),
        stays=0.7,
        can_be=_is_painted,
        leanings=(_of_layer,),
    ),
    Cause(
        "tape_glue",
        "tape in the place of a coat",
        0.1,
        {"glue": 0.95, "no_mark": 0.5},
        used(
            Action.RECOAT,
            Use(
                "Peel the tape, clean the glue off with {agent}, and coat it: tape does not mark at speed.",
                (Agent.ALCOHOL, Agent.SOAP),
                "Take a fresh piece, and coat it: tape does not mark at speed, and nothing may take its glue off here.",
            ),
        ),
        _PRACTICE,
        rated=Rated(0.85, 0.02, 0.08, 0.05),
        stays=0.8,
    ),
)
