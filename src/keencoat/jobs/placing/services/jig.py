"""A jig for a job's flat pieces."""

from dataclasses import dataclass

from keencoat.core.errors import NotAllowedError
from keencoat.core.jig import Jig, JigSpec, Load, jig_svg, lay_jig, loads_of
from keencoat.core.piece import FlatPiece
from keencoat.jobs.models import Job


@dataclass(frozen=True, eq=False)
class JobJig:
    """A jig for a job, and how its batch is parted into loads."""

    jig: Jig
    loads: tuple[Load, ...]


def jig_for(job: Job, spec: JigSpec) -> JobJig:
    """Lay a jig out for a job's pieces. Raises NotAllowedError for round ones, and as `lay_jig`."""
    piece = job.piece()
    if not isinstance(piece, FlatPiece):
        raise NotAllowedError("A round piece lies in no pocket.", hint="Say in Placing what turns it.")
    jig = lay_jig(piece, spec)
    return JobJig(jig, loads_of(len(jig.pockets), job.pieces))


def jig_file(job: Job, spec: JigSpec) -> str:
    """The jig as SVG."""
    made = jig_for(job, spec)
    width, height = spec.sheet_mm
    return jig_svg(made.jig, f"{job.name}, jig of {len(made.jig.pockets)} on {width:g} x {height:g} mm")
