"""A job's batch in a jig of the shop: load by load, in which order, how long, and as one file a load."""

from collections.abc import Iterator
from dataclasses import dataclass

from keencoat.core.artwork import piece_labels
from keencoat.core.errors import BadValueError, NotAllowedError
from keencoat.core.findings import Finding
from keencoat.core.heat import WASHABLE_RISE_K, cooling_s, kept_share, mean_rise_k, thermal_of
from keencoat.core.jig import (
    Jig,
    LoadProgram,
    Seat,
    Seating,
    closest_mm,
    cooling_order,
    from_pocket,
    loads_of,
    off_bed,
    play_left_mm,
    still_warm,
)
from keencoat.core.substrate import find_substrate
from keencoat.core.toolpath import Streamed, gcode_lines, require_on_bed
from keencoat.jobs.artwork.models import Artwork
from keencoat.jobs.artwork.services.bringing import sketch_of
from keencoat.jobs.artwork.services.effort import effort_of
from keencoat.jobs.artwork.services.files import in_blocks
from keencoat.jobs.artwork.services.making import ArtBase, base_of, made_of
from keencoat.jobs.models import Job
from keencoat.jobs.placing.services.jig import flat_piece_of
from keencoat.jobs.placing.services.placing import placing_of
from keencoat.shop.models import KeptJig
from keencoat.shop.soon import soon


@dataclass(frozen=True)
class PieceWarmth:
    """How long one piece burns, how far it warms at most, K, the least and most seconds until it can be washed, and the
    side of its largest fill, mm."""

    seconds: float
    rise_k: float
    cool_s: tuple[float, float]
    fill_mm: float


@dataclass(frozen=True, eq=False)
class JobLoads:
    """A job's batch in a jig: where the jig lies (None: on no bed of the job's machine), loads in the order in which
    they are burned, the artwork that is placed, names by piece (none where all carry the same), what a piece takes
    (None while nothing says), how near a piece comes to one that is still warm."""

    jig: Jig
    play_left_mm: float
    seating: Seating | None
    loads: tuple[tuple[Seat, ...], ...]
    artwork: Artwork | None
    names: tuple[str, ...]
    warmth: PieceWarmth | None
    closest_mm: float | None
    findings: tuple[Finding, ...]


def loads_for(job: Job, kept: KeptJig) -> JobLoads:
    """A job's batch in a jig of the shop. Raises BadValueError where its pieces do not go in."""
    jig, artwork = kept.laid(), placing_of(job).artwork
    play = play_left_mm(kept.piece(), kept.asked(), flat_piece_of(job))
    if play is None:
        raise BadValueError(
            f"Pieces of {job.piece().size} do not lie well in {kept.name}, cut for {kept.piece().size}.",
            field="jig_id",
            hint="Take one that was cut for them, or lay out a new one.",
        )
    warmth = warmth_of(job, artwork) if artwork and job.locked.exists() else None
    warm = still_warm(warmth.cool_s[1], warmth.seconds) if warmth else 0
    loads = tuple(cooling_order(load, warm) for load in loads_of(jig, job.pieces))
    seating = kept.seating(jig) if kept.machine_id == job.machine_id else None
    said = (*seating.findings, *off_bed(jig, seating, job.machine.to_core())) if seating else ()
    names = piece_labels(sketch_of(artwork), artwork.asked()) if artwork else ()
    near = [found for load in loads if (found := closest_mm(load, warm)) is not None]
    return JobLoads(jig, play, seating, loads, artwork, names, warmth, min(near, default=None), said)


@dataclass(frozen=True, eq=False)
class LoadTaken:
    """One load as a program, with what its file is called; the artwork that it burns."""

    program: LoadProgram
    artwork: Artwork
    base: ArtBase
    title: str


def take_load(job: Job, kept: KeptJig, number: int, pocket: int | None) -> LoadTaken:
    """One load (from 1), from a pocket on where one is named. Raises as `_taken`, and BadValueError where there is no
    such load."""
    found = loads_for(job, kept)
    if not 1 <= number <= len(found.loads):
        raise BadValueError(f"There is no load {number}.", field="number", hint=f"There are {len(found.loads)}.")
    order = _marked(found, number)
    on = ""
    if pocket is not None:
        order, on = from_pocket(order, pocket), f", from pocket {pocket} on"
    return _taken(job, kept, found, order, f"load {number} of {len(found.loads)} in {kept.name}{on}")


def take_seats(job: Job, kept: KeptJig, wanted: set[tuple[int, int | None]], words: str) -> LoadTaken:
    """Some pieces by their numbers and pockets, in the order in which they cool best. Raises as `_taken`, and
    BadValueError where one does not lie in that pocket."""
    found = loads_for(job, kept)
    order = tuple(s for load in found.loads for s in load if (s.piece, s.pocket.number) in wanted)
    if len(order) != len(wanted):
        raise BadValueError(
            f"These pieces do not lie so in {kept.name} any more.", field="ids", hint="Begin another batch with it."
        )
    return _taken(job, kept, found, order, f"{words} in {kept.name}")


def _taken(job: Job, kept: KeptJig, found: JobLoads, order: tuple[Seat, ...], words: str) -> LoadTaken:
    """Raises NotAllowedError where the jig lies on no bed of the job's machine, nothing is locked, or no artwork is
    placed; BadValueError where the head would leave the bed."""
    artwork = found.artwork
    if found.seating is None:
        raise NotAllowedError(
            f"{kept.name} lies on no bed of {job.machine.name}.", hint="Lay it there, and touch its crosses."
        )
    if artwork is None:
        raise NotAllowedError("No artwork is placed.", hint="Choose one for the mark in Placing.")
    base, spec = base_of(job), found.jig.spec
    if spec.mirrored != base.mirrored:
        raise NotAllowedError(
            f"{kept.name} is {'' if spec.mirrored else 'not '}mirrored, and this job's marks are "
            f"{'' if base.mirrored else 'not '}seen from behind.",
            hint="Lay out one for this job.",
        )

    def program_of(piece: int) -> Streamed:
        return base.program(made_of(artwork, base, piece - 1 if found.names else 0), spec.across)

    box = base.size_mm[::-1] if spec.across else base.size_mm
    program = LoadProgram(order, program_of, box, found.seating.to_bed)
    require_on_bed(program, base.machine, "touched")
    return LoadTaken(program, artwork, base, f"{job.name}, {artwork.name} v{artwork.version}, {words}")


def load_gcode(taken: LoadTaken) -> Iterator[str]:
    """A load as G-code."""
    base = taken.base
    zero = "that of the machine's bed"
    return in_blocks(gcode_lines(taken.program, base.machine, taken.title, base.mirrored, base.focus, zero))


def _marked(found: JobLoads, number: int) -> tuple[Seat, ...]:
    """The seats of a load that carry something: a list of names may be shorter than the batch."""
    order = found.loads[number - 1]
    some = tuple(s for s in order if not found.names or s.piece <= len(found.names))
    if not some:
        raise BadValueError(
            f"The list has {len(found.names)} names: load {number} has none of them.",
            field="number",
            hint="Take an earlier load.",
        )
    return some


def warmth_of(job: Job, artwork: Artwork) -> PieceWarmth | None:
    """What a piece of an artwork takes, by the first piece of the artwork; None where nothing of it is burned."""
    base: ArtBase = base_of(job)
    effort = soon(effort_of, artwork, base, 0)
    if not effort.seconds:
        return None
    thermal, piece = thermal_of(job.substrate), base.piece
    _, most = kept_share(find_substrate(job.substrate), job.recipe(), base.machine.source, job.layer_um())
    area = float(piece.outline.area)
    rise = thermal.at_most_k(mean_rise_k(most * effort.energy_j, area, piece.thickness_mm, thermal, effort.seconds))
    cool_s = cooling_s(rise, WASHABLE_RISE_K.value, piece.thickness_mm, thermal)
    return PieceWarmth(effort.seconds, rise, cool_s, effort.fill_mm)
