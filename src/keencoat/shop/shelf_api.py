"""The shelf: tools, the workshop's own coats, prices, and what it calls dark enough."""

from dataclasses import asdict, replace
from decimal import Decimal

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status
from pydantic import Field

from keencoat.core.coat import COLOURS, TOOLS, USUAL_PRICES, Carrier, label_of, recipe_from_facts, to_volume_parts
from keencoat.core.costing import Price, money, price_of
from keencoat.core.quantities import BeamSource
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import Asked, Key, Name, Note, Shown
from keencoat.shop.models import OwnCoat, Workshop
from keencoat.shop.services import set_shelf
from keencoat.shop.shelf import add_own_coat, prices_of, put_own_coat_away, set_price, shelf_of

router = Router(tags=["shop"])


class PartBody(Asked):
    """One ingredient, by volume: a known one's key, or the maker's own words."""

    ingredient: Name
    parts: float


class OwnCoatIn(Asked):
    """A coat that the workshop invented; its parts by volume."""

    name: Name
    parts: list[PartBody] = Field(max_length=8)
    carrier: Carrier
    tools: list[Key] = Field(max_length=12)
    coats: int = Field(le=50)
    crossed: bool = True
    between_min: float
    before_burn_min: float
    film_um: float
    solids_pct: float
    removal: Note
    absorbs: list[BeamSource]
    serves: list[Key] = Field(max_length=12)
    colour: Key = "black"
    touch_safe: bool = True
    caution: Note = ""


class NewCoatIn(OwnCoatIn):
    """An own coat as its maker writes it down: parts by volume, or by mass."""

    by_mass: bool = False


class OwnCoatOut(Shown, OwnCoatIn):
    """An own coat on the shelf."""

    id: int
    key: str
    put_away: bool


class PriceIn(Asked):
    """What a pack costs, and the version at which it was read (0: the usual price)."""

    ingredient: Name
    pack_ml: float
    amount: Decimal = Field(ge=0, le=1_000_000, max_digits=9, decimal_places=2)
    version: int


class PriceOut(Shown, PriceIn):
    """A price, the workshop's own or the usual one."""

    label: str
    own: bool


class ShelfOut(Shown):
    """Own coats, prices, tools, and the wanted darkness."""

    own_coats: list[OwnCoatOut]
    prices: list[PriceOut]
    tools: list["ToolLabel"]
    colours: list[str]
    currency: str
    wanted_density: float
    version: int


class ToolLabel(Shown):
    """A tool's key and label."""

    key: str
    label: str


class ShelfSettings(Asked):
    """The currency sign, and the optical density that counts as dark enough."""

    currency: Key
    wanted_density: float
    version: int


def show_own_coat(coat: OwnCoat) -> OwnCoatOut:
    """A coat of one's own."""
    return OwnCoatOut(**asdict(recipe_from_facts(coat.facts)), id=coat.pk, key=f"own-{coat.pk}", put_away=coat.put_away)


def _shelf(workshop: Workshop) -> ShelfOut:
    own, versions = prices_of(workshop), {p.ingredient: p.version for p in workshop.prices.all()}
    used = sorted({p.ingredient for c in shelf_of(workshop, False).values() for p in c.parts}, key=label_of)
    prices = []
    for ingredient in used:
        price = price_of(ingredient, own, USUAL_PRICES)
        prices.append(
            PriceOut(
                ingredient=ingredient,
                label=label_of(ingredient),
                own=ingredient in own,
                pack_ml=price.pack_ml if price else 0.0,
                amount=money(price.amount if price else Decimal(0)),
                version=versions.get(ingredient, 0),
            )
        )
    return ShelfOut(
        own_coats=[show_own_coat(c) for c in workshop.own_coats.all()],
        prices=prices,
        tools=[ToolLabel(key=t.key, label=t.label) for t in TOOLS.values()],
        colours=list(COLOURS),
        currency=workshop.currency,
        wanted_density=workshop.wanted_density,
        version=workshop.version,
    )


@router.get("/shelf", response=ShelfOut)
def read_shelf(request: HttpRequest) -> ShelfOut:
    """What stands on the shelf."""
    return _shelf(workshop_of(request))


@router.put("/shelf", response=ShelfOut)
def change_shelf(request: HttpRequest, payload: ShelfSettings) -> ShelfOut:
    """Set the currency sign and the wanted density."""
    return _shelf(set_shelf(workshop_of(request), payload.currency, payload.wanted_density, payload.version))


@router.post("/shelf/coats", response={201: OwnCoatOut})
def add_coat(request: HttpRequest, payload: NewCoatIn) -> Status[OwnCoatOut]:
    """Put an own coat on the shelf; a recipe by mass is kept by volume."""
    recipe = recipe_from_facts(payload.model_dump(exclude={"by_mass"}))
    if payload.by_mass:
        recipe = replace(recipe, parts=to_volume_parts(recipe.parts))
    return Status(201, show_own_coat(add_own_coat(workshop_of(request), recipe, timezone.now())))


@router.delete("/shelf/coats/{coat_id}", response=OwnCoatOut)
def remove_coat(request: HttpRequest, coat_id: int) -> OwnCoatOut:
    """Take an own coat off the shelf."""
    return show_own_coat(put_own_coat_away(workshop_of(request), coat_id))


@router.put("/shelf/prices", response=ShelfOut)
def change_price(request: HttpRequest, payload: PriceIn) -> ShelfOut:
    """Say what a pack costs here."""
    workshop = workshop_of(request)
    set_price(workshop, payload.ingredient, Price(payload.pack_ml, payload.amount), payload.version)
    return _shelf(workshop)
