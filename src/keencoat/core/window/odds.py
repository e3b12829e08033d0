"""Odds as they are told: how often a setting of which the model says so much does hold.

The model doubts more than it need, and the more so the more pieces were burned: what it leaves open (how laws bend
between cells, how far a guess of the scatter is off) counts anew at every piece. Part of it is the guess (with measured
coats claims are off by 0.07, with guessed ones by 0.09); the rest is what lets it bear laws that nobody has met, and
stays. Only what is said is put right, by a logistic line (Cox 1958; Platt 1999) over the six building families of
simulated materials, 497 questions and 464 answers: chapter "Whether odds are what they say" of docs/window-figures.md.
"""

import math

_SLOPE = 0.39
_ONE_PIECE, _SEARCHING, _ANSWER = 0.1, 0.8, 1.55
_ENDS = 0.005


def odds_told(held: float, pieces: int, is_answer: bool) -> float:
    """How likely a setting keeps the wanted share, of which the draws say `held` after so many test pieces; `is_answer`
    where the search ends with it. Before a piece was burned nothing is known better than the model.

    >>> [round(odds_told(0.6, pieces, answer), 2) for pieces, answer in ((0, False), (1, False), (2, False), (2, True))]
    [0.6, 0.56, 0.72, 0.85]
    """
    if not pieces:
        return held
    start = _ANSWER if is_answer else _ONE_PIECE if pieces == 1 else _SEARCHING
    inside = min(1 - _ENDS, max(_ENDS, held))
    return 1 / (1 + math.exp(-start - _SLOPE * math.log(inside / (1 - inside))))
