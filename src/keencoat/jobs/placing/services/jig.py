"""Jigs for a job's flat pieces: laid out, kept, found again, drawn with what else is cut beside them."""

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from keencoat.core.errors import NotAllowedError
from keencoat.core.jig import (
    CutSheet,
    Jig,
    JigSpec,
    Seat,
    lay_jig,
    loads_of,
    play_left_mm,
    sheet_of,
    stops_sheet,
    trial_sheet,
)
from keencoat.core.piece import FlatPiece
from keencoat.jobs.models import Job
from keencoat.shop.jigs import jigs_of, keep_jig
from keencoat.shop.models import KeptJig


class Sheet(StrEnum):
    """What is cut for a job: its jig, a trial of three plays, stops for one piece at a time."""

    JIG = "jig"
    TRIAL = "trial"
    STOPS = "stops"


@dataclass(frozen=True)
class FittingJig:
    """A jig of the shop that takes a job's pieces, and the play that they have in it."""

    jig: KeptJig
    play_left_mm: float


def flat_piece_of(job: Job) -> FlatPiece:
    """A job's piece. Raises NotAllowedError for a round one."""
    piece = job.piece()
    if not isinstance(piece, FlatPiece):
        raise NotAllowedError("A round piece lies in no pocket.", hint="Say in Placing what turns it.")
    return piece


def draft_jig(job: Job, spec: JigSpec) -> tuple[Jig, tuple[tuple[Seat, ...], ...]]:
    """A jig for a job's pieces, and its batch load by load. Raises as `flat_piece_of` and `lay_jig`."""
    jig = lay_jig(flat_piece_of(job), spec)
    return jig, loads_of(jig, job.pieces)


def sheet_for(job: Job, what: Sheet, spec: JigSpec, pin_mm: float) -> CutSheet:
    """What is cut for a job, as a sheet."""
    piece = flat_piece_of(job)
    if what is Sheet.TRIAL:
        return trial_sheet(piece, spec)
    return stops_sheet(piece, pin_mm, spec.kerf_mm) if what is Sheet.STOPS else sheet_of(lay_jig(piece, spec))


def keep_for(job: Job, name: str, spec: JigSpec, at: datetime) -> FittingJig:
    """Keep a jig for a job's pieces."""
    return FittingJig(keep_jig(job.workshop, name, flat_piece_of(job), spec, at), spec.play_mm)


def fitting_jigs(job: Job) -> list[FittingJig]:
    """The shop's jigs that take a job's pieces, the closest first; none for round ones."""
    piece = job.piece()
    if not isinstance(piece, FlatPiece):
        return []
    found = []
    for jig in jigs_of(job.workshop):
        play = play_left_mm(jig.piece(), jig.asked(), piece)
        if play is not None and not jig.put_away:
            found.append(FittingJig(jig, play))
    return sorted(found, key=lambda f: (f.play_left_mm, f.jig.pk))
