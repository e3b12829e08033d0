"""The whole workshop as one file, out and in."""

import tempfile
from typing import IO, cast

from django.http import FileResponse, HttpRequest
from django.utils import timezone
from ninja import File, Router, Status
from ninja.files import UploadedFile

from keencoat.core.errors import BadValueError, NotAllowedError
from keencoat.jobs.archive import schemas as s
from keencoat.jobs.archive.bringing import find_archive, keep_archive
from keencoat.jobs.archive.opening import MAX_ARCHIVE_BYTES
from keencoat.jobs.archive.packing import pack_workshop
from keencoat.jobs.tasks import archive as archive_task
from keencoat.shop.access import member_of, workshop_of
from keencoat.shop.fields import sends, takes

router = Router(tags=["shop"])
_IN_MEMORY = 20_000_000


@router.get("/workshop.zip", **sends("application/zip"))
def take_out(request: HttpRequest) -> FileResponse:
    """Everything that the workshop keeps, but for its people and its practice bench: JSON, CSV and pictures."""
    at = timezone.now()
    # Closed by whoever sends it.
    out = tempfile.SpooledTemporaryFile(_IN_MEMORY)  # noqa: SIM115
    pack_workshop(workshop_of(request), out, at)
    out.seek(0)
    return FileResponse(out, as_attachment=True, filename=f"keencoat-workshop-{at:%Y-%m-%d}.zip")


@router.post("/workshop.zip", response={201: s.BroughtArchiveOut}, **takes(MAX_ARCHIVE_BYTES))
def bring(request: HttpRequest, file: File[UploadedFile]) -> Status[s.BroughtArchiveOut]:
    """Bring another workshop's archive in, or this one's own again. A worker reads it; what is here already stays as it
    is."""
    if not member_of(request).owner:
        raise NotAllowedError("Only an owner can bring an archive in.", field="file", hint="Ask an owner.")
    if (file.size or 0) > MAX_ARCHIVE_BYTES:
        raise BadValueError(
            "The archive is too large.", field="file", hint=f"{MAX_ARCHIVE_BYTES // 1_000_000} MB at most."
        )
    row = keep_archive(workshop_of(request), file.name or "", cast(IO[bytes], file), timezone.now())
    archive_task.defer(archive_id=row.pk)
    return Status(201, s.BroughtArchiveOut.showing(row))


@router.get("/brought-archives", response=list[s.BroughtArchiveOut])
def brought(request: HttpRequest) -> list[s.BroughtArchiveOut]:
    """The archives that were brought in, the newest first."""
    return [s.BroughtArchiveOut.showing(row) for row in workshop_of(request).brought_archives.all()]


@router.get("/brought-archives/{archive_id}", response=s.BroughtArchiveOut)
def one(request: HttpRequest, archive_id: int) -> s.BroughtArchiveOut:
    """How far an archive is, and what came of it."""
    return s.BroughtArchiveOut.showing(find_archive(workshop_of(request), archive_id))
