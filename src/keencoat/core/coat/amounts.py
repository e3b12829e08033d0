"""How much to mix: area × dry film × coats ÷ (volume solids × transfer).

Volume = A·DFT/(VS·TE): ISO 2808 (volume solids), transfer as a share of what leaves the tool.
"""

from dataclasses import dataclass

from keencoat.core.coat.recipes import Coat
from keencoat.core.errors import require_positive, require_within

DEAD_VOLUME_ML = 2.0
"""What stays in cup and tool: own estimate."""


@dataclass(frozen=True)
class PartAmount:
    """One ingredient, ml."""

    name: str
    ml: float


@dataclass(frozen=True)
class Mix:
    """What to mix for a batch: total and parts in ml, per piece and coat in ml, and how far it may be off."""

    total_ml: float
    low_ml: float
    high_ml: float
    per_piece_coat_ml: float
    parts: tuple[PartAmount, ...]
    dry_film_um: float


def wet_volume_ml(area_cm2: float, dry_film_um: float, volume_solids: float, transfer: float) -> float:
    """Volume of paint for an area and a dry film, ml. Raises BadValueError outside 0 < solids, transfer ≤ 1."""
    require_positive(area_cm2, "area_cm2", "cm²")
    require_positive(dry_film_um, "dry_film_um", "µm")
    require_within(volume_solids, 0.01, 1, "volume_solids")
    require_within(transfer, 0.01, 1, "transfer")
    return area_cm2 * dry_film_um * 1e-4 / (volume_solids * transfer)


def mix_for(coat: Coat, coated_cm2: float, pieces: int, coats: int) -> Mix | None:
    """What to mix for `pieces` of `coated_cm2` each and `coats` coats; None for what is laid on or delivered."""
    require_within(pieces, 1, 10_000, "pieces")
    require_within(coats, 1, 50, "coats")
    # A sheet, a card or a delivered powder coat has nothing to mix: all of it is solid and stays where it is laid.
    if not coat.is_put_on or coat.volume_solids.value == 1.0:
        return None
    each_ml = wet_volume_ml(coated_cm2, coat.dry_um_per_coat.value, coat.volume_solids.value, coat.transfer.value)
    total_ml = each_ml * pieces * coats + DEAD_VOLUME_ML
    share = sum(p.parts for p in coat.parts)
    return Mix(
        total_ml=total_ml,
        low_ml=0.7 * total_ml,
        high_ml=1.4 * total_ml,
        per_piece_coat_ml=each_ml,
        parts=tuple(PartAmount(p.name, total_ml * p.parts / share) for p in coat.parts),
        dry_film_um=coat.dry_um_per_coat.value * coats,
    )
