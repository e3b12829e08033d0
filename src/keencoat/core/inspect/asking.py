"""Cheap tests that part causes from each other: what is asked, how long it takes, and what comes of it under which
cause. All common practice; how sure an answer is, is our own estimate."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keencoat.core.errors import require_known

_SURE = 0.88
"""How often the answer is the one that the cause brings."""


@dataclass(frozen=True)
class CheapTest:
    """A question that hands and eyes answer in so many minutes, with its answers by key. `says`: the answer that a
    cause brings (or several, as likely), `usual` that of all causes it does not name."""

    key: str
    question: str
    minutes: float
    answers: Mapping[str, str]
    says: Mapping[str, str | tuple[str, ...]]
    usual: str

    def chances(self, causes: Sequence[str]) -> NDArray[np.float64]:
        """Chance of each answer under each cause, shape (answers, causes); each cause's add up to 1."""
        keys = list(self.answers)
        found = np.full((len(keys), len(causes)), (1 - _SURE) / len(keys))
        for n, cause in enumerate(causes):
            said = self.says.get(cause, self.usual)
            for one in (said,) if isinstance(said, str) else said:
                found[keys.index(one), n] += _SURE / (1 if isinstance(said, str) else len(said))
        return found


_YES_NO = {"yes": "yes", "no": "no"}

TESTS: dict[str, CheapTest] = {
    t.key: t
    for t in (
        CheapTest(
            "frame_again",
            "Frame it again, as it lies: does the dot land on the old corners?",
            1.0,
            _YES_NO,
            {"moved": "no", "turn_size": ("yes", "no"), "axis_size": ("yes", "no")},
            "yes",
        ),
        CheapTest(
            "gauge",
            "Set the focus gauge between lens and face, as for the test grid: does it fit as it did?",
            1.0,
            _YES_NO,
            {"out_of_focus": "no"},
            "yes",
        ),
        CheapTest(
            "figures",
            "Read the figures off the machine: which of them is not that of the run sheet?",
            0.5,
            {"none": "all are as locked", "speed": "speed", "lines": "lines", "passes": "passes", "power": "power"},
            {
                "too_fast": "speed",
                "too_slow": "speed",
                "lines_wide": "lines",
                "lines_close": "lines",
                "extra_pass": ("passes", "none"),
                "strong_beam": ("power", "none", "none"),
            },
            "none",
        ),
        CheapTest(
            "corner_patch",
            "Burn the setting's patch in a corner of a fresh, evenly coated spare: does it fail alike?",
            4.0,
            _YES_NO,
            {
                **dict.fromkeys(("weak_beam", "strong_beam", "backlash", "no_stand_off", "dots_merged"), "yes"),
                **dict.fromkeys(("too_fast", "too_slow", "lines_wide", "lines_close", "extra_pass"), "yes"),
                **dict.fromkeys(("cold_glass", "out_of_focus", "wrong_layer"), ("yes", "no")),
            },
            "no",
        ),
        CheapTest(
            "to_the_light",
            "Hold a piece that was coated with it beside a test piece, before a lamp: how dark is its coat?",
            0.5,
            {"alike": "as dark", "darker": "darker", "lighter": "lighter", "other": "another paint or side"},
            {"coat_thick": "darker", "coat_thin": "lighter", "wrong_layer": ("other", "lighter")},
            "alike",
        ),
        CheapTest(
            "against_the_lamp",
            "Tilt the washed mark against a lamp: what does that which is missing follow?",
            0.5,
            {
                "nothing": "nothing of these",
                "brush": "marks of the brush",
                "finger": "a fingerprint or a scrape",
                "crack": "a web of cracks",
                "run": "a drop or a run",
                "lines": "the scan lines",
            },
            {
                "coat_streaked": "brush",
                "coat_touched": "finger",
                "coat_cracked": "crack",
                "coat_pooled": "run",
                "lines_wide": "lines",
            },
            "nothing",
        ),
        CheapTest(
            "fingertip",
            "Draw a fingertip over the rim of a coat that dried as long: does it smear?",
            0.5,
            _YES_NO,
            {"coat_wet": "yes"},
            "no",
        ),
        CheapTest(
            "stripes_both_ways",
            "Burn a bar of upright stripes both ways at this speed: are their edges combed?",
            3.0,
            _YES_NO,
            {"backlash": "yes"},
            "no",
        ),
        CheapTest(
            "measure",
            "Lay a ruler along the mark, both ways: how does it differ from the drawing?",
            1.0,
            {"none": "not at all", "size": "one way too long or short", "place": "moved as a whole", "turn": "turned"},
            {"turn_size": "size", "axis_size": "size", "off_origin": "place", "set_askew": "turn"},
            "none",
        ),
        CheapTest(
            "warm",
            "Let the next piece stand in the room for an hour and burn a corner of it: is it free of snapping?",
            60.0,
            _YES_NO,
            {"cold_glass": "yes"},
            "no",
        ),
        CheapTest(
            "small_patch",
            "Burn a small patch of the same setting on its rim: does that come out clean?",
            3.0,
            _YES_NO,
            dict.fromkeys(("fill_heats", "edge", "moved", "off_origin", "set_askew", "dots_merged"), "yes"),
            "no",
        ),
    )
}


def require_answer(test: str, answer: str) -> None:
    """Raise UnknownNameError for a test, or an answer to it, that there is not."""
    require_known(answer, TESTS[require_known(test, TESTS, "test")].answers, "answer")
