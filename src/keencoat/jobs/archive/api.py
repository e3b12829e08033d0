"""The whole workshop as one file."""

import tempfile

from django.http import FileResponse, HttpRequest
from django.utils import timezone
from ninja import Router

from keencoat.jobs.archive.packing import pack_workshop
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import sends

router = Router(tags=["shop"])
_IN_MEMORY = 20_000_000


@router.get("/workshop.zip", **sends("application/zip"))
def archive(request: HttpRequest) -> FileResponse:
    """Everything that the workshop keeps, but for its people and its practice bench: JSON, CSV and pictures."""
    at = timezone.now()
    # Closed by whoever sends it.
    out = tempfile.SpooledTemporaryFile(_IN_MEMORY)  # noqa: SIM115
    pack_workshop(workshop_of(request), out, at)
    out.seek(0)
    return FileResponse(out, as_attachment=True, filename=f"keencoat-workshop-{at:%Y-%m-%d}.zip")
