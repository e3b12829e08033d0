"""What of a workshop goes into its archive: every kind of row, and how it hangs on the workshop."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from django.db.models import Field, ForeignKey, Model, QuerySet

from keencoat.jobs import models as jobs
from keencoat.logbook.models import LogEntry
from keencoat.shop import models as shop
from keencoat.shop.models import Workshop


@dataclass(frozen=True)
class Kind:
    """A kind of row: its name in the archive, and the way from it to its workshop. Whatever a row points to stands in a
    kind before its own, or is left behind."""

    name: str
    model: type[Model]
    path: str

    def rows(self, workshop: Workshop) -> QuerySet[Model]:
        """The workshop's own; what lies on its practice bench is no record."""
        return self.model._default_manager.filter(**{self.path: workshop}).order_by("pk")


KINDS = (
    Kind("machines", shop.Machine, "workshop"),
    Kind("spot-tests", shop.SpotTest, "machine__workshop"),
    Kind("turning-devices", shop.TurningDevice, "machine__workshop"),
    Kind("turn-tests", shop.TurnTest, "device__machine__workshop"),
    Kind("jigs", shop.KeptJig, "workshop"),
    Kind("eyewear", shop.Eyewear, "workshop"),
    Kind("own-coats", shop.OwnCoat, "workshop"),
    Kind("prices", shop.IngredientPrice, "workshop"),
    Kind("room-notes", shop.RoomNote, "workshop"),
    Kind("brought-cards", jobs.BroughtCard, "workshop"),
    Kind("experiments", jobs.Experiment, "workshop"),
    Kind("jobs", jobs.Job, "workshop"),
    Kind("costs", jobs.JobCost, "job__workshop"),
    Kind("slips", jobs.MoneySlip, "workshop"),
    Kind("coat-lots", jobs.CoatLot, "job__workshop"),
    Kind("coat-stamps", jobs.CoatStamp, "job__workshop"),
    Kind("dry-looks", jobs.DryLook, "workshop"),
    Kind("coat-photos", jobs.CoatPhoto, "job__workshop"),
    Kind("hold-up-tests", jobs.HoldUpTest, "job__workshop"),
    Kind("grids", jobs.TestGrid, "job__workshop"),
    Kind("cells", jobs.Cell, "grid__job__workshop"),
    Kind("rating-events", jobs.RatingEvent, "grid__job__workshop"),
    Kind("grid-photos", jobs.GridPhoto, "grid__job__workshop"),
    Kind("locked-settings", jobs.LockedSetting, "job__workshop"),
    Kind("runs", jobs.RunRecord, "job__workshop"),
    Kind("artworks", jobs.Artwork, "job__workshop"),
    Kind("artwork-versions", jobs.ArtworkVersion, "job__workshop"),
    Kind("artwork-photos", jobs.ArtworkPhoto, "made__job__workshop"),
    Kind("placings", jobs.Placing, "job__workshop"),
    Kind("batches", jobs.Batch, "job__workshop"),
    Kind("batch-pieces", jobs.BatchPiece, "batch__job__workshop"),
    Kind("piece-photos", jobs.PiecePhoto, "piece__batch__job__workshop"),
    Kind("later-looks", jobs.LaterLook, "piece__batch__job__workshop"),
    Kind("days", LogEntry, "workshop"),
)

LEFT_BEHIND: dict[type[Model], str] = {
    shop.Workshop: "stands in workshop.json",
    shop.Membership: "people and their passwords are the server's",
    shop.Deed: "guards against sending twice, for a week",
    jobs.GridBurn: "a way through a simulated laser",
    jobs.ArtworkBurn: "a way through a simulated laser",
    jobs.ArtworkPack: "made anew from the artwork",
    jobs.Practice: "practice is no record",
    jobs.BroughtArchive: "stands in the workshop that it came from",
    jobs.BroughtPart: "stands in the workshop that it came from",
    jobs.BroughtRow: "says which rows came from there",
    jobs.LoggedBurn: "a view of the others; burns.csv has it",
}
"""What is not in it, and why."""


_COUNTED = frozenset({"changes", "workshop"})
"""Fields that belong to the server, not to what happened."""


def fields_of(kind: Kind) -> "Iterator[Field[Any, Any]]":
    """What of a row goes into the archive."""
    for field in kind.model._meta.concrete_fields:
        behind = isinstance(field, ForeignKey) and field.related_model in LEFT_BEHIND
        if not field.primary_key and field.name not in _COUNTED and not behind:
            yield field
