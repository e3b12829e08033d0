"""What makers are told to put on a piece: said by data, so that nobody is ever told to use what must not touch it."""

from dataclasses import dataclass

from keencoat.core.coat.agents import Agent
from keencoat.core.coat.incompatible import may_meet
from keencoat.core.coat.recipes import Coat
from keencoat.core.substrate import Substrate


@dataclass(frozen=True)
class Use:
    """Something to do to a piece: `words` with “{agent}” for the first of `agents` that may touch it, from the best to
    the mildest; `otherwise` where none may. `coated`: the coat lies on it still, and its vapour about it."""

    words: str
    agents: tuple[Agent, ...]
    otherwise: str
    coated: bool = False

    def agent_on(self, substrate: Substrate, coat: Coat | None) -> Agent | None:
        """What is taken for this piece; None where nothing of it may."""
        lies = coat if self.coated else None
        return next((agent for agent in self.agents if may_meet(agent, substrate, lies)), None)

    def said(self, substrate: Substrate, coat: Coat | None) -> str:
        """The sentence for this piece."""
        agent = self.agent_on(substrate, coat)
        return self.words.format(agent=agent) if agent else self.otherwise
