"""Eyewear, and the gate before the beam goes on.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.safety.eyewear import Emission, Pulsing, checked_emission, usual_emission
from keencoat.core.safety.gate import DEFERENCE, safety_gate

__all__ = [
    "DEFERENCE",
    "Emission",
    "Pulsing",
    "checked_emission",
    "safety_gate",
    "usual_emission",
]
