"""The causes of what goes wrong, each an entry of its own.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.inspect.causes.cause import Cause, Leaning, Rated, Shift
from keencoat.core.inspect.causes.table import CAUSES

__all__ = ["CAUSES", "Cause", "Leaning", "Rated", "Shift"]
