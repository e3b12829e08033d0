"""A coat measured in a photo: film map, faults, streaks, and what to do about them.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.coat.evenness.advice import advise_coat
from keencoat.core.coat.evenness.faults import FaultKind
from keencoat.core.coat.evenness.film import GROUND_REFLECTS, REFLECTS, LightWay, Optics, Reference
from keencoat.core.coat.evenness.measure import CoatReading
from keencoat.core.coat.evenness.shot import CoatShot, measure_coat_shot

__all__ = [
    "GROUND_REFLECTS",
    "REFLECTS",
    "CoatReading",
    "CoatShot",
    "FaultKind",
    "LightWay",
    "Optics",
    "Reference",
    "advise_coat",
    "measure_coat_shot",
]
