"""What a job's pieces cost: from what is known of coat, machine and window, and what somebody said."""

from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from decimal import Decimal

from django.db import transaction

from keencoat.core.coat import offer_of, offers_for
from keencoat.core.costing import (
    LEAST_SHARE,
    BatchCost,
    Order,
    PieceWork,
    Rates,
    cost_counted,
    cost_of_batch,
    earned_an_hour,
    money,
    price_by_margin,
    price_by_wage,
    spent_on,
)
from keencoat.core.errors import BadValueError, NotAllowedError
from keencoat.core.quantities import Range, Setting, minutes_per_dm2
from keencoat.core.rating import Rating
from keencoat.core.states import PieceState
from keencoat.core.window import odds_of
from keencoat.jobs.coat.services.choice import need_of
from keencoat.jobs.cost.piece_work import (
    PLACES,
    CostTold,
    as_said,
    cost_of_round,
    decimal_of,
    order_of,
    said_of,
    usual_work,
)
from keencoat.jobs.job.services import find_job, lock_job
from keencoat.jobs.models import Batch, Job, JobCost
from keencoat.jobs.window.services.locking import JobWindow, read_window
from keencoat.shop.access import require_version
from keencoat.shop.models import Workshop
from keencoat.shop.rates import rates_of
from keencoat.shop.shelf import prices_of, shelf_of

_FILLED_SHARE = Decimal("0.25")
"""How much of a face is filled where no artwork says: an own guess."""
_COATS_TOLD = 3


@dataclass(frozen=True)
class WhatIf:
    """Another way and what a good piece would cost by it."""

    kind: str
    words: str
    setting: Setting | None
    cost: BatchCost


@dataclass(frozen=True)
class OneMoreRound:
    """A further grid round: what it costs, and what it saves on this batch by the pieces that are lost less."""

    cells: int
    costs: Decimal
    saves: Decimal
    saved_pieces: float

    @property
    def pays(self) -> bool:
        """Whether it saves more than it costs."""
        return self.saves > self.costs


@dataclass(frozen=True)
class Priced:
    """A batch's cost with the price of a good piece and what an hour of hands earns by it."""

    cost: BatchCost
    price: Decimal
    earned: Decimal | None

    @property
    def asked(self) -> Decimal:
        """The price of all good pieces together."""
        return self.price * self.cost.good


@dataclass(frozen=True, eq=False)
class JobMoney:
    """Everything the Cost chapter shows. `usual`: what stands in for what nobody said; `machine_words`: where the
    machine's minutes come from. `plan` None: no setting has a share of clean pieces to reckon with (`why_not`);
    `done`: of the newest batch that was closed, by what came of it."""

    job: Job
    told: CostTold
    version: int
    rates: Rates
    usual: PieceWork
    machine_words: str
    piece: PieceWork
    clean: Range | None
    setting: Setting | None
    plan: Priced | None
    why_not: str
    done: Priced | None
    done_batch: Batch | None
    what_ifs: tuple[WhatIf, ...]
    next_round: OneMoreRound | None


def money_of(job: Job, at: datetime) -> JobMoney:
    """What a job's pieces cost and sell for."""
    row, told = said_of(job)
    rates, window = rates_of(job.workshop), read_window(job)
    locked = next(iter(job.locked.all()), None)
    point = window.recommendation.point
    setting = locked.setting() if locked else point.setting if point else None
    machine_min, machine_words = _machine(job, setting)
    usual = replace(usual_work(job, at), machine_min=machine_min)
    piece = as_said(told, usual)
    order = order_of(job, told)
    clean = odds_of(window.fit, setting, job.machine.to_core()).clean if setting and window.rated else None
    plan, why_not = _priced(lambda: _planned(rates, piece, order, clean), told, rates)
    batch = job.batches.filter(closed_at__isnull=False).order_by("-number").first()
    done, _ = _priced(lambda: _counted(batch, rates, piece, order), told, rates)
    return JobMoney(
        job,
        told,
        row.version if row else 0,
        rates,
        usual,
        machine_words,
        piece,
        clean,
        setting,
        plan,
        why_not,
        done,
        batch if done else None,
        tuple(_what_ifs(job, window, _Basis(rates, piece, order, setting, clean), at))
        if plan and setting and clean
        else (),
        _round(window, rates, piece) if plan else None,
    )


def _machine(job: Job, setting: Setting | None) -> tuple[Decimal, str]:
    batch = job.batches.filter(burn_s__isnull=False).order_by("-number").first()
    if batch is not None and batch.burn_s is not None:
        return decimal_of(batch.burn_s / 60), f"as batch {batch.number} took"
    face = job.piece().face
    area_dm2 = decimal_of(face.width_mm * face.height_mm / 10_000)
    minutes = decimal_of(minutes_per_dm2(setting)) if setting else Decimal(0)
    return (area_dm2 * _FILLED_SHARE * minutes).quantize(Decimal("0.01")), "if a quarter of the face is filled"


def _priced(reckon: Callable[[], BatchCost], told: CostTold, rates: Rates) -> tuple[Priced | None, str]:
    """What was reckoned, with its price; or why nothing can be."""
    try:
        cost = reckon()
        if told.by_wage:
            price = price_by_wage(cost, told.wage, rates.fee_share)
        else:
            price = price_by_margin(cost, told.margin, rates.fee_share)
    except (BadValueError, NotAllowedError) as error:
        return None, str(error)
    return Priced(cost, price, earned_an_hour(cost, price, rates.fee_share)), ""


def _planned(rates: Rates, piece: PieceWork, order: Order, clean: Range | None) -> BatchCost:
    if clean is None:
        raise NotAllowedError("No setting is known yet.", hint="Burn and rate a grid.")
    return cost_of_batch(rates, piece, order, clean)


def _counted(batch: Batch | None, rates: Rates, piece: PieceWork, order: Order) -> BatchCost:
    burned = [p for p in batch.pieces.all() if p.state in (PieceState.LOOKED, PieceState.STOPPED)] if batch else []
    good = sum(p.rating == Rating.CLEAN for p in burned)
    if not good:
        raise NotAllowedError("No batch with a clean piece is closed yet.", hint="Close it in Run.")
    return cost_counted(rates, piece, replace(order, good=good), len(burned))


@dataclass(frozen=True)
class _Basis:
    """What a plan rests on, of which each what-if changes one thing."""

    rates: Rates
    piece: PieceWork
    order: Order
    setting: Setting
    clean: Range


_Way = tuple[str, str, Setting | None, _Basis]


def _what_ifs(job: Job, window: JobWindow, basis: _Basis, at: datetime) -> list[WhatIf]:
    """Other settings, batch sizes and coats, each changed alone; another coat is taken to come out as often."""
    ways = (*_settings(window, basis), *_sizes(basis), *_coats(job, basis, at))
    return [
        WhatIf(kind, words, setting, cost_of_batch(way.rates, way.piece, way.order, way.clean))
        for kind, words, setting, way in ways
        # What is hardly ever clean is no way to make anything.
        if way.clean.mid >= LEAST_SHARE
    ]


def _settings(window: JobWindow, basis: _Basis) -> Iterator[_Way]:
    best = window.recommendation
    for words, point in [("recommended", best.point), *((o.school.value, o.point) for o in best.others)]:
        if point is None or point.setting == basis.setting:
            continue
        slower = decimal_of(point.minutes_per_dm2) / decimal_of(minutes_per_dm2(basis.setting))
        piece = replace(basis.piece, machine_min=basis.piece.machine_min * slower)
        yield "setting", words, point.setting, replace(basis, piece=piece, clean=point.clean)


def _sizes(basis: _Basis) -> Iterator[_Way]:
    for good in (max(1, basis.order.good // 2), 2 * basis.order.good):
        yield "size", f"{good} pieces", None, replace(basis, order=replace(basis.order, good=good))


def _coats(job: Job, basis: _Basis, at: datetime) -> Iterator[_Way]:
    need, prices = need_of(job, at), prices_of(job.workshop)
    own = offer_of(job.recipe(), job.brush(), job.coats, need, prices, job.film_um)
    others = [
        o for o in offers_for(need, shelf_of(job.workshop, with_put_away=False), prices) if o.coat.key != job.coat
    ]
    for offer in others[:_COATS_TOLD]:
        hands = basis.piece.hands_min + decimal_of((offer.hands_min - own.hands_min) / job.all_pieces)
        coat = (offer.cost / job.all_pieces).quantize(PLACES)
        piece = replace(basis.piece, coat=coat, hands_min=max(Decimal(0), hands))
        yield "coat", offer.coat.label, None, replace(basis, piece=piece)


def _round(window: JobWindow, rates: Rates, piece: PieceWork) -> OneMoreRound | None:
    worth = window.recommendation.next_round
    if worth is None:
        return None
    each = sum(spent_on(piece, rates).values(), Decimal(0))
    costs = money(cost_of_round(piece, rates))
    return OneMoreRound(worth.cells, costs, money(decimal_of(worth.saved_pieces) * each), worth.saved_pieces)


@transaction.atomic
def tell_cost(workshop: Workshop, job_id: int, told: CostTold, seen: int) -> None:
    """Store what somebody says of a job's money, if nobody did since version `seen` (0: nobody ever did)."""
    job = lock_job(workshop, job_id)
    kept = {name: v if isinstance(v, bool | str) or v is None else str(v) for name, v in asdict(told).items()}
    row = JobCost.objects.filter(job=job).first()
    if row is None:
        require_version(JobCost(version=0), seen, "list of costs")
        JobCost.objects.create(job=job, told=kept)
        return
    require_version(row, seen, "list of costs")
    row.told, row.version = kept, seen + 1
    row.save(update_fields=["told", "version"])


def money_by_id(workshop: Workshop, job_id: int, at: datetime) -> JobMoney:
    """As `money_of`, of the job of that id; raises MissingError."""
    return money_of(find_job(workshop, job_id), at)
