"""A coat that a maker invents: a few figures and words, checked, made into a coat like those of the catalogue."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from keencoat.core.coat.amounts import check_parts
from keencoat.core.coat.ingredients import carrier_of
from keencoat.core.coat.recipes import Carrier, Coat, MixPart, Span
from keencoat.core.coat.tools import TOOLS
from keencoat.core.errors import BadValueError, require_known, require_within
from keencoat.core.quantities import BeamSource
from keencoat.core.sources import Cited
from keencoat.core.substrate import PROCESSES

_SOURCE = "own-record"
COLOURS = ("black", "white", "blue", "cream", "clear")


@dataclass(frozen=True)
class OwnRecipe:
    """What a maker says of a coat of their own. Parts by volume; minutes at about 20 °C and 50 % humidity."""

    name: str
    parts: tuple[MixPart, ...]
    carrier: Carrier
    tools: tuple[str, ...]
    coats: int
    crossed: bool
    between_min: float
    before_burn_min: float
    film_um: float
    solids_pct: float
    removal: str
    absorbs: tuple[BeamSource, ...]
    serves: tuple[str, ...]
    colour: str = "black"
    touch_safe: bool = True
    caution: str = ""

    def __post_init__(self) -> None:
        check_parts(self.parts)
        require_within(self.coats, 1, 50, "coats")
        require_within(self.between_min, 0, 20_000, "between_min", "min")
        require_within(self.before_burn_min, 0, 20_000, "before_burn_min", "min")
        require_within(self.film_um, 0.5, 500, "film_um", "µm")
        require_within(self.solids_pct, 1, 100, "solids_pct", "%")
        require_known(self.colour, COLOURS, "colour")
        for name, keys, known in (("tools", self.tools, TOOLS), ("serves", self.serves, PROCESSES)):
            if not keys:
                raise BadValueError(f"No {name} were chosen.", field=name, hint="Choose at least one.")
            for key in keys:
                require_known(key, known, name)
        if not self.absorbs:
            raise BadValueError(
                "A coat that absorbs no beam does nothing.", field="absorbs", hint="Choose the beams it absorbs."
            )


def _around(minutes: float) -> Span:
    """A maker gives one figure; half and double are the range until records narrow it."""
    return Span(minutes / 2, minutes, minutes * 2)


def coat_from_recipe(recipe: OwnRecipe, key: str) -> Coat:
    """The coat of an own recipe, judged by what is in it and not by what it is said to be."""
    carrier = carrier_of(recipe.parts, recipe.carrier)
    stronger = f"There is {carrier} in it: it dries, smells and burns as a coat of {carrier} does."
    return Coat(
        key=key,
        label=recipe.name,
        parts=recipe.parts,
        carrier=carrier,
        tools=recipe.tools,
        coats=Cited(Span(recipe.coats, recipe.coats, recipe.coats), _SOURCE),
        crossed=recipe.crossed,
        between_min=Cited(_around(recipe.between_min), _SOURCE),
        before_burn_min=Cited(_around(recipe.before_burn_min), _SOURCE),
        dry_um_per_coat=Cited(recipe.film_um, _SOURCE),
        volume_solids=Cited(recipe.solids_pct / 100, _SOURCE),
        removal=recipe.removal,
        absorbs=recipe.absorbs,
        why="Your own recipe.",
        colour=recipe.colour,
        absorbs_per_mm=Cited(80.0, "own-estimate"),
        touch_safe=recipe.touch_safe,
        cautions=(
            *([stronger] if carrier is not recipe.carrier else []),
            *([recipe.caution] if recipe.caution else []),
        ),
        serves=recipe.serves,
    )


def recipe_from_facts(facts: Mapping[str, Any]) -> OwnRecipe:
    """An own recipe from stored facts (the JSON form of `OwnRecipe`)."""
    values = dict(facts)
    values["parts"] = tuple(MixPart(**part) for part in values["parts"])
    values["carrier"] = Carrier(values["carrier"])
    values["absorbs"] = tuple(BeamSource(b) for b in values["absorbs"])
    values["tools"], values["serves"] = tuple(values["tools"]), tuple(values["serves"])
    return OwnRecipe(**values)


def coat_from_facts(facts: Mapping[str, Any], key: str) -> Coat:
    """The coat of stored facts."""
    return coat_from_recipe(recipe_from_facts(facts), key)
