"""What is wrong with a photo in which a grid's frame was not found, and what to do about it."""

import cv2
import numpy as np

from keencoat.core.errors import BadValueError
from keencoat.core.reading.view import View, reaches, shares_of
from keencoat.core.vision import Floats, Photo


def _is_misshapen(view: View, aspect: float) -> bool:
    """Whether its sides are to each other as no slant makes them: a third off (own estimate)."""
    sides = np.linalg.norm(np.roll(view.corners, -1, axis=0) - view.corners, axis=1)
    return not 0.75 < sides[::2].mean() / sides[1::2].mean() / aspect < 1 / 0.75


def no_frame(on_wall: bool) -> BadValueError:
    """Nothing like a frame; on a wall it is seen from the side."""
    way = "straight from the side, the middle of the grid towards you" if on_wall else "straight from above"
    return BadValueError(
        "No frame of a grid was found in this photo.",
        field="photo",
        hint=f"Photograph the whole frame {way}, on plain ground, so near that it fills a third of the picture, or "
        "mark its corners by hand.",
    )


def trouble_of(photo: Photo, light: Floats) -> BadValueError | None:
    """What is wrong with the picture as such, if anything is."""
    burnt = float((photo.rgb.min(axis=2) >= 250).mean())
    if burnt > 0.02:
        return BadValueError(
            f"{100 * burnt:.0f} % of the photo is burnt out by glare.",
            field="photo",
            hint="Move the lamp to the side, or tilt the piece, until nothing shines.",
        )
    edges = np.abs(cv2.Sobel(light, cv2.CV_32F, 1, 0)) + np.abs(cv2.Sobel(light, cv2.CV_32F, 0, 1))
    span = float(np.percentile(light, 99.5) - np.percentile(light, 0.5))
    if float(np.percentile(edges, 99.7)) < 0.75 * span:
        return BadValueError(
            "The photo is blurred.", field="photo", hint="Rest the phone on something, tap on the grid to focus, again."
        )
    border = np.concatenate([light[:4].ravel(), light[-4:].ravel(), light[:, :4].ravel(), light[:, -4:].ravel()])
    if float(np.percentile(border, 97) - np.percentile(border, 3)) > 0.5 * span:
        return cut_off()
    return None


def not_this_grid(view: View, light: Floats, aspect: float) -> BadValueError:
    """What looks like a frame of other sides and ends at the photo's edge is what is left of one; else another's."""
    if reaches(shares_of(view, light), within=0.03) and _is_misshapen(view, aspect):
        return cut_off()
    return BadValueError(
        "There is a frame in this photo, but codes and ticks inside it are not those of this grid.",
        field="photo",
        hint="Check that it is this grid's piece; if it is, come so near that it fills a third of the picture, or mark "
        "its corners by hand, the filled one first.",
    )


def cut_off() -> BadValueError:
    """A frame of which a part is not in the photo."""
    return BadValueError(
        "No whole frame was found: it may be cut off at the edge of the photo.",
        field="photo",
        hint="Step back until all of it shows, on a plain ground, or mark its corners by hand.",
    )
