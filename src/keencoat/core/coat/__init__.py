"""Coats: recipes, tools and ingredients, what suits and what must not meet, amounts, drying, and how dark a layer is.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.coat.agents import Agent, agents_named
from keencoat.core.coat.amounts import Mix, mix_for, to_volume_parts
from keencoat.core.coat.catalogue import COATS
from keencoat.core.coat.compatibility import assess, coats_that_help, processes_for
from keencoat.core.coat.drying import (
    REFERENCE_AIR,
    AirSpell,
    Correction,
    DryRecord,
    Heat,
    correct,
    drying_factor,
    span_for,
    tells_time,
)
from keencoat.core.coat.experiment import Arm, ArmCount, ArmVerdict, judge_arms, plan_experiment, wilson
from keencoat.core.coat.hands import Load, plan_hands
from keencoat.core.coat.incompatible import (
    Finish,
    cleaning_of,
    finishes_of,
    first_clash,
    never_on,
    refused_finishes,
)
from keencoat.core.coat.ingredients import USUAL_PRICES, label_of
from keencoat.core.coat.offers import (
    Need,
    Offer,
    Rejection,
    hands_min_per_coat,
    may_be_heated,
    offer_of,
    offers_for,
    refused_tool,
    rejections_for,
)
from keencoat.core.coat.opacity import (
    WANTED_DENSITY,
    CoatsNeeded,
    HoldUp,
    can_hold_up,
    coats_needed,
    density_of,
    density_of_film,
    transmitted,
)
from keencoat.core.coat.own import COLOURS, OwnRecipe, coat_from_facts, recipe_from_facts
from keencoat.core.coat.recipes import Carrier, Coat
from keencoat.core.coat.room import Air, air_findings
from keencoat.core.coat.schedule import Course, Drying, Stamp, check_stamp, coat_steps, drying_at
from keencoat.core.coat.schools import Disagreement, School, disagreements_for
from keencoat.core.coat.tools import TOOLS, Motion, Risk, Tool, find_tool
from keencoat.core.coat.uses import Use
from keencoat.core.coat.vapour import coat_cautions

__all__ = [
    "COATS",
    "COLOURS",
    "REFERENCE_AIR",
    "TOOLS",
    "USUAL_PRICES",
    "WANTED_DENSITY",
    "Agent",
    "Air",
    "AirSpell",
    "Arm",
    "ArmCount",
    "ArmVerdict",
    "Carrier",
    "Coat",
    "CoatsNeeded",
    "Correction",
    "Course",
    "Disagreement",
    "DryRecord",
    "Drying",
    "Finish",
    "Heat",
    "HoldUp",
    "Load",
    "Mix",
    "Motion",
    "Need",
    "Offer",
    "OwnRecipe",
    "Rejection",
    "Risk",
    "School",
    "Stamp",
    "Tool",
    "Use",
    "agents_named",
    "air_findings",
    "assess",
    "can_hold_up",
    "check_stamp",
    "cleaning_of",
    "coat_cautions",
    "coat_from_facts",
    "coat_steps",
    "coats_needed",
    "coats_that_help",
    "correct",
    "density_of",
    "density_of_film",
    "disagreements_for",
    "drying_at",
    "drying_factor",
    "find_tool",
    "finishes_of",
    "first_clash",
    "hands_min_per_coat",
    "judge_arms",
    "label_of",
    "may_be_heated",
    "mix_for",
    "never_on",
    "offer_of",
    "offers_for",
    "plan_experiment",
    "plan_hands",
    "processes_for",
    "recipe_from_facts",
    "refused_finishes",
    "refused_tool",
    "rejections_for",
    "span_for",
    "tells_time",
    "to_volume_parts",
    "transmitted",
    "wilson",
]
