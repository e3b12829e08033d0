"""A beam that goes through a clear piece to what lies behind it: how deep its focus comes to lie."""

from keencoat.core.errors import require_positive
from keencoat.core.quantities import BeamSource
from keencoat.core.substrate.materials import Substrate


def focus_shift_mm(thickness_mm: float, refractive_index: float) -> float:
    """By how much deeper a focus lies for a plate in its way: t·(1 − 1/n), for beams close to the axis (Hecht, Optics,
    from memory); a wide beam's lies a few hundredths of the plate deeper still.

    >>> round(focus_shift_mm(3, 1.5319), 4)
    1.0416
    """
    require_positive(thickness_mm, "thickness_mm", "mm")
    require_positive(refractive_index, "refractive_index")
    return thickness_mm * (1 - 1 / refractive_index)


def lower_to_far_side_mm(substrate: Substrate, source: BeamSource, thickness_mm: float) -> float | None:
    """How far to lower a head that is in focus on the near face, for its focus to lie on the far one: t − the shift.
    None where the beam does not get through, or how it bends is not known."""
    index = substrate.refractive_index.get(source)
    if index is None or not substrate.passes_light:
        return None
    return thickness_mm - focus_shift_mm(thickness_mm, index.value)


def far_side_words(substrate: Substrate, source: BeamSource, thickness_mm: float) -> str:
    """What to do at the machine for a focus on the far face."""
    lower_mm = lower_to_far_side_mm(substrate, source, thickness_mm)
    if lower_mm is None:
        return "focus on the far side"
    said = f"focus on the near face, then lower the head {lower_mm:.2f} mm"
    return f"{said}, not the piece's {thickness_mm:g} mm: it bends the beam"
