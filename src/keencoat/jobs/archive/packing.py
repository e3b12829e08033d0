"""Packing a whole workshop into one ZIP of JSON, CSV and pictures, so that nobody is locked in."""

import csv
import io
import json
from datetime import datetime
from typing import IO, Any
from zipfile import ZIP_DEFLATED, ZIP_STORED, ZipFile

from django.core.serializers.json import DjangoJSONEncoder
from django.db.models import BinaryField, Model

from keencoat.core.exchange import harmless, write_cards, write_cards_csv
from keencoat.core.stored import SHAPES
from keencoat.core.substrate import PROCESSES, SUBSTRATES
from keencoat.jobs.archive.kinds import KINDS, LEFT_BEHIND, Kind, fields_of
from keencoat.jobs.archive.opening import ARCHIVE_FORMAT, ARCHIVE_VERSION
from keencoat.jobs.burns.services import BurnsWanted, find_burns
from keencoat.jobs.cards.services import own_cards
from keencoat.shop.models import Workshop
from keencoat.shop.shelf import shelf_of

_ENDINGS = ((b"\xff\xd8\xff", "jpg"), (b"\x89PNG", "png"), (b"<", "svg"))
_BURN_COLUMNS = (
    "key", "kind", "at", "job", "substrate", "process", "coat", "machine", "units", "clean", "faint", "harsh",
    "spoilt", "defects",
)  # fmt: skip
_ABOUT = """What this workshop kept in Keen Coat.

workshop.json    whose it is, and which version of each stored shape the rows have
rows/*.json      every row by kind, with its id; whatever names another row names its id
pictures/        photos and artwork as they were brought, and pictures that were made of them
burns.csv        every grid, batch, run and single piece, with what came of it
setting-cards.*  locked settings, to be traded with other workshops

SI inside: mm, mm/s, W, J/mm², µm. Times are like 2026-05-18T09:00:00Z. docs/formats.md says more.
"""


def pack_workshop(workshop: Workshop, out: IO[bytes], at: datetime) -> None:
    """Write the archive. What somebody changes while it is packed may be in it or not."""
    with ZipFile(out, "w", ZIP_DEFLATED) as archive:
        archive.writestr("README.txt", _ABOUT)
        archive.writestr("workshop.json", _json(_whose(workshop, at)))
        for kind in KINDS:
            _pack_kind(archive, kind, workshop)
        archive.writestr("burns.csv", _burns_csv(workshop))
        cards = [row.card for row in own_cards(workshop)]
        archive.writestr("setting-cards.json", write_cards(cards, workshop.name, at.isoformat(timespec="seconds")))
        archive.writestr("setting-cards.csv", write_cards_csv(cards))


def _whose(workshop: Workshop, at: datetime) -> dict[str, Any]:
    facts = {f.attname: getattr(workshop, f.attname) for f in Workshop._meta.concrete_fields}
    return {
        "format": ARCHIVE_FORMAT,
        "version": ARCHIVE_VERSION,
        "made_at": at,
        "workshop": {name: value for name, value in facts.items() if name not in ("id", "changes", "practice_of_id")},
        "shapes": {name: shape.version for name, shape in SHAPES.items()},
        "kinds": [kind.name for kind in KINDS],
        "left_behind": {model._meta.model_name: why for model, why in LEFT_BEHIND.items()},
    }


def _pack_kind(archive: ZipFile, kind: Kind, workshop: Workshop) -> None:
    """Rows one by one: pictures of a whole workshop would not fit into memory."""
    rows = []
    for row in kind.rows(workshop).iterator(chunk_size=20):
        facts: dict[str, Any] = {"id": row.pk}
        for field in fields_of(kind):
            value = field.value_from_object(row)
            if isinstance(field, BinaryField) and value is not None:
                value = _pack_picture(archive, kind, row, field.name, bytes(value))
            facts[field.attname] = value
        rows.append(facts)
    archive.writestr(f"rows/{kind.name}.json", _json(rows))


def _pack_picture(archive: ZipFile, kind: Kind, row: Model, name: str, data: bytes) -> str:
    """Pictures are packed as they are: they are as small as they get."""
    ending = next((ending for start, ending in _ENDINGS if data.startswith(start)), "bin")
    path = f"pictures/{kind.name}-{row.pk}-{name}.{ending}"
    archive.writestr(path, data, ZIP_STORED)
    return path


def _burns_csv(workshop: Workshop) -> str:
    out, shelf = io.StringIO(), shelf_of(workshop)
    writer = csv.writer(out)
    writer.writerow(_BURN_COLUMNS)
    for burn in find_burns(workshop, BurnsWanted()).iterator():
        job = burn.job
        writer.writerow(
            (
                burn.key, burn.kind, burn.at.isoformat(), harmless(job.name), SUBSTRATES[job.substrate].label,
                PROCESSES[job.process].label, harmless(shelf[job.coat].label), harmless(burn.machine_name), burn.units,
                burn.clean_units, burn.faint_units, burn.harsh_units, burn.spoilt_units, ";".join(burn.defects),
            )
        )  # fmt: skip
    return out.getvalue()


def _json(value: object) -> str:
    return json.dumps(value, cls=DjangoJSONEncoder, indent=1, ensure_ascii=False)
