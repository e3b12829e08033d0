"""Why a piece of a batch failed, and what the tests came to that were asked for."""

from django.http import HttpRequest
from ninja import Router

from keencoat.core.inspect import TESTS, Ranked
from keencoat.core.sources import SOURCES
from keencoat.jobs.batch import why_schemas as s
from keencoat.jobs.batch.services.explaining import Why, tell_answer, why_failed
from keencoat.jobs.job.schemas import SettingOut
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import RangeOut

router = Router(tags=["inspect"])


@router.get("/batch-pieces/{piece_id}/why", response=s.WhyOut)
def read(request: HttpRequest, piece_id: int) -> s.WhyOut:
    """Causes of a failed piece by rank, one change each, and the test that parts the first two."""
    return _shown(why_failed(workshop_of(request), piece_id))


@router.put("/batch-pieces/{piece_id}/why/answer", response=s.WhyOut)
def answer(request: HttpRequest, piece_id: int, payload: s.TestAnswerIn) -> s.WhyOut:
    """Tell what a test came to, or take it back; the causes are ranked anew."""
    workshop, p = workshop_of(request), payload
    tell_answer(workshop, piece_id, p.test, p.answer, p.version)
    return _shown(why_failed(workshop, piece_id))


def _shown(why: Why) -> s.WhyOut:
    ask = why.explained.ask
    return s.WhyOut(
        id=why.piece.pk,
        version=why.piece.version,
        causes=[_cause(ranked) for ranked in why.explained.ranked],
        ask=_test(ask.key, None) if ask else None,
        asked=[_test(key, said) for key, said in why.piece.answers.items()],
        good=why.good,
        since=list(why.since),
        clean=RangeOut.showing(why.odds.clean),
        margin_to_faint_pct=RangeOut.showing(why.odds.margin_to_faint_pct),
        margin_to_harsh_pct=RangeOut.showing(why.odds.margin_to_harsh_pct),
    )


def _cause(ranked: Ranked) -> s.CauseOut:
    remedy = ranked.remedy
    return s.CauseOut(
        key=ranked.cause.key,
        label=ranked.cause.label,
        chance=ranked.chance,
        because=[s.BecauseOut.showing(b) for b in ranked.because],
        remedy=s.RemedyOut(
            action=remedy.action,
            words=remedy.words,
            setting=SettingOut.showing(remedy.setting) if remedy.setting else None,
            clean=RangeOut.showing(remedy.clean) if remedy.clean else None,
            or_else=remedy.or_else,
        ),
        source=SOURCES[ranked.cause.source].text,
    )


def _test(key: str, said: str | None) -> s.CheapTestOut:
    test = TESTS[key]
    answers = [s.TestAnswerOut(key=k, label=label) for k, label in test.answers.items()]
    return s.CheapTestOut(key=key, question=test.question, minutes=test.minutes, answers=answers, answer=said)
