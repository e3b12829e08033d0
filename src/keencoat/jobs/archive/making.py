"""Rows of an archive made into rows of this workshop, each figure checked by what will read it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, NoReturn
from uuid import UUID

from django.core.exceptions import ValidationError
from django.db import models
from django.utils import timezone

from keencoat.core.artwork import ArtKind, read_source
from keencoat.core.errors import UNREADABLE, BadValueError
from keencoat.core.vision import photo_kind
from keencoat.jobs import models as jobs
from keencoat.jobs.archive.kinds import Kind, fields_of
from keencoat.jobs.archive.opening import Facts, OpenedArchive
from keencoat.jobs.archive.shapes import READ_BY
from keencoat.shop.aside import aside
from keencoat.shop.fields import printable, sized
from keencoat.shop.models import OwnCoat, Workshop
from keencoat.shop.stored_field import StoredField

_TYPES: dict[type["models.Field[Any, Any]"], type | tuple[type, ...]] = {
    models.BooleanField: bool,
    models.FloatField: (int, float),
    models.IntegerField: int,
    # As text since prices are exact; as a number before.
    models.DecimalField: (str, int, float),
    models.CharField: str,
    models.TextField: str,
    models.DateTimeField: str,
    models.UUIDField: str,
}
"""As what JSON has each kind of field; the first that fits."""


@dataclass(frozen=True, eq=False)
class Into:
    """Where rows go: the workshop, and which of its rows each row of the archive became, by model and old id."""

    workshop: Workshop
    ids: dict[type[models.Model], dict[int, int]] = field(default_factory=dict)

    def became(self, model: type[models.Model], old: int) -> int | None:
        """The row that an old one became; None where it is not here."""
        return self.ids.get(model, {}).get(old)

    def note(self, model: type[models.Model], old: int, new: int) -> None:
        """An old row became a new one."""
        self.ids.setdefault(model, {})[old] = new

    def coat(self, key: str) -> str:
        """A coat's key, its own coats by the rows that they became here."""
        old = key.removeprefix("own-")
        if old == key or not old.isdecimal():
            return key
        return f"own-{self.became(OwnCoat, int(old)) or 0}"


def make_row(kind: Kind, facts: Facts, opened: OpenedArchive, into: Into) -> models.Model:
    """A row of this workshop, not saved yet. Raises BadValueError with the field's name for what cannot be one."""
    values: dict[str, Any] = {}
    for one in fields_of(kind):
        if one.attname in facts:
            values[one.attname] = _value(one, facts[one.attname], opened, into)
        elif not one.has_default() and not one.null:
            _refuse(one.name, "is missing")
    if "coat" in values and isinstance(values["coat"], str):
        values["coat"] = into.coat(values["coat"])
    if hasattr(kind.model, "workshop_id"):
        values["workshop_id"] = into.workshop.pk
    if kind.model is jobs.Artwork:
        _check_artwork(values)
    return kind.model(**values)


def _value(one: "models.Field[Any, Any]", found: Any, opened: OpenedArchive, into: Into) -> Any:  # noqa: ANN401
    if found is None:
        return None if one.null else _refuse(one.name, "is empty")
    if isinstance(one, models.ForeignKey):
        return _row_named(one, found, into)
    if isinstance(one, StoredField):
        return _body(one, found, opened.shapes)
    if isinstance(one, models.BinaryField):
        return _bytes(one, found, opened)
    return _plain(one, found)


def _row_named(one: "models.ForeignKey[Any, Any]", found: object, into: Into) -> int:
    new = into.became(one.related_model, found) if type(found) is int else None
    if new is None:
        _refuse(one.name, f"names a {one.related_model._meta.verbose_name} that was not brought")
    return new


def _body(one: StoredField, found: object, shapes: Mapping[str, int]) -> object:
    try:
        body = one.shape.renewed(found, shapes[one.shape.name])
        READ_BY[one.shape.name](body)
    except UNREADABLE:
        _refuse(one.name, f"is no {one.shape.name}")
    return body


def _bytes(one: "models.Field[Any, Any]", found: object, opened: OpenedArchive) -> bytes:
    if not isinstance(found, str):
        _refuse(one.name, "names no picture")
    data = opened.picture(found)
    if one.name != "source":
        aside(photo_kind, data)
    return data


def _check_artwork(values: dict[str, Any]) -> None:
    """What was brought is read in a process of its own before it is kept."""
    aside(read_source, ArtKind(values["kind"]), values["source"])


def _plain(one: "models.Field[Any, Any]", found: object) -> object:
    wanted = next((types for kind, types in _TYPES.items() if isinstance(one, kind)), None)
    if wanted is None or not isinstance(found, wanted) or (isinstance(found, bool) and wanted is not bool):
        _refuse(one.name, "is of another type")
    try:
        value = one.to_python(str(found) if isinstance(one, models.DecimalField) else found)
        if isinstance(value, float):
            sized(value)
        if isinstance(value, str):
            printable(value)
        if value not in one.empty_values:
            one.run_validators(value)
    except (ValidationError, ValueError, OverflowError):
        _refuse(one.name, "cannot be so")
    if one.choices and value not in ("", *(key for key, _ in one.flatchoices)):
        _refuse(one.name, "is none of its kinds")
    if isinstance(value, datetime) and not 1900 < value.year < 2200:
        _refuse(one.name, "is no time of ours")
    if isinstance(value, datetime) and timezone.is_naive(value):
        _refuse(one.name, "has no time zone")
    return str(value) if isinstance(value, UUID) else value


def _refuse(name: str, why: str) -> NoReturn:
    raise BadValueError(f"{name} {why}.", field="file", hint="Take the archive out anew, and send it as it is.")
