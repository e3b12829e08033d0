"""The coats that ship with Keen Coat.

Times are for about 20 °C and 50 % humidity. Film, solids and absorption are estimates of ours where makers
give none: they set amounts and first guesses, not outcomes.
"""

from keencoat.core.coat.catalogue.dark import DARK_COATS
from keencoat.core.coat.catalogue.laid import LAID_COATS
from keencoat.core.coat.catalogue.paint import PAINT_COATS
from keencoat.core.coat.catalogue.white import WHITE_COATS
from keencoat.core.coat.recipes import Coat

COATS: dict[str, Coat] = {c.key: c for c in (*DARK_COATS, *WHITE_COATS, *PAINT_COATS, *LAID_COATS)}
