"""Thermal properties of substrates at room temperature, and what each stands.

Conductivity, density and heat capacity from handbooks by way of the PyPI package `ht` where it has them (Incropera,
Fundamentals of Heat and Mass Transfer, from memory); shock limits by R = σ(1 − ν)/(Eα) (Kingery 1955), whose
inputs scatter: a prediction to ± 50 %. Acrylic comes apart into vapour from about 350 °C (from memory).
"""

from dataclasses import dataclass

from keencoat.core.errors import require_known

ROOM_C = 20.0


@dataclass(frozen=True)
class Thermal:
    """Conductivity in W/(m·K), density in kg/m³, heat capacity in J/(kg·K).

    `shock_k`: the sudden difference that cracks it, K. `soft_c`: where it softens, °C; `gone_c`: where it comes apart
    and leaves as vapour. Each is None where it does not apply.
    """

    conductivity: float
    density: float
    capacity: float
    shock_k: float | None = None
    soft_c: float | None = None
    gone_c: float | None = None

    def at_most_k(self, rise_k: float) -> float:
        """A rise as far as the material is there to have it: what vaporizes takes the rest of the heat along."""
        return rise_k if self.gone_c is None else min(rise_k, self.gone_c - ROOM_C)

    @property
    def diffusivity_mm2_s(self) -> float:
        """α = k/(ρ·c), mm²/s."""
        return 1e6 * self.conductivity / (self.density * self.capacity)

    @property
    def volume_heat_j_mm3_k(self) -> float:
        """ρ·c, J/(mm³·K)."""
        return 1e-9 * self.density * self.capacity


_GLAZED = Thermal(1.3, 2300, 840, shock_k=81)
THERMAL: dict[str, Thermal] = {
    "soda_lime_glass": Thermal(1.0, 2500, 775, shock_k=48),
    "borosilicate_glass": Thermal(1.1, 2230, 830, shock_k=151),
    "white_glazed_tile": _GLAZED,
    "painted_tile": _GLAZED,
    "clear_acrylic": Thermal(0.18, 1180, 1500, soft_c=100, gone_c=350),
    "powder_coated_steel": Thermal(50, 7850, 450),
    "mild_steel": Thermal(50, 7850, 450),
    "brass": Thermal(120, 8400, 380),
    "aluminium": Thermal(160, 2800, 880),
}


def thermal_of(substrate_key: str) -> Thermal:
    """The properties of a substrate that may be burned; raises UnknownNameError for others."""
    return THERMAL[require_known(substrate_key, THERMAL, "substrate")]
