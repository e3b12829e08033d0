"""The Artwork chapter: what was brought, made ready for the locked setting, seen as it will burn, and taken."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.utils import timezone
from ninja import File, Form, Query, Router, Status
from ninja.files import UploadedFile

from keencoat.core.artwork import ArtKind, Screen
from keencoat.core.errors import require_known
from keencoat.core.vision import MAX_PHOTO_BYTES
from keencoat.jobs.artwork import schemas as s
from keencoat.jobs.artwork.models import Artwork, spec_of
from keencoat.jobs.artwork.services.bringing import (
    bring_artwork,
    change_artwork,
    drop_artwork,
    find_artwork,
    picture_of,
    source_of,
)
from keencoat.jobs.artwork.services.coat_film import CoatFilm, film_of
from keencoat.jobs.artwork.services.figures import names_of
from keencoat.jobs.artwork.services.files import Taken, gcode_of, grey_of, png_of, svg_of
from keencoat.jobs.artwork.services.making import base_of, burned_of, coarse_of, is_art_engraved, is_in_greys, made_of
from keencoat.jobs.artwork.services.versions import keep_version, require_taken
from keencoat.jobs.artwork.services.views import Look, Way, loupe_view, photo_view, whole_view
from keencoat.jobs.artwork.show import show_artwork, show_artworks, show_curve, show_figures
from keencoat.jobs.job.services import find_job
from keencoat.jobs.job.uploads import photo_bytes
from keencoat.jobs.models import Job
from keencoat.shop.access import require_version, workshop_of
from keencoat.shop.fields import LATE, Name, sends, takes
from keencoat.shop.soon import soon

router = Router(tags=["artwork"])


@router.get("/jobs/{job_id}/artworks", response=s.ArtworksOut)
def list_artworks(request: HttpRequest, job_id: int) -> s.ArtworksOut:
    """A job's artworks, and what they are made on."""
    return show_artworks(find_job(workshop_of(request), job_id))


@router.post("/jobs/{job_id}/artworks", response={201: s.ArtworkOut}, **takes(MAX_PHOTO_BYTES))
def bring(
    request: HttpRequest, job_id: int, file: File[UploadedFile], kind: Form[ArtKind], name: Form[Name]
) -> Status[s.ArtworkOut]:
    """Bring artwork: a picture (JPEG, PNG, TIFF, HEIC), a drawing (SVG), names (CSV), or text."""
    data = photo_bytes(file, "file")
    return Status(201, show_artwork(bring_artwork(workshop_of(request), job_id, kind, name, data, timezone.now())))


@router.get("/artworks/{artwork_id}", response=s.ArtworkOut)
def read_artwork(request: HttpRequest, artwork_id: int) -> s.ArtworkOut:
    """An artwork."""
    return show_artwork(find_artwork(workshop_of(request), artwork_id))


@router.put("/artworks/{artwork_id}", response=s.ArtworkOut)
def change(request: HttpRequest, artwork_id: int, payload: s.ArtworkIn) -> s.ArtworkOut:
    """Ask something else of an artwork."""
    workshop = workshop_of(request)
    return show_artwork(
        change_artwork(workshop, artwork_id, spec_of(payload.spec.model_dump()), payload.name, payload.version)
    )


@router.delete("/artworks/{artwork_id}", response={204: None})
def drop(request: HttpRequest, artwork_id: int) -> Status[None]:
    """Throw an artwork away."""
    drop_artwork(workshop_of(request), artwork_id, timezone.now())
    return Status(204, None)


@router.get("/artworks/{artwork_id}/figures", response=s.ArtFiguresOut, openapi_extra={"responses": LATE})
def figures(request: HttpRequest, artwork_id: int, piece: int = 0, film_map: bool = False) -> s.ArtFiguresOut:
    """Time, energy, heat and detail of one piece (from 0), and what to mind; with `film_map` on the film that the
    newest photo of the coat told."""
    artwork, job = _found(request, artwork_id)
    return show_figures(artwork, base_of(job), piece, _film(job, film_map))


@router.get("/artworks/{artwork_id}/names", response=list[s.SetNameOut])
def names(request: HttpRequest, artwork_id: int) -> list[s.SetNameOut]:
    """The names of a list as they are set."""
    artwork, job = _found(request, artwork_id)
    return [
        s.SetNameOut(row=n.name.row, first=n.name.first, second=n.name.second, capital_mm=n.capital_mm, why=n.why)
        for n in names_of(artwork, base_of(job))
    ]


@router.get("/jobs/{job_id}/tone-curve", response=s.CurveOut)
def tone_curve(request: HttpRequest, job_id: int, screen: Screen = Screen.STUCKI) -> s.CurveOut:
    """From the share of dots burned to how full the mark is, with its range, and the wedge behind it."""
    return show_curve(base_of(find_job(workshop_of(request), job_id)), screen)


@router.get("/artworks/{artwork_id}/view.png", **sends("image/png", late=True))
def view(
    request: HttpRequest,
    artwork_id: int,
    film: Query[s.FilmIn],
    way: Way = Way.BURNED,
    px: int = 720,
    piece: int = 0,
    is_coarse: bool = False,
) -> HttpResponse:
    """The whole piece: as it is sent, as it is expected to burn, or where it may fail; under so much more film, and
    under that which a photo told. A coarse one is had at once and tells of the first two only; of engraved
    lines there is none."""
    artwork, job = _found(request, artwork_id)
    base = base_of(job)
    look = Look(way, px, film.film_pct, _film(job, film.film_map))
    if is_coarse and not is_art_engraved(artwork):
        soon(source_of, artwork.pk, artwork.brought)
        return _picture(whole_view(coarse_of(artwork, base, piece), base, look, None))
    art = soon(made_of, artwork, base, piece)
    burned = None if way is Way.SENT else soon(burned_of, artwork, base, piece, look.ln_film, look.film)
    return _picture(whole_view(art, base, look, burned))


@router.get("/artworks/{artwork_id}/loupe.png", **sends("image/png", late=True))
def loupe(
    request: HttpRequest,
    artwork_id: int,
    film: Query[s.FilmIn],
    x_mm: float,
    y_mm: float,
    way: Way = Way.BURNED,
    piece: int = 0,
) -> HttpResponse:
    """Eight millimetres about a place (from the middle of the piece, y up), every dot of them."""
    artwork, job = _found(request, artwork_id)
    base = base_of(job)
    look, greys = Look(way, 64, film.film_pct, _film(job, film.film_map)), is_in_greys(artwork)
    return _picture(loupe_view(soon(made_of, artwork, base, piece), base, look, (x_mm, y_mm), greys))


@router.get("/artworks/{artwork_id}/photo.png", **sends("image/png", late=True))
def photo(request: HttpRequest, artwork_id: int, is_toned: bool = False, px: int = 480) -> HttpResponse:
    """A photo by itself, as it was brought (whole), or cropped and its tones set."""
    artwork = find_artwork(workshop_of(request), artwork_id)
    soon(source_of, artwork.pk, artwork.brought)
    return _picture(photo_view(picture_of(artwork), artwork.asked().tone if is_toned else None, px))


_FILES: dict[str, tuple[str, Callable[[Taken], str | bytes]]] = {
    "png": ("image/png", png_of),
    "grey": ("image/png", grey_of),
    "svg": ("image/svg+xml", svg_of),
}
_GCODE = "text/x-gcode"
_ENDS = {"grey": "grey.png"}


@router.post("/artworks/{artwork_id}/taken", response={201: s.TakenOut})
def take(request: HttpRequest, artwork_id: int, payload: s.TakeIn) -> Status[s.TakenOut]:
    """Keep the artwork as it is now, for the setting as it is now: evidence, before its files are taken. Refused if it
    was changed since `version`."""
    artwork, job = _found(request, artwork_id)
    require_version(artwork, payload.version, "artwork")
    return Status(201, s.TakenOut.showing(keep_version(artwork, base_of(job), timezone.now())))


@router.get("/artworks/{artwork_id}/files/{kind}", **sends(_GCODE, *(media for media, _ in _FILES.values())))
def download(request: HttpRequest, artwork_id: int, kind: str, piece: int = 0) -> HttpResponse | StreamingHttpResponse:
    """One piece (from 0) as a file: gcode, png (dots), grey (a photo's greys, as PNG) or svg; of what was taken."""
    artwork, job = _found(request, artwork_id)
    require_known(kind[:20], (*_FILES, "gcode"), "kind")
    taken = Taken(artwork, base_of(job), piece)
    require_taken(artwork, taken.base)
    headers = {"Content-Disposition": f'attachment; filename="{taken.stem}.{_ENDS.get(kind, kind)}"'}
    if kind == "gcode":
        return StreamingHttpResponse(gcode_of(taken), content_type=f"{_GCODE}; charset=utf-8", headers=headers)
    media, write = _FILES[kind]
    return HttpResponse(write(taken), content_type=media, headers=headers)


def _found(request: HttpRequest, artwork_id: int) -> tuple[Artwork, Job]:
    """The artwork, and its job with all that its base needs."""
    workshop = workshop_of(request)
    artwork = find_artwork(workshop, artwork_id)
    artwork.job = find_job(workshop, artwork.job_id)
    return artwork, artwork.job


def _film(job: Job, wanted: bool) -> CoatFilm | None:
    return film_of(job) if wanted else None


def _picture(data: bytes) -> HttpResponse:
    return HttpResponse(data, content_type="image/png", headers={"Cache-Control": "private, max-age=3600"})
