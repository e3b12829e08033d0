"""Coats that a maker invents: what is said of them comes out as it went in, and nothing that cannot be."""

from dataclasses import asdict

import pytest

from keencoat.core.coat.own import COLOURS, OwnRecipe, coat_from_facts, coat_from_recipe
from keencoat.core.coat.recipes import Carrier, MixPart
from keencoat.core.errors import BadValueError, UnknownNameError
from keencoat.core.quantities.setting import BeamSource

SAID = {
    "name": "Pond black", "parts": (MixPart("soot", 1.0), MixPart("bone_glue", 2.0)), "carrier": Carrier.WATER,
    "tools": ("soft_brush", "airbrush"), "coats": 3, "crossed": True, "between_min": 20.0, "before_burn_min": 90.0,
    "film_um": 12.0, "solids_pct": 25.0, "removal": "warm water", "absorbs": (BeamSource.BLUE, BeamSource.CO2),
    "serves": ("frost", "fuse"), "colour": "blue", "touch_safe": False, "caution": "Soot gets everywhere.",
}  # fmt: skip


def test_what_is_said_comes_out_as_it_went_in():
    coat = coat_from_recipe(OwnRecipe(**SAID), "own-7")
    assert (coat.key, coat.label, coat.parts, coat.carrier, coat.tools) == (
        "own-7",
        "Pond black",
        SAID["parts"],
        Carrier.WATER,
        ("soft_brush", "airbrush"),
    )
    assert asdict(coat.coats.value) == {"low": 3, "plan": 3, "high": 3}
    # One figure is given for a time: half and double of it are the range.
    assert asdict(coat.between_min.value) == {"low": 10, "plan": 20, "high": 40}
    assert asdict(coat.before_burn_min.value) == {"low": 45, "plan": 90, "high": 180}
    assert coat.dry_um_per_coat.value == 12
    assert coat.volume_solids.value == 0.25
    assert coat.absorbs_per_mm.value == 80
    assert (coat.crossed, coat.removal, coat.absorbs, coat.serves) == (
        True,
        "warm water",
        SAID["absorbs"],
        ("frost", "fuse"),
    )
    assert (coat.colour, coat.touch_safe, coat.cautions) == ("blue", False, ("Soot gets everywhere.",))
    assert {c.source for c in (coat.coats, coat.between_min, coat.dry_um_per_coat, coat.volume_solids)} == {
        "own-record"
    }


def test_what_is_left_out_is_black_may_be_touched_and_has_no_caution():
    usual = {k: v for k, v in SAID.items() if k not in ("colour", "touch_safe", "caution")}
    coat = coat_from_recipe(OwnRecipe(**usual), "own-1")
    assert (coat.colour, coat.touch_safe, coat.cautions) == ("black", True, ())


def test_stored_facts_make_the_same_coat():
    recipe = OwnRecipe(**SAID)
    assert coat_from_facts(asdict(recipe), "own-7") == coat_from_recipe(recipe, "own-7")


@pytest.mark.parametrize(("field", "least", "most"), [
    ("coats", 1, 50), ("between_min", 0, 20_000), ("before_burn_min", 0, 20_000), ("film_um", 0.5, 500),
    ("solids_pct", 1, 100),
])  # fmt: skip
def test_figures_have_bounds_that_still_count(field, least, most):
    for figure in (least, most):
        assert getattr(OwnRecipe(**(SAID | {field: figure})), field) == figure
    for figure in (least - 0.01, most + 0.01, float("nan")):
        with pytest.raises(BadValueError) as told:
            OwnRecipe(**(SAID | {field: figure}))
        assert told.value.field == field


@pytest.mark.parametrize(("field", "value"), [
    ("tools", ()), ("serves", ()), ("absorbs", ()), ("tools", ("trowel",)), ("serves", ("magic",)), ("colour", "plaid"),
])  # fmt: skip
def test_what_is_missing_or_unknown_is_told_where_it_stands(field, value):
    with pytest.raises((BadValueError, UnknownNameError)) as told:
        OwnRecipe(**(SAID | {field: value}))
    assert told.value.field == field


def test_every_colour_is_taken():
    assert {OwnRecipe(**(SAID | {"colour": c})).colour for c in COLOURS} == set(COLOURS)
