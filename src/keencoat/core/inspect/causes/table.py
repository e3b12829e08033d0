"""All causes, by key."""

from keencoat.core.inspect.causes.beam import BEAM_CAUSES
from keencoat.core.inspect.causes.cause import Cause
from keencoat.core.inspect.causes.coat import COAT_CAUSES
from keencoat.core.inspect.causes.lying import LYING_CAUSES

CAUSES: dict[str, Cause] = {cause.key: cause for cause in (*BEAM_CAUSES, *COAT_CAUSES, *LYING_CAUSES)}
