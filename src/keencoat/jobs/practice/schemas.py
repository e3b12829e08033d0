"""What the endpoints of practice take and give."""

from datetime import datetime

from pydantic import Field

from keencoat.shop.fields import Asked, Key, Shown


class PracticeStartIn(Asked):
    """What to practise on; hidden draws a material whose figures nobody knows."""

    scenario: Key
    hidden: bool = False


class CoatingIn(Asked):
    """How the practice pieces are coated."""

    coating: Key


class PracticeShotIn(Asked):
    """Which spare is photographed, and what is wrong with the photo."""

    spare: int = 1
    trouble: Key = "none"


class ScenarioOut(Shown):
    """A piece to practise on; `ground` and `mark` are how it looks beside a clean mark and on it, as #rrggbb."""

    key: str
    title: str
    words: str
    process: str
    width_mm: float
    height_mm: float
    ground: str
    mark: str


class NamedOut(Shown):
    """A choice with its label."""

    key: str
    label: str


class PracticePageOut(Shown):
    """The Practice page: what can be practised, and practices so far."""

    scenarios: list[ScenarioOut]
    coatings: list[NamedOut]
    troubles: list[NamedOut]
    faults: list[NamedOut]
    jobs: list["PracticeJobOut"]
    odd: list[str]


class PracticeJobOut(Shown):
    """A practice so far, in short."""

    id: int
    name: str
    process_label: str
    hidden: bool
    pieces: int
    cells: int
    clean: int
    of: int
    updated_at: datetime
    next_title: str
    next_chapter: str


class PutFaultIn(Asked):
    """A fault to put into pieces of a batch that have not burned yet; a surprise chooses one of each by lot."""

    ids: list[int] = Field(default_factory=list, max_length=100)
    fault: Key
