"""The burns of the workshop, found by what they were."""

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from keencoat.core.errors import BadValueError, MissingError, require_known
from keencoat.core.vision import thumb_jpeg
from keencoat.jobs.burns import schemas as s
from keencoat.jobs.burns.models import BurnKind
from keencoat.jobs.burns.services import PAGE, BurnsWanted, faults_of, find_burns, picture_of_burn, tell_burns
from keencoat.jobs.burns.show import show_burn, show_defect
from keencoat.jobs.burns.side_by_side import lay_side_by_side
from keencoat.jobs.job.schemas import FactOut
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import Note, sends
from keencoat.shop.shelf import shelf_of

router = Router(tags=["logbook"])


@router.get("/logged-burns", response=s.LoggedBurnsOut)
def search(request: HttpRequest, asked: Query[s.BurnsAsked]) -> s.LoggedBurnsOut:
    """Find burns, a page of them, and what went wrong in all that were found."""
    workshop = workshop_of(request)
    if asked.since and asked.until and asked.until < asked.since:
        raise BadValueError("It ends before it begins.", field="until", hint=f"Use {asked.since} or a later day.")
    found = find_burns(workshop, BurnsWanted(**asked.model_dump(exclude={"page"})))
    total, shelf = found.count(), shelf_of(workshop)
    pages = max(1, -(-total // PAGE))
    page = min(asked.page, pages)
    rows = list(found[(page - 1) * PAGE : page * PAGE])
    return s.LoggedBurnsOut(
        total=total,
        pages=pages,
        page=page,
        burns=[show_burn(seen, shelf) for seen in tell_burns(rows)],
        went_wrong=[show_defect(f.defect, f.times, f.burns) for f in faults_of(found)],
    )


@router.get("/logged-burns/side-by-side", response=s.ComparedOut)
def side_by_side(request: HttpRequest, burns: Note) -> s.ComparedOut:
    """Two to five burns side by side, by their keys with commas between."""
    workshop = workshop_of(request)
    found, shelf = lay_side_by_side(workshop, [key for key in burns.split(",") if key]), shelf_of(workshop)
    return s.ComparedOut(
        burns=[show_burn(seen, shelf) for seen in found.burns],
        facts=[FactOut.showing(fact) for fact in found.facts],
        best=list(found.best),
        windows=[s.EdgesOut.showing(edges) if edges else None for edges in found.windows],
    )


@router.get("/logged-burns/{of}/{row_id}/picture", **sends("image/jpeg"))
def picture(request: HttpRequest, of: str, row_id: int) -> HttpResponse:
    """A small picture of a burn: its newest photo, squared up."""
    require_known(of[:20], BurnKind.values, "of")
    data = picture_of_burn(workshop_of(request), BurnKind(of), row_id)
    if data is None:
        raise MissingError("There is no photo of this burn.", hint="Photograph it where it was rated.")
    return HttpResponse(thumb_jpeg(data), content_type="image/jpeg", headers={"Cache-Control": "private, max-age=600"})
