"""How much to mix: area × dry film × coats ÷ (volume solids × transfer), in millilitres, grams and spoons.

Volume = A·DFT/(VS·TE): ISO 3233 (volume solids), transfer as a share of what leaves the tool; a can's propellant comes
on top, since it never reaches the piece. Volumes of powders are
spooned volumes; in the mix their grains leave the air behind, so the parts add up to more than the mix.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal

from keencoat.core.coat.ingredients import (
    INGREDIENTS,
    USUAL_PRICES,
    density_of,
    dry_density_g_ml,
    filled_share,
    label_of,
    propellant_share,
)
from keencoat.core.coat.recipes import Coat, MixPart
from keencoat.core.coat.tools import Tool
from keencoat.core.costing import Price, cost_of, price_of
from keencoat.core.errors import BadValueError, require_positive, require_within

TEASPOON_ML, TABLESPOON_ML, CUP_ML = 5.0, 15.0, 250.0
"""Metric kitchen measures: common practice, no source."""

LOW_SHARE, HIGH_SHARE = 0.7, 1.4
"""How far an amount may be off, by hand and tool: own estimate."""


@dataclass(frozen=True)
class PartAmount:
    """One ingredient of a mix: its parts by volume and by mass, ml to measure out, g to weigh, spoons, and its cost."""

    ingredient: str
    name: str
    parts: float
    mass_parts: float
    ml: float
    g: float
    spoons: str
    cost: Decimal
    is_powder: bool


@dataclass(frozen=True)
class Mix:
    """What to mix for a batch: total in ml with how far it may be off, parts, and what a pack covers.

    `wet_film_um` is that of one coat, `gain_g` what a piece weighs more once all are dry; `pack_of` names the
    ingredient that runs out first, `of_it_a_piece_ml` what a piece takes of it, `pieces_per_pack` what a pack covers.
    """

    total_ml: float
    low_ml: float
    high_ml: float
    total_g: float
    per_piece_coat_ml: float
    per_piece_coat_g: float
    parts: tuple[PartAmount, ...]
    wet_film_um: float
    dry_film_um: float
    gain_g: float
    cost: Decimal
    pieces_per_pack: int
    pack_of: str
    of_it_a_piece_ml: float

    def jars_of(self, jar_ml: float) -> float:
        """How often a jar of this size must be filled; raises BadValueError for a size that no jar has."""
        return self.total_ml / require_within(jar_ml, 5, 20_000, "jar_ml", "ml")

    def pieces_from(self, left_ml: float) -> int:
        """How many pieces what is left of the ingredient that runs out first still covers."""
        return int(require_within(left_ml, 0, 100_000, "left_ml", "ml") / self.of_it_a_piece_ml)


def wet_volume_ml(area_cm2: float, dry_film_um: float, volume_solids: float, transfer: float) -> float:
    """Volume of paint for an area and a dry film, ml. Raises BadValueError outside 0 < solids, transfer ≤ 1.

    >>> wet_volume_ml(area_cm2=100, dry_film_um=25, volume_solids=0.5, transfer=0.5)
    1.0
    """
    require_positive(area_cm2, "area_cm2", "cm²")
    require_positive(dry_film_um, "film_um", "µm")
    require_within(volume_solids, 0.01, 1, "volume_solids")
    require_within(transfer, 0.01, 1, "transfer")
    return area_cm2 * dry_film_um * 1e-4 / (volume_solids * transfer)


def wet_film_um(dry_film_um: float, volume_solids: float, thinner: float = 0.0) -> float:
    """Wet film that dries to `dry_film_um`, µm; `thinner` is its volume per volume of paint (ISO 3233)."""
    require_positive(dry_film_um, "film_um", "µm")
    require_within(volume_solids, 0.01, 1, "volume_solids")
    return dry_film_um * (1 + require_within(thinner, 0, 20, "thinner")) / volume_solids


def dry_gain_g(dry_film_um: float, area_cm2: float, density_g_cm3: float) -> float:
    """What a piece gains in weight, g: film × area × density. The way to check a film on glass and tile, where
    magnetic gauges (ASTM D7091) read nothing."""
    require_positive(dry_film_um, "film_um", "µm")
    return dry_film_um * 1e-4 * require_positive(area_cm2, "area_cm2", "cm²") * density_g_cm3


def split_ml(parts: tuple[MixPart, ...], total_ml: float) -> tuple[float, ...]:
    """Measured-out volume of each part, ml, so that the mix fills `total_ml`."""
    filled = sum(p.parts * filled_share(p.ingredient) for p in parts)
    return tuple(total_ml * p.parts / filled for p in parts)


def to_mass_parts(parts: tuple[MixPart, ...]) -> tuple[MixPart, ...]:
    """A recipe by volume as one by mass, the first part kept at its number."""
    masses = [p.parts * density_of(p.ingredient).value for p in parts]
    scale = parts[0].parts / masses[0]
    return tuple(MixPart(p.ingredient, mass * scale) for p, mass in zip(parts, masses, strict=True))


def to_volume_parts(parts: tuple[MixPart, ...]) -> tuple[MixPart, ...]:
    """A recipe by mass as one by volume, the first part kept at its number."""
    volumes = [p.parts / density_of(p.ingredient).value for p in parts]
    scale = parts[0].parts / volumes[0]
    return tuple(MixPart(p.ingredient, volume * scale) for p, volume in zip(parts, volumes, strict=True))


def in_spoons(ml: float) -> str:
    """A volume in metric cups, tablespoons and quarter teaspoons, rounded to what a spoon can do.

    >>> in_spoons(272.5)
    '1 cup + 1 tbsp + 1½ tsp'
    """
    quarters = round(ml / (TEASPOON_ML / 4))
    if quarters == 0:
        return "a pinch"
    cup_quarters, spoon_quarters = round(CUP_ML / TEASPOON_ML) * 4, round(TABLESPOON_ML / TEASPOON_ML) * 4
    cups, rest = divmod(quarters, cup_quarters)
    tablespoons, rest = divmod(rest, spoon_quarters)
    whole, part = divmod(rest, 4)
    fraction = {0: "", 1: "¼", 2: "½", 3: "¾"}[part]
    teaspoons = f"{whole or ''}{fraction}"
    named = ((str(cups or ""), "cup"), (str(tablespoons or ""), "tbsp"), (teaspoons, "tsp"))
    return " + ".join(f"{count} {unit}" for count, unit in named if count)


def mix_for(
    coat: Coat,
    tool: Tool,
    coated_cm2: float,
    pieces: int,
    coats: int,
    film_um: float | None = None,
    prices: Mapping[str, Price] | None = None,
) -> Mix | None:
    """What to mix for `pieces` of `coated_cm2` each and `coats` coats; None for what is laid on or delivered.

    `film_um` is the dry film of one coat (the coat's usual one if None). Raises BadValueError that names the field.
    """
    require_within(pieces, 1, 10_000, "pieces")
    require_within(coats, 1, 50, "coats")
    if not coat.is_mixed:
        return None
    film = coat.dry_um_per_coat.value if film_um is None else require_within(film_um, 0.5, 500, "film_um", "µm")
    gas = propellant_share(coat.parts, tool)
    each_ml = wet_volume_ml(coated_cm2, film, coat.volume_solids.value, tool.transfer.value) / (1 - gas)
    total_ml = each_ml * pieces * coats + tool.dead_ml.value
    by_mass = to_mass_parts(coat.parts)
    amounts = tuple(
        _amount(part, heavy.parts, ml, prices or {})
        for part, heavy, ml in zip(coat.parts, by_mass, split_ml(coat.parts, total_ml), strict=True)
    )
    piece_share = each_ml * coats / total_ml
    covers, pack_of = _coverage(amounts, piece_share, prices or {})
    first = next((a for a in amounts if a.name == pack_of), amounts[0])
    total_g = sum(a.g for a in amounts)
    return Mix(
        total_ml=total_ml,
        low_ml=LOW_SHARE * total_ml,
        high_ml=HIGH_SHARE * total_ml,
        total_g=total_g,
        per_piece_coat_ml=each_ml,
        per_piece_coat_g=total_g * each_ml / total_ml,
        parts=amounts,
        wet_film_um=wet_film_um(film, coat.volume_solids.value),
        dry_film_um=film * coats,
        gain_g=dry_gain_g(film * coats, coated_cm2, dry_density_g_ml(coat.parts)),
        cost=sum((a.cost for a in amounts), Decimal(0)),
        pieces_per_pack=covers,
        pack_of=pack_of,
        of_it_a_piece_ml=first.ml * piece_share,
    )


def _amount(part: MixPart, mass_parts: float, ml: float, prices: Mapping[str, Price]) -> PartAmount:
    known = INGREDIENTS.get(part.ingredient)
    return PartAmount(
        ingredient=part.ingredient,
        name=label_of(part.ingredient),
        parts=part.parts,
        mass_parts=mass_parts,
        ml=ml,
        g=ml * density_of(part.ingredient).value,
        spoons=in_spoons(ml),
        cost=cost_of(part.ingredient, ml, prices, USUAL_PRICES),
        is_powder=bool(known and known.is_powder),
    )


def _coverage(amounts: tuple[PartAmount, ...], piece_share: float, prices: Mapping[str, Price]) -> tuple[int, str]:
    """How many pieces the ingredient that runs out first covers with one pack, and its name. Water never runs out."""
    found = []
    for amount in amounts:
        price = price_of(amount.ingredient, prices, USUAL_PRICES)
        if price and price.amount > 0:
            found.append((int(price.pack_ml / (amount.ml * piece_share)), amount.name))
    return min(found, default=(0, ""))


def check_parts(parts: tuple[MixPart, ...], field: str = "parts") -> tuple[MixPart, ...]:
    """Return `parts` if a mix can be made of them; raise BadValueError for none, too many, or a part not above 0."""
    if not 1 <= len(parts) <= 8:
        raise BadValueError("A mix has 1 to 8 ingredients.", field=field, hint="Add one, or merge some.")
    for part in parts:
        require_within(part.parts, 0.001, 1000, field)
    return parts
