"""The workshop's shelf: the catalogue's coats, its own beside them, and what ingredients cost it."""

from dataclasses import asdict
from datetime import datetime

from django.db import IntegrityError, transaction

from keencoat.core.coat import COATS, Coat, OwnRecipe
from keencoat.core.costing import Price
from keencoat.core.errors import BadValueError, require_known, require_within
from keencoat.shop.access import find_one, require_version
from keencoat.shop.models import IngredientPrice, OwnCoat, Workshop


def shelf_of(workshop: Workshop, with_put_away: bool = True) -> dict[str, Coat]:
    """All coats of the workshop by key. Those put away still serve the jobs that used them."""
    own = [c.to_core() for c in workshop.own_coats.all() if with_put_away or not c.put_away]
    return COATS | {coat.key: coat for coat in own}


def coat_of(workshop: Workshop, key: str) -> Coat:
    """The coat of that key on the shelf; raises UnknownNameError that lists the keys."""
    if key in COATS:
        return COATS[key]
    shelf = shelf_of(workshop)
    return shelf[require_known(key, shelf, "coat")]


def add_own_coat(workshop: Workshop, recipe: OwnRecipe, at: datetime) -> OwnCoat:
    """Put a coat of the workshop's own on the shelf. Raises BadValueError for a name that is taken."""
    if any(recipe.name == coat.label for coat in COATS.values()):
        raise BadValueError(f"“{recipe.name}” is in the catalogue.", field="name", hint="Give yours another name.")
    try:
        with transaction.atomic():
            return OwnCoat.objects.create(workshop=workshop, name=recipe.name, facts=asdict(recipe), added_at=at)
    except IntegrityError as error:
        raise BadValueError(
            f"A coat named “{recipe.name}” is there already.", field="name", hint="Another recipe needs another name."
        ) from error


def put_own_coat_away(workshop: Workshop, coat_id: int) -> OwnCoat:
    """Take an own coat off the shelf; jobs that used it keep it."""
    coat = find_one(OwnCoat.objects.filter(workshop=workshop), "coat", pk=coat_id)
    coat.put_away = True
    coat.save(update_fields=["put_away"])
    return coat


def prices_of(workshop: Workshop) -> dict[str, Price]:
    """The workshop's own prices by ingredient."""
    return {p.ingredient: Price(p.pack_ml, p.amount) for p in workshop.prices.all()}


@transaction.atomic
def set_price(workshop: Workshop, ingredient: str, price: Price, seen: int) -> None:
    """Store what a pack of an ingredient costs here, if nobody did since version `seen` (0: nobody ever did)."""
    known = {part.ingredient for coat in shelf_of(workshop).values() for part in coat.parts}
    require_known(ingredient, known, "ingredient")
    require_within(price.pack_ml, 1, 1e6, "pack_ml", "ml")
    Workshop.objects.select_for_update().get(pk=workshop.pk)
    row = workshop.prices.filter(ingredient=ingredient).first()
    row = row or IngredientPrice(workshop=workshop, ingredient=ingredient, version=0)
    require_version(row, seen, "price")
    row.pack_ml, row.amount, row.version = price.pack_ml, price.amount, seen + 1
    row.save()
