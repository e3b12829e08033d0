"""From coats and their drying to what the API gives."""

from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime

from keencoat.core.coat import Heat, Mix, Offer, Tool, coat_cautions, coat_steps, drying_factor, may_be_heated
from keencoat.core.sources import SOURCES
from keencoat.core.substrate import find_substrate
from keencoat.jobs.coat import schemas as c
from keencoat.jobs.coat.services.choice import CoatChoice, OwnLog
from keencoat.jobs.coat.services.drying import PlannedTurn, course_of, drying_of, plan_of
from keencoat.jobs.coat.services.putting_on import mix_of
from keencoat.jobs.job.show import show_drying
from keencoat.jobs.models import Job
from keencoat.shop.room import air_or_usual
from keencoat.shop.room_api import show_room


def show_tool(tool: Tool) -> c.ToolOut:
    """A tool and how to use it."""
    return c.ToolOut(
        key=tool.key,
        label=tool.label,
        motion=tool.motion,
        unevenness=tool.unevenness,
        transfer=tool.transfer.value,
        pattern=tool.pattern,
        looks_like=tool.looks_like,
        goes_wrong=list(tool.goes_wrong),
    )


def show_turns(turns: Sequence[PlannedTurn]) -> list[c.TurnOut]:
    """The plan for the hands."""
    return [
        c.TurnOut(
            job_id=t.job.pk, job=t.job.name, first=t.first, last=t.last, number=t.number, start=t.start, end=t.end
        )
        for t in turns
    ]


def _show_mix(mix: Mix, jar_ml: float | None, left_ml: float | None) -> c.MixOut:
    return c.MixOut(
        **asdict(mix),
        jars=1.0 if jar_ml is None else mix.jars_of(jar_ml),
        pieces_left=None if left_ml is None else mix.pieces_from(left_ml),
    )


def show_coat_plan(job: Job, at: datetime, jar_ml: float | None = None, left_ml: float | None = None) -> c.CoatPlan:
    """The Coat chapter of a job; the mix as so many jars, and held against what is left of a pack."""
    coat, tool, mix, course = job.recipe(), job.brush(), mix_of(job), course_of(job, at)
    steps = coat_steps(course) if coat.is_put_on else []
    cautions = coat_cautions(coat, tool, find_substrate(job.substrate), mix.total_ml if mix else 0.0)
    return c.CoatPlan(
        put_on=coat.is_put_on,
        mixed=coat.is_mixed,
        tool=show_tool(tool),
        why=coat.why,
        colour=coat.colour,
        carrier=coat.carrier.value,
        removal=coat.removal,
        touch_safe=coat.touch_safe,
        cautions=[c.CautionOut.showing(x) for x in cautions],
        coated_cm2=job.piece().coated_cm2,
        pieces=job.pieces,
        spares=job.spares,
        film_um=course.film_um,
        mix=_show_mix(mix, jar_ml, left_ml) if mix else None,
        mix_source=SOURCES[coat.dry_um_per_coat.source].text,
        times_source=SOURCES[coat.before_burn_min.source].text,
        steps=[c.CoatStepOut(**asdict(step), stamps=_stamps(job, step.number)) for step in steps],
        heats=[c.HeatOut(key=h, label=h.label) for h in may_be_heated(coat, tool)],
        lots=[
            c.LotOut(
                id=x.pk, code=x.code, mixed_at=x.mixed_at, amounts_ml=x.amounts_ml, amounts_g=x.amounts_g, note=x.note
            )
            for x in job.lots.all()
        ],
        drying=show_drying(drying_of(job, at), at),
        drying_factor=drying_factor(coat.carrier, air_or_usual(job.workshop, at)),
        correction=c.CorrectionOut.showing(course.correction),
        room=show_room(job.workshop, at),
        turns=show_turns(plan_of([job], at)),
        currency=job.workshop.currency,
    )


def _stamps(job: Job, number: int) -> list[c.StampOut]:
    lots = {lot.pk: lot.code for lot in job.lots.all()}
    return [
        c.StampOut(
            id=x.pk,
            number=x.number,
            first=x.first,
            last=x.last,
            at=x.at,
            heat=Heat(x.heat),
            lot=lots.get(x.lot_id, ""),
            seen_dry_at=x.seen_dry_at,
        )
        for x in job.stamps.all()
        if x.number == number
    ]


def show_offers(job: Job, choice: CoatChoice) -> c.OffersOut:
    """The Choose step of a job."""
    return c.OffersOut(
        job_version=job.version,
        offers=[_offer(offer, choice.log.get(offer.coat.key, OwnLog())) for offer in choice.offers],
        rejections=[c.RejectionOut.showing(r) for r in choice.rejections],
        disagreements=[
            c.DisagreementOut(
                key=question.key,
                question=question.question,
                schools=[
                    c.SchoolOut(
                        **(asdict(x.school) | {"coats": x.offer.coats}),
                        hands_min=x.offer.hands_min,
                        ready_h=max(x.offer.ready_h, x.school.wait_min / 60),
                        cost=x.offer.cost,
                    )
                    for x in schools
                ],
            )
            for question, schools in choice.disagreements
        ],
        currency=job.workshop.currency,
    )


def _offer(offer: Offer, log: OwnLog) -> c.OfferOut:
    return c.OfferOut(
        coat=offer.coat.key,
        label=offer.coat.label,
        tool=offer.tool.key,
        tool_label=offer.tool.label,
        coats=offer.coats,
        absorbs=offer.absorbs,
        why=offer.coat.why,
        hands_min=offer.hands_min,
        ready_h=offer.ready_h,
        cost=offer.cost,
        unevenness=offer.unevenness,
        removal=offer.coat.removal,
        hazards=list(offer.hazards),
        touch_safe=offer.coat.touch_safe,
        log=c.OwnLogOut.showing(log),
    )
