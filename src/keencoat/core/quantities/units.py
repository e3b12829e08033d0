"""Speed and line-density units. Inside we keep mm/s and mm; people see the unit they choose.

Factors are exact: 1 in = 25.4 mm (ISO 80000-3), 1 min = 60 s.
"""

from dataclasses import dataclass
from enum import StrEnum

from keencoat.core.errors import require_known, require_positive

MM_PER_INCH = 25.4
SECONDS_PER_MINUTE = 60.0


class Quantity(StrEnum):
    """The quantities for which people choose a unit."""

    SPEED = "speed"
    INTERVAL = "interval"


@dataclass(frozen=True)
class Unit:
    """A unit that people may choose.

    For a plain unit, shown = base × per_base. For a `reciprocal` one (line densities),
    shown = per_base / base. `decimals` is how finely a person sets it.
    """

    key: str
    quantity: Quantity
    label: str
    per_base: float
    reciprocal: bool = False
    decimals: int = 0


UNITS: dict[str, Unit] = {
    u.key: u
    for u in (
        Unit("mm_s", Quantity.SPEED, "mm/s", 1.0, decimals=1),
        Unit("mm_min", Quantity.SPEED, "mm/min", SECONDS_PER_MINUTE),
        Unit("in_min", Quantity.SPEED, "in/min", SECONDS_PER_MINUTE / MM_PER_INCH, decimals=1),
        Unit("mm", Quantity.INTERVAL, "mm", 1.0, decimals=3),
        Unit("lines_cm", Quantity.INTERVAL, "lines/cm", 10.0, reciprocal=True, decimals=1),
        Unit("lines_mm", Quantity.INTERVAL, "lines/mm", 1.0, reciprocal=True, decimals=2),
        Unit("dpi", Quantity.INTERVAL, "dpi", MM_PER_INCH, reciprocal=True),
    )
}


def from_base(value: float, unit_key: str) -> float:
    """Turn mm/s (or mm) into the unit `unit_key`. Raises UnknownNameError, BadValueError (≤ 0, NaN).

    >>> from_base(0.5, "lines_cm"), from_base(60, "mm_min")
    (20.0, 3600.0)
    """
    require_known(unit_key, UNITS, "unit")
    unit = UNITS[unit_key]
    require_positive(value, unit.quantity.value)
    return unit.per_base / value if unit.reciprocal else value * unit.per_base


def to_base(value: float, unit_key: str) -> float:
    """Turn a value in the unit `unit_key` into mm/s (or mm). Raises as `from_base`."""
    require_known(unit_key, UNITS, "unit")
    unit = UNITS[unit_key]
    require_positive(value, unit.quantity.value)
    return unit.per_base / value if unit.reciprocal else value / unit.per_base


def show(value: float, unit_key: str) -> str:
    """The value in the unit `unit_key`, rounded as a person sets it, with the unit's label.

    >>> show(0.085, "lines_cm")
    '117.6 lines/cm'
    """
    unit = UNITS[require_known(unit_key, UNITS, "unit")]
    return f"{from_base(value, unit_key):.{unit.decimals}f} {unit.label}"
