"""Burns side by side: what differed, what came of it, and their windows laid over each other."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.db.models import prefetch_related_objects

from keencoat.core.coat import ArmCount, judge_arms
from keencoat.core.errors import BadValueError, MissingError
from keencoat.core.quantities import Slice, areal_energy_j_mm2, dwell_ms
from keencoat.core.substrate import PROCESSES, SUBSTRATES
from keencoat.core.window import WindowEdges, edges_of, map_window
from keencoat.jobs.belief import fit_of
from keencoat.jobs.burns.models import BurnKind, LoggedBurn
from keencoat.jobs.burns.services import BurnSeen, tell_burns
from keencoat.jobs.evidence import pieces_burned
from keencoat.jobs.job.facts import Fact, facts_of
from keencoat.jobs.models import Job
from keencoat.shop.models import Workshop
from keencoat.shop.shelf import shelf_of

FEWEST, MOST = 2, 5


@dataclass(frozen=True, eq=False)
class SideBySide:
    """Burns with what is known of them, how likely each is the one with the most clean pieces (None where it is of
    cells, or nobody looked), and the windows of their jobs (None before one is known)."""

    burns: tuple[BurnSeen, ...]
    facts: tuple[Fact, ...]
    best: tuple[float | None, ...]
    windows: tuple[WindowEdges | None, ...]


def lay_side_by_side(workshop: Workshop, keys: Sequence[str]) -> SideBySide:
    """The burns of those keys. Raises BadValueError for fewer than two or more than five, MissingError for one that is
    not the workshop's."""
    wanted = list(dict.fromkeys(keys))
    if not FEWEST <= len(wanted) <= MOST:
        raise BadValueError(
            f"{len(wanted)} burns to compare.", field="burns", hint=f"Choose {FEWEST} to {MOST} in the logbook."
        )
    rows = LoggedBurn.objects.filter(job__workshop=workshop, key__in=wanted).select_related("job__machine")
    by_key = {row.key: row for row in rows}
    missing = [key for key in wanted if key not in by_key]
    if missing:
        raise MissingError("There is no such burn in your workshop.", hint="It may have been deleted.")
    seen = tuple(tell_burns([by_key[key] for key in wanted]))
    prefetch_related_objects([s.burn.job for s in seen], "lots")
    windows = {s.burn.job_id: _window(workshop, s) for s in seen}
    return SideBySide(seen, _facts(workshop, seen), _best(seen), tuple(windows[s.burn.job_id] for s in seen))


def _window(workshop: Workshop, seen: BurnSeen) -> WindowEdges | None:
    job = Job.objects.select_related("machine", "card").get(pk=seen.burn.job_id)
    job.workshop = workshop
    if not pieces_burned(job):
        return None
    return edges_of(map_window(fit_of(job), Slice(job.machine.to_core(), job.interval_mm)))


def _best(burns: Sequence[BurnSeen]) -> tuple[float | None, ...]:
    counted = [s for s in burns if s.burn.is_of_pieces and s.burn.seen]
    if len(counted) < FEWEST:
        return (None,) * len(burns)
    # Each piece stands for itself.
    verdicts = judge_arms([ArmCount(s.burn.seen, s.burn.seen, s.burn.clean_units) for s in counted])
    chances = {s.burn.key: verdict.best for s, verdict in zip(counted, verdicts, strict=True)}
    return tuple(chances.get(s.burn.key) for s in burns)


def _facts(workshop: Workshop, burns: Sequence[BurnSeen]) -> tuple[Fact, ...]:
    shelf = shelf_of(workshop)
    return facts_of([_known(s, shelf[s.burn.job.coat].label) for s in burns])


def _known(seen: BurnSeen, coat: str) -> dict[tuple[str, str], str | float]:
    job, machine, settings = seen.burn.job, seen.machine, seen.settings
    one = settings[0] if len(set(settings)) == 1 else None
    size = f"{job.width_mm:g} × {job.height_mm:g} mm"
    return {
        ("job", ""): job.name,
        ("burned as", ""): BurnKind(seen.burn.kind).label,
        ("substrate", ""): SUBSTRATES[job.substrate].label,
        ("piece", ""): size,
        ("thickness", "mm"): job.thickness_mm,
        ("process", ""): PROCESSES[job.process].label,
        ("coat", ""): coat,
        ("coats", ""): float(job.coats),
        ("film", "µm"): round(job.layer_um(), 1),
        ("lots", ""): ", ".join(lot.code for lot in job.lots.all()) or "none told",
        ("machine", ""): seen.burn.machine_name,
        ("watts", "W"): machine.rated_w,
        ("spot", "mm"): machine.spot_mm,
        ("power", "%"): one.power_pct if one else "several",
        ("speed", "mm/s"): one.speed_mm_s if one else "several",
        ("lines", "mm"): one.interval_mm if one else job.interval_mm,
        ("passes", ""): float(one.passes) if one else "several",
        ("energy", "J/mm²"): round(areal_energy_j_mm2(one, machine), 3) if one else "several",
        ("dwell", "ms"): round(dwell_ms(one, machine), 3) if one else "several",
    }
