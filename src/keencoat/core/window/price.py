"""What a search and a batch cost, in minutes of the machine: one measure for pieces, burning and hands."""

from keencoat.core.quantities import Setting, minutes_per_dm2

USUAL_FILL_MM = 20.0
"""Side of the fill that settings are judged for, where the piece has room for it; patches are as large."""
PIECE_MIN = 260.0
"""What a piece costs beside its burning: blank 3, hands 12 min at 40 an hour, an hour of drying at 2, in minutes of a
machine at 0.05 (own estimates; common practice, no source)."""

USUAL_MARK_DM2 = 0.3
"""How much of a batch's piece is burned, where nobody says (own estimate)."""


def patch_minutes(cell: Setting) -> float:
    """How long a cell's patch burns, as large as the usual fill, min."""
    return minutes_per_dm2(cell) * (USUAL_FILL_MM / 100) ** 2


def mark_minutes(setting: Setting) -> float:
    """How long a batch's piece burns, min."""
    return minutes_per_dm2(setting) * USUAL_MARK_DM2
