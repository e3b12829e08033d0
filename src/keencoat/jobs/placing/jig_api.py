"""Jigs for flat pieces: laid out, and taken as a file."""

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from keencoat.core.jig import JigSpec
from keencoat.jobs.job.services import find_job
from keencoat.jobs.placing.services.jig import JobJig, jig_file, jig_for
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import Asked, Shown, sends

router = Router(tags=["placing"])


class JigIn(Asked):
    """What is asked of a jig: its sheet, the play of a piece across its pocket, the kerf of the cut, gaps, margin,
    notches for fingers (radius, 0: none), where a hanging hole points (degrees; null: nowhere)."""

    sheet_width_mm: float
    sheet_height_mm: float
    play_mm: float = 0.4
    kerf_mm: float = 0.15
    gap_mm: float = 6
    margin_mm: float = 12
    finger_mm: float = 0
    hole_deg: float | None = None
    across: bool = False
    mirrored: bool = False

    def spec(self) -> JigSpec:
        """As core knows it; raises BadValueError."""
        own = self.model_dump(exclude={"sheet_width_mm", "sheet_height_mm"})
        return JigSpec((self.sheet_width_mm, self.sheet_height_mm), **own)


class PocketOut(Shown):
    """A pocket, and the middle of its piece on the sheet."""

    number: int
    x_mm: float
    y_mm: float


class LoadOut(Shown):
    """Pieces of the batch that lie in the jig at once."""

    first_piece: int
    last_piece: int


class JigOut(Shown):
    """A jig as laid out: pockets, their edge about a piece's middle, the crosses to line it up by, lines that say where
    holes point; and the loads of the batch."""

    pockets: list[PocketOut]
    edge: list[list[float]]
    crosses_mm: list[list[float]]
    hole_lines: list[list[list[float]]]
    like_honeycomb: bool
    loads: list[LoadOut]


@router.get("/jobs/{job_id}/jig", response=JigOut)
def draft(request: HttpRequest, job_id: int, wish: Query[JigIn]) -> JigOut:
    """Lay a jig out; nothing is kept."""
    return _show(jig_for(find_job(workshop_of(request), job_id), wish.spec()))


@router.get("/jobs/{job_id}/jig.svg", **sends("image/svg+xml"))
def file(request: HttpRequest, job_id: int, wish: Query[JigIn]) -> HttpResponse:
    """The jig as SVG, true to scale, in two groups: what is cut, and what is marked."""
    text = jig_file(find_job(workshop_of(request), job_id), wish.spec())
    headers = {"Content-Disposition": f'attachment; filename="keencoat-job{job_id}-jig.svg"'}
    return HttpResponse(text, content_type="image/svg+xml", headers=headers)


def _show(made: JobJig) -> JigOut:
    jig = made.jig
    lines = [line for p in jig.pockets if (line := jig.hole_line(p))]
    return JigOut(
        pockets=[PocketOut.showing(p) for p in jig.pockets],
        edge=[[round(x, 3), round(y, 3)] for x, y in jig.edge.exterior.coords],
        crosses_mm=[list(c) for c in jig.crosses_mm],
        hole_lines=[[list(a), list(b)] for a, b in lines],
        like_honeycomb=jig.like_honeycomb,
        loads=[LoadOut.showing(x) for x in made.loads],
    )
