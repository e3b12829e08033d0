"""How the finished piece looks by process: ground, mark and what went too far; which way a mark turns a tone."""

from dataclasses import dataclass

import numpy as np

from keencoat.core.artwork.tone_curve import Look
from keencoat.core.errors import require_known
from keencoat.core.vision import Floats, Pixels, coded_of, linear_of, luminance

Colour = tuple[int, int, int]


@dataclass(frozen=True)
class ProcessLook:
    """Colours (sRGB) as the finished piece is looked at: our own estimates. `says`: what becomes of light and dark;
    `one_tone`: why a picture starts with one tone here, "" where greys are usual."""

    ground: Colour
    mark: Colour
    harsh: Colour
    says: str
    one_tone: str = ""

    @property
    def look(self) -> Look:
        """How light ground and mark are."""
        ground, mark = luminance(np.array([[self.ground, self.mark]], dtype=np.uint8))[0]
        return Look(float(ground), float(mark))

    def painted(self, fullness: Floats, harsh: Floats | float = 0.0) -> Pixels:
        """Places so full, and harsh with that chance, in colour; shape (rows, columns, 3). Colours are mixed by light,
        as parts that lie side by side are."""
        ground, mark, spoilt = (linear_of(np.array(c, np.float32) / 255) for c in (self.ground, self.mark, self.harsh))
        face = ground + (mark - ground) * fullness[..., None]
        face = face + (spoilt - face) * np.broadcast_to(harsh, fullness.shape)[..., None]
        return np.asarray(np.rint(255 * coded_of(face)), dtype=np.uint8)


_GLASS_ONE_TONE = (
    "Frost is white or it is not: greys made of dots look like grains on glass, so a picture starts with one tone."
)
_ACRYLIC_SAYS = (
    "Burned places turn white in clear acrylic, on a dark ground or lit from its edge: "
    "what is light in the picture is burned."
)

LOOKS: dict[str, ProcessLook] = {
    "frost": ProcessLook(
        (38, 42, 46), (188, 192, 194), (236, 238, 240),
        "Burned places turn white on glass, seen on a dark ground: what is light in the picture is burned.",
        _GLASS_ONE_TONE,
    ),
    "fuse": ProcessLook(
        (226, 223, 216), (58, 57, 60), (22, 21, 22),
        "Burned places turn dark in white glaze: what is dark in the picture is burned.",
    ),
    "reveal": ProcessLook(
        (46, 46, 50), (214, 152, 74), (236, 226, 212),
        "Burned places show the colour under a dark top coat: what is light in the picture is burned.",
    ),
    "back_engrave": ProcessLook(
        (34, 37, 42), (204, 208, 210), (120, 96, 70),
        _ACRYLIC_SAYS,
    ),
    "protect": ProcessLook(
        (34, 37, 42), (204, 208, 210), (150, 150, 148),
        _ACRYLIC_SAYS,
    ),
    "ablate": ProcessLook(
        (36, 84, 62), (184, 186, 188), (96, 74, 50),
        "Burned places are bare metal, brighter than the coat: what is light in the picture is burned.",
        "Lines of bare metal are filled with paint afterwards, and dots hold none: a picture starts with one tone.",
    ),
    "resist": ProcessLook(
        (48, 48, 52), (188, 166, 96), (132, 112, 64),
        "Burned places are bare metal for the bath: what is light in the picture is burned, and etched.",
        "The bath widens every opening: small dots run together, so a picture starts with one tone.",
    ),
}  # fmt: skip


def look_of(process_key: str) -> ProcessLook:
    """The look of a process; raises UnknownNameError that lists them."""
    return LOOKS[require_known(process_key, LOOKS, "process")]
