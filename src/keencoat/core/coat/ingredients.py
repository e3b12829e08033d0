"""What coats are mixed from: densities that turn millilitres into grams and back, pack sizes, usual prices.

A powder has two densities: spooned (with air between the grains) and solid. What dries away is water or vapour; what
stays has a density of its own, by which a coat can be weighed. Prices are our own estimates, in the
workshop's currency; a workshop puts its own beside them.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from keencoat.core.coat.agents import Agent, agents_named
from keencoat.core.coat.recipes import Carrier, MixPart
from keencoat.core.coat.tools import Tool
from keencoat.core.costing import Price
from keencoat.core.sources import Cited, common_practice, own_estimate


@dataclass(frozen=True)
class Ingredient:
    """One thing that is bought. `solid_g_ml` is set for powders only; `price` is what a pack of `pack_ml` costs.

    `stays` is the share of its volume that does not dry away (propellant apart), `stays_g_ml` the density of that;
    `water` the share that is water, `propellant` the share of a can's filling that drives it; `brings` is what of it
    may harm a piece: a can has its solvents.
    """

    key: str
    label: str
    density_g_ml: Cited[float]
    pack_ml: Cited[float]
    price: Cited[float]
    stays: Cited[float]
    stays_g_ml: Cited[float]
    solid_g_ml: Cited[float] | None = None
    water: float = 0.0
    propellant: float = 0.0
    brings: tuple[Agent, ...] = ()

    @property
    def is_powder(self) -> bool:
        """Whether it is spooned rather than poured."""
        return self.solid_g_ml is not None


PROPELLANT_SHARE = 0.4
"""Share of a spray can's filling that is liquefied propellant: own estimate."""


def _liquid(
    key: str, label: str, density: Cited[float], pack_ml: float, price: float, stays: float, stays_g_ml: float
) -> Ingredient:
    return Ingredient(
        key,
        label,
        density,
        common_practice(pack_ml),
        own_estimate(price),
        own_estimate(stays),
        own_estimate(stays_g_ml),
    )


def _watery(liquid: Ingredient, water: float) -> Ingredient:
    return replace(liquid, water=water)


def _can(key: str, label: str, density: float, price: float, stays: float, stays_g_ml: float) -> Ingredient:
    can = _liquid(key, label, own_estimate(density), 400, price, stays, stays_g_ml)
    return replace(can, propellant=PROPELLANT_SHARE, brings=(Agent.SOLVENT_PAINT,))


def _brings(ingredient: Ingredient, *agents: Agent) -> Ingredient:
    return replace(ingredient, brings=agents)


_ISOPROPANOL = _brings(
    _watery(_liquid("isopropanol_91", "91 % isopropanol", Cited(0.815, "crc-densities"), 500, 5.0, 0.0, 1.0), 0.09),
    Agent.ALCOHOL,
)
INGREDIENTS: dict[str, Ingredient] = {
    i.key: i
    for i in (
        _watery(_liquid("tempera", "washable black tempera", own_estimate(1.25), 500, 4.5, 0.35, 1.7), 0.65),
        _watery(_liquid("water", "water", Cited(0.998, "crc-densities"), 1000, 0.0, 0.0, 1.0), 1.0),
        _watery(_liquid("pva", "washable PVA glue", own_estimate(1.05), 500, 5.0, 0.35, 1.19), 0.65),
        _ISOPROPANOL,
        Ingredient(
            "tio2", "titanium dioxide powder", own_estimate(0.85), common_practice(600), own_estimate(9.0),
            Cited(1.0, "crc-densities"), Cited(4.23, "crc-densities"), Cited(4.23, "crc-densities"),
        ),
        _can("matt_black", "matt black or chalkboard spray", 0.9, 7.0, 0.25, 1.5),
        _can("dye_black", "black layout dye", 0.85, 14.0, 0.17, 1.2),
        _can("dye_blue", "blue layout dye", 0.85, 14.0, 0.17, 1.2),
        _can("white_spray", "white spray with titanium dioxide", 0.95, 7.0, 0.33, 1.7),
        _can("base_colour", "base colour", 0.95, 8.0, 0.33, 1.5),
        _can("top_coat", "dark top coat", 0.9, 7.0, 0.33, 1.4),
        _can("plain_spray", "plain spray paint", 0.9, 4.0, 0.30, 1.4),
        _watery(_liquid("soap", "dish soap", own_estimate(1.03), 500, 2.0, 0.3, 1.1), 0.7),
        _brings(_can("marking_spray", "marking spray", 0.9, 45.0, 0.25, 1.6), Agent.ALCOHOL),
        _watery(_liquid("chalk", "liquid chalk, black", own_estimate(1.1), 200, 6.0, 0.2, 1.8), 0.8),
        _liquid("card", "sheet of black card", own_estimate(0.7), 25, 0.3, 1.0, 0.7),
        _brings(_liquid("sheet", "marking sheet", own_estimate(1.0), 8, 2.5, 1.0, 1.0), Agent.ADHESIVE),
        _liquid("tape", "masking tape", own_estimate(0.9), 300, 3.0, 1.0, 0.9),
    )
}  # fmt: skip

USUAL_DENSITY_G_ML = own_estimate(1.0)
"""For an ingredient of the maker's own whose density nobody gave."""

USUAL_PRICES = {key: Price(known.pack_ml.value, Decimal(str(known.price.value))) for key, known in INGREDIENTS.items()}


def agents_of_part(ingredient: str) -> tuple[Agent, ...]:
    """What a part of a mix brings to a piece: as it is known, or as a maker's own words name it."""
    known = INGREDIENTS.get(ingredient)
    return known.brings if known else tuple(agents_named(ingredient))


_CARRIED_BY = {Agent.ALCOHOL: Carrier.ALCOHOL} | dict.fromkeys(
    (Agent.ACETONE, Agent.THINNER, Agent.SOLVENT_PAINT), Carrier.SOLVENT
)
_BY_STRENGTH = (Carrier.NONE, Carrier.WATER, Carrier.ALCOHOL, Carrier.SOLVENT)


def carrier_of(parts: Sequence[MixPart], said: Carrier) -> Carrier:
    """What must leave a mix before it may be burned: as is said of it, or the stronger thing that is in it.

    >>> carrier_of([MixPart("tio2", 1), MixPart("rubbing alcohol", 1)], Carrier.WATER)
    <Carrier.ALCOHOL: 'alcohol'>
    """
    held = [_CARRIED_BY[agent] for part in parts for agent in agents_of_part(part.ingredient) if agent in _CARRIED_BY]
    return max([said, *held], key=_BY_STRENGTH.index)


def label_of(ingredient: str) -> str:
    """The label of a known ingredient, or the maker's own words."""
    known = INGREDIENTS.get(ingredient)
    return known.label if known else ingredient


def density_of(ingredient: str) -> Cited[float]:
    """Density as it is measured out, g/ml."""
    known = INGREDIENTS.get(ingredient)
    return known.density_g_ml if known else USUAL_DENSITY_G_ML


def filled_share(ingredient: str) -> float:
    """Share of its spooned volume that it takes up in a mix: powder grains leave their air behind."""
    known = INGREDIENTS.get(ingredient)
    if known is None or known.solid_g_ml is None:
        return 1.0
    return known.density_g_ml.value / known.solid_g_ml.value


def _shares(parts: Sequence[MixPart]) -> list[tuple[Ingredient | None, float]]:
    """Each part's ingredient (None for a maker's own) with its share of the filled mix by volume."""
    filled = [p.parts * filled_share(p.ingredient) for p in parts]
    return [(INGREDIENTS.get(p.ingredient), volume / sum(filled)) for p, volume in zip(parts, filled, strict=True)]


def water_share(parts: Sequence[MixPart]) -> float:
    """Share of a mix that is water, by volume; what a maker's own ingredient holds is not known, and counts as none."""
    return sum(known.water * share for known, share in _shares(parts) if known)


def propellant_share(parts: Sequence[MixPart], tool: Tool) -> float:
    """Share of a can's filling that drives it and never reaches the piece, by volume; other tools meet none."""
    if tool.key != "can":
        return 0.0
    return sum(known.propellant * share for known, share in _shares(parts) if known)


def solids_share(parts: Sequence[MixPart]) -> float:
    """Share of a mix that stays on the piece, by volume, propellant apart."""
    return sum(known.stays.value * share for known, share in _shares(parts) if known)


def dry_density_g_ml(parts: Sequence[MixPart]) -> float:
    """Density of the dry layer that a mix leaves, g/ml, from what stays of its parts."""
    stays = [
        (known.stays.value * share, known.stays_g_ml.value) if known else (UNKNOWN_STAYS * share, DRY_PAINT_G_ML.value)
        for known, share in _shares(parts)
    ]
    volume = sum(v for v, _ in stays)
    return sum(v * density for v, density in stays) / volume if volume else DRY_PAINT_G_ML.value


DRY_PAINT_G_ML: Cited[float] = own_estimate(1.6)
"""Density of a dry layer of an unknown paint."""

UNKNOWN_STAYS = 0.3
"""Share of an unknown ingredient that stays: own estimate."""
