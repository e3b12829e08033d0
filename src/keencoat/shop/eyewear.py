"""The shop's eyewear: kept by what is printed on it, put away when it is scratched or lent."""

from collections.abc import Sequence
from dataclasses import asdict

from django.db import transaction

from keencoat.core.errors import NotAllowedError
from keencoat.core.safety import WaveBand
from keencoat.shop.access import find_one, require_version
from keencoat.shop.models import Eyewear, Workshop

_MOST_PAIRS = 100


def eyewear_of(workshop: Workshop) -> list[Eyewear]:
    """All pairs of the workshop, and on a practice bench those of the workshop that practises."""
    return list(Eyewear.objects.filter(workshop=workshop.practice_of or workshop))


@transaction.atomic
def keep_eyewear(workshop: Workshop, name: str, bands: Sequence[WaveBand]) -> Eyewear:
    """Keep a pair. Raises BadValueError for bands that cannot be."""
    Workshop.objects.select_for_update().get(pk=workshop.pk)
    if workshop.eyewear.filter(put_away=False).count() >= _MOST_PAIRS:
        raise NotAllowedError(f"{_MOST_PAIRS} pairs are listed already.", hint="Put one away that is no longer worn.")
    pair = Eyewear(workshop=workshop, name=name, bands=[asdict(band) for band in bands])
    pair.to_core()
    pair.save()
    return pair


@transaction.atomic
def change_eyewear(
    workshop: Workshop, pair_id: int, name: str, bands: Sequence[WaveBand], put_away: bool, seen: int
) -> Eyewear:
    """Change a pair that still is at version `seen`, or put it away."""
    pair = find_one(Eyewear.objects.select_for_update().filter(workshop=workshop), "eyewear", pk=pair_id)
    require_version(pair, seen, "pair")
    pair.name, pair.bands, pair.put_away = name, [asdict(band) for band in bands], put_away
    pair.version += 1
    pair.to_core()
    pair.save()
    return pair
