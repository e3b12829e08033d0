"""What a workshop owns: its people, its machines, its scatter, its own coats and prices, the air in its room."""

from uuid import uuid4

from django.conf import settings
from django.core.validators import MinValueValidator
from django.db import models

from keencoat.core import placing as core_placing
from keencoat.core import quantities as core
from keencoat.core.coat import WANTED_DENSITY, Air, Coat, coat_from_facts
from keencoat.core.jig import Jig, JigSpec, Seating, lay_jig, seat
from keencoat.core.piece import FlatPiece, Shape
from keencoat.core.placing import StandsInFor, TickPair, TurnCalibration, TurningKind, calibrate
from keencoat.core.safety import Emission, EyewearPair, Pulsing, WaveBand, checked_emission
from keencoat.core.window import WANTED_SHARE, Scatter
from keencoat.shop.stored_field import StoredField

_USUAL = Scatter()


class Workshop(models.Model):
    """A workshop; every job, machine and log entry belongs to one, and is seen by its members only."""

    name = models.CharField(max_length=80)
    # What it is known by elsewhere, for good.
    uid = models.UUIDField(default=uuid4, editable=False)
    coat_cv = models.FloatField(default=_USUAL.coat_cv)
    power_cv = models.FloatField(default=_USUAL.power_cv)
    focus_cv = models.FloatField(default=_USUAL.focus_cv)
    wanted_share = models.FloatField(default=WANTED_SHARE)
    wanted_density = models.FloatField(default=WANTED_DENSITY.value)
    currency = models.CharField(max_length=3, default="€")
    rates = StoredField("cost-rates", default=dict)
    # At the head of quotes and receipts; its name where it says nothing.
    letterhead = models.TextField(max_length=500, default="", blank=True)
    simulated_sensor = models.BooleanField(default=False)
    # The practice bench of a workshop is a workshop of its own: its records never mix with real ones.
    practice_of = models.OneToOneField("self", null=True, on_delete=models.CASCADE, related_name="practice_bench")
    # Cells rated before this moment no longer tune the proposals of readings.
    proposals_since = models.DateTimeField(null=True)
    # Counts changes of scatter and wanted share.
    version = models.PositiveIntegerField(default=1)
    # Counts changes of it and of what it owns besides jobs; the database does the sum.
    changes = models.BigIntegerField(default=0, editable=False)

    def __str__(self) -> str:
        return self.name

    def scatter(self) -> Scatter:
        """How much this shop varies from piece to piece."""
        return Scatter(self.coat_cv, self.power_cv, self.focus_cv)


class Membership(models.Model):
    """Somebody's place in a workshop, with the units they like to read; an owner may delete."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="membership")
    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="members")
    owner = models.BooleanField(default=False)
    speed_unit = models.CharField(max_length=12, default="mm_s")
    interval_unit = models.CharField(max_length=12, default="mm")
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return f"{self.user} in {self.workshop}"


class Deed(models.Model):
    """A write that was asked for under a key, and its answer: asked again, it is not done again. `asked` is a mark of
    the request; the answer is JSON, compressed (zlib)."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="deeds")
    key = models.CharField(max_length=64)
    asked = models.CharField(max_length=64)
    status = models.PositiveSmallIntegerField(default=0)
    answer = models.BinaryField(default=b"")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("workshop", "key"), name="deed_once"),)

    def __str__(self) -> str:
        return f"{self.key}: {self.status}"


class Machine(models.Model):
    """A laser of the workshop. `version` counts its changes, so that two tabs cannot overwrite each other."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="machines")
    name = models.CharField(max_length=60)
    source = models.CharField(max_length=20, choices=[(s.value, s.label) for s in core.BeamSource])
    rated_w = models.FloatField()
    spot_mm = models.FloatField()
    min_speed_mm_s = models.FloatField()
    max_speed_mm_s = models.FloatField()
    min_power_pct = models.FloatField()
    accel_mm_s2 = models.FloatField()
    bed_x_mm = models.FloatField()
    bed_y_mm = models.FloatField()
    # How the beam comes out matters to eyes, not to marks: no part of what a grid keeps of its machine.
    pulsing = models.CharField(max_length=10, default=Pulsing.UNKNOWN, choices=[(p.value, p.value) for p in Pulsing])
    pulse_mj = models.FloatField(null=True)
    pulse_rate_khz = models.FloatField(null=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("name",)
        constraints = (models.UniqueConstraint(fields=("workshop", "name"), name="machine_name_once"),)

    def __str__(self) -> str:
        return self.name

    def facts(self) -> dict[str, str | float]:
        """Its figures, as kept with every grid that it burns."""
        return {name: getattr(self, name) for name in core.Machine.__dataclass_fields__}

    def emission(self) -> Emission:
        """How its beam comes out; raises BadValueError if pulses are told by halves, or make more than its power."""
        return checked_emission(Emission(Pulsing(self.pulsing), self.pulse_mj, self.pulse_rate_khz), self.rated_w)

    def to_core(self) -> core.Machine:
        """The machine as core knows it; raises BadValueError if a figure cannot be."""
        return machine_of(self.facts())


class SpotKind(models.TextChoices):
    """What was stepped."""

    LINES = "lines", "lines at rising power"
    LADDER = "ladder", "lines at several heights"
    STRIPES = "stripes", "stripes at several speeds, both ways"


class SpotTest(models.Model):
    """Lines that were burned and measured on a machine, to know its spot, its focus, or whether lines to and fro meet;
    kept with what they said."""

    machine = models.ForeignKey(Machine, on_delete=models.CASCADE, related_name="spot_tests")
    kind = models.CharField(max_length=8, choices=SpotKind)
    at = models.DateTimeField()
    speed_mm_s = models.FloatField(null=True)
    process = models.CharField(max_length=40, blank=True)
    coat = models.CharField(max_length=40, blank=True)
    points = StoredField("spot-points")
    result = StoredField("spot-result")

    class Meta:
        ordering = ("-at", "-id")

    def __str__(self) -> str:
        return f"{self.get_kind_display()} on {self.machine}"


class TurningDevice(models.Model):
    """What turns round pieces on a machine. `version` counts its changes."""

    machine = models.ForeignKey(Machine, on_delete=models.CASCADE, related_name="turning_devices")
    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=8, choices=[(k.value, k.value) for k in TurningKind])
    mm_per_turn = models.FloatField()
    roller_mm = models.FloatField(default=0)
    stands_in_for = models.CharField(max_length=1, choices=[(a.value, a.value) for a in StandsInFor])
    backwards = models.BooleanField(default=False)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.name} on {self.machine}"

    def to_core(self) -> core_placing.TurningDevice:
        """The device as core knows it; raises BadValueError if a figure cannot be."""
        return core_placing.TurningDevice(
            TurningKind(self.kind), self.mm_per_turn, StandsInFor(self.stands_in_for), self.roller_mm, self.backwards
        )

    def calibration(self) -> TurnCalibration | None:
        """What its measured ticks say it travels for a turn, against what it has now; None while none are measured."""
        pairs = [TickPair(t.asked_turns, t.measured_mm, t.round_mm, t.mm_per_turn) for t in self.tests.all()]
        return calibrate(self.to_core(), pairs) if pairs else None


class TurnTest(models.Model):
    """Two ticks burned so many turns apart on a wall so long round, and what lies between them along it; with the
    device's figure as it was."""

    device = models.ForeignKey(TurningDevice, on_delete=models.CASCADE, related_name="tests")
    at = models.DateTimeField()
    asked_turns = models.FloatField()
    measured_mm = models.FloatField()
    round_mm = models.FloatField()
    mm_per_turn = models.FloatField()

    class Meta:
        ordering = ("-at", "-id")

    def __str__(self) -> str:
        return f"{self.asked_turns} turns of {self.device}"


class KeptJig(models.Model):
    """A jig that stands in the shop: the size of piece that it was cut for, what was asked of it, and where its crosses
    were touched when it was last laid on a machine's bed (none: it lies on no bed). `version` counts changes."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="jigs")
    name = models.CharField(max_length=60)
    shape = models.CharField(max_length=12, choices=[(s.value, s.value) for s in Shape])
    width_mm = models.FloatField()
    height_mm = models.FloatField()
    spec = StoredField("jig-spec")
    machine = models.ForeignKey(Machine, null=True, on_delete=models.SET_NULL, related_name="+")
    touched = StoredField("jig-crosses", default=list)
    seated_at = models.DateTimeField(null=True)
    times_laid = models.PositiveIntegerField(default=0)
    put_away = models.BooleanField(default=False)
    added_at = models.DateTimeField()
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("width_mm", "height_mm", "id")

    def __str__(self) -> str:
        return self.name

    def piece(self) -> FlatPiece:
        """The piece that it was cut for; of no thickness that matters."""
        return FlatPiece(Shape(self.shape), self.width_mm, self.height_mm, 1.0, 0.0)

    def asked(self) -> JigSpec:
        """What was asked of it."""
        return JigSpec(**(self.spec | {"sheet_mm": tuple(self.spec["sheet_mm"])}))

    def laid(self) -> Jig:
        """Its pockets."""
        return lay_jig(self.piece(), self.asked())

    def seating(self, jig: Jig) -> Seating | None:
        """How it lies on its machine's bed; None while it lies on none."""
        return seat(jig.crosses_mm, [(x, y) for x, y in self.touched]) if self.touched else None


class Eyewear(models.Model):
    """A pair of the shop's eyewear by what is printed on it. `version` counts changes."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="eyewear")
    name = models.CharField(max_length=60)
    bands = StoredField("eyewear-bands")
    put_away = models.BooleanField(default=False)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("name", "id")

    def __str__(self) -> str:
        return self.name

    def to_core(self) -> EyewearPair:
        """The pair as core knows it; raises BadValueError if a figure cannot be."""
        return EyewearPair(self.name, tuple(WaveBand(**band) for band in self.bands))


class OwnCoat(models.Model):
    """A coat that the workshop invented. Never changed: another recipe is another coat; an old one can be put away."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="own_coats")
    name = models.CharField(max_length=60)
    facts = StoredField("coat-facts")
    put_away = models.BooleanField(default=False)
    added_at = models.DateTimeField()

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=("workshop", "name"), name="own_coat_name_once"),)

    def __str__(self) -> str:
        return self.name

    def to_core(self) -> Coat:
        """The coat as core knows it."""
        return coat_from_facts(self.facts, key=f"own-{self.pk}")


class IngredientPrice(models.Model):
    """What a pack of an ingredient costs this workshop."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="prices")
    ingredient = models.CharField(max_length=60)
    pack_ml = models.FloatField()
    amount = models.DecimalField(max_digits=9, decimal_places=2, validators=(MinValueValidator(0),))
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("workshop", "ingredient"), name="price_once"),)

    def __str__(self) -> str:
        return f"{self.ingredient}: {self.amount:g} for {self.pack_ml:g} ml"


class RoomNote(models.Model):
    """A room reading that somebody typed in."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="room_notes")
    at = models.DateTimeField()
    temperature_c = models.FloatField()
    humidity_pct = models.FloatField()

    class Meta:
        ordering = ("at",)

    def __str__(self) -> str:
        return f"{self.temperature_c:g} °C, {self.humidity_pct:g} %"

    def air(self) -> Air:
        """The air as core knows it."""
        return Air(self.temperature_c, self.humidity_pct)


def machine_of(facts: dict[str, str | float]) -> core.Machine:
    """A core machine from kept figures."""
    return core.Machine(**(facts | {"source": core.BeamSource(facts["source"])}))  # type: ignore[arg-type]
