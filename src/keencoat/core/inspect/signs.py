"""What is seen, felt and heard of a whole piece, besides the defects of its process."""

from keencoat.core.rating import Rating
from keencoat.core.substrate import Process, Substrate

ON_PIECES: dict[str, str] = {
    "no_mark": "no mark at all",
    "patch_missing": "a patch without a mark",
    "fades": "fades towards one side",
    "fine_lines": "fine lines without a mark",
    "soft": "soft edges, wide strokes",
    "doubled": "doubled, or jumped partway",
    "combed": "upright edges combed",
    "off_place": "whole, but off its place",
    "askew": "askew",
    "wrong_size": "wrong size one way",
    "seam": "gap or overlap at the seam",
    "pits_behind": "pits on the back",
    "glue": "glue of the tape left",
    "foil": "marks of the foil",
    "merged": "dots ran together",
    "snapping": "snapping while it burned",
}

OF_COATS: dict[str, str] = {
    "streaked": "streaks",
    "pooled": "a pool",
    "thin_spot": "a thin spot",
    "touched": "a bare patch",
    "cracked": "cracks",
}
"""What a photo of a coat shows, by key."""

FOLLOWS: dict[Rating, dict[str, float]] = {
    Rating.FAINT: {"coat_left": 0.7, "patchy": 0.3, "stripes": 0.15, "detail_lost": 0.1},
    Rating.HARSH: {
        "chips": 0.5,
        "rough": 0.5,
        "pinholes": 0.5,
        "brown": 0.3,
        "detail_lost": 0.5,
        "base_damaged": 0.8,
        "residue": 0.5,
        "haze": 0.3,
        "undercut": 0.5,
        "snapping": 0.3,
        "peel": 0.15,
    },
}
"""How often a defect comes with a rating, whatever the cause (our own estimate): what says nothing more than the rating
must not count twice."""

_GLASS = ("soda_lime_glass", "borosilicate_glass")


def signs_of(process: Process, substrate: Substrate, turned: bool) -> tuple[str, ...]:
    """The keys of all that can be ticked for a piece: the defects of its process first."""
    never = set()
    if not turned:
        never.add("seam")
    if substrate.key not in _GLASS:
        never.add("snapping")
    if process.key not in ("back_engrave", "protect"):
        never.add("foil")
    return (*process.defects, *(sign for sign in ON_PIECES if sign not in never))
