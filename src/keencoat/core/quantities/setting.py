"""A machine, what it can reach, and a setting on it."""

from dataclasses import dataclass
from enum import StrEnum

from keencoat.core.errors import BadValueError, require_positive, require_within


class BeamSource(StrEnum):
    """The three kinds of beam, by wavelength."""

    BLUE = "blue"
    NEAR_INFRARED = "near_infrared"
    CO2 = "co2"

    @property
    def wavelength_nm(self) -> float:
        """Vacuum wavelength in nm."""
        return {"blue": 450.0, "near_infrared": 1064.0, "co2": 10_600.0}[self.value]

    @property
    def label(self) -> str:
        """What makers call it."""
        return {"blue": "blue diode", "near_infrared": "near infrared", "co2": "CO₂"}[self.value]


class Art(StrEnum):
    """What a setting is for: filled patches decide for filled art, fine strokes for lines."""

    FILLS = "fills"
    STROKES = "strokes"


@dataclass(frozen=True)
class Machine:
    """A laser as its maker knows it: watts at full power, spot (1/e² diameter), reach and agility."""

    source: BeamSource
    rated_w: float
    spot_mm: float
    min_speed_mm_s: float
    max_speed_mm_s: float
    min_power_pct: float
    accel_mm_s2: float
    bed_x_mm: float
    bed_y_mm: float

    def __post_init__(self) -> None:
        require_within(self.rated_w, 0.1, 1000, "rated_w", "W")
        require_within(self.spot_mm, 0.005, 2, "spot_mm", "mm")
        require_positive(self.min_speed_mm_s, "min_speed_mm_s", "mm/s")
        require_within(self.max_speed_mm_s, self.min_speed_mm_s, 20_000, "max_speed_mm_s", "mm/s")
        require_within(self.min_power_pct, 0.1, 99, "min_power_pct", "%")
        require_within(self.accel_mm_s2, 10, 100_000, "accel_mm_s2", "mm/s²")
        require_within(self.bed_x_mm, 10, 10_000, "bed_x_mm", "mm")
        require_within(self.bed_y_mm, 10, 10_000, "bed_y_mm", "mm")

    def has_beam_of(self, other: "Machine") -> bool:
        """Whether both put the same beam on a piece, however far and fast they travel: what a window rests on."""
        return (self.source, self.rated_w, self.spot_mm) == (other.source, other.rated_w, other.spot_mm)


def require_lines(interval_mm: float, passes: int) -> None:
    """Raise BadValueError unless lines may lie so far apart and be burned so often."""
    require_within(interval_mm, 0.005, 5, "interval_mm", "mm")
    require_within(passes, 1, 50, "passes")


@dataclass(frozen=True)
class Setting:
    """What is typed into a machine: power, speed, line interval, passes."""

    power_pct: float
    speed_mm_s: float
    interval_mm: float
    passes: int = 1

    def __post_init__(self) -> None:
        require_within(self.power_pct, 0.01, 100, "power_pct", "%")
        require_within(self.speed_mm_s, 0.01, 20_000, "speed_mm_s", "mm/s")
        require_lines(self.interval_mm, self.passes)


def require_reachable(setting: Setting, machine: Machine) -> Setting:
    """Return `setting` if this machine can run it; raise BadValueError that names the limit."""
    require_within(setting.power_pct, machine.min_power_pct, 100, "power_pct", "%")
    if setting.speed_mm_s > machine.max_speed_mm_s * (1 + 1e-9):
        raise BadValueError(
            f"speed_mm_s is {setting.speed_mm_s:g} mm/s.",
            field="speed_mm_s",
            hint=f"This machine goes up to {machine.max_speed_mm_s:g} mm/s.",
        )
    require_within(setting.speed_mm_s, machine.min_speed_mm_s * (1 - 1e-9), float("inf"), "speed_mm_s", "mm/s")
    return setting


def typed_speed_mm_s(speed_mm_s: float, machine: Machine) -> float:
    """The speed as a person would type it: three figures, inside what the machine does."""
    return min(max(float(f"{speed_mm_s:.3g}"), machine.min_speed_mm_s), machine.max_speed_mm_s)
