"""Words in programs: plain ASCII from a short list, in lines that every controller takes.

Some firmware acts on `!`, `~` and `?` wherever they stand, comments too, reads `;` and `*` as the end of a line, and
cuts long lines off (common practice, no source): none of these leaves us.
"""

import re
import textwrap

from anyascii import anyascii

MAX_LINE = 70
_NOT_ALLOWED = re.compile(r"[^A-Za-z0-9 .,:+\-/=%_'\[\]]+")
_ALIKE = str.maketrans("(){}<>;*", "[][][],x")


def plain(text: str) -> str:
    """Words that any controller passes over: written in ASCII, whatever script they come in.

    >>> plain("Łódź – Ø 80 mm (2×)!"), plain("a~b?c\\nd")
    ('Lodz - O 80 mm [2x]', 'a b c d')
    """
    kept = _NOT_ALLOWED.sub(" ", anyascii(text).translate(_ALIKE))
    return " ".join(kept.split())


def comments(text: str) -> list[str]:
    """Words as comments, in as many lines as they need."""
    return [f"({line})" for line in textwrap.wrap(plain(text), MAX_LINE - 2)]
