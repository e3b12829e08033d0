"""How much a shop varies from piece to piece."""

from dataclasses import dataclass

from keencoat.core.errors import require_within


@dataclass(frozen=True)
class Scatter:
    """Coefficients of variation from piece to piece (0.1 = 10 %): coat thickness, power, and focus as energy."""

    coat_cv: float = 0.12
    power_cv: float = 0.03
    focus_cv: float = 0.03

    def __post_init__(self) -> None:
        for name in ("coat_cv", "power_cv", "focus_cv"):
            require_within(getattr(self, name), 0, 1, name)
