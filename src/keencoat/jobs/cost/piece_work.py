"""What a piece of a job costs and takes: as somebody said, else as we reckon."""

from dataclasses import dataclass, replace
from datetime import datetime
from decimal import Decimal

from keencoat.core.coat import finishes_of, offer_of
from keencoat.core.costing import Order, PieceWork, Rates, cost_of_tests, money, spent_on
from keencoat.core.substrate import find_process, find_substrate
from keencoat.jobs.coat.services.choice import need_of
from keencoat.jobs.job.services import burned_grids
from keencoat.jobs.models import Job, JobCost
from keencoat.shop.rates import rates_of
from keencoat.shop.shelf import prices_of

_PLACE_AND_LOOK_MIN = Decimal("2.5")
_FINISH_MIN = Decimal(2)
GRID_HANDS_MIN = Decimal(15)
"""Own guesses: hands for placing, framing, washing and looking at a piece, for each finish, for a grid from drawing it
to rating it."""
PLACES = Decimal("0.0001")


@dataclass(frozen=True)
class CostTold:
    """What somebody said; None leaves a figure to us. `by_wage`: the price follows from a wage, not a margin."""

    blank: Decimal = Decimal(0)
    consumables: Decimal = Decimal(0)
    hands_min: Decimal | None = None
    finish_min: Decimal | None = None
    machine_min: Decimal | None = None
    setup_min: Decimal = Decimal(20)
    by_wage: bool = False
    margin: Decimal = Decimal("0.30")
    wage: Decimal = Decimal(25)
    for_whom: str = ""


def said_of(job: Job) -> tuple[JobCost | None, CostTold]:
    """What was kept of a job's money, and what it says."""
    row = JobCost.objects.filter(job=job).first()
    return row, told_of(row) if row else CostTold()


def told_of(row: JobCost) -> CostTold:
    """What was said, from what was kept."""
    texts = {"by_wage", "for_whom"}
    return CostTold(
        **{name: v if name in texts or v is None else Decimal(v) for name, v in row.told.items()}  # type: ignore[arg-type]
    )


def usual_work(job: Job, at: datetime) -> PieceWork:
    """What a piece takes by our reckoning, beside the machine's minutes."""
    offer = offer_of(job.recipe(), job.brush(), job.coats, need_of(job, at), prices_of(job.workshop), job.film_um)
    finishes = finishes_of(find_process(job.process), find_substrate(job.substrate))
    return PieceWork(
        blank=Decimal(0),
        coat=(offer.cost / job.all_pieces).quantize(PLACES),
        consumables=Decimal(0),
        hands_min=decimal_of(offer.hands_min / job.all_pieces) + _PLACE_AND_LOOK_MIN,
        finish_min=_FINISH_MIN * len(finishes),
        machine_min=Decimal(0),
    )


def as_said(told: CostTold, usual: PieceWork) -> PieceWork:
    """What somebody said, and the usual where nobody did."""
    said = {name: getattr(told, name) for name in ("hands_min", "finish_min", "machine_min")}
    given = {name: value for name, value in said.items() if value is not None}
    return replace(usual, blank=told.blank, consumables=told.consumables, **given)


def cost_of_round(piece: PieceWork, rates: Rates) -> Decimal:
    """What a further spare with its grid costs, unrounded."""
    return sum(spent_on(replace(piece, hands_min=GRID_HANDS_MIN), rates).values(), Decimal(0))


def order_of(job: Job, told: CostTold) -> Order:
    """A job's good pieces, with what its test grids took so far."""
    grids = burned_grids(job)
    minutes = sum((decimal_of(grid.burn_seconds / 60) for grid in grids), Decimal(0))
    return Order(job.pieces, told.setup_min, sum(g.spares for g in grids), GRID_HANDS_MIN * len(grids), minutes)


@dataclass(frozen=True)
class SearchSpent:
    """What the test pieces of a job took so far: how many, with how many cells, minutes of the laser, and money."""

    pieces: int
    cells: int
    burn_min: float
    cost: Decimal


def search_of(job: Job, at: datetime) -> SearchSpent:
    """What the search for a job's setting has taken so far."""
    told = said_of(job)[1]
    order = order_of(job, told)
    cells = sum(len(grid.cells.all()) for grid in burned_grids(job))
    cost = cost_of_tests(rates_of(job.workshop), as_said(told, usual_work(job, at)), order)
    return SearchSpent(order.tests, cells, float(order.test_machine_min), money(cost))


def decimal_of(value: float) -> Decimal:
    """A figure that was worked out, as Decimal to four places."""
    return Decimal(str(value)).quantize(PLACES)
