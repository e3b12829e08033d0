"""What a search still takes: test pieces, hours and money until a setting may be locked, as far as can be told."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from decimal import Decimal

from keencoat.core.coat import drying_factor, hands_min_per_coat
from keencoat.core.costing import PieceWork, money, spent_on
from keencoat.core.quantities import Setting, Slice
from keencoat.core.window import PIECE_MIN, Batch, WindowFit, outlook_of
from keencoat.jobs.belief import begun_from
from keencoat.jobs.coat.services.drying import course_of, drying_of
from keencoat.jobs.cost.piece_work import GRID_HANDS_MIN, as_said, cost_of_round, decimal_of, said_of, usual_work
from keencoat.jobs.job.services import burned_grids
from keencoat.jobs.models import Job
from keencoat.shop.rates import rates_of
from keencoat.shop.room import air_or_usual

_WAITING_SHARE = Decimal("0.05")
"""What an hour of drying is worth of an hour of hands: common practice, no source."""
_MOST_PIECE_MIN = 10_000.0


@dataclass(frozen=True)
class Ahead:
    """The likeliest number of test pieces until a setting may be locked, and the chance that so many do; hours until
    then, of them drying, both without a coat that is drying already; what the pieces cost; and from what the window
    began besides the catalogue, in words (empty for nothing)."""

    pieces: int
    chance: float
    hours: float
    drying_hours: float
    cost: Decimal
    begun: str


def piece_minutes(job: Job, at: datetime) -> float:
    """What a further test piece costs beside its burning, in minutes of the machine; as usual where nobody said what a
    piece of this job costs, or a minute costs nothing."""
    row, told = said_of(job)
    if row is None:
        return PIECE_MIN
    rates = rates_of(job.workshop)
    minute = sum(spent_on(PieceWork(*(Decimal(0),) * 5, Decimal(1)), rates).values(), Decimal(0))
    if not minute:
        return PIECE_MIN
    piece = as_said(told, usual_work(job, at))
    waiting = decimal_of(_drying_hours(job, at)) * _WAITING_SHARE * rates.hand_hour
    return min(_MOST_PIECE_MIN, float((cost_of_round(piece, rates) + waiting) / minute))


def ahead_of(job: Job, fit: WindowFit, slice_: Slice, cells: Sequence[Setting], burn_min: float, at: datetime) -> Ahead:
    """What a search still takes that goes on with these cells on one spare; later rounds are taken to be alike."""
    outlook = outlook_of(fit, slice_, cells, job.workshop.wanted_share, Batch(job.pieces, job.spare_worth))
    each_h = (float(GRID_HANDS_MIN) + burn_min) / 60
    rounds = _coatings(job, outlook.pieces, at)
    drying_h = rounds * _drying_hours(job, at)
    hands_h = rounds * job.coats * hands_min_per_coat(job.brush(), job.piece().coated_cm2) / 60
    piece = replace(as_said(said_of(job)[1], usual_work(job, at)), machine_min=decimal_of(burn_min))
    cost = money(outlook.pieces * cost_of_round(piece, rates_of(job.workshop)))
    hours = drying_h + hands_h + outlook.pieces * each_h
    return Ahead(outlook.pieces, outlook.chance, hours, drying_h, cost, begun_from(job)[0])


def _drying_hours(job: Job, at: datetime) -> float:
    """How long all coats of a piece take to dry in the room's air."""
    course = course_of(job, at)
    if not course.coat.is_put_on:
        return 0.0
    factor = drying_factor(course.coat.carrier, air_or_usual(job.workshop, at))
    return sum(course.span(number).plan * factor for number in range(1, job.coats + 1)) / 60


def _coatings(job: Job, pieces: int, at: datetime) -> int:
    """How often spares must still be coated: the job's own all at once, further ones each by itself."""
    if not job.recipe().is_put_on:
        return 0
    used = sum(grid.spares for grid in burned_grids(job))
    left = max(0, job.spares - used)
    on = sum(group.pieces for group in drying_of(job, at).groups if group.all_on)
    coated = min(left, max(0, on - used))
    if pieces <= coated:
        return 0
    return max(0, pieces - left) + (coated < left)
