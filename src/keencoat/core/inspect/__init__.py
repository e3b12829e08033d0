"""Why a piece failed, and what to change: signs and the job's own evidence weighed against a table of causes.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.inspect.asking import TESTS, CheapTest, require_answer
from keencoat.core.inspect.case import BurnedAs, Case, Conditions, Measured, Neighbour
from keencoat.core.inspect.causes import CAUSES, Cause
from keencoat.core.inspect.explain import Because, Explained, Ranked, chances_of, explain
from keencoat.core.inspect.remedy import Action, Remedy
from keencoat.core.inspect.seen import SeenFlaw, flaws_seen, out_of_place, patches_seen, signs_seen
from keencoat.core.inspect.signs import OF_COATS, ON_PIECES, signs_of
from keencoat.core.inspect.since import Circumstances, since_good

__all__ = [
    "CAUSES",
    "OF_COATS",
    "ON_PIECES",
    "TESTS",
    "Action",
    "Because",
    "BurnedAs",
    "Case",
    "Cause",
    "CheapTest",
    "Circumstances",
    "Conditions",
    "Explained",
    "Measured",
    "Neighbour",
    "Ranked",
    "Remedy",
    "SeenFlaw",
    "chances_of",
    "explain",
    "flaws_seen",
    "out_of_place",
    "patches_seen",
    "require_answer",
    "signs_of",
    "signs_seen",
    "since_good",
]
