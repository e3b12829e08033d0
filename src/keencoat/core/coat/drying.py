"""How long a coat dries: makers' times, scaled by the room's air, the film and the heat, corrected by own records.

Water leaves at a rate that goes with the wet-bulb depression T − T_wb (the psychrometric driving force; ASHRAE 2017);
alcohol and solvents go with their vapour pressure, whatever the humidity. Times of the catalogue hold at 20 °C, 50 %.
A model of evaporation only: ±50 % in a shop. The maker's own records correct it.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum
from functools import lru_cache

import numpy as np
from scipy.special import log_ndtr

from keencoat.core.coat.recipes import Carrier, Coat, Span
from keencoat.core.coat.room import SEA_LEVEL_PA, Air, saturated_kpa
from keencoat.core.errors import require_positive, require_within

REFERENCE_AIR = Air(20.0, 50.0)
"""What the catalogue's times hold for."""


class Heat(StrEnum):
    """What helps a coat to dry."""

    NONE = "none"
    WARM_PLATE = "warm_plate"
    HAIRDRYER = "hairdryer"

    @property
    def label(self) -> str:
        """What makers call it."""
        return {"none": "room air", "warm_plate": "warm plate, about 35 °C", "hairdryer": "hairdryer, moving"}[
            self.value
        ]


_PLATE_C, _HAIRDRYER_C, _HAIRDRYER_FLOW = 35.0, 50.0, 1.5
# Psychrometer constant at sea level, kPa/K: turns a vapour pressure difference into a wet-bulb depression (ASHRAE).
_PSYCHROMETER_KPA_K = 6.65e-7 * SEA_LEVEL_PA
_LEAST_DEPRESSION_K = 0.3
_FILM_EXPONENT = {Carrier.WATER: 1.0, Carrier.ALCOHOL: 1.0, Carrier.SOLVENT: 1.5, Carrier.NONE: 0.0}

# Antoine, log10(p/mmHg) = A − B/(C + T/°C): 2-propanol, and toluene for what evaporates slowly from a can (Perry).
_ANTOINE = {Carrier.ALCOHOL: (8.11778, 1580.92, 219.61), Carrier.SOLVENT: (6.95464, 1344.80, 219.482)}

RECORD_SD_LN, PRIOR_SD_LN = 0.25, 0.40
"""How far one drying differs from the next, and a shop from the model (ln): own estimates."""


def solvent_vapour_kpa(carrier: Carrier, temperature_c: float) -> float:
    """Vapour pressure of what leaves an alcohol or solvent coat, kPa."""
    a, b, c = _ANTOINE[carrier]
    return float(10 ** (a - b / (c + temperature_c)) * 0.133322)


def water_drive_k(air: Air, heat: Heat) -> float:
    """Driving force of a drying water film as a wet-bulb depression, K."""
    if heat is Heat.WARM_PLATE and air.temperature_c < _PLATE_C:
        # Half-way between plate and wet bulb: the plate feeds the heat, evaporation takes it.
        surface_c = (_PLATE_C + air.wet_bulb_c) / 2
        return (saturated_kpa(surface_c) - air.vapour_kpa) / _PSYCHROMETER_KPA_K
    if heat is Heat.HAIRDRYER:
        warm = air.warmed_to(_HAIRDRYER_C)
        return _HAIRDRYER_FLOW * (warm.temperature_c - warm.wet_bulb_c)
    return air.temperature_c - air.wet_bulb_c


@lru_cache(maxsize=4096)
def drying_factor(carrier: Carrier, air: Air, heat: Heat = Heat.NONE, reference: Air = REFERENCE_AIR) -> float:
    """How many times as long a coat dries in this air as in the reference air; 1 for a layer that carries nothing."""
    if carrier is Carrier.NONE:
        return 1.0
    if carrier is Carrier.WATER:
        return water_drive_k(reference, Heat.NONE) / max(_LEAST_DEPRESSION_K, water_drive_k(air, heat))
    warmed = {Heat.NONE: air.temperature_c, Heat.WARM_PLATE: _PLATE_C, Heat.HAIRDRYER: _HAIRDRYER_C}[heat]
    flow = _HAIRDRYER_FLOW if heat is Heat.HAIRDRYER else 1.0
    now = flow * solvent_vapour_kpa(carrier, max(warmed, air.temperature_c))
    return solvent_vapour_kpa(carrier, reference.temperature_c) / now


def film_factor(carrier: Carrier, film_um: float, usual_um: float) -> float:
    """How many times as long a thicker film takes: in proportion for water and alcohol, steeper for solvent."""
    share = require_positive(film_um, "film_um", "µm") / require_positive(usual_um, "usual_um", "µm")
    return float(share ** _FILM_EXPONENT[carrier])


_LEAST_SEEN_MIN, _MOST_SEEN_MIN = 0.1, 20_000.0
"""After two weeks anything is dry: a look so late tells nothing of how long it took."""


def tells_time(observed_min: float) -> bool:
    """Whether a look so long after the coat went on says anything of its drying time."""
    return _LEAST_SEEN_MIN <= observed_min <= _MOST_SEEN_MIN


@dataclass(frozen=True)
class DryRecord:
    """What a maker saw: `observed_min` after the coat went on it was dry, or still wet; we had said `model_min`. Only a
    look that `tells_time` makes one."""

    observed_min: float
    model_min: float
    dry: bool

    def __post_init__(self) -> None:
        require_within(self.observed_min, _LEAST_SEEN_MIN, _MOST_SEEN_MIN, "observed_min", "min")
        require_within(self.model_min, 0.01, 100_000, "model_min", "min")


@dataclass(frozen=True)
class Correction:
    """How a shop differs from the model: times are `factor` as long, between `low` and `high` nine times in ten."""

    factor: float
    low: float
    high: float
    records: int


_LN_GRID = np.linspace(-2.5, 2.5, 2001)


def correct(records: Sequence[DryRecord]) -> Correction:
    """The shop's correction for one coat: posterior of a log-normal factor.

    “Dry” is a measurement, “still wet” a lower bound (censored). Without records: factor 1, wide.
    """
    log_weight = -0.5 * (_LN_GRID / PRIOR_SD_LN) ** 2
    for record in records:
        off = (_LN_GRID - math.log(record.observed_min / record.model_min)) / RECORD_SD_LN
        log_weight = log_weight + (-0.5 * off**2 if record.dry else log_ndtr(off))
    weight = np.exp(log_weight - log_weight.max())
    weight /= weight.sum()
    mean = float(weight @ _LN_GRID)
    next_sd = math.sqrt(float(weight @ (_LN_GRID - mean) ** 2) + RECORD_SD_LN**2)
    return Correction(math.exp(mean), math.exp(mean - 1.645 * next_sd), math.exp(mean + 1.645 * next_sd), len(records))


@dataclass(frozen=True)
class AirSpell:
    """The air from `since` on, until the next spell begins."""

    since: datetime
    air: Air


def span_for(
    coat: Coat, last: bool, film_um: float, correction: Correction, last_wait_min: float | None = None
) -> Span:
    """Minutes in the reference air until the next coat, or the burn after the `last` one: low, plan, high.

    Without own records the makers' range stands; with them, their own. `last_wait_min` is the wait that a maker chose
    before the burn, instead of the usual one.
    """
    span = coat.before_burn_min.value if last else coat.between_min.value
    if last and last_wait_min is not None:
        span = Span(min(span.low, last_wait_min), last_wait_min, max(span.high, last_wait_min))
    film = film_factor(coat.carrier, film_um, coat.dry_um_per_coat.value)
    plan = span.plan * film * correction.factor
    if correction.records == 0:
        return Span(span.low * film, plan, span.high * film)
    return Span(span.plan * film * correction.low, plan, span.plan * film * correction.high)


def dry_at(
    put_on_at: datetime, reference_min: float, carrier: Carrier, heat: Heat, spells: Sequence[AirSpell]
) -> datetime:
    """When a coat that takes `reference_min` in the reference air is dry, through changing air.

    Drying adds up: a spell of damp air counts for less. The last spell is taken to last. Before the first spell, and
    without any, the air is the reference's.
    """
    left_min = reference_min
    at = put_on_at
    bounds = sorted(spells, key=lambda s: s.since)
    current: Air = REFERENCE_AIR
    upcoming = []
    for spell in bounds:
        if spell.since <= put_on_at:
            current = spell.air
        else:
            upcoming.append(spell)
    for spell in upcoming:
        factor = drying_factor(carrier, current, heat)
        passed_min = (spell.since - at).total_seconds() / 60
        if left_min <= passed_min / factor:
            break
        left_min -= passed_min / factor
        at, current = spell.since, spell.air
    return at + timedelta(minutes=left_min * drying_factor(carrier, current, heat))
