"""What coats are mixed from: densities that turn millilitres into grams and back, pack sizes, usual prices.

A powder has two densities: spooned (with air between the grains) and solid. Prices are our own estimates, in the
workshop's currency; a workshop puts its own beside them.
"""

from dataclasses import dataclass

from keencoat.core.sources import Cited, common_practice, own_estimate


@dataclass(frozen=True)
class Ingredient:
    """One thing that is bought. `solid_g_ml` is set for powders only; `price` is what a pack of `pack_ml` costs."""

    key: str
    label: str
    density_g_ml: Cited[float]
    pack_ml: Cited[float]
    price: Cited[float]
    solid_g_ml: Cited[float] | None = None

    @property
    def is_powder(self) -> bool:
        """Whether it is spooned rather than poured."""
        return self.solid_g_ml is not None


def _liquid(key: str, label: str, density: Cited[float], pack_ml: float, price: float) -> Ingredient:
    return Ingredient(key, label, density, common_practice(pack_ml), own_estimate(price))


INGREDIENTS: dict[str, Ingredient] = {
    i.key: i
    for i in (
        _liquid("tempera", "washable black tempera", own_estimate(1.25), 500, 4.5),
        _liquid("water", "water", Cited(0.998, "crc-densities"), 1000, 0.0),
        _liquid("pva", "washable PVA glue", own_estimate(1.05), 500, 5.0),
        _liquid("isopropanol_91", "91 % isopropanol", Cited(0.815, "crc-densities"), 500, 5.0),
        Ingredient(
            "tio2", "titanium dioxide powder", own_estimate(0.85), common_practice(600), own_estimate(9.0),
            Cited(4.23, "crc-densities"),
        ),
        _liquid("matt_black", "matt black or chalkboard spray", own_estimate(0.9), 400, 7.0),
        _liquid("dye_black", "black layout dye", own_estimate(0.85), 400, 14.0),
        _liquid("dye_blue", "blue layout dye", own_estimate(0.85), 400, 14.0),
        _liquid("white_spray", "white spray with titanium dioxide", own_estimate(0.95), 400, 7.0),
        _liquid("base_colour", "base colour", own_estimate(0.95), 400, 8.0),
        _liquid("top_coat", "dark top coat", own_estimate(0.9), 400, 7.0),
        _liquid("plain_spray", "plain spray paint", own_estimate(0.9), 400, 4.0),
        _liquid("soap", "dish soap", own_estimate(1.03), 500, 2.0),
        _liquid("marking_spray", "marking spray", own_estimate(0.9), 400, 45.0),
        _liquid("chalk", "liquid chalk, black", own_estimate(1.1), 200, 6.0),
        _liquid("card", "sheet of black card", own_estimate(0.7), 25, 0.3),
        _liquid("sheet", "marking sheet", own_estimate(1.0), 8, 2.5),
        _liquid("tape", "masking tape", own_estimate(0.9), 300, 3.0),
    )
}  # fmt: skip

USUAL_DENSITY_G_ML = own_estimate(1.0)
"""For an ingredient of the maker's own whose density nobody gave."""


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
