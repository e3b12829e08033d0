"""What touches a piece besides the beam, by the names that people use for it."""

import re
from enum import StrEnum


class Agent(StrEnum):
    """What touches a piece; the value is what people call it."""

    SOAP = "mild soap and water"
    GLASS_CLEANER = "glass cleaner"
    ALCOHOL = "alcohol"
    ACETONE = "acetone"
    THINNER = "thinner"
    STEEL_WOOL = "steel wool"
    SOLVENT_PAINT = "solvent-based paint"
    ADHESIVE = "strong adhesive"
    WATER_CLEAR = "water-based clear coat"
    SOLVENT_CLEAR = "solvent-based clear coat"
    FILL = "enamel fill"
    FERRIC_CHLORIDE = "ferric chloride"
    HYDROCHLORIC_ACID = "hydrochloric acid"
    COPPER_SULPHATE = "copper sulphate with salt"
    WARMTH = "gentle warmth"


_NAMED: dict[Agent, str] = {
    Agent.ALCOHOL: (
        r"alcohols?|(?:iso)?propanol|isopropyl|iso-propyl|ipa|propan-?2-?ol|ethanol|ethyl|methanol|methyl hydrate|"
        r"meths|methylated|denatured|(?:surgical |rubbing )?spirits?|sanitiser|sanitizer|vodka"
    ),
    Agent.ACETONE: r"acetone|nail (?:polish|varnish) remover|mek|butanone|methyl ethyl ketone|ketone|ethyl acetate",
    Agent.THINNER: (
        r"(?<!each )thinners?(?! (?:coats?|paint|film|layers?|and|than)\b)|solvents?|turpentine|turps|toluene|xylene|"
        r"white spirits?|mineral spirits?|petrol|gasoline|benzine|naphtha|lighter fluid|brake cleaner|"
        r"paint (?:stripper|remover)|dichloromethane|methylene chloride|lacquer|cellulose|solvent-based"
    ),
    Agent.GLASS_CLEANER: r"(?:glass|window) (?:cleaner|spray)|ammonia",
    Agent.STEEL_WOOL: r"(?:steel|wire) wool|scour\w*|abrasives?|sandpaper",
    Agent.WARMTH: r"(?:heat gun|hair ?dryer|gentle (?:heat|warmth)|warm plate|oven)s?",
    Agent.ADHESIVE: r"super ?glue|epoxy|contact (?:glue|adhesive)",
}
_TURPENTINE_LIKE = re.compile(r"(?:white|mineral|petroleum) spirits?")
_DENIED = r"(?<!no )(?<!not )(?<!never )(?<!without )"


def agents_named(words: str) -> list[Agent]:
    """The agents that a maker's words name, unless after “no”, “not”, “never” or “without”.

    >>> [str(agent) for agent in agents_named("Rubbing alcohol, never acetone")], agents_named("white spirit")
    (['alcohol'], [<Agent.THINNER: 'thinner'>])
    """
    said = " ".join(words.casefold().replace("_", " ").split())
    found = []
    for agent, names in _NAMED.items():
        # White spirit is no alcohol: what is named as the one is not asked for the other.
        text = _TURPENTINE_LIKE.sub(" ", said) if agent is Agent.ALCOHOL else said
        if re.search(rf"{_DENIED}\b(?:{names})\b", text):
            found.append(agent)
    return found
