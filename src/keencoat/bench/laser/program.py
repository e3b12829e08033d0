"""Reading G-code as a controller does: word by word, refusing what it does not know.

Words of RS274/NGC (Kramer, Proctor & Messina 2000), as far as a laser uses them.
"""

import re
from dataclasses import dataclass, replace

_COMMENT = re.compile(r"\([^()]*\)|;.*$")
_WORD = re.compile(r"([A-Z])([+-]?(?:\d+\.?\d*|\.\d+))")
_LONGEST = 256
S_FULL = 1000.0


class RefusedError(Exception):
    """A line that the controller does not take: its number in the protocol and why."""

    def __init__(self, number: int, why: str) -> None:
        super().__init__(why)
        self.number = number
        self.why = why


@dataclass(frozen=True)
class Modal:
    """What holds from line to line: rapid or not, millimetres, absolute, feed in mm/min, S, beam mode 3, 4 or 5."""

    motion: int = 0
    millimetres: bool = True
    absolute: bool = True
    feed_mm_min: float = 0.0
    s: float = 0.0
    beam: int = 5


@dataclass(frozen=True)
class Step:
    """What a line asks for: a move to (x, y), a wait, a halt for the hand, or the end. None of them for modes only."""

    x_mm: float | None = None
    y_mm: float | None = None
    wait_s: float = 0.0
    halts: bool = False
    ends: bool = False


def read_line(text: str, modal: Modal, at: tuple[float, float], laser_mode: bool) -> tuple[Modal, Step]:
    """The modes after a line, and what it asks for. Raises RefusedError.

    Without `laser_mode` M4 is taken as M3, as a spindle's controller does: power follows S alone, moving or not. A
    program that would leave such a beam on while it waits, halts or ends fails.
    """
    words = _words_of(text)
    step, target = Step(), {}
    for letter, figures in words:
        value = float(figures)
        if letter == "G":
            modal = _g_word(value, modal)
        elif letter == "M":
            modal, step = _m_word(value, modal, step)
        elif letter in "XY":
            target[letter] = value
        elif letter in "FS":
            modal = _f_or_s_word(letter, value, modal)
        elif letter == "P":
            step = replace(step, wait_s=value)
        elif letter != "N":
            raise RefusedError(20, f"unknown word {letter}{figures}")
    if step.wait_s and ("G", "4") not in words:
        raise RefusedError(25, "P belongs to G4")
    if (step.wait_s or step.halts or step.ends) and stays_on(modal, laser_mode):
        raise RefusedError(33, f"the beam would stay on at S{modal.s:g} while the head stands")
    if step.ends:
        modal = replace(modal, beam=5, s=0.0)
    return modal, _move_to(target, modal, at, step) if target else step


def _words_of(text: str) -> list[tuple[str, str]]:
    if len(text) > _LONGEST:
        raise RefusedError(14, f"the line has more than {_LONGEST} characters")
    code = _COMMENT.sub("", text.upper()).strip().replace(" ", "")
    words: list[tuple[str, str]] = _WORD.findall(code)
    if "".join(letter + figures for letter, figures in words) != code:
        raise RefusedError(1, f"“{text.strip()[:40]}” is not made of words")
    return words


def _f_or_s_word(letter: str, value: float, modal: Modal) -> Modal:
    if letter == "F":
        if value <= 0:
            raise RefusedError(22, "the feed must be above zero")
        return replace(modal, feed_mm_min=value * (1 if modal.millimetres else 25.4))
    if not 0 <= value <= S_FULL:
        raise RefusedError(23, f"S goes from 0 to {S_FULL:g}")
    return replace(modal, s=value)


def _move_to(target: dict[str, float], modal: Modal, at: tuple[float, float], step: Step) -> Step:
    if modal.motion == 1 and modal.feed_mm_min == 0:
        raise RefusedError(22, "no feed is set")
    scale = 1.0 if modal.millimetres else 25.4
    base = (0.0, 0.0) if modal.absolute else at
    x = base[0] + target["X"] * scale if "X" in target else at[0]
    y = base[1] + target["Y"] * scale if "Y" in target else at[1]
    return replace(step, x_mm=x, y_mm=y)


def stays_on(modal: Modal, laser_mode: bool) -> bool:
    """Whether a head that stands still burns: with M3 always, with M4 where laser mode is off."""
    return modal.s > 0 and (modal.beam == 3 or (modal.beam == 4 and not laser_mode))


def _g_word(value: float, modal: Modal) -> Modal:
    changes = {
        0: {"motion": 0}, 1: {"motion": 1}, 20: {"millimetres": False}, 21: {"millimetres": True},
        90: {"absolute": True}, 91: {"absolute": False}, 4: {}, 94: {},
    }  # fmt: skip
    if value not in changes:
        raise RefusedError(20, f"unknown word G{value:g}")
    return replace(modal, **changes[int(value)])  # type: ignore[arg-type]


def _m_word(value: float, modal: Modal, step: Step) -> tuple[Modal, Step]:
    if value in (3, 4, 5):
        return replace(modal, beam=int(value)), step
    if value in (0, 1):
        return modal, replace(step, halts=True)
    if value in (2, 30):
        return modal, replace(step, ends=True)
    raise RefusedError(20, f"unknown word M{value:g}")
