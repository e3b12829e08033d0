"""What the plant can coat and burn: materials for all seven processes, and hidden ones drawn at random.

Figures are invented, of a plausible size; the heating of a spot is told in units of what just marks (`mark_power_w`),
because linear heat flow gives peak temperatures that no coat ever reaches.
"""

from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

Colour = tuple[float, float, float]


class Way(StrEnum):
    """How the mark is made: heat passed to the substrate, or coat taken off it."""

    HEAT = "heat"
    REMOVAL = "removal"


class Harm(StrEnum):
    """What too much does."""

    CHIPS = "chips"
    SPREAD = "spread"
    BASE = "base"
    PINHOLES = "pinholes"
    HAZE = "haze"
    RESIDUE = "residue"
    UNDERCUT = "undercut"


@dataclass(frozen=True)
class Look:
    """Linear reflectances: beside the mark once washed, of a full mark, of harm, and of the desk under it."""

    ground: Colour
    mark: Colour
    harm: Colour
    desk: Colour
    see_through: bool = False


@dataclass(frozen=True)
class Material:
    """A coated piece under a beam.

    mark_power_w: what just marks (of a coat that is taken off: what just begins to lift it) under a spot of 0.1 mm at
    100 mm/s, coat as nominal. remove_j_mm2: energy that takes the nominal coat off at 1 ms dwell. harm_ratio: what
    damages the piece, as a multiple of what clears or marks there; elsewhere damage goes its own way. pop_w_mm2:
    irradiance at which the layer bursts off. block, starves: films, against the nominal one, of which the thick one
    lets half of the heat through and the thin one hands on half.
    conductivity in W/(m·K), alpha in mm²/s, deep_mm: where damage begins under the face. bulk_limit_k: rise of the
    patch that halves the distance to harm.
    """

    key: str
    process: str
    way: Way
    harm: Harm
    look: Look
    film_um: float
    film_cv: float
    absorbs_per_um: float
    conductivity: float
    alpha: float
    bulk_limit_k: float
    mark_power_w: float = 4.0
    harm_ratio: float = 3.0
    remove_j_mm2: float = 1.0
    pop_w_mm2: float = 14_000.0
    block: float = 1.6
    starves: float = 0.42
    deep_mm: float = 0.012
    crowding: float = 0.3
    coat_alpha: float = 0.12
    spot_mm: float = 0.09
    kept_share: float = 0.12
    watts_factor: float = 1.0
    power_curve: float = 1.0
    power_cv: float = 0.03
    focus_mm_sd: float = 0.3
    incubation: float = 0.86
    harm_incubation: float = 0.80


_GLASS_DESK: Colour = (0.020, 0.020, 0.022)
_FROST = Look((0.028, 0.029, 0.030), (0.52, 0.53, 0.53), (0.80, 0.81, 0.82), _GLASS_DESK, True)
_ACRYLIC = Look((0.032, 0.032, 0.034), (0.60, 0.60, 0.59), (0.030, 0.030, 0.032), _GLASS_DESK, True)

MATERIALS: dict[str, Material] = {
    m.key: m
    for m in (
        Material("frost", "frost", Way.HEAT, Harm.CHIPS, _FROST, 36, 0.09, 0.110, 1.0, 0.5, 90,
                 mark_power_w=7.6, harm_ratio=3.2),
        Material("fuse", "fuse", Way.HEAT, Harm.SPREAD,
                 Look((0.72, 0.71, 0.69), (0.045, 0.044, 0.046), (0.020, 0.019, 0.019), (0.10, 0.10, 0.11)),
                 42, 0.10, 0.045, 1.3, 0.67, 140, mark_power_w=5.2, harm_ratio=3.4),
        Material("reveal", "reveal", Way.REMOVAL, Harm.BASE,
                 Look((0.030, 0.030, 0.034), (0.56, 0.30, 0.07), (0.70, 0.68, 0.64), (0.45, 0.44, 0.42)),
                 14, 0.10, 0.160, 0.3, 0.15, 120, mark_power_w=0.6, remove_j_mm2=0.22, harm_ratio=2.2, block=2.2),
        Material("back_engrave", "back_engrave", Way.HEAT, Harm.PINHOLES, _ACRYLIC, 24, 0.09, 0.105, 0.18, 0.10, 55,
                 mark_power_w=3.4, harm_ratio=3.0, pop_w_mm2=7000.0),
        Material("protect", "protect", Way.HEAT, Harm.HAZE, replace(_ACRYLIC, harm=(0.40, 0.40, 0.39)),
                 8, 0.15, 0.300, 0.18, 0.10, 70, mark_power_w=2.6, harm_ratio=3.2),
        Material("ablate", "ablate", Way.REMOVAL, Harm.RESIDUE,
                 Look((0.020, 0.085, 0.045), (0.46, 0.46, 0.47), (0.10, 0.06, 0.03), (0.50, 0.49, 0.47)),
                 60, 0.06, 0.060, 50.0, 14.0, 220, mark_power_w=1.6, remove_j_mm2=1.5, harm_ratio=2.2, block=2.4),
        Material("resist", "resist", Way.REMOVAL, Harm.UNDERCUT,
                 Look((0.035, 0.035, 0.038), (0.50, 0.38, 0.11), (0.28, 0.20, 0.06), (0.48, 0.47, 0.45)),
                 30, 0.08, 0.090, 120.0, 37.0, 240, mark_power_w=1.2, remove_j_mm2=0.9, harm_ratio=2.3, block=2.2),
    )
}  # fmt: skip


@dataclass(frozen=True)
class Piece:
    """How one piece differs from its kind: factors of film and power, and how far it lies out of focus, mm."""

    film: float = 1.0
    power: float = 1.0
    focus_mm: float = 0.0


def draw_piece(material: Material, rng: np.random.Generator) -> Piece:
    """A piece as it comes: its coat, the beam's power that day and its height scatter about what they should be."""
    return Piece(
        float(np.exp(rng.normal(0, material.film_cv))),
        float(np.exp(rng.normal(0, material.power_cv))),
        float(rng.normal(0, material.focus_mm_sd)),
    )


def hidden_material(process: str, seed: int) -> Material:
    """A material of a process whose figures nobody knows: drawn round the known one, with a machine whose real watts
    are up to 20 % off its rating and whose power is not quite linear in per cent."""
    rng = np.random.default_rng([seed, 4711])
    base = MATERIALS[process]

    def about(value: float, spread: float) -> float:
        return float(value * np.exp(rng.normal(0, spread)))

    return replace(
        base,
        key=f"hidden-{process}-{seed}",
        film_cv=float(rng.uniform(0.04, 0.16)),
        absorbs_per_um=about(base.absorbs_per_um, 0.15),
        mark_power_w=about(base.mark_power_w, 0.3),
        remove_j_mm2=about(base.remove_j_mm2, 0.3),
        harm_ratio=float(1 + (base.harm_ratio - 1) * np.exp(rng.normal(0, 0.3))),
        pop_w_mm2=about(base.pop_w_mm2, 0.35),
        block=about(base.block, 0.15),
        deep_mm=about(base.deep_mm, 0.5),
        crowding=float(rng.uniform(0.1, 0.5)),
        watts_factor=float(rng.uniform(0.8, 1.2)),
        power_curve=float(rng.uniform(0.92, 1.12)),
        power_cv=float(rng.uniform(0.02, 0.05)),
    )
