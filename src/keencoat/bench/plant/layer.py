"""What the layer does to the beam and to the heat, by its thickness in µm; arrays of any shape, 1 for the nominal film.

A thin layer lets the beam through (Beer–Lambert) and is gone before it has handed its heat on; a thick one keeps the
heat in itself and in its soot, however slowly the beam goes, and holds it back while the dwell is short (diffusion
length √(4αt)). Where the spot is too bright the layer bursts off. The forms are invented; what they do is what makers
report.
"""

import math

import numpy as np
from numpy.typing import NDArray

from keencoat.bench.plant.materials import Material

Array = NDArray[np.float64]
_NO_FILM_UM = 0.05


def absorbed(material: Material, film_um: Array) -> Array:
    """Share of the beam that stays in the film."""
    nominal = -math.expm1(-material.absorbs_per_um * material.film_um)
    return np.asarray(-np.expm1(-material.absorbs_per_um * film_um) / nominal)


def lasting(material: Material, film_um: Array) -> Array:
    """How much of its heat a film hands on before it is gone; half of it at `starves` of the nominal film."""
    thin = (material.starves * material.film_um / np.maximum(film_um, _NO_FILM_UM)) ** 4
    return np.asarray((1 + material.starves**4) / (1 + thin))


def unblocked(material: Material, film_um: Array) -> Array:
    """Share of the heat that a film lets through, at any speed; half of it at `block` times the nominal film."""
    thick = film_um / (material.block * material.film_um)
    return np.asarray((1 + material.block**-3) / (1 + thick**3))


def in_time(material: Material, film_um: Array, waist_mm: Array | float, speed_mm_s: float) -> Array:
    """What comes through while the spot passes."""
    reach_um = 1000 * np.sqrt(4 * material.coat_alpha * 2 * waist_mm / speed_mm_s)
    return np.asarray(np.exp(-0.5 * (film_um - material.film_um) / reach_um))


def bursting(material: Material, watts: Array | float, waist_mm: Array | float, film_um: Array) -> Array:
    """Peak irradiance 2P/(πw²) against what bursts this film off: more film holds more vapour."""
    peak_w_mm2 = 2 * watts / (math.pi * np.square(waist_mm))
    return np.asarray(
        peak_w_mm2 / material.pop_w_mm2 * absorbed(material, film_um) * np.sqrt(film_um / material.film_um)
    )
