"""From windows to what the API gives."""

from dataclasses import asdict

from keencoat.core.quantities import Setting, minutes_per_dm2
from keencoat.core.window import (
    Drift,
    Opener,
    Recommendation,
    SettingOdds,
    basis_of,
    basis_words,
    peak_pct,
    peak_words,
    piece_sd,
)
from keencoat.jobs.belief import begun_from, card_hint
from keencoat.jobs.evidence import fill_mm
from keencoat.jobs.job.schemas import SettingOut
from keencoat.jobs.job.show import show_locked
from keencoat.jobs.models import Job
from keencoat.jobs.window import schemas as s
from keencoat.jobs.window.services.carry import Carried, OwnWindow
from keencoat.jobs.window.services.locking import JobWindow, evidence_mark
from keencoat.shop.fields import FindingOut, RangeOut


def show_point(point: SettingOdds) -> s.PointOut:
    """What the window says of one setting."""
    figures = asdict(point)
    return s.PointOut(**figures.pop("setting"), **figures)


def show_window(window: JobWindow, like: list[OwnWindow]) -> s.WindowOut:
    """The Window chapter of a job, with the workshop's own windows that lie near."""
    job, grids = window.job, list(window.job.grids.all())
    mapped, (begun, sources) = window.map, begun_from(job)
    sd = piece_sd(window.fit.draws, window.fit.prior.scatter)
    peak = peak_pct(window.fit, mapped.at)
    return s.WindowOut(
        job_version=job.version,
        evidence_mark=evidence_mark(job),
        interval_mm=mapped.at.interval_mm,
        passes=mapped.at.passes,
        map=s.MapOut(
            speeds_mm_s=list(mapped.speeds_mm_s),
            powers_pct=list(mapped.powers_pct),
            clean=mapped.clean.round(4).tolist(),
            harsh=mapped.harsh.round(4).tolist(),
            enough=s.BoundaryOut.showing(mapped.enough),
            too_much=s.BoundaryOut.showing(mapped.too_much),
            film_share=mapped.at.film_share,
            energy_factor=mapped.at.full_j_mm2(1.0) / 100,
            minutes_factor=minutes_per_dm2(mapped.at.setting(100, 1.0)),
        ),
        rated=[s.RatedOut(code=r.code, rating=r.rating, **asdict(r.setting)) for r in window.rated],
        recommendation=_show_recommendation(window.recommendation, job.pieces),
        fit=s.FitOut(
            status=window.fit.status,
            message=window.fit.message,
            cells=len(window.rated),
            pieces=window.pieces_burned,
            model_version=window.fit.model_version,
            prior_centre_j_mm2=window.fit.prior.believed_centre_j_mm2,
            prior_source=window.fit.prior.source_text,
            scatter_pct=100 * float(sd.mean()),
            scatter_basis=basis_of(window.fit.prior.scatter, window.fit.run_pieces),
            scatter_words=basis_words(window.fit.prior.scatter, window.fit.run_pieces),
            surprise=window.fit.surprise,
        ),
        art=window.art,
        has_strokes=any(c.strokes for g in grids for c in g.cells.all()),
        evidence=window.evidence,
        proven=window.proven,
        drift=_show_drift(window.drift) if window.drift else None,
        older=s.OlderLockOut.showing(window.older) if window.older else None,
        like=[_show_own(w) for w in like],
        begun_from=_begun_from(window.job),
        begun=begun,
        sources=[s.BegunSourceOut.showing(source) for source in sources],
        fill_mm=fill_mm(job),
        peak_words=peak_words(peak) if peak else "",
        can_lock=bool(window.rated) and all(g.state in ("rated", "drawn") for g in grids),
        locked=[show_locked(x) for x in job.locked.all()],
    )


def _show_recommendation(best: Recommendation, pieces: int) -> s.RecommendationOut:
    return s.RecommendationOut(
        verdict=best.verdict,
        wanted_share=best.wanted_share,
        point=show_point(best.point) if best.point else None,
        power_range_pct=list(best.power_range_pct) if best.power_range_pct else None,
        held=best.held,
        open_share=best.open_share,
        could_be_mm_s=best.could_be_mm_s,
        others=[
            s.OtherOut(school=o.school, code=o.code, point=show_point(o.point), words=o.words) for o in best.others
        ],
        openers=[show_opener(o, o.saves(pieces, best.point.clean.mid) if best.point else None) for o in best.openers],
        lock_now=best.lock_now,
        next_round=s.RoundWorthOut.showing(best.next_round) if best.next_round else None,
        advice=best.advice,
    )


def show_opener(o: Opener, saved_pieces: float | None = None) -> s.OpenerOut:
    """What may open a window."""
    start = _show_setting(o.start)
    return s.OpenerOut(
        change=o.change, chance=o.chance, words=o.words, clean=o.clean, saved_pieces=saved_pieces, start=start
    )


def _show_setting(setting: Setting | None) -> SettingOut | None:
    return SettingOut.showing(setting) if setting else None


def _show_drift(drift: Drift) -> s.DriftOut:
    return s.DriftOut(
        run_on=drift.run_on,
        energy_pct=RangeOut.showing(drift.energy_pct),
        expected_clean=drift.expected_clean,
        seen_clean=drift.seen_clean,
        findings=[FindingOut.showing(f) for f in drift.findings],
    )


def _show_own(own: OwnWindow) -> s.OwnWindowOut:
    locked = list(own.job.locked.all())
    return s.OwnWindowOut(
        job_id=own.job.pk,
        name=own.job.name,
        machine=own.job.machine.name,
        distance=own.distance,
        words=own.words,
        setting=_show_setting(locked[0].setting() if locked else None),
    )


def show_carried(carried: Carried) -> s.CarryOut:
    """A window as predicted elsewhere."""
    return s.CarryOut(
        machine=carried.machine.name,
        point=show_point(carried.point),
        held=carried.choice.held,
        open_share=carried.choice.open_share,
        cells=[SettingOut.showing(c) for c in carried.cells],
    )


def _begun_from(job: Job) -> s.BegunFromOut | None:
    if job.card is None:
        return None
    card = job.card.to_core()
    return s.BegunFromOut(
        workshop=card.workshop,
        title=card.title,
        setting=SettingOut.showing(card.setting()),
        energy_j_mm2=card.energy_j_mm2(),
        within_factor=card_hint(card).within_factor,
    )
