"""All pieces of an artwork in one file, made by a worker."""

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Status

from keencoat.jobs.artwork import schemas as s
from keencoat.jobs.artwork.models import PackKind
from keencoat.jobs.artwork.services.packing import ask_pack, bytes_of, call_off, find_pack
from keencoat.jobs.tasks import art_pack as pack_task
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import sends

router = Router(tags=["artwork"])
_MEDIA = {PackKind.PROOF: "application/pdf", PackKind.ALL: "application/zip"}


@router.post("/artworks/{artwork_id}/packs", response={201: s.ArtPackOut})
def start_pack(request: HttpRequest, artwork_id: int, payload: s.ArtPackIn) -> Status[s.ArtPackOut]:
    """Have all pieces of an artwork made into one file: a proof (pdf), or PNG and G-code of every piece (zip)."""
    pack = ask_pack(workshop_of(request), artwork_id, PackKind(payload.kind), timezone.now())
    pack_task.defer(art_pack_id=pack.pk)
    return Status(201, s.ArtPackOut.showing(pack))


@router.get("/art-packs/{art_pack_id}", response=s.ArtPackOut)
def read_pack(request: HttpRequest, art_pack_id: int) -> s.ArtPackOut:
    """How far a file is."""
    return s.ArtPackOut.showing(find_pack(workshop_of(request), art_pack_id))


@router.post("/art-packs/{art_pack_id}/stop", response=s.ArtPackOut)
def stop_pack(request: HttpRequest, art_pack_id: int) -> s.ArtPackOut:
    """Call a file off."""
    return s.ArtPackOut.showing(call_off(workshop_of(request), art_pack_id))


@router.get("/art-packs/{art_pack_id}/file", **sends(*_MEDIA.values()))
def pack_file(request: HttpRequest, art_pack_id: int) -> HttpResponse:
    """The file that was made."""
    pack = find_pack(workshop_of(request), art_pack_id)
    name = f"{pack.as_it_was().stem}.{pack.kind}"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return HttpResponse(bytes_of(pack), content_type=_MEDIA[PackKind(pack.kind)], headers=headers)
