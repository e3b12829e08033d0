"""Jigs of the shop: kept, found again, laid on a bed, put away."""

from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime

from django.db import transaction

from keencoat.core.errors import NotAllowedError
from keencoat.core.jig import JigSpec, lay_jig, seat
from keencoat.core.piece import FlatPiece
from keencoat.shop.access import find_one, require_version, within_reach
from keencoat.shop.models import KeptJig, Machine, Workshop

_MOST_JIGS = 200


def jigs_of(workshop: Workshop) -> list[KeptJig]:
    """The workshop's jigs by the size of their pieces."""
    return list(KeptJig.objects.filter(workshop=workshop).select_related("machine"))


def find_jig(workshop: Workshop, jig_id: int) -> KeptJig:
    """The jig of that id in this workshop; raises MissingError."""
    return find_one(KeptJig.objects.filter(within_reach(workshop)).select_related("machine"), "jig", pk=jig_id)


@transaction.atomic
def keep_jig(workshop: Workshop, name: str, piece: FlatPiece, spec: JigSpec, at: datetime) -> KeptJig:
    """Keep a jig for pieces of that size. Raises BadValueError where none fits."""
    lay_jig(piece, spec)
    Workshop.objects.select_for_update().get(pk=workshop.pk)
    if workshop.jigs.filter(put_away=False).count() >= _MOST_JIGS:
        raise NotAllowedError(f"{_MOST_JIGS} jigs are kept already.", hint="Put one away that is no longer used.")
    return KeptJig.objects.create(
        workshop=workshop,
        name=name,
        shape=piece.shape,
        width_mm=piece.width_mm,
        height_mm=piece.height_mm,
        spec=asdict(spec),
        added_at=at,
    )


@transaction.atomic
def change_jig(workshop: Workshop, jig_id: int, name: str, put_away: bool, seen: int) -> KeptJig:
    """Call a jig something else, or put it away, or take it out again."""
    jig = _taken(workshop, jig_id, seen)
    jig.name, jig.put_away = name, put_away
    jig.save()
    return jig


@transaction.atomic
def seat_jig(
    workshop: Workshop, jig_id: int, machine_id: int, touched: Sequence[tuple[float, float]], at: datetime, seen: int
) -> KeptJig:
    """Keep where a jig's crosses were touched on a machine's bed; none of them: it was taken off. Raises BadValueError
    where they cannot be so."""
    jig = _taken(workshop, jig_id, seen)
    if touched:
        seat(jig.laid().crosses_mm, touched)
        jig.times_laid += not jig.touched
        jig.machine = find_one(Machine.objects.filter(within_reach(workshop)), "machine", pk=machine_id)
    else:
        jig.machine = None
    jig.touched, jig.seated_at = [list(point) for point in touched], at if touched else None
    jig.save()
    return jig


def _taken(workshop: Workshop, jig_id: int, seen: int) -> KeptJig:
    rows = KeptJig.objects.select_for_update(of=("self",)).filter(within_reach(workshop))
    jig = find_one(rows, "jig", pk=jig_id)
    require_version(jig, seen, "jig")
    jig.version += 1
    return jig
