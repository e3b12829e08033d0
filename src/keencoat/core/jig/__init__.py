"""Jigs: pockets that hold a batch in place.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.jig.drawing import jig_svg
from keencoat.core.jig.layout import Jig, JigSpec, Pocket, lay_jig
from keencoat.core.jig.loads import Load, loads_of

__all__ = ["Jig", "JigSpec", "Load", "Pocket", "jig_svg", "lay_jig", "loads_of"]
