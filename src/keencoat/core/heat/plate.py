"""How warm a plate gets from a filled patch and from a whole grid.

The patch: a square source on one face of an endless plate with insulated faces, by Green's functions (Carslaw &
Jaeger 1959, §10.3 and §14.3): T = q/(ρc) ∫ erf²(s / 4√(ατ)) · (1/√(πατ)) · (1 + 2Σ exp(−n²d²/ατ)) dτ.
Its limits: constant flux on a half-space, 2q√(αt/π)/k, for a large patch on a thick plate; q·t/(ρ·c·d) for a large
patch on a thin one. Nothing leaves the patch while it burns; over a whole burn the piece loses at least what its coated
face radiates.
"""

import math

import numpy as np
from scipy.special import erf

from keencoat.core.errors import require_positive
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.heat.properties import ROOM_C, Thermal

RIM_SHARE = 0.5
"""A hot patch in a cold plate is pressed together; at its rim the pull is half of what holding the whole patch fast
would give (Timoshenko & Goodier, hot spot in a plate, from memory)."""

RADIATED_W_M2_K = 5.1
"""What a dark face loses for each kelvin above a room of 20 °C by radiation alone: 4εσT³, ε 0.9 (Stefan and
Boltzmann, as in Incropera). Air takes more; so does whatever it lies on."""

_STEPS = 400
_IMAGES = 24


def patch_rise_k(flux_w_mm2: float, side_mm: float, seconds: float, thickness_mm: float, thermal: Thermal) -> float:
    """Rise at the middle of a square patch after a steady heat flux into it for so long, K."""
    require_positive(seconds, "seconds", "s")
    require_positive(thickness_mm, "thickness_mm", "mm")
    alpha = thermal.diffusivity_mm2_s
    # τ = u² takes the root singularity at zero away.
    edge = np.linspace(0, math.sqrt(seconds), _STEPS + 1)
    u = (edge[:-1] + edge[1:]) / 2
    tau = u**2
    spread = erf(side_mm / (4 * np.sqrt(alpha * tau))) ** 2
    n = np.arange(1, _IMAGES + 1)[:, None]
    images = 1 + 2 * np.exp(-(n**2) * thickness_mm**2 / (alpha * tau)).sum(axis=0)
    # More images than are summed only matter where the plate is warm all through.
    through = np.sqrt(math.pi * alpha * tau) / thickness_mm
    images = np.maximum(images, np.where(through > _IMAGES / 3, through, 0))
    integrand = spread * images * 2 / math.sqrt(math.pi * alpha)
    return float(flux_w_mm2 / thermal.volume_heat_j_mm3_k * integrand.sum() * (edge[1] - edge[0]))


def mean_rise_k(energy_j: float, area_mm2: float, thickness_mm: float, thermal: Thermal, seconds: float = 0.0) -> float:
    """Rise of the whole piece at the end of `seconds` in which `energy_j` came evenly, K: Q/(m·c)·(1 − e⁻ˣ)/x, x = t/τ,
    τ = ρ·c·d/h for what one face radiates. Without time none leaves it: Q/(m·c)."""
    require_positive(area_mm2, "area_mm2", "mm²")
    require_positive(thickness_mm, "thickness_mm", "mm")
    lost = seconds * RADIATED_W_M2_K * 1e-6 / (thermal.volume_heat_j_mm3_k * thickness_mm)
    left = -math.expm1(-lost) / lost if lost > 0 else 1.0
    return energy_j * left / (thermal.volume_heat_j_mm3_k * area_mm2 * thickness_mm)


def heat_findings(patch_k: float, plate_k: float, thermal: Thermal, what: str = "cells") -> tuple[Finding, ...]:
    """What to mind: glass and glaze against thermal shock, acrylic against softening. Rises are upper ends: as if all
    that is absorbed stayed in the piece. `what` is burned: cells, fills."""
    found = []
    if thermal.shock_k is not None and RIM_SHARE * patch_k > thermal.shock_k:
        found.append(
            Finding(
                FindingCode.PATCH_SHOCK,
                Severity.WARN,
                f"The hottest patch may stand up to {patch_k:.0f} K above its surroundings, if all heat stays in it; "
                f"this material may crack from about {thermal.shock_k / RIM_SHARE:.0f} K (±50 %).",
                fix=f"Smaller {what} or a faster row, glass at room warmth, eyewear on: a crack throws splinters.",
                figures={"patch_k": patch_k, "shock_k": thermal.shock_k},
                source="kingery1955",
            )
        )
    if thermal.soft_c is not None and ROOM_C + max(patch_k, plate_k) > thermal.soft_c:
        found.append(
            Finding(
                FindingCode.PATCH_SOFT,
                Severity.WARN,
                f"The sheet may reach {ROOM_C + max(patch_k, plate_k):.0f} °C at the hottest patch; acrylic softens "
                f"from about {thermal.soft_c:.0f} °C.",
                fix=f"Smaller {what}, a waiting time between them, or less power in two passes.",
                figures={"patch_k": patch_k, "soft_c": thermal.soft_c},
                source="own-estimate",
            )
        )
    if plate_k > 25:
        found.append(
            Finding(
                FindingCode.PLATE_WARM,
                Severity.WARN,
                f"The whole piece may warm by up to {plate_k:.0f} K: later {what} start warmer than the first.",
                fix=f"Set a waiting time between {what}, or lay it on a metal plate.",
                figures={"plate_k": plate_k},
                source="own-estimate",
            )
        )
    return tuple(found)
