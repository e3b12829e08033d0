"""The shop's own eyewear: which pair covers a beam, and why another one does not."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.quantities import Machine
from keencoat.core.safety.eyewear import Emission, Pulsing, least_optical_density

_MOST_BANDS = 8


@dataclass(frozen=True)
class WaveBand:
    """What stands on a pair: wavelengths from and to, nm, the optical density there, and whether its mark is for
    pulses too (EN 207: I, R or M beside D)."""

    from_nm: float
    to_nm: float
    density: float
    for_pulses: bool = False

    def __post_init__(self) -> None:
        require_within(self.from_nm, 180, 20_000, "from_nm", "nm")
        require_within(self.to_nm, 180, 20_000, "to_nm", "nm")
        require_within(self.density, 0.1, 12, "density")
        if self.from_nm >= self.to_nm:
            raise BadValueError(
                f"The band ends at {self.to_nm:g} nm, where it begins at {self.from_nm:g}.",
                field="to_nm",
                hint="Copy the band as it stands on the frame: the smaller figure first.",
            )

    def holds(self, wavelength_nm: float) -> bool:
        """Whether a wavelength lies in it."""
        return self.from_nm <= wavelength_nm <= self.to_nm


@dataclass(frozen=True)
class EyewearPair:
    """A pair (or a visor) of the shop, by what is printed on it."""

    name: str
    bands: tuple[WaveBand, ...]

    def __post_init__(self) -> None:
        if not 1 <= len(self.bands) <= _MOST_BANDS:
            raise BadValueError(
                f"{len(self.bands)} bands are told.", field="bands", hint=f"Give one to {_MOST_BANDS} of them."
            )


@dataclass(frozen=True)
class Cover:
    """Which pair covers a beam: the optical density that it needs (None: nobody can say), the pair with its band there
    (None: none does), and of every other one the reason, in the order of the list."""

    needed: int | None
    pair: EyewearPair | None
    band: WaveBand | None
    why_not: tuple[tuple[str, str], ...]


def cover_of(pairs: Sequence[EyewearPair], machine: Machine, emission: Emission) -> Cover:
    """The pair with the highest density among those that cover a machine's direct beam. Of what nobody knows of the
    beam, no pair can be said to cover it."""
    least = least_optical_density(machine.source, machine.rated_w, emission)
    if least is None:
        return Cover(None, None, None, tuple((p.name, "nobody said whether this beam is pulsed") for p in pairs))
    needed, wavelength = math.ceil(least), machine.source.wavelength_nm
    pulsed = emission.pulsing is Pulsing.PULSED
    reasons = [_why_not(pair, wavelength, needed, pulsed) for pair in pairs]
    fit = [(_there(pair, wavelength, pulsed), pair) for pair, why in zip(pairs, reasons, strict=True) if not why]
    band, pair = max(fit, key=lambda found: found[0].density, default=(None, None))
    told = ((p.name, why) for p, why in zip(pairs, reasons, strict=True) if why)
    return Cover(needed, pair, band, tuple(told))


def _there(pair: EyewearPair, wavelength_nm: float, pulsed: bool) -> WaveBand:
    """Its best band at a wavelength, those that are marked for the beam first."""
    there = [b for b in pair.bands if b.holds(wavelength_nm)]
    return max(there, key=lambda b: (b.for_pulses or not pulsed, b.density))


def _why_not(pair: EyewearPair, wavelength_nm: float, needed: int, pulsed: bool) -> str:
    """Why it does not cover the beam; empty if it does."""
    if not any(b.holds(wavelength_nm) for b in pair.bands):
        bands = ", ".join(f"{b.from_nm:g}–{b.to_nm:g} nm" for b in pair.bands)
        return f"made for {bands}, not for {wavelength_nm:g} nm"
    band = _there(pair, wavelength_nm, pulsed)
    if pulsed and not band.for_pulses:
        return "not marked for pulses"
    if band.density < needed:
        return f"OD {band.density:g} at {wavelength_nm:g} nm, where {needed} is needed"
    return ""
