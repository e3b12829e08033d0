"""Eyewear, and the gate before the beam goes on.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.safety.eyewear import Emission, Pulsing, checked_emission, usual_emission
from keencoat.core.safety.gate import (
    DEFERENCE,
    GateItem,
    gate_holds,
    require_gone_through,
    run_gate,
    safety_gate,
)
from keencoat.core.safety.pairs import EyewearPair, WaveBand

__all__ = [
    "DEFERENCE",
    "Emission",
    "EyewearPair",
    "GateItem",
    "Pulsing",
    "WaveBand",
    "checked_emission",
    "gate_holds",
    "require_gone_through",
    "run_gate",
    "safety_gate",
    "usual_emission",
]
